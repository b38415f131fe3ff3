/** How one likes to play on this device. */
export interface Habits {
  /** A finger takes a fader along from wherever it comes down, or the fader jumps to it. */
  readonly faders: 'grab' | 'jump';
  /** A dial goes with the finger's way up and down, or round with its angle. */
  readonly dials: 'drag' | 'angle';
}

const KEY = 'rondo habits';
const USUAL: Habits = { faders: 'grab', dials: 'drag' };

/** What was chosen on this device before. */
export function readHabits(store: Pick<Storage, 'getItem'> = localStorage): Habits {
  try {
    const known = JSON.parse(store.getItem(KEY) ?? '{}') as Partial<Habits>;
    return {
      faders: known.faders === 'jump' ? 'jump' : USUAL.faders,
      dials: known.dials === 'angle' ? 'angle' : USUAL.dials,
    };
  } catch {
    return USUAL;
  }
}

export function writeHabits(habits: Habits, store: Pick<Storage, 'setItem'> = localStorage): void {
  try {
    store.setItem(KEY, JSON.stringify(habits));
  } catch {
    // A browser that keeps nothing plays all the same; it forgets the choice.
  }
}
