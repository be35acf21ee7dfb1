import { jobFrame } from '@ritaglio/core';
import { Button } from '../../ui/Button';
import { Part } from '../../ui/controls';
import { useOpenSubject, useProductsOfJob, useWholeRecipe } from '../jobContext';
import { clipOf, followsOldMarks } from '../moments';
import { doubtfulFrames } from '../tape/scale';
import { useViewOf } from '../viewStore';
import { figured, say } from '../../words/say';

/** Carrying the cut of the marked frames through the whole clip. */
export function ThroughPart() {
  const recipe = useWholeRecipe();
  const subject = useOpenSubject();
  const { figures } = useProductsOfJob();
  const { followed, set } = useViewOf('followed', 'set');
  const clip = clipOf(recipe, subject.shot);
  if (!clip || subject.cut !== 'marks') return null;
  const marked = new Set(subject.marks.map((m) => m.frame ?? 0)).size;
  const isFollowed = followed === subject.marks;
  const { following } = figures;
  const least = following && doubtfulFrames(following.certainty)[0];
  return (
    <Part
      title="Through the clip"
      figure={
        isFollowed
          ? say('{count} frames', { count: clip.count })
          : followsOldMarks(subject.marks, followed)
            ? say('marks changed')
            : say('this frame only')
      }
    >
      <p className="mb-1.5 text-faint">
        {isFollowed
          ? following
            ? say(
                'Followed from marks on {marked} {marked, plural, one {frame} other {frames}}. Neighbours agree least about frame {least}: look there, and mark it where it is wrong.',
                { marked, least: (least ?? 0) + 1 },
              )
            : say('Following: it takes about two seconds a frame.')
          : followsOldMarks(subject.marks, followed)
            ? say('The marks were changed since it was followed: follow again, and they count in all frames.')
            : marked === 0
              ? say('Marks cut the frame they are drawn on, at once. Mark one, then have it followed.')
              : say(
                  'Marks on {marked} {marked, plural, one {frame cut that frame} other {frames cut those frames}}. Followed, the subject is carried to all {count}.',
                  { marked, count: clip.count },
                )}
      </p>
      <div className="flex flex-wrap gap-1.5">
        {!isFollowed && (
          <Button strong disabled={marked === 0} onClick={() => set({ followed: subject.marks })}>
            {say('Follow through the clip')}
          </Button>
        )}
        {isFollowed && <Button onClick={() => set({ followed: undefined })}>{say('This frame only')}</Button>}
        {isFollowed && least !== undefined && (
          <Button onClick={() => set({ frame: jobFrame(clip, least) })}>{say('Go to frame {least}', { least: least + 1 })}</Button>
        )}
      </div>
      {isFollowed && following?.photographed !== undefined && (
        <p className="mt-1.5 text-faint">
          {say('Other frames show {photographed} % of the ground behind it.', { photographed: figured(100 * following.photographed, 0) })}
        </p>
      )}
    </Part>
  );
}
