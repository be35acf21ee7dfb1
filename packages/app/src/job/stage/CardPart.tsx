import { blendModes, type BlendMode, type Card } from '@ritaglio/core';
import { fonts } from '@ritaglio/formats';
import { useNavigate } from 'react-router';
import { Button } from '../../ui/Button';
import { Part, Tick } from '../../ui/controls';
import { Picker } from '../../ui/Picker';
import { nameOf } from '../bench/cards';
import { useCard } from '../bench/useBench';
import { moveCard } from '../edit';
import { useChange, useOpenJob, useRecipe } from '../jobContext';
import { ParameterControl } from '../ParameterControl';
import { theCard, useEdit, within } from '../useEdit';
import { useView } from '../viewStore';
import { figured, say, word } from '../../words/say';

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
  const place = (key: 'x' | 'y' | 'turn' | 'scale' | 'stretch') => ({
    ...placed(key, `placement.${key}`),
    disabled: card.locked,
  });
  const { width, height } = recipe.frame;
  return (
    <>
      <Part title={nameOf(card)} figure={card.locked ? say('locked') : `${figured(card.distance, 2)} m`}>
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
        <ParameterControl
          param="card.distance"
          value={card.distance}
          normal={card.kind === 'subject' ? 3 : 20}
          disabled={card.locked}
          onPreview={(v) => change.preview((r) => moveCard(r, card.id, v))}
          onCommit={(v) => change.commit((r) => moveCard(r, card.id, v))}
        />
        <ParameterControl {...place('x')} min={-width} max={width} />
        <ParameterControl {...place('y')} min={-height} max={height} />
        <ParameterControl {...place('scale')} />
        <ParameterControl {...place('stretch')} />
        <ParameterControl {...place('turn')} />
        <ParameterControl {...number('opacity', 'card.opacity')} />
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
        <ParameterControl {...looks('temperature', 'grade.temperature')} label={say('Warmth')} />
        <ParameterControl {...looks('exposure', 'grade.exposure')} />
        <ParameterControl {...looks('saturation', 'grade.saturation')} />
        <Tick
          className="mt-1.5"
          label={say('A blur of its own, not the lens’s')}
          on={card.blur !== null}
          onChange={(on) => commit({ blur: on ? 8 : null })}
        />
        {card.blur !== null && (
          <ParameterControl
            param="card.blur"
            value={card.blur}
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
      <ParameterControl {...number('size', 'lettering.size')} />
      <ParameterControl {...number('spacing', 'lettering.spacing')} />
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
      <ParameterControl {...number('size', 'glow.size')} />
      <ParameterControl {...number('lift', 'glow.lift')} />
    </>
  );
}
