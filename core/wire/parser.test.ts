import fc from 'fast-check';
import { parseMidi } from 'midi-file';
import { encode, unpack, type MidiMessage } from './message.js';
import { StreamParser, type MessageSink } from './parser.js';
import { dataOfTicks, RELATIVE_ENCODINGS, ticksOf } from './relative.js';
import { describePacked, fromHex, toHex } from './text.js';

class Collector implements MessageSink {
  readonly messages: MidiMessage[] = [];
  short(packed: number): void {
    this.messages.push(unpack(packed));
  }
  sysex(bytes: Uint8Array, from: number, to: number): void {
    this.messages.push({ type: 'sysex', bytes: bytes.slice(from, to) });
  }
}

function parse(bytes: Uint8Array, cuts: number[] = [], limit?: number) {
  const sink = new Collector();
  const parser = new StreamParser(sink, limit);
  const at = [0, ...cuts.map((cut) => cut % (bytes.length + 1)), bytes.length].sort(
    (a, b) => a - b,
  );
  for (let i = 1; i < at.length; i++) parser.feed(bytes.slice(at[i - 1], at[i]));
  return { messages: sink.messages, skipped: parser.skipped };
}
const hex = (text: string): Uint8Array => fromHex(text)!;
const read = (text: string): MidiMessage[] => parse(hex(text)).messages;

const data = fc.integer({ min: 0, max: 127 });
const data14 = fc.integer({ min: 0, max: 16_383 });
const channel = fc.integer({ min: 1, max: 16 });
const message: fc.Arbitrary<MidiMessage> = fc.oneof(
  fc.record({ type: fc.constantFrom('noteOff', 'noteOn'), channel, note: data, velocity: data }),
  fc.record({ type: fc.constant('polyPressure'), channel, note: data, value: data }),
  fc.record({ type: fc.constant('controlChange'), channel, controller: data, value: data }),
  fc.record({ type: fc.constant('programChange'), channel, program: data }),
  fc.record({ type: fc.constant('channelPressure'), channel, value: data }),
  fc.record({ type: fc.constant('pitchBend'), channel, value: data14 }),
  fc.record({ type: fc.constantFrom('timeCode', 'songSelect'), value: data }),
  fc.record({ type: fc.constant('songPosition'), value: data14 }),
  fc.record({
    type: fc.constantFrom(
      'tuneRequest',
      'clock',
      'start',
      'continue',
      'stop',
      'activeSensing',
      'reset',
    ),
  }),
  fc
    .uint8Array({ max: 40 })
    .map((body) => Uint8Array.of(0xf0, ...body.map((byte) => byte & 0x7f), 0xf7))
    .map((bytes) => ({ type: 'sysex' as const, bytes })),
);

const concat = (list: Uint8Array[]) => Uint8Array.from(list.flatMap((bytes) => [...bytes]));

describe('the stream parser', () => {
  test('gives back what was encoded, however the bytes are cut', () => {
    fc.assert(
      fc.property(fc.array(message, { maxLength: 30 }), fc.array(fc.nat()), (list, cuts) => {
        expect(parse(concat(list.map(encode)), cuts).messages).toEqual(list);
      }),
    );
  });

  test('real time between any two bytes changes nothing else', () => {
    fc.assert(
      fc.property(fc.array(message, { minLength: 1, maxLength: 8 }), fc.nat(), (list, at) => {
        const bytes = concat(list.map(encode));
        const cut = at % (bytes.length + 1);
        const mixed = Uint8Array.of(...bytes.slice(0, cut), 0xf8, ...bytes.slice(cut));
        const isClock = (m: MidiMessage) => m.type === 'clock';
        const got = parse(mixed).messages;
        expect(got.filter(isClock)).toHaveLength(list.filter(isClock).length + 1);
        expect(got.filter((m) => !isClock(m))).toEqual(list.filter((m) => !isClock(m)));
      }),
    );
  });

  test('running status gives the same messages as full status (MIDI 1.0, running status)', () => {
    fc.assert(
      fc.property(channel, fc.array(fc.tuple(data, data), { minLength: 1 }), (ch, pairs) => {
        const running = Uint8Array.of(0xb0 | (ch - 1), ...pairs.flat());
        expect(parse(running).messages).toEqual(
          pairs.map(([controller, value]) => ({
            type: 'controlChange',
            channel: ch,
            controller,
            value,
          })),
        );
      }),
    );
  });

  test('any split of any bytes gives the same messages and the same counts', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 200 }), fc.array(fc.nat()), (bytes, cuts) => {
        const whole = parse(bytes, [], 20);
        expect(parse(bytes, cuts, 20)).toEqual(whole);
        expect(parse(bytes, [...bytes.keys()], 20)).toEqual(whole);
      }),
    );
  });

  test('one million random bytes never throw, and what comes out is valid', () => {
    let seed = 20_261_123;
    const bytes = Uint8Array.from({ length: 1_000_000 }, () => {
      seed = (Math.imul(seed, 1_664_525) + 1_013_904_223) | 0;
      return seed >>> 24;
    });
    const { messages } = parse(bytes);
    expect(messages.length).toBeGreaterThan(100_000);
    // Encoding refuses any field out of its range.
    for (const m of messages) encode(m);
  });

  // MIDI 1.0 Detailed Specification 4.2.1: system common, system exclusive and undefined statuses.
  test.each([
    ['running status ends at system common', '90 3c 40 f6 3d 41', ['noteOn', 'tuneRequest']],
    ['running status ends at SysEx', '90 3c 40 f0 01 f7 3d 41', ['noteOn', 'sysex']],
    ['undefined F4 and F5 end running status', '90 3c 40 f4 3d 41 f5 3d', ['noteOn']],
    ['undefined F9 and FD leave running status', '90 3c 40 f9 fd 3d 41', ['noteOn', 'noteOn']],
    ['a status breaks a SysEx', 'f0 01 02 90 3c 40', ['noteOn']],
    ['F4 breaks a SysEx', 'f0 01 f4 02 f7', []],
    ['a SysEx may start right after a broken one', 'f0 01 f0 02 f7', ['sysex']],
    ['data without status is skipped', '12 34 b0 07 64', ['controlChange']],
    ['F7 alone is nothing', 'f7 90 3c 40', ['noteOn']],
    ['F7 ends running status', '90 3c 40 f7 3d 41', ['noteOn']],
    ['system common has no running status', 'f3 05 06', ['songSelect']],
    ['a cut message gives way to the next', '90 3c 80 3c 00', ['noteOff']],
    ['a cut song position gives way', 'f2 01 90 3c 40', ['noteOn']],
  ])('%s', (_, bytes, types) => {
    expect(read(bytes).map((m) => m.type)).toEqual(types);
  });

  test('counts what it skips', () => {
    const { skipped } = parse(hex('12 90 3c 80 3c 00 f4 f0 01 90 f0 01 02 03 04 05 f7'), [], 5);
    expect(skipped).toEqual({
      strayData: 1,
      truncated: 1,
      undefinedStatus: 1,
      brokenSysex: 1,
      oversizeSysex: 1,
    });
  });

  test('keeps a SysEx of exactly the limit and skips a longer one whole', () => {
    expect(parse(hex('f0 01 02 03 f7'), [], 5).messages).toHaveLength(1);
    const { messages, skipped } = parse(hex('f0 01 02 03 04 f7 90 3c 40'), [], 5);
    expect(messages.map((m) => m.type)).toEqual(['noteOn']);
    expect(skipped.oversizeSysex).toBe(1);
  });

  // Reference: the general package `midi-file`, reading the same messages from a track (SMF 1.0, format 0).
  test('reads channel messages, with and without running status, as a general MIDI package does', () => {
    const channelMessage = message.filter((m) => 'channel' in m);
    fc.assert(
      fc.property(fc.array(channelMessage, { minLength: 1 }), fc.boolean(), (list, running) => {
        let last = -1;
        const bytes = list.map(encode).map((whole) => {
          const shorter = running && whole[0] === last ? whole.slice(1) : whole;
          last = whole[0];
          return shorter;
        });
        expect(parse(concat(bytes)).messages).toEqual(readAsTrack(bytes));
      }),
    );
  });
});

/** Reads messages with `midi-file`, put into a track with no time between them, and names its fields as we do. */
function readAsTrack(messages: Uint8Array[]): unknown[] {
  const track = [...messages.flatMap((bytes) => [0, ...bytes]), 0, 0xff, 0x2f, 0];
  const size = [24, 16, 8, 0].map((shift) => (track.length >> shift) & 0xff);
  const text = (word: string) => [...word].map((c) => c.charCodeAt(0));
  const head = [...text('MThd'), 0, 0, 0, 6, 0, 0, 0, 1, 0, 96];
  const [events] = parseMidi(Uint8Array.from([...head, ...text('MTrk'), ...size, ...track])).tracks;
  return events.slice(0, -1).map((event) => {
    if (!('channel' in event)) throw new Error(`unexpected ${event.type}`);
    const channel = event.channel + 1;
    switch (event.type) {
      case 'noteOn':
      case 'noteOff':
        // A note on with velocity 0 is told as a note off with a mark.
        return {
          type: 'byte9' in event && event.byte9 ? 'noteOn' : event.type,
          channel,
          note: event.noteNumber,
          velocity: event.velocity,
        };
      case 'noteAftertouch':
        return { type: 'polyPressure', channel, note: event.noteNumber, value: event.amount };
      case 'controller':
        return {
          type: 'controlChange',
          channel,
          controller: event.controllerType,
          value: event.value,
        };
      case 'programChange':
        return { type: 'programChange', channel, program: event.programNumber };
      case 'channelAftertouch':
        return { type: 'channelPressure', channel, value: event.amount };
      case 'pitchBend':
        return { type: 'pitchBend', channel, value: event.value + 8192 };
    }
    throw new Error('no such channel message');
  });
}

describe('hex', () => {
  test('round trip', () => {
    fc.assert(
      fc.property(fc.uint8Array({ minLength: 1 }), (bytes) => {
        expect(fromHex(toHex(bytes))).toEqual(bytes);
        expect(fromHex(toHex(bytes).toUpperCase().replaceAll(' ', ''))).toEqual(bytes);
      }),
    );
  });
  test.each(['', '9', '90 3', '903', 'zz', '90,3c', '0x90', '90 3c 4'])('refuses “%s”', (text) => {
    expect(fromHex(text)).toBeNull();
  });
});

describe('relative encodings', () => {
  // Common practice, no source: the table every maker's manual repeats.
  test.each([
    ['twosComplement', 1, 1],
    ['twosComplement', -1, 127],
    ['signMagnitude', 1, 1],
    ['signMagnitude', -1, 65],
    ['signMagnitudeReversed', 1, 65],
    ['signMagnitudeReversed', -1, 1],
    ['binaryOffset', 1, 65],
    ['binaryOffset', -1, 63],
  ] as const)('%s %i is %i', (encoding, ticks, byte) => {
    expect(dataOfTicks(encoding, ticks)).toBe(byte);
  });
  test('give back the ticks they were given', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...RELATIVE_ENCODINGS),
        fc.integer({ min: -63, max: 63 }),
        (encoding, ticks) => {
          expect(ticksOf(encoding, dataOfTicks(encoding, ticks)) + 0).toBe(ticks + 0);
        },
      ),
    );
  });
});

test('a SysEx is described by its name: no more of it fits a packed message', () => {
  expect(describePacked(0xf0)).toBe('SysEx');
});
