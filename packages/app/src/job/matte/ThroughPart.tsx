import { jobFrame } from '@ritaglio/core';
import { Button, Part } from '../../ui/controls';
import { useOpenSubject, useProductsOfJob, useWholeRecipe } from '../jobContext';
import { clipOf, followsOldMarks } from '../moments';
import { doubtfulFrames } from '../tape/scale';
import { useView } from '../viewStore';

/** Carrying the cut of the marked frames through the whole clip. */
export function ThroughPart() {
  const recipe = useWholeRecipe();
  const subject = useOpenSubject();
  const { figures } = useProductsOfJob();
  const { followed, set } = useView();
  const clip = clipOf(recipe, subject.shot);
  if (!clip || subject.cut !== 'marks') return null;
  const marked = new Set(subject.marks.map((m) => m.frame ?? 0)).size;
  const isFollowed = followed === subject.marks;
  const { following } = figures;
  const least = following && doubtfulFrames(following.certainty)[0];
  return (
    <Part
      title="Through the clip"
      figure={isFollowed ? `${clip.count} frames` : followsOldMarks(subject.marks, followed) ? 'marks changed' : 'this frame only'}
    >
      <p className="mb-1.5 text-faint">
        {isFollowed
          ? following
            ? `Followed from marks on ${marked} ${marked === 1 ? 'frame' : 'frames'}. Neighbours agree least about frame ${(least ?? 0) + 1}: look there, and mark it where it is wrong.`
            : 'Following: it takes about two seconds a frame.'
          : followsOldMarks(subject.marks, followed)
            ? 'The marks were changed since it was followed: follow again, and they count in all frames.'
            : marked === 0
              ? 'Marks cut the frame they are drawn on, at once. Mark one, then have it followed.'
              : `Marks on ${marked} ${marked === 1 ? 'frame cut that frame' : 'frames cut those frames'}. Followed, the subject is carried to all ${clip.count}.`}
      </p>
      <div className="flex flex-wrap gap-1.5">
        {!isFollowed && (
          <Button strong disabled={marked === 0} onClick={() => set({ followed: subject.marks })}>
            Follow through the clip
          </Button>
        )}
        {isFollowed && <Button onClick={() => set({ followed: undefined })}>This frame only</Button>}
        {isFollowed && least !== undefined && (
          <Button onClick={() => set({ frame: jobFrame(clip, least) })}>Go to frame {least + 1}</Button>
        )}
      </div>
      {isFollowed && following?.photographed !== undefined && (
        <p className="mt-1.5 text-faint">Other frames show {(100 * following.photographed).toFixed(0)} % of the ground behind it.</p>
      )}
    </Part>
  );
}
