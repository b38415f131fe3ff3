import type { Control, InputPart, Pattern } from '@rondo/core/surface';

/** How a part tells what the hand does. */
export const enum InputMode {
  Absolute,
  Relative,
  Press,
  Touch,
}

/** Gestures in the order of a part's candidates. A move counts as a press. */
export const enum GestureAt {
  Press,
  Release,
  Long,
  Double,
  Count,
}

/** An input part of a control. */
export interface PartPlan {
  readonly key: string;
  readonly link: number;
  readonly control: Control;
  readonly part: InputPart;
  /** What it sends on each onboard page. */
  readonly patterns: readonly (Pattern | undefined)[];
  readonly moves: InputMode;
  /** Its message says 'pressed' and never 'released', or says both by turns as a self-latching key does. */
  readonly oneShot: boolean;
  readonly latching: boolean;
  /** The motor beside it, as an output index; −1 without one. */
  readonly motor: number;
  /** The part whose value this touch guards, or which guards this value; −1 without one. */
  readonly partner: number;
  /** The text that shows its value when it moves, as an output index, and which of its two sources that is. */
  readonly text: number;
  readonly textSource: number;
  /** Where a spring pulls it, 0…1. */
  readonly rest: number;
  /** Bindings by gesture, the first that may count first: topmost layer, then those with conditions. */
  readonly candidates: readonly (readonly number[])[];
}

export const partKey = (surface: string, control: string, part: string): string =>
  `${surface}/${control}/${part}`;
