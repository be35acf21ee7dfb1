import { mkdir } from 'node:fs/promises';
import { extname, join } from 'node:path';
import {
  boundsOf,
  cornersOf,
  edgeColour,
  matteFigures,
  noTrim,
  meanOf,
  defaultPlate,
  plate,
  ProductMemory,
  momentOf,
  renderFrame,
  render,
  withOpacity,
  defaultScreen,
  matteGround,
  matteOn,
  unmix,
  type Fill,
  type MatteParams,
  type Products,
} from '@ritaglio/core';
import { handover, type HandoverKind } from '@ritaglio/formats';
import { CommanderError } from 'commander';
import { lastingOf, matteClip, plateClip, type ClipMatteOptions } from './clipCommands';
import { isClip, outFolder, tell, wantedFrames } from './clips';
import { command, contextOf, parameterOption, positive, program, run, type Common } from './command';
import { InputError, marksFrom, matteFrom, pictureFrom, saveMatte, savePicture, shapesFrom, writeBytes } from './files';
import { jobFrom } from './jobs';
import { addProofCommand } from './proofCommand';
import { addSeriesCommand } from './seriesCommand';
import { addLensCommands } from './lensCommands';

command('matte <shot>', 'opacity of the subject from marks; of a picture, or of a folder of numbered frames')
  .option('--marks <file>', 'strokes as JSON; needed unless there is a screen or a plate')
  .option('--garbage <file>', 'rough shape outside which nothing is subject')
  .option('--screen <colour>', 'auto, a colour, or none')
  .option('--plate <file>', 'photographed plate for a difference matte')
  .option('--subject <file>', 'also write the subject with its edge colour; of a clip a folder')
  .option('--frames <a-b>', 'of a clip only these frames, by the numbers in their names')
  .option('--rate <n>', 'frames a second of a clip: the figures then tell how long it lasts', positive)
  .requiredOption('--out <file>', 'the matte, 16-bit PNG; of a clip a folder')
  .action(
    run<ClipMatteOptions & { garbage?: string; screen?: string }>(async (o, shotPath) => {
      const screen = o.screen && o.screen !== 'none' ? o.screen : undefined;
      if (screen && o.plate) throw new InputError('Take either --screen or --plate, not both.');
      if (screen && screen !== 'auto' && !/^#[0-9a-f]{6}$/i.test(screen)) {
        throw new InputError(`--screen takes auto, none or a colour as #rrggbb; “${screen}” is none of them.`);
      }
      if (!o.marks && !screen && !o.plate) throw new InputError('Say what is subject: --marks FILE, --screen COLOUR or --plate PICTURE.');
      const params: MatteParams = {
        cut: screen ? 'screen' : o.plate ? 'difference' : 'marks',
        marks: o.marks && !(screen === undefined && !o.plate && (await isClip(shotPath))) ? await marksFrom(o.marks) : [],
        garbage: o.garbage ? await shapesFrom(o.garbage) : [],
        ...(screen && { screen: { ...defaultScreen, colour: screen } }),
        trim: noTrim,
      };
      const context = contextOf(o);
      if (await isClip(shotPath)) return matteClip(o, shotPath, params, context);
      const shot = await pictureFrom(shotPath, context);
      const plate = o.plate ? await pictureFrom(o.plate, context) : undefined;
      const product = await matteOn({ ground: await matteGround(shot, context), ...(plate && { plate }) }, params, context);
      await saveMatte(o.out, product.matte);
      if (o.subject) await savePicture(o.subject, (await unmix(shot, product, defaultScreen.spill, context)).subject);
      if (product.note) process.stderr.write(product.note + '\n');
      return { width: shot.width, height: shot.height, ...matteFigures(product.matte, 24 * o.scale ** 2), solved: product.solved };
    }),
  );

interface PlateOptions {
  method?: string;
  grow: string;
  feather: number;
}

const methods = ['patch', 'smooth', 'stretch', 'borrowed', 'photographed'] as const;

/** The fill that the options ask for. */
async function fillOf(o: PlateOptions & { source?: string; reference?: string }): Promise<Fill> {
  const method = methods.find((m) => m === (o.method ?? 'patch'));
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
  const { least, most } = boundsOf('plate.grow');
  if (!(n >= least && n <= most)) throw new InputError(`--grow takes auto or pixels from ${least} to ${most}; “${text}” is neither.`);
  return n;
}

parameterOption(
  command('plate <shot>', 'the shot with the subject gone; of a picture, or of a folder of numbered frames'),
  '--feather <px>',
  'plate.feather',
  'usual',
)
  .requiredOption('--matte <file>', 'the subject’s matte; of a clip a folder of them')
  .option('--method <name>', `${methods.join(', ')}; patch if not given, of a clip what its own frames show`)
  .option('--grow <px>', 'auto, or pixels', 'auto')
  .option('--source <file>', 'region to borrow from')
  .option('--reference <file>', 'photographed plate')
  .option('--frames <a-b>', 'of a clip only these frames, by the numbers in their names')
  .option('--rate <n>', 'frames a second of a clip: the figures then tell how long it lasts', positive)
  .requiredOption('--out <file>', 'the plate; of a clip a folder')
  .action(
    run<Common & PlateOptions & { matte: string; source?: string; reference?: string; frames?: string; rate?: number; out: string }>(
      async (o, shotPath) => {
        const context = contextOf(o);
        if (await isClip(shotPath)) {
          const fill =
            o.method === undefined && o.reference === undefined
              ? undefined
              : await fillOf({ ...o, ...(o.reference && { method: 'photographed' }) });
          return plateClip({ ...o, grow: growOf(o.grow) }, shotPath, fill, context);
        }
        const fill = await fillOf(o);
        const shot = withOpacity(await pictureFrom(shotPath, context));
        const opacity = await matteFrom(o.matte, shot.width, shot.height, context);
        const { behind } = await edgeColour(shot, opacity, context);
        const inputs = { shot, behind, matte: opacity, photographed: (path: string) => pictureFrom(path, context) };
        const params = { ...defaultPlate, fill, grow: growOf(o.grow), feather: o.feather };
        const product = await plate(inputs, params, context);
        await savePicture(o.out, product.plate);
        for (const note of product.notes) process.stderr.write(note + '\n');
        const { grow, suggested, softness, contaminated, left, fits, repeats } = product;
        return {
          grow,
          suggested,
          softness,
          contaminated,
          left: left.width ?? null,
          hole: meanOf(product.hole),
          repeats: repeats.length,
          ...(fits !== undefined && { fits }),
        };
      },
    ),
  );

const wants = ['matte', 'subject', 'plate', 'background', 'composite'] as const;

function wantedProducts(text: string): (typeof wants)[number][] {
  const list = text.split(',');
  const unknown = list.find((w) => !(wants as readonly string[]).includes(w));
  if (unknown) throw new InputError(`--want takes ${wants.join(', ')}; “${unknown}” is none of them.`);
  return list as (typeof wants)[number][];
}

type Make = <W extends (typeof wants)[number]>(want: W) => Promise<Products[W]>;

/** Writes one product of a recipe. */
async function writeProduct(file: string, want: (typeof wants)[number], make: Make): Promise<void> {
  if (want === 'matte') await saveMatte(file, (await make('matte')).matte);
  else if (want === 'plate') await savePicture(file, (await make('plate')).plate);
  else await savePicture(file, await make(want));
}

command('render <recipe>', 'products of a recipe or a job archive')
  .requiredOption('--out <dir>', 'folder for the results')
  .option('--want <list>', wants.join(','), 'composite')
  .action(
    run<Common & { out: string; want: string }>(async (o, path) => {
      const list = wantedProducts(o.want);
      const { recipe: kept, source } = await jobFrom(path);
      const recipe = { ...kept, seed: o.seed ?? kept.seed };
      await mkdir(o.out, { recursive: true });
      const context = contextOf({ scale: o.scale, seed: recipe.seed });
      const memory = new ProductMemory();
      const written: string[] = [];
      for (const want of list) {
        const file = join(o.out, `${want}.png`);
        await writeProduct(file, want, (product) => render(recipe, source, product, context, memory));
        written.push(file);
      }
      return { written };
    }),
  );

command('clip <recipe>', 'frames of a recipe or a job archive that has time, as numbered pictures')
  .requiredOption('--out <dir>', 'folder for the frames')
  .option('--want <list>', wants.join(','), 'composite')
  .option('--frames <a-b>', 'only these frames of the job, from 1')
  .action(
    run<Common & { out: string; want: string; frames?: string }>(async (o, path) => {
      const list = wantedProducts(o.want);
      const { recipe: kept, source } = await jobFrom(path);
      if (!kept.time) throw new InputError(`“${path}” has no time: it is a still, for which there is render.`);
      const recipe = { ...kept, seed: o.seed ?? kept.seed };
      const { first, last, rate } = kept.time;
      const all = { numbers: Array.from({ length: last - first + 1 }, (_, i) => first + i + 1) };
      const wanted = wantedFrames(o.frames, all).map((i) => all.numbers[i]);
      const out = outFolder(o.out);
      const context = contextOf({ scale: o.scale, seed: recipe.seed });
      const memory = new ProductMemory();
      const digits = Math.max(4, String(last + 1).length);
      for (const [k, number] of wanted.entries()) {
        const moment = momentOf(recipe, number - 1);
        const make: Make = (want) => render(moment, source, want, context, memory);
        for (const want of list) {
          const file = join(out, `${want}-${String(number).padStart(digits, '0')}.png`);
          if (want === 'composite') await savePicture(file, await renderFrame(recipe, number - 1, source, context, memory));
          else await writeProduct(file, want, make);
        }
        tell('Frame', k + 1, wanted.length);
      }
      return { ...lastingOf(wanted.length, rate.frames / rate.seconds), written: wanted.length * list.length };
    }),
  );

addLensCommands();

addProofCommand(jobFrom);
addSeriesCommand(jobFrom);

const byEnding: Record<string, HandoverKind> = { '.tif': 'tiff16', '.tiff': 'tiff16', '.ora': 'ora', '.exr': 'exr', '.clf': 'clf' };

command('export <recipe>', 'the finished picture, its layers, its linear light or its grade, by the file’s ending')
  .requiredOption('--out <file>', '.png (16 bits), .jpg, .webp, .avif, .tif, .ora, .exr or .clf')
  .option('--colours <space>', 'of a plain picture: srgb or display-p3', 'srgb')
  .action(
    run<Common & { out: string; colours: string }>(async (o, path) => {
      const ending = extname(o.out).toLowerCase();
      const kind = byEnding[ending];
      if (!kind && !['.png', '.jpg', '.jpeg', '.webp', '.avif'].includes(ending)) {
        throw new InputError(`“${o.out}”: what leaves is .png, .jpg, .webp, .avif, .tif, .ora, .exr or .clf.`);
      }
      const { colours: space } = o;
      if (space !== 'srgb' && space !== 'display-p3') throw new InputError(`--colours is srgb or display-p3; “${space}” is neither.`);
      const { recipe: kept, source } = await jobFrom(path);
      const recipe = momentOf({ ...kept, seed: o.seed ?? kept.seed }, kept.time?.first ?? 0);
      const context = contextOf({ scale: o.scale, seed: recipe.seed });
      if (kind) await writeBytes(o.out, await handover(kind, recipe, source, context, new ProductMemory(), space));
      else await savePicture(o.out, await render(recipe, source, 'composite', context), space);
      return { written: o.out };
    }),
  );

/** Runs one command. @param argv as a process has them: the first two are not looked at */
export async function main(argv: readonly string[]): Promise<void> {
  try {
    await program.parseAsync(argv);
  } catch (error) {
    if (!(error instanceof CommanderError)) throw error;
    // Help and version end with 0; anything else that commander refuses is bad input.
    process.exitCode = error.exitCode === 0 ? 0 : 2;
  }
}
