import { useEffect } from 'react';
import { useStore } from 'zustand';
import { archiveOf } from '../data/jobs';
import { Button } from '../ui/Button';
import { refuse } from '../ui/refuse';
import { save } from '../ui/save';
import { useOpenJob } from './jobContext';
import { say } from '../words/say';

/** Above everything, only when there is something to say: who writes this job, and what has not been kept yet. */
export function KeepingStrip() {
  const { id, store, keeping, again, takeOver } = useOpenJob();
  const { writing, pending, reason, note } = useStore(keeping);
  const stuck = pending > 0 && reason !== undefined;
  useEffect(() => {
    if (!stuck) return;
    const ask = (e: BeforeUnloadEvent): void => e.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [stuck]);
  const exportJob = async (): Promise<void> => {
    const { recipe } = store.getState();
    save(`${recipe.name}.zip`, await archiveOf(recipe, id));
  };
  return (
    <div role="status" aria-label={say('Keeping')} className="shrink-0">
      {!writing && (
        <Line>
          {say('This job is open in another tab. Here it can be looked at; it follows what is done there.')}
          <Button onClick={takeOver}>{say('Take over here')}</Button>
        </Line>
      )}
      {stuck && (
        <Line>
          <strong>{say('{pending} {pending, plural, one {change} other {changes}} not kept yet', { pending })}</strong>
          {say(': {reason}. Save the job as a file, free space, or drop takes and jobs; it is tried again by itself.', { reason })}
          <Button onClick={() => void exportJob().catch(refuse)}>{say('Save the job')}</Button>
          <Button onClick={again}>{say('Try now')}</Button>
        </Line>
      )}
      {note && (
        <Line>
          {note}
          <Button onClick={() => keeping.setState({ note: undefined })}>{say('Good')}</Button>
        </Line>
      )}
    </div>
  );
}

function Line({ children }: { children: React.ReactNode }) {
  return <p className="flex flex-wrap items-center gap-2 border-b border-ink bg-tray px-4 py-1.5">{children}</p>;
}
