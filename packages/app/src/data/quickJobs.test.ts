import { newRecipe } from '@ritaglio/core';
import { aboutQuick, isNeeded, quickJobs, setUp } from './quickJobs';

const fresh = newRecipe('Trial', 'shot', 300, 200);

test('each common job has words and is set up for what it does', () => {
  for (const quick of quickJobs) expect(aboutQuick[quick].says).toMatch(/\.$/);
  expect(setUp(fresh, 'blur').lens.fNumber).toBeLessThan(fresh.lens.fNumber);
  expect(setUp(fresh, 'screen').subjects[0].cut).toBe('screen');
  expect(setUp(fresh, 'background')).toEqual(fresh);
});

test('a common job shows what it needs and hides the rest; without one all is seen', () => {
  for (const quick of quickJobs) {
    for (const title of ['Amount', 'Checks', 'Picture', 'Job']) expect(isNeeded(title, quick)).toBe(true);
    for (const title of ['Curves', 'Retouch', 'Band of sharpness', 'Kept mattes']) expect(isNeeded(title, quick)).toBe(false);
  }
  expect(isNeeded('Behind the subject', 'blur')).toBe(false);
  expect(isNeeded('Behind the subject', 'background')).toBe(true);
  expect(isNeeded('Curves', undefined)).toBe(true);
});
