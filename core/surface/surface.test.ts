import fc from 'fast-check';
import { unpack } from '@rondo/core/wire';
import { HARROW_8 } from './index.js';
import { NO_MATCH, Receiver } from './receiver.js';
import { MAX_VALUE_BYTES, Sender, plainText } from './sender.js';
import { topOf, type Pattern } from './pattern.js';

const channel = fc.integer({ min: 1, max: 16 });
const number = fc.integer({ min: 0, max: 127 });
const valuePattern: fc.Arbitrary<Pattern> = fc.oneof(
  fc.record({ type: fc.constant('note' as const), channel, number }),
  fc.record({ type: fc.constant('controller' as const), channel, number }),
  fc
    .record({ type: fc.constant('controllerPair' as const), channel, number: fc.nat({ max: 31 }) })
    .map((pair) => ({ ...pair, lsb: pair.number + 32 })),
  fc.record({
    type: fc.constant('pitchBend' as const),
    channel,
    bits: fc.integer({ min: 7, max: 14 }),
  }),
);

function messages(bytes: Uint8Array, length: number): number[] {
  const list: number[] = [];
  for (let at = 0; at < length; at += 3)
    list.push(bytes[at] | (bytes[at + 1] << 8) | (bytes[at + 2] << 16));
  return list;
}

test('what a pattern writes it reads back, to one step of its resolution', () => {
  fc.assert(
    fc.property(valuePattern, fc.double({ min: 0, max: 1, noNaN: true }), (pattern, value) => {
      const sender = new Sender([pattern]);
      const receiver = new Receiver([pattern]);
      const bytes = new Uint8Array(MAX_VALUE_BYTES);
      const length = sender.write(0, sender.wire(0, value), bytes, 0);
      const targets = messages(bytes, length).map((packed) => receiver.accept(packed));
      expect(targets.at(-1)).toBe(0);
      expect(Math.abs(receiver.value - value)).toBeLessThanOrEqual(0.5 / topOf(pattern) + 1e-12);
      expect(sender.wire(0, receiver.value)).toBe(sender.wire(0, value));
    }),
  );
});

test('a pair never shows a half-new value', () => {
  const receiver = new Receiver([{ type: 'controllerPair', channel: 1, number: 7, lsb: 39 }]);
  expect(receiver.accept(0x40_07_b0)).toBeLessThan(0);
  expect(receiver.accept(0x00_27_b0)).toBe(0);
  expect(receiver.value).toBeCloseTo(8192 / 16383, 12);
});

test('a message that another control has is told, and the first keeps it', () => {
  const note: Pattern = { type: 'note', channel: 1, number: 60 };
  const receiver = new Receiver([note, undefined, note]);
  expect(receiver.collisions).toEqual([2]);
  expect(receiver.accept(0x7f_3c_90)).toBe(0);
  expect(receiver.accept(0x7f_3d_90)).toBe(NO_MATCH);
});

describe('Harrow 8', () => {
  const part = (id: string) => HARROW_8.controls.find((control) => control.id === id)!;
  const bytesOf = (pattern: Pattern, value: number) => {
    const sender = new Sender([pattern]);
    const bytes = new Uint8Array(MAX_VALUE_BYTES);
    return [...bytes.subarray(0, sender.write(0, sender.wire(0, value), bytes, 0))];
  };

  // Mackie-style control protocol: common practice, no published source.
  test.each([
    ['arm-1', 0x00],
    ['solo-1', 0x08],
    ['mute-8', 0x17],
    ['select-8', 0x1f],
    ['bank-left', 0x2e],
    ['bank-right', 0x2f],
    ['strip-left', 0x30],
    ['strip-right', 0x31],
    ['loop', 0x56],
    ['click', 0x59],
    ['rewind', 0x5b],
    ['play', 0x5e],
    ['record', 0x5f],
  ])('%s is note %i, and its lamp the same note', (id, note) => {
    expect(bytesOf(part(id).sends.push!, 1)).toEqual([0x90, note, 0x7f]);
    expect(bytesOf(part(id).takes.light!, 0)).toEqual([0x90, note, 0x00]);
  });

  test('faders are pitch bend, a channel each, master on 9, top 16368', () => {
    const top = unpack(
      (([a, b, c]) => a | (b << 8) | (c << 16))(bytesOf(part('fader-1').sends.value!, 1)),
    );
    expect(top).toEqual({ type: 'pitchBend', channel: 1, value: 16_368 });
    expect(bytesOf(part('fader-master').takes.motor!, 0)).toEqual([0xe8, 0, 0]);
    expect(bytesOf(part('fader-8').sends.touch!, 1)).toEqual([0x90, 0x6f, 0x7f]);
  });

  test('encoders turn on 10–17 hex, sign in bit 6; jog on 3C; rings on 30–37 with style and centre lamp', () => {
    expect(bytesOf(part('encoder-1').sends.value!, 1)).toEqual([0xb0, 0x10, 0x01]);
    expect(bytesOf(part('encoder-8').sends.value!, -3)).toEqual([0xb0, 0x17, 0x43]);
    expect(bytesOf(part('jog').sends.value!, -1)).toEqual([0xb0, 0x3c, 0x41]);
    expect(bytesOf(part('encoder-1').takes.ring!, 0.5)).toEqual([0xb0, 0x30, 0x40 | 0x10 | 6]);
    expect(bytesOf(part('encoder-1').takes.ring!, 1)).toEqual([0xb0, 0x30, 0x10 | 11]);
    expect(bytesOf(part('encoder-1').takes.ring!, -1)).toEqual([0xb0, 0x30, 0]);
  });

  test('a strip writes seven characters at its place in the display, fifteen bytes in all', () => {
    const display = part('display-3');
    const sender = new Sender([display.takes.upper, display.takes.lower]);
    const bytes = new Uint8Array(20);
    expect(sender.writeText(0, sender.fit(0, 'Narrator'), bytes, 0)).toBe(15);
    expect([...bytes.subarray(0, 7)]).toEqual([0xf0, 0x00, 0x00, 0x66, 0x14, 0x12, 0x0e]);
    expect(String.fromCharCode(...bytes.subarray(7, 14))).toBe('Narrat ');
    sender.writeText(1, sender.fit(1, 'x'), bytes, 0);
    expect(bytes[6]).toBe(0x38 + 14);
  });

  test('no two controls share a message, and all lie on the panel apart from each other', () => {
    const { controls, width, height } = HARROW_8;
    const inputs = controls.flatMap((control) => Object.values(control.sends));
    expect(new Receiver(inputs).collisions).toEqual([]);
    expect(new Set(controls.map((control) => control.id)).size).toBe(controls.length);
    controls.forEach((a, i) => {
      expect(a.x).toBeGreaterThanOrEqual(0);
      expect(a.y).toBeGreaterThanOrEqual(0);
      expect(a.x + a.width).toBeLessThanOrEqual(width);
      expect(a.y + a.height).toBeLessThanOrEqual(height);
      for (const b of controls.slice(i + 1)) {
        const apart =
          a.x + a.width <= b.x ||
          b.x + b.width <= a.x ||
          a.y + a.height <= b.y ||
          b.y + b.height <= a.y;
        expect(`${a.id} ${b.id} ${apart}`).toBe(`${a.id} ${b.id} true`);
      }
    });
  });
});

test('display text is 7-bit, whatever comes in', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'binary' }), (text) => {
      expect(plainText(text)).toMatch(/^[\x20-\x7e]*$/);
    }),
  );
  expect(plainText('Café −∞ dB')).toBe('Cafe -inf dB');
});
