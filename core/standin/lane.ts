import { BARS_MAX } from '@rondo/core/host';

/** Points of a lane in each bar. */
const RESOLUTION = 16;

/** Written automation of one value over the whole song, 0…1 by bar; nothing where none was written. */
export class Lane {
  private readonly points = new Float64Array(BARS_MAX * RESOLUTION + 1).fill(NaN);

  /** Fills the whole lane with points that repeat after the last one. */
  fill(
    points: readonly (readonly [bar: number, value: number])[],
    toPosition: (value: number) => number,
  ): void {
    const last = points[points.length - 1][0];
    for (let i = 0; i < this.points.length; i++) {
      const bar = (i / RESOLUTION) % last;
      const next = points.findIndex(([at]) => at > bar);
      const [bar0, value0] = points[next - 1];
      const [bar1, value1] = points[next];
      const value = value0 + ((bar - bar0) / (bar1 - bar0)) * (value1 - value0);
      this.points[i] = toPosition(value);
    }
  }

  /** The written value at a bar, straight between its points; null where nothing is written. */
  at(bar: number): number | null {
    const place = bar * RESOLUTION;
    const before = Math.floor(place);
    const one = this.points[before];
    const two = this.points[Math.min(before + 1, this.points.length - 1)];
    if (Number.isNaN(one)) return null;
    return Number.isNaN(two) ? one : one + (two - one) * (place - before);
  }

  get written(): number {
    return this.points.reduce((count, point) => (Number.isNaN(point) ? count : count + 1), 0);
  }

  write(bar: number, value: number): void {
    this.points[Math.round(bar * RESOLUTION)] = value;
  }
}
