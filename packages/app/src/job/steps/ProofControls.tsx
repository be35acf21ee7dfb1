import { Part } from '../../ui/controls';
import { gapRows } from '../match/matching';
import { useProductsOfJob } from '../jobContext';
import { CircleAlert, CircleCheck } from 'lucide-react';

/** What can be checked already, each with its figure and tolerance. */
export function ProofControls() {
  const { figures } = useProductsOfJob();
  const { matte, clipped, sides } = figures;
  if (!matte || !clipped || !sides) {
    return (
      <Part title="Checks">
        <p className="text-faint">The figures come when the picture has been worked out.</p>
      </Part>
    );
  }
  const checks = [
    {
      name: 'Specks and pinholes',
      figure: `${matte.specks} / ${matte.pinholes}`,
      tolerance: 'none',
      fine: matte.specks + matte.pinholes === 0,
    },
    { name: 'Clipped to white', figure: `${(100 * clipped.white).toFixed(2)} %`, tolerance: 'up to 2 %', fine: clipped.white <= 0.02 },
    { name: 'Clipped to black', figure: `${(100 * clipped.black).toFixed(2)} %`, tolerance: 'up to 2 %', fine: clipped.black <= 0.02 },
    {
      name: 'Banding',
      figure: `${(100 * sides.banding.share).toFixed(2)} %`,
      tolerance: 'up to 0.5 %',
      fine: sides.banding.share <= 0.005,
    },
    ...gapRows(sides)
      .filter((g) => g.known && !g.natural)
      .map((g) => ({ name: g.title, figure: `gap ${g.gap}`, tolerance: '', fine: !g.wide })),
  ];
  const open = checks.filter((c) => !c.fine).length;
  return (
    <Part title="Checks" figure={open === 0 ? 'all within tolerance' : `${open} to look at`}>
      <ul>
        {checks.map((c) => {
          const Mark = c.fine ? CircleCheck : CircleAlert;
          return (
            <li key={c.name} className="flex items-baseline gap-2 border-b border-rule py-1">
              <Mark size={12} strokeWidth={3} aria-label={c.fine ? 'fine' : 'look'} className={c.fine ? 'text-fine' : 'text-watch'} />
              <span className="grow">
                {c.name} <span className="text-faint">{c.tolerance}</span>
              </span>
              <span className="font-mono text-xs">{c.figure}</span>
            </li>
          );
        })}
      </ul>
    </Part>
  );
}
