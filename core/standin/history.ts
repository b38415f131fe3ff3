/**
 * What can be undone in a simulated host: a ring of steps, each a value before and after. Numbers live in flat lists,
 * so that thousands of moves a second leave nothing to be collected.
 */
export class History {
  private readonly slots: Int32Array;
  private readonly before: Float64Array;
  private readonly after: Float64Array;
  private readonly at: Float64Array;
  /** Place of the oldest step, how many there are, and how many of these are undone. */
  private oldest = 0;
  private count = 0;
  private undone = 0;

  /**
   * @param most steps that are kept; the oldest makes room
   * @param oneMove moves of one value within this time are one step, µs
   */
  constructor(
    private readonly most: number,
    private readonly oneMove: number,
  ) {
    this.slots = new Int32Array(most);
    this.before = new Float64Array(most);
    this.after = new Float64Array(most);
    this.at = new Float64Array(most);
  }

  private placeOf(step: number): number {
    const place = this.oldest + step;
    return place < this.most ? place : place - this.most;
  }

  /** A value has been moved: from the first number of a list, to the one at its slot. What was undone is gone. */
  remember(slot: number, from: Float64Array, values: Float64Array, clock: Float64Array): void {
    this.count -= this.undone;
    this.undone = 0;
    const last = this.placeOf(this.count - 1);
    if (this.count > 0 && this.slots[last] === slot && clock[0] - this.at[last] < this.oneMove) {
      this.after[last] = values[slot];
      return;
    }
    if (this.count === this.most) this.oldest = (this.oldest + 1) % this.most;
    else this.count++;
    const place = this.placeOf(this.count - 1);
    this.slots[place] = slot;
    this.before[place] = from[0];
    this.after[place] = values[slot];
    this.at[place] = clock[0];
  }

  /** Takes the last step back: `put` is told the slot and its value before. False where there is none. */
  undo(put: (slot: number, value: number) => void): boolean {
    if (this.undone === this.count) return false;
    this.undone++;
    const place = this.placeOf(this.count - this.undone);
    put(this.slots[place], this.before[place]);
    return true;
  }

  /** Does again what was undone last. False where nothing was. */
  redo(put: (slot: number, value: number) => void): boolean {
    if (this.undone === 0) return false;
    const place = this.placeOf(this.count - this.undone);
    this.undone--;
    put(this.slots[place], this.after[place]);
    return true;
  }
}
