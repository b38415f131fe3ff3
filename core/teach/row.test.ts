import fc from 'fast-check';
import { heardRow } from './index.js';

const line = (t: number, ...bytes: number[]) => ({ t, bytes: Uint8Array.from(bytes) });

// Statuses and parameter numbers: MIDI 1.0 Detailed Specification 4.2.1.
test('a knob that goes through its travel is a row that moves, by its own controller and channel', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 16 }),
      fc.constantFrom(7, 10, 16, 71, 74, 80, 91),
      fc.integer({ min: 1, max: 5 }),
      (channel, number, step) => {
        const values = Array.from({ length: Math.floor(127 / step) }, (_, n) => n * step);
        const lines = values.map((value, n) => line(n * 12, 0xb0 + channel - 1, number, value));
        expect(heardRow(lines)).toEqual({
          message: { type: 'controller', channel, number },
          does: 'continuous',
        });
      },
    ),
  );
});

test('a parameter in fourteen bits is one row, whatever of it was chosen once and sent often', () => {
  const lines = [line(0, 0xb0, 99, 8), line(0, 0xb0, 98, 0)];
  for (let n = 0; n < 60; n++) {
    lines.push(line(n * 10 + 1, 0xb0, 6, 2 * n), line(n * 10 + 1, 0xb0, 38, (n * 37) % 128));
  }
  expect(heardRow(lines)).toEqual({
    message: { type: 'nrpn', channel: 1, number: 1024, bits: 14 },
    does: 'continuous',
  });
});

test('what counts ticks is nudged; clock, active sensing and silence are no row', () => {
  const ticks = [1, 1, 2, 1, 127, 126, 127, 1, 1, 3, 127, 127].map((value, n) =>
    line(n * 40, 0xb0, 16, value),
  );
  expect(heardRow(ticks)).toMatchObject({
    does: 'nudge',
    message: { type: 'relative', number: 16 },
  });
  expect(heardRow([])).toBeNull();
  expect(heardRow([line(0, 0xf8), line(20, 0xf8), line(30, 0xfe)])).toBeNull();
});
