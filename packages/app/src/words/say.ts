import { i18n } from '@lingui/core';
import { compileMessage } from '@lingui/message-utils/compileMessage';

type Compiled = ReturnType<typeof compileMessage>;
const compiled = new Map<string, Compiled>();
/** A message is taken apart once. */
i18n.setMessagesCompiler((message: string): Compiled => {
  const known = compiled.get(message) ?? compileMessage(message);
  compiled.set(message, known);
  return known;
});
i18n.loadAndActivate({ locale: 'en', messages: {} });

/**
 * A sentence of the interface in the language that was chosen.
 *
 * @param message in English, as ICU writes it: `{n, plural, one {# place} other {# places}}`
 * @param values what stands in its braces
 */
export function say(message: string, values?: Record<string, unknown>): string {
  return i18n._(message, values);
}

/** A number with so many digits after its point, or its comma. */
export function figured(value: number, digits: number): string {
  return pointed(value.toFixed(digits));
}

/** A number that is written, with the mark that the chosen language has before its fractions. */
function pointed(written: string): string {
  return i18n.locale === 'en' ? written : written.replace('.', ',');
}

/** Marks a sentence that is said later, where it is shown. */
export function word(message: string): string {
  return message;
}

/** Sentences that the core and the formats tell, and how they are put in the chosen language. */
let sentences: readonly (readonly [RegExp, string])[] = [];

/** @param known English sentences, with names in braces where something stands, and what they are in another language */
export function knowSentences(known: Readonly<Record<string, string>>): void {
  sentences = Object.entries(known).map(([english, other]) => [patternOf(english), other]);
}

function patternOf(english: string): RegExp {
  const names = new Set<string>();
  const escaped = english.replace(/[.*+?^$()|[\]\\]/g, '\\$&');
  const source = escaped.replace(/\{(\w+)\}/g, (_, name: string) => {
    if (names.has(name)) return `\\k<${name}>`;
    names.add(name);
    return `(?<${name}>[\\s\\S]+?)`;
  });
  return new RegExp(`^${source}$`, 'u');
}

/** What the core or a format tells, in the language that was chosen; in English as it is. */
export function told(sentence: string): string {
  for (const [pattern, other] of sentences) {
    const found = pattern.exec(sentence);
    if (found) return other.replace(/\{(\w+)\}/g, (_, name: string) => told(found.groups?.[name] ?? ''));
  }
  return /^[-−+]?\d+\.\d+$/.test(sentence) ? pointed(sentence) : sentence;
}

/** Words by their keys, said when they are read. */
export function spoken<K extends string>(words: Readonly<Record<K, string>>): Record<K, string> {
  const out = {} as Record<K, string>;
  for (const key of Object.keys(words) as K[]) Object.defineProperty(out, key, { enumerable: true, get: () => say(words[key]) });
  return out;
}

/** What can be chosen, in order, each with its word, said when it is shown. */
export function choices<T extends string>(words: Readonly<Record<T, string>>): { value: T; label: string }[] {
  const labels = spoken(words);
  return (Object.keys(words) as T[]).map((value) => ({
    value,
    get label() {
      return labels[value];
    },
  }));
}
