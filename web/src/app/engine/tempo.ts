/** MIDI 1.0: 24 clocks a quarter note. */
const CLOCKS_A_BEAT = 24;

/** Tempo of a clock, over the last beat. */
export class Tempo {
  private readonly times: number[] = [];

  /** @param at milliseconds; returns beats a minute once a whole beat has come */
  tick(at: number): number | null {
    this.times.push(at);
    if (this.times.length <= CLOCKS_A_BEAT) return null;
    const first = this.times.shift() as number;
    return at > first ? 60_000 / (at - first) : null;
  }
}
