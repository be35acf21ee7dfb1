import { Button, Part, Tick } from '../../ui/controls';
import { useProductsOfJob } from '../jobContext';
import { useView } from '../viewStore';
import { withReseed } from './plateTools';
import { usePlate } from './usePlate';

/** What of the plate will show, what it shows twice, and what it is good for. */
export function CompareParts() {
  const { plate, change } = usePlate();
  const measured = useProductsOfJob().figures.plate;
  const { showing, repeats, set } = useView();
  const list = measured?.repeats ?? [];
  /** What is laid over the plate is shown on the plate. */
  const onPlate = (part: { showing?: boolean; repeats?: boolean }, on: boolean): void =>
    set({ ...part, ...(on && { picture: 'plate', compare: 'whole' }) });
  return (
    <>
      <Part title="Showing" figure={measured ? `${(100 * measured.showing).toFixed(0)} % of the hole` : undefined}>
        <Tick label="Dim what will not show" on={showing} onChange={(on) => onPlate({ showing: on }, on)} />
        {measured && (
          <p className="mt-1 text-faint">
            {measured.showing === 0
              ? 'Nothing that was invented enters the finished picture.'
              : `${(100 * measured.ofPicture).toFixed(1)} % of the finished picture is invented. The loupe walks where it shows most.`}
          </p>
        )}
      </Part>
      <Part title="Repeats" figure={measured ? list.length : undefined}>
        <Tick label="Outline what the fill shows twice" on={repeats} onChange={(on) => onPlate({ repeats: on }, on)} />
        {repeats && list.length > 0 && (
          <ul className="mt-1.5 space-y-1">
            {list.slice(0, 6).map((r, i) => (
              <li key={i} className="flex items-center justify-between gap-2">
                <span className="font-mono text-xs">
                  {i + 1} · {r.width} × {r.height} px, {r.times}×
                </span>
                <Button aria-label={`Fill repeat ${i + 1} anew`} onClick={() => change(withReseed(plate, r))}>
                  Anew here
                </Button>
              </li>
            ))}
          </ul>
        )}
      </Part>
      <Part title="Compare">
        <div className="flex flex-wrap gap-1.5">
          <Button onClick={() => set({ picture: 'plate', compare: 'wipe', against: 'shot' })}>Before and after</Button>
          <Button onClick={() => set({ picture: 'background', compare: 'whole' })}>Through the lens</Button>
          <Button onClick={() => set({ picture: 'finished', compare: 'beside', against: 'skipped' })}>Halo without it</Button>
        </div>
      </Part>
    </>
  );
}
