import { isPlainGrade, defaultDetail, defaultGrade, type Grade } from '@ritaglio/core';
import { Button } from '../../ui/Button';
import { Fold } from '../../ui/controls';
import { Picker } from '../../ui/Picker';
import { useState } from 'react';
import { toast } from 'sonner';
import { refuse } from '../../ui/refuse';
import { renderer } from '../../worker/renderer';
import { nameOf, wayOfLimit } from '../bench/cards';
import { useSizes } from '../bench/useBench';
import { useRecipe } from '../jobContext';
import { ParameterControl } from '../ParameterControl';
import { useEdit, within } from '../useEdit';
import { momentNow } from '../moments';
import { useViewOf } from '../viewStore';
import { Without } from './hold';
import { useMatchTool, useTool } from '../useTool';
import { LimitControls } from './LimitControls';
import { WashControls } from './VignettePart';
import { ofAdjustments, ofWash, without } from './parts';
import { workingScale } from '../workingSide';
import { figured, say } from '../../words/say';

/** The rows of a grade, in order. */
const rows = ['temperature', 'tint', 'exposure', 'black', 'white', 'middle', 'contrast', 'saturation', 'vibrance'] as const;

/** Light and colour of one card or of the whole, and where it works. */
export function GradePart() {
  const recipe = useRecipe();
  const { grading: target, set } = useViewOf('grading', 'set');
  const part = ofAdjustments(target);
  const adjustments = useEdit(part);
  const grade = useEdit(within(part, 'grade'));
  const detail = useEdit(within(part, 'detail'));
  const plain = isPlainGrade(adjustments.value.grade) && adjustments.value.detail.sharpen === 0 && adjustments.value.detail.soften === 0;
  return (
    <Fold
      title="Grade"
      figure={plain ? undefined : say('in use')}
      beside={<Without name={say('this grade')} undone={without.grade(target)} />}
    >
      <div className="mb-1 flex items-center gap-1.5">
        <span className="text-faint">{say('of')}</span>
        <Picker
          label={say('What is graded')}
          value={recipe.cards.some((c) => c.id === target) ? target : 'whole'}
          options={[{ value: 'whole', label: say('the whole') }, ...recipe.cards.map((c) => ({ value: c.id, label: nameOf(c) }))]}
          onChange={(grading) => set({ grading })}
        />
        <Button
          disabled={plain}
          onClick={() => adjustments.commit({ grade: defaultGrade as typeof adjustments.value.grade, detail: defaultDetail })}
        >
          {say('Put back')}
        </Button>
      </div>
      {rows.map((key) => (
        <ParameterControl key={key} {...grade.number(key, `grade.${key}`)} />
      ))}
      <h3 className="mt-2 font-semibold">{say('Neutrals')}</h3>
      {(['red', 'green', 'blue'] as const).map((name, i) => {
        const put = (v: number): Partial<Grade> => ({
          neutrals: adjustments.value.grade.neutrals.map((o, k) => (k === i ? v : o)) as Grade['neutrals'],
        });
        return (
          <ParameterControl
            key={name}
            param="grade.neutrals"
            label={say('Greys’ {name}', { name })}
            value={adjustments.value.grade.neutrals[i]}
            onPreview={(v) => grade.preview(put(v) as typeof grade.value)}
            onCommit={(v) => grade.commit(put(v) as typeof grade.value)}
          />
        );
      })}
      <Hues target={target} />
      <h3 className="mt-2 font-semibold">{say('Detail')}</h3>
      <ParameterControl {...detail.number('sharpen', 'detail.sharpen')} />
      <ParameterControl {...detail.number('radius', 'detail.radius')} />
      <ParameterControl {...detail.number('soften', 'detail.soften')} />
      {recipe.cards.some((c) => c.id === target) && (
        <>
          <h3 className="mt-2 font-semibold">{say('Tint of its own')}</h3>
          <WashControls part={ofWash(target)} label={say('Tint')} />
        </>
      )}
      <Limit target={target} />
    </Fold>
  );
}

/** Hues that are picked, and what is done to them alone. */
function Hues({ target }: { target: string }) {
  const grade = useEdit(within(ofAdjustments(target), 'grade'));
  const tool = useMatchTool();
  const { hues } = grade.value;
  return (
    <>
      <div className="mt-2 flex items-center justify-between">
        <h3 className="font-semibold">{say('Hues')}</h3>
        <Button {...tool('hue')} disabled={hues.length >= 8}>
          {say('Pick one')}
        </Button>
      </div>
      {hues.map((h, i) => {
        const number = (key: 'width' | 'turn' | 'saturation' | 'lightness') => {
          const put = (v: number) => ({ hues: hues.map((o, k) => (k === i ? { ...o, [key]: v } : o)) });
          return {
            param: `hue.${key}` as const,
            value: h[key],
            onPreview: (v: number) => grade.preview(put(v)),
            onCommit: (v: number) => grade.commit(put(v)),
          };
        };
        return (
          <div key={i} className="mt-1 border-t border-rule pt-1">
            <div className="flex items-center justify-between">
              <span>{say('Hue {hue}°', { hue: figured(h.hue, 0) })}</span>
              <Button
                aria-label={say('Drop hue {hue}°', { hue: figured(h.hue, 0) })}
                onClick={() => grade.commit({ hues: hues.filter((_, k) => k !== i) })}
              >
                ×
              </Button>
            </div>
            <ParameterControl {...number('width')} />
            <ParameterControl {...number('turn')} />
            <ParameterControl {...number('saturation')} />
            <ParameterControl {...number('lightness')} />
          </div>
        );
      })}
    </>
  );
}

/** Where a grade works: within a kept matte, a graduation, what is painted. */
function Limit({ target }: { target: string }) {
  const tool = useTool({ compare: 'whole', picture: 'finished', limiting: 'grade' });
  const { painted } = ofAdjustments(target).read(useRecipe()).limit;
  const grade = useEdit(within(ofAdjustments(target), 'grade'));
  const recipe = useRecipe();
  const sizes = useSizes();
  const [busy, setBusy] = useState(false);
  const card = recipe.cards.find((c) => c.id === target);
  /** Darkens or lightens a ground to what stands behind it, as a new sky asks for. */
  const level = async (): Promise<void> => {
    if (!card) return;
    setBusy(true);
    try {
      const inFrame = wayOfLimit(recipe, card, sizes).in;
      const strokes = painted.map(({ radius, points }) => ({
        radius,
        points: points.map(([x, y]): [number, number] => {
          const p = inFrame(x, y);
          return [p.x, p.y];
        }),
      }));
      const now = momentNow(recipe);
      const stops = await renderer().stopsBehind(now, card.id, strokes, workingScale(now));
      if (stops === undefined) toast(say('Nothing stands behind this card: choose one that is nearer.'));
      else grade.commit({ exposure: Math.round(100 * Math.min(4, Math.max(-4, grade.value.exposure + stops))) / 100 });
    } catch (error) {
      refuse(error);
    }
    setBusy(false);
  };
  return (
    <>
      <h3 className="mt-2 font-semibold">{say('Where it works')}</h3>
      <LimitControls part={within(ofAdjustments(target), 'limit')} tool={tool} />
      <Button className="mt-1" disabled={!card || busy} onClick={() => void level()}>
        {busy ? say('Measuring …') : say('To the level of what is behind')}
      </Button>
    </>
  );
}
