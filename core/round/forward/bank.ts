/**
 * The bank window: which run of strips the surface reaches. A move that would leave the strips stops at the end;
 * the same move back then returns to where it came from, so that the banks stay where people know them.
 */
export class BankWindow {
  /** First strip in the window, from 0. */
  start = 0;
  private cameFrom = -1;
  private cameBy = 0;

  constructor(
    private strips = 0,
    private width = 0,
  ) {}

  /** Largest start there is. */
  get last(): number {
    return Math.max(0, this.strips - this.width);
  }

  /** Fits the window to another number of strips or another width; it stays where it is as far as it can. */
  fit(strips: number, width: number): void {
    if (strips === this.strips && width === this.width) return;
    this.strips = strips;
    this.width = width;
    this.goTo(this.start);
  }

  /** Puts the window at a strip, as after a restart. */
  goTo(start: number): void {
    this.start = Math.max(0, Math.min(this.last, Math.trunc(start)));
    this.cameFrom = -1;
  }

  /** Moves by some strips; returns whether the window moved. */
  move(by: number): boolean {
    const from = this.start;
    if (this.cameFrom >= 0 && by === -this.cameBy) {
      this.start = this.cameFrom;
      this.cameFrom = -1;
      return this.start !== from;
    }
    const wanted = from + by;
    const to = Math.max(0, Math.min(this.last, wanted));
    if (to === from) return false;
    this.start = to;
    this.cameFrom = to === wanted ? -1 : from;
    this.cameBy = by;
    return true;
  }
}
