import { spawn } from 'node:child_process';
import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import { availableParallelism, tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { root } from '../truth';
import { library, ours } from './cutters';
import { givenMarks } from './given';
import { cutPictures, type CutPicture } from './pictures';
import { course, type Course } from './run';
import type { Hand } from './user';
import { table } from '../table';

/**
 * Cuts by a made-up user on all pictures with a known matte, written to docs/cuts.md. The pictures are shared out over processes.
 */
interface Row extends Pick<Course, 'iou' | 'band'> {
  name: string;
  half: CutPicture['half'];
  hand: Hand | 'library';
}

const hands: Row['hand'][] = ['strokes', 'loop', 'discs', 'library'];
/** These are tried on photographs of their own only, not on subjects over each other's plates: they take long. */
const onOwn: Row['hand'][] = ['discs', 'library'];
const at = [1, 3, 5, 10, 15];

async function part(index: number, of: number, out: string): Promise<void> {
  const rows: Row[] = [];
  for (const [i, { name, half, own, load }] of cutPictures().entries()) {
    if (i % of !== index) continue;
    const { shot, truth } = await load();
    for (const hand of hands) {
      if (!own && onOwn.includes(hand)) continue;
      const { iou, band } = await course(shot, truth, hand === 'library' ? 'strokes' : hand, hand === 'library' ? library : ours);
      rows.push({ name, half, hand, iou, band });
      console.log(name, hand, iou.map((v) => v.toFixed(2)).join(' '));
    }
  }
  writeFileSync(out, JSON.stringify(rows));
}

/** Runs the parts in processes of their own. */
async function allRows(): Promise<Row[]> {
  const of = availableParallelism();
  const parts = Array.from({ length: of }, async (_, index) => {
    const out = join(tmpdir(), `cuts-${process.pid}-${index}.json`);
    const given = ['--max-old-space-size=4000', '--import', 'tsx', fileURLToPath(import.meta.url), '--part', `${index}`, `${of}`, out];
    const child = spawn(process.execPath, given, { cwd: root, stdio: 'inherit' });
    const code = await new Promise((ended) => child.on('exit', ended));
    if (code !== 0) throw new Error(`Part ${index} ended with ${String(code)}.`);
    const rows = JSON.parse(readFileSync(out, 'utf8')) as Row[];
    rmSync(out);
    return rows;
  });
  return (await Promise.all(parts)).flat();
}

const mean = (values: number[]): number => values.reduce((a, b) => a + b, 0) / values.length;
const said: Record<Row['hand'], string> = {
  strokes: 'strokes',
  loop: 'loop, then strokes',
  discs: 'discs',
  library: 'grabCut of the vision library, strokes',
};

/** Marks until an overlap is reached, on the mean over those that reach it, and how many do. */
function until(rows: Row[], goal: number): string {
  const marks = rows.map(({ iou }) => iou.findIndex((v) => v >= goal) + 1).filter((k) => k > 0);
  return marks.length === 0 ? '–' : `${mean(marks).toFixed(1)} (${marks.length} of ${rows.length})`;
}

function falls(rows: Row[], by: number): string {
  return mean(rows.map(({ iou }) => iou.filter((v, k) => k > 0 && iou[k - 1] - v > by).length)).toFixed(2);
}

async function write(): Promise<void> {
  const given = await givenMarks('docs/cuts.png');
  const rows = await allRows();
  const groups = (['open', 'held back'] as const).flatMap((half) =>
    hands.map((hand) => ({ half, hand, rows: rows.filter((r) => r.half === half && r.hand === hand) })),
  );
  const summary = groups.map(({ half, hand, rows: r }) => [
    `${half}: ${said[hand]} (${r.length} pictures)`,
    ...at.map((k) => mean(r.map(({ iou }) => iou[k - 1])).toFixed(3)),
    ...[0.9, 0.95, 0.98].map((goal) => until(r, goal)),
    ...[0.01, 0.03].map((by) => falls(r, by)),
    mean(r.map(({ band }) => band)).toFixed(4),
  ]);
  const each = rows
    .filter(({ hand }) => hand === 'strokes')
    .map(({ name, half, iou, band }) => [name, half, ...at.map((k) => iou[k - 1].toFixed(2)), band.toFixed(4)]);
  const marked = given.map((g) => [g.name, `${g.marks}`, g.band.toFixed(4), g.shot?.toFixed(2) ?? '', g.recovered?.toFixed(2) ?? '']);
  writeFileSync(
    join(root, 'docs/cuts.md'),
    [
      '# Cuts on many pictures',
      '',
      'Computed by `npm run measure -- cuts`. Six subjects before their own grounds and before each other’s, and the demo’s pictures with a true matte, in two halves by subject: one is developed on, the other looked at when a piece of work is finished. A made-up user sets the next mark in the middle of the largest region that is plainly wrong. Overlap is intersection over union of opacity above one half, after so many marks (1 is best); a fall is a mark after which it is less by more than so much (0 is best); band MSE is of opacity in the true undecided band after the last mark.',
      '',
      table(
        ['', ...at.map((k) => `after ${k}`), 'marks to 0.90', 'to 0.95', 'to 0.98', 'falls > 0.01 a picture', '> 0.03', 'band MSE'],
        summary,
      ),
      '## Marks that come with the pictures',
      '',
      'Band MSE, and mean ΔE2000 of half-covered pixels against the true foreground: the shot as it is, and the edge colour recovered.',
      '',
      table(['', 'marks', 'band MSE', 'shot', 'recovered'], marked),
      'Edges at 200 %, ours beside the truth, where most is half covered, in the order of the table:',
      '',
      '![Edges, ours beside the truth](cuts.png)',
      '',
      '## Each picture, strokes',
      '',
      table(['', 'half', ...at.map((k) => `after ${k}`), 'band MSE'], each),
    ].join('\n'),
  );
  console.log('docs/cuts.md');
}

const [, , flag, index, of, out] = process.argv;
if (flag === '--part') await part(Number(index), Number(of), out);
else await write();
