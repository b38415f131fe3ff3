/** MIDI 1.0: 24 clocks a quarter note. */
const CLOCKS_A_BEAT = 24;

/** A clock that has not ticked for so long has stopped, ms: the slowest one, 20 beats a minute, ticks every 125. */
const GONE_MS = 1_000;

/** Tempo of a clock, over the last beat. */
export class Tempo {
  private times: number[] = [];
  private tempo: number | null = null;

  /** @param at milliseconds; returns beats a minute, in tenths, once a whole beat has come */
  tick(at: number): number | null {
    if (at - (this.times.at(-1) ?? at) > GONE_MS) this.times = [];
    this.times.push(at);
    if (this.times.length <= CLOCKS_A_BEAT) return null;
    const first = this.times.shift() as number;
    this.tempo = at > first ? Math.round(600_000 / (at - first)) / 10 : null;
    return this.tempo;
  }

  /** Beats a minute, in tenths, at a time in ms; null before a whole beat has come, and once the clock has stopped. */
  at(now: number): number | null {
    if (now - (this.times.at(-1) ?? -Infinity) > GONE_MS) {
      this.times = [];
      this.tempo = null;
    }
    return this.tempo;
  }
}
