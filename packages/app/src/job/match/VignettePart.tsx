import type { Wash } from '@ritaglio/core';
import { Button, Fold, NumberControl } from '../../ui/controls';
import { useEdit, type PartOf } from '../useEdit';
import { Without } from './hold';
import { useMatchTool } from '../useTool';
import { ofFinish, without } from './parts';
import { say } from '../../words/say';

/** Light that falls off towards the rim, of any shape and place, and a colour over all. */
export function VignettePart() {
  const vignette = useEdit(ofFinish('vignette'));
  const tool = useMatchTool();
  return (
    <Fold
      title="Vignette, wash"
      figure={vignette.value.strength !== 0 ? `${vignette.value.strength.toFixed(2)} st` : undefined}
      beside={<Without name={say('vignette and wash')} undone={without.vignette} />}
    >
      <NumberControl label={say('Fall-off')} {...vignette.number('strength', 0)} min={-3} max={2} step={0.05} digits={2} unit="st" />
      <NumberControl label={say('Rim softness')} {...vignette.number('softness', 0.6, 100)} min={2} max={100} step={1} unit="%" />
      <NumberControl label={say('Roundness')} {...vignette.number('roundness', 1, 100)} min={0} max={100} step={1} unit="%" />
      <NumberControl label={say('Width')} {...vignette.number('width', 1, 100)} min={10} max={250} step={1} unit="%" />
      <NumberControl label={say('Height')} {...vignette.number('height', 1, 100)} min={10} max={250} step={1} unit="%" />
      <NumberControl label={say('Turn')} {...vignette.number('turn', 0)} min={-90} max={90} step={1} unit="°" />
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
      <NumberControl label={label} {...wash.number('strength', 0, 100)} min={0} max={100} step={1} unit="%" />
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
