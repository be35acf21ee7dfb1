import { Redo2, Search, Undo2 } from 'lucide-react';
import { useCallback } from 'react';
import { aboutQuick, isNeeded } from '../data/quickJobs';
import { store as kept } from '../data/store';
import { Button } from '../ui/Button';
import { ShownParts } from '../ui/controls';
import { refuse } from '../ui/refuse';
import { NextThing } from './NextThing';
import { useStore } from 'zustand';
import { Picker } from '../ui/Picker';
import { useOpenJob, useOpenSubject, useRecipe } from './jobContext';
import { about, type Step } from './steps';
import { ExportControls } from './steps/ExportControls';
import { LensControls } from './steps/LensControls';
import { MatchControls } from './steps/MatchControls';
import { MatteControls } from './steps/MatteControls';
import { PicturesControls } from './steps/PicturesControls';
import { PlateControls } from './steps/PlateControls';
import { ProofControls } from './steps/ProofControls';
import { StageControls } from './steps/StageControls';
import { useView } from './viewStore';
import { say } from '../words/say';

const controls: Record<Step, () => React.ReactNode> = {
  pictures: PicturesControls,
  matte: MatteControls,
  plate: PlateControls,
  stage: StageControls,
  lens: LensControls,
  match: MatchControls,
  proof: ProofControls,
  export: ExportControls,
};

/** The controls of the open step, under its one sentence. */
export function Controls({ step }: { step: Step }) {
  const Open = controls[step];
  const quick = useView((s) => s.quick);
  const { id } = useOpenJob();
  const shown = useCallback((title: string) => isNeeded(title, quick), [quick]);
  const all = (): void => {
    useView.setState({ quick: undefined });
    void kept.jobs.update(id, { quick: undefined }).catch(refuse);
  };
  return (
    <>
      <div className="border-b border-rule px-4 pt-3 pb-2.5">
        <div className="flex items-center justify-between">
          <h1 className="text-lg font-bold">{about[step].name}</h1>
          <History />
        </div>
        <p className="text-faint">{about[step].purpose}</p>
        {(step === 'matte' || step === 'plate') && <WhichSubject />}
      </div>
      <NextThing step={step} />
      <ShownParts value={shown}>
        <Open />
      </ShownParts>
      {quick && (
        <div className="px-4 py-3">
          <p className="mb-1.5 text-faint">{say('Only what “{name}” needs is shown.', { name: aboutQuick[quick].name.toLowerCase() })}</p>
          <Button onClick={() => all()}>{say('All controls')}</Button>
        </div>
      )}
    </>
  );
}

/** Which of several subjects is worked on. */
function WhichSubject() {
  const recipe = useRecipe();
  const open = useOpenSubject();
  const set = useView((s) => s.set);
  if (recipe.subjects.length < 2) return null;
  const nameFor = (id: string, i: number): string =>
    recipe.cards.find((c) => c.kind === 'subject' && c.subject === id && c.name)?.name ?? say('Subject {i}', { i: i + 1 });
  return (
    <div className="mt-1.5 flex items-center gap-2">
      <span className="text-faint">{say('of')}</span>
      <Picker
        label={say('Which subject')}
        value={open.id}
        options={recipe.subjects.map((s, i) => ({ value: s.id, label: nameFor(s.id, i) }))}
        onChange={(subject) => set({ subject, chosen: undefined, proposals: undefined, place: 0, look: undefined })}
      />
    </div>
  );
}

function History() {
  const { store } = useOpenJob();
  const past = useStore(store.temporal, (s) => s.pastStates.length);
  const future = useStore(store.temporal, (s) => s.futureStates.length);
  const { undo, redo } = store.temporal.getState();
  const set = useView((s) => s.set);
  const press = 'border border-transparent p-1 enabled:hover:border-ink disabled:text-rule';
  return (
    <span className="flex">
      <button
        type="button"
        className={press}
        aria-label={say('Undo')}
        title={say('Undo (Ctrl Z)')}
        disabled={past === 0}
        onClick={() => undo()}
      >
        <Undo2 size={15} />
      </button>
      <button
        type="button"
        className={press}
        aria-label={say('Redo')}
        title={say('Redo (Ctrl Shift Z)')}
        disabled={future === 0}
        onClick={() => redo()}
      >
        <Redo2 size={15} />
      </button>
      <button
        type="button"
        className={press}
        aria-label={say('Find a control')}
        title={say('Find a control (Ctrl K)')}
        onClick={() => set({ finding: true })}
      >
        <Search size={15} />
      </button>
      <button
        type="button"
        className={`${press} w-6 font-mono text-xs font-semibold`}
        aria-label={say('All keys')}
        title={say('All keys (?)')}
        onClick={() => set({ keys: true })}
      >
        ?
      </button>
    </span>
  );
}
