import { Figures } from '../../ui/controls';
import { Old } from './Old';
import { useProductsOfJob } from '../jobContext';
import { figured, say } from '../../words/say';

/** What was measured of the matte. */
export function MatteTable() {
  const { matte } = useProductsOfJob().figures;
  if (!matte) return null;
  const percent = (v: number): string => `${figured(100 * v, 1)} %`;
  return (
    <section aria-label={say('Matte figures')} className="px-3.5 pt-3 pb-4">
      <h2 className="mb-1 font-bold">{say('Matte')}</h2>
      <Old what="matte">
        <Figures
          rows={[
            { name: say('Subject'), figure: percent(matte.subject) },
            { name: say('Undecided, solved'), figure: percent(matte.solved) },
            { name: say('Soft'), figure: percent(matte.soft) },
            {
              name: say('Specks / pinholes'),
              figure: `${matte.specks} / ${matte.pinholes}`,
              state: matte.subject > 0 && matte.specks + matte.pinholes === 0 ? 'fine' : undefined,
            },
            {
              name: say('Old background in the edge'),
              figure: matte.subject > 0 ? `ΔE ${figured(Math.max(0, matte.left), 1)}` : say('no edge yet'),
              // Wool is lit otherwise at its rim: the true colours of such an edge come to 6 or 7, those of the shot to 20.
              state: matte.subject === 0 ? undefined : matte.left < 2 ? 'fine' : matte.left > 8 ? 'watch' : undefined,
            },
          ]}
        />
      </Old>
    </section>
  );
}
