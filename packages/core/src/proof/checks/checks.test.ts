import { measureTone } from '../../match/tone';
import type { Recipe } from '../../recipe/recipe';
import { lowestOf, proofScene } from '../../testing/faults';
import {
  checkContact,
  checkFollowed,
  checkFrameOpen,
  checkHalo,
  checkIds,
  checkKinds,
  checkPlateResidue,
  checkRepeats,
  checkResidueInEdge,
  checkSides,
  checkTorn,
  cureOf,
  isAccepted,
  judged,
  unitOf,
  unknown,
  type CheckId,
} from './index';
import { allSeeds, plain, shifted, sizeOf, trials, tried } from './trials';

/** A third of the pictures; npm run measure takes them all. */
const some = allSeeds.filter((seed) => seed % 3 === 0);

describe.each(trials)('%s on made-up pictures', (_id, trial) => {
  test('is found in at least nine of ten with the fault, and in at most one of ten without; its places are right', async () => {
    const { recall, alarms, placed } = await tried(trial, some);
    expect(recall).toBeGreaterThanOrEqual(0.9);
    expect(alarms).toBeLessThanOrEqual(0.1);
    expect(placed).toBeGreaterThanOrEqual(0.9);
  });
});

describe('what is not known', () => {
  test('is never good, and says why', () => {
    const scene = proofScene(1);
    const nothing = { ...scene.matte, data: new Float32Array(scene.matte.data.length) };
    for (const check of [
      checkHalo(scene.back, nothing, 0.5),
      checkTorn(nothing, 0.5),
      checkContact(scene.back, nothing, 0.5),
      checkResidueInEdge([]),
      checkPlateResidue({ places: [] }, undefined),
      checkFollowed(undefined),
      checkFollowed([0.9, 0.95]),
      ...checkSides({ tone: measureTone(scene.back) }, { tone: measureTone(scene.back) }, true).filter((c) => c.id !== 'blur-gap'),
    ]) {
      expect([check.id, check.verdict]).toEqual([check.id, 'unknown']);
      expect(check.why).toMatch(/^[A-Z].*\.$/);
    }
  });

  test('what is clearly left is looked at however thin; a shadow is never wrong, nothing seen is never good', () => {
    const residue = { kind: new Uint8Array(4), clear: [], outline: 10 };
    const place = (kind: 'strand' | 'shade' | 'rim') => ({ x: 5, y: 5, area: 4, kind });
    expect(checkPlateResidue({ width: 0.02, places: [place('strand')] }, residue)).toMatchObject({
      verdict: 'look',
      places: [{ on: 'shot' }],
    });
    expect(checkPlateResidue({ width: 6, places: [place('shade')] }, residue).verdict).toBe('look');
    expect(checkPlateResidue({ width: 6, places: [place('shade'), place('rim')] }, residue).verdict).toBe('wrong');
    expect(checkPlateResidue({ width: 0, places: [] }, residue).verdict).toBe('unknown');
  });

  test('feet outside of the frame cannot be judged', () => {
    const scene = proofScene(2);
    const low = { ...scene.matte, height: lowestOf(scene) + 4, data: scene.matte.data.slice(0, scene.width * (lowestOf(scene) + 4)) };
    expect(checkContact(scene.back, low, 0.5).why).toMatch(/frame ends too close/);
  });
});

describe('judging', () => {
  test('every check has words, a unit and a reason, and says when it is wrong only above when it is worth a look', () => {
    for (const id of checkIds) {
      const { what, unit, reason, tolerance, wrong } = checkKinds[id];
      expect(what && unit && reason).toBeTruthy();
      if (wrong !== undefined) expect(wrong).toBeGreaterThan(tolerance);
    }
    expect(judged('banding', 0.5).verdict).toBe('good');
    expect(judged('banding', 0.6).verdict).toBe('look');
    expect(judged('banding', 5).verdict).toBe('wrong');
  });

  test('what was accepted stays so until it becomes worse by more than its tolerance', () => {
    const accepted = [{ check: 'edge-residue' as const, word: 'wool', figure: 10 }];
    expect(isAccepted(judged('edge-residue', 10), accepted)).toBe(true);
    expect(isAccepted(judged('edge-residue', 14.4), accepted)).toBe(true);
    expect(isAccepted(judged('edge-residue', 14.6), accepted)).toBe(false);
    expect(isAccepted(judged('banding', 1), accepted)).toBe(false);
    expect(isAccepted(unknown('edge-residue', 'Not known.'), accepted)).toBe(false);
  });

  test('pieces that are there twice count only where they are seen', () => {
    const weight = proofScene(0).matte;
    const repeat = (x: number) => ({ x, y: 250, width: 40, height: 40, times: 2 });
    const { x, scale } = proofScene(0);
    expect(checkRepeats([repeat(x / scale - 20)], { weight }, scale).figure).toBe(1);
    expect(checkRepeats([repeat(4)], { weight }, scale).verdict).toBe('good');
  });
});

test('a moved camera that looks past the ground’s side opens the frame, and one that is near enough does not', () => {
  const ground = { line: 0.8 * plain.frame.height, horizon: 0.4 * plain.frame.height, distance: 3 };
  const standing = (x: number, z: number): Recipe => ({
    ...plain,
    camera: { ...plain.camera, x, z },
    cards: plain.cards.map((c) => (c.kind === 'plate' ? { ...c, distances: { ...c.distances, ground } } : c)),
  });
  const { verdict, places } = checkFrameOpen(standing(0.1, 0), sizeOf);
  expect(verdict).toBe('wrong');
  // What is near moves most: to the left, so that the right lower corner is bare.
  expect(places.some((p) => p.x > 0 && p.y > 0)).toBe(true);
  expect(checkFrameOpen(standing(0.02, 0.4), sizeOf).verdict).toBe('good');
});

describe('cures', () => {
  test('mend what they are for', () => {
    const open = shifted(60);
    const cure = cureOf(checkFrameOpen(open, sizeOf), open, sizeOf)!;
    expect(checkFrameOpen(cure.edit(open), sizeOf).verdict).toBe('good');
    const turned: Recipe = { ...plain, frame: { ...plain.frame, turn: 8 } };
    expect(checkFrameOpen(cureOf(checkFrameOpen(turned, sizeOf), turned, sizeOf)!.edit(turned), sizeOf).verdict).toBe('good');
  });

  test('are only offered where something is wrong, and are whole sentences', () => {
    for (const id of checkIds) {
      expect(cureOf(judged(id, 0), plain, sizeOf)).toBeUndefined();
      expect(cureOf(unknown(id, 'Not known.'), plain, sizeOf)).toBeUndefined();
      const cure = cureOf({ ...judged(id, 99), verdict: 'wrong' }, plain, sizeOf);
      if (cure) {
        expect(cure.says).toMatch(/^[A-Z]/);
        expect(cure.edit(plain)).not.toEqual(plain);
      }
    }
  });
});

test('one of what is counted is told in the singular, as the figure is written', () => {
  const said = (id: CheckId, figure: number): string => `${figure.toFixed(checkKinds[id].digits)} ${unitOf(judged(id, figure))}`;
  expect([0, 1, 1.3, 2].map((figure) => said('matte-specks', figure))).toEqual(['0 specks', '1 speck', '1 speck', '2 specks']);
  expect([said('matte-holes', 1), said('plate-repeats', 1)]).toEqual(['1 hole', '1 piece']);
  // What is measured and not counted stays as it is.
  expect(said('cast-gap', 1)).toBe('1 mired apart');
});
