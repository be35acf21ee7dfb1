import { hexOf, oklabOf, defaultArea, type Card, type Recipe, type Region } from '@ritaglio/core';
import { useState } from 'react';
import { toast } from 'sonner';
import { lampCard } from '../lens/LampsPart';
import { backgroundCard, editCard } from '../edit';
import { pointedThing } from '../lens/pointedThing';
import { useChange, useOpenJob, useRecipe } from '../jobContext';
import { useSizes } from '../bench/useBench';
import { cardIn, wayOf, wayOfLimit, wayOfShot } from '../bench/cards';
import { ofAdjustments, ofLimit } from '../match/parts';
import { momentNow } from '../moments';
import { within } from '../useEdit';
import { useView, useViewOf, type BenchTool } from '../viewStore';
import { renderer } from '../../worker/renderer';
import { refuse } from '../../ui/refuse';
import { workingScale } from '../workingSide';
import { say } from '../../words/say';

interface Point {
  x: number;
  y: number;
}

/** Tools whose strokes are kept when they are let go. */
const drawn: readonly BenchTool[] = ['paint', 'like', 'ours', 'theirs', 'limit', 'graduate', 'strew', 'stands'];
/** Tools that act where the picture is pressed. */
const pressed: readonly BenchTool[] = ['focus', 'peg', 'lamp', 'protect', 'hue', 'ambient', 'air', 'shine'];

/** What the pointer does on the picture while the bench is open: focus, pegs, lamps, painted distance, regions, picked colours. */
export function useBenchPointer(open: boolean): {
  active: boolean;
  /** The tool in hand draws; another acts where it is pressed. */
  draws: boolean;
  drawing?: [number, number][];
  down: (at: Point) => void;
  move: (at: Point, zoom: number) => void;
  up: () => void;
  /** Drops what is being drawn. */
  drop: () => void;
} {
  const recipe = useRecipe();
  const { store } = useOpenJob();
  const { commit } = useChange();
  const sizes = useSizes();
  const { benchTool: tool, card: chosen, set } = useViewOf('benchTool', 'card', 'set');
  const [drawing, setDrawing] = useState<[number, number][]>();
  const active = open && (drawn.includes(tool) || pressed.includes(tool));

  const round = (v: number): number => Math.round(v * 10) / 10;
  /** Distance of what is seen there, m. */
  const distance = (at: Point): Promise<number> => {
    const now = momentNow(store.getState().recipe);
    return renderer().distanceAt(now, at.x, at.y, workingScale(now));
  };
  /** Linear light of what is seen there, or stands behind there. */
  const colour = (of: 'composite' | 'background', at: Point): Promise<[number, number, number]> => {
    const now = momentNow(store.getState().recipe);
    return renderer().colourAt(now, of, at.x, at.y, workingScale(now));
  };
  /** A point of the frame on a card's own picture. */
  const on = (card: Card, at: Point): Point => {
    const p = wayOf(store.getState().recipe, card, sizes).on(at.x, at.y);
    return { x: round(p.x), y: round(p.y) };
  };

  /** All that a drawn loop goes around, on a card's own picture. */
  const loopOn = (card: Card, points: [number, number][]): { radius: number; points: [number, number][]; filled: true } => ({
    radius: 1,
    points: points.map(([x, y]): [number, number] => {
      const p = on(card, { x, y });
      return [p.x, p.y];
    }),
    filled: true,
  });

  const press = async (at: Point): Promise<void> => {
    const card = cardIn(recipe, chosen);
    if (tool === 'focus') {
      const focus = Math.min(10000, Math.max(0.1, Math.round(100 * (await distance(at))) / 100));
      commit((r: Recipe) => ({ ...r, lens: { ...r.lens, focus } }));
    } else if (tool === 'peg' && card) {
      const here = Math.min(10000, Math.max(0.1, Math.round(100 * (await distance(at))) / 100));
      const { x, y } = on(card, at);
      const withPeg = (c: Card): Card => ({ ...c, distances: { ...c.distances, pegs: [...c.distances.pegs, { x, y, distance: here }] } });
      commit((r: Recipe) => editCard(r, card.id, withPeg));
    } else if (tool === 'protect' || tool === 'hue') {
      const [, a, b] = oklabOf(...(await colour('composite', at)));
      if (Math.hypot(a, b) < 0.015) {
        toast(say('There is hardly any colour there: pick a place that has a hue.'));
        return;
      }
      const hue = Math.round((Math.atan2(b, a) * 180) / Math.PI + 360) % 360;
      if (tool === 'protect')
        commit((r: Recipe) => ({ ...r, match: { ...r.match, protect: [...r.match.protect, { hue, width: 25 }].slice(-6) } }));
      else {
        const part = within(ofAdjustments(useView.getState().grading), 'grade');
        const shift = { hue, width: 25, turn: 0, saturation: 1, lightness: 0 };
        commit((r: Recipe) => part.write(r, { ...part.read(r), hues: [...part.read(r).hues, shift].slice(-8) }));
      }
      set({ benchTool: 'look' });
    } else if (tool === 'ambient' || tool === 'air') {
      const picked = hexOf(...(await colour('background', at)));
      commit((r: Recipe) => ({ ...r, match: { ...r.match, [tool]: { ...r.match[tool], colour: picked } } }));
      set({ benchTool: 'look' });
    } else if (tool === 'shine') {
      commit((r: Recipe) => ({ ...r, match: { ...r.match, shine: { ...r.match.shine, at: [round(at.x), round(at.y)] } } }));
      set({ benchTool: 'look' });
    } else if (tool === 'lamp') {
      const shining = lampCard(recipe.cards);
      if (!shining) return;
      const { lampColour: colour, lampSize: size, lampLift: lift } = useView.getState();
      const lamp = { ...on(shining, at), size, colour, softness: 0, lift };
      commit((r: Recipe) =>
        editCard(r, shining.id, (c) => ('lamps' in c ? { ...c, lamps: { ...c.lamps, set: [...c.lamps.set, lamp] } } : c)),
      );
    }
  };

  const down = (at: Point): void => {
    if (drawn.includes(tool)) setDrawing([[at.x, at.y]]);
    else press(at).catch(refuse);
  };

  const move = (at: Point, zoom: number): void => {
    if (!drawing) return;
    const [x, y] = drawing[drawing.length - 1];
    if (Math.hypot(at.x - x, at.y - y) * zoom >= 3) setDrawing([...drawing, [at.x, at.y]]);
  };

  const up = (): void => {
    if (!drawing) return;
    setDrawing(undefined);
    const card = cardIn(recipe, chosen);
    if (tool === 'like' && drawing.length > 2) {
      const shot = wayOfShot(recipe);
      const points = drawing.map(([x, y]): [number, number] => {
        const p = shot.on(x, y);
        return [round(p.x), round(p.y)];
      });
      set({ like: { radius: 1, points, filled: true }, likeness: undefined, benchTool: 'look' });
    } else if ((tool === 'ours' || tool === 'theirs') && drawing.length > 2) {
      const points = drawing.map(([x, y]): [number, number] => [round(x), round(y)]);
      const side = tool === 'ours' ? 'subject' : 'background';
      const references = { [side]: { radius: 1, points, filled: true } };
      commit((r: Recipe) => ({ ...r, match: { ...r.match, references: { ...r.match.references, ...references } } }));
      set({ benchTool: 'look' });
    } else if (tool === 'limit' || tool === 'graduate') {
      const { grading, limiting, tip } = useView.getState();
      const way = wayOfLimit(
        recipe,
        recipe.cards.find((c) => c.id === grading),
        sizes,
      );
      const points = drawing.map(([x, y]): [number, number] => {
        const p = way.on(x, y);
        return [round(p.x), round(p.y)];
      });
      const part = ofLimit(limiting, grading);
      const [from, to] = [points[0], points[points.length - 1]];
      commit((r: Recipe) => {
        const limit = part.read(r);
        const stroke = { radius: tip, hardness: 0.4, opacity: 1, points };
        return part.write(r, tool === 'limit' ? { ...limit, painted: [...limit.painted, stroke] } : { ...limit, graduated: { from, to } });
      });
    } else if (tool === 'strew' && drawing.length > 2) {
      const shining = lampCard(recipe.cards);
      if (!shining) return;
      const area = { region: loopOn(shining, drawing), ...defaultArea };
      commit((r: Recipe) =>
        editCard(r, shining.id, (c) => ('lamps' in c ? { ...c, lamps: { ...c.lamps, areas: [...c.lamps.areas, area].slice(-20) } } : c)),
      );
      set({ benchTool: 'look', lamps: true });
    } else if (tool === 'stands') {
      const ground = card?.kind === 'plate' || card?.kind === 'picture' ? card : backgroundCard(recipe);
      if (ground?.kind !== 'plate' && ground?.kind !== 'picture') return;
      const keep = (regions: Region[]): void =>
        commit((r: Recipe) =>
          editCard(r, ground.id, (c) => ({
            ...c,
            distances: { ...c.distances, standing: [...c.distances.standing, ...(regions as typeof c.distances.standing)].slice(-40) },
          })),
        );
      void pointedThing(store, ground, loopOn(ground, drawing).points, sizes).then(keep, refuse);
    } else if (tool === 'paint' && card) {
      const { paintDistance, tip } = useView.getState();
      const points = drawing.map(([x, y]): [number, number] => {
        const p = on(card, { x, y });
        return [p.x, p.y];
      });
      const stroke = { distance: paintDistance, radius: tip, hardness: 0.7, opacity: 1, points };
      commit((r: Recipe) =>
        editCard(r, card.id, (c) => ({ ...c, distances: { ...c.distances, painted: [...c.distances.painted, stroke] } })),
      );
    }
  };

  return { active, draws: drawn.includes(tool), ...(drawing && { drawing }), down, move, up, drop: () => setDrawing(undefined) };
}
