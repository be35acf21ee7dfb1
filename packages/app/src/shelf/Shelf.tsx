import { useQuery } from '@tanstack/react-query';
import { useLiveQuery } from 'dexie-react-hooks';
import { clsx } from 'clsx';
import { Trash2 } from 'lucide-react';
import { lazy, Suspense, useEffect, useRef, useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { useNavigate } from 'react-router';
import type { ClipOffer } from '../data/clips';
import { demos } from '../data/demos';
import { aboutQuick, quickJobs, type QuickJob } from '../data/quickJobs';
import { store, type KeptJob } from '../data/store';
import { Button } from '../ui/Button';
import { usePasted } from '../ui/pasted';
import { refuse } from '../ui/refuse';
import { BlobImage } from './BlobImage';
import { LanguagePicker } from '../words/LanguagePicker';
import { figured, say, told } from '../words/say';

// They come when they are wanted: the shelf is there sooner.
const ClipOfferDialog = lazy(async () => ({ default: (await import('./ClipOfferDialog')).ClipOfferDialog }));
const Library = lazy(async () => ({ default: (await import('./Library')).Library }));

/** The start page: all jobs kept in this browser, the demo jobs, and the ways to begin a new one. */
export function Shelf() {
  const jobs = useLiveQuery(() => store.jobs.orderBy('changed').reverse().toArray());
  const navigate = useNavigate();
  const [busy, setBusy] = useState('');
  const [library, setLibrary] = useState(false);
  const [offer, setOffer] = useState<ClipOffer>();
  useEffect(() => {
    document.title = say('Shelf · Ritaglio');
  }, []);

  const open = async (what: string, work: () => Promise<string>): Promise<void> => {
    setBusy(what);
    try {
      await navigate(`/job/${await work()}/matte`);
    } catch (error) {
      refuse(error);
    } finally {
      setBusy('');
    }
  };

  /** The common job whose photo is being chosen. */
  const wanted = useRef<QuickJob>(undefined);
  const begin = async (files: File[]): Promise<void> => {
    if (files.length === 0) return;
    setBusy(files[0].name);
    try {
      const found = await (await clipsOf()).offerOf(files);
      if (found) setOffer(found);
      else await openLoose(files, wanted.current);
      wanted.current = undefined;
    } catch (error) {
      refuse(error);
    } finally {
      setBusy('');
    }
  };
  /** The first is the shot, the others are among the job's pictures. */
  const openLoose = (files: File[], quick?: QuickJob): Promise<void> =>
    open(files[0].name, async () => {
      const { openFile, addFiles } = await jobsOf();
      const id = await openFile(files[0], quick);
      await addFiles(id, files.slice(1));
      return id;
    });

  usePasted((files) => void begin(files));
  useEffect(() => {
    // Files that the system opens with the installed application.
    const queue = (window as { launchQueue?: { setConsumer: (take: (what: { files: FileSystemFileHandle[] }) => void) => void } })
      .launchQueue;
    queue?.setConsumer(({ files }) => void Promise.all(files.map((f) => f.getFile())).then(begin, refuse));
    // Whoever takes them knows all that it needs from the first drawing on.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);

  const drop = useDropzone({
    noClick: true,
    onDrop: (files) => void begin(files),
  });

  const { data: room } = useQuery({ queryKey: ['room', jobs?.length], queryFn: roomLeft, staleTime: 0 });
  const waiting = jobs ? demos.filter((d) => !jobs.some((j) => j.demo === d)) : [];
  return (
    <main>
      <div {...drop.getRootProps({ tabIndex: undefined })} className="min-h-full">
        <header className="flex flex-wrap items-end justify-between gap-2 border-b border-rule px-8 pt-7 pb-5 max-[900px]:px-4 max-[900px]:pt-4">
          <div>
            <h1 className="text-3xl font-extrabold tracking-tight">{say('Ritaglio')}</h1>
            <p className="mt-1 text-base text-faint">{say('Cut out, make the plate, blur like a lens, and measure what does not fit.')}</p>
          </div>
          <div className="flex items-end gap-4">
            <LanguagePicker />
            <p className="font-mono text-xs text-faint">
              {jobs
                ? say('{length} {length, plural, one {job} other {jobs}} kept in this browser', { length: jobs.length })
                : say('reading the shelf')}
              {room && <span className="block text-right">{room}</span>}
            </p>
          </div>
        </header>
        <section
          aria-label={say('Begin')}
          className={clsx(
            'mx-8 mt-6 border border-dashed border-faint px-6 py-5 max-[900px]:mx-4 max-[900px]:mt-4 max-[900px]:px-4',
            drop.isDragActive ? 'bg-sheet' : 'bg-paper',
          )}
        >
          <input {...drop.getInputProps({ 'aria-label': say('Photo or job to open') })} />
          <div className="flex flex-wrap items-center gap-3">
            <p className="grow text-base">
              <strong>{say('Drop a photo here')}</strong>
              {say(
                ', or paste one, to begin a job: JPEG, PNG, WebP, AVIF, TIFF, BMP, GIF. A video, numbered frames, or a job saved as one file will do as well.',
              )}
            </p>
            <Button
              strong
              onClick={() => {
                wanted.current = undefined;
                drop.open();
              }}
            >
              {say('Choose a file')}
            </Button>
            <Button onClick={() => setLibrary(true)}>{say('Picture library')}</Button>
          </div>
          <ul className="mt-4 grid grid-cols-3 gap-3 max-[700px]:grid-cols-1" aria-label={say('Common jobs')}>
            {quickJobs.map((quick) => (
              <li key={quick}>
                <button
                  type="button"
                  className="h-full w-full border border-ink bg-card px-3 py-2 text-left hover:bg-sheet"
                  onClick={() => {
                    wanted.current = quick;
                    drop.open();
                  }}
                >
                  <span className="block text-base font-semibold">{aboutQuick[quick].name}</span>
                  <span className="text-faint">{aboutQuick[quick].says}</span>
                </button>
              </li>
            ))}
          </ul>
          {busy && (
            <p role="status" className="mt-2 font-mono text-xs">
              {say('Opening {busy} …', { busy })}
            </p>
          )}
        </section>
        <section aria-label={say('Jobs')} className="px-8 pt-7 max-[900px]:px-4">
          <ul className="grid grid-cols-[repeat(auto-fill,minmax(15rem,1fr))] gap-x-6 gap-y-7 pb-6">
            {jobs?.map((job) => (
              <JobPrint key={job.id} job={job} onOpen={() => void navigate(`/job/${job.id}/matte`)} />
            ))}
            {waiting.map((d) => (
              <DemoPrint key={d} demo={d} onOpen={() => void open(say('the demo job'), async () => (await jobsOf()).openDemo(d))} />
            ))}
          </ul>
          <p className="pb-5 text-xs text-faint">
            <a href="/notices.html" className="underline">
              {say('What others made that is part of it')}
            </a>
          </p>
        </section>
        <Suspense>
          {offer && (
            <ClipOfferDialog
              offer={offer}
              onClose={() => setOffer(undefined)}
              onClip={(rate) => {
                setOffer(undefined);
                void open(offer.name, async () => (await clipsOf()).openClip(offer, rate));
              }}
              {...(!offer.video && {
                onLoose: () => {
                  setOffer(undefined);
                  void openLoose(offer.files);
                },
              })}
            />
          )}
          {library && (
            <Library
              title={say('Begin with a picture of the library')}
              onClose={() => setLibrary(false)}
              onPick={(file) => {
                setLibrary(false);
                void open(file.name, async () => (await jobsOf()).openFile(file));
              }}
            />
          )}
        </Suspense>
      </div>
    </main>
  );
}

/** How much is kept and how much there is room for, and whether the browser may clear it. */
async function roomLeft(): Promise<string> {
  const { usage, quota } = (await navigator.storage?.estimate?.()) ?? {};
  if (usage === undefined || quota === undefined) return '';
  const size = (bytes: number): string => (bytes < 1e9 ? `${Math.max(1, Math.round(bytes / 1e6))} MB` : `${figured(bytes / 1e9, 1)} GB`);
  const forGood = await navigator.storage.persisted?.();
  return say('{size} used, room for {size2}{thing}', {
    size: size(usage),
    size2: size(quota - usage),
    thing: forGood ? say(', kept for good') : '',
  });
}

/** What reads pictures and jobs comes when something is opened. */
const jobsOf = () => import('../data/jobs');
const clipsOf = () => import('../data/clips');

const printClass = 'cut-corner block aspect-[3/2] w-full object-cover';

function JobPrint({ job, onOpen }: { job: KeptJob; onOpen: () => void }) {
  const [sure, setSure] = useState(false);
  return (
    <li>
      <button type="button" className="block w-full text-left" onClick={onOpen} aria-label={say('Open {name}', { name: job.name })}>
        <div className="relative">
          {job.after ? <BlobImage blob={job.after} className={printClass} /> : <div className={clsx(printClass, 'hatch')} />}
          {job.before && (
            <div className="absolute inset-y-0 left-0 w-1/2 overflow-hidden border-r border-white">
              <BlobImage blob={job.before} className="h-full w-[200%] max-w-none object-cover" />
            </div>
          )}
        </div>
      </button>
      <div className="mt-2 flex items-baseline justify-between gap-2">
        <span className="min-w-0 grow truncate text-base font-semibold">{job.name}</span>
        <time className="font-mono text-xs whitespace-nowrap text-faint">
          {new Date(job.changed).toISOString().slice(0, 16).replace('T', ' ')}
        </time>
        {sure ? (
          <span className="flex gap-1">
            <Button
              onClick={() =>
                void jobsOf()
                  .then(({ removeJob }) => removeJob(job.id))
                  .catch(refuse)
              }
            >
              {say('Remove')}
            </Button>
            <Button onClick={() => setSure(false)}>{say('Keep')}</Button>
          </span>
        ) : (
          <button type="button" aria-label={say('Remove {name}', { name: job.name })} onClick={() => setSure(true)} className="p-0.5">
            <Trash2 size={14} />
          </button>
        )}
      </div>
    </li>
  );
}

function DemoPrint({ demo, onOpen }: { demo: string; onOpen: () => void }) {
  const { data } = useQuery({
    queryKey: ['demo', demo],
    queryFn: async () => (await (await fetch(`/demo/jobs/${demo}.json`)).json()) as { about: string; recipe: { name: string } },
  });
  const name = data?.recipe.name ?? demo;
  return (
    <li>
      <button type="button" className="block w-full text-left" onClick={onOpen} aria-label={say('Open the demo job {name}', { name })}>
        <img src={`/demo/prints/job-${demo}.jpg`} alt="" className={printClass} />
        <div className="mt-2 flex items-baseline justify-between gap-2">
          <span className="text-base font-semibold">{name}</span>
          <span className="font-mono text-xs text-faint">{say('demo job')}</span>
        </div>
        <p className="text-faint">{data && told(data.about)}</p>
      </button>
    </li>
  );
}
