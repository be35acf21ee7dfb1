import { useChange, useOpenSubject } from '../jobContext';
import { editPlate, type Plate } from './plateTools';

/** The plate's part of the recipe, and how to change it. */
export function usePlate(): { plate: Plate; change: (part: Partial<Plate>) => void; show: (part: Partial<Plate>) => void } {
  const { plate } = useOpenSubject();
  const { preview, commit } = useChange();
  return {
    plate,
    change: (part) => commit((r) => editPlate(r, (p) => ({ ...p, ...part }))),
    show: (part) => preview((r) => editPlate(r, (p) => ({ ...p, ...part }))),
  };
}
