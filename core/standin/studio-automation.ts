import {
  AUTOMATION_STATES,
  BARS_MAX,
  STUDIO,
  choiceAt,
  faderTaper,
  valueOfChoice,
} from '@rondo/core/host';
import { grid } from './host.js';
import { Lane } from './lane.js';

/** After a move by hand or by a surface, written automation stays away from that strip this long, µs. */
const AUTOMATION_WAITS = 1_000_000;

/** Written volume automation, decibels by bar; it repeats after the last bar. Ours. */
const WRITTEN: readonly {
  strip: number;
  points: readonly (readonly [bar: number, db: number])[];
}[] = [
  {
    strip: 2,
    points: [
      [0, -18],
      [1, -3],
      [2, -3],
      [3, -24],
      [4, -18],
    ],
  },
  {
    strip: 6,
    points: [
      [0, -30],
      [2, -8],
      [4, -30],
    ],
  },
];

const enum Automation {
  Off,
  Read,
  Write,
  Touch,
  Latch,
}
/** What automation needs of the session that it moves. */
export interface AutomatedSession {
  readonly values: Float64Array;
  /** Time now, µs, in its first place: as a number it would be put on the heap. */
  readonly clock: Float64Array;
  /** Place in the song, in bars from 0. */
  readonly bar: number;
  /** First slot of a function. */
  at(functionId: string): number;
  change(slot: number, value: number): void;
}

/** Written automation of the volumes: read, written, and kept away from a hand. */
export class StudioAutomation {
  private readonly lanes = STUDIO.strips.map(() => new Lane());
  private readonly handAt = new Float64Array(STUDIO.strips.length).fill(-AUTOMATION_WAITS);
  /** A hand has moved the fader since play began. */
  private readonly latched = new Uint8Array(STUDIO.strips.length);
  private readonly volume: number;
  private readonly state: number;

  constructor(private readonly session: AutomatedSession) {
    this.volume = session.at('volume');
    this.state = session.at('automation');
    for (const { strip, points } of WRITTEN) {
      this.lanes[strip].fill(points, (db) => faderTaper.fromUnit(db));
      session.values[this.state + strip] = valueOfChoice(AUTOMATION_STATES.length, Automation.Read);
    }
  }

  /** How many points of a strip are written. */
  written(strip: number): number {
    return this.lanes[strip].written;
  }

  /** A fader is moved, by a hand or by a surface. */
  touched(strip: number): void {
    this.handAt[strip] = this.session.clock[0];
    this.latched[strip] = 1;
  }

  /** Play begins. */
  begin(): void {
    this.latched.fill(0);
  }

  /** Every strip is where its automation has it now, or that is written. */
  move(): void {
    for (let strip = 0; strip < STUDIO.strips.length; strip++) this.automate(strip);
  }

  private automate(strip: number): void {
    const state: Automation = choiceAt(
      AUTOMATION_STATES.length,
      this.session.values[this.state + strip],
    );
    if (state === Automation.Off) return;
    const slot = this.volume + strip;
    const byHand = this.session.clock[0] - this.handAt[strip] < AUTOMATION_WAITS;
    const writes =
      state === Automation.Write ||
      (state === Automation.Touch && byHand) ||
      (state === Automation.Latch && this.latched[strip] === 1);
    const bar = this.session.bar % BARS_MAX;
    if (writes) this.lanes[strip].write(bar, this.session.values[slot]);
    else if (!byHand) {
      const written = this.lanes[strip].at(bar);
      if (written !== null) this.session.change(slot, grid(written));
    }
  }
}
