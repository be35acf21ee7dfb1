import { flatDistances, groundDistance, groundUnder, isFlat, type Card, type Distances } from '@ritaglio/core';
import { Button } from '../../ui/Button';
import { Choice, Part } from '../../ui/controls';
import { Picker } from '../../ui/Picker';
import { nameOf } from '../bench/cards';
import { useCard } from '../bench/useBench';
import { subjectCard } from '../edit';
import { TipControl } from '../matte/MarksTool';
import { useProductsOfJob, useRecipe } from '../jobContext';
import { ParameterControl } from '../ParameterControl';
import { theCard, useEdit, within } from '../useEdit';
import { PicturePicker } from '../PicturePicker';
import { useTool } from '../useTool';
import { useViewOf } from '../viewStore';
import { figured, say } from '../../words/say';

/** How distance varies over the card that is picked out. */
export function DistancesPart() {
  const { card, way } = useCard();
  return card && way ? <DistancesOf card={card} size={way.size} /> : null;
}

function DistancesOf({ card, size }: { card: Card; size: { width: number; height: number } }) {
  const recipe = useRecipe();
  const { benchTool, paintDistance, tip, picture, set } = useViewOf('benchTool', 'paintDistance', 'tip', 'picture', 'set');
  const subject = subjectCard(recipe);
  const { figures } = useProductsOfJob();
  const part = within(theCard(card), 'distances');
  const { value: d, preview, commit } = useEdit(part);
  const leaning = useEdit(within(part, 'lean'));
  const tool = useTool({ card: card.id, compare: 'whole' });
  const ground = (): void => {
    // Under the subject on its own plate; elsewhere where things usually stand.
    const foot = (card.kind === 'plate' && figures.matte?.foot) || 0.82;
    if (!d.ground) commit({ ground: groundUnder(foot * size.height, size.height, subject?.distance ?? 3) });
    tool('ground').onClick();
  };
  return (
    <Part title="Distances" figure={isFlat(d) ? say('flat') : said(d)}>
      <Picker
        label={say('Distances of')}
        value={card.id}
        options={recipe.cards.map((c) => ({ value: c.id, label: nameOf(c) }))}
        onChange={(id) => set({ card: id })}
      />
      <div className="mt-2 flex flex-wrap gap-1.5">
        <Button {...tool('ground')} onClick={ground}>
          {say('Ground line')}
        </Button>
        <Button {...tool('peg')}>{say('Peg')}</Button>
        <Button {...tool('paint')}>{say('Paint')}</Button>
        <Button
          {...tool('stands')}
          title={say('Press on a thing beside the subject, or draw a loop around it: it stays as sharp as the subject')}
        >
          {say('Stands with the subject')}
        </Button>
        <Button
          strong={picture === 'distances'}
          aria-pressed={picture === 'distances'}
          onClick={() => set({ picture: picture === 'distances' ? 'finished' : 'distances' })}
        >
          {say('See them')}
        </Button>
      </div>
      {d.ground && (
        <>
          <p className="mt-2 text-faint">
            {say(
              'On the line the ground is as far as what stands on it; half way up to the horizon it is {groundDistance} m. What rises behind it is at the card’s distance.',
              { groundDistance: figured(groundDistance(d.ground, (d.ground.line + d.ground.horizon) / 2), 1) },
            )}
          </p>
          <ParameterControl
            param="ground.distance"
            value={d.ground.distance}
            normal={subject?.distance ?? 3}
            onPreview={(v) => preview({ ground: { ...d.ground!, distance: v } })}
            onCommit={(v) => commit({ ground: { ...d.ground!, distance: v } })}
          />
          {(['line', 'horizon'] as const).map((key) => (
            <ParameterControl
              key={key}
              param={`ground.${key}`}
              value={d.ground![key]}
              normal={Math.round((key === 'line' ? 0.82 : 0.37) * size.height)}
              min={-size.height}
              max={2 * size.height}
              onPreview={(v) => preview({ ground: groundWith(d.ground!, key, v) })}
              onCommit={(v) => commit({ ground: groundWith(d.ground!, key, v) })}
            />
          ))}
        </>
      )}
      {benchTool === 'peg' && (
        <p className="mt-2 text-faint">{say('Press on the picture where you know how far it is; drag a peg, type its distance here.')}</p>
      )}
      {d.pegs.map((peg, i) => (
        <div key={i} className="flex items-center gap-1">
          <div className="min-w-0 flex-1">
            <ParameterControl
              param="peg.distance"
              label={say('Peg {i}', { i: i + 1 })}
              value={peg.distance}
              normal={card.distance}
              onPreview={(v) => preview({ pegs: d.pegs.map((p, k) => (k === i ? { ...p, distance: v } : p)) })}
              onCommit={(v) => commit({ pegs: d.pegs.map((p, k) => (k === i ? { ...p, distance: v } : p)) })}
            />
          </div>
          <button
            type="button"
            aria-label={say('Take peg {i} away', { i: i + 1 })}
            onClick={() => commit({ pegs: d.pegs.filter((_, k) => k !== i) })}
          >
            ×
          </button>
        </div>
      ))}
      {d.pegs.length > 0 && (
        <div className="mt-1.5">
          <Choice
            label={say('Between pegs')}
            value={d.between}
            options={[
              { value: 'edges', label: say('along edges') },
              { value: 'smooth', label: say('smooth') },
            ]}
            onChange={(between) => commit({ between })}
          />
        </div>
      )}
      {benchTool === 'paint' && (
        <>
          <ParameterControl param="paint.distance" value={paintDistance} onCommit={(v) => set({ paintDistance: v })} />
          <TipControl tip={tip} onChange={(v) => set({ tip: v })} />
        </>
      )}
      {benchTool === 'stands' && (
        <p className="mt-2 text-faint">
          {say(
            'Press on a thing that stands beside the subject, or draw a loop around it. It is as far away as the subject, and as sharp, wherever the subject is moved.',
          )}
        </p>
      )}
      {d.standing.length > 0 && (
        <p className="mt-1.5 flex items-center justify-between gap-2">
          <span>
            {say('{thing} with the subject.', {
              thing: d.standing.length === 1 ? say('One thing stands') : say('{length} things stand', { length: d.standing.length }),
            })}
          </span>
          <Button onClick={() => commit({ standing: d.standing.slice(0, -1) })}>{say('Take the last away')}</Button>
        </p>
      )}
      {d.painted.length > 0 && (
        <Button className="mt-1.5" onClick={() => commit({ painted: d.painted.slice(0, -1) })}>
          {say('Take the last painted stroke away')}
        </Button>
      )}
      <ParameterControl {...leaning.number('across', 'lean.across')} />
      <ParameterControl {...leaning.number('down', 'lean.down')} />
      <p className="mt-2 text-faint">{say('A picture of distances')}</p>
      <PicturePicker
        label={say('Picture of distances')}
        value={d.map?.picture ?? null}
        onChange={(id) => commit({ map: id ? { reading: 'metres', near: 1, far: 60, ...d.map, picture: id } : null })}
      />
      {d.map && (
        <>
          <div className="mt-1.5">
            <Choice
              label={say('How the map is read')}
              value={d.map.reading}
              options={[
                { value: 'metres', label: say('light is far') },
                { value: 'nearness', label: say('light is near') },
              ]}
              onChange={(reading) => commit({ map: { ...d.map!, reading } })}
            />
          </div>
          {(d.map.reading === 'metres' ? (['far'] as const) : (['near', 'far'] as const)).map((key) => (
            <ParameterControl
              key={key}
              param={`map.${key}`}
              {...(key === 'far' && d.map!.reading === 'metres' && { label: say('White is') })}
              value={d.map![key]}
              onCommit={(v) => commit({ map: { ...d.map!, [key]: v } })}
            />
          ))}
        </>
      )}
      {!isFlat(d) && (
        <Button className="mt-2" onClick={() => commit({ ...flatDistances, pegs: [], painted: [], standing: [] })}>
          {say('Flat again')}
        </Button>
      )}
    </Part>
  );
}

/** A ground whose line stays below its horizon. */
export function groundWith(
  ground: NonNullable<Distances['ground']>,
  key: 'line' | 'horizon',
  value: number,
): NonNullable<Distances['ground']> {
  return key === 'line'
    ? { ...ground, line: Math.max(value, ground.horizon + 4) }
    : { ...ground, horizon: Math.min(value, ground.line - 4) };
}

function said(d: Distances): string {
  const parts = [
    d.map ? say('map') : d.ground ? say('ground') : '',
    d.pegs.length ? say('{length} pegs', { length: d.pegs.length }) : '',
    d.painted.length ? say('painted') : '',
    d.standing.length ? say('{length} with the subject', { length: d.standing.length }) : '',
  ];
  return parts.filter(Boolean).join(' · ') || 'leaning';
}
