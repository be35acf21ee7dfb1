import { useSyncExternalStore } from 'react';

/** Narrower than this, px, the picture comes first and all else in sheets. */
const narrow = '(max-width: 900px)';

/** Whether the window is as narrow as a telephone's or an upright tablet's. */
export function useNarrow(): boolean {
  return useSyncExternalStore(
    (changed) => {
      const query = matchMedia(narrow);
      query.addEventListener('change', changed);
      return () => query.removeEventListener('change', changed);
    },
    () => matchMedia(narrow).matches,
  );
}

/** How the interface is lit: as the system says, light, or dark. */
const lightings = ['system', 'light', 'dark'] as const;
export type Lighting = (typeof lightings)[number];

const key = 'ritaglio.lighting';
const dark = (): MediaQueryList => matchMedia('(prefers-color-scheme: dark)');

/** The one chosen in this browser. */
export function lighting(): Lighting {
  const kept = localStorage.getItem(key);
  return lightings.find((l) => l === kept) ?? 'system';
}

/** Lights the page as it is chosen, now and when the system changes. */
export function lightUp(): void {
  const apply = (): void => {
    const chosen = lighting();
    document.documentElement.dataset.lighting = chosen === 'system' ? (dark().matches ? 'dark' : 'light') : chosen;
  };
  apply();
  dark().addEventListener('change', apply);
}

export function chooseLighting(to: Lighting): void {
  localStorage.setItem(key, to);
  document.documentElement.dataset.lighting = to === 'system' ? (dark().matches ? 'dark' : 'light') : to;
}
