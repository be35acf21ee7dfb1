import type { Recipe } from '@ritaglio/core';
import { Button } from '../../ui/Button';
import { Part } from '../../ui/controls';
import { useChange, useRecipe } from '../jobContext';
import { ParameterControl } from '../ParameterControl';
import { clockOf } from '../tape/scale';
import { figured, say } from '../../words/say';

type Time = NonNullable<Recipe['time']>;

/** Frames a second of a still that is made to last, and for how long, s. */
const usual = { rate: 24, seconds: 5 };

/** How long the job lasts: a still may be made to, for a move of the camera or of the focus. */
export function TimePart() {
  const recipe = useRecipe();
  const { preview, commit } = useChange();
  const { time, clips } = recipe;
  if (!time) {
    return (
      <Part title="Time" figure={say('a still')}>
        <p className="mb-2 text-faint">
          {say('Made to last, it can have a glide of the camera, a pull of the focus, and leave as a video.')}
        </p>
        <Button
          onClick={() =>
            commit((r) => ({
              ...r,
              time: { rate: { frames: usual.rate, seconds: 1 }, first: 0, last: usual.rate * usual.seconds - 1, shutter: 0 },
            }))
          }
        >
          {say('Let it last {seconds} s', { seconds: usual.seconds })}
        </Button>
      </Part>
    );
  }
  const rate = time.rate.frames / time.rate.seconds;
  const seconds = (time.last - time.first + 1) / rate;
  const change = (part: Partial<Time>) => (r: Recipe) => (r.time ? { ...r, time: { ...r.time, ...part } } : r);
  const lasting = (s: number): Partial<Time> => ({ last: time.first + Math.max(1, Math.round(s * rate)) - 1 });
  const shutter = (v: number): Partial<Time> => ({ shutter: v });
  return (
    <Part title="Time" figure={`${figured(seconds, 2)} s`}>
      <p className="text-faint">{say('Frames {first} to {last}, {rate} a second, from {clockOf}.', { first: time.first + 1, last: time.last + 1, rate: figured(rate, Number.isInteger(rate) ? 0 : 2), clockOf: clockOf(time.first, time.rate) })}</p>
      {clips.length === 0 && (
        <>
          <ParameterControl param="time.seconds" value={seconds} normal={usual.seconds} onCommit={(v) => commit(change(lasting(v)))} />
          <ParameterControl param="time.rate" value={rate} normal={usual.rate} onCommit={(v) => commit(change({ rate: { frames: Math.max(1, Math.round(v)), seconds: 1 } }))} />
        </>
      )}
      <ParameterControl param="time.shutter" value={time.shutter} onPreview={(v) => preview(change(shutter(v)))} onCommit={(v) => commit(change(shutter(v)))} />
      <p className="mt-1 text-faint">{say('How long each frame is exposed: at 180° what moves is smeared over half the way to the next frame.')}</p>
      {clips.length === 0 && (
        <Button className="mt-2" onClick={() => commit((r) => ({ ...r, time: null, keys: [] }))}>{say('A still again')}</Button>
      )}
    </Part>
  ); // prettier-ignore
}
