import { toast } from 'sonner';

/** Tells the user what was refused: the error's own sentence, or that something is broken. */
export function refuse(error: unknown): void {
  const known = error instanceof Error && ['Refused', 'FormatError', 'RecipeError'].includes(error.name);
  const message = error instanceof Error ? error.message : String(error);
  toast.error(known ? message : `Something went wrong: ${message}. Nothing of your work was lost.`, {
    duration: 12_000,
    closeButton: true,
  });
}
