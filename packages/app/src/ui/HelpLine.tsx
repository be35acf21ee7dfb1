import { say } from '../words/say';
import { useHelp } from './help';

/** One sentence about the control that is pointed at, or else has the focus, in a place of its own below the controls. */
export function HelpLine() {
  const told = useHelp((s) => s.pointed ?? s.focused);
  return (
    <p className="min-h-[3.4rem] border-t border-rule bg-paper px-4 py-2 text-xs text-faint" data-testid="help">
      {told ? (
        <>
          <b className="text-ink">{told.name}.</b> {told.says}
        </>
      ) : (
        say('Point at a number, or give it the focus: what it does is told here.')
      )}
    </p>
  );
}
