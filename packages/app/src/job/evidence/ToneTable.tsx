import { clsx } from 'clsx';
import { Button } from '../../ui/controls';
import { useChange, useProductsOfJob, useRecipe } from '../jobContext';
import { gapsOf } from './gaps';

/** Subject against background: both sides measured, the gap, and a press that closes it. */
export function ToneTable() {
  const { tone } = useProductsOfJob().figures;
  const { match } = useRecipe();
  const { commit } = useChange();
  return (
    <section aria-label="Subject against background" className="px-3.5 pt-3">
      <h2 className="mb-1 font-bold">Subject against background</h2>
      {!tone || tone.after.weight === 0 ? (
        <p className="text-faint">Both sides are measured once the subject is cut out.</p>
      ) : (
        <>
          <table className="w-full">
            <thead>
              <tr className="text-right text-[11px] text-faint">
                <th className="text-left font-normal">
                  <span className="sr-only">Property</span>
                </th>
                <th className="font-normal">subject</th>
                <th className="font-normal">behind</th>
                <th className="font-normal">gap</th>
              </tr>
            </thead>
            <tbody>
              {gapsOf(tone.after, tone.background).map((g) => (
                <tr key={g.name} className="border-t border-rule text-right font-mono text-xs">
                  <th className="py-1 text-left font-sans text-[13px] font-normal">{g.name}</th>
                  <td>{g.subject}</td>
                  <td>{g.background}</td>
                  <td className={clsx(g.wide ? 'font-semibold text-hot' : 'text-fine')}>
                    {g.gap}
                    <span className="sr-only">{g.wide ? ' out of tolerance' : ' within tolerance'}</span>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <div className="mt-2 flex gap-1.5">
            <Button
              strong={match.cast < 1}
              disabled={match.cast === 1}
              onClick={() => commit((r) => ({ ...r, match: { ...r.match, cast: 1 } }))}
            >
              Match cast
            </Button>
            <Button disabled={match.tone === 1} onClick={() => commit((r) => ({ ...r, match: { ...r.match, tone: 1 } }))}>
              Match tone
            </Button>
          </div>
        </>
      )}
    </section>
  );
}
