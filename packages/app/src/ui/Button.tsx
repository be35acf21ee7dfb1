import { clsx } from 'clsx';
import type { ComponentProps } from 'react';

/** A plain press. */
export function Button({ className, strong, ...rest }: ComponentProps<'button'> & { strong?: boolean }) {
  return (
    <button
      type="button"
      className={clsx(
        'inline-flex items-center gap-1.5 border border-ink px-2.5 py-0.5 font-semibold disabled:border-rule disabled:text-faint',
        strong ? 'bg-ink text-paper disabled:bg-rule' : 'bg-paper hover:bg-sheet',
        className,
      )}
      {...rest}
    />
  );
}
