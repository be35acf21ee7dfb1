// Makes the demo jobs that have time: a clip that rolls over its own plate, and a glide through a still. Run after the stills' jobs.
import { readFileSync, writeFileSync } from 'node:fs';
import { newClip, newClipRecipe, defaultCard, readRecipe, type Keyed, type Mark, type Recipe } from '@ritaglio/core';

const at = (path: string): URL => new URL(`../../demo/${path}`, import.meta.url);
const read = <T>(path: string): T => JSON.parse(readFileSync(at(path), 'utf8')) as T;

interface DemoJob {
  about: string;
  recipe: Recipe;
  pictures: { id: string; file: string }[];
}

function write(name: string, job: DemoJob): void {
  writeFileSync(at(`jobs/${name}.json`), JSON.stringify({ ...job, recipe: readRecipe(JSON.parse(JSON.stringify(job.recipe))) }));
  console.log(`Written: demo/jobs/${name}.json`);
}

/** A value that goes from one frame to another. */
const glide = (of: string, from: [number, number], to: [number, number]): Keyed => ({
  of,
  points: [
    { frame: from[0], value: from[1], ease: 'smooth' },
    { frame: to[0], value: to[1], ease: 'hold' },
  ],
});

const frames = Array.from({ length: 36 }, (_, i) => ({ id: `roll-${i + 1}`, file: `../truth/goat-clip/frames/${String(i + 1).padStart(4, '0')}.jpg` }));
const clip = newClip('clip-goat-roll', 'Goat rolling', {
  size: { width: 640, height: 427 },
  rate: { frames: 12, seconds: 1 },
  count: frames.length,
  from: { kind: 'pictures', pictures: frames.map((f) => f.id) },
  sound: 'cart-rattle',
});
const rolling = newClipRecipe('Goat rolling by', clip);
const strokes = read<{ strokes: (Mark & { frame: number })[] }>('truth/goat-clip/marks.json').strokes;
write('goat-rolling-by', {
  about: 'A clip: the goat rolls along the quay, which goes soft behind it; with its sound.',
  pictures: [...frames, { id: 'cart-rattle', file: '../sounds/cart-rattle.wav' }],
  recipe: {
    ...rolling,
    // Files are numbered from 1, frames from 0.
    subjects: rolling.subjects.map((s) => ({ ...s, marks: strokes.map((m) => ({ ...m, frame: m.frame - 1 })) as typeof s.marks })),
    lens: { ...rolling.lens, focus: 3.1, fNumber: 2 },
    cards: rolling.cards.map((c) => (c.kind === 'subject' ? { ...c, distance: 3.1 } : c)),
  },
});

const still = read<DemoJob>('jobs/goat-on-the-quay.json');
const quay = readRecipe(still.recipe);
const ember = (n: number, x: number, y: number, distance: number): Recipe['cards'][number] => ({
  ...defaultCard,
  ...{ id: `card-ember-${n}`, name: `Ember ${n}`, kind: 'glow', size: 46, colour: '#ff9a3c', lift: 0.5, distance },
  placement: { ...defaultCard.placement, x, y },
});
const last = 95;
write('glide-along-the-quay', {
  about: 'A still that lasts four seconds: the camera glides, letters and embers stand between the layers.',
  pictures: still.pictures,
  recipe: {
    ...quay,
    name: 'Glide along the quay',
    time: { rate: { frames: 24, seconds: 1 }, first: 0, last, shutter: 180 },
    cards: [
      ...quay.cards,
      {
        ...defaultCard,
        ...{ id: 'card-letters', name: 'Letters', kind: 'lettering', text: 'AUTUMN FAIR', font: 'alegreya-bold', size: 150, spacing: 0.06 },
        ...{ colour: '#ffe9c8', distance: 7, opacity: 0.94 },
        placement: { ...defaultCard.placement, x: 120, y: -420 },
      },
      ember(1, -620, 120, 1.6),
      ember(2, 560, 310, 2.2),
      ember(3, 250, -220, 5),
    ],
    keys: [
      // The nearer it is, the farther it can go without looking past the picture's sides.
      glide('camera.x', [0, -0.04], [last, 0.11]),
      glide('camera.z', [0, 0.2], [last, 0.6]),
      glide('cards.card-ember-1.placement.y', [0, 160], [last, -260]),
      glide('cards.card-ember-2.placement.y', [0, 330], [last, -40]),
      glide('cards.card-letters.opacity', [0, 0], [30, 0.94]),
      glide('lens.focus', [0, 7], [60, 3.1]),
    ].sort((a, b) => (a.of < b.of ? -1 : 1)),
  },
});
