import * as Comlink from 'comlink';
import { useState } from 'react';
import { archiveOf } from '../../data/jobs';
import { Button, Choice, NumberControl, Part } from '../../ui/controls';
import { refuse } from '../../ui/refuse';
import { save } from '../../ui/save';
import type { ExportOptions } from '../../worker/protocol';
import { renderer } from '../../worker/renderer';
import { momentNow } from '../moments';
import { ClipExportPart } from './ClipExportPart';
import { useChange, useOpenJob, useProductsOfJob, useRecipe } from '../jobContext';

/** Writing the finished picture and the job. */
export function ExportControls() {
  const { id, store } = useOpenJob();
  const { commit } = useChange();
  const recipe = useRecipe();
  const { resume } = useProductsOfJob();
  const [options, setOptions] = useState<ExportOptions>({ format: 'png', quality: 92, scale: 1 });
  const [progress, setProgress] = useState<{ what: string; fraction: number }>();
  const [done, setDone] = useState('');
  const size = [recipe.frame.width, recipe.frame.height].map((v) => Math.max(1, Math.round(v * options.scale)));
  const fileName = recipe.name.replace(/[\\/:*?"<>|]+/g, '-').trim() || 'picture';

  const write = async (): Promise<void> => {
    setDone('');
    setProgress({ what: 'Beginning', fraction: 0 });
    try {
      const bytes = await renderer().exportPicture(
        momentNow(store.getState().recipe),
        options,
        Comlink.proxy((what, fraction) => setProgress({ what, fraction })),
      );
      if (bytes) {
        const name = `${fileName}.${options.format === 'jpeg' ? 'jpg' : 'png'}`;
        save(name, new Blob([bytes as Uint8Array<ArrayBuffer>], { type: options.format === 'jpeg' ? 'image/jpeg' : 'image/png' }));
        setDone(`${name}, ${(bytes.length / 1e6).toFixed(1)} MB`);
      } else setDone('Export cancelled; nothing was written.');
    } catch (error) {
      refuse(error);
    } finally {
      setProgress(undefined);
      resume();
    }
  };

  return (
    <>
      <ClipExportPart fileName={fileName} />
      <Part title={recipe.time ? 'This frame' : 'Picture'} figure={`${size[0]} × ${size[1]}`}>
        <Choice<ExportOptions['format']>
          label="Format"
          value={options.format}
          options={[
            { value: 'png', label: 'PNG' },
            { value: 'png16', label: 'PNG 16 bit' },
            { value: 'jpeg', label: 'JPEG' },
          ]}
          onChange={(format) => setOptions({ ...options, format })}
        />
        <NumberControl
          label="Quality"
          value={options.quality}
          normal={92}
          min={30}
          max={100}
          step={1}
          disabled={options.format !== 'jpeg'}
          onCommit={(quality) => setOptions({ ...options, quality })}
        />
        <NumberControl
          label="Size"
          value={100 * options.scale}
          normal={100}
          min={10}
          max={100}
          step={1}
          unit="%"
          onCommit={(v) => setOptions({ ...options, scale: v / 100 })}
        />
        <div className="mt-3 flex flex-wrap items-center gap-2">
          <Button strong disabled={progress !== undefined} onClick={() => void write()}>
            Export picture
          </Button>
          {progress && <Button onClick={() => void renderer().cancelExport()}>Cancel</Button>}
        </div>
        <p role="status" className="mt-2 font-mono text-xs">
          {progress ? `${progress.what}, ${Math.round(100 * progress.fraction)} %` : done && `Written: ${done}`}
        </p>
      </Part>
      <Part title="Job">
        <label className="flex items-center gap-2">
          <span className="text-faint">Name</span>
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
              .then((bytes) => save(`${fileName}.zip`, new Blob([bytes], { type: 'application/zip' })))
              .catch(refuse)
          }
        >
          Save the job as one file
        </Button>
        <p className="mt-1.5 text-faint">The recipe and the untouched originals. Drop it on any shelf to go on there.</p>
      </Part>
    </>
  );
}
