/** @jest-environment jsdom */
import { steps } from '../steps';
import { catalogue } from './catalogue';
import { foundBy } from './foundBy';
import { nameOfControl, plainName } from './names';

describe('a control that is looked for', () => {
  test('the catalogue holds every step and names each control once', () => {
    expect(new Set(catalogue.map((c) => c.step))).toEqual(new Set(steps));
    expect(new Set(catalogue.map((c) => Object.values(c).join('|'))).size).toBe(catalogue.length);
    for (const { name } of catalogue) expect(plainName(name)).toBe(name);
  });

  test.each([
    ['blur behind', 'lens', 'Blur behind'],
    ['aper', 'lens', 'Aperture'],
    ['dissolve', 'match', 'Dissolve steps'],
    ['halo', 'plate', 'Halo without it'],
    ['GROW', 'plate', 'Grow'],
    ['webp', 'export', 'WebP'],
    ['rotate', 'stage', 'Turn'],
  ])('“%s” leads to %s, %s', (words, step, name) => {
    expect(foundBy(words, catalogue).slice(0, 6)).toContainEqual(expect.objectContaining({ step, name }));
  });

  test('all words must fit, and nothing fits none', () => {
    expect(foundBy('', catalogue)).toEqual([]);
    expect(foundBy('grain sandwich', catalogue)).toEqual([]);
    for (const f of foundBy('vignette turn', catalogue)) expect(f.part).toContain('Vignette');
  });

  test('names are told as people read them; what is of one moment is none', () => {
    const named = (html: string): string | undefined => {
      document.body.innerHTML = html;
      return nameOfControl(document.body.querySelector<HTMLElement>('button, input')!);
    };
    expect(named('<input data-name="Feather" aria-label="Feather, typed">')).toBe('Feather');
    expect(named('<label><input type="checkbox"> Outside instead</label>')).toBe('Outside instead');
    expect(named('<button>Keep as a take</button>')).toBe('Keep as a take');
    for (const text of ['×', 'Peg 2', 'Hold: without grain', '36 px', 'cart.wav'])
      expect(named(`<button>${text}</button>`)).toBeUndefined();
  });
});
