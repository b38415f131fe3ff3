import fc from 'fast-check';
import { BankWindow } from '../forward/bank.js';
import { Outbox, WIRE_SLACK } from './outbox.js';

const DIN_MICROS_PER_BYTE = 320; // MIDI 1.0: 31 250 bit/s, 10 bits a byte.

describe('the outbox', () => {
  const traffic = fc.array(
    fc.record({
      after: fc.nat({ max: 4_000 }),
      item: fc.nat({ max: 7 }),
      event: fc.boolean(),
    }),
    { maxLength: 200 },
  );

  test('keeps to the wire, keeps events in order, and ends with every item at its newest value', () => {
    fc.assert(
      fc.property(traffic, (steps) => {
        const box = new Outbox(8, 1, DIN_MICROS_PER_BYTE);
        box.open = true;
        const value = new Uint8Array(8);
        const shown = new Uint8Array(8);
        const sent: { t: number; bytes: number }[] = [];
        const events: number[] = [];
        let t = 0;
        let count = 0;
        const drain = () =>
          box.drain(
            Float64Array.of(t),
            (item, buffer, at) => {
              buffer.set([0xb0, item, value[item]], at);
              return 3;
            },
            (bytes, from, to) => {
              sent.push({ t, bytes: to - from });
              for (let at = from; at < to; at += 3)
                if (bytes[at] === 0xb0) shown[bytes[at + 1]] = bytes[at + 2];
                else events.push(bytes[at + 1]);
            },
          );
        for (const { after, item, event } of steps) {
          t += after;
          if (event) box.pushEvent(Uint8Array.of(0x90, count++ & 0x7f, 1), 0, 3);
          else {
            value[item] = (value[item] + 1) & 0x7f;
            box.mark(item, 0);
          }
          drain();
        }
        while (box.deadline < Infinity) {
          t = Math.max(t, box.deadline);
          drain();
        }
        expect([...shown]).toEqual([...value]);
        expect(events).toEqual(Array.from({ length: count }, (_, i) => i & 0x7f));
        for (let i = 0; i < sent.length; i++) {
          let bytes = 0;
          for (let j = i; j < sent.length; j++) {
            bytes += sent[j].bytes;
            const window = sent[j].t - sent[i].t + WIRE_SLACK;
            expect(bytes).toBeLessThanOrEqual(window / DIN_MICROS_PER_BYTE + 3);
          }
        }
      }),
    );
  });

  test('higher priorities go first', () => {
    const box = new Outbox(3, 3, 0);
    box.open = true;
    box.mark(0, 2);
    box.mark(1, 1);
    box.mark(2, 0);
    const order: number[] = [];
    box.drain(
      Float64Array.of(0),
      (item) => (order.push(item), 0),
      () => undefined,
    );
    expect(order).toEqual([2, 1, 0]);
  });

  test('waits for what was handed over to be taken, then sends the newest only', () => {
    const box = new Outbox(1, 1, 0);
    box.open = true;
    box.unacknowledgedLimit = 2;
    let value = 0;
    const got: number[] = [];
    const drain = () =>
      box.drain(
        Float64Array.of(0),
        (_, buffer, at) => {
          buffer.set([0xb0, 1, value], at);
          return 3;
        },
        (bytes, from) => got.push(bytes[from + 2]),
      );
    for (value = 1; value <= 50; value++) {
      box.mark(0, 0);
      drain();
    }
    value = 50;
    expect(got).toEqual([1]);
    box.acknowledge(3);
    drain();
    expect(got).toEqual([1, 50]);
  });

  test('refuses an event when full, and tells', () => {
    const box = new Outbox(0, 1, 1);
    const note = Uint8Array.of(0x90, 1, 1);
    let pushed = 0;
    while (box.pushEvent(note, 0, 3)) pushed++;
    expect(pushed).toBeGreaterThan(10_000);
    expect(box.refused).toBe(1);
  });
});

describe('the bank window', () => {
  test('over 20 strips: 1, 9, 13 (clamped), and back to 9, 1', () => {
    const bank = new BankWindow(20, 8);
    const starts = [8, 8, 8, -8, -8, -8].map((by) => {
      bank.move(by);
      return bank.start + 1;
    });
    expect(starts).toEqual([9, 13, 13, 9, 1, 1]);
  });
  test('a step by one after the clamped end starts from what is shown', () => {
    const bank = new BankWindow(20, 8);
    for (const by of [8, 8, -1]) bank.move(by);
    expect(bank.start + 1).toBe(12);
    bank.move(-8);
    expect(bank.start + 1).toBe(4);
    bank.move(-8);
    expect(bank.start + 1).toBe(1);
    bank.move(8);
    expect(bank.start + 1).toBe(4);
  });
  test('never leaves the strips, and a move taken back is where it was', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 40 }),
        fc.integer({ min: 0, max: 12 }),
        fc.array(fc.constantFrom(-8, -1, 1, 8)),
        fc.constantFrom(-8, -1, 1, 8),
        (strips, width, moves, last) => {
          const bank = new BankWindow(strips, width);
          for (const by of moves) bank.move(by);
          const before = bank.start;
          if (bank.move(last)) {
            bank.move(-last);
            expect(bank.start).toBe(before);
          }
          expect(bank.start).toBeGreaterThanOrEqual(0);
          expect(bank.start).toBeLessThanOrEqual(Math.max(0, strips - width));
        },
      ),
    );
  });
});

describe('long messages', () => {
  const LONG = 65_536;
  const sysex = (length: number) =>
    Uint8Array.from({ length }, (_, i) => (i === 0 ? 0xf0 : i === length - 1 ? 0xf7 : i & 0x7f));
  const setUp = (limit: number) => {
    const box = new Outbox(4, 1, 320);
    const out: number[] = [];
    const clock = Float64Array.of(0);
    box.open = true;
    box.unacknowledgedLimit = limit;
    return {
      box,
      out,
      clock,
      drain: () =>
        box.drain(
          clock,
          (item, buffer, at) => (buffer.set([0xb0, item, 1], at), 3),
          (bytes, from, to) => out.push(...bytes.subarray(from, to)),
        ),
    };
  };

  test('64 KiB go out whole, though no more than 256 bytes may be under way', () => {
    const { box, out, clock, drain } = setUp(256);
    expect(box.pushEvent(sysex(LONG), 0, LONG)).toBe(true);
    drain();
    expect(out).toEqual([...sysex(LONG)]);
    // The wire is taken for as long as that lasts.
    box.mark(1, 0);
    box.acknowledge(LONG);
    clock[0] = LONG * 320 - 10_000;
    drain();
    expect(out.length).toBe(LONG);
    expect(box.deadline).toBeGreaterThan(clock[0]);
    clock[0] = box.deadline;
    drain();
    expect(out.length).toBe(LONG + 3);
  });

  test('it waits for all else that is due, and for what has been sent to be taken', () => {
    const { box, out, clock, drain } = setUp(8);
    box.pushEvent(sysex(1_000), 0, 1_000);
    for (let item = 0; item < 4; item++) box.mark(item, 0);
    const event = Uint8Array.of(0x90, 60, 0);
    box.pushEvent(event, 0, 3);
    drain();
    expect(out.slice(0, 3)).toEqual([...event]);
    for (let n = 0; n < 5; n++) {
      box.acknowledge(8);
      clock[0] += 10_000;
      drain();
    }
    expect(out.indexOf(0xf0)).toBe(15);
    expect(out.length).toBe(15 + 1_000);
  });

  test('what is forgotten with the port does not come later, and too much at once is refused, not lost in silence', () => {
    const { box, out, drain } = setUp(Infinity);
    let taken = 0;
    while (box.pushEvent(sysex(LONG), 0, LONG)) taken++;
    expect([taken, box.refused]).toEqual([4, 1]);
    box.clear();
    drain();
    expect([out.length, box.deadline]).toEqual([0, Infinity]);
  });
});

test('under another plan what is due stays due where its item stands now, and events wait as they did', () => {
  fc.assert(
    fc.property(
      fc.array(fc.nat(9), { maxLength: 12 }),
      fc.array(fc.nat(9), { maxLength: 6 }),
      (marks, gone) => {
        const box = new Outbox(10, 2, 320);
        box.open = true;
        for (const item of marks) box.mark(item, item % 2);
        const event = Uint8Array.of(0x90, 1, 2);
        box.pushEvent(event, 0, 3);
        box.refit(20, 1, (item) => (gone.includes(item) ? -1 : item + 7));
        const seen: number[] = [];
        const out: number[] = [];
        box.drain(
          Float64Array.of(1e9),
          (item) => (seen.push(item), 0),
          (bytes, from, to) => out.push(...bytes.subarray(from, to)),
        );
        const unique = [...new Set(marks)].filter((item) => !gone.includes(item));
        const inOrder = [
          ...unique.filter((i) => i % 2 === 0),
          ...unique.filter((i) => i % 2 === 1),
        ];
        expect(seen).toEqual(inOrder.map((item) => item + 7));
        expect(out).toEqual([...event]);
        expect(box.work).toBe(0);
      },
    ),
  );
});
