import { centred, defaultCard, defaultLamps, type Recipe } from '@ritaglio/core';
import { Button } from '../../ui/Button';
import { Part } from '../../ui/controls';
import { Menu } from '../../ui/Menu';
import { useChange, useRecipe } from '../jobContext';
import { ParameterControl } from '../ParameterControl';
import { useTool } from '../useTool';
import { say } from '../../words/say';

type Frame = Recipe['frame'];

const ratios: [string, number][] = [
  ['as the shot', 0],
  ['1 : 1', 1],
  ['5 : 4', 5 / 4],
  ['4 : 3', 4 / 3],
  ['3 : 2', 3 / 2],
  ['16 : 9', 16 / 9],
  ['2 : 1', 2],
  ['4 : 5', 4 / 5],
  ['3 : 4', 3 / 4],
  ['2 : 3', 2 / 3],
  ['9 : 16', 9 / 16],
];

/** The largest frame of a ratio that fits another. */
export function cutTo(frame: Frame, ratio: number): Frame {
  const width = Math.round(Math.min(frame.width, frame.height * ratio));
  return { ...frame, width, height: Math.round(Math.min(frame.height, frame.width / ratio)) };
}

/** Blur of the copy that fills the frame around the shot, as a share of the frame's longer side. */
const aroundBlur = 0.045;

/** The shot over its own enlarged, blurred copy, which fills a frame that is wider or taller. */
function overOwnBlur(recipe: Recipe): Recipe {
  const { frame } = recipe;
  const [{ shot, size }] = recipe.subjects;
  const picture = { kind: 'picture' as const, picture: shot, matte: null, lamps: { ...defaultLamps, lift: 0 } };
  const fills = 1.04 * Math.max(frame.width / size.width, frame.height / size.height);
  const placement = { ...centred, x: frame.x, y: frame.y };
  const blur = Math.round(aroundBlur * Math.max(frame.width, frame.height));
  const grade = { ...defaultCard.grade, exposure: -0.6 };
  return {
    ...recipe,
    cards: [
      {
        ...defaultCard,
        ...picture,
        id: 'card-around',
        name: say('Own blur'),
        distance: 30,
        blur,
        grade,
        placement: { ...placement, scale: fills },
      },
      { ...defaultCard, ...picture, id: 'card-shot', name: say('Shot'), distance: 3, blur: 0, placement },
    ],
  };
}

/** What of the scene the finished picture shows: crop, extend, straighten. */
export function FramePart() {
  const recipe = useRecipe();
  const { preview, commit } = useChange();
  const tool = useTool({ compare: 'whole', look: undefined }, 'cards');
  const { frame } = recipe;
  const { size } = recipe.subjects[0];
  const change = (part: Partial<Frame>) => (r: Recipe) => ({ ...r, frame: { ...r.frame, ...part } });
  const whole: Frame = { ...size, x: 0, y: 0, turn: 0 };
  const number = (key: keyof Frame) => ({
    param: `frame.${key}` as const,
    value: frame[key],
    normal: whole[key],
    onPreview: (v: number) => preview(change({ [key]: key === 'turn' ? v : Math.round(v) })),
    onCommit: (v: number) => commit(change({ [key]: key === 'turn' ? v : Math.round(v) })),
  });
  const isWider = frame.width > size.width * 1.01 || frame.height > size.height * 1.01;
  const isWhole = JSON.stringify({ ...whole }) === JSON.stringify({ ...whole, ...frame });
  return (
    <Part title="Frame" figure={`${frame.width} × ${frame.height}`}>
      <div className="flex flex-wrap items-center gap-1.5">
        <Button {...tool('frame')}>{say('Cut by hand')}</Button>
        <Menu
          label={say('Ratio of the frame')}
          text={say('Ratio …')}
          options={ratios.map(([label]) => ({ value: label, label }))}
          onChoose={(label) => {
            const ratio = ratios.find(([l]) => l === label)?.[1];
            if (ratio !== undefined) commit((r) => ({ ...r, frame: cutTo(r.frame, ratio === 0 ? size.width / size.height : ratio) }));
          }}
        />
        {isWider && <Button onClick={() => commit((r) => overOwnBlur(r))}>{say('Own blur around it')}</Button>}
        {!isWhole && <Button onClick={() => commit((r) => ({ ...r, frame: whole }))}>{say('All of the shot')}</Button>}
      </div>
      <ParameterControl {...number('width')} max={3 * size.width} />
      <ParameterControl {...number('height')} max={3 * size.height} />
      <ParameterControl {...number('x')} min={-size.width} max={size.width} />
      <ParameterControl {...number('y')} min={-size.height} max={size.height} />
      <ParameterControl {...number('turn')} />
    </Part>
  );
}
