import type { ClipRecipe, Samples } from '@ritaglio/core';
import { ALL_FORMATS, BlobSource, EncodedPacketSink, Input, VideoSampleSink, type InputVideoTrack, type VideoSample } from 'mediabunny';

/** What a video file is. */
export interface VideoFacts {
  width: number;
  height: number;
  count: number;
  rate: ClipRecipe['rate'];
  sound: boolean;
}

/** A video that cannot be used, with a sentence. */
export class VideoError extends Error {
  override name = 'VideoError';
}

/** A file as sound: how long it lasts, s. @throws VideoError with a sentence that names the file */
export async function soundIn(name: string, blob: Blob): Promise<number> {
  const input = new Input({ formats: ALL_FORMATS, source: new BlobSource(blob) });
  const track = (await input.canRead()) ? await input.getPrimaryAudioTrack() : null;
  if (!track) throw new VideoError(`“${name}” holds no sound that can be read: WAV, Opus, MP3, AAC and FLAC can.`);
  return track.computeDuration();
}

/** Rates that are no whole numbers but common, as fractions. */
const broken = [24, 30, 48, 60, 120].map((n) => ({ frames: n * 1000, seconds: 1001 }));

/** The rate of frames at these times, s: a whole number or a common fraction where it is one, else what the mean gap says. */
export function rateOf(times: readonly number[]): ClipRecipe['rate'] {
  const span = times[times.length - 1] - times[0];
  if (times.length < 2 || !(span > 0)) return { frames: 25, seconds: 1 };
  const rate = (times.length - 1) / span;
  // Times are kept to a thousandth in some files: over the whole length that is little.
  const near = (of: { frames: number; seconds: number }): boolean =>
    Math.abs(of.frames / of.seconds - rate) < Math.max(2e-4, 2e-3 / span) * rate;
  const whole = { frames: Math.max(1, Math.round(rate)), seconds: 1 };
  const gap = (of: { frames: number; seconds: number }): number => Math.abs(of.frames / of.seconds - rate);
  const [best] = [whole, ...broken].filter(near).sort((a, b) => gap(a) - gap(b));
  return best ?? { frames: Math.max(1, Math.round(rate * 1000)), seconds: 1000 };
}

/** A video file's frames, each decoded when it is asked for; one after the other is quick. */
export class VideoFile {
  private run: AsyncGenerator<VideoSample, void, unknown> | undefined;
  /** Which frame the run gives next. */
  private at = -1;
  private queue: Promise<unknown> = Promise.resolve();

  private constructor(
    private readonly track: InputVideoTrack,
    private readonly times: readonly number[],
    readonly facts: VideoFacts,
  ) {}

  /** @throws VideoError with a sentence that names the file */
  static async open(name: string, blob: Blob): Promise<VideoFile> {
    const input = new Input({ formats: ALL_FORMATS, source: new BlobSource(blob) });
    if (!(await input.canRead())) throw new VideoError(`“${name}” is not a video that can be read: WebM and MP4 can.`);
    const track = await input.getPrimaryVideoTrack();
    if (!track) throw new VideoError(`“${name}” holds no picture, only sound.`);
    if (!(await track.canDecode())) {
      throw new VideoError(`“${name}” is coded as ${(await track.getCodec()) ?? 'something unknown'}, which this browser does not read. Save it as WebM with VP9, or as MP4 with H.264.`); // prettier-ignore
    }
    const times: number[] = [];
    for await (const packet of new EncodedPacketSink(track).packets(undefined, undefined, { metadataOnly: true }))
      times.push(packet.timestamp);
    if (times.length === 0) throw new VideoError(`“${name}” holds no frames.`);
    times.sort((a, b) => a - b);
    const [width, height] = [await track.getDisplayWidth(), await track.getDisplayHeight()];
    const sound = (await input.getPrimaryAudioTrack()) !== null;
    return new VideoFile(track, times, { width, height, count: times.length, rate: rateOf(times), sound });
  }

  /** A frame, upright, as sRGB samples of 8 bits. One at a time is decoded. */
  frame(index: number): Promise<Samples> {
    const wanted = Math.min(this.times.length - 1, Math.max(0, index));
    const next = this.queue.then(() => this.decoded(wanted));
    this.queue = next.catch(() => undefined);
    return next;
  }

  private async decoded(index: number): Promise<Samples> {
    if (!this.run || this.at !== index) {
      await this.run?.return();
      this.run = new VideoSampleSink(this.track).samples(this.times[index]);
    }
    const { value, done } = await this.run.next();
    this.at = index + 1;
    if (done || !value) {
      this.run = undefined;
      throw new VideoError(`Frame ${index + 1} of the video could not be decoded.`);
    }
    const { width, height } = this.facts;
    const canvas = new OffscreenCanvas(width, height);
    const context = canvas.getContext('2d', { willReadFrequently: true, colorSpace: 'srgb' });
    if (!context) throw new VideoError('The browser gives no drawing surface of that size.');
    value.draw(context, 0, 0, width, height);
    value.close();
    const rgba = context.getImageData(0, 0, width, height).data;
    const data = new Uint8Array(width * height * 3);
    for (let i = 0, k = 0; i < data.length; i += 3, k += 4) data.set(rgba.subarray(k, k + 3), i);
    return { width, height, channels: 3, data };
  }
}
