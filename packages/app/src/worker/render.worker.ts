import {
  gapsLike,
  isAbort,
  matteSamples16,
  meanColour,
  pointedSubject,
  loopedThing,
  pointedThing,
  ProductMemory,
  rasterRegions,
  render,
  scopesOf,
  sheetInputs,
  toRgba8,
  withOpacity,
  type Check,
  type Context,
  type Mark,
  type Picture,
  type Recipe,
  type Region,
  type SheetInputs,
} from '@ritaglio/core';
import { handover, inSpace, writePng } from '@ritaglio/formats';
import * as Comlink from 'comlink';
import { browserCodec, encoded } from './browserCodec';
import { browserPool } from './browserPool';
import { fontFiles } from './fontFiles';
import { PictureShelf } from './pictureShelf';
import { frameRoom } from './frameRoom';
import { inspect, inspectSound, inspectVideo, printOf, videos } from './inspecting';
import type { Answer, ClipExportOptions, ExportOptions, Likeness, Reach, Reference, Request, Shown, ViewName } from './protocol';
import { likenessOf, stopsBehind, type Make } from './measuring';
import { base64Of, bitmapOf, tokenOf } from './sending';
import { Tracing } from './tracing';
import { figuresOf, roughSubject, viewOf, views, type View } from './views';

type Listener = (answer: Answer) => void;

const reaches: readonly Reach[] = ['cut', 'plate', 'finished', 'proof'];

/** Waits. @throws AbortError when what waits is not wanted any more */
async function rested(ms: number, signal: AbortSignal): Promise<void> {
  if (ms <= 0) return;
  await new Promise<void>((go) => {
    const timer = setTimeout(go, ms);
    signal.addEventListener('abort', () => (clearTimeout(timer), go()), { once: true });
  });
  signal.throwIfAborted();
}

/** Bytes that products and decoded pictures may take: a share of what the device says it has, 4 GB where it does not say. */
const device = (navigator as { deviceMemory?: number }).deviceMemory ?? 4;
const forProducts = Math.min(700e6, device * 120e6);
const forPictures = Math.min(400e6, device * 60e6);

/** Computes in the background: keeps the pictures, remembers the products, answers one request at a time. */
class Renderer {
  readonly pictures = new PictureShelf(browserCodec, forPictures, {
    font: (name) => fontFiles[name],
    video: async (name, blob) => (await videos()).VideoFile.open(name, blob),
  });
  readonly memory = new ProductMemory(forProducts);
  private readonly pool = browserPool();
  private readonly tracing = new Tracing();
  /** Ends when what is proposed has been worked out. */
  private proposing?: Promise<void> | undefined;
  /** The matte whose subject was shown last. */
  private coloured?: object;
  private running?: AbortController;
  private exporting?: AbortController;

  /** Says that it is there. */
  ping(): true {
    return true;
  }

  /** Makes a picture known under an identifier that stands for its content. */
  addPicture(id: string, name: string, blob: Blob): void {
    this.pictures.add(id, name, blob);
  }

  readonly inspect = inspect;
  readonly printOf = printOf;
  readonly inspectVideo = inspectVideo;
  readonly inspectSound = inspectSound;

  /**
   * Works a request out, coarse to fine, telling the listener of every product, as far as the line is looked at. A later request
   * cancels this one.
   *
   * @returns whether it was finished (true) or cancelled (false)
   */
  async answer(request: Request, listen: Listener): Promise<boolean> {
    if (request.prints && this.proposing) {
      // Small prints wait for what somebody asked for; if more is asked for meanwhile they are not wanted any more.
      const before = this.running;
      await this.proposing;
      if (this.running !== before) return false;
    }
    this.running?.abort();
    const controller = new AbortController();
    this.running = controller;
    try {
      for (let i = 0; i < request.scales.length; i++) {
        const sharp = i === request.scales.length - 1;
        const context = this.context(request.recipe, request.scales[i], {
          signal: controller.signal,
          progress: (what, fraction) => listen({ kind: 'progress', what, fraction, sharp }),
        });
        if (request.prints) {
          for (const view of request.prints) await this.show(request, view, context, listen);
          continue;
        }
        const isRough = request.first === 'subject';
        if (isRough) await this.showRough(request, context, listen);
        else await this.show(request, request.first, context, listen);
        if (request.first === 'finished') await this.scopes(request.recipe, context, listen);
        if (!sharp) continue;
        await rested(request.rest ?? 0, controller.signal);
        // In a draft the edge has not its own colours yet.
        if (isRough) await this.show(request, request.first, context, listen);
        await this.walk(request, context, listen);
      }
      return true;
    } catch (error) {
      if (isAbort(error)) return false;
      throw error;
    } finally {
      if (this.running === controller) this.running = undefined;
    }
  }

  /** All that is looked at beside what comes first, and its figures. */
  private async walk(request: Request, context: Context, listen: Listener): Promise<void> {
    for (const reach of reaches.slice(0, 1 + reaches.indexOf(request.reach))) {
      const also = reach === request.reach ? (request.also ?? []) : [];
      for (const view of [...also, ...views[reach]]) if (view !== request.first) await this.show(request, view, context, listen);
      if (reach === 'finished' && request.first !== 'finished') await this.scopes(request.recipe, context, listen);
      listen({ kind: 'figures', figures: await figuresOf(reach, request, this, context) });
    }
  }

  /** Stops what is being worked out. */
  cancel(): void {
    this.running?.abort();
  }

  /** How blurred a reference is, and what stands behind before and after the lens. */
  likeness(recipe: Recipe, reference: Reference, scale: number): Promise<Likeness> {
    return likenessOf(this.maker(this.context(recipe, scale)), recipe, reference, scale);
  }

  /** The finished picture of another recipe, beside whatever else is worked out. */
  finished(recipe: Recipe, scale: number): Promise<ImageBitmap> {
    return this.looked(recipe, 'finished', scale);
  }

  /** The checks of another recipe. Stops what is being shown meanwhile. */
  async checks(recipe: Recipe, scale: number): Promise<Check[]> {
    this.running?.abort();
    const controller = new AbortController();
    this.running = controller;
    return render(recipe, this.pictures, 'checks', this.context(recipe, scale, { signal: controller.signal }), this.memory);
  }

  /** A view of a recipe, beside whatever else is worked out. */
  async looked(recipe: Recipe, view: ViewName, scale: number, subject?: string): Promise<ImageBitmap> {
    const bitmap = await bitmapOf(
      await viewOf({ recipe, ...(subject !== undefined && { subject }) }, view, this, this.context(recipe, scale)),
    );
    return Comlink.transfer(bitmap, [bitmap]);
  }

  /** Distance of what is seen at a point of the full-size frame, m. */
  async distanceAt(recipe: Recipe, x: number, y: number, scale: number): Promise<number> {
    const { width, height, data } = await render(recipe, this.pictures, 'distances', this.context(recipe, scale), this.memory);
    const at = (v: number, size: number): number => Math.min(size - 1, Math.max(0, Math.floor(v * scale)));
    return data[at(y, height) * width + at(x, width)];
  }

  /** Mean colour around a point of the full-size frame, linear light: of the finished picture, or of what stands behind. */
  async colourAt(recipe: Recipe, of: 'composite' | 'background', x: number, y: number, scale: number): Promise<[number, number, number]> {
    const p = await render(recipe, this.pictures, of, this.context(recipe, scale), this.memory);
    const region = rasterRegions([{ radius: 5 / scale, points: [[x, y]] }], p.width, p.height, scale);
    return meanColour(withOpacity(p, region));
  }

  /** Stops by which a card's middle is darker than that of the card farthest behind, within drawn strokes where there are any. */
  stopsBehind(recipe: Recipe, id: string, strokes: Region[], scale: number): Promise<number | undefined> {
    return stopsBehind(this.maker(this.context(recipe, scale)), recipe, id, strokes, scale);
  }

  /** The finished picture as a file's bytes. Stops what is being shown meanwhile. */
  async exportPicture(
    recipe: Recipe,
    options: ExportOptions,
    progress: (what: string, fraction: number) => void,
  ): Promise<Uint8Array | undefined> {
    this.running?.abort();
    const controller = new AbortController();
    this.exporting = controller;
    const context = this.context(recipe, options.scale, { signal: controller.signal, progress });
    try {
      const { format, quality, space = 'srgb' } = options;
      let bytes: Uint8Array;
      if (format === 'jpeg' || format === 'webp') {
        const picture = await render(recipe, this.pictures, 'composite', context, this.memory);
        progress('Writing the file', 0.9);
        bytes = await encoded(`image/${format}`, toRgba8(inSpace(picture, space)), picture.width, picture.height, quality, space);
      } else bytes = await handover(format, recipe, this.pictures, context, this.memory, space);
      return Comlink.transfer(bytes, [bytes.buffer as ArrayBuffer]);
    } catch (error) {
      if (isAbort(error)) return undefined;
      throw error;
    } finally {
      this.exporting = undefined;
    }
  }

  /** What stands on a proof sheet. Stops what is being shown meanwhile. */
  async sheet(recipe: Recipe, scale: number, names: Record<string, string>): Promise<SheetInputs> {
    this.running?.abort();
    const encode = async (p: Picture): Promise<string> => {
      const bytes = await browserCodec.encodeJpeg(toRgba8(p), p.width, p.height, 88);
      return `data:image/jpeg;base64,${base64Of(bytes)}`;
    };
    const date = new Date().toISOString().slice(0, 10);
    const nameOf = (id: string): string => names[id] ?? id.slice(0, 8);
    return sheetInputs(recipe, this.pictures, this.context(recipe, scale), this.memory, { encode, nameOf, date });
  }

  /** A job that has time as a video or as numbered pictures; an export of the same that was stopped goes on. Stops what is being shown meanwhile. */
  async exportClip(recipe: Recipe, options: ClipExportOptions, tell: (done: number, of: number) => void): Promise<Blob | undefined> {
    this.running?.abort();
    const controller = new AbortController();
    this.exporting = controller;
    const { exportedClip, exportKey } = await import('./clipExport');
    try {
      return await exportedClip(recipe, options, {
        ...{ pictures: this.pictures, memory: this.memory, tell },
        context: this.context(recipe, options.scale, { signal: controller.signal }),
        soundFile: (id) => this.pictures.file(id).blob,
        room: await frameRoom(exportKey(recipe, options)),
      });
    } catch (error) {
      if (isAbort(error)) return undefined;
      throw error;
    } finally {
      this.exporting = undefined;
    }
  }

  /** Subjects proposed without marks, as marks. Stops what is being shown meanwhile. */
  async findSubject(recipe: Recipe, scale: number, subject?: string): Promise<Mark[][]> {
    return this.propose(recipe, scale, async (context) => {
      const found = await render(recipe, this.pictures, 'found', context, this.memory, subject);
      return found.map((f) => f.marks);
    });
  }

  /** Works out what is proposed, until something else is asked for. */
  private propose<T>(recipe: Recipe, scale: number, work: (context: Context) => Promise<T>): Promise<T> {
    this.running?.abort();
    const controller = new AbortController();
    this.running = controller;
    const working = work(this.context(recipe, scale, { signal: controller.signal }));
    const ended = working.then(
      () => undefined,
      () => undefined,
    );
    this.proposing = ended;
    void ended.then(() => this.proposing === ended && (this.proposing = undefined));
    return working;
  }

  /** What a press on a thing proposes, as marks. Stops what is being shown meanwhile. */
  async pointed(recipe: Recipe, scale: number, at: [number, number], subject?: string): Promise<Mark[][]> {
    return this.propose(recipe, scale, async (context) => {
      const ground = await render(recipe, this.pictures, 'ground', context, this.memory, subject);
      return (await pointedSubject(ground, at, context)).map((f) => f.marks);
    });
  }

  /** The thing that a press or a loop means, as regions that go around it. */
  async thing(recipe: Recipe, scale: number, points: [number, number][], subject?: string): Promise<Region[]> {
    const context = this.context(recipe, scale);
    const ground = await render(recipe, this.pictures, 'ground', context, this.memory, subject);
    return points.length > 2 ? loopedThing(ground, points, context) : pointedThing(ground, points[0], context);
  }

  /** See-through places like the one that is pressed, as outside marks, that one first. Stops what is being shown meanwhile. */
  async gaps(recipe: Recipe, scale: number, at: [number, number], subject?: string): Promise<Mark[]> {
    this.running?.abort();
    const context = this.context(recipe, scale);
    const ground = await render(recipe, this.pictures, 'ground', context, this.memory, subject);
    const { matte } = await render(recipe, this.pictures, 'matte', context, this.memory, subject);
    return gapsLike(ground, matte, at, scale);
  }

  /** The way along contours from one point of the full-size shot to another. */
  async trace(recipe: Recipe, scale: number, from: [number, number], to: [number, number], subject?: string): Promise<[number, number][]> {
    const context = this.context(recipe, scale);
    return this.tracing.way(await render(recipe, this.pictures, 'ground', context, this.memory, subject), from, to, context);
  }

  /** The subject's cast shadow, as regions. Stops what is being shown meanwhile. */
  async findShadow(recipe: Recipe, scale: number, subject?: string): Promise<Region[]> {
    this.running?.abort();
    return render(recipe, this.pictures, 'shadow', this.context(recipe, scale), this.memory, subject);
  }

  /** The matte as a 16-bit grey PNG. */
  async matteFile(recipe: Recipe, scale: number, subject?: string): Promise<Uint8Array<ArrayBuffer>> {
    const context = this.context(recipe, scale);
    const { matte } = await render(recipe, this.pictures, 'matte', context, this.memory, subject);
    const bytes = writePng(matteSamples16(matte)) as Uint8Array<ArrayBuffer>;
    return Comlink.transfer(bytes, [bytes.buffer]);
  }

  cancelExport(): void {
    this.exporting?.abort();
  }

  private maker(context: Context): Make {
    return (recipe, want) => render(recipe, this.pictures, want, context, this.memory);
  }

  private context(recipe: Recipe, scale: number, watched: Pick<Context, 'signal' | 'progress'> = {}): Context {
    return { scale, seed: recipe.seed, ...(this.pool && { pool: this.pool }), ...watched };
  }

  private async scopes(recipe: Recipe, context: Context, listen: Listener): Promise<void> {
    const finished = await render(recipe, this.pictures, 'composite', context, this.memory);
    const cover = await render(recipe, this.pictures, 'cover', context, this.memory);
    if (!context.signal?.aborted) listen({ kind: 'scopes', scopes: scopesOf(finished, cover) });
  }

  private async show(request: Request, view: ViewName, context: Context, listen: Listener): Promise<void> {
    const made = await viewOf(request, view, this, context);
    const token = tokenOf(made.of);
    if (request.has[view] === token) return listen({ kind: 'same', view });
    request.has[view] = token;
    await this.send({ view, token }, made, context, listen);
  }

  /** The subject without its edge colours, unless it is shown with them already or soon is. */
  private async showRough(request: Request, context: Context, listen: Listener): Promise<void> {
    const made = await roughSubject(request, this, context);
    if (this.coloured === made.of) return listen({ kind: 'same', view: 'subject', rough: true });
    const token = (request.has.subject = tokenOf(made.of));
    await this.send({ view: 'subject', token, rough: true }, made, context, listen);
    this.coloured = made.of;
  }

  private async send(what: Omit<Shown, 'bitmap' | 'scale'>, made: View, context: Context, listen: Listener): Promise<void> {
    const bitmap = await bitmapOf(made);
    if (context.signal?.aborted) bitmap.close();
    else listen({ kind: 'shown', shown: { ...what, bitmap, scale: context.scale } });
  }
}

export type { Renderer };

const forward: Renderer['answer'] = Renderer.prototype.answer;
/** Bitmaps are handed over, not copied. */
Renderer.prototype.answer = function (this: Renderer, request, listen) {
  return forward.call(this, request, (answer) =>
    listen(answer.kind === 'shown' ? Comlink.transfer(answer, [answer.shown.bitmap]) : answer),
  );
};

Comlink.expose(new Renderer());
