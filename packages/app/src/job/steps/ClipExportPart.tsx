import * as Comlink from 'comlink';
import { useState } from 'react';
import { Button } from '../../ui/Button';
import { Choice, Part } from '../../ui/controls';
import { refuse } from '../../ui/refuse';
import { save } from '../../ui/save';
import { givePictures } from '../../worker/givePictures';
import type { ClipExportOptions } from '../../worker/protocol';
import { renderer, whileAlive } from '../../worker/renderer';
import { useOpenJob, useProductsOfJob, useWholeRecipe } from '../jobContext';
import { QualityAndSize } from './QualityAndSize';
import { figured, say } from '../../words/say';

const ending: Record<ClipExportOptions['format'], string> = { webm: 'webm', mp4: 'mp4', png: 'zip', png16: 'zip', jpeg: 'zip' };

/** Writing a job that has time: a video with its sound, or numbered pictures. */
export function ClipExportPart({ fileName }: { fileName: string }) {
  const { store } = useOpenJob();
  const recipe = useWholeRecipe();
  const { resume } = useProductsOfJob();
  const [options, setOptions] = useState<ClipExportOptions>({ format: 'webm', quality: 80, scale: 1 });
  const [progress, setProgress] = useState<{ done: number; of: number; began: number }>();
  const [done, setDone] = useState('');
  const { time, clips, frame } = recipe;
  if (!time) return null;
  const count = time.last - time.first + 1;
  const rate = time.rate.frames / time.rate.seconds;
  const video = options.format === 'webm' || options.format === 'mp4';
  const even = (v: number): number => (options.format === 'mp4' ? v - (v % 2) : v);
  const size = [frame.width, frame.height].map((v) => even(Math.max(1, Math.round(v * options.scale))));
  const sound = clips.some((c) => c.sound !== null);

  const write = async (): Promise<void> => {
    setDone('');
    const began = performance.now();
    setProgress({ done: 0, of: count, began });
    try {
      const { recipe: now } = store.getState();
      await givePictures(now);
      const listen = Comlink.proxy((k: number, of: number) => setProgress({ done: k, of, began }));
      const blob = await whileAlive(renderer().exportClip(now, options, listen));
      if (blob) {
        const name = `${fileName}.${ending[options.format]}`;
        save(name, blob);
        setDone(say('Written: {name}, {count} frames, {size} MB', { name, count, size: figured(blob.size / 1e6, 1) }));
      } else setDone(say('Stopped. What was finished is kept: the same export goes on from there.'));
    } catch (error) {
      refuse(error);
    } finally {
      setProgress(undefined);
      resume();
    }
  };

  return (
    <Part title="Clip" figure={`${size[0]} × ${size[1]}, ${figured(count / rate, 1)} s`}>
      <Choice<ClipExportOptions['format']>
        label={say('Format of the clip')}
        value={options.format}
        options={[
          { value: 'webm', label: say('WebM') },
          { value: 'mp4', label: say('MP4') },
          { value: 'png', label: say('PNGs') },
          { value: 'png16', label: say('16 bit') },
          { value: 'jpeg', label: say('JPEGs') },
        ]}
        onChange={(format) => setOptions({ ...options, format })}
      />
      <p className="mt-1.5 text-faint">
        {video
          ? `${options.format === 'webm' ? 'VP9' : 'H.264'}, ${sound ? say('with the clip’s sound') : say('without sound: the clip has none')}.`
          : say('Numbered pictures in one zip, without sound.')}
      </p>
      <QualityAndSize
        of="Clip"
        options={options}
        normal={80}
        lossless={options.format === 'png' || options.format === 'png16'}
        onChange={setOptions}
      />
      <div className="mt-3 flex flex-wrap items-center gap-2">
        <Button strong disabled={progress !== undefined} onClick={() => void write()}>
          {say('Export clip')}
        </Button>
        {progress && <Button onClick={() => void renderer().cancelExport()}>{say('Stop')}</Button>}
      </div>
      <p role="status" className="mt-2 font-mono text-xs">
        {progress ? told(progress) : done}
      </p>
    </Part>
  );
}

/** How far it is, and how long it takes still. */
function told({ done, of, began }: { done: number; of: number; began: number }): string {
  if (done === of) return say('Writing the file');
  const left = done > 0 ? ((performance.now() - began) / done) * (of - done) : undefined;
  return say('Frame {done} of {of}{thing}', {
    done: done + 1,
    of,
    thing: left === undefined ? '' : say(', {clock} left', { clock: clock(left) }),
  });
}

function clock(ms: number): string {
  const s = Math.round(ms / 1000);
  return `${Math.floor(s / 60)}:${String(s % 60).padStart(2, '0')}`;
}
