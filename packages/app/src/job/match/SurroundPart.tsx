import { Button } from '../../ui/Button';
import { Fold } from '../../ui/controls';
import { useEdit } from '../useEdit';
import { Without } from './hold';
import { useMatchTool, type ToolPress } from '../useTool';
import { ofMatch, without } from './parts';
import { ParameterControl } from '../ParameterControl';
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
      <ParameterControl {...ambient.number('strength', 'ambient.strength')} />
      <ColourRow
        name={say('Ambient')}
        colour={ambient.value.colour}
        pick={tool('ambient')}
        onChange={(colour) => ambient.commit({ colour })}
      />
      <ParameterControl {...wrap.number('strength', 'wrap.strength')} />
      <ParameterControl {...wrap.number('width', 'wrap.width')} />
      <ParameterControl {...air.number('haze', 'air.haze')} />
      <ColourRow name={say('Air')} colour={air.value.colour} pick={tool('air')} onChange={(colour) => air.commit({ colour })} />
      <div className="mt-1.5 flex items-center gap-1.5">
        <span className="w-[5.3rem] text-faint">{say('Glow')}</span>
        <Button {...tool('shine')}>{shine.value.at ? say('Elsewhere') : say('Pick a bright place')}</Button>
        {shine.value.at && <Button onClick={() => shine.commit({ at: null })}>{say('None')}</Button>}
      </div>
      {shine.value.at && (
        <>
          <ParameterControl {...shine.number('strength', 'shine.strength')} />
          <ParameterControl {...shine.number('radius', 'shine.radius')} />
          <ParameterControl {...shine.number('over', 'shine.over')} />
        </>
      )}
      <ParameterControl {...contact.number('strength', 'contact.strength')} />
      {contact.value.strength > 0 && (
        <>
          <ParameterControl {...contact.number('direction', 'contact.direction')} />
          <ParameterControl {...contact.number('length', 'contact.length')} />
          <ParameterControl {...contact.number('softness', 'contact.softness')} />
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
