import { spawnSync } from 'node:child_process';
import { mkdtemp, readdir, rm, stat, writeFile } from 'node:fs/promises';
import { mkdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, extname, join, parse } from 'node:path';
import { defaultContext, type Context, type FrameMark, type Frames, type Mark, type Picture, type Plane } from '@ritaglio/core';
import { InputError, marksWithFrames, matteFrom, pictureFrom } from './files';

/** A folder of numbered frames. */
export interface NumberedClip {
  frames: Frames;
  /** The number in each file's name, ascending, and the name without its ending. */
  numbers: number[];
  names: string[];
  /** Where each is. */
  paths: string[];
}

const pictureEndings = /\.(png|jpe?g|webp|tiff?|avif|bmp|gif)$/i;
const videoEndings = /\.(mp4|m4v|mov|webm|mkv|avi|mpe?g)$/i;
/** Decoded frames that are kept: a step along the clip looks at few. */
const kept = 4;

async function isFolder(path: string): Promise<boolean> {
  try {
    return (await stat(path)).isDirectory();
  } catch {
    return false;
  }
}

/** Whether a path is a clip: a folder of frames, or a video file. */
export async function isClip(path: string): Promise<boolean> {
  return videoEndings.test(path) || (await isFolder(path));
}

interface NumberedFile {
  number: number;
  name: string;
  path: string;
}

/** The pictures of a folder by the last number in their names. @throws InputError */
async function numberedFiles(folder: string): Promise<NumberedFile[]> {
  const found: NumberedFile[] = [];
  for (const file of (await readdir(folder)).filter((f) => pictureEndings.test(f))) {
    const { name } = parse(file);
    const digits = /(\d+)(?!.*\d)/.exec(name);
    if (digits) found.push({ number: Number(digits[1]), name, path: join(folder, file) });
  }
  if (found.length === 0) throw new InputError(`“${folder}” holds no numbered pictures, such as 0001.png.`);
  found.sort((a, b) => a.number - b.number || (a.name < b.name ? -1 : 1));
  for (let i = 1; i < found.length; i++) {
    if (found[i].number === found[i - 1].number) {
      throw new InputError(`“${folder}” holds number ${found[i].number} twice: “${found[i - 1].name}” and “${found[i].name}”.`);
    }
  }
  return found;
}

/** The frames of a folder or a video file. @throws InputError */
export async function clipFrom(path: string, context: Context): Promise<NumberedClip> {
  const folder = videoEndings.test(path) ? await decodedVideo(path) : path;
  const files = await numberedFiles(folder);
  const memory = new Map<number, Promise<Picture>>();
  let size: { width: number; height: number } | undefined;
  const load = (i: number): Promise<Picture> => {
    const held = memory.get(i);
    memory.delete(i);
    const picture = held ?? checked(i);
    memory.set(i, picture);
    for (const old of memory.keys()) if (memory.size > kept) memory.delete(old);
    return picture;
  };
  const checked = async (i: number): Promise<Picture> => {
    const picture = await pictureFrom(files[i].path, context);
    size ??= picture;
    if (picture.width !== size.width || picture.height !== size.height) {
      throw new InputError(`“${files[i].path}” is of another size than the frame before it: all frames of a clip have one size.`);
    }
    return picture;
  };
  return {
    frames: { count: files.length, load },
    numbers: files.map((f) => f.number),
    names: files.map((f) => f.name),
    paths: files.map((f) => f.path),
  };
}

/** The frames of a video that is held in memory. @throws InputError without ffmpeg */
export async function clipOfVideo(name: string, bytes: Uint8Array): Promise<NumberedClip> {
  needFfmpeg(`“${name}” is a video`);
  const folder = await mkdtemp(join(tmpdir(), 'ritaglio-video-'));
  process.once('exit', () => rmSync(folder, { recursive: true, force: true }));
  const path = join(folder, basename(name));
  await writeFile(path, bytes);
  return clipFrom(path, defaultContext());
}

/** A video's frames as pictures in a folder that is gone when the program ends. @throws InputError without ffmpeg */
async function decodedVideo(path: string): Promise<string> {
  needFfmpeg(`“${path}” is a video`);
  const folder = await mkdtemp(join(tmpdir(), 'ritaglio-frames-'));
  process.once('exit', () => rmSync(folder, { recursive: true, force: true }));
  const { status, stderr } = spawnSync('ffmpeg', ['-v', 'error', '-i', path, '-fps_mode', 'passthrough', join(folder, '%06d.png')], {
    encoding: 'utf8',
  });
  if (status !== 0) {
    await rm(folder, { recursive: true, force: true });
    throw new InputError(`“${path}” cannot be read as a video: ${stderr.trim().split('\n')[0] ?? ''}`);
  }
  return folder;
}

function needFfmpeg(what: string): void {
  if (spawnSync('ffmpeg', ['-version'], { stdio: 'ignore' }).status !== 0) {
    throw new InputError(`${what}, for which ffmpeg is needed, and it is not on the path. A folder of numbered pictures works without it.`);
  }
}

/** Mattes from a folder, by the frames' numbers. @throws InputError when one is missing */
export async function mattesFrom(
  folder: string,
  { numbers }: NumberedClip,
  context: Context,
): Promise<(i: number, like: { width: number; height: number }) => Promise<Plane>> {
  if (!(await isFolder(folder))) throw new InputError(`“${folder}”: the mattes of a clip are a folder of numbered pictures.`);
  const paths = new Map((await numberedFiles(folder)).map((f) => [f.number, f.path]));
  for (const n of numbers) if (!paths.has(n)) throw new InputError(`“${folder}” holds no matte with the number ${n}.`);
  return (i, { width, height }) => matteFrom(paths.get(numbers[i])!, width, height, context);
}

/** Pictures from a folder by the frames' numbers, or one for all of them. */
export async function picturesFor(path: string, { numbers }: NumberedClip, context: Context): Promise<(i: number) => Promise<Picture>> {
  if (!(await isFolder(path))) {
    const one = pictureFrom(path, context, 1);
    return () => one;
  }
  const paths = new Map((await numberedFiles(path)).map((f) => [f.number, f.path]));
  for (const n of numbers) if (!paths.has(n)) throw new InputError(`“${path}” holds no picture with the number ${n}.`);
  return (i) => pictureFrom(paths.get(numbers[i])!, context, 1);
}

/** Marks on frames, numbered as the core counts. @throws InputError for a number that no file has */
export async function frameMarksFrom(path: string, { numbers }: NumberedClip): Promise<FrameMark[]> {
  return (await marksWithFrames(path)).map(({ frame: number, ...mark }: Mark & { frame?: number }) => {
    const frame = numbers.indexOf(number ?? (numbers.includes(1) ? 1 : numbers[0]));
    if (frame < 0) throw new InputError(`“${path}” has a mark on frame ${number}, but no file has that number.`);
    return { ...mark, frame };
  });
}

/** Which frames are wanted: all, or those from one number to another. @throws InputError */
export function wantedFrames(text: string | undefined, { numbers }: Pick<NumberedClip, 'numbers'>): number[] {
  const all = numbers.map((_, i) => i);
  if (text === undefined) return all;
  const range = /^(\d+)(?:-(\d+))?$/.exec(text);
  if (!range) throw new InputError(`--frames takes a number or two with a dash between them, such as 12-36; “${text}” is neither.`);
  const [from, to] = [Number(range[1]), Number(range[2] ?? range[1])];
  const wanted = all.filter((i) => numbers[i] >= from && numbers[i] <= to);
  if (wanted.length === 0) throw new InputError(`--frames ${text}: the clip has frames ${numbers[0]} to ${numbers[numbers.length - 1]}.`);
  return wanted;
}

/** The folder for what comes out. @throws InputError when it is named like a file */
export function outFolder(path: string): string {
  if (extname(path) !== '' && (pictureEndings.test(path) || videoEndings.test(path))) {
    throw new InputError(`“${path}”: a folder of frames gives a folder of results, so --out must name a folder.`);
  }
  mkdirSync(path, { recursive: true });
  return path;
}

/** Tells how far it is, on a terminal. */
export function tell(what: string, done: number, of: number): void {
  if (process.stderr.isTTY) process.stderr.write(`\r${what} ${done} of ${of}${done === of ? '\n' : ''}`);
}
