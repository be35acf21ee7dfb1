/** @jest-environment jsdom */
import { i18n } from '@lingui/core';
import { checkKinds, newRecipe, parameters, sheetHtml, type Check } from '@ritaglio/core';
import { compileMessage } from '@lingui/message-utils/compileMessage';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import messages from './it.json';
import sentences from './itTold.json';
import { chooseLanguage, chosenLanguage, languages, speak } from './language';
import { choices, figured, say, told } from './say';
import { messagesOf, sentencesOf } from './testMessages';

const packages = join(fileURLToPath(new URL('.', import.meta.url)), '../../..');
const italian: Record<string, string> = messages;
const toldItalian: Record<string, string> = sentences;

/** What stands in the braces of a message, also within its plurals. */
function braces(message: string): string[] {
  const names = new Set<string>();
  const look = (part: unknown): void => {
    if (!Array.isArray(part)) return;
    const [name, , forms] = part as [unknown, unknown, unknown];
    if (typeof name === 'string') names.add(name);
    if (forms && typeof forms === 'object') for (const form of Object.values(forms)) [form].flat().forEach(look);
  };
  [compileMessage(message)].flat(1).forEach(look);
  return [...names].sort();
}

describe('the catalogue', () => {
  const said = messagesOf(join(packages, 'app/src'));
  // Names of numbers and what they do come from the table of parameters.
  for (const { label, help } of Object.values(parameters)) said.add(label).add(help);
  const toldOf = ['core', 'formats', 'app/src/worker'].map((p) => (p.includes('/') ? p : `${p}/src`));
  const demos = join(packages, '../demo/jobs');
  const told = new Set(toldOf.flatMap((p) => [...sentencesOf(join(packages, p))]));
  for (const name of readdirSync(demos)) told.add((JSON.parse(readFileSync(join(demos, name), 'utf8')) as { about: string }).about);

  test('all that the interface says is there in Italian, and nothing that it does not say', () => {
    expect([...said].filter((m) => !(m in italian))).toEqual([]);
    expect(Object.keys(italian).filter((m) => !said.has(m))).toEqual([]);
    expect(said.size).toBeGreaterThan(900);
  });

  test('all that core and formats tell is there in Italian, and nothing else', () => {
    expect([...told].filter((m) => !(m in toldItalian))).toEqual([]);
    expect(Object.keys(toldItalian).filter((m) => !told.has(m))).toEqual([]);
  });

  test('what stands in braces stands in both, and every plural has its forms', () => {
    for (const [english, other] of [...Object.entries(italian), ...Object.entries(toldItalian)]) {
      // A word may agree with a number that English does not need: plurals may come more often, never others.
      expect({ english, of: braces(other) }).toEqual({ english, of: braces(english) });
      for (const form of other.matchAll(/plural, (.*?)\}\}/g)) expect(form[1]).toMatch(/one \{.*other \{/);
      expect([english.startsWith(' '), english.endsWith(' ')]).toEqual([other.startsWith(' '), other.endsWith(' ')]);
    }
  });
});

describe('speaking', () => {
  beforeEach(() => localStorage.clear());
  afterAll(() => speak('en'));

  test('English as it is written, with values and plurals', async () => {
    await speak('en');
    expect(say('{gaps, plural, one {# gap} other {# gaps}}', { gaps: 1 })).toBe('1 gap');
    expect(say('{gaps, plural, one {# gap} other {# gaps}}', { gaps: 4 })).toBe('4 gaps');
    expect(say('Open {name}', { name: 'a {b} c' })).toBe('Open a {b} c');
    expect(told('The recipe has no subject; it needs one at least.')).toBe('The recipe has no subject; it needs one at least.');
  });

  test('Italian by its own rules of number', async () => {
    await speak('it');
    expect(document.documentElement.lang).toBe('it');
    expect(say('{gaps, plural, one {# gap} other {# gaps}}', { gaps: 1 })).toBe('1 scarto');
    expect(say('{gaps, plural, one {# gap} other {# gaps}}', { gaps: 0 })).toBe('0 scarti');
    expect(say('Blur behind')).toBe('Sfocatura dietro');
  });

  test('numbers have the mark before their fractions that the language has, also in what the core tells', async () => {
    await speak('en');
    expect([figured(2.75, 1), figured(-3, 0), told('2.8')]).toEqual(['2.8', '-3', '2.8']);
    await speak('it');
    expect([figured(2.75, 1), figured(-3, 0), told('2.8'), told('−0.25')]).toEqual(['2,8', '-3', '2,8', '−0,25']);
    expect(told('Grow the hole to 3.5 px')).toBe('Fai crescere il buco a 3,5 px');
    expect(told('quay.2.png')).toBe('quay.2.png');
  });

  test('all that a proof sheet tells is in the language; what people have named stays as it is', async () => {
    await speak('it');
    const picture = { href: 'data:,', width: 3, height: 2 };
    const recipe = newRecipe('Goat and quay', 'p', 300, 200);
    const checks = (Object.keys(checkKinds) as Check['id'][]).map((id, i): Check => ({
      id,
      verdict: i % 2 ? 'wrong' : 'good',
      figure: 1.5,
      places: [],
    }));
    const { what } = checkKinds[checks[0].id];
    const places = [{ ...picture, says: what }];
    const page = sheetHtml({ recipe, checks, places, date: '2031-05-04', before: picture, after: picture, matte: picture, plate: picture, recipeHash: 'ab12', pictureHashes: [] }, { tell: told, language: 'it' }); // prettier-ignore
    const texts = [...page.matchAll(/<text[^>]*>([^<]*)</g)].map(([, text]) => text);
    expect(texts).toContain(told(what));
    expect(texts).toContain('Goat and quay');
    expect(texts.filter((t) => /\b(the|of|with|and|is|are|at|by|not|to)\b/.test(t) && t !== 'Goat and quay')).toEqual([]);
    expect(texts.filter((t) => /\d\.\d/.test(t))).toEqual([]);
    expect(page).toContain('<html lang="it">');
  });

  test('what can be chosen is said in the language of the moment', async () => {
    const tips = choices({ clear: 'Clear', opaque: 'Opaque' });
    await speak('en');
    expect(tips.map((t) => t.label)).toEqual(['Clear', 'Opaque']);
    await speak('it');
    expect(tips).toEqual([
      { value: 'clear', label: 'Trasparente' },
      { value: 'opaque', label: 'Opaco' },
    ]);
  });

  test('a sentence of the core is put in the language by its pattern, with what stands in it', async () => {
    await speak('it');
    expect(told('“quai (2).tif” is empty (0 bytes). Export or copy it again.')).toBe(
      '“quai (2).tif” è vuoto (0 byte). Esportalo o copialo di nuovo.',
    );
    expect(told('“a.png” has a colour profile that cannot be used (it is damaged); its colours were taken as sRGB.')).toMatch(
      /\(è danneggiato\)/,
    );
    expect(told('Nobody ever told this.')).toBe('Nobody ever told this.');
  });

  test('the language is the chosen one, or the first of the browser’s own that is known', async () => {
    const spoken = (list: string[]): void => void jest.spyOn(navigator, 'languages', 'get').mockReturnValue(list);
    spoken(['de-DE', 'it-CH', 'en']);
    expect(chosenLanguage()).toBe('it');
    spoken(['fr']);
    expect(chosenLanguage()).toBe('en');
    await chooseLanguage('it');
    expect([chosenLanguage(), i18n.locale]).toEqual(['it', 'it']);
    expect(Object.keys(languages)).toEqual(['en', 'it']);
  });
});
