export const DECKS = 4;
export const HOT_CUES = 8;
export const SAMPLERS = 8;
export const EFFECT_UNITS = 2;
/** The most stems that a record comes in. */
export const STEMS = 5;
/** Stems that had their messages before there was a fifth. */
export const FIRST_STEMS = 4;

/** Lengths of loops and jumps, in beats. */
export const LENGTHS = [1 / 32, 1 / 16, 1 / 8, 1 / 4, 1 / 2, 1, 2, 4, 8, 16, 32, 64] as const;
export const LENGTH_NAMES = LENGTHS.map((beats) =>
  beats < 1 ? `1/${1 / beats} beat` : beats === 1 ? '1 beat' : `${beats} beats`,
);
/** Pitch ranges, as shares of the speed. */
export const PITCH_RANGES = [0.05, 0.1, 0.2, 0.5, 1] as const;
/** Key shifts, in semitones. */
export const KEY_SHIFTS = Array.from({ length: 25 }, (_, i) => i - 12);
export const EFFECTS = ['Echo', 'Sweep', 'Crush', 'Room'] as const;
export const SIDES = ['A', 'Through', 'B'] as const;
export const CURVES = ['Smooth', 'Even', 'Sharp'] as const;
/** Numbers of stems that records come in. */
export const STEM_GROUPS = [2, 3, 4, 5] as const;
