import type { Wash } from '@ritaglio/core';
import { Button } from '../../ui/Button';
import { Fold } from '../../ui/controls';
import { useEdit, type PartOf } from '../useEdit';
import { Without } from './hold';
import { useMatchTool } from '../useTool';
import { ofFinish, without } from './parts';
import { ParameterControl } from '../ParameterControl';
import { figured, say } from '../../words/say';

/** Light that falls off towards the rim, of any shape and place, and a colour over all. */
export function VignettePart() {
  const vignette = useEdit(ofFinish('vignette'));
  const tool = useMatchTool();
  return (
    <Fold
      title="Vignette, wash"
      figure={vignette.value.strength !== 0 ? `${figured(vignette.value.strength, 2)} st` : undefined}
      beside={<Without name={say('vignette and wash')} undone={without.vignette} />}
    >
      <ParameterControl {...vignette.number('strength', 'vignette.strength')} />
      <ParameterControl {...vignette.number('softness', 'vignette.softness')} />
      <ParameterControl {...vignette.number('roundness', 'vignette.roundness')} />
      <ParameterControl {...vignette.number('width', 'vignette.width')} />
      <ParameterControl {...vignette.number('height', 'vignette.height')} />
      <ParameterControl {...vignette.number('turn', 'vignette.turn')} />
      <Button className="mt-1.5" {...tool('vignette')}>
        {say('Move it on the picture')}
      </Button>
      <WashControls part={ofFinish('wash')} label={say('Wash')} />
    </Fold>
  );
}

/** How strong a colour is laid over something, and which. */
export function WashControls({ part, label }: { part: PartOf<Wash>; label: string }) {
  const wash = useEdit(part);
  return (
    <>
      <ParameterControl {...wash.number('strength', 'wash.strength')} label={label} />
      <div className="mt-1 flex items-center gap-2">
        <span className="w-[5.3rem] text-faint">{say('of colour')}</span>
        <input
          type="color"
          aria-label={say('Colour of the {label}', { label: label.toLowerCase() })}
          className="h-5 w-8"
          value={wash.value.colour}
          onChange={(e) => wash.commit({ colour: e.currentTarget.value })}
        />
      </div>
    </>
  );
}
