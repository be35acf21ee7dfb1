import { join } from 'node:path';
import {
  centred,
  coverUnit,
  defocus,
  edgeColour,
  findBanding,
  findLamps,
  graded,
  measureBlur,
  measureGrain,
  measureTone,
  opticsOf,
  over,
  place,
  lampsFor,
  defaultPlate,
  plate,
  resizePicture,
  roundAperture,
  sampleColours,
  scaledSize,
  seenLamps,
  restrained,
  solveGrade,
  toneOf,
  wayTo,
  withOpacity,
  type Aperture,
  type Context,
  type Grade,
  type LampParams,
  type Optics,
  type Picture,
  type Plane,
  type Strengths,
} from '@ritaglio/core';
import type { Command } from 'commander';
import { clipFrom, isClip, mattesFrom, outFolder, picturesFor, tell, wantedFrames } from './clips';
import { groundOfClip, lastingOf } from './clipCommands';
import { command, contextOf, parameterOption, positive, run, type Common, type Figures } from './command';
import { InputError, matteFrom, pictureFrom, savePicture } from './files';

interface LensOptions {
  focalLength: number;
  sensorWidth: number;
  fNumber: number;
  focus: number;
  depth?: string;
  depthMax?: number;
  lift?: number;
  blades?: number;
}

function withLens(c: Command): Command {
  parameterOption(c, '--focal-length <mm>', 'lens.focalLength', 'needed');
  parameterOption(c, '--sensor-width <mm>', 'lens.sensorWidth', 'needed');
  parameterOption(c, '--f-number <n>', 'lens.fNumber', 'needed');
  parameterOption(c, '--focus <m>', 'lens.focus', 'needed');
  c.option('--depth <file>', 'distance of every pixel: 16-bit grey, even steps, black where nothing is known');
  c.option('--depth-max <m>', 'distance of the brightest code', positive);
  parameterOption(c, '--lift <stops>', 'lamps.lift', 'free', '; proposed by the picture if not given');
  return parameterOption(c, '--blades <n>', 'aperture.blades', 'free', '; round without');
}

function opticsFrom(o: LensOptions, across: number): Optics {
  const aperture: Aperture = o.blades === undefined ? roundAperture : { ...roundAperture, shape: 'blades', blades: o.blades };
  return opticsOf({ focalLength: o.focalLength, sensorWidth: o.sensorWidth, fNumber: o.fNumber, focus: o.focus }, across, aperture);
}

/** Distance of every pixel from the file of it, if there is one. */
async function depthFrom(o: LensOptions, width: number, height: number, context: Context): Promise<Plane | undefined> {
  if (!o.depth) return undefined;
  const far = o.depthMax;
  if (far === undefined) throw new InputError('Say which distance the brightest code of --depth stands for: --depth-max METRES.');
  const distance = await matteFrom(o.depth, width, height, context);
  const { data } = distance;
  for (let p = 0; p < data.length; p++) data[p] = data[p] > 0 ? Math.max(0.05, data[p] * far) : far;
  return distance;
}

/** A picture through the lens, its lamps lifted. */
async function throughLens(
  p: Picture,
  o: Common & LensOptions,
  distance: number | Plane,
  across: number,
): Promise<{ picture: Picture; lamps: number }> {
  const full = { width: p.width / o.scale, height: p.height / o.scale };
  const params: LampParams = { ...lampsFor(full), lift: o.lift ?? 'auto' };
  const found = params.lift === 0 ? { lamps: [], proposed: 0 } : findLamps(p, params, contextOf(o));
  const lamps = seenLamps(found, params, (x, y) => ({ x: x * o.scale, y: y * o.scale, size: o.scale }));
  return { picture: await defocus(p, distance, opticsFrom(o, across), contextOf(o), lamps), lamps: lamps.length };
}

type ComposeOptions = LensOptions & { distance: number; subjectDistance?: number; match: boolean };

/**
 * The subject over what is behind it.
 *
 * @param full the shot at full size
 * @param given what is behind: a plate, or a new background; neither has the plate made
 * @param held the grade to take instead of one that is solved here
 */
async function composed(
  full: Picture,
  opacity: Plane,
  given: { plate?: Picture; background?: Picture },
  o: Common & ComposeOptions,
  context: Context,
  held?: Grade,
): Promise<{ picture: Picture; lamps: number; grade?: Grade }> {
  const size = scaledSize(full.width, full.height, o.scale);
  const shot = withOpacity(resizePicture(full, size.width, size.height));
  let { subject, behind } = await edgeColour(shot, opacity, context);
  if (given.background) {
    const { background } = given;
    const frame = { width: full.width, height: full.height, x: 0, y: 0, turn: 0 };
    const way = wayTo(background, coverUnit(background, size.width, size.height), centred, frame, o.scale);
    behind = place(background, size.width, size.height, way);
  } else if (given.plate) behind = resizePicture(given.plate, size.width, size.height);
  else behind = (await plate({ shot, behind, matte: opacity }, defaultPlate, context)).plate;
  const distance = (await depthFrom(o, size.width, size.height, context)) ?? o.distance;
  const { picture, lamps } = await throughLens(behind, o, distance, full.width);
  // A subject before its own plate is lit alike already.
  let grade = held;
  if (o.match && given.background) {
    grade ??= solveGrade(sampleColours(subject), measureTone(picture), restrained, { glow: true });
    subject = await graded(subject, grade, context, { glow: true });
  }
  if (o.subjectDistance) subject = await defocus(subject, o.subjectDistance, opticsFrom(o, full.width), context);
  return { picture: over(subject, picture), lamps, ...(grade && { grade }) };
}

/** The same for every frame of a clip, with the grade of the middle one in all of them. */
async function composeClip(
  o: Common & ComposeOptions & { frames?: string; rate?: number; matte: string; plate?: string; background?: string; out: string },
  path: string,
  context: Context,
): Promise<Figures> {
  const full = { ...context, scale: 1 };
  const clip = await clipFrom(path, full);
  const { frames } = clip;
  const mattes = await mattesFrom(o.matte, clip, context);
  const plates = o.plate === undefined ? undefined : await picturesFor(o.plate, clip, full);
  const backgrounds = o.background === undefined ? undefined : await picturesFor(o.background, clip, full);
  const ground = plates || backgrounds ? undefined : await groundOfClip(clip, o.matte, full);
  const one = async (i: number, grade?: Grade): ReturnType<typeof composed> => {
    const shot = await frames.load(i);
    const given = {
      ...(plates && { plate: await plates(i) }),
      ...(ground && { plate: await ground(i) }),
      ...(backgrounds && { background: await backgrounds(i) }),
    };
    return composed(shot, await mattes(i, scaledSize(shot.width, shot.height, o.scale)), given, o, context, grade);
  };
  const out = outFolder(o.out);
  const wanted = wantedFrames(o.frames, clip);
  const { grade } = backgrounds && o.match ? await one(Math.floor(frames.count / 2)) : {};
  for (const [k, i] of wanted.entries()) {
    await savePicture(join(out, `${clip.names[i]}.png`), (await one(i, grade)).picture);
    tell('Frame', k + 1, wanted.length);
  }
  return lastingOf(wanted.length, o.rate);
}

/** The commands that blur, lay together, match and measure. */
export function addLensCommands(): void {
  withLens(command('lens <picture>', 'a picture as a lens sees it'))
    .option('--distance <m>', 'one distance for all', positive)
    .requiredOption('--out <file>', 'the blurred picture')
    .action(
      run<Common & LensOptions & { distance?: number; out: string }>(async (o, path) => {
        const context = contextOf(o);
        const full = await pictureFrom(path, context, 1);
        const { width, height } = scaledSize(full.width, full.height, o.scale);
        const distance = (await depthFrom(o, width, height, context)) ?? o.distance;
        if (distance === undefined)
          throw new InputError('Say how far the picture is: --distance METRES, or --depth FILE --depth-max METRES.');
        const { picture, lamps } = await throughLens(resizePicture(full, width, height), o, distance, full.width);
        await savePicture(o.out, picture);
        return { width, height, lamps };
      }),
    );

  withLens(command('compose <shot>', 'the subject over its blurred plate or a new background; or a folder of frames'))
    .requiredOption('--matte <file>', 'the subject’s matte; of a folder of frames a folder')
    .option('--plate <file>', 'a plate, or of frames a folder of plates; made if not given')
    .option('--background <file>', 'a new background instead of the plate; of frames it may be a folder')
    .option('--distance <m>', 'distance of what is behind', positive, 20)
    .option('--subject-distance <m>', 'distance of the subject; default the focus', positive)
    .option('--no-match', 'leave cast and tone as they are')
    .option('--frames <a-b>', 'of a clip only these frames, by the numbers in their names')
    .option('--rate <n>', 'frames a second of a clip: the figures then tell how long it lasts', positive)
    .requiredOption('--out <file>', 'the finished picture; of a clip a folder')
    .action(
      run<Common & ComposeOptions & { frames?: string; rate?: number; matte: string; plate?: string; background?: string; out: string }>(
        async (o, shotPath) => {
          const context = contextOf(o);
          if (await isClip(shotPath)) return composeClip(o, shotPath, context);
          const full = await pictureFrom(shotPath, context, 1);
          const { width, height } = scaledSize(full.width, full.height, o.scale);
          const opacity = await matteFrom(o.matte, width, height, context);
          const given = {
            ...(o.plate && { plate: await pictureFrom(o.plate, context, 1) }),
            ...(o.background && { background: await pictureFrom(o.background, context, 1) }),
          };
          const { picture, lamps } = await composed(full, opacity, given, o, context);
          await savePicture(o.out, picture);
          return { width, height, lamps };
        },
      ),
    );

  command('match <picture>', 'cast and tone of a picture moved to a reference’s')
    .requiredOption('--reference <file>', 'the picture to match')
    .option('--mask <file>', 'which part of the picture is measured and moved')
    .requiredOption('--out <file>', 'the matched picture')
    .action(
      run<Common & { reference: string; mask?: string; out: string }>(async (o, path) => {
        const context = contextOf(o);
        const picture = await pictureFrom(path, context);
        const mask = o.mask ? await matteFrom(o.mask, picture.width, picture.height, context) : undefined;
        const sample = sampleColours(picture, mask?.data ?? picture.a);
        const before = toneOf(sample);
        const wanted = measureTone(await pictureFrom(o.reference, context, 1));
        const grade = solveGrade(sample, wanted, allStrengths(1));
        const moved = await graded(picture, grade, context);
        const result = mask ? over(withOpacity(moved, mask), picture) : moved;
        await savePicture(o.out, result);
        return { before, wanted, after: measureTone(result, mask?.data ?? result.a), grade };
      }),
    );

  command('measure <picture>', 'blur, grain, cast, tone, banding and lamps of a picture')
    .option('--box <x,y,w,h>', 'only within this box, px')
    .action(
      run<Common & { box?: string }>(async (o, path) => {
        const context = contextOf(o);
        const picture = await pictureFrom(path, context);
        const weight = o.box === undefined ? undefined : boxOf(o.box, picture, o.scale);
        const blur = measureBlur(picture, weight);
        const grain = measureGrain(picture, weight);
        const { lamps } = findLamps(picture, lampsFor({ width: picture.width / o.scale, height: picture.height / o.scale }), context);
        const figures = {
          blur: blur ? { sigma: blur.sigma / o.scale, disc: blur.diameter / o.scale, edges: blur.edges } : null,
          grain: grain ? { sigma: grain.level, size: grain.size / o.scale, byTone: grain.byTone } : null,
          tone: measureTone(picture, weight?.data ?? picture.a),
          banding: findBanding(picture).share,
          lamps: lamps.length,
        };
        if (!o.json) process.stdout.write(JSON.stringify(figures, null, 1) + '\n');
        return figures;
      }),
    );
}

function allStrengths(v: number): Strengths {
  return { cast: v, tint: v, black: v, white: v, middle: v, contrast: v, saturation: v };
}

/** 1 within a box given as x,y,w,h in px of the full-size picture. */
function boxOf(text: string, { width, height }: Picture, scale: number): Plane {
  const [x, y, w, h] = text.split(',').map((t) => Math.round(Number(t) * scale));
  if (!(w > 0 && h > 0 && x >= 0 && y >= 0 && x + w <= width && y + h <= height)) {
    throw new InputError(`--box takes x,y,width,height within the picture; “${text}” is not such a box.`);
  }
  const out: Plane = { width, height, data: new Float32Array(width * height) };
  for (let v = y; v < y + h; v++) out.data.fill(1, v * width + x, v * width + x + w);
  return out;
}
