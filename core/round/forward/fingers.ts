import type { IndexList } from '../live/columns.js';
import type { State } from '../live/state.js';

/** After a move of what has no touch sense the finger is taken to be gone so long after, µs. */
const FINGER_LASTS = 500_000;
const NONE = -1;

/**
 * Fingers that lie on faders, as a program is told that knows a touch: as long as one lies there it leaves the fader
 * alone. What cannot feel a finger is taken to be touched while it moves.
 */
export class Fingers {
  /** When the first of those that are taken to be there goes, µs. */
  deadline = Infinity;
  /** Until when each slot is touched; Infinity while a real finger lies there, below 0 where none does. */
  private readonly until: Float64Array;
  private readonly timed: IndexList;

  /**
   * @param clock the time now, µs, in its first place
   * @param agenda hears of what is planned earlier than what stands in its first place, µs
   * @param tell tells a host that a finger has come to a slot's control, or has gone
   */
  constructor(
    state: State,
    private readonly clock: Float64Array,
    private readonly agenda: Float64Array,
    private readonly tell: (slot: number, on: boolean) => void,
  ) {
    this.until = state.fingerUntil;
    this.timed = state.timedFingers;
    this.findDeadline();
  }

  private findDeadline(): void {
    this.deadline = Infinity;
    for (let i = 0; i < this.timed.count; i++) {
      const until = this.until[this.timed.items[i]];
      if (until >= 0 && until < this.deadline) this.deadline = until;
    }
  }

  isOn(slot: number): boolean {
    return this.until[slot] >= 0;
  }

  /** A finger lies there until {@link lift}. */
  press(slot: number): void {
    if (this.until[slot] < 0) this.tell(slot, true);
    this.until[slot] = Infinity;
  }

  lift(slot: number): void {
    if (this.until[slot] < 0) return;
    this.until[slot] = NONE;
    this.tell(slot, false);
  }

  /** What cannot feel a finger has moved. */
  moved(slot: number): void {
    const was = this.until[slot];
    if (was === Infinity) return;
    if (was < 0) {
      this.tell(slot, true);
      this.timed.remove(slot);
      this.timed.add(slot);
    }
    const due = this.clock[0] + FINGER_LASTS;
    this.until[slot] = due;
    this.findDeadline();
    if (due < this.agenda[0]) this.agenda[0] = due;
  }

  /** Fingers go that were only taken to be there. */
  advance(): void {
    const t = this.clock[0];
    for (let i = 0; i < this.timed.count;) {
      const slot = this.timed.items[i];
      const until = this.until[slot];
      if (until > t && until < Infinity) {
        i++;
        continue;
      }
      this.timed.remove(slot);
      if (until >= 0 && until <= t) this.lift(slot);
    }
    this.findDeadline();
  }

  liftAll(): void {
    for (let slot = 0; slot < this.until.length; slot++) this.lift(slot);
    this.timed.count = 0;
    this.deadline = Infinity;
  }

  /** Slots that are touched now. */
  touched(): number[] {
    return [...this.until].flatMap((until, slot) => (until >= 0 ? [slot] : []));
  }
}
