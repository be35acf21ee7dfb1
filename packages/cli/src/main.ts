import { mkdir } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import {
  centred,
  cornersOf,
  coverUnit,
  defocus,
  edgeColour,
  fromSamples,
  match,
  matteFigures,
  measureTone,
  noTrim,
  over,
  picturesOf,
  place,
  plainContext,
  meanOf,
  plainPlate,
  plate,
  ProductMemory,
  readRecipe,
  render,
  resizePicture,
  scaledSize,
  straightened,
  withOpacity,
  plainScreen,
  matteGround,
  matteOn,
  unmix,
  type Context,
  type Fill,
  type Lens,
  type MatteParams,
  type PictureSource,
  type Recipe,
} from '@ritaglio/core';
import { looksLikeJob, readJob, readPicture } from '@ritaglio/formats';
import { Command, CommanderError, InvalidArgumentError } from 'commander';
import { bytesOf, InputError, marksFrom, matteFrom, nodeCodec, pictureFrom, saveMatte, savePicture, shapesFrom, verdict } from './files';

interface Common {
  scale: number;
  seed: number;
  json?: boolean;
}

interface LensOptions {
  focalLength: number;
  sensorWidth: number;
  fNumber: number;
  focus: number;
}

type Figures = Record<string, unknown>;

function number(text: string): number {
  const n = Number(text);
  if (text.trim() === '' || !Number.isFinite(n)) throw new InvalidArgumentError('it must be a number.');
  return n;
}

function positive(text: string): number {
  const n = number(text);
  if (n <= 0) throw new InvalidArgumentError('it must be above 0.');
  return n;
}

function scaleOf(text: string): number {
  const n = positive(text);
  if (n > 1) throw new InvalidArgumentError('it must be at most 1.');
  return n;
}

function contextOf(options: Common): Context {
  return plainContext({ scale: options.scale, seed: options.seed });
}

function lensOf(o: LensOptions): Lens {
  return { focalLength: o.focalLength, sensorWidth: o.sensorWidth, fNumber: o.fNumber, focus: o.focus };
}

/** Runs a command, prints its figures if asked, and says in one line what went wrong. */
function run<O extends Common>(work: (options: O, ...names: string[]) => Promise<Figures>): (...args: unknown[]) => Promise<void> {
  return async (...args) => {
    const names = args.filter((a): a is string => typeof a === 'string');
    const options = args.find((a): a is O => typeof a === 'object' && a !== null && 'scale' in a)!;
    const start = performance.now();
    try {
      const figures = await work(options, ...names);
      const peakMB = Math.round(process.resourceUsage().maxRSS / 1024);
      if (options.json) process.stdout.write(JSON.stringify({ ...figures, ms: Math.round(performance.now() - start), peakMB }) + '\n');
    } catch (error) {
      const { line, code } = verdict(error);
      process.stderr.write(line + '\n');
      process.exitCode = code;
    }
  };
}

/** A part of the design that is not there yet. */
function notBuilt(what: string): never {
  throw new InputError(`${what} is not built yet.`);
}

const program = new Command('ritaglio')
  .description('Cut out, clean plate, lens blur, match: the same line of products from a terminal.')
  .version('0.1.0')
  .exitOverride()
  .configureOutput({ writeErr: (text) => process.stderr.write(text.replace(/^error: /, '')) });

function command(usage: string, description: string): Command {
  return program
    .command(usage)
    .description(description)
    .exitOverride()
    .option('--scale <n>', 'size of the result per full size, up to 1', scaleOf, 1)
    .option('--seed <n>', 'seed of every random choice', number, 1)
    .option('--json', 'print figures as one JSON line');
}

function withLens(c: Command): Command {
  return c
    .requiredOption('--focal-length <mm>', 'focal length', positive)
    .requiredOption('--sensor-width <mm>', 'width of the sensor', positive)
    .requiredOption('--f-number <n>', 'aperture', positive)
    .requiredOption('--focus <m>', 'distance of what is sharp', positive);
}

command('matte <shot>', 'opacity of the subject from marks')
  .option('--marks <file>', 'strokes as JSON; needed unless there is a screen or a plate')
  .option('--garbage <file>', 'rough shape outside which nothing is subject')
  .option('--screen <colour>', 'auto, a colour, or none')
  .option('--plate <file>', 'photographed plate for a difference matte')
  .option('--subject <file>', 'also write the subject with its edge colour')
  .requiredOption('--out <file>', 'the matte, 16-bit PNG')
  .action(
    run<Common & { marks?: string; garbage?: string; screen?: string; plate?: string; subject?: string; out: string }>(
      async (o, shotPath) => {
        const screen = o.screen && o.screen !== 'none' ? o.screen : undefined;
        if (screen && o.plate) throw new InputError('Take either --screen or --plate, not both.');
        if (screen && screen !== 'auto' && !/^#[0-9a-f]{6}$/i.test(screen)) {
          throw new InputError(`--screen takes auto, none or a colour as #rrggbb; “${screen}” is none of them.`);
        }
        if (!o.marks && !screen && !o.plate) throw new InputError('Say what is subject: --marks FILE, --screen COLOUR or --plate PICTURE.');
        const params: MatteParams = {
          cut: screen ? 'screen' : o.plate ? 'difference' : 'marks',
          marks: o.marks ? await marksFrom(o.marks) : [],
          garbage: o.garbage ? await shapesFrom(o.garbage) : [],
          ...(screen && { screen: { ...plainScreen, colour: screen } }),
          trim: noTrim,
        };
        const shot = await pictureFrom(shotPath, o.scale);
        const plate = o.plate ? await pictureFrom(o.plate, o.scale) : undefined;
        const context = contextOf(o);
        const product = await matteOn({ ground: await matteGround(shot, context), ...(plate && { plate }) }, params, context);
        await saveMatte(o.out, product.matte);
        if (o.subject) await savePicture(o.subject, (await unmix(shot, product, plainScreen.spill, context)).subject);
        if (product.note) process.stderr.write(product.note + '\n');
        return { width: shot.width, height: shot.height, ...matteFigures(product.matte, 24 * o.scale ** 2), solved: product.solved };
      },
    ),
  );

interface PlateOptions {
  method: string;
  grow: string;
  feather: number;
}

const methods = ['patch', 'smooth', 'stretch', 'borrowed', 'photographed'] as const;

/** The fill that the options ask for. */
async function fillOf(o: PlateOptions & { source?: string; reference?: string }): Promise<Fill> {
  const method = methods.find((m) => m === o.method);
  if (!method) throw new InputError(`--method takes ${methods.join(', ')}; “${o.method}” is none of them.`);
  if (method === 'borrowed') {
    if (!o.source) throw new InputError('Say where to borrow from: --source REGION.json, shapes as for --garbage.');
    const from = (await shapesFrom(o.source)).map((shape) => ({ radius: 1, filled: true, points: cornersOf(shape) }));
    return { kind: method, from, x: 0, y: 0, tries: 1, taken: 1 };
  }
  if (method === 'photographed') {
    if (!o.reference) throw new InputError('Give the photographed plate: --reference PICTURE.');
    return { kind: method, picture: o.reference };
  }
  return method === 'patch' ? { kind: method, tries: 1, taken: 1 } : { kind: method };
}

function growOf(text: string): number | 'auto' {
  if (text === 'auto') return 'auto';
  const n = Number(text);
  if (!(n >= 0)) throw new InputError('--grow takes auto or a number of pixels.');
  return n;
}

command('plate <shot>', 'the shot with the subject gone')
  .requiredOption('--matte <file>', 'the subject’s matte')
  .option('--method <name>', `${methods.join(', ')}`, 'patch')
  .option('--grow <px>', 'auto, or pixels', 'auto')
  .option('--feather <px>', 'softness of the hole’s rim', number, 1)
  .option('--source <file>', 'region to borrow from')
  .option('--reference <file>', 'photographed plate')
  .requiredOption('--out <file>', 'the plate')
  .action(
    run<Common & PlateOptions & { matte: string; source?: string; reference?: string; out: string }>(async (o, shotPath) => {
      const fill = await fillOf(o);
      const shot = withOpacity(await pictureFrom(shotPath, o.scale));
      const opacity = await matteFrom(o.matte, shot.width, shot.height);
      const { behind } = await edgeColour(shot, opacity, contextOf(o));
      const inputs = { shot, behind, matte: opacity, photographed: (path: string) => pictureFrom(path, o.scale) };
      const params = { ...plainPlate, fill, grow: growOf(o.grow), feather: o.feather };
      const product = await plate(inputs, params, contextOf(o));
      await savePicture(o.out, product.plate);
      for (const note of product.notes) process.stderr.write(note + '\n');
      const { grow, suggested, softness, contaminated, fits, repeats } = product;
      return {
        grow,
        suggested,
        softness,
        contaminated,
        hole: meanOf(product.hole),
        repeats: repeats.length,
        ...(fits !== undefined && { fits }),
      };
    }),
  );

withLens(command('lens <picture>', 'a picture as a lens sees it'))
  .option('--depth <file>', 'distance of every pixel')
  .option('--depth-max <m>', 'distance of the brightest code', positive)
  .option('--distance <m>', 'one distance for all', positive)
  .option('--lift <stops>', 'light given back to lamps', number)
  .option('--blades <n>', 'blades of the aperture', number)
  .requiredOption('--out <file>', 'the blurred picture')
  .action(
    run<Common & LensOptions & { depth?: string; distance?: number; lift?: number; blades?: number; out: string }>(async (o, path) => {
      if (o.depth) notBuilt('A distance for every pixel (--depth)');
      if (o.lift !== undefined) notBuilt('--lift');
      if (o.blades !== undefined) notBuilt('--blades');
      if (o.distance === undefined) throw new InputError('Say how far the picture is: --distance METRES.');
      const full = await pictureFrom(path);
      const { width, height } = scaledSize(full.width, full.height, o.scale);
      const blurred = await defocus(resizePicture(full, width, height), o.distance, lensOf(o), full.width, contextOf(o));
      await savePicture(o.out, blurred);
      return { width, height };
    }),
  );

withLens(command('compose <shot>', 'the subject over its blurred plate or a new background'))
  .requiredOption('--matte <file>', 'the subject’s matte')
  .option('--plate <file>', 'a plate; made if not given')
  .option('--background <file>', 'a new background instead of the plate')
  .option('--distance <m>', 'distance of what is behind', positive, 20)
  .option('--subject-distance <m>', 'distance of the subject; default the focus', positive)
  .option('--depth <file>', 'distance of every pixel')
  .option('--depth-max <m>', 'distance of the brightest code', positive)
  .option('--lift <stops>', 'light given back to lamps', number)
  .option('--blades <n>', 'blades of the aperture', number)
  .option('--no-match', 'leave cast and tone as they are')
  .requiredOption('--out <file>', 'the finished picture')
  .action(
    run<
      Common &
        LensOptions & {
          matte: string;
          plate?: string;
          background?: string;
          distance: number;
          subjectDistance?: number;
          depth?: string;
          lift?: number;
          blades?: number;
          match: boolean;
          out: string;
        }
    >(async (o, shotPath) => {
      if (o.depth) notBuilt('A distance for every pixel (--depth)');
      if (o.lift !== undefined) notBuilt('--lift');
      if (o.blades !== undefined) notBuilt('--blades');
      const context = contextOf(o);
      const full = await pictureFrom(shotPath);
      const size = scaledSize(full.width, full.height, o.scale);
      const shot = withOpacity(resizePicture(full, size.width, size.height));
      const opacity = await matteFrom(o.matte, size.width, size.height);
      let { subject, behind } = await edgeColour(shot, opacity, context);
      if (o.background) {
        const picture = await pictureFrom(o.background);
        behind = place(picture, size.width, size.height, coverUnit(picture, size.width, size.height), centred, o.scale);
      } else if (o.plate) behind = resizePicture(await pictureFrom(o.plate), size.width, size.height);
      else behind = (await plate({ shot, behind, matte: opacity }, plainPlate, context)).plate;
      behind = await defocus(behind, o.distance, lensOf(o), full.width, context);
      // A subject before its own plate is lit alike already.
      if (o.match && o.background) {
        subject = await match(subject, measureTone(subject), measureTone(behind), { cast: 0.5, tone: 0.5 }, context);
      }
      if (o.subjectDistance) subject = await defocus(subject, o.subjectDistance, lensOf(o), full.width, context);
      await savePicture(o.out, over(subject, behind));
      return { ...size };
    }),
  );

command('match <picture>', 'cast and tone of a picture moved to a reference’s')
  .requiredOption('--reference <file>', 'the picture to match')
  .option('--mask <file>', 'which part of the picture is measured and moved')
  .requiredOption('--out <file>', 'the matched picture')
  .action(
    run<Common & { reference: string; mask?: string; out: string }>(async (o, path) => {
      const picture = await pictureFrom(path, o.scale);
      const mask = o.mask ? await matteFrom(o.mask, picture.width, picture.height) : undefined;
      const before = measureTone(picture, mask?.data ?? picture.a);
      const wanted = measureTone(await pictureFrom(o.reference));
      const moved = await match(picture, before, wanted, { cast: 1, tone: 1 }, contextOf(o));
      const result = mask ? over(withOpacity(moved, mask), picture) : moved;
      await savePicture(o.out, result);
      return { before, wanted, after: measureTone(result, mask?.data ?? result.a) };
    }),
  );

/** A recipe and its pictures from an archive, or from a recipe file beside its pictures. */
async function jobFrom(path: string): Promise<{ recipe: Recipe; source: PictureSource }> {
  const bytes = await bytesOf(path);
  const pictures = new Map<string, { name: string; bytes: Uint8Array }>();
  let recipe: Recipe;
  if (looksLikeJob(bytes)) {
    const job = readJob(basename(path), bytes);
    recipe = job.recipe;
    for (const p of job.pictures) pictures.set(p.id, p);
  } else {
    let data: unknown;
    try {
      data = JSON.parse(new TextDecoder().decode(bytes));
    } catch {
      throw new InputError(`“${path}” is neither a job archive nor a recipe in JSON.`);
    }
    const held = data as { recipe?: unknown; pictures?: { id: string; file: string }[] };
    recipe = readRecipe(held.recipe ?? data);
    for (const id of picturesOf(recipe)) {
      const file = held.pictures?.find((p) => p.id === id)?.file ?? id;
      pictures.set(id, { name: file, bytes: await bytesOf(join(dirname(path), file)) });
    }
  }
  const source: PictureSource = {
    key: (id) => id,
    async load(id, scale, multiplied) {
      const file = pictures.get(id)!;
      const { samples } = await readPicture(file.name, file.bytes, nodeCodec);
      const picture = fromSamples(multiplied ? straightened(samples, multiplied) : samples);
      const { width, height } = scaledSize(picture.width, picture.height, scale);
      return resizePicture(picture, width, height);
    },
  };
  return { recipe, source };
}

const wants = ['matte', 'subject', 'plate', 'background', 'composite'] as const;

command('render <recipe>', 'products of a recipe or a job archive')
  .requiredOption('--out <dir>', 'folder for the results')
  .option('--want <list>', wants.join(','), 'composite')
  .action(
    run<Common & { out: string; want: string }>(async (o, path) => {
      const list = o.want.split(',');
      const unknown = list.find((w) => !(wants as readonly string[]).includes(w));
      if (unknown) throw new InputError(`--want takes ${wants.join(', ')}; “${unknown}” is none of them.`);
      const { recipe, source } = await jobFrom(path);
      await mkdir(o.out, { recursive: true });
      const context = plainContext({ scale: o.scale, seed: recipe.seed });
      const memory = new ProductMemory();
      const written: string[] = [];
      for (const want of list as (typeof wants)[number][]) {
        const file = join(o.out, `${want}.png`);
        if (want === 'matte') await saveMatte(file, (await render(recipe, source, 'matte', context, memory)).matte);
        else if (want === 'plate') await savePicture(file, (await render(recipe, source, 'plate', context, memory)).plate);
        else await savePicture(file, await render(recipe, source, want, context, memory));
        written.push(file);
      }
      return { written };
    }),
  );

for (const [usage, what] of [
  ['measure <picture>', 'The command measure'],
  ['proof <recipe>', 'The command proof'],
] as const) {
  command(usage, 'not built yet')
    .allowUnknownOption()
    .action(run<Common>(async () => notBuilt(what)));
}

try {
  await program.parseAsync();
} catch (error) {
  if (!(error instanceof CommanderError)) throw error;
  // Help and version end with 0; anything else that commander refuses is bad input.
  process.exitCode = error.exitCode === 0 ? 0 : 2;
}
