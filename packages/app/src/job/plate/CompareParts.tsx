import type { Left, ResidueKind } from '@ritaglio/core';
import { Button } from '../../ui/Button';
import { Part, Tick } from '../../ui/controls';
import { useProductsOfJob } from '../jobContext';
import { useViewOf } from '../viewStore';
import { withReseed } from './plateTools';
import { usePlate } from './usePlate';
import { figured, say, spoken, word } from '../../words/say';

const kinds: Record<ResidueKind, string> = spoken({
  rim: word('a soft rim'),
  part: word('a missed part'),
  strand: word('single strands'),
  shade: word('a shadow'),
  mirror: word('a reflection'),
});

/** How much of the subject is left beside the hole, as a figure. */
export function leftFigure({ width, places }: Left): string {
  if (width === undefined) return say('not known');
  return places.length === 0 ? say('none seen') : say('{thing} px along the edge', { thing: figured(Math.max(0.1, width), 1) });
}

/** The same in words. */
function leftWords({ width, places }: Left): string {
  if (width === undefined) return say('The subject fills too much of the picture to tell what is left of it.');
  if (places.length === 0) return say('Looked at up to 40 px beside the hole: nothing stands out from what is there by chance.');
  const seen = [...new Set(places.map((p) => kinds[p.kind]))].join(', ');
  return say(
    'Beside the hole: {seen}, in {length} {length, plural, one {place} other {places}}. The loupe walks them first. Add them to the hole, or grow it.',
    { seen, length: places.length },
  );
}

/** What of the plate will show, what it shows twice, and what it is good for. */
export function CompareParts() {
  const { plate, change } = usePlate();
  const measured = useProductsOfJob().figures.plate;
  const { showing, left, repeats, set } = useViewOf('showing', 'left', 'repeats', 'set');
  const list = measured?.repeats ?? [];
  /** What is laid over the plate is shown on the plate. */
  const onPlate = (part: { showing?: boolean; left?: boolean; repeats?: boolean }, on: boolean): void =>
    set({ ...part, ...(on && { picture: 'plate', compare: 'whole' }) });
  return (
    <>
      <Part title="Showing" figure={measured ? say('{showing} % of the hole', { showing: figured(100 * measured.showing, 0) }) : undefined}>
        <Tick label={say('Dim what will not show')} on={showing} onChange={(on) => onPlate({ showing: on, left: false }, on)} />
        {measured && (
          <p className="mt-1 text-faint">
            {measured.showing === 0
              ? say('Nothing that was invented enters the finished picture.')
              : say('{ofPicture} % of the finished picture is invented. The loupe walks where it shows most.', {
                  ofPicture: figured(100 * measured.ofPicture, 1),
                })}
          </p>
        )}
      </Part>
      <Part title="Left of the subject" figure={measured && leftFigure(measured.left)}>
        <Tick label={say('Dim what is clean')} on={left} onChange={(on) => onPlate({ left: on, showing: false }, on)} />
        {measured && <p className="mt-1 text-faint">{leftWords(measured.left)}</p>}
      </Part>
      <Part title="Repeats" figure={measured ? list.length : undefined}>
        <Tick label={say('Outline what the fill shows twice')} on={repeats} onChange={(on) => onPlate({ repeats: on }, on)} />
        {repeats && list.length > 0 && (
          <ul className="mt-1.5 space-y-1">
            {list.slice(0, 6).map((r, i) => (
              <li key={i} className="flex items-center justify-between gap-2">
                <span className="font-mono text-xs">
                  {i + 1} · {r.width} × {r.height} px, {r.times}×
                </span>
                <Button aria-label={say('Fill repeat {i} anew', { i: i + 1 })} onClick={() => change(withReseed(plate, r))}>
                  {say('Anew here')}
                </Button>
              </li>
            ))}
          </ul>
        )}
      </Part>
      <Part title="Compare">
        <div className="flex flex-wrap gap-1.5">
          <Button onClick={() => set({ picture: 'plate', compare: 'wipe', against: 'shot' })}>{say('Before and after')}</Button>
          <Button onClick={() => set({ picture: 'background', compare: 'whole' })}>{say('Through the lens')}</Button>
          <Button onClick={() => set({ picture: 'finished', compare: 'beside', against: 'skipped' })}>{say('Halo without it')}</Button>
        </div>
      </Part>
    </>
  );
}
