import fc from 'fast-check';
import { makePicture, makePlane, type Plane } from '../raster/plane';
import { seeded } from '../raster/random';
import { cameraRests, cameraView, fromCamera, seenAt, throughCamera, type CameraPlace } from './camera';
import { centred, place, placedPoint, unplacedPoint, wayTo } from './place';
import { reliefLaying } from './relief';

const lens = { focalLength: 50, sensorWidth: 36, across: 600 };
const frame = { width: 600, height: 400, x: 0, y: 0, turn: 0 };
const card = { width: 300, height: 200 };
const still: CameraPlace = { x: 0, y: 0, z: 0, pan: 0, tilt: 0, roll: 0 };

const metre = fc.double({ min: -0.8, max: 0.8, noNaN: true });

const angle = (most: number): fc.Arbitrary<number> => fc.double({ min: -most, max: most, noNaN: true });
const anyCamera = fc.record({ x: metre, y: metre, z: metre, pan: angle(25), tilt: angle(20), roll: angle(90) });
const focal = (lens.across * lens.focalLength) / lens.sensorWidth;

/** Where a point of the world (m to the right, down, forward) is seen, px of the full frame: turned by one angle after the other. */
function pinHole([x, y, z]: [number, number, number], camera: CameraPlace): { x: number; y: number; away: number } {
  const turn = ([u, v]: [number, number], degrees: number): [number, number] => {
    const t = (degrees * Math.PI) / 180;
    return [u * Math.cos(t) - v * Math.sin(t), u * Math.sin(t) + v * Math.cos(t)];
  };
  const [dx, dy, dz] = [x - camera.x, y + camera.y, z - camera.z];
  // The world turns against the camera: by the pan around what is upright, by the tilt around what lies across, by the roll around the axis.
  const [px, pz] = turn([dx, dz], camera.pan);
  const [ty, tz] = turn([dy, pz], -camera.tilt);
  const [rx, ry] = turn([px, ty], -camera.roll);
  return { x: 300 + (focal * rx) / tz, y: 200 + (focal * ry) / tz, away: tz };
}

test('points of a card come to lie where the pin-hole model says, at any place and turn of the camera', () => {
  const placement = fc.record({
    x: fc.double({ min: -200, max: 200, noNaN: true }),
    y: fc.double({ min: -100, max: 100, noNaN: true }),
    scale: fc.double({ min: 0.3, max: 2, noNaN: true }),
    turn: fc.double({ min: -40, max: 40, noNaN: true }),
  });
  fc.assert(
    fc.property(placement, anyCamera, fc.double({ min: 1, max: 40, noNaN: true }), (where, camera, d) => {
      const scale = 0.5;
      const way = wayTo(card, scale, { ...centred, ...where }, frame, scale);
      const moved = throughCamera(way, d, camera, lens, frame, scale)!;
      const far = fromCamera(d, camera, lens, frame, scale, { width: 300, height: 200 });
      for (const [u, v] of [[0, 0], [300, 0], [120, 200]] as const) {
        const at = placedPoint(way, card, u, v);
        const seen = pinHole([((at.x / scale - 300) * d) / focal, ((at.y / scale - 200) * d) / focal, d], camera);
        if (seen.away < 0.3) continue;
        const got = placedPoint(moved, card, u, v);
        expect(Math.hypot(got.x / scale - seen.x, got.y / scale - seen.y)).toBeLessThan(0.1);
        const back = unplacedPoint(moved, card, got.x, got.y);
        expect(Math.hypot(back.x - u, back.y - v)).toBeLessThan(0.01);
        const lone = seenAt(cameraView(camera, lens, frame, scale), at.x, at.y, d)!;
        expect(Math.hypot(lone.x - got.x, lone.y - got.y)).toBeLessThan(0.01);
        expect(lone.distance).toBeCloseTo(seen.away, 6);
        if (typeof far === 'number') continue;
        const [px, py] = [Math.floor(got.x), Math.floor(got.y)];
        if (px < 1 || py < 1 || px > 298 || py > 198) continue;
        // Within the pixel it changes a little.
        const around = [far.data[py * 300 + px - 1], far.data[py * 300 + px + 1], far.data[(py - 1) * 300 + px], far.data[(py + 1) * 300 + px]]; // prettier-ignore
        expect(seen.away).toBeGreaterThan(0.99 * Math.min(...around));
        expect(seen.away).toBeLessThan(1.01 * Math.max(...around));
      }
    }),
  ); // prettier-ignore
});

test('lengths around a point grow by as much as it is told', () => {
  fc.assert(
    fc.property(anyCamera, (camera) => {
      const way = throughCamera(wayTo(card, 1, centred, frame, 1), 6, camera, lens, frame, 1)!;
      const [at, right, down] = [[140, 90], [140.01, 90], [140, 90.01]].map(([u, v]) => placedPoint(way, card, u, v)); // prettier-ignore
      const area = Math.abs((right.x - at.x) * (down.y - at.y) - (right.y - at.y) * (down.x - at.x)) / 1e-4;
      expect(Math.sqrt(area) / at.size).toBeCloseTo(1, 2);
    }),
  );
});

test('a resting camera changes nothing; one that has come up to a card does not see it', () => {
  const way = wayTo(card, 1, centred, frame, 1);
  expect(cameraRests(still)).toBe(true);
  expect(cameraRests({ ...still, roll: 1 })).toBe(false);
  expect(throughCamera(way, 3, still, lens, frame, 1)).toBe(way);
  expect(throughCamera(way, 3, { ...still, z: 3 }, lens, frame, 1)).toBeUndefined();
  expect(throughCamera(way, 3, { ...still, z: 5 }, lens, frame, 1)).toBeUndefined();
});

test('what is near moves more than what is far, and grows more as the camera comes nearer', () => {
  const way = wayTo(card, 1, centred, frame, 1);
  const [near, far] = [2, 20].map((d) => throughCamera(way, d, { ...still, x: 0.1, z: 0.5 }, lens, frame, 1)!);
  expect(near.x).toBeLessThan(far.x);
  expect(far.x).toBeLessThan(way.x);
  expect(near.width / way.width).toBeCloseTo(2 / 1.5, 9);
  expect(far.width / way.width).toBeCloseTo(20 / 19.5, 9);
});

test('distances are from where the camera is and along where it looks, and never less than nothing', () => {
  const far = (camera: CameraPlace, d = 5): number | Plane => fromCamera(d, camera, lens, frame, 1, { width: 600, height: 400 });
  expect(far({ ...still, z: 2 })).toBe(3);
  expect(far({ ...still, z: 2 }, 1)).toBe(0.05);
  expect(far({ ...still, roll: 30 })).toBe(5);
  // Turned to the right, what is on the left is nearer along the axis: it lies more to the side.
  const panned = far({ ...still, pan: 20 }) as Plane;
  expect(panned.data[200 * 600]).toBeLessThan(panned.data[200 * 600 + 599]);
  expect(panned.data[200 * 600 + 300]).toBeCloseTo(5 / Math.cos((20 * Math.PI) / 180), 1);
});

test('a card before a turned camera is drawn where its points lie', () => {
  const random = seeded(4);
  const spots = Array.from({ length: 8 }, () => [40 + 220 * random(), 30 + 140 * random()] as const);
  const picture = makePicture(300, 200);
  for (let p = 0; p < picture.r.length; p++) {
    const [x, y] = [(p % 300) + 0.5, Math.floor(p / 300) + 0.5];
    for (const [u, v] of spots) picture.r[p] += Math.exp(-((x - u) ** 2 + (y - v) ** 2) / 8);
  }
  const way = throughCamera(wayTo(card, 1, centred, frame, 1), 4, { ...still, pan: 6, tilt: -4, roll: 12 }, lens, frame, 1)!;
  const seen = place(picture, 600, 400, way);
  for (const [u, v] of spots) {
    const { x, y } = placedPoint(way, card, u, v);
    const p = Math.floor(y) * 600 + Math.floor(x);
    expect(seen.r[p]).toBeGreaterThan(0.8 * Math.max(...[-600, -1, 0, 1, 600].map((d) => seen.r[p + d])));
    expect(seen.r[p]).toBeGreaterThan(0.6);
  }
});

describe('a card with distances of its own before a moved camera', () => {
  /** A floor that goes from 2 m at the lower border to 20 m at the upper one, straight in one over the distance, as floors do. */
  const floor = makePlane(600, 400);
  for (let p = 0; p < floor.data.length; p++) floor.data[p] = 1 / (1 / 20 + (1 / 2 - 1 / 20) * ((Math.floor(p / 600) + 0.5) / 400));
  const way = wayTo(floor, 1, centred, frame, 1);
  const camera = { ...still, x: 0.2, y: 0.1, z: 0.4, pan: 3, tilt: -2, roll: 5 };
  const laying = reliefLaying(floor, way, cameraView(camera, lens, frame, 1), frame);

  test('each point moves by how far it is, to within a tenth of a pixel', () => {
    // A picture that says where on the card it is from.
    const told = makePicture(600, 400);
    for (let p = 0; p < told.r.length; p++) [told.r[p], told.g[p]] = [((p % 600) + 0.5) / 600, (Math.floor(p / 600) + 0.5) / 400];
    const seen = laying.picture(told);
    let looked = 0;
    for (let y = 20; y < 380; y += 9) {
      for (let x = 20; x < 580; x += 9) {
        const p = y * 600 + x;
        const [u, v] = [seen.r[p] * 600, seen.g[p] * 400];
        if (u < 3 || u > 597 || v < 3 || v > 397) continue;
        looked++;
        const d = 1 / (1 / 20 + (1 / 2 - 1 / 20) * (v / 400));
        const truth = pinHole([((u - 300) * d) / focal, ((v - 200) * d) / focal, d], camera);
        expect(Math.hypot(truth.x - x - 0.5, truth.y - y - 0.5)).toBeLessThan(0.1);
        expect((laying.distance as Plane).data[p] / truth.away).toBeCloseTo(1, 2);
        const at = laying.point(u, v);
        expect(Math.hypot(at.x - truth.x, at.y - truth.y)).toBeLessThan(0.1);
      }
    }
    expect(looked).toBeGreaterThan(800);
  });

  test('what is nearer hides what is farther, and nothing is left open within the card', () => {
    // A post at 2 m before a wall at 10 m.
    const post = makePlane(600, 400);
    post.data.forEach((_, p) => (post.data[p] = Math.abs((p % 600) - 300) < 20 ? 2 : 10));
    const picture = makePicture(600, 400);
    post.data.forEach((d, p) => (picture.r[p] = d === 2 ? 1 : 0.1));
    const moved = reliefLaying(post, wayTo(post, 1, centred, frame, 1), cameraView({ ...still, x: 0.3 }, lens, frame, 1), frame);
    const seen = moved.picture(picture).r.subarray(200 * 600, 201 * 600);
    // The post goes 125 px to the left, the wall 25.
    const shift = (d: number): number => (0.3 * focal) / d;
    expect(seen[Math.round(300 - shift(2))]).toBeCloseTo(1, 2);
    expect(seen[Math.round(300 - shift(2) - 40)]).toBeCloseTo(0.1, 2);
    expect(seen[300]).toBeLessThan(0.5);
    expect([...(moved.distance as Plane).data].every((d) => d <= 10.001)).toBe(true);
  });

  test('a resting camera gives what it is', () => {
    const picture = makePicture(600, 400);
    const random = seeded(2);
    picture.r.forEach((_, p) => (picture.r[p] = random()));
    const same = reliefLaying(floor, way, cameraView(still, lens, frame, 1), frame).picture(picture);
    let most = 0;
    for (let p = 0; p < picture.r.length; p++) most = Math.max(most, Math.abs(same.r[p] - picture.r[p]));
    expect(most).toBeLessThan(0.01);
  });
});
