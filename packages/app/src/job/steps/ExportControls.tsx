import type { CodeSpace } from '@ritaglio/core';
import * as Comlink from 'comlink';
import { useEffect, useMemo, useState } from 'react';
import { withArchives } from '../../data/archives';
import { archiveOf } from '../../data/jobs';
import { Button } from '../../ui/Button';
import { Choice, Part, Tick } from '../../ui/controls';
import { refuse } from '../../ui/refuse';
import { fileNameOf, save } from '../../ui/save';
import type { ExportOptions } from '../../worker/protocol';
import { renderer, whileAlive } from '../../worker/renderer';
import { momentNow } from '../moments';
import { ClipExportPart } from './ClipExportPart';
import { useChange, useOpenJob, useProductsOfJob, useRecipe } from '../jobContext';
import { SeriesPart } from './SeriesPart';
import { QualityAndSize } from './QualityAndSize';
import { figured, say, told, word } from '../../words/say';

/** What can be written: its name, what it is for, its ending, its type. */
const kinds: Record<ExportOptions['format'], { label: string; says: string; ending: string; type: string }> = {
  png: { get label() { return say('PNG'); }, get says() { return say('For everyone. 8 bits, nothing lost.'); }, ending: 'png', type: 'image/png' },
  png16: { get label() { return say('PNG 16'); }, get says() { return say('16 bits, for grading on.'); }, ending: 'png', type: 'image/png' },
  jpeg: { get label() { return say('JPEG'); }, get says() { return say('For everyone, smaller.'); }, ending: 'jpg', type: 'image/jpeg' },
  webp: { get label() { return say('WebP'); }, get says() { return say('For the web, smaller still.'); }, ending: 'webp', type: 'image/webp' },
  tiff16: { get label() { return say('TIFF 16'); }, get says() { return say('16 bits, for printers.'); }, ending: 'tif', type: 'image/tiff' },
  ora: { get label() { return say('OpenRaster'); }, get says() { return say('A layer a card, after lens and grade, for any program that reads the open layered format.'); }, ending: 'ora', type: 'image/openraster' },
  exr: { get label() { return say('OpenEXR'); }, get says() { return say('Linear light in half floats, before the finish: the whole, subject, plate, matte and distance as named channels.'); }, ending: 'exr', type: 'image/x-exr' },
  clf: { get label() { return say('CLF'); }, get says() { return say('The grade of the whole as a table of 33³ (Common LUT Format), from and to sRGB.'); }, ending: 'clf', type: 'application/xml' },
}; // prettier-ignore

/** Writing the finished picture and the job. */
export function ExportControls() {
  const { id, store } = useOpenJob();
  const { commit } = useChange();
  const recipe = useRecipe();
  const { resume, figures } = useProductsOfJob();
  const [options, setOptions] = useState<ExportOptions>({ format: 'png', quality: 92, scale: 1 });
  const [progress, setProgress] = useState<{ what: string; fraction: number }>();
  const [done, setDone] = useState('');
  const [smaller, setSmaller] = useState(false);
  /** What was written last, to be dragged to where it is wanted. */
  const [last, setLast] = useState<{ name: string; blob: Blob }>();
  const size = [recipe.frame.width, recipe.frame.height].map((v) => Math.max(1, Math.round(v * options.scale)));
  const fileName = fileNameOf(recipe.name);

  /** The finished picture as a file's bytes; nothing when it was cancelled. */
  const made = (wanted: ExportOptions): Promise<Uint8Array | undefined> =>
    whileAlive(
      renderer().exportPicture(
        momentNow(store.getState().recipe),
        wanted,
        Comlink.proxy((what, fraction) => setProgress({ what, fraction })),
      ),
    );

  const during = async (work: () => Promise<string>): Promise<void> => {
    setDone('');
    setProgress({ what: say('Beginning'), fraction: 0 });
    try {
      setDone(await work());
    } catch (error) {
      refuse(error);
    } finally {
      setProgress(undefined);
      resume();
    }
  };

  // Layers, light and grades have spaces of their own.
  const plain = !['ora', 'exr', 'clf'].includes(options.format);
  const cancelled = say('Export cancelled; nothing was written.');
  const write = (): Promise<void> =>
    during(async () => {
      const { ending, type } = kinds[options.format];
      const files: Record<string, Uint8Array> = {};
      for (const share of smaller ? [1, 0.5, 0.25] : [1]) {
        const bytes = await made({ ...options, scale: options.scale * share });
        if (!bytes) return cancelled;
        // Files of several sizes are told apart by their longest side.
        const side = Math.round(Math.max(recipe.frame.width, recipe.frame.height) * options.scale * share);
        files[`${fileName}${smaller ? ` ${side}` : ''}.${ending}`] = bytes;
      }
      // Several leave in one: a browser asks before it takes a second file for one press.
      const [[only, bytes]] = Object.entries(files);
      const name = smaller ? `${fileName} sizes.zip` : only;
      const blob = smaller ? await withArchives((archives) => archives.zip(files)) : new Blob([bytes as Uint8Array<ArrayBuffer>], { type });
      save(name, blob);
      setLast({ name, blob });
      return say('Written: {name}, {size} MB', { name, size: figured(blob.size / 1e6, 1) });
    });

  const copy = (): Promise<void> =>
    during(async () => {
      const bytes = await made({ ...options, format: 'png' });
      if (!bytes) return cancelled;
      await navigator.clipboard.write([
        new ClipboardItem({ 'image/png': new Blob([bytes as Uint8Array<ArrayBuffer>], { type: 'image/png' }) }),
      ]);
      return say('Copied: {size} × {size2} px, to be pasted where you like.', { size: size[0], size2: size[1] });
    });

  return (
    <>
      <ClipExportPart fileName={fileName} />
      <Part title={recipe.time ? word('This frame') : word('Picture')} figure={`${size[0]} × ${size[1]}`}>
        <Choice<ExportOptions['format']>
          label={say('Format')}
          value={options.format}
          options={Object.entries(kinds).map(([value, { label }]) => ({ value: value as ExportOptions['format'], label }))}
          onChange={(format) => setOptions({ ...options, format })}
        />
        <p className="mt-1.5 text-faint">{kinds[options.format].says}</p>
        {plain && (
          <div className="mt-1.5 flex items-center justify-between gap-2">
            {say('Colours')}
            <Choice<CodeSpace>
              label={say('Colours')}
              value={options.space ?? 'srgb'}
              options={[
                { value: 'srgb', label: 'sRGB' },
                { value: 'display-p3', label: 'Display P3' },
              ]}
              onChange={(space) => setOptions({ ...options, space })}
            />
          </div>
        )}
        {plain && figures.wide && (options.space ?? 'srgb') === 'srgb' && (
          <p className="text-faint">{say('There are colours that sRGB does not have: Display P3 keeps them.')}</p>
        )}
        <QualityAndSize
          options={options}
          normal={92}
          lossless={options.format !== 'jpeg' && options.format !== 'webp'}
          onChange={setOptions}
        />
        <div className="mt-3 flex flex-wrap items-center gap-2">
          <Button strong disabled={progress !== undefined} onClick={() => void write()}>
            {say('Export picture')}
          </Button>
          <Button disabled={progress !== undefined} onClick={() => void copy()}>
            {say('Copy it')}
          </Button>
          {progress && <Button onClick={() => void renderer().cancelExport()}>{say('Cancel')}</Button>}
        </div>
        <Tick className="mt-2" label={say('Also at a half and a quarter of that size')} on={smaller} onChange={setSmaller} />
        <p role="status" className="mt-2 font-mono text-xs">
          {progress ? `${told(progress.what)}, ${Math.round(100 * progress.fraction)} %` : done}
        </p>
        {last && <DragOut {...last} />}
      </Part>
      <SeriesPart options={options} ending={kinds[options.format].ending} />
      <Part title="Job">
        <label className="flex items-center gap-2">
          <span className="text-faint">{say('Name')}</span>
          <input
            key={recipe.name}
            defaultValue={recipe.name}
            maxLength={200}
            className="grow border-b border-faint bg-transparent"
            onBlur={(e) => {
              const name = e.currentTarget.value.trim();
              if (name) commit((r) => ({ ...r, name }));
            }}
            onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
          />
        </label>
        <Button
          className="mt-2"
          onClick={() =>
            void archiveOf(store.getState().recipe, id)
              .then((blob) => save(`${fileName}.zip`, blob))
              .catch(refuse)
          }
        >
          {say('Save the job as one file')}
        </Button>
        <p className="mt-1.5 text-faint">{say('The recipe and the untouched originals. Drop it on any shelf to go on there.')}</p>
      </Part>
    </>
  );
}

/** The file that was written last, to be dragged out of the window. */
function DragOut({ name, blob }: { name: string; blob: Blob }) {
  const url = useMemo(() => URL.createObjectURL(blob), [blob]);
  useEffect(() => () => URL.revokeObjectURL(url), [url]);
  return (
    <a
      href={url}
      download={name}
      draggable
      className="mt-2 flex cursor-grab items-center border border-dashed border-faint bg-paper px-2 py-1"
      onDragStart={(e) => {
        e.dataTransfer.effectAllowed = 'copy';
        e.dataTransfer.setData('DownloadURL', `${blob.type}:${name}:${url}`);
      }}
    >
      {say('Drag {name} from here to where it is wanted', { name })}
    </a>
  );
}
