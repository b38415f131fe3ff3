import { join14 } from './message.js';
import {
  CHANNEL_PRESSURE,
  CONTROL_CHANGE,
  NOTE_OFF,
  NOTE_ON,
  PITCH_BEND,
  SYSEX,
} from './status.js';
import {
  DESK_UNITS,
  type DeskUnit,
  DESK_HEADER,
  DESK_STRIPS,
  DESK_LINE,
  DESK_TOUCH,
  LAST_TOUCH,
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
  Says,
  type DeskMessage,
  type DeskSide,
  PLAIN,
  SERIAL,
  CODE,
} from './desk-messages.js';

const ticksIn = (data: number): number =>
  (data & BACKWARDS) === 0 ? data & 0x3f : 0 - (data & 0x3f);

/** Whether a SysEx is one of the protocol, whatever it says. */
export const isDeskSysex = (bytes: Uint8Array, from = 0, to = bytes.length): boolean =>
  to - from >= 7 &&
  bytes[from] === SYSEX &&
  DESK_HEADER.every((byte, i) => bytes[from + 1 + i] === byte) &&
  (bytes[from + 4] === DESK_UNITS.main || bytes[from + 4] === DESK_UNITS.extender);

function decodeSysex(bytes: Uint8Array): DeskMessage | null {
  if (!isDeskSysex(bytes)) return null;
  const unit: DeskUnit = bytes[4] === DESK_UNITS.main ? 'main' : 'extender';
  const says = bytes[5] as Says;
  const body = [...bytes.subarray(6, -1)];
  const text = (from: number) => String.fromCharCode(...body.slice(from));
  switch (says) {
    case Says.Display:
      return body.length === 0 || body[0] >= 2 * DESK_LINE
        ? null
        : { kind: 'display', unit, offset: body[0], text: text(1) };
    case Says.Introduce:
    case Says.Answer:
      return body.length !== SERIAL + CODE
        ? null
        : {
            kind: says === Says.Introduce ? 'introduce' : 'answer',
            unit,
            serial: body.slice(0, SERIAL),
            code: body.slice(SERIAL),
          };
    case Says.Version:
      return { kind: 'version', unit, text: text(0) };
    case Says.MeterMode:
      return body.length !== 2 || body[0] >= DESK_STRIPS
        ? null
        : { kind: 'meterMode', unit, strip: body[0], mode: body[1] };
    case Says.MetersMode:
      return body.length === 1 ? { kind: 'metersMode', unit, mode: body[0] } : null;
    default: {
      // Some repeat their serial number behind these.
      const kind = (Object.keys(PLAIN) as (keyof typeof PLAIN)[]).find((k) => PLAIN[k] === says);
      return kind ? { kind, unit } : null;
    }
  }
}

/**
 * Reads one whole message of the protocol.
 * @param from who has sent it
 * @returns null for what is none of the protocol
 */
export function decodeDesk(bytes: Uint8Array, from: DeskSide): DeskMessage | null {
  const [status, one, two] = bytes;
  if (status === SYSEX) return decodeSysex(bytes);
  if ((status & 0xf0) === PITCH_BEND && (status & 0x0f) <= DESK_STRIPS)
    return { kind: 'fader', fader: status & 0x0f, place: join14(one, two) };
  if (status === NOTE_ON || status === NOTE_OFF)
    return decodeNote(one, status === NOTE_OFF ? 0 : two, from);
  if (status === CHANNEL_PRESSURE) {
    const strip = one >> 4;
    const level = one & 0x0f;
    if (level >= OVERLOAD_ON) return { kind: 'overload', strip, on: level === OVERLOAD_ON };
    return { kind: 'meter', strip, level: Math.min(12, level) };
  }
  return status === CONTROL_CHANGE ? decodeController(one, two, from) : null;
}

function decodeNote(note: number, velocity: number, from: DeskSide): DeskMessage {
  if (from === 'host') {
    const state = velocity === 0 ? 'off' : velocity === LAMP_STATES.blink ? 'blink' : 'on';
    return { kind: 'lamp', key: note, state };
  }
  return note >= DESK_TOUCH && note <= LAST_TOUCH
    ? { kind: 'touch', fader: note - DESK_TOUCH, on: velocity > 0 }
    : { kind: 'key', key: note, on: velocity > 0 };
}

function decodeController(number: number, data: number, from: DeskSide): DeskMessage | null {
  const among = (first: number, count: number) => number >= first && number < first + count;
  if (from === 'desk') {
    if (among(TURN, DESK_STRIPS))
      return { kind: 'turn', encoder: number - TURN, ticks: ticksIn(data) };
    if (number === JOG) return { kind: 'jog', ticks: ticksIn(data) };
    return number === PEDAL ? { kind: 'pedal', value: data } : null;
  }
  if (among(RING, DESK_STRIPS))
    return {
      kind: 'ring',
      encoder: number - RING,
      place: Math.min(11, data & 0x0f),
      form: RING_FORMS[(data >> 4) & 3],
      centre: (data & 0x40) !== 0,
    };
  const short = among(SHORT_DIGITS, 2);
  if (!short && !among(DIGITS, 10)) return null;
  return {
    kind: 'digit',
    display: short ? 'short' : 'time',
    digit: number - (short ? SHORT_DIGITS : DIGITS),
    code: data & 0x3f,
    dot: (data & 0x40) !== 0,
  };
}
