import type { SubjectRecipe } from '@ritaglio/core';
import { editSubject } from '../edit';
import { useChange, useOpenSubject } from '../jobContext';

/** The subject being cut, and how to change it. */
export function useSubject(): {
  subject: SubjectRecipe;
  change: (part: Partial<SubjectRecipe>) => void;
  show: (part: Partial<SubjectRecipe>) => void;
} {
  const subject = useOpenSubject();
  const { preview, commit } = useChange();
  return {
    subject,
    change: (part) => commit((r) => editSubject(r, (s) => ({ ...s, ...part }))),
    show: (part) => preview((r) => editSubject(r, (s) => ({ ...s, ...part }))),
  };
}
