import { useEffect, useRef } from 'react';

/** Calls with the files that are pasted anywhere but into a text field. */
export function usePasted(take: (files: File[]) => void): void {
  const current = useRef(take);
  useEffect(() => {
    current.current = take;
  });
  useEffect(() => {
    const listen = (e: ClipboardEvent): void => {
      const files = [...(e.clipboardData?.files ?? [])];
      if (files.length === 0 || (e.target as Element).closest?.('input,textarea')) return;
      e.preventDefault();
      current.current(files);
    };
    addEventListener('paste', listen);
    return () => removeEventListener('paste', listen);
  }, []);
}
