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
export const LAST_TOUCH = DESK_TOUCH + DESK_STRIPS;
export const RING_FORMS = ['dot', 'fromCentre', 'fromEnd', 'widening'] as const;
export type RingForm = (typeof RING_FORMS)[number];
/** What a lamp is told: the velocity of its note. */
export const LAMP_STATES = { off: 0x00, blink: 0x01, on: 0x7f } as const;
export type LampState = keyof typeof LAMP_STATES;

export const TURN = 0x10;
export const RING = 0x30;
export const JOG = 0x3c;
export const PEDAL = 0x2e;
export const DIGITS = 0x40;
export const SHORT_DIGITS = 0x4a;
export const BACKWARDS = 0x40;
export const OVERLOAD_ON = 14;
export const OVERLOAD_OFF = 15;

/** What each SysEx of the protocol is for, by the byte after its unit. */
export const enum Says {
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

export const PLAIN = {
  ask: Says.Ask,
  accept: Says.Accept,
  reject: Says.Reject,
  askVersion: Says.AskVersion,
  fadersDown: Says.FadersDown,
  lightsOff: Says.LightsOff,
  reset: Says.Reset,
} as const;

export const SERIAL = 7;
export const CODE = 4;
