import type { SentType } from './capture.js';

/** What a movement says about a control. */
export interface Guess {
  readonly kind:
    | 'fader'
    | 'knob'
    | 'encoder'
    | 'wheel'
    | 'button'
    | 'pad'
    | 'switch'
    | 'key'
    | 'touch'
    | 'pedal'
    | 'unknown';
  readonly behaviour: 'continuous' | 'momentary' | 'latching' | 'positions';
  readonly encoding?: 'absolute' | 'twosComplement' | 'signMagnitude' | 'binaryOffset';
  readonly positions?: readonly number[];
  readonly confidence: number;
  readonly why: string;
}

/** What the rest of the capture says about a track. */
export interface Surroundings {
  /** A note that is down exactly while a fader moves. */
  readonly touched: boolean;
  readonly pressure: SentType | undefined;
  readonly notesOnChannel: number;
  /** Controllers numbered one beside it move too. */
  readonly neighbours: boolean;
  /** It only trembled. */
  readonly trembling: boolean;
}

/** Confidence below which a move more is asked for. */
export const THIN = 0.6;
