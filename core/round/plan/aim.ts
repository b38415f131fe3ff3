/** Stands for the number of strips where an aim is a parameter of what has focus. */
export const FOCUS = -2;

/** Where an action or an output finds its slot: at `base`, in the bank window from `base` on, or through the focus. */
export interface Aim {
  /** First slot: that of strip 1 where `offset` is not negative. The focus table for {@link FOCUS}. */
  readonly base: number;
  /** Place in the bank window, or on the page of what has focus; −1 where the slot is fixed. */
  readonly offset: number;
  /** Strips of that host, or {@link FOCUS}. */
  readonly strips: number;
}

/** Holds where the value at its aim is known or assumed and lies from `low` up to, not including, `high`. */
export interface ConditionPlan {
  readonly aim: Aim;
  readonly low: number;
  readonly high: number;
}
