import {
  keyOf,
  renderFrame,
  toRgba8,
  toSamples16,
  type Context,
  type PictureSource,
  type ProductMemory,
  type Recipe,
} from '@ritaglio/core';
import { writePng, withoutOpacity } from '@ritaglio/formats';
import { decode } from 'fast-png';
import { Zip, ZipPassThrough } from 'fflate';
import {
  ALL_FORMATS,
  AudioSampleSink,
  AudioSampleSource,
  BlobSource,
  BufferTarget,
  EncodedAudioPacketSource,
  EncodedPacketSink,
  Input,
  Mp4OutputFormat,
  Output,
  Quality,
  VideoSample,
  VideoSampleSource,
  WebMOutputFormat,
  canEncodeAudio,
  type InputAudioTrack,
} from 'mediabunny';
import { browserCodec } from './browserCodec';
import type { ClipExportOptions } from './protocol';

/** Where finished frames are kept until the export is done. */
export interface FrameRoom {
  read(frame: number): Promise<Uint8Array | undefined>;
  write(frame: number, bytes: Uint8Array): Promise<void>;
  clear(): Promise<void>;
}

/** What an export works with. */
export interface ClipExporting {
  pictures: PictureSource;
  memory: ProductMemory;
  context: Context;
  /** The file that holds a clip's sound. */
  soundFile(id: string): Blob;
  room: FrameRoom;
  /** @param done frames that are finished, `of` how many */
  tell(done: number, of: number): void;
}

/** A short name for all that decides a clip's frames. */
export function exportKey(recipe: Recipe, { format, scale }: ClipExportOptions): string {
  return keyOf({ ...recipe, name: '', time: { ...recipe.time, first: 0, last: 0 } }, format === 'png16' ? 16 : 8, scale);
}

/** The coder's step for a quality of 1 to 100: at 80 frames keep 38 dB and more. Steps go from 0 to 63 and from 0 to 51. */
const steps = {
  webm: (quality: number): number => Math.min(63, Math.max(2, Math.round(4 + 0.9 * (100 - quality)))),
  mp4: (quality: number): number => Math.min(51, Math.max(1, Math.round(5 + 0.7 * (100 - quality)))),
};
/** Bits a pixel where the browser takes no such step. */
const bitsAPixel = 1.2;
const codecs = { webm: 'vp9', mp4: 'avc' } as const;

/** The clip as a file: a video with its sound, or numbered pictures in one archive. Finished frames are taken up where they are kept. */
export async function exportedClip(recipe: Recipe, options: ClipExportOptions, work: ClipExporting): Promise<Blob> {
  const time = recipe.time!;
  const count = time.last - time.first + 1;
  const { format, quality } = options;
  const video = format === 'webm' || format === 'mp4' ? new VideoWriter(recipe, format, quality, work) : undefined;
  const parts: BlobPart[] = [];
  const zip = video ? undefined : new Zip((_error, bytes) => parts.push(bytes as Uint8Array<ArrayBuffer>));
  const digits = Math.max(4, String(time.last + 1).length);
  try {
    for (let k = 0; k < count; k++) {
      work.tell(k, count);
      const frame = time.first + k;
      const png = await frameFile(recipe, frame, options, work);
      if (video) await video.add(decode(png), k);
      else {
        const name = `${String(frame + 1).padStart(digits, '0')}.${format === 'jpeg' ? 'jpg' : 'png'}`;
        const entry = new ZipPassThrough(name);
        entry.mtime = '2026-01-01T00:00:00';
        zip!.add(entry);
        entry.push(format === 'jpeg' ? await asJpeg(png, quality) : png, true);
      }
    }
    work.tell(count, count);
    zip?.end();
    const file = video ? await video.end() : new Blob(parts, { type: 'application/zip' });
    await work.room.clear();
    return file;
  } catch (error) {
    await video?.cancel();
    throw error;
  }
}

/** The upper left of RGB pixels, with full opacity. */
function rgbaOf(
  { data, width: row }: { data: ArrayLike<number>; width: number },
  width: number,
  height: number,
): Uint8ClampedArray<ArrayBuffer> {
  const rgba = new Uint8ClampedArray(width * height * 4).fill(255);
  for (let y = 0, k = 0; y < height; y++) {
    for (let x = 0, i = 3 * y * row; x < width; x++, i += 3, k += 4) for (let c = 0; c < 3; c++) rgba[k + c] = data[i + c];
  }
  return rgba;
}

async function asJpeg(png: Uint8Array, quality: number): Promise<Uint8Array> {
  const frame = decode(png);
  return browserCodec.encodeJpeg(rgbaOf(frame, frame.width, frame.height), frame.width, frame.height, quality);
}

/** A finished frame as a PNG: as it is kept, when it is whole, else made now and kept. */
async function frameFile(recipe: Recipe, frame: number, options: ClipExportOptions, work: ClipExporting): Promise<Uint8Array> {
  const kept = await work.room.read(frame);
  if (kept && isWhole(kept)) return kept;
  const picture = await renderFrame(recipe, frame, work.pictures, work.context, work.memory);
  const { width, height } = picture;
  const png = writePng(options.format === 'png16' ? toSamples16(picture) : withoutOpacity(width, height, toRgba8(picture)));
  await work.room.write(frame, png);
  return png;
}

/** Whether a kept frame was written to its end. */
function isWhole(png: Uint8Array): boolean {
  try {
    decode(png, { checkCrc: true });
    return true;
  } catch {
    return false;
  }
}

/** Writes frames one after the other as a video, and the clip's sound beside them. */
class VideoWriter {
  private readonly target = new BufferTarget();
  private readonly output: Output;
  private source: VideoSampleSource | undefined;
  private sound: (() => Promise<void>) | undefined;

  constructor(
    private readonly recipe: Recipe,
    private readonly kind: 'webm' | 'mp4',
    private readonly quality: number,
    private readonly work: ClipExporting,
  ) {
    const format = kind === 'webm' ? new WebMOutputFormat() : new Mp4OutputFormat({ fastStart: 'in-memory' });
    this.output = new Output({ format, target: this.target });
  }

  private get rate(): number {
    const { frames, seconds } = this.recipe.time!.rate;
    return frames / seconds;
  }

  /** @param index from 0 */
  async add(frame: { data: ArrayLike<number>; width: number; height: number }, index: number): Promise<void> {
    // H.264 takes whole pairs of pixels only.
    const [w, h] = [frame.width, frame.height].map((v) => (this.kind === 'mp4' ? v - (v % 2) : v));
    this.source ??= await this.begin(w, h);
    const times = { timestamp: index / this.rate, duration: 1 / this.rate };
    const sample = new VideoSample(rgbaOf(frame, w, h), { format: 'RGBX', codedWidth: w, codedHeight: h, ...times });
    await this.source.add(sample);
    sample.close();
  }

  private async begin(width: number, height: number): Promise<VideoSampleSource> {
    const bitrate = Math.round(width * height * this.rate * bitsAPixel * 2 ** ((this.quality - 80) / 12));
    const quality = new Quality({ quantizer: steps[this.kind](this.quality), bitrate });
    const source = new VideoSampleSource({ codec: codecs[this.kind], quality, keyFrameInterval: 2 });
    this.output.addVideoTrack(source, { frameRate: this.rate });
    this.sound = await this.beginSound();
    await this.output.start();
    return source;
  }

  /** A track for the sound there is: packets as they are where the container holds them, else coded anew. */
  private async beginSound(): Promise<(() => Promise<void>) | undefined> {
    const { clips, time } = this.recipe;
    const clip = clips.find((c) => c.sound !== null);
    // Sound that would have to go faster or slower is left out.
    if (!clip || clip.speed !== 1) return undefined;
    const input = new Input({ formats: ALL_FORMATS, source: new BlobSource(this.work.soundFile(clip.sound!)) });
    const track = await input.getPrimaryAudioTrack();
    const codec = await track?.getCodec();
    if (!track || !codec) return undefined;
    const from = (time!.first - clip.offset) / this.rate;
    const span: Span = { from, until: from + (time!.last - time!.first + 1) / this.rate };
    const config = await track.getDecoderConfig();
    // Bare samples are large, and few players read them in a video.
    if (config && !codec.startsWith('pcm') && this.output.format.getSupportedAudioCodecs().includes(codec)) {
      const source = new EncodedAudioPacketSource(codec);
      this.output.addAudioTrack(source);
      return () => copied(track, source, config, span);
    }
    const target = this.kind === 'mp4' && (await canEncodeAudio('aac')) ? 'aac' : 'opus';
    const source = new AudioSampleSource({ codec: target, bitrate: 160_000 });
    this.output.addAudioTrack(source);
    return () => coded(track, source, span);
  }

  async end(): Promise<Blob> {
    await this.sound?.();
    await this.output.finalize();
    return new Blob([this.target.buffer!], { type: `video/${this.kind}` });
  }

  async cancel(): Promise<void> {
    if (this.output.state === 'started') await this.output.cancel();
  }
}

/** Of the sound what is heard with the exported frames, s. */
interface Span {
  from: number;
  until: number;
}

/** Packets as they are, moved to where the picture begins; one that begins before it is left out, which is less than a frame. */
async function copied(
  track: InputAudioTrack,
  to: EncodedAudioPacketSource,
  config: AudioDecoderConfig,
  { from, until }: Span,
): Promise<void> {
  for await (const packet of new EncodedPacketSink(track).packets()) {
    const at = packet.timestamp - from;
    if (packet.timestamp >= until) break;
    if (at >= 0) await to.add(packet.clone({ timestamp: at }), { decoderConfig: config });
  }
}

async function coded(track: InputAudioTrack, to: AudioSampleSource, { from, until }: Span): Promise<void> {
  for await (const sample of new AudioSampleSink(track).samples(Math.max(0, from), until)) {
    if (sample.timestamp >= from) {
      sample.setTimestamp(sample.timestamp - from);
      await to.add(sample);
    }
    sample.close();
  }
}
