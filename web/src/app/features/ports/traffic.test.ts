import { Tempo } from '../../engine/tempo';
import { heard, isTouch } from './traffic';

test('the last message is told readably and in hex, and counted', () => {
  const first = heard(undefined, Uint8Array.of(0xb0, 7, 100), 5);
  expect(first).toEqual({ count: 1, last: 'Controller 7: 100, channel 1', hex: 'b0 07 64', at: 5 });
  const long = Uint8Array.from({ length: 60 }, (_, i) => (i === 0 ? 0xf0 : i === 59 ? 0xf7 : 1));
  expect(heard(first, long, 9)).toMatchObject({ count: 2, last: 'SysEx, 60 bytes' });
  expect(heard(undefined, Uint8Array.of(0xc3, 9), 0).last).toBe('Program 9, channel 4');
});

test('clock and active sensing are no touch', () => {
  expect([0xf8, 0xfe, 0x90].map((status) => isTouch(Uint8Array.of(status)))).toEqual([
    false,
    false,
    true,
  ]);
});

// MIDI 1.0: 24 clocks a quarter note.
test('a clock every 20 ms is 125 beats a minute', () => {
  const tempo = new Tempo();
  const told = Array.from({ length: 40 }, (_, i) => tempo.tick(i * 20));
  expect(told.slice(0, 24)).toEqual(Array<null>(24).fill(null));
  expect(told.at(-1)).toBeCloseTo(125, 6);
});
