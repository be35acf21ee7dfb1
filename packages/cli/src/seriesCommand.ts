import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { basename, extname, join } from 'node:path';
import {
  checkKinds,
  counted,
  forShot,
  ProductMemory,
  render,
  type Check,
  type PictureSource,
  type Recipe,
  type Samples,
  pictureAtScale,
  picturesOf,
} from '@ritaglio/core';
import { readPicture } from '@ritaglio/formats';
import { tell } from './clips';
import { command, contextOf, run, type Common, type Figures } from './command';
import { bytesOf, InputError, nodeCodec, savePicture } from './files';

/** What is told of one shot of a series. */
interface Done {
  shot: string;
  file: string;
  /** Of the shot, the recipe and the size: the same gives the same picture. */
  key: string;
  wrong: number;
  look: number;
  unknown: number;
  /** The checks that are wrong or worth a look. */
  open: string[];
  note?: string;
}

const listName = 'series.json';

/** `series`: the same background, lens, match and finish over many shots of one set. */
export function addSeriesCommand(jobFrom: (path: string) => Promise<{ recipe: Recipe; source: PictureSource }>): void {
  command(
    'series <recipe> <shots...>',
    'the same look over many shots of one set: each cut by the job’s screen, or by the subject that is found',
  )
    .requiredOption('--out <dir>', 'folder for the pictures, and for the list of what was done')
    .action(
      run<Common & { out: string }>(async (o, path, ...shots) => {
        const { recipe: kept, source } = await jobFrom(path);
        const recipe = { ...kept, seed: o.seed ?? kept.seed };
        const names = shots.map((shot) => basename(shot, extname(shot)));
        const twice = names.find((n, i) => names.indexOf(n) !== i);
        if (twice !== undefined) throw new InputError(`Two shots are called “${twice}”: their results would have one name.`);
        await mkdir(o.out, { recursive: true });
        const before = await listIn(o.out);
        // Another background under the same name makes other pictures.
        const held = picturesOf(recipe).map((id) => source.key(id));
        const done: Done[] = [];
        for (const [k, shot] of shots.entries()) {
          const bytes = await bytesOf(shot);
          const file = `${names[k]}.png`;
          const key = createHash('sha256')
            .update(bytes)
            .update(JSON.stringify([recipe, o.scale, held]))
            .digest('hex')
            .slice(0, 16);
          const known = before.find((d) => d.file === file && d.key === key);
          done.push(
            known && existsSync(join(o.out, file))
              ? known
              : { shot, file, key, ...(await made(shot, bytes, recipe, source, o, join(o.out, file))) },
          );
          // Written after each: what is done stays done when the rest is stopped.
          await writeFile(join(o.out, listName), JSON.stringify(done, null, 1));
          tell('Shot', k + 1, shots.length);
        }
        const doubtful = [...done].sort((a, b) => b.wrong - a.wrong || b.look - a.look);
        return { shots: doubtful, wrong: done.filter((d) => d.wrong > 0).length } satisfies Figures;
      }),
    );
}

async function listIn(folder: string): Promise<Done[]> {
  try {
    return JSON.parse(await readFile(join(folder, listName), 'utf8')) as Done[];
  } catch {
    return [];
  }
}

async function made(
  path: string,
  bytes: Uint8Array,
  recipe: Recipe,
  source: PictureSource,
  o: Common,
  file: string,
): Promise<Omit<Done, 'shot' | 'file' | 'key'>> {
  const { samples, multiplied } = await readPicture(basename(path), bytes, nodeCodec);
  const pictures = withShot(source, 'series-shot', samples);
  const context = contextOf({ scale: o.scale, seed: recipe.seed });
  const memory = new ProductMemory();
  const size = { width: samples.width, height: samples.height };
  const bare = forShot(recipe, 'series-shot', size);
  const straight: Recipe = {
    ...bare,
    multiplied: multiplied ? [...bare.multiplied, { picture: 'series-shot', over: multiplied }] : bare.multiplied,
  };
  const byMarks = straight.subjects[0].cut === 'marks';
  const found = byMarks ? await render(straight, pictures, 'found', contextOf({ scale: Math.min(1, 900 / Math.max(size.width, size.height)), seed: recipe.seed }), memory) : []; // prettier-ignore
  const own = byMarks ? forShot(straight, 'series-shot', size, (found[0]?.marks ?? []) as Recipe['subjects'][number]['marks']) : straight;
  await savePicture(file, await render(own, pictures, 'composite', context, memory));
  const checks = await render(own, pictures, 'checks', context, memory);
  const { wrong, look, unknown } = counted(checks, []);
  const { note } = await render(own, pictures, 'matte', context, memory);
  const open = checks.filter((c: Check) => c.verdict === 'wrong' || c.verdict === 'look').map((c) => checkKinds[c.id].what);
  return { wrong, look, unknown, open, ...(byMarks && found.length === 0 ? { note: 'No subject was found.' } : note ? { note } : {}) };
}

/** The job's pictures with one more. */
function withShot(source: PictureSource, id: string, samples: Samples): PictureSource {
  return {
    ...source,
    key: (wanted) => (wanted === id ? id : source.key(wanted)),
    size: (wanted) => (wanted === id ? Promise.resolve(samples) : source.size!(wanted)),
    async load(wanted, scale, multiplied, context) {
      if (wanted !== id) return source.load(wanted, scale, multiplied, context);
      return pictureAtScale(samples, scale, multiplied, context);
    },
  };
}
