/** Clock messages in a quarter note (MIDI 1.0). */
const TICKS = 24;
/** Length of a beat where nobody tells, µs: 120 a minute. */
const USUAL_BEAT = 500_000;
/** A clock that says nothing for so long has stopped, and another may take its place, µs. */
const SILENT = 500_000;
/** How much of a beat a light that flashes with it is lit. */
const LIT = 0.3;

/** Where in the beat we are, from the clock messages of one link at a time; without any it runs on evenly. */
export class Beat {
  /** Link that is followed; −1 for none. */
  private source = -1;
  private ticks = 0;
  /** Time of the first tick of this beat and of the newest one, µs, and the length of a beat. */
  private readonly times = Float64Array.of(0, -SILENT, USUAL_BEAT);

  /** A clock message of a link at the time in a list's first place. A link that is `wanted` takes over at once. */
  tick(link: number, clock: Float64Array, wanted: boolean): void {
    const { times } = this;
    const now = clock[0];
    if (link !== this.source) {
      if (!wanted && this.source >= 0 && now - times[1] < SILENT) return;
      this.source = link;
      this.ticks = 0;
      times[0] = now;
    } else if (++this.ticks === TICKS) {
      this.ticks = 0;
      if (now > times[0]) times[2] = now - times[0];
      times[0] = now;
    }
    times[1] = now;
  }

  /** The music starts anew: the next clock message is the first of a beat (MIDI 1.0, Start). */
  start(link: number): void {
    if (link === this.source || this.source < 0) {
      this.source = link;
      this.ticks = TICKS - 1;
    }
  }

  /** Whether a light that flashes with the beat is lit at the time in a list's first place. */
  isLit(clock: Float64Array): boolean {
    return this.phase(clock) < LIT;
  }

  private phase(clock: Float64Array): number {
    const beats = (clock[0] - this.times[0]) / this.times[2];
    return beats - Math.floor(beats);
  }

  /** How long until such a light changes, µs. */
  untilChange(clock: Float64Array): number {
    const phase = this.phase(clock);
    return Math.max(1, Math.ceil(((phase < LIT ? LIT : 1) - phase) * this.times[2]));
  }
}
