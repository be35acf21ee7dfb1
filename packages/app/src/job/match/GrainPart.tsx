import { Button } from '../../ui/Button';
import { Figures, Fold, Tick } from '../../ui/controls';
import { useProductsOfJob } from '../jobContext';
import { ParameterControl } from '../ParameterControl';
import { useEdit } from '../useEdit';
import { useView } from '../viewStore';
import { Without } from './hold';
import { ofFinish, without } from './parts';
import { figured, say } from '../../words/say';

/** Grain where it is missing, more of it over all, and steps in what should be smooth. */
export function GrainPart() {
  const { sides } = useProductsOfJob().figures;
  const grain = useEdit(ofFinish('grain'));
  const whole = useEdit({ of: 'finish', read: (r) => r.finish, write: (r, finish) => ({ ...r, finish }) });
  const set = useView((s) => s.set);
  const shot = sides?.subject.grain;
  const banding = sides?.banding;
  const banded = (banding?.share ?? 0) > 0.005;
  const first = banding?.places[0];
  return (
    <Fold
      title="Grain, banding"
      figure={shot ? `${figured(shot.level, 2)} L*` : undefined}
      beside={<Without name={say('grain')} undone={without.grain} />}
    >
      <ParameterControl {...grain.number('back', 'grain.back')} />
      <ParameterControl {...grain.number('over', 'grain.over')} />
      {grain.value.over > 0 && <ParameterControl {...grain.number('size', 'grain.size')} />}
      <div className="mt-1.5">
        <Figures
          rows={[
            {
              name: say('In the shot'),
              figure: shot ? `${figured(shot.level, 2)} L*, ${figured(shot.size, 2)} px` : say('too busy to tell'),
            },
            { name: say('What is behind, now'), figure: sides?.background.grain ? `${figured(sides.background.grain.level, 2)} L*` : '–' },
            {
              name: say('Banding'),
              figure: banding ? `${figured(100 * banding.share, 1)} %` : '–',
              ...(banding && { state: banded ? ('watch' as const) : ('fine' as const) }),
            },
          ]}
        />
      </div>
      <div className="mt-1.5 flex items-center gap-1.5">
        {first && (
          <Button onClick={() => set({ look: { zoom: 1, x: first.x + first.width / 2, y: first.y + first.height / 2 }, compare: 'whole' })}>
            {say('Go to it')}
          </Button>
        )}
        <Tick label={say('Dissolve steps')} on={whole.value.dither} onChange={(dither) => whole.commit({ dither })} />
      </div>
    </Fold>
  );
}
