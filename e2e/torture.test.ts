import { kills, mayBeLost } from '../scripts/torture/kills';

test('killed at random moments, every job opens, no history is damaged, and hardly any work is lost', async () => {
  for (const killed of await kills(2, 3)) {
    expect(killed).toMatchObject({ unopened: 0, damaged: false });
    expect(killed.lost).toBeLessThanOrEqual(mayBeLost);
  }
});
