import { checkKinds, isAccepted, newRecipe, type Check, type CheckPlace } from '@ritaglio/core';
import { placesToWalk, withAccepted } from './proof';

const recipe = newRecipe('Goat', 'shot', 600, 400);
const sizes = new Map<string, { width: number; height: number }>();
const place = (x: number, y: number, on: CheckPlace['on'], frame?: number): CheckPlace => ({ x, y, width: 20, height: 10, on, ...(frame !== undefined && { frame }) }); // prettier-ignore
const halo: Check = { id: 'edge-halo', verdict: 'wrong', figure: 50, places: [place(100, 60, 'shot'), place(200, 80, 'frame')] };
const clipping: Check = { id: 'clipping', verdict: 'look', figure: 1, places: [place(10, 10, 'frame', 7)] };
const fine: Check = { id: 'banding', verdict: 'good', figure: 0, places: [place(0, 0, 'frame')] };

test('places are walked check by check, the worst first, each at its middle', () => {
  const found = placesToWalk([fine, clipping, halo], recipe, sizes);
  expect(found.map(({ check, x, y, frame }) => [check.id, x, y, frame])).toEqual([
    ['edge-halo', 110, 65, undefined],
    ['edge-halo', 210, 85, undefined],
    ['clipping', 20, 15, 7],
  ]);
});

test('a place of the shot lies where its subject’s card was put, one of the frame stays', () => {
  const aside = {
    ...recipe,
    cards: recipe.cards.map((c) => (c.kind === 'subject' ? { ...c, placement: { ...c.placement, x: c.placement.x + 70, y: -30 } } : c)),
  };
  const [shot, frame] = placesToWalk([halo], aside, sizes);
  expect([shot.x, shot.y]).toEqual([180, 35]);
  expect([frame.x, frame.y]).toEqual([210, 85]);
});

test('what is accepted is not walked, until it is worse than it was or taken back', () => {
  const accepted = withAccepted(recipe, halo, 'a rim light');
  expect(accepted.accepted).toEqual([{ check: 'edge-halo', word: 'a rim light', figure: 50 }]);
  expect(isAccepted(halo, accepted.accepted)).toBe(true);
  expect(placesToWalk([halo], accepted, sizes)).toEqual([]);
  const worse = { ...halo, figure: 50 + checkKinds['edge-halo'].tolerance + 10 };
  expect(placesToWalk([worse], accepted, sizes)).toHaveLength(2);
  // Accepted again it has one word, the last.
  expect(withAccepted(accepted, worse, 'still').accepted.map((a) => a.word)).toEqual(['still']);
  expect(withAccepted(accepted, halo, undefined).accepted).toEqual([]);
});
