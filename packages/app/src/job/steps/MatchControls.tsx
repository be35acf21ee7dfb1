import { Button, NumberControl, Part } from '../../ui/controls';
import { useChange, useRecipe } from '../jobContext';

/** How far the subject is moved towards what is behind it. */
export function MatchControls() {
  const { match } = useRecipe();
  const { preview, commit } = useChange();
  const number = (key: 'cast' | 'tone') => ({
    value: 100 * match[key],
    normal: 0,
    min: 0,
    max: 100,
    step: 1,
    unit: '%',
    onPreview: (v: number) => preview((r) => ({ ...r, match: { ...r.match, [key]: v / 100 } })),
    onCommit: (v: number) => commit((r) => ({ ...r, match: { ...r.match, [key]: v / 100 } })),
  });
  return (
    <Part title="Subject towards background">
      <NumberControl label="Cast" {...number('cast')} />
      <NumberControl label="Tone" {...number('tone')} />
      <p className="mt-2 text-faint">
        0 leaves the subject as it was photographed, 100 makes the measured property equal. The gaps are measured at the right.
      </p>
      <Button
        className="mt-2"
        disabled={match.cast === 0 && match.tone === 0}
        onClick={() => commit((r) => ({ ...r, match: { cast: 0, tone: 0 } }))}
      >
        Put both back
      </Button>
    </Part>
  );
}
