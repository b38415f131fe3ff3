/** After a move of what has no touch sense the finger is taken to be gone so long after, µs. */
export const FINGER_LASTS = 500_000;
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
  private readonly timed: number[] = [];

  /** @param tell tells a host that a finger has come to a slot's control, or has gone; false where it cannot */
  constructor(
    slots: number,
    private readonly tell: (slot: number, on: boolean) => void,
  ) {
    this.until = new Float64Array(slots).fill(NONE);
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
  moved(slot: number, clock: Float64Array): void {
    const was = this.until[slot];
    if (was === Infinity) return;
    if (was < 0) {
      this.tell(slot, true);
      this.timed.push(slot);
    }
    this.until[slot] = clock[0] + FINGER_LASTS;
    if (this.until[slot] < this.deadline) this.deadline = this.until[slot];
  }

  /** Fingers go that were only taken to be there. */
  advance(t: number): void {
    this.deadline = Infinity;
    for (let i = this.timed.length - 1; i >= 0; i--) {
      const slot = this.timed[i];
      const until = this.until[slot];
      if (until > t && until < Infinity) {
        if (until < this.deadline) this.deadline = until;
        continue;
      }
      this.timed.splice(i, 1);
      if (until >= 0 && until <= t) this.lift(slot);
    }
  }

  liftAll(): void {
    for (let slot = 0; slot < this.until.length; slot++) this.lift(slot);
    this.timed.length = 0;
    this.deadline = Infinity;
  }

  /** Takes over what lies on the same slot under another plan. */
  carry(slot: number, from: Fingers, fromSlot: number): void {
    const until = from.until[fromSlot];
    if (until < 0) return;
    this.until[slot] = until;
    if (until === Infinity) return;
    this.timed.push(slot);
    this.deadline = Math.min(this.deadline, until);
  }

  /** Slots that are touched now. */
  touched(): number[] {
    return [...this.until].flatMap((until, slot) => (until >= 0 ? [slot] : []));
  }
}
