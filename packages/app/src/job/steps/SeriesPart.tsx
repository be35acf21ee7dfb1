import { picturesOf } from '@ritaglio/core';
import * as Comlink from 'comlink';
import { useEffect, useRef, useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { Link } from 'react-router';
import { useStore } from 'zustand';
import { asJob, doubtfulFirst, doubtOf, seriesShot } from '../../data/series';
import { Button } from '../../ui/Button';
import { Fold } from '../../ui/controls';
import { refuse } from '../../ui/refuse';
import { fileNameOf, save } from '../../ui/save';
import { givePictures } from '../../worker/givePictures';
import type { ExportOptions } from '../../worker/protocol';
import { withArchives } from '../../data/archives';
import { renderer, whileAlive } from '../../worker/renderer';
import { useOpenJob, useProductsOfJob, useRecipe } from '../jobContext';
import { momentNow } from '../moments';
import { workingScale } from '../workingSide';
import { say } from '../../words/say';
import { seriesOf, type SeriesRow } from './seriesRows';

/** Width of a shot's print, px. */
const printWidth = 240;

/** The same background, lens, match and finish over many shots of one set: found, checked, the doubtful first, written with their names. */
export function SeriesPart({ options, ending }: { options: ExportOptions; ending: string }) {
  const job = useOpenJob();
  const { store } = job;
  const recipe = useRecipe();
  const { resume } = useProductsOfJob();
  const series = seriesOf(job);
  const rows = useStore(series, (s) => s.rows);
  const setRows = (to: (old: SeriesRow[]) => SeriesRow[]): void => series.setState((s) => ({ rows: to(s.rows) }));
  const [working, setWorking] = useState<string>();
  const stopped = useRef(false);
  // What is looked at next is worked out in the same thread: what is listed stays, the rest is not begun.
  useEffect(() => () => void (stopped.current = true), []);

  const during = async (work: () => Promise<void>): Promise<void> => {
    stopped.current = false;
    try {
      await work();
    } catch (error) {
      refuse(error);
    } finally {
      setWorking(undefined);
      resume();
    }
  };

  const add = (files: File[]): Promise<void> =>
    during(async () => {
      const look = momentNow(store.getState().recipe);
      await givePictures(look);
      const known = new Set(rows.map((r) => r.picture));
      for (const [i, file] of files.entries()) {
        if (stopped.current) break;
        setWorking(say('{name}, {i} of {length}', { name: file.name, i: i + 1, length: files.length }));
        try {
          const shot = await seriesShot(look, file, {
            find: async (r) => {
              await givePictures(r);
              const [marks] = await whileAlive(renderer().findSubject(r, workingScale(r)));
              return (marks ?? []) as (typeof r.subjects)[number]['marks'];
            },
            checks: async (r) => {
              await givePictures(r);
              return whileAlive(renderer().checks(r, workingScale(r)));
            },
            print: (r) => whileAlive(renderer().finished(r, Math.min(1, printWidth / r.frame.width))),
          });
          series.setState((s) => ({ held: [...s.held, shot.picture] }));
          if (!known.has(shot.picture)) setRows((old) => [...old, shot]);
          known.add(shot.picture);
        } catch (error) {
          // One that cannot be read keeps none of the others; one that was given up is no fault.
          if (!stopped.current) refuse(error);
        }
      }
    });

  const write = (): Promise<void> =>
    during(async () => {
      const files: Record<string, Uint8Array> = {};
      for (const row of rows.filter((r) => r.taken)) {
        if (stopped.current) return;
        setWorking(say('Writing {name}', { name: row.name }));
        const bytes = await whileAlive(
          renderer().exportPicture(
            row.recipe,
            options,
            Comlink.proxy((what) => setWorking(`${row.name}: ${what}`)),
          ),
        );
        if (!bytes) return;
        let name = fileNameOf(row.name);
        for (let n = 2; `${name}.${ending}` in files; n++) name = `${fileNameOf(row.name)} ${n}`;
        files[`${name}.${ending}`] = bytes;
      }
      save(`${fileNameOf(recipe.name)} series.zip`, await withArchives((archives) => archives.zip(files)));
    });

  const change = (picture: string, to: Partial<SeriesRow>): void =>
    setRows((old) => old.map((r) => (r.picture === picture ? { ...r, ...to } : r)));
  const drop = useDropzone({ onDrop: (files) => void add(files), disabled: working !== undefined });
  const taken = rows.filter((r) => r.taken).length;
  if (recipe.time) return null;
  return (
    <Fold title="A series" figure={rows.length > 0 ? say('{taken} of {length} taken', { taken, length: rows.length }) : undefined}>
      <p className="text-faint">
        {say('This job’s background, lens, match and finish over other shots of the same set. {thing}; the doubtful come first.', {
          thing: recipe.subjects[0].cut === 'marks' ? say('The subject of each is found') : say('Each is cut as this one is'),
        })}
      </p>
      <div
        {...drop.getRootProps({ role: undefined, tabIndex: undefined })}
        className="mt-2 border border-dashed border-faint bg-paper px-3 py-2"
      >
        <input {...drop.getInputProps({ 'aria-label': say('Shots of the series') })} />
        {say('Drop shots or a folder here, or')} <span className="font-semibold underline">{say('choose them')}</span>.
      </div>
      {working && (
        <p role="status" className="mt-1.5 flex items-center gap-2">
          <span className="min-w-0 grow truncate">{working} …</span>
          <Button
            onClick={() => {
              stopped.current = true;
              void renderer().cancel();
              void renderer().cancelExport();
            }}
          >
            {say('Stop')}
          </Button>
        </p>
      )}
      <ul aria-label={say('Shots of the series, the doubtful first')}>
        {doubtfulFirst(rows).map((shot) => {
          const row = shot as SeriesRow;
          const { wrong, look } = doubtOf(row);
          return (
            <li key={row.picture} className="mt-2 grid grid-cols-[5.5rem_1fr] gap-2 border-t border-rule pt-2">
              {row.print ? <Print bitmap={row.print} /> : <span className="hatch block h-15" />}
              <div className="min-w-0">
                <p className="truncate font-semibold">{row.name}</p>
                <p className={row.failed || wrong > 0 ? 'text-hot' : 'text-faint'}>
                  {row.failed ?? say('{wrong} wrong, {look} to look at', { wrong, look })}
                </p>
                <p className="mt-1 flex flex-wrap items-center gap-1.5">
                  <label className="flex items-center gap-1">
                    <input
                      type="checkbox"
                      className="accent-ink"
                      aria-label={say('Take {name}', { name: row.name })}
                      checked={row.taken}
                      disabled={row.failed !== undefined}
                      onChange={(e) => change(row.picture, { taken: e.currentTarget.checked })}
                    />
                    {say('take')}
                  </label>
                  {row.job ? (
                    // Beside this tab, so that the series stays as it is.
                    <Link className="underline" to={`/job/${row.job}/matte`} target="_blank" rel="noreferrer">
                      {say('To its job')}
                    </Link>
                  ) : (
                    <Button onClick={() => void asJob(row, picturesOf(row.recipe)).then((job) => change(row.picture, { job }), refuse)}>
                      {say('Correct it')}
                    </Button>
                  )}
                  <Button
                    aria-label={say('Drop {name}', { name: row.name })}
                    onClick={() => setRows((old) => old.filter((r) => r !== row))}
                  >
                    {say('Drop')}
                  </Button>
                </p>
              </div>
            </li>
          );
        })}
      </ul>
      {rows.length > 0 && (
        <Button strong className="mt-2" disabled={taken === 0 || working !== undefined} onClick={() => void write()}>
          {say('Export those taken')}
        </Button>
      )}
    </Fold>
  );
}

/** A shot's print. */
function Print({ bitmap }: { bitmap: ImageBitmap }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => canvas.current?.getContext('2d')?.drawImage(bitmap, 0, 0), [bitmap]);
  return <canvas ref={canvas} width={bitmap.width} height={bitmap.height} className="block h-15 w-full object-cover" aria-hidden />;
}
