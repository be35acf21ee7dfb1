import { videoFrame, type Context, type Picture, type PictureSource, type Samples, pictureAtScale } from '@ritaglio/core';
import { fonts, letterOutlines, readPicture, type Codec } from '@ritaglio/formats';
import type { Outlines } from '@ritaglio/core';

/** A video file whose frames can be had. */
export interface OpenVideo {
  frame(index: number): Promise<Samples>;
}

/** How files are read that are no pictures. */
export interface OtherFiles {
  /** Address of a typeface's file. */
  font(name: string): string | undefined;
  /** @throws Error with a sentence */
  video(name: string, blob: Blob): Promise<OpenVideo>;
}

/** The pictures of a job as the renderer reads them: files by what they hold, decoded when they are asked for. */
export class PictureShelf implements PictureSource {
  private readonly files = new Map<string, { name: string; blob: Blob }>();
  private readonly decoded = new Map<string, Promise<Samples>>();
  private readonly bytes = new Map<string, number>();
  private readonly faces = new Map<string, Uint8Array>();
  private readonly videos = new Map<string, Promise<OpenVideo>>();

  /** @param limit bytes of decoded pictures to keep at most; the one used last is always kept */
  constructor(
    private readonly codec: Codec,
    private readonly limit: number,
    private readonly other: OtherFiles,
  ) {}

  /** Makes a picture known under an identifier that stands for its content. */
  add(id: string, name: string, blob: Blob): void {
    this.files.set(id, { name, blob });
  }

  key(id: string): string {
    return id;
  }

  async load(id: string, scale: number, multiplied?: string, context?: Context): Promise<Picture> {
    return pictureAtScale(await this.size(id), scale, multiplied, context);
  }

  /** The picture as it was decoded. @throws Error when it is not in the store any more */
  async size(id: string): Promise<Samples> {
    const known = this.decoded.get(id) ?? this.decode(id);
    this.decoded.delete(id);
    this.decoded.set(id, known);
    known.catch(() => this.decoded.delete(id));
    const samples = await known;
    this.bytes.set(id, samples.data.byteLength);
    let held = [...this.bytes.values()].reduce((sum, b) => sum + b, 0);
    for (const old of [...this.decoded.keys()]) {
      if (held <= this.limit || old === id) break;
      held -= this.bytes.get(old) ?? 0;
      this.bytes.delete(old);
      this.decoded.delete(old);
    }
    return samples;
  }

  async letters(text: string, font: string, spacing: number): Promise<Outlines> {
    const url = font in fonts ? this.other.font(font) : undefined;
    if (!url) throw new Error(`There is no typeface “${font}” here.`);
    let bytes = this.faces.get(font);
    if (!bytes) this.faces.set(font, (bytes = new Uint8Array(await (await fetch(url)).arrayBuffer())));
    return letterOutlines(bytes, text, spacing);
  }

  /** A file as it came in. @throws Error when it is not in the store any more */
  file(id: string): { name: string; blob: Blob } {
    const file = this.files.get(id);
    if (!file) throw new Error('A picture of this job is not in this browser’s store any more; bring it in again.');
    return file;
  }

  private async decode(id: string): Promise<Samples> {
    const frame = videoFrame(id);
    if (frame) return (await this.video(frame.file)).frame(frame.frame);
    const file = this.file(id);
    return (await readPicture(file.name, new Uint8Array(await file.blob.arrayBuffer()), this.codec)).samples;
  }

  private video(id: string): Promise<OpenVideo> {
    const open = this.videos.get(id) ?? Promise.resolve(this.file(id)).then(({ name, blob }) => this.other.video(name, blob));
    this.videos.set(id, open);
    open.catch(() => this.videos.delete(id));
    return open;
  }
}
