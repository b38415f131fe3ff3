/** What is known of the pace of a clock that goes along a route, by column: times in µs. */
export const enum Pace {
  /** When the last tick came, how long after the one before, and the jitter so far. */
  CameAt,
  CameGap,
  CameJitter,
  /** The same of when it could leave. */
  WentAt,
  WentGap,
  WentJitter,
  /** How far apart the ticks come, smoothed: a single gap is as uneven as its cable. */
  Tick,
  Width,
}

/** A pause of this length, µs, is none between two ticks: the slowest clock of 20 beats a minute has 125 ms. */
export const PAUSE = 500_000;
/** The share of a new difference in the jitter, as RFC 3550, 6.4.1 has it. */
const SHARE = 16;

function keep(row: Float64Array, at: number, now: number): void {
  const gap = now - row[at];
  row[at] = now;
  if (gap > PAUSE) row[at + 1] = 0;
  else {
    if (row[at + 1] > 0) row[at + 2] += (Math.abs(gap - row[at + 1]) - row[at + 2]) / SHARE;
    row[at + 1] = gap;
  }
}

/**
 * Takes a tick into account. Jitter is that of RFC 3550, 6.4.1, for a sender whose ticks are evenly spaced: the smoothed
 * difference between one gap and the next.
 * @param at the first column of the route
 * @param came when the tick came, µs
 * @param goes when its cable is free for it, µs
 */
export function keepPace(row: Float64Array, at: number, came: number, goes: number): void {
  keep(row, at + Pace.CameAt, came);
  const [gap, tick] = [row[at + Pace.CameGap], row[at + Pace.Tick]];
  row[at + Pace.Tick] = gap === 0 || tick === 0 ? gap : tick + (gap - tick) / SHARE;
  keep(row, at + Pace.WentAt, goes);
}
