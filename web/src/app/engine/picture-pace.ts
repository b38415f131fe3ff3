/** The part of the drawing thread's time that pictures may take, so that hands, notes and other programs have the rest. */
const SHARE = 0.5;
/** Pictures are at most so far apart on a slow computer, ms. */
const FARTHEST = 100;

/** How often the page is painted: with every frame of the browser where that is light work, more seldom where it is not. */
export class PicturePace {
  private notBefore = 0;

  /** Whether a picture may be painted at a moment, ms. */
  isDue(now: number): boolean {
    return now >= this.notBefore;
  }

  /** A picture was begun at a moment and was on its way to the screen at another, ms. */
  took(began: number, ended: number): void {
    this.notBefore = began + Math.min(FARTHEST, (ended - began) / SHARE);
  }
}
