import { lsb7, msb7 } from './message.js';
import {
  CHANNEL_PRESSURE,
  CONTROL_CHANGE,
  NOTE_ON,
  PITCH_BEND,
  SYSEX,
  SYSEX_END,
} from './status.js';
import {
  DESK_UNITS,
  type DeskUnit,
  DESK_HEADER,
  DESK_STRIPS,
  DESK_LINE,
  DESK_TOUCH,
  RING_FORMS,
  LAMP_STATES,
  TURN,
  RING,
  JOG,
  PEDAL,
  DIGITS,
  SHORT_DIGITS,
  BACKWARDS,
  OVERLOAD_ON,
  OVERLOAD_OFF,
  Says,
  type DeskMessage,
  PLAIN,
  SERIAL,
  CODE,
} from './desk-messages.js';

function check(value: number, top: number, what: string): number {
  if (!Number.isInteger(value) || value < 0 || value > top)
    throw new RangeError(`${what} must be a whole number from 0 to ${top}, not ${value}`);
  return value;
}

/** Ticks as bits: bit 6 is anticlockwise. More than 63 at once are 63. */
const ticksByte = (ticks: number): number =>
  Math.min(63, Math.abs(ticks)) | (ticks < 0 ? BACKWARDS : 0);

const sysex = (unit: DeskUnit, ...bytes: number[]): Uint8Array =>
  Uint8Array.of(SYSEX, ...DESK_HEADER, DESK_UNITS[unit], ...bytes, SYSEX_END);

const ascii = (text: string): number[] => [...text].map((c) => c.charCodeAt(0) & 0x7f);

/**
 * The bytes of a message of the Mackie-style protocol.
 * @throws RangeError where a number is outside its range
 */
export function encodeDesk(message: DeskMessage): Uint8Array {
  switch (message.kind) {
    case 'fader': {
      const place = check(message.place, 16_383, 'place');
      const status = PITCH_BEND | check(message.fader, DESK_STRIPS, 'fader');
      return Uint8Array.of(status, lsb7(place), msb7(place));
    }
    case 'touch':
      return Uint8Array.of(
        NOTE_ON,
        DESK_TOUCH + check(message.fader, DESK_STRIPS, 'fader'),
        message.on ? 0x7f : 0,
      );
    case 'turn':
      return Uint8Array.of(
        CONTROL_CHANGE,
        TURN + check(message.encoder, DESK_STRIPS - 1, 'encoder'),
        ticksByte(message.ticks),
      );
    case 'jog':
      return Uint8Array.of(CONTROL_CHANGE, JOG, ticksByte(message.ticks));
    case 'pedal':
      return Uint8Array.of(CONTROL_CHANGE, PEDAL, check(message.value, 127, 'value'));
    case 'key':
      return Uint8Array.of(NOTE_ON, check(message.key, 127, 'key'), message.on ? 0x7f : 0);
    case 'lamp':
      return Uint8Array.of(NOTE_ON, check(message.key, 127, 'key'), LAMP_STATES[message.state]);
    case 'ring':
      return Uint8Array.of(
        CONTROL_CHANGE,
        RING + check(message.encoder, DESK_STRIPS - 1, 'encoder'),
        check(message.place, 11, 'place') |
          (RING_FORMS.indexOf(message.form) << 4) |
          (message.centre ? 0x40 : 0),
      );
    case 'meter':
      return Uint8Array.of(
        CHANNEL_PRESSURE,
        (check(message.strip, DESK_STRIPS - 1, 'strip') << 4) | check(message.level, 12, 'level'),
      );
    case 'overload':
      return Uint8Array.of(
        CHANNEL_PRESSURE,
        (check(message.strip, DESK_STRIPS - 1, 'strip') << 4) |
          (message.on ? OVERLOAD_ON : OVERLOAD_OFF),
      );
    case 'digit': {
      const first = message.display === 'time' ? DIGITS : SHORT_DIGITS;
      const last = message.display === 'time' ? 9 : 1;
      return Uint8Array.of(
        CONTROL_CHANGE,
        first + check(message.digit, last, 'digit'),
        check(message.code, 0x3f, 'code') | (message.dot ? 0x40 : 0),
      );
    }
    case 'display': {
      const offset = check(message.offset, 2 * DESK_LINE - 1, 'offset');
      return sysex(message.unit, Says.Display, offset, ...ascii(message.text));
    }
    case 'introduce':
    case 'answer': {
      const says = message.kind === 'introduce' ? Says.Introduce : Says.Answer;
      const bytes = [...message.serial, ...message.code].map((byte) => check(byte, 127, 'byte'));
      if (message.serial.length !== SERIAL || message.code.length !== CODE)
        throw new RangeError('a greeting has seven bytes of serial number and four of code');
      return sysex(message.unit, says, ...bytes);
    }
    case 'version':
      return sysex(message.unit, Says.Version, ...ascii(message.text));
    case 'meterMode':
      return sysex(
        message.unit,
        Says.MeterMode,
        check(message.strip, DESK_STRIPS - 1, 'strip'),
        check(message.mode, 127, 'mode'),
      );
    case 'metersMode':
      return sysex(message.unit, Says.MetersMode, check(message.mode, 127, 'mode'));
    default:
      return sysex(message.unit, PLAIN[message.kind]);
  }
}
