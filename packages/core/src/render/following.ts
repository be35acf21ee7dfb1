import type { Context } from '../runtime/context';
import { closesSubject } from '../matte/cut/marks';
import type { MatteProduct } from '../matte/matte';
import type { CameraPath } from '../motion/camera';
import { flickerOf } from '../motion/flicker';
import type { FlickerAt } from '../proof/checks/index';
import { opticalFlow } from '../motion/flow';
import { brightnessOf } from '../colour/perceived';
import { followClip, type FollowedClip } from '../motion/clipMatte';
import { groundBehindMattes, groundInFrame, type ClipGround } from '../motion/clipPlate';
import { spreadFrames, type Frames } from '../motion/frames';
import type { Picture, Plane } from '../raster/plane';
import { framePicture, onFrame, type Follows } from '../recipe/moment';
import type { SubjectRecipe } from '../recipe/recipe';
import type { Following, PictureSource } from './products';

/** A clip is known by its identifier, which is made of what it holds. */
export function clipKey({ clip }: Follows): unknown {
  return [clip.id, clip.count];
}

/** By what a subject is followed through its clip: marks on any of its frames; nothing when it is cut in each frame by itself. */
export function followedBy({ cut, follows }: SubjectRecipe): Follows | undefined {
  return cut === 'marks' && follows?.marks.some(closesSubject) ? follows : undefined;
}

/** What the line makes of all frames of a clip together. */
export class Follower {
  /**
   * @param remember a product under a key of all that decides it
   * @param matteOf the matte of one frame by itself
   */
  constructor(
    private readonly pictures: PictureSource,
    private readonly context: Context,
    private readonly remember: <T>(key: unknown[], work: (context: Context) => Promise<T>) => Promise<T>,
    private readonly matteOf: (s: SubjectRecipe) => Promise<MatteProduct>,
  ) {}

  /** A subject followed through all frames; nothing when no mark says where it is. */
  followed(follows: Follows): Promise<FollowedClip | undefined> {
    return this.remember([clipKey(follows), follows.marks], (context) => {
      const marks = follows.marks.map((m) => ({ ...m, frame: m.frame ?? 0 }));
      return followClip(this.framesOf(follows), marks, context);
    });
  }

  /** How certain each frame is; nothing for a still, or where each frame is cut by itself. */
  async told(s: SubjectRecipe): Promise<Following | undefined> {
    const followed = followedBy(s);
    const clip = followed && (await this.followed(followed));
    if (!clip) return undefined;
    // A frame that shows nothing of the subject has an empty mask: one run of clear.
    const seen = clip.cut.labels.map(({ runs }) => runs.length > 1);
    return {
      certainty: clip.cut.certainty.map((c, i) => (seen[i] ? c : NaN)),
      ...(clip.ground && { photographed: clip.ground.photographed }),
    };
  }

  /** How much the matte flickers at a few places of its clip; nothing for a still. */
  async flickering(s: SubjectRecipe, mostPairs: number): Promise<FlickerAt[] | undefined> {
    const { follows } = s;
    if (!follows || follows.clip.count < 2) return undefined;
    const frames = this.framesOf(follows);
    const out: FlickerAt[] = [];
    for (const first of spreadFrames(follows.clip.count - 1, mostPairs)) {
      const pair = [first, first + 1];
      const bright: Plane[] = [];
      const mattes: Plane[] = [];
      for (const frame of pair) {
        bright.push(brightnessOf(await frames.load(frame), this.context));
        mattes.push((await this.matteOf(onFrame(s, { ...follows, frame }))).matte);
      }
      const [there, back] = await opticalFlow(bright, [[1, 0], [0, 1]], this.context); // prettier-ignore
      const [before, now] = mattes.map((matte, k) => ({ matte, brightness: bright[k] }));
      const found = flickerOf(before, now, there, back);
      if (found) out.push({ ...found, frame: first + 1 });
    }
    return out;
  }

  /** The ground behind a subject as other frames of its clip show it; nothing when they do not agree about it. */
  async groundBehind(s: SubjectRecipe): Promise<Picture | undefined> {
    const found = await this.ground(s);
    return found?.ground && (await groundInFrame(found.ground, found.path, s.follows!.frame, this.context)).picture;
  }

  /** How the camera moved and what ground it saw: as the followed subject leaves it, or as the mattes of all frames do. */
  private async ground(s: SubjectRecipe): Promise<{ path: CameraPath; ground?: ClipGround } | undefined> {
    const { follows } = s;
    if (!follows) return undefined;
    const followed = followedBy(s);
    if (followed) return this.followed(followed);
    if (s.cut === 'marks') return undefined;
    const own = [s.cut, s.screen, s.difference, s.garbage, s.trim, follows.marks];
    const matteOf = (i: number): Promise<Plane> => this.matteOf(onFrame(s, { ...follows, frame: i })).then((p) => p.matte);
    return this.remember([clipKey(follows), own], (context) => groundBehindMattes(this.framesOf(follows), matteOf, context));
  }

  private framesOf({ clip }: Follows): Frames {
    return { count: clip.count, load: (i) => this.pictures.load(framePicture(clip, i), this.context.scale, undefined, this.context) };
  }
}
