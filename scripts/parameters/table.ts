import { asShown, boundsOf, parameters, type Parameter, type ParameterKey } from '@ritaglio/core';

/** docs/parameters.md: every number that people set, from the one table of them. */
export function parametersPage(): string {
  const line = (key: ParameterKey): string => {
    const p: Parameter = parameters[key];
    const { least, most } = boundsOf(key);
    const cells = [`\`${key}\``, p.label, asShown(key, p.default), `${asShown(key, p.min)} … ${asShown(key, p.max)}`, `${p.above ? 'above ' : ''}${asShown(key, least)} … ${asShown(key, most)}`, p.help]; // prettier-ignore
    return `| ${cells.join(' | ')} |`;
  };
  return [
    '# Parameters',
    '',
    'Every number that people set, made from `packages/core/src/recipe/parameters.ts` by `npm run parameters`: the schema of',
    'recipes, the sliders and fields, the options of the terminal and this page are all made from that table. The key tells the',
    'part of the recipe and the name there.',
    '',
    '| Key | In the interface | Default | Slider | Can be held | What it does |',
    '| --- | --- | --- | --- | --- | --- |',
    ...(Object.keys(parameters) as ParameterKey[]).map(line),
    '',
  ].join('\n');
}
