import type { Cut } from '@ritaglio/core';
import { Button } from '../../ui/Button';
import { Choice, Part } from '../../ui/controls';
import { useProductsOfJob } from '../jobContext';
import { ParameterControl } from '../ParameterControl';
import { EmptySceneOffer } from '../EmptyScene';
import { PicturePicker } from '../PicturePicker';
import { useView } from '../viewStore';
import { useSubject } from './useSubject';
import { figured, say, told } from '../../words/say';

/** What the subject is told from its background by. */
export function CutPart() {
  const { subject, change } = useSubject();
  const { matte } = useProductsOfJob().figures;
  return (
    <Part
      title="Cut by"
      figure={
        subject.cut === 'difference' && matte?.fits !== undefined ? say('{fits} % fits', { fits: figured(100 * matte.fits, 0) }) : undefined
      }
    >
      <Choice<Cut>
        label={say('Cut by')}
        value={subject.cut}
        options={[
          { value: 'marks', label: say('Marks') },
          { value: 'screen', label: say('Screen') },
          { value: 'difference', label: say('Difference') },
        ]}
        onChange={(cut) => change({ cut })}
      />
      {subject.cut === 'screen' && <Screen />}
      {subject.cut === 'difference' && <Difference />}
      {matte?.note && <p className="mt-2 text-watch">{told(matte.note)}</p>}
    </Part>
  );
}

function Screen() {
  const { subject, change, show } = useSubject();
  const { matte } = useProductsOfJob().figures;
  const tool = useView((s) => s.tool);
  const set = useView((s) => s.set);
  const { screen } = subject;
  const colour = screen.colour === 'auto' ? matte?.screen : screen.colour;
  const part = (key: 'clear' | 'opaque' | 'spill') => ({
    param: `screen.${key}` as const,
    value: screen[key],
    onPreview: (v: number) => show({ screen: { ...screen, [key]: v } }),
    onCommit: (v: number) => change({ screen: { ...screen, [key]: v } }),
  });
  return (
    <>
      <div className="mt-2 flex items-center gap-2">
        <span className="h-5 w-8 border border-ink" style={{ background: colour ?? 'transparent' }} />
        <span className="font-mono text-xs">{colour ?? say('none')}</span>
        <span className="text-faint">{screen.colour === 'auto' ? say('found') : say('picked')}</span>
      </div>
      <div className="mt-2 mb-1 flex gap-1.5">
        <Button
          strong={tool === 'pick'}
          aria-pressed={tool === 'pick'}
          onClick={() => set({ tool: tool === 'pick' ? 'mark' : 'pick', picture: 'shot', compare: 'whole' })}
        >
          {say('Pick in the picture')}
        </Button>
        <Button disabled={screen.colour === 'auto'} onClick={() => change({ screen: { ...screen, colour: 'auto' } })}>
          {say('Find it')}
        </Button>
      </div>
      <ParameterControl {...part('clear')} />
      <ParameterControl {...part('opaque')} />
      <ParameterControl {...part('spill')} />
      <p className="mt-1.5 text-faint">{say('Inside and outside marks hold in and hold out.')}</p>
    </>
  );
}

function Difference() {
  const { subject, change, show } = useSubject();
  const { difference } = subject;
  return (
    <>
      <p className="mt-2 mb-1 text-faint">
        {say(
          'A picture of the same scene without the subject. It is aligned and its exposure matched; inside and outside marks correct it.',
        )}
      </p>
      <PicturePicker
        label={say('Photographed plate')}
        value={difference.plate}
        except={subject.shot}
        onChange={(plate) => change({ difference: { ...difference, plate } })}
      />
      <EmptySceneOffer />
      <ParameterControl
        param="difference.threshold"
        value={difference.threshold}
        onPreview={(threshold) => show({ difference: { ...difference, threshold } })}
        onCommit={(threshold) => change({ difference: { ...difference, threshold } })}
      />
    </>
  );
}
