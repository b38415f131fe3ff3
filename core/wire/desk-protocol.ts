import { join14, lsb7, msb7 } from './message.js';
import {
  CHANNEL_PRESSURE,
  CONTROL_CHANGE,
  NOTE_OFF,
  NOTE_ON,
  PITCH_BEND,
  SYSEX,
  SYSEX_END,
} from './status.js';

/*
 * The Mackie-style control protocol: common practice, no published source; see what each message says. Everything is
 * on channel 1, but that each fader has a channel of its own.
 */

/** Byte that tells a main unit from an extender in every SysEx of the protocol. */
export const DESK_UNITS = { main: 0x14, extender: 0x15 } as const;
export type DeskUnit = keyof typeof DESK_UNITS;

/** What a SysEx of the protocol begins with, before its unit. */
export const DESK_HEADER = [0x00, 0x00, 0x66] as const;
/** Strips of a unit; the master fader has the number after the last. */
export const DESK_STRIPS = 8;
/** Characters of a line of its display, and of both lines together. */
export const DESK_LINE = 56;
/** First note of fader touch; the master's is the last. */
export const DESK_TOUCH = 0x68;
const LAST_TOUCH = DESK_TOUCH + DESK_STRIPS;
export const RING_FORMS = ['dot', 'fromCentre', 'fromEnd', 'widening'] as const;
export type RingForm = (typeof RING_FORMS)[number];
/** What a lamp is told: the velocity of its note. */
export const LAMP_STATES = { off: 0x00, blink: 0x01, on: 0x7f } as const;
export type LampState = keyof typeof LAMP_STATES;

const TURN = 0x10;
const RING = 0x30;
const JOG = 0x3c;
const PEDAL = 0x2e;
const DIGITS = 0x40;
const SHORT_DIGITS = 0x4a;
const BACKWARDS = 0x40;
const OVERLOAD_ON = 14;
const OVERLOAD_OFF = 15;

/** What each SysEx of the protocol is for, by the byte after its unit. */
const enum Says {
  Ask = 0x00,
  Introduce = 0x01,
  Answer = 0x02,
  Accept = 0x03,
  Reject = 0x04,
  Display = 0x12,
  AskVersion = 0x13,
  Version = 0x14,
  MeterMode = 0x20,
  MetersMode = 0x21,
  FadersDown = 0x61,
  LightsOff = 0x62,
  Reset = 0x63,
}

/** One message of the protocol in words. Numbers count from 0. */
export type DeskMessage =
  /** 14 bits of place, of which a desk resolves the upper ten; fader 8 is the master. */
  | { readonly kind: 'fader'; readonly fader: number; readonly place: number }
  | { readonly kind: 'touch'; readonly fader: number; readonly on: boolean }
  /** Ticks, −63…63, clockwise positive. */
  | { readonly kind: 'turn'; readonly encoder: number; readonly ticks: number }
  | { readonly kind: 'jog'; readonly ticks: number }
  | { readonly kind: 'pedal'; readonly value: number }
  /** By the note that it has. */
  | { readonly kind: 'key'; readonly key: number; readonly on: boolean }
  | { readonly kind: 'lamp'; readonly key: number; readonly state: LampState }
  /** Place 1–11, 0 for dark. */
  | {
      readonly kind: 'ring';
      readonly encoder: number;
      readonly place: number;
      readonly form: RingForm;
      readonly centre: boolean;
    }
  | { readonly kind: 'meter'; readonly strip: number; readonly level: number }
  | { readonly kind: 'overload'; readonly strip: number; readonly on: boolean }
  /** A character of the time display, counted from the right, or of the one with two digits. */
  | {
      readonly kind: 'digit';
      readonly display: 'time' | 'short';
      readonly digit: number;
      readonly code: number;
      readonly dot: boolean;
    }
  /** Text from a place of its display on: 0–55 is the upper line, 56–111 the lower. */
  | {
      readonly kind: 'display';
      readonly unit: DeskUnit;
      readonly offset: number;
      readonly text: string;
    }
  | {
      readonly kind:
        'ask' | 'accept' | 'reject' | 'askVersion' | 'fadersDown' | 'lightsOff' | 'reset';
      readonly unit: DeskUnit;
    }
  /** Who it is, seven bytes, with four to be answered; and the answer to them. */
  | {
      readonly kind: 'introduce' | 'answer';
      readonly unit: DeskUnit;
      readonly serial: readonly number[];
      readonly code: readonly number[];
    }
  | { readonly kind: 'version'; readonly unit: DeskUnit; readonly text: string }
  | {
      readonly kind: 'meterMode';
      readonly unit: DeskUnit;
      readonly strip: number;
      readonly mode: number;
    }
  | { readonly kind: 'metersMode'; readonly unit: DeskUnit; readonly mode: number };

/** Who has sent a message: a note from a desk is a key, from a host a lamp. */
export type DeskSide = 'desk' | 'host';

const PLAIN = {
  ask: Says.Ask,
  accept: Says.Accept,
  reject: Says.Reject,
  askVersion: Says.AskVersion,
  fadersDown: Says.FadersDown,
  lightsOff: Says.LightsOff,
  reset: Says.Reset,
} as const;

const SERIAL = 7;
const CODE = 4;

function check(value: number, top: number, what: string): number {
  if (!Number.isInteger(value) || value < 0 || value > top)
    throw new RangeError(`${what} must be a whole number from 0 to ${top}, not ${value}`);
  return value;
}

/** Ticks as bits: bit 6 is anticlockwise. More than 63 at once are 63. */
const ticksByte = (ticks: number): number =>
  Math.min(63, Math.abs(ticks)) | (ticks < 0 ? BACKWARDS : 0);
const ticksIn = (data: number): number =>
  (data & BACKWARDS) === 0 ? data & 0x3f : 0 - (data & 0x3f);

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
