import fc from 'fast-check';
import {
  RELATIVE_ENCODINGS,
  StreamParser,
  fromHex,
  readTemplate,
  toHex,
  unpack,
} from '@rondo/core/wire';
import { GENERAL_MIDI } from '../testing/general-midi';
import {
  HARROW_8,
  PLINTH_32,
  STOCK_SURFACES,
  blankSurface,
  findingsOf,
  readSurface,
  searchLamp,
  sendsOf,
} from './index.js';
import { NO_MATCH } from './heard.js';
import { LinkDecoder } from './link-decoder.js';
import { MessageMap } from './message-map.js';
import type { MappedPage } from './page-tables.js';
import { plainText } from './plain-text.js';
import { MAX_VALUE_BYTES, Sender } from './sender.js';
import { topOf, type Pattern } from './pattern.js';

const channel = fc.integer({ min: 1, max: 16 });
const number = fc.integer({ min: 0, max: 127 });
const bits = fc.constantFrom(7 as const, 14 as const);
const flag = fc.boolean();
const valuePattern: fc.Arbitrary<Pattern> = fc.oneof(
  fc.record({ type: fc.constant('note' as const), channel, number }),
  fc.record({ type: fc.constant('controller' as const), channel, number }),
  fc
    .record({
      type: fc.constant('controllerPair' as const),
      channel,
      number: fc.nat({ max: 31 }),
      lsbFirst: flag,
    })
    .map((pair) => ({ ...pair, lsb: pair.number + 32 })),
  fc.record({
    type: fc.constant('pitchBend' as const),
    channel,
    bits: fc.integer({ min: 7, max: 14 }),
  }),
  fc.record({
    type: fc.constantFrom('nrpn' as const, 'rpn' as const),
    channel,
    number: fc.nat({ max: 16_382 }),
    bits,
  }),
  fc.record({ type: fc.constant('channelPressure' as const), channel }),
  fc.record({ type: fc.constant('polyPressure' as const), channel, number }),
  fc.record({ type: fc.constant('program' as const), channel }),
  fc
    .tuple(number, fc.constantFrom('value', 'high low', 'low 01 high'))
    .map(([n, slots]) => `F0 7D ${n.toString(16).padStart(2, '0')} ${slots} F7`)
    .map((template) => ({ type: 'sysex' as const, template })),
);

const decoderOf = (
  patterns: readonly (Pattern | undefined)[],
  more: readonly MappedPage[] = [],
): LinkDecoder => new LinkDecoder(Float64Array.of(0), new MessageMap(patterns, more));

/** Feeds written bytes through the parser to a receiver, as a port would; the last target that was whole. */
function read(receiver: LinkDecoder, bytes: Uint8Array): number {
  let last = NO_MATCH;
  const take = (target: number) => {
    if (target >= 0) last = target;
  };
  new StreamParser({
    short: (packed) => take(receiver.accept(packed)),
    sysex: (all, from, to) => take(receiver.acceptSysex(all, from, to)),
  }).feed(bytes);
  return last;
}

function write(pattern: Pattern, value: number): Uint8Array {
  const sender = new Sender([pattern]);
  const bytes = new Uint8Array(MAX_VALUE_BYTES);
  return bytes.subarray(0, sender.write(0, sender.wire(0, value), bytes, 0));
}

test('what a pattern writes it reads back, to one step of its resolution', () => {
  fc.assert(
    fc.property(valuePattern, fc.double({ min: 0, max: 1, noNaN: true }), (pattern, value) => {
      const receiver = decoderOf([pattern]);
      expect(read(receiver, write(pattern, value))).toBe(0);
      expect(Math.abs(receiver.heard.value - value)).toBeLessThanOrEqual(
        0.5 / topOf(pattern) + 1e-12,
      );
      const sender = new Sender([pattern]);
      expect(sender.wire(0, receiver.heard.value)).toBe(sender.wire(0, value));
    }),
  );
});

test('ticks come back as they went, and the other way round through a reversed encoder', () => {
  const ticking = fc.oneof(
    fc.record({
      type: fc.constant('relative' as const),
      channel,
      number,
      encoding: fc.constantFrom(...RELATIVE_ENCODINGS),
      reversed: flag,
    }),
    fc
      .record({
        type: fc.constant('upDown' as const),
        message: fc.constantFrom('note' as const, 'controller' as const),
        channel,
        up: number,
        reversed: flag,
      })
      .map((pair) => ({ ...pair, down: (pair.up + 1) % 128 })),
  );
  fc.assert(
    fc.property(ticking, fc.integer({ min: -30, max: 30 }), (pattern, ticks) => {
      const count = (receiver: LinkDecoder) => {
        let sum = 0;
        new StreamParser({
          short: (packed) => {
            if (receiver.accept(packed) === 0) sum += receiver.heard.value;
          },
          sysex: () => undefined,
        }).feed(write(pattern, ticks));
        return sum;
      };
      expect(count(decoderOf([pattern]))).toBe(ticks);
      const turned = { ...pattern, reversed: !pattern.reversed };
      // 0 − ticks, since −0 is not 0 to the matcher.
      expect(count(decoderOf([turned]))).toBe(0 - ticks);
    }),
  );
});

/** Bytes as a general MIDI library writes them. */
const written = (...messages: readonly (readonly number[])[]): Uint8Array =>
  Uint8Array.from(messages.flatMap((message) => [...message]));

test('(N)RPN, 14-bit pairs and bends are those of a general MIDI library', () => {
  const seven = fc.integer({ min: 0, max: 126 });
  const value14 = fc.integer({ min: 0, max: 16_383 });
  fc.assert(
    fc.property(channel, seven, seven, value14, fc.boolean(), (ch, msb, lsb, value, isRpn) => {
      const c = ch - 1;
      const chosen = isRpn ? GENERAL_MIDI.rpn(c, msb, lsb) : GENERAL_MIDI.nrpn(c, msb, lsb);
      const bytes = written(...chosen, ...GENERAL_MIDI.data(c, value));
      const pattern: Pattern = {
        type: isRpn ? 'rpn' : 'nrpn',
        channel: ch,
        number: msb * 128 + lsb,
        bits: 14,
      };
      expect(write(pattern, value / 16_383)).toEqual(bytes);
      const receiver = decoderOf([pattern]);
      expect(read(receiver, bytes)).toBe(0);
      expect(Math.round(receiver.heard.value * 16_383)).toBe(value);

      const bend: Pattern = { type: 'pitchBend', channel: ch, bits: 14 };
      expect(write(bend, value / 16_383)).toEqual(written(GENERAL_MIDI.pitchBend(c, value)));

      const pair: Pattern = { type: 'controllerPair', channel: ch, number: 7, lsb: 39 };
      const halves = written(
        GENERAL_MIDI.control(c, 7, value >> 7),
        GENERAL_MIDI.control(c, 39, value & 127),
      );
      expect(write(pair, value / 16_383)).toEqual(halves);
    }),
  );
});

// MIDI 1.0 Detailed Specification 4.2.1, (non-)registered parameter numbers: 99/98 or 101/100, then 6 and 38.
test('an NRPN is chosen by 99 and 98 and carried by 6 and 38; an RPN by 101 and 100', () => {
  const nrpn: Pattern = { type: 'nrpn', channel: 3, number: 300, bits: 14 };
  expect(toHex(write(nrpn, 1))).toBe('b2 63 02 b2 62 2c b2 06 7f b2 26 7f');
  const rpn: Pattern = { type: 'rpn', channel: 1, number: 2, bits: 7 };
  expect(toHex(write(rpn, 0.5))).toBe('b0 65 00 b0 64 02 b0 06 40');
  const receiver = decoderOf([nrpn]);
  expect(read(receiver, fromHex('b2 63 02 b2 62 2d b2 06 10 b2 26 00')!)).toBe(NO_MATCH);
  expect(read(receiver, fromHex('b2 62 2c b2 06 40 b2 26 00')!)).toBe(0);
  expect(receiver.heard.value).toBeCloseTo(8192 / 16383, 12);
});

test('a pair never shows a half-new value', () => {
  const receiver = decoderOf([{ type: 'controllerPair', channel: 1, number: 7, lsb: 39 }]);
  expect(receiver.accept(0x40_07_b0)).toBeLessThan(0);
  expect(receiver.accept(0x00_27_b0)).toBe(0);
  expect(receiver.heard.value).toBeCloseTo(8192 / 16383, 12);
});

test('a message that another control has is told, and the first keeps it', () => {
  const note: Pattern = { type: 'note', channel: 1, number: 60 };
  const map = new MessageMap([note, undefined, note]);
  const receiver = new LinkDecoder(Float64Array.of(0), map);
  expect(map.collisions).toEqual([{ first: 0, second: 2 }]);
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
});

describe('the stock library', () => {
  test.each([...STOCK_SURFACES.values()].map((surface) => [surface.id, surface] as const))(
    '%s is sound: nothing outside, and no message twice',
    (id, surface) => {
      expect(findingsOf(surface)).toEqual([]);
      expect(surface.controls.length > 0 || id === 'blank').toBe(true);
    },
  );

  test('the demo surfaces have what they are described with', () => {
    const kinds = (id: string) => {
      const counts: Record<string, number> = {};
      for (const { kind } of STOCK_SURFACES.get(id)!.controls)
        counts[kind] = (counts[kind] ?? 0) + 1;
      return counts;
    };
    expect(kinds('burrow-14')).toEqual({ knob: 14, fader: 5, button: 6 });
    expect(kinds('cobble-64')).toEqual({ pad: 64, button: 12 });
    expect(kinds('treadle')).toEqual({ pedal: 12, expression: 1 });
    expect(kinds('plinth-32')).toEqual({ key: 32, pad: 6, knob: 5, fader: 2, wheel: 2, button: 4 });
    expect(STOCK_SURFACES.get('cobble-64')!.device.palette).toHaveLength(64);
  });
});

describe('onboard pages', () => {
  const patternsOf = (page: number) =>
    PLINTH_32.controls.map((control) => Object.values(sendsOf(PLINTH_32, control, page))[0]);
  const receiver = () => {
    const made = decoderOf(
      patternsOf(0),
      PLINTH_32.pages.map(({ enter }, at) => ({
        patterns: patternsOf(at + 1),
        enter: fromHex(enter!)!,
      })),
    );
    return made;
  };
  const knob = PLINTH_32.controls.findIndex(({ id }) => id === 'knob-1');

  test('a control is the same on every page, and its message tells the page', () => {
    const made = receiver();
    expect(read(made, fromHex('b0 0e 40')!)).toBe(knob);
    expect(made.page).toBe(0);
    expect(read(made, fromHex('b2 0e 40')!)).toBe(knob);
    expect(made.page).toBe(2);
  });

  test('the device’s own word for a page puts it on', () => {
    const made = receiver();
    read(made, fromHex('c0 01')!);
    expect(made.page).toBe(1);
  });
});

describe('what is amiss with a surface is told', () => {
  const control = (id: string, more: object) => ({
    id,
    kind: 'knob' as const,
    label: id,
    x: 10,
    y: 10,
    width: 20,
    height: 20,
    sends: {},
    takes: {},
    ...more,
  });
  const withControls = (...controls: ReturnType<typeof control>[]) => ({
    ...blankSurface('s', 'S'),
    controls,
  });
  const same = { value: { type: 'controller' as const, channel: 1, number: 7 } };

  test.each([
    ['outside', [control('a', { x: 390, sends: same })]],
    ['overlap', [control('a', { sends: same }), control('b', { x: 25, silent: true })]],
    [
      'sameName',
      [control('a', { silent: true }), control('b', { x: 60, label: 'a', silent: true })],
    ],
    ['sameMessage', [control('a', { sends: same }), control('b', { x: 60, sends: same })]],
    ['template', [control('a', { sends: { value: { type: 'sysex', template: 'F0 01' } } })]],
    ['noMessage', [control('a', {})]],
  ])('%s', (kind, controls) => {
    const found = findingsOf(withControls(...controls)).filter((finding) => finding.kind === kind);
    expect(found).toHaveLength(1);
    expect(found[0].controls).toEqual(controls.map(({ id }) => id));
    expect(found[0].says).toMatch(/\.$/);
  });

  test('a palette of a thousand colours is kept, and what cannot be sent is said', () => {
    const palette = Array.from({ length: 1_000 }, (_, value) => ({ value, colour: '#123456' }));
    const surface = { ...blankSurface('s', 'S'), device: { palette } };
    const result = readSurface(surface);
    expect(result.ok && result.document.device.palette).toHaveLength(1_000);
    expect(result.ok && findingsOf(result.document)[0].says).toMatch('872 colours');
  });

  test.each([
    ['', 'Nothing is written'],
    ['F0 7D value', 'no end'],
    ['7D value F7', 'begin with F0'],
    ['F0 80 F7', 'above 7F'],
    ['F0 high F7', 'both high and low'],
    ['F0 value value F7', 'twice'],
    ['F0 xx F7', 'neither a hex pair'],
  ])('SysEx template “%s” is refused in a sentence', (text, says) => {
    expect(readTemplate(text)).toEqual({ fault: expect.stringContaining(says) as string });
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

test('the lamp to search with is never a note while there is anything else', () => {
  for (const surface of STOCK_SURFACES.values()) {
    const lamp = searchLamp(surface);
    if (!lamp) continue;
    const types = surface.controls.flatMap(({ takes }) =>
      [takes.upper, takes.ring, takes.light].map((pattern) => pattern?.type),
    );
    const onlyNotes = types.every((type) => !type || type === 'note');
    expect([surface.id, lamp.isNote]).toEqual([surface.id, onlyNotes]);
    if (!lamp.isNote) expect((lamp.on[0] & 0xf0) === 0x90).toBe(false);
  }
  expect(toHex(searchLamp(HARROW_8)!.on.subarray(0, 6))).toBe('f0 00 00 66 14 12');
  expect(searchLamp(STOCK_SURFACES.get('crosstie-2')!)).toBeNull();
});
