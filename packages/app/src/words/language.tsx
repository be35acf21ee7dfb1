import { i18n } from '@lingui/core';
import { Fragment, useSyncExternalStore, type ReactNode } from 'react';
import { knowSentences } from './say';

/** The languages that are complete, each by its own name. */
export const languages = { en: 'English', it: 'Italiano' } as const;
export type Language = keyof typeof languages;

const key = 'ritaglio.language';
const isLanguage = (code: string | null): code is Language => code !== null && code in languages;

/** The language chosen in this browser, or the first of the browser's own that is known. */
export function chosenLanguage(): Language {
  const kept = localStorage.getItem(key);
  if (isLanguage(kept)) return kept;
  return navigator.languages.map((l) => l.slice(0, 2)).find(isLanguage) ?? 'en';
}

/** Speaks a language from now on. English needs nothing; another one is fetched when it is wanted. */
export async function speak(language = chosenLanguage()): Promise<void> {
  if (language === 'it') {
    const [messages, sentences] = await Promise.all([import('./it.json'), import('./itTold.json')]);
    i18n.loadAndActivate({ locale: 'it', messages: messages.default });
    knowSentences(sentences.default);
  } else {
    i18n.loadAndActivate({ locale: 'en', messages: {} });
    knowSentences({});
  }
  document.documentElement.lang = language;
}

/** Chooses a language, and speaks it. */
export function chooseLanguage(to: Language): Promise<void> {
  localStorage.setItem(key, to);
  return speak(to);
}

/** Draws all anew when another language is spoken. */
export function Speaking({ children }: { children: ReactNode }) {
  const locale = useSyncExternalStore(
    (changed) => i18n.on('change', changed),
    () => i18n.locale,
  );
  return <Fragment key={locale}>{children}</Fragment>;
}
