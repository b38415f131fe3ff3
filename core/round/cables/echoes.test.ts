import fc from 'fast-check';
import { Echoes } from './echoes.js';

const note = (key: number, velocity: number) => 0x90 | (key << 8) | (velocity << 16);
const bytesOf = (packed: number) =>
  Uint8Array.of(packed & 0xff, (packed >> 8) & 0x7f, (packed >> 16) & 0x7f);

/** A link at a time of its own. */
function link(rolls: boolean) {
  const echoes = new Echoes(rolls);
  const clock = Float64Array.of(1e6);
  return {
    at: (micros: number) => void (clock[0] = micros),
    out: (packed: number) => echoes.sent(bytesOf(packed), 0, 3, clock),
    comes: (packed: number) => echoes.cameRound(packed, clock),
  };
}

test('whatever lamps are painted, a cable that hears itself is known by the eighth of them', () => {
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.nat({ max: 127 }), { minLength: 8, maxLength: 60 }),
      fc.constantFrom(0, 1, 127),
      fc.integer({ min: 0, max: 50_000 }),
      (keys, velocity, late) => {
        const { at, out, comes } = link(true);
        keys.forEach((key) => out(note(key, velocity)));
        at(1e6 + late);
        expect(keys.map((key) => comes(note(key, velocity))).slice(0, 8)).toContain(true);
      },
    ),
  );
});

test('a roll on one key is none, however fast: its lamp goes on and off with it', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 4_000, max: 120_000 }),
      fc.double({ min: 0.1, max: 0.9, noNaN: true }),
      (period, share) => {
        const { at, out, comes } = link(true);
        for (let n = 0; n < 100; n++) {
          at(2e6 + n * period);
          expect(comes(note(16, 127))).toBe(false);
          // A key that toggles, as most do.
          out(note(16, n % 2 === 0 ? 127 : 0));
          at(2e6 + (n + share) * period);
          expect(comes(note(16, 0))).toBe(false);
        }
      },
    ),
  );
});

test('toward a program a tick that is sent over and over and comes back each time is known', () => {
  const { at, out, comes } = link(false);
  const tick = 0xb0 | (0x10 << 8) | (1 << 16);
  const known = Array.from({ length: 6 }, (_, n) => {
    at(3e6 + n * 20_000);
    out(tick);
    return comes(tick);
  });
  expect(known).toEqual([false, false, false, true, true, true]);
});

test('what comes back late, or was never sent, is none', () => {
  const { at, out, comes } = link(true);
  const keys = Array.from({ length: 40 }, (_, key) => key);
  keys.forEach((key) => out(note(key, 127)));
  at(1e6 + 70_000);
  expect(keys.some((key) => comes(note(key, 127)))).toBe(false);
  keys.forEach((key) => out(note(key, 127)));
  expect(keys.some((key) => comes(note(key + 60, 127)))).toBe(false);
});

test('messages whose status is left out (MIDI 1.0, running status) are known again, between real time and after SysEx too', () => {
  const clock = Float64Array.of(0);
  const echoes = new Echoes(false);
  const bytes = Uint8Array.of(
    0xb0,
    10,
    100,
    30,
    40,
    0xf8,
    51,
    67,
    0xf0,
    0x7d,
    9,
    9,
    0xf7,
    0xc0,
    7,
    8,
  );
  echoes.sent(bytes, 0, bytes.length, clock);
  const has = (...message: number[]) =>
    echoes.has(message[0] | (message[1] << 8) | ((message[2] ?? 0) << 16), clock);
  expect([
    has(0xb0, 10, 100),
    has(0xb0, 30, 40),
    has(0xb0, 51, 67),
    has(0xc0, 7),
    has(0xc0, 8),
  ]).toEqual(new Array(5).fill(true));
  expect([has(0xb0, 9, 9), has(0xb0, 40, 51)]).toEqual([false, false]);
  // Running status holds from one stretch to the next.
  echoes.sent(Uint8Array.of(9), 0, 1, clock);
  expect(has(0xc0, 9)).toBe(true);
});
