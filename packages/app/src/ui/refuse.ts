import { toast } from 'sonner';
import { say, told } from '../words/say';

/** Tells the user what was refused: the error's own sentence, or that something is broken. */
export function refuse(error: unknown): void {
  const known = error instanceof Error && ['Refused', 'FormatError', 'RecipeError'].includes(error.name);
  const message = error instanceof Error ? error.message : String(error);
  if (isFull(error)) {
    toast.error(
      say('The storage of this browser is full, so that was not kept. Remove jobs on the shelf or takes, or free space on this computer.'),
      {
        duration: 20_000,
        closeButton: true,
      },
    );
    return;
  }
  toast.error(known ? told(message) : say('Something went wrong: {message}. Nothing of your work was lost.', { message }), {
    duration: 12_000,
    closeButton: true,
  });
}

/** Whether storage ran out, however that is wrapped. */
export function isFull(error: unknown): boolean {
  const names = [error, (error as { inner?: unknown } | null)?.inner].map((e) => (e as { name?: unknown } | null | undefined)?.name);
  return names.includes('QuotaExceededError');
}
