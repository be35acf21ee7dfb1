import { roundAperture } from '../lens/aperture';
import { defaultLamps } from '../lens/lamps';
import { centred } from '../placement/place';
import { defaultAdjustments, defaultFinish, defaultMatch } from './grades';
import { newPlate, defaultCard, defaultCut } from './defaults';

interface Old {
  subjects?: unknown;
}

/** Data of an older version as the current one would have it; anything else as it is. */
export function upgraded(data: unknown, version: unknown): unknown {
  const from = [fromVersion1, fromVersion2, fromVersion3, fromVersion4];
  if (typeof version !== 'number' || version < 1) return data;
  return from.slice(version - 1).reduce<unknown>((d, step) => step(d as Old), data);
}

function eachSubject(data: Old, change: (subject: object) => object): Old {
  return { ...data, subjects: Array.isArray(data.subjects) ? data.subjects.map(change) : data.subjects };
}

/** Version 1 knew cuts by marks only, and no kept mattes. */
function fromVersion1(data: Old): Old {
  return { ...eachSubject(data, (s) => ({ ...defaultCut, ...s })), ...{ mattes: [], multiplied: [] } };
}

/** Version 2 knew one fill for the whole hole, and no retouching. */
function fromVersion2(data: Old): unknown {
  const plateOf = (plate: unknown): unknown =>
    typeof plate === 'object' && plate !== null ? { ...newPlate(), ...plate, fill: { kind: 'smooth' } } : plate;
  return { ...eachSubject(data, (s) => ({ ...s, plate: plateOf((s as { plate?: unknown }).plate) })), version: 3 };
}

/** Version 3 knew upright cards in flat distance, a round opening, and a frame the size of the shot. */
function fromVersion3(data: Old & { frame?: unknown; lens?: unknown; cards?: unknown }): unknown {
  const size = data.frame as { width?: number; height?: number } | undefined;
  const cards = Array.isArray(data.cards) ? (data.cards as { kind?: unknown; placement?: object }[]) : [];
  return {
    ...eachSubject(data, (s) => ({ ...s, size: { width: size?.width, height: size?.height } })),
    version: 4,
    frame: { ...size, x: 0, y: 0, turn: 0 },
    lens: { ...(data.lens as object), across: size?.width, aperture: roundAperture },
    cards: cards.map((c) => ({
      ...defaultCard,
      ...(c.kind !== 'subject' && { lamps: defaultLamps }),
      ...(c.kind === 'picture' && { matte: null }),
      ...c,
      placement: { ...centred, ...c.placement },
    })),
  };
}

/** Version 4 knew a card's warmth, exposure and saturation, a match of cast and of tone, and nothing done to the whole. */
function fromVersion4(data: Old & { match?: unknown; cards?: unknown }): unknown {
  const { cast = 0, tone = 0 } = (data.match ?? {}) as { cast?: number; tone?: number };
  const cards = Array.isArray(data.cards) ? (data.cards as ({ look?: Record<string, number> } & object)[]) : [];
  return {
    ...data,
    version: 5,
    match: {
      ...defaultMatch,
      strengths: { cast, tint: cast, black: tone, white: tone, middle: tone, contrast: tone, saturation: 0 },
    },
    finish: defaultFinish,
    cards: cards.map(({ look, ...card }) => {
      const { warmth = 0, exposure = 0, saturation = 1 } = look ?? {};
      return { ...defaultAdjustments, ...card, grade: { ...defaultAdjustments.grade, temperature: warmth, exposure, saturation } };
    }),
  };
}
