import { Button, Fold, NumberControl } from '../../ui/controls';
import { useEdit } from '../useEdit';
import { Without } from './hold';
import { useMatchTool, type ToolPress } from '../useTool';
import { ofMatch, without } from './parts';
import { say } from '../../words/say';

/** Light and air of the surroundings: ambient colour, wrap, air, glow, contact. */
export function SurroundPart() {
  const tool = useMatchTool();
  const ambient = useEdit(ofMatch('ambient'));
  const wrap = useEdit(ofMatch('wrap'));
  const air = useEdit(ofMatch('air'));
  const shine = useEdit(ofMatch('shine'));
  const contact = useEdit(ofMatch('contact'));
  const on = [ambient.value.strength, wrap.value.strength, air.value.haze, shine.value.at ? 1 : 0, contact.value.strength].filter(
    (v) => v > 0,
  );
  return (
    <Fold
      title="Light and air"
      figure={on.length > 0 ? say('{length} on', { length: on.length }) : undefined}
      beside={<Without name={say('light and air')} undone={without.surround} />}
    >
      <NumberControl label={say('Ambient')} {...ambient.number('strength', 0, 100)} min={0} max={100} step={1} unit="%" />
      <ColourRow
        name={say('Ambient')}
        colour={ambient.value.colour}
        pick={tool('ambient')}
        onChange={(colour) => ambient.commit({ colour })}
      />
      <NumberControl label={say('Wrap')} {...wrap.number('strength', 0, 100)} min={0} max={100} step={1} unit="%" />
      <NumberControl label={say('Wrap width')} {...wrap.number('width', 12)} min={1} max={120} step={1} unit="px" />
      <NumberControl label={say('Air')} {...air.number('haze', 0, 100)} min={0} max={95} step={1} unit="%" />
      <ColourRow name={say('Air')} colour={air.value.colour} pick={tool('air')} onChange={(colour) => air.commit({ colour })} />
      <div className="mt-1.5 flex items-center gap-1.5">
        <span className="w-[5.3rem] text-faint">{say('Glow')}</span>
        <Button {...tool('shine')}>{shine.value.at ? say('Elsewhere') : say('Pick a bright place')}</Button>
        {shine.value.at && <Button onClick={() => shine.commit({ at: null })}>{say('None')}</Button>}
      </div>
      {shine.value.at && (
        <>
          <NumberControl label={say('Glow’s light')} {...shine.number('strength', 0.4, 100)} min={0} max={200} step={1} unit="%" />
          <NumberControl label={say('Glow’s reach')} {...shine.number('radius', 260)} min={10} max={2000} step={1} unit="px" logarithmic />
          <NumberControl label={say('Over subject')} {...shine.number('over', 0.25, 100)} min={0} max={100} step={1} unit="%" />
        </>
      )}
      <NumberControl label={say('Contact')} {...contact.number('strength', 0, 100)} min={0} max={100} step={1} unit="%" />
      {contact.value.strength > 0 && (
        <>
          <NumberControl label={say('Falls to')} {...contact.number('direction', 20)} min={-180} max={180} step={1} unit="°" />
          <NumberControl label={say('Length')} {...contact.number('length', 0.35, 100)} min={0} max={150} step={1} unit="%" />
          <NumberControl label={say('Softness')} {...contact.number('softness', 40)} min={0} max={200} step={1} unit="px" />
        </>
      )}
    </Fold>
  );
}

/** A colour that is measured, chosen or picked on the picture. */
function ColourRow(props: { name: string; colour: string; pick: ToolPress; onChange: (colour: string) => void }) {
  const auto = props.colour === 'auto';
  return (
    <div className="mt-1 flex items-center gap-1.5">
      <span className="w-[5.3rem] text-faint">{say('of colour')}</span>
      <Button
        strong={auto}
        aria-pressed={auto}
        aria-label={say('{name} colour measured', { name: props.name })}
        onClick={() => props.onChange('auto')}
      >
        {say('measured')}
      </Button>
      <input
        type="color"
        aria-label={say('{name} colour', { name: props.name })}
        value={auto ? '#808080' : props.colour}
        onChange={(e) => props.onChange(e.currentTarget.value)}
        className="h-5 w-8"
      />
      <Button {...props.pick} aria-label={say('Pick the colour of {name}', { name: props.name.toLowerCase() })}>
        {say('pick')}
      </Button>
    </div>
  );
}
