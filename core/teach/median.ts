/** The middle one of a list; of an even number the upper one. */
export const median = (list: readonly number[]): number =>
  list.length === 0 ? NaN : [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)];
