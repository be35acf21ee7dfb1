import { seeded } from '@ritaglio/core';
import { firstWeights, Network, weightsOf, type Shape } from './network';

const shape: Shape = { seen: 5, channels: 6, steps: [1, 2], given: 4 };

function someNumbers(count: number, seed: number): Float64Array {
  const random = seeded(seed);
  const out = new Float64Array(count);
  for (let i = 0; i < count; i++) out[i] = 2 * random() - 1;
  return out;
}

const seen = { width: 7, height: 6, data: someNumbers(7 * 6 * shape.seen, 4) };

test('a new network corrects nothing', () => {
  const network = new Network(shape, firstWeights(shape, seeded(1)));
  expect(network.run(seen)).toEqual(new Float64Array(7 * 6 * 4));
});

test('the slope of each weight is what the error really does', () => {
  const weights = someNumbers(weightsOf(shape), 2).map((v) => 0.5 * v);
  const network = new Network(shape, weights);
  const wanted = someNumbers(7 * 6 * 4, 3);
  const error = (): number => network.run(seen).reduce((sum, v, i) => sum + (v - wanted[i]) ** 2, 0);
  const wrong = network.run(seen).map((v, i) => 2 * (v - wanted[i]));
  network.learn(wrong);
  const random = seeded(5);
  for (let n = 0; n < 60; n++) {
    const i = Math.floor(random() * weights.length);
    const kept = weights[i];
    const by = 1e-3;
    weights[i] = kept + by;
    const up = error();
    weights[i] = kept - by;
    const down = error();
    weights[i] = kept;
    const measured = (up - down) / (2 * by);
    expect(Math.abs(measured - network.slope[i])).toBeLessThan(0.02 * Math.abs(measured) + 0.02);
  }
});

test('steps against the slopes lessen the error', () => {
  const weights = firstWeights(shape, seeded(1));
  const network = new Network(shape, weights);
  // What is wanted of a place is its first number less that of the place to its left.
  const wanted = new Float64Array(7 * 6 * 4);
  for (let p = 0; p < 42; p++) wanted.fill(seen.data[5 * p] - (p % 7 ? seen.data[5 * (p - 1)] : 0), 4 * p, 4 * p + 4);
  const errors: number[] = [];
  for (let round = 0; round < 300; round++) {
    network.slope.fill(0);
    const wrong = network.run(seen).map((v, i) => v - wanted[i]);
    errors.push(wrong.reduce((sum, v) => sum + v * v, 0));
    network.learn(wrong);
    for (let i = 0; i < weights.length; i++) weights[i] -= 1e-3 * network.slope[i];
  }
  expect(errors[299]).toBeLessThan(0.3 * errors[0]);
});
