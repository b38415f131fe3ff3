import { unsafeUniformIntDistribution, xoroshiro128plus } from 'pure-rand';

/** How a device or program speaks, within what the standards allow: most real ones have some habit. */
export interface Habits {
  /** Which halves of a 14-bit pair are sent: the low one is left out always, or the high one where it is the same. */
  readonly halves: 'both' | 'highOnly' | 'lowWhenHighStays';
  /** Leaves out status bytes that repeat (MIDI 1.0). */
  readonly runningStatus: boolean;
  /** Rewrites only the characters of a display that have changed. */
  readonly partialTexts: boolean;
  /** Rounds values to so many steps before it tells them; 0 for as fine as the message allows. */
  readonly steps: number;
  /** Tells what has happened so much later, µs. */
  readonly late: number;
  /** Tells also what it was just told. */
  readonly echoes: boolean;
  /** Tells nothing at all. */
  readonly silent: boolean;
}

/** Nothing left out, nothing late. */
export const PLAIN_HABITS: Habits = {
  halves: 'both',
  runningStatus: false,
  partialTexts: false,
  steps: 0,
  late: 0,
  echoes: true,
  silent: false,
};

/** Reports come at most this late, µs: within the time for which the engine doubts an older one. */
export const MOST_LATE = 140_000;

/** Habits by lot: the same for the same seed. One in eight is silent. */
export function habitsOf(seed: number): Habits {
  const lots = xoroshiro128plus(seed);
  const draw = (below: number) => unsafeUniformIntDistribution(0, below - 1, lots);
  return {
    halves: (['both', 'highOnly', 'lowWhenHighStays'] as const)[draw(3)],
    runningStatus: draw(2) === 1,
    partialTexts: draw(2) === 1,
    steps: draw(2) === 1 ? 0 : 2 + draw(127),
    late: draw(2) === 1 ? 0 : draw(MOST_LATE + 1),
    echoes: draw(3) > 0,
    silent: draw(8) === 0,
  };
}

/** A value, 0…1, on the nearest of some steps; as it is where there are none. */
export const onSteps = (value: number, steps: number): number =>
  steps < 2 ? value : Math.round(value * (steps - 1)) / (steps - 1);
