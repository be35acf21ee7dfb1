import type { ReactNode } from 'react';
import { Circle, Group, Line } from 'react-konva';

/** Half the loupe's width, how far from the finger it stands, px of the screen, and how much larger it shows. */
const radius = 56;
const away = 104;
const larger = 2;

/**
 * What lies under the finger, beside it: the finger hides the very place that is marked.
 *
 * @param x where the finger is, px of the pane
 * @param inside what is shown, in px of the pane
 */
export function FingerLoupe({ x, y, width, inside }: { x: number; y: number; width: number; inside: ReactNode }) {
  // Above the finger, or beside it where there is no room.
  const above = y - away - radius > 0;
  const cx = above ? Math.min(width - radius - 4, Math.max(radius + 4, x)) : x + (x > width / 2 ? -away : away);
  const cy = above ? y - away : Math.max(radius + 4, y);
  return (
    <Group listening={false} name="finger loupe">
      <Group clipFunc={(c) => c.arc(cx, cy, radius, 0, 2 * Math.PI)}>
        <Circle x={cx} y={cy} radius={radius} fill="#7d7d7d" />
        <Group x={cx - larger * x} y={cy - larger * y} scaleX={larger} scaleY={larger}>
          {inside}
        </Group>
      </Group>
      <Circle x={cx} y={cy} radius={radius} stroke="#f3f2ee" strokeWidth={4} />
      <Circle x={cx} y={cy} radius={radius} stroke="#20211f" strokeWidth={1.5} />
      <Line points={[cx - 7, cy, cx + 7, cy]} stroke="#20211f" strokeWidth={1} />
      <Line points={[cx, cy - 7, cx, cy + 7]} stroke="#20211f" strokeWidth={1} />
    </Group>
  );
}
