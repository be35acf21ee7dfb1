import { clsx } from 'clsx';
import type { ReactNode } from 'react';
import type { Figures, ViewName } from '../../worker/protocol';
import { useProductsOfJob } from '../jobContext';
import { say } from '../../words/say';

/** Figures that are dimmed, and said to be old, until they are of the recipe that is open. */
export function Old({ what, children }: { what: ViewName | keyof Figures; children: ReactNode }) {
  const { isOld, stopped } = useProductsOfJob();
  const old = isOld(what);
  return (
    <div className={clsx(old && 'opacity-50')} data-old={old || undefined}>
      {children}
      {old && (
        <p className="mt-1 text-[11px]" role="status">
          {stopped ? say('These figures are old: work was stopped.') : say('These figures are old; new ones are on the way.')}
        </p>
      )}
    </div>
  );
}
