import fc from 'fast-check';
import midimessage from 'midimessage';
import {
  DESK_UNITS,
  RING_FORMS,
  decodeDesk,
  encodeDesk,
  fromHex,
  toHex,
  type DeskMessage,
  type DeskSide,
  type DeskUnit,
} from './index.js';

const to = (max: number) => fc.nat({ max });
const unit = fc.constantFrom<DeskUnit>('main', 'extender');
const bytes = (length: number) => fc.array(to(127), { minLength: length, maxLength: length });
const ascii = fc
  .array(fc.integer({ min: 0x20, max: 0x7e }), { maxLength: 56 })
  .map((codes) => String.fromCharCode(...codes));
const says = <K extends DeskMessage['kind']>(kind: K, shape: object) =>
  fc.record({ kind: fc.constant(kind), ...shape }) as unknown as fc.Arbitrary<DeskMessage>;

// What each side says, as the common practice has it (no published source).
const FROM_DESK: fc.Arbitrary<DeskMessage>[] = [
  says('fader', { fader: to(8), place: to(16_383) }),
  says('touch', { fader: to(8), on: fc.boolean() }),
  says('turn', { encoder: to(7), ticks: fc.integer({ min: -63, max: 63 }) }),
  says('jog', { ticks: fc.integer({ min: -63, max: 63 }) }),
  says('pedal', { value: to(127) }),
  says('key', { key: fc.oneof(to(0x67), fc.integer({ min: 0x71, max: 127 })), on: fc.boolean() }),
  says('introduce', { unit, serial: bytes(7), code: bytes(4) }),
  says('accept', { unit }),
  says('reject', { unit }),
  says('version', { unit, text: ascii }),
];
const FROM_HOST: fc.Arbitrary<DeskMessage>[] = [
  says('fader', { fader: to(8), place: to(16_383) }),
  says('lamp', { key: to(127), state: fc.constantFrom('off', 'blink', 'on') }),
  says('ring', {
    encoder: to(7),
    place: to(11),
    form: fc.constantFrom(...RING_FORMS),
    centre: fc.boolean(),
  }),
  says('meter', { strip: to(7), level: to(12) }),
  says('overload', { strip: to(7), on: fc.boolean() }),
  says('digit', { display: fc.constant('time'), digit: to(9), code: to(63), dot: fc.boolean() }),
  says('digit', { display: fc.constant('short'), digit: to(1), code: to(63), dot: fc.boolean() }),
  says('display', { unit, offset: to(111), text: ascii }),
  says('ask', { unit }),
  says('answer', { unit, serial: bytes(7), code: bytes(4) }),
  says('askVersion', { unit }),
  says('fadersDown', { unit }),
  says('lightsOff', { unit }),
  says('reset', { unit }),
  says('meterMode', { unit, strip: to(7), mode: to(127) }),
  says('metersMode', { unit, mode: to(127) }),
];

describe.each<[DeskSide, fc.Arbitrary<DeskMessage>[]]>([
  ['desk', FROM_DESK],
  ['host', FROM_HOST],
])('what a %s says', (side, messages) => {
  test('comes out as it went in, in bytes that MIDI allows', () => {
    fc.assert(
      fc.property(fc.oneof(...messages), (message) => {
        const wire = encodeDesk(message);
        // −0 and 0 are one: no tick goes no way.
        expect(JSON.parse(JSON.stringify(decodeDesk(wire, side)))).toEqual(
          JSON.parse(JSON.stringify(message)),
        );
        const last = wire[0] === 0xf0 ? wire.length - 1 : wire.length;
        expect(wire.subarray(1, last).every((byte) => byte < 0x80)).toBe(true);
      }),
      { numRuns: 2_000 },
    );
  });

  test('whatever else comes is none of it and breaks nothing', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 24 }), (noise) => {
        const found = decodeDesk(noise, side);
        expect(found === null || typeof found.kind === 'string').toBe(true);
      }),
    );
  });
});

// The table of the protocol in bytes (common practice, no published source; from memory).
test.each<[string, DeskMessage]>([
  ['e0 70 7f', { kind: 'fader', fader: 0, place: 16_368 }],
  ['e8 00 00', { kind: 'fader', fader: 8, place: 0 }],
  ['90 68 7f', { kind: 'touch', fader: 0, on: true }],
  ['90 70 00', { kind: 'touch', fader: 8, on: false }],
  ['b0 10 01', { kind: 'turn', encoder: 0, ticks: 1 }],
  ['b0 17 43', { kind: 'turn', encoder: 7, ticks: -3 }],
  ['b0 3c 41', { kind: 'jog', ticks: -1 }],
  ['b0 2e 40', { kind: 'pedal', value: 64 }],
  ['90 5e 7f', { kind: 'key', key: 0x5e, on: true }],
  ['90 10 01', { kind: 'lamp', key: 0x10, state: 'blink' }],
  ['b0 30 56', { kind: 'ring', encoder: 0, place: 6, form: 'fromCentre', centre: true }],
  ['d0 3c', { kind: 'meter', strip: 3, level: 12 }],
  ['d0 7e', { kind: 'overload', strip: 7, on: true }],
  ['d0 7f', { kind: 'overload', strip: 7, on: false }],
  ['b0 40 71', { kind: 'digit', display: 'time', digit: 0, code: 0x31, dot: true }],
  ['b0 4b 13', { kind: 'digit', display: 'short', digit: 1, code: 0x13, dot: false }],
  ['f0 00 00 66 14 12 38 48 69 f7', { kind: 'display', unit: 'main', offset: 0x38, text: 'Hi' }],
  ['f0 00 00 66 15 00 f7', { kind: 'ask', unit: 'extender' }],
  ['f0 00 00 66 14 13 f7', { kind: 'askVersion', unit: 'main' }],
  ['f0 00 00 66 14 61 f7', { kind: 'fadersDown', unit: 'main' }],
  ['f0 00 00 66 14 62 f7', { kind: 'lightsOff', unit: 'main' }],
  ['f0 00 00 66 14 63 f7', { kind: 'reset', unit: 'main' }],
])('%s', (hex, message) => {
  expect(toHex(encodeDesk(message))).toBe(hex);
});

test('a library of others reads the same numbers out of the short ones', () => {
  const read = (message: DeskMessage) => midimessage({ data: encodeDesk(message), timeStamp: 0 });
  fc.assert(
    fc.property(to(7), to(63), fc.boolean(), (n, code, on) => {
      const key = read({ kind: 'key', key: 0x10 + n, on });
      expect([key.channel, key.key, key.velocity]).toEqual([0, 0x10 + n, on ? 127 : 0]);
      const turn = read({ kind: 'turn', encoder: n, ticks: on ? code : -code });
      expect([turn.messageType, turn.controllerNumber, turn.controllerValue]).toEqual([
        'controlchange',
        0x10 + n,
        on || code === 0 ? code : 0x40 + code,
      ]);
      const digit = read({ kind: 'digit', display: 'time', digit: n, code, dot: on });
      expect([digit.controllerNumber, digit.controllerValue]).toEqual([
        0x40 + n,
        code + (on ? 0x40 : 0),
      ]);
    }),
  );
});

test('numbers out of range are refused, greetings of another length are none', () => {
  expect(() => encodeDesk({ kind: 'fader', fader: 9, place: 0 })).toThrow(RangeError);
  expect(() => encodeDesk({ kind: 'fader', fader: 0, place: 16_384 })).toThrow(RangeError);
  expect(() => encodeDesk({ kind: 'introduce', unit: 'main', serial: [1], code: [] })).toThrow(
    RangeError,
  );
  for (const hex of ['f0 00 00 66 14 01 01 02 f7', 'f0 00 00 66 16 00 f7', 'f0 00 00 67 14 00 f7'])
    expect(decodeDesk(fromHex(hex)!, 'desk')).toBeNull();
  expect(DESK_UNITS.extender - DESK_UNITS.main).toBe(1);
});
