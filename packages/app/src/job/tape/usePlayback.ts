import { useEffect } from 'react';
import { refuse } from '../../ui/refuse';
import { givePictures } from '../../worker/givePictures';
import type { ViewName } from '../../worker/protocol';
import { renderer } from '../../worker/renderer';
import { useOpenJob, useWholeRecipe } from '../jobContext';
import { momentIn, rangeOf } from '../moments';
import { useView } from '../viewStore';
import { say } from '../../words/say';

/** Longest side of what is played, px, and how many frames of it are kept. */
const side = 450;
const most = 300;

/**
 * While it plays: works the frames of the range out as drafts, one after the other, and shows them at the job's rate as far as they are
 * there; those that come too late are passed over.
 *
 * @param tell is told how many frames a second are truly shown
 */
export function usePlayback(tell: (rate: number | undefined) => void): void {
  const recipe = useWholeRecipe();
  const { store } = useOpenJob();
  const playing = useView((s) => s.playing);
  const picture = useView((s) => s.picture);
  const subject = useView((s) => s.subject);
  const followed = useView((s) => s.followed);
  useEffect(() => {
    if (!playing || !recipe.time) return;
    const { first, last } = rangeOf(recipe);
    const count = last - first + 1;
    const rate = recipe.time.rate.frames / recipe.time.rate.seconds;
    const view: ViewName = picture;
    const scale = Math.min(1, side / Math.max(recipe.frame.width, recipe.frame.height));
    const ready = new Map<number, ImageBitmap>();
    let gone = false;
    const { frame: begin } = useView.getState();
    const start = begin >= first && begin <= last ? begin - first : 0;

    const produce = async (): Promise<void> => {
      await givePictures(store.getState().recipe);
      for (let k = 0; k < Math.min(count, most) && !gone; k++) {
        const frame = first + ((start + k) % count);
        const bitmap = await renderer().looked(momentIn(recipe, { frame, followed, subject }), view, scale, subject);
        if (gone) bitmap.close();
        else ready.set(frame, bitmap);
      }
    };
    produce().catch((error: unknown) => {
      refuse(error);
      useView.setState({ playing: false });
    });

    const began = performance.now();
    let shown = -1;
    let times: number[] = [];
    const show = (now: number): void => {
      if (gone) return;
      const due = first + ((start + Math.floor(((now - began) / 1000) * rate)) % count);
      const bitmap = ready.get(due);
      if (bitmap && due !== shown) {
        shown = due;
        times = [...times.filter((t) => now - t < 1000), now];
        tell(times.length > 1 ? ((times.length - 1) * 1000) / (now - times[0]) : undefined);
        useView.setState({ played: due, held: { name: say('Playing'), bitmap, scale } });
      }
      requestAnimationFrame(show);
    };
    requestAnimationFrame(show);
    return () => {
      gone = true;
      tell(undefined);
      const { played } = useView.getState();
      useView.setState({ held: undefined, played: undefined, ...(played !== undefined && { frame: played }) });
      // The last one may still be on its way to the screen.
      setTimeout(() => ready.forEach((bitmap) => bitmap.close()), 2000);
    };
  }, [playing, recipe, picture, subject, followed, store, tell]);
}
