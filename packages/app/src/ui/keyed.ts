import { createContext } from 'react';

/** How a number stands in time: not keyed, keyed, or with a point at the frame that is looked at. */
type KeyState = 'none' | 'keyed' | 'point';

/** What numbers need to be keyed; nothing in a job without time. */
export interface Keying {
  state: (of: string) => KeyState;
  toggle: (of: string) => void;
  /** This number is in hand now. */
  take: (of: string) => void;
}

export const KeyingContext = createContext<Keying | undefined>(undefined);
