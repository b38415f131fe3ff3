import fc from 'fast-check';
import { History } from './history.js';

/** A desk of four values with a history of a few steps. */
class Desk {
  readonly values = new Float64Array(4);
  readonly history: History;
  private readonly before = new Float64Array(1);
  private readonly clock = Float64Array.of(0);

  constructor(most: number) {
    this.history = new History(most, 1_000);
  }
  move(slot: number, to: number, after: number): void {
    this.clock[0] += after;
    this.before[0] = this.values[slot];
    this.values[slot] = to;
    this.history.remember(slot, this.before, this.values, this.clock);
  }
  readonly put = (slot: number, value: number): void => {
    this.values[slot] = value;
  };
}

const moves = fc.array(
  fc.record({
    slot: fc.nat(3),
    to: fc.double({ min: 0, max: 1, noNaN: true }),
    after: fc.constantFrom(10, 5_000),
  }),
  { maxLength: 30 },
);

describe('the history of a simulated host', () => {
  it('undone to the end is the beginning, and redone to the end is the end', () => {
    fc.assert(
      fc.property(moves, (made) => {
        const desk = new Desk(64);
        for (const { slot, to, after } of made) desk.move(slot, to, after);
        const end = [...desk.values];
        while (desk.history.undo(desk.put));
        expect([...desk.values]).toEqual([0, 0, 0, 0]);
        while (desk.history.redo(desk.put));
        expect([...desk.values]).toEqual(end);
      }),
    );
  });

  it('keeps the newest steps when it is full', () => {
    const desk = new Desk(3);
    for (let n = 1; n <= 5; n++) desk.move(0, n / 10, 5_000);
    let steps = 0;
    while (desk.history.undo(desk.put)) steps++;
    expect([steps, desk.values[0]]).toEqual([3, 0.2]);
  });

  it('takes a quick row of moves of one value as one step, and forgets what was undone at the next', () => {
    const desk = new Desk(8);
    for (const to of [0.1, 0.2, 0.3]) desk.move(1, to, 10);
    desk.move(2, 0.9, 10);
    desk.history.undo(desk.put);
    desk.move(3, 0.5, 5_000);
    expect(desk.history.redo(desk.put)).toBe(false);
    desk.history.undo(desk.put);
    desk.history.undo(desk.put);
    expect([...desk.values]).toEqual([0, 0, 0, 0]);
    expect(desk.history.undo(desk.put)).toBe(false);
  });
});
