import { Button, Part } from '../../ui/controls';
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
  return (
    <>
      <Part title="Showing" figure={measured ? `${(100 * measured.showing).toFixed(0)} % of the hole` : undefined}>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="accent-ink"
            checked={showing}
            onChange={(e) =>
              set({ showing: e.currentTarget.checked, ...(e.currentTarget.checked && { picture: 'plate', compare: 'whole' }) })
            }
          />
          Dim what will not show
        </label>
        {measured && (
          <p className="mt-1 text-faint">
            {measured.showing === 0
              ? 'Nothing that was invented enters the finished picture.'
              : `${(100 * measured.ofPicture).toFixed(1)} % of the finished picture is invented. The loupe walks where it shows most.`}
          </p>
        )}
      </Part>
      <Part title="Repeats" figure={measured ? list.length : undefined}>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="accent-ink"
            checked={repeats}
            onChange={(e) =>
              set({ repeats: e.currentTarget.checked, ...(e.currentTarget.checked && { picture: 'plate', compare: 'whole' }) })
            }
          />
          Outline what the fill shows twice
        </label>
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
