import { clsx } from 'clsx';
import { useLiveQuery } from 'dexie-react-hooks';
import { useEffect, useState } from 'react';
import { Link, useParams } from 'react-router';
import { store as kept } from '../data/store';
import { Bench } from './bench/Bench';
import { Controls } from './Controls';
import { Evidence } from './evidence/Evidence';
import { FindControl } from './find/FindControl';
import { JobScope } from './JobScope';
import { KeepingStrip } from './KeepingStrip';
import { openJob, type OpenJob } from './jobStore';
import { Keys } from './Keys';
import { PicturePane } from './picture/PicturePane';
import { clipOf, rangeOf } from './moments';
import { endSeries } from './steps/seriesRows';
import { about, isStep, type Step } from './steps';
import { NarrowJob } from './NarrowJob';
import { Pasted } from './steps/PicturesControls';
import { refuse } from '../ui/refuse';
import { HelpLine } from '../ui/HelpLine';
import { PanelEdge, usePanels, type Side } from '../ui/Panels';
import { useNarrow } from '../ui/screen';
import { KeyingContext } from '../ui/keyed';
import { Takes, TakesButton } from './takes/Takes';
import { useKeying } from './tape/useKeying';
import { useProducts } from './useProducts';
import { usePrints } from './usePrints';
import { lookAnew, useView } from './viewStore';
import { WorkLine } from './WorkLine';
import { say } from '../words/say';

/** One job: the work line, the controls of the open step, the picture, the evidence, the bench. */
export function JobPage() {
  const { id = '', step } = useParams();
  const [found, setFound] = useState<{ id: string; job: OpenJob | 'missing' | Error }>();
  const job = found?.id === id ? found.job : undefined;
  useEffect(() => {
    let current = true;
    const opening = openJob(id);
    opening.then(
      (opened) => current && setFound({ id, job: opened ?? 'missing' }),
      (error: unknown) => current && setFound({ id, job: error instanceof Error ? error : new Error(String(error)) }),
    );
    lookAnew();
    // Beside what is opened: until it is known all controls are there.
    void kept.jobs.get(id).then((row) => current && row?.quick && useView.setState({ quick: row.quick }), () => undefined); // prettier-ignore
    return () => {
      current = false;
      opening.then((opened) => opened?.close(), () => undefined); // prettier-ignore
    };
  }, [id]);

  if (job === undefined) return <Message>{say('Opening the job …')}</Message>;
  if (job instanceof Error) {
    return (
      <Message>
        {say('This job could not be read: {message}. It is still kept; try again, or free space on this computer.', {
          message: job.message,
        })}{' '}
        <Link to="/" className="underline">
          {say('To the shelf')}
        </Link>
      </Message>
    );
  }
  if (job === 'missing' || !isStep(step)) {
    return (
      <Message>
        {job === 'missing'
          ? say('There is no such job in this browser. It may have been removed, or it was made elsewhere.')
          : say('There is no such step.')}{' '}
        <Link to={job === 'missing' ? '/' : `/job/${id}/matte`} className="underline">
          {job === 'missing' ? say('To the shelf') : say('To the matte')}
        </Link>
      </Message>
    );
  }
  return <OpenJobPage key={job.id} job={job} step={step} />;
}

function Message({ children }: { children: React.ReactNode }) {
  return <main className="p-10 text-base">{children}</main>;
}

function OpenJobPage({ job, step }: { job: OpenJob; step: Step }) {
  const products = useProducts(job, step);
  const name = useLiveQuery(async () => (await kept.jobs.get(job.id))?.name, [job.id]);
  const keying = useKeying(job.store);
  useEffect(() => {
    // A clip is opened where its subject is marked most.
    const { recipe } = job.store.getState();
    const [{ shot, marks }] = recipe.subjects;
    const marked = clipOf(recipe, shot) ? marks.map((m) => m.frame ?? 0) : [];
    const often = (f: number): number => marked.filter((m) => m === f).length;
    useView.setState({ frame: marked.length > 0 ? marked.reduce((a, b) => (often(b) > often(a) ? b : a)) : rangeOf(recipe).first });
  }, [job]);
  usePrints(job, products);
  useEffect(() => () => void endSeries(job).catch(refuse), [job]);
  useEffect(() => {
    document.title = `${about[step].name} · ${name ?? say('Ritaglio')}`;
  }, [step, name]);
  useEffect(() => {
    useView.setState({
      picture: about[step].picture,
      against: 'shot',
      place: 0,
      chosen: undefined,
      plateTool: 'look',
      benchTool: step === 'stage' ? 'cards' : 'look',
    });
  }, [step]);
  const narrow = useNarrow();
  const panels = usePanels();
  const withBench = step === 'stage' || step === 'lens' || step === 'match';
  return (
    <JobScope job={job} products={products}>
      <KeyingContext value={keying}>
        <div className="flex h-full flex-col">
          <Keys jobId={job.id} step={step} />
          <FindControl jobId={job.id} />
          <Takes />
          <Pasted />
          <KeepingStrip />
          {narrow ? (
            <NarrowJob jobId={job.id} step={step} name={name} withBench={withBench} />
          ) : (
            <div
              style={panels.style}
              className="grid min-h-0 grow grid-cols-[var(--left,284px)_minmax(0,1fr)_var(--right,252px)] grid-rows-[92px_minmax(0,1fr)_auto] overflow-hidden min-[1600px]:grid-cols-[var(--left,340px)_minmax(0,1fr)_var(--right,320px)]"
            >
              {/* The way to the shelf stays when the controls are folded away. */}
              <div className="col-span-3 grid min-w-0 grid-rows-[92px] grid-cols-[max(180px,var(--left,284px))_minmax(0,1fr)] min-[1600px]:grid-cols-[max(180px,var(--left,340px))_minmax(0,1fr)]">
                <header className="min-w-0 overflow-hidden border-r border-b border-rule px-4 py-3">
                  <Link to="/" className="text-xl font-extrabold tracking-tight" title={say('Back to the shelf')}>
                    {say('Ritaglio')}
                  </Link>
                  <div className="mt-2 flex items-baseline justify-between gap-2">
                    <p className="truncate text-faint">{name}</p>
                    <TakesButton />
                  </div>
                </header>
                <WorkLine step={step} jobId={job.id} />
              </div>
              <Panel side="left" panels={panels} label={say('Controls: {name}', { name: about[step].name })} foot={<HelpLine />}>
                <Controls step={step} />
              </Panel>
              <PicturePane step={step} />
              <Panel side="right" panels={panels} label={say('Evidence')}>
                <Evidence step={step} />
              </Panel>
              <Bench open={withBench} />
            </div>
          )}
        </div>
      </KeyingContext>
    </JobScope>
  );
}

/** What stands beside the picture, as wide as somebody likes it. */
function Panel(props: {
  side: Side;
  panels: ReturnType<typeof usePanels>;
  label: string;
  /** What stays in sight below. */
  foot?: React.ReactNode;
  children: React.ReactNode;
}) {
  const { side, panels, label, foot, children } = props;
  const width = panels.widths[side];
  return (
    <aside className="relative min-h-0 min-w-0" aria-label={label}>
      <div className={clsx('flex h-full flex-col border-rule', side === 'left' ? 'border-r' : 'border-l', width === 0 && 'invisible')}>
        <div className="min-h-0 grow overflow-y-auto">{children}</div>
        {foot}
      </div>
      <PanelEdge side={side} width={width} onChange={(to) => panels.change(side, to)} />
    </aside>
  );
}
