/** Clock messages in a quarter note, and in a step of the song position (MIDI 1.0). */
const TICKS = 24;
const TICKS_A_STEP = 6;
/** Length of a beat where nobody tells, µs: 120 a minute. */
const USUAL_BEAT = 500_000;
/** A clock that says nothing for so long has stopped, and another may take its place, µs. Ten beats a minute are slower. */
const SILENT = 500_000;
/** Beats in a bar: four quarters, as clocks do not tell. Common practice, no source. */
const BEATS_A_BAR = 4;
/** How much of a beat a light that flashes with it is lit. */
const LIT = 0.3;

/** Places in a list of times. */
const enum At {
  /** When the beat that is now began, µs, and the newest clock message. */
  Beat,
  Tick,
  /** Length of a beat, µs. */
  Length,
  Width,
}

/**
 * Where in the beat we are, from the clock messages of one link at a time; without any it runs on evenly. Start, stop,
 * continue and song position say where the music is and leave its tempo alone (MIDI 1.0 Detailed Specification 4.2.1,
 * *System Real Time* and *Song Position Pointer*): start begins at the first clock message after it, continue goes on
 * where the music was.
 */
export class Beat {
  /** Link that is followed, in its first place; −1 for none. */
  private source: Int32Array = Int32Array.of(-1);
  /** Clock messages since the music's beginning; the next one is this many. */
  private position = 0;
  private runs = true;
  /** The next clock message is the first since the music goes on again. */
  private resumes = false;
  /** Times of the newest clock messages without a pause between them, µs, and how many there are. */
  private readonly newest = new Float64Array(TICKS);
  private count = 0;
  /** Which beat of its bar is now, from 0. */
  private inBar = 0;
  private readonly times = new Float64Array(At.Width);

  /** @param clock the time now, µs, in its first place */
  constructor(private readonly clock: Float64Array) {
    this.times[At.Tick] = -SILENT;
    this.times[At.Length] = USUAL_BEAT;
  }

  /** Goes on under another plan. @param source the link that is followed, in its first place */
  use(source: Int32Array): void {
    this.source = source;
  }

  /** A clock message of a link. One that is `wanted` takes over at once. */
  tick(link: number, wanted: boolean): void {
    const { times, newest } = this;
    const now = this.clock[0];
    if (link !== this.source[0]) {
      if (!wanted && this.source[0] >= 0 && now - times[At.Tick] < SILENT) return;
      this.source[0] = link;
      this.count = 0;
      this.position = 0;
      this.runs = true;
    } else if (now - times[At.Tick] >= SILENT) this.count = 0;
    // What stood here came a whole beat ago.
    const place = this.count % TICKS;
    if (this.count >= TICKS && now > newest[place]) times[At.Length] = now - newest[place];
    newest[place] = now;
    this.count++;
    if (this.runs) {
      const within = this.position % TICKS;
      if (within === 0 || this.resumes) {
        times[At.Beat] = now - (within / TICKS) * times[At.Length];
        this.inBar = Math.floor(this.position / TICKS) % BEATS_A_BAR;
      }
      this.resumes = false;
      this.position++;
    }
    times[At.Tick] = now;
  }

  private follows(link: number): boolean {
    if (this.source[0] < 0) this.source[0] = link;
    return link === this.source[0];
  }

  /** The music starts anew: the next clock message is the first of a beat. */
  start(link: number): void {
    if (!this.follows(link)) return;
    this.position = 0;
    this.runs = true;
  }

  /** The music goes on where it was. */
  goOn(link: number): void {
    if (!this.follows(link) || this.runs) return;
    this.runs = true;
    this.resumes = true;
  }

  /** The music stands still. Its clock may go on, and lights that flash with it do so evenly. */
  stop(link: number): void {
    if (this.follows(link)) this.runs = false;
  }

  /** The music is put to a place, in steps of six clock messages from its beginning; it stands still then. */
  goTo(link: number, steps: number): void {
    if (this.follows(link)) this.position = steps * TICKS_A_STEP;
  }

  /** Length of a beat as it was last, µs. */
  get length(): number {
    return this.times[At.Length];
  }

  /** Whether a light that flashes with the beat is lit now. */
  isLit(): boolean {
    return this.phase() < LIT;
  }

  /** Where in a beat we are now, from 0 up to 1. */
  phase(): number {
    const beats = (this.clock[0] - this.times[At.Beat]) / this.times[At.Length];
    return beats - Math.floor(beats);
  }

  /** Whether a light that flashes with the bar is lit now: for its first beat. */
  isLitInBar(): boolean {
    return this.barPhase() * BEATS_A_BAR < 1;
  }

  /** Where in a bar we are now, from 0 up to 1. */
  barPhase(): number {
    const beats = (this.clock[0] - this.times[At.Beat]) / this.times[At.Length];
    const bars = (this.inBar + beats) / BEATS_A_BAR;
    return bars - Math.floor(bars);
  }

  /** How long until such a light changes, µs. */
  untilChangeInBar(): number {
    const beats = this.barPhase() * BEATS_A_BAR;
    const left = (beats < 1 ? 1 : BEATS_A_BAR) - beats;
    return Math.max(1, Math.ceil(left * this.times[At.Length]));
  }

  /** How long until a light that flashes with the beat changes, µs. */
  untilChange(): number {
    const phase = this.phase();
    return Math.max(1, Math.ceil(((phase < LIT ? LIT : 1) - phase) * this.times[At.Length]));
  }
}
