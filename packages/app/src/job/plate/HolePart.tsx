import { useState } from 'react';
import { toast } from 'sonner';
import { Button } from '../../ui/Button';
import { Choice, Part } from '../../ui/controls';
import { refuse } from '../../ui/refuse';
import { renderer } from '../../worker/renderer';
import { useOpenJob, useProductsOfJob } from '../jobContext';
import { ParameterControl } from '../ParameterControl';
import { TipControl } from '../matte/MarksTool';
import { momentNow } from '../moments';
import { useView, useViewOf, type PlateTool, type Way } from '../viewStore';
import type { Plate } from './plateTools';
import { usePlate } from './usePlate';
import { workingScale } from '../workingSide';
import { figured, say } from '../../words/say';

/** What of the shot is invented. */
export function HolePart() {
  const { plate, change, show } = usePlate();
  const { figures, resume } = useProductsOfJob();
  const { store } = useOpenJob();
  const tool = useView((s) => s.plateTool);
  const [busy, setBusy] = useState(false);
  const measured = figures.plate;
  const suggested = measured?.suggested ?? 0;
  const { grow, feather, regions } = plate;

  const offerShadow = async (): Promise<void> => {
    setBusy(true);
    try {
      const { recipe } = store.getState();
      const now = momentNow(recipe);
      const found = await renderer().findShadow(now, workingScale(now), useView.getState().subject);
      if (found.length === 0) toast(say('No shadow stands out beside the subject. Draw it with “Add” if there is one.'));
      else change({ regions: [...regions, ...found.map((region) => ({ how: 'add' as const, region }))] as Plate['regions'] });
    } catch (error) {
      refuse(error);
    } finally {
      setBusy(false);
    }
    resume();
  };

  return (
    <Part title="Hole" figure={measured ? say('{hole} % of the shot', { hole: figured(100 * measured.hole, 1) }) : undefined}>
      <ParameterControl
        param="plate.grow"
        value={grow === 'auto' ? suggested : grow}
        normal={suggested}
        onPreview={(v) => show({ grow: v })}
        onCommit={(v) => change({ grow: v })}
      />
      <ParameterControl
        param="plate.feather"
        value={feather}
        onPreview={(v) => show({ feather: v })}
        onCommit={(v) => change({ feather: v })}
      />
      {measured && (
        <p className="mt-1.5 text-faint">
          {say('{thing}: {suggested} px; the edge is {softness} px soft{thing2}.{thing3}', {
            thing: grow === 'auto' ? say('Proposed') : say('Proposal'),
            suggested: figured(suggested, 1),
            softness: figured(measured.softness, 1),
            thing2:
              measured.contaminated > 0
                ? say(', and smeared for {contaminated} px beyond', { contaminated: figured(measured.contaminated, 0) })
                : '',
            thing3: grow === 'auto' ? say(' Strands and missed parts are in it as well.') : '',
          })}
        </p>
      )}
      <div className="mt-2 flex flex-wrap items-center gap-1.5">
        <Choice<PlateTool>
          label={say('Change the hole')}
          value={tool}
          options={[
            { value: 'look', label: say('Look') },
            { value: 'add', label: say('Add') },
            { value: 'take', label: say('Take away') },
          ]}
          onChange={takeTool}
        />
        {regions.length > 0 && <Button onClick={() => change({ regions: regions.slice(0, -1) })}>{say('Last off')}</Button>}
      </div>
      {(tool === 'add' || tool === 'take') && <RegionWay />}
      <div className="mt-2 flex flex-wrap gap-1.5">
        <Button disabled={busy} onClick={() => void offerShadow()}>
          {busy ? say('Looking …') : say('Find the shadow')}
        </Button>
        {grow !== 'auto' && <Button onClick={() => change({ grow: 'auto' })}>{say('Take the proposal')}</Button>}
      </div>
    </Part>
  );
}

/** Takes up a tool on the plate, where it can be seen. */
export function takeTool(plateTool: PlateTool): void {
  const { way } = useView.getState();
  useView.setState({
    plateTool,
    picture: 'plate',
    compare: 'whole',
    chosen: undefined,
    way: plateTool === 'retouch' ? 'stroke' : way === 'change' ? 'outline' : way,
  });
}

/** How a region is drawn. */
export function RegionWay() {
  const { way, tip, set } = useViewOf('way', 'tip', 'set');
  return (
    <div className="mt-1.5">
      <Choice<Way>
        label={say('How the region is drawn')}
        value={way}
        options={[
          { value: 'stroke', label: say('Stroke') },
          { value: 'outline', label: say('Around') },
          { value: 'polygon', label: say('Corners') },
        ]}
        onChange={(w) => set({ way: w })}
      />
      {way === 'stroke' && <TipControl tip={tip} onChange={(v) => set({ tip: v })} />}
      {way === 'polygon' && <p className="mt-1.5 text-faint">{say('Press for each corner; the first one again, or Enter, closes.')}</p>}
    </div>
  );
}
