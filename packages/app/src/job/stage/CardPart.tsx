import { blendModes, centred, type BlendMode, type Card } from '@ritaglio/core';
import { fonts } from '@ritaglio/formats';
import { useNavigate } from 'react-router';
import { Button, NumberControl, Part, Tick } from '../../ui/controls';
import { Picker } from '../../ui/Picker';
import { nameOf } from '../bench/cards';
import { useCard } from '../bench/useBench';
import { moveCard } from '../edit';
import { useChange, useOpenJob, useRecipe } from '../jobContext';
import { theCard, useEdit, within } from '../useEdit';
import { useView } from '../viewStore';
import { say, word } from '../../words/say';

type Letters = Extract<Card, { kind: 'lettering' }>;
type Glow = Extract<Card, { kind: 'glow' }>;

/** How a card is laid, as it is called in the open formats. */
const blendNames: Record<BlendMode, string> = {
  normal: word('normal'),
  multiply: word('multiply'),
  screen: word('screen'),
  overlay: word('overlay'),
  darken: word('darken'),
  lighten: word('lighten'),
  'color-dodge': word('color-dodge'),
  'color-burn': word('color-burn'),
  'hard-light': word('hard-light'),
  'soft-light': word('soft-light'),
  difference: word('difference'),
  exclusion: word('exclusion'),
  hue: word('hue'),
  saturation: word('saturation'),
  color: word('color'),
  luminosity: word('luminosity'),
};

/** Where the card that is picked out stands, and its own look. */
export function CardPart() {
  const { card } = useCard();
  return card ? <CardRows card={card} /> : null;
}

function CardRows({ card }: { card: Card }) {
  const recipe = useRecipe();
  const change = useChange();
  const { id: job } = useOpenJob();
  const navigate = useNavigate();
  const set = useView((s) => s.set);
  const { preview, commit, number } = useEdit(theCard(card));
  const { value: placement, number: placed, commit: put } = useEdit(within(theCard(card), 'placement'));
  const { number: looks } = useEdit(within(theCard(card), 'grade'));
  const place = (key: 'x' | 'y' | 'turn' | 'scale' | 'stretch', times = 1) => ({
    ...placed(key, centred[key], times),
    disabled: card.locked,
  });
  const { width, height } = recipe.frame;
  return (
    <>
      <Part title={nameOf(card)} figure={card.locked ? say('locked') : `${card.distance.toFixed(2)} m`}>
        <input
          aria-label={say('Name of this card')}
          className="mb-1 w-full border-b border-faint bg-transparent"
          placeholder={say('Its name')}
          value={card.name}
          maxLength={100}
          onChange={(e) => commit({ name: e.currentTarget.value })}
        />
        {card.kind === 'subject' && (
          <Button
            className="mb-1"
            onClick={() => {
              set({ subject: card.subject });
              void navigate(`/job/${job}/matte`);
            }}
          >
            {say('Open its matte')}
          </Button>
        )}
        {card.kind === 'lettering' && <LetteringRows card={card} />}
        {card.kind === 'glow' && <GlowRows card={card} />}
        <NumberControl
          label={say('Distance')}
          value={card.distance}
          normal={card.kind === 'subject' ? 3 : 20}
          min={0.3}
          max={200}
          step={0.01}
          digits={2}
          unit="m"
          logarithmic
          disabled={card.locked}
          onPreview={(v) => change.preview((r) => moveCard(r, card.id, v))}
          onCommit={(v) => change.commit((r) => moveCard(r, card.id, v))}
        />
        <NumberControl label={say('Across')} {...place('x')} min={-width} max={width} step={1} unit="px" />
        <NumberControl label={say('Down')} {...place('y')} min={-height} max={height} step={1} unit="px" />
        <NumberControl label={say('Size')} {...place('scale', 100)} min={5} max={400} step={1} unit="%" logarithmic />
        <NumberControl label={say('Stretch')} {...place('stretch', 100)} min={25} max={400} step={1} unit="%" logarithmic />
        <NumberControl label={say('Turn')} {...place('turn')} min={-180} max={180} step={0.1} digits={1} unit="°" />
        <NumberControl label={say('Opacity')} {...number('opacity', 1, 100)} min={0} max={100} step={1} unit="%" />
        <div className="mt-1.5 flex items-center gap-1.5">
          <Picker<BlendMode>
            label={say('How it is laid')}
            value={card.blend}
            options={blendModes.map((value) => ({ value, label: say(blendNames[value]) }))}
            onChange={(blend) => commit({ blend })}
          />
          <Button
            strong={placement.flip}
            aria-pressed={placement.flip}
            disabled={card.locked}
            onClick={() => put({ flip: !placement.flip })}
          >
            {say('Flip')}
          </Button>
        </div>
        {card.kind === 'picture' && recipe.mattes.length > 0 && (
          <div className="mt-1.5 flex items-center gap-2">
            <span className="text-faint">{say('Cut by')}</span>
            <Picker
              label={say('Kept matte that cuts it')}
              value={card.matte ?? ''}
              options={[{ value: '', label: say('nothing') }, ...recipe.mattes.map((m) => ({ value: m.id, label: m.name }))]}
              onChange={(id) => commit({ matte: id || null } as Partial<Card>)}
            />
          </div>
        )}
      </Part>
      <Part title="Its own look">
        <NumberControl label={say('Warmth')} {...looks('temperature', 0)} min={-110} max={200} step={1} unit="mired" />
        <NumberControl label={say('Exposure')} {...looks('exposure', 0)} min={-4} max={4} step={0.05} digits={2} unit="st" />
        <NumberControl label={say('Saturation')} {...looks('saturation', 1, 100)} min={0} max={200} step={1} unit="%" />
        <Tick
          className="mt-1.5"
          label={say('A blur of its own, not the lens’s')}
          on={card.blur !== null}
          onChange={(on) => commit({ blur: on ? 8 : null })}
        />
        {card.blur !== null && (
          <NumberControl
            label={say('Its blur')}
            value={card.blur}
            normal={8}
            min={0}
            max={200}
            step={1}
            unit="px"
            onPreview={(blur) => preview({ blur })}
            onCommit={(blur) => commit({ blur })}
          />
        )}
      </Part>
    </>
  );
}

/** What lettering says and in which type. */
function LetteringRows({ card }: { card: Letters }) {
  const { commit, number } = useEdit(theCard(card));
  return (
    <>
      <textarea
        aria-label={say('What it says')}
        rows={2}
        maxLength={500}
        className="w-full border border-rule bg-paper px-1"
        value={card.text}
        onChange={(e) => commit({ text: e.currentTarget.value })}
      />
      <div className="flex items-center gap-1.5">
        <Picker
          label={say('Typeface')}
          value={card.font}
          options={Object.entries(fonts).map(([value, f]) => ({ value, label: f.name }))}
          onChange={(font) => commit({ font })}
        />
        <input
          type="color"
          aria-label={say('Colour of the letters')}
          value={card.colour}
          onChange={(e) => commit({ colour: e.currentTarget.value })}
        />
      </div>
      <NumberControl label={say('Height')} {...number('size', 170)} min={8} max={2000} step={1} unit="px" logarithmic />
      <NumberControl label={say('Spacing')} {...number('spacing', 0, 100)} min={-20} max={150} step={1} unit="%" />
    </>
  );
}

/** How wide and bright a glow is. */
function GlowRows({ card }: { card: Glow }) {
  const { commit, number } = useEdit(theCard(card));
  return (
    <>
      <input
        type="color"
        aria-label={say('Colour of the glow')}
        value={card.colour}
        onChange={(e) => commit({ colour: e.currentTarget.value })}
      />
      <NumberControl label={say('Width')} {...number('size', 600)} min={8} max={8000} step={1} unit="px" logarithmic />
      <NumberControl label={say('Light')} {...number('lift', 0)} min={-4} max={6} step={0.1} digits={1} unit="st" />
    </>
  );
}
