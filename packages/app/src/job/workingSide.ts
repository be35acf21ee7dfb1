/** Longest sides, px, at which a job may be worked out while it is looked at; exports are always of full size. */
export const workingSides = [450, 720, 1200, 1800, 2700] as const;

const usual = 1800;
const key = 'ritaglio.workingSide';

/** The one chosen in this browser. */
export function workingSide(): number {
  const kept = Number(localStorage.getItem(key));
  return workingSides.find((side) => side === kept) ?? usual;
}

export function chooseWorkingSide(side: number): void {
  localStorage.setItem(key, String(side));
}
