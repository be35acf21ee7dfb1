import fc from 'fast-check';
import { makePlane } from '../raster/plane';
import { fromCamera, rests, throughCamera } from './camera';
import { centred, placedPoint, wayTo } from './place';

const lens = { focalLength: 50, sensorWidth: 36, across: 600 };
const frame = { width: 600, height: 400, x: 0, y: 0, turn: 0 };
const card = { width: 300, height: 200 };

const metre = fc.double({ min: -0.8, max: 0.8, noNaN: true });

test('points of a card come to lie where the pin-hole model says, at any place of the camera', () => {
  const placement = fc.record({
    x: fc.double({ min: -200, max: 200, noNaN: true }),
    y: fc.double({ min: -100, max: 100, noNaN: true }),
    scale: fc.double({ min: 0.3, max: 2, noNaN: true }),
    turn: fc.double({ min: -40, max: 40, noNaN: true }),
  });
  fc.assert(
    fc.property(placement, fc.record({ x: metre, y: metre, z: metre }), fc.double({ min: 1, max: 40, noNaN: true }), (where, camera, d) => {
      const scale = 0.5;
      const way = wayTo(card, scale, { ...centred, ...where }, frame, scale);
      const moved = throughCamera(way, d, camera, lens, frame, scale)!;
      const focal = (lens.across * lens.focalLength) / lens.sensorWidth;
      for (const [u, v] of [[0, 0], [300, 0], [120, 200]] as const) {
        const at = placedPoint(way, card, u, v);
        // From the picture into the world, and from there into the moved camera.
        const [x, y] = [((at.x / scale - 300) * d) / focal, ((at.y / scale - 200) * d) / focal];
        const seen = [300 + (focal * (x - camera.x)) / (d - camera.z), 200 + (focal * (y + camera.y)) / (d - camera.z)];
        const got = placedPoint(moved, card, u, v);
        expect(Math.hypot(got.x / scale - seen[0], got.y / scale - seen[1])).toBeLessThan(0.1);
      }
    }),
  ); // prettier-ignore
});

test('a resting camera changes nothing; one that has come up to a card does not see it', () => {
  const way = wayTo(card, 1, centred, frame, 1);
  expect(rests({ x: 0, y: 0, z: 0 })).toBe(true);
  expect(throughCamera(way, 3, { x: 0, y: 0, z: 0 }, lens, frame, 1)).toBe(way);
  expect(throughCamera(way, 3, { x: 0, y: 0, z: 3 }, lens, frame, 1)).toBeUndefined();
  expect(throughCamera(way, 3, { x: 0, y: 0, z: 5 }, lens, frame, 1)).toBeUndefined();
});

test('what is near moves more than what is far, and grows more as the camera comes nearer', () => {
  const way = wayTo(card, 1, centred, frame, 1);
  const [near, far] = [2, 20].map((d) => throughCamera(way, d, { x: 0.1, y: 0, z: 0.5 }, lens, frame, 1)!);
  expect(near.x).toBeLessThan(far.x);
  expect(far.x).toBeLessThan(way.x);
  expect(near.width / way.width).toBeCloseTo(2 / 1.5, 9);
  expect(far.width / way.width).toBeCloseTo(20 / 19.5, 9);
});

test('distances are from where the camera is, and never less than nothing', () => {
  const camera = { x: 0, y: 0, z: 2 };
  expect(fromCamera(5, camera)).toBe(3);
  const plane = makePlane(2, 1);
  plane.data.set([7, 1]);
  expect([...fromCamera(plane, camera).data]).toEqual([5, Math.fround(0.05)]);
  expect(fromCamera(plane, { ...camera, z: 0 })).toBe(plane);
});
