import type { Template } from '@rondo/core/wire';
import type { Pattern } from './pattern.js';

/** How the value of a message is read. */
export const enum ReadAs {
  Note,
  Controller,
  PairHigh,
  PairLow,
  Relative,
  Bend,
  Ring,
  StripMeter,
  Tick,
  Program,
  ProgramValue,
  Pressure,
  Digit,
}

/** An entry of a table is one number, so that a match touches one place in memory: how, detail, target. */
export const DETAIL_SHIFT = 4;
export const TARGET_SHIFT = 9;
/** What stands in a table where no pattern has the message. */
export const NO_ENTRY = -1;
/** Bit of a relative entry's detail: the device counts the other way round. */
export const COUNTS_BACK = 0x10;

export const NUMBERS = 128;
export const KEYS = 8 * 16 * NUMBERS;
/** Place in a table of a channel message, by its status and first number. */
export const keyOf = (status: number, number: number): number =>
  ((status & 0x70) << 7) | ((status & 0x0f) << 7) | number;

/** Registered and non-registered parameters are numbered up to this (MIDI 1.0). */
export const PARAMETERS = 16_384;
/** Place of a channel's list of (N)RPN numbers; channels from 0. */
export const parameterListOf = (type: 'nrpn' | 'rpn', channel: number): number =>
  (type === 'rpn' ? 16 : 0) + channel;

/** A SysEx message that is waited for. */
export interface SysexEntry {
  readonly target: number;
  /** Bytes that must be the same; −1 for any. Without F7 for text, which goes on. */
  readonly fixed: Int16Array;
  readonly template: Template | null;
}

/** One long display, and the fields that it is divided into. */
export interface Board {
  /** Its header as a word: what stands in it is kept under that. */
  readonly name: string;
  readonly header: Uint8Array;
  readonly fields: { readonly target: number; readonly offset: number; readonly width: number }[];
}

/** Cells of a time display: a controller each, the rightmost first. */
export interface CellRow {
  /** From 0. */
  readonly channel: number;
  readonly first: number;
  readonly count: number;
}

/** A device's onboard page: what is sent on it, and the message by which the device says that it is on. */
export interface MappedPage {
  readonly patterns: readonly (Pattern | undefined)[];
  readonly enter?: Uint8Array | undefined;
}

/** An argument of an OSC message that is waited for. */
export interface OscEntry {
  readonly target: number;
  /** From 0. */
  readonly argument: number;
  readonly low: number;
  /** One over how far it goes from there. */
  readonly scale: number;
  readonly isText: boolean;
}

/** What is looked up on one onboard page. */
export interface PageTables {
  readonly table: Int32Array;
  readonly boards: Board[];
  readonly sysexes: SysexEntry[];
  /** A list of 16 384 where one is used, by {@link parameterListOf}: target × 2, and 1 more where it has 14 bits. */
  readonly parameters: (Int32Array | undefined)[];
  /** What is waited for under each OSC address. */
  readonly addresses: Map<string, OscEntry[]>;
}
