import type { Context } from '../../runtime/context';
import { components } from '../../raster/components';
import { maskOf } from '../../raster/mask';
import type { Region } from '../../raster/strokeCover';
import { inFullSize, regionOutlines } from './findSubject';
import { markedOutside, type Mark } from './marks';
import type { MatteGround } from '../matte';
import { cutMemory, roughCut } from './roughCut';

/** How far around a pressed place a thing is looked for, shares of the longest side, the nearest first. */
const reaches = [0.05, 0.09, 0.15, 0.24];
/** A thing that runs along its loop over more than this share of its border goes on beyond it. */
const closed = 0.12;

/**
 * The thing that is pressed, as regions of the full-size shot that go around it: cut out of loops of growing size about the press, up to
 * the first that holds all of it.
 *
 * @param at pixels of the full-size shot
 * @returns none when it goes on however far one looks
 * @throws AbortError
 */
export async function pointedThing(ground: MatteGround, at: readonly [number, number], context: Context): Promise<Region[]> {
  const scale = ground.ratios[0] * context.scale;
  const longest = Math.max(ground.levels[0].width, ground.levels[0].height) / scale;
  const memory = await cutMemory(ground.levels.slice(0, 1), context);
  for (const reach of reaches) {
    const away = reach * longest;
    const found = await thingIn(ground, [circle(at, away)], context, memory, at);
    if (found.along < closed && found.regions.length > 0) return found.regions;
  }
  return [];
}

/** What stands within a loop that is drawn roughly around it; nothing when all there is like what lies along the loop. @param loop px of the full-size shot */
export async function loopedThing(ground: MatteGround, loop: Mark['points'], context: Context): Promise<Region[]> {
  const memory = await cutMemory(ground.levels.slice(0, 1), context);
  return (await thingIn(ground, [{ kind: 'loop', radius: 1, points: loop, filled: true }], context, memory)).regions;
}

function circle([x, y]: readonly [number, number], radius: number): Mark {
  const points = Array.from({ length: 24 }, (_, i): [number, number] => {
    const t = (i * Math.PI) / 12;
    return [x + radius * Math.cos(t), y + radius * Math.sin(t)];
  });
  return { kind: 'loop', radius: 1, points, filled: true };
}

/** The pressed or else the largest part of a cut by marks, and the share of its border along which it meets what the marks leave outside. */
async function thingIn(
  { levels, ratios }: MatteGround,
  marks: Mark[],
  context: Context,
  memory: Awaited<ReturnType<typeof cutMemory>>,
  at?: readonly [number, number],
): Promise<{ regions: Region[]; along: number }> {
  const scale = ratios[0] * context.scale;
  const { label, seeds, width, height } = await roughCut(levels.slice(0, 1), [scale], marks, context, memory);
  const parts = components(label, width, height);
  // What is pressed beside the picture is nothing.
  const partAt = ([x, y]: readonly number[]): number =>
    x >= 0 && x < width && y >= 0 && y < height ? parts.label[Math.floor(y) * width + Math.floor(x)] : 0;
  const largest = (): number => parts.area.reduce((best, a, i) => (i > 0 && (best === 0 || a > parts.area[best]) ? i : best), 0);
  const wanted = at ? partAt(at.map((v) => v * scale)) : largest();
  if (wanted === 0) return { regions: [], along: 1 };
  const mask = maskOf(parts.label, (part) => part === wanted);
  let [border, along] = [0, 0];
  for (let y = 1, p = width + 1; y < height - 1; y++, p += 2) {
    for (let x = 1; x < width - 1; x++, p++) {
      if (!mask[p]) continue;
      const beside = [p - 1, p + 1, p - width, p + width].filter((q) => !mask[q]);
      if (beside.length === 0) continue;
      border++;
      if (beside.some((q) => seeds[q] === markedOutside)) along++;
    }
  }
  const regions = regionOutlines(mask, width, height).map(([points]): Region => ({ radius: 1, points: inFullSize(points, scale), filled: true })); // prettier-ignore
  return { regions, along: along / Math.max(1, border) };
}
