import {
  CHANNEL_PRESSURE,
  CONTROL_CHANGE,
  NOTE_ON,
  PITCH_BEND,
  POLY_PRESSURE,
  PROGRAM_CHANGE,
  RELATIVE_ENCODINGS,
  readTemplate,
  type Template,
} from '@rondo/core/wire';
import { OscWriter } from './osc-writer.js';
import { rangeOf, topOf, type Pattern } from './pattern.js';
import { digitsText, sysexText, type TextOut } from './text-out.js';
import { RING_STYLES } from './ring-wire.js';

/** How the values of a pattern are written. */
export const enum How {
  None,
  Plain,
  Pair,
  Relative,
  Bend,
  Ring,
  StripMeter,
  Text,
  Parameter,
  UpDown,
  Program,
  Pressure,
  Sysex,
  Colour,
  Osc,
}

// What chooses non-registered and registered parameters (MIDI 1.0).
const NRPN_MSB = 99;
const RPN_MSB = 101;

/** What a sender knows of its patterns, side by side, so that a value reaches it in one step. */
export abstract class SenderTable {
  protected readonly how: Uint8Array;
  protected readonly status: Uint8Array;
  protected readonly number: Uint8Array;
  protected readonly lsb: Uint8Array;
  /** What {@link How} needs to know: an encoding, a number of bits, a strip, the greatest number, a parameter. */
  protected readonly detail: Int32Array;
  protected readonly bits: Int32Array;
  /** The low half goes first. */
  protected readonly lowFirst: Uint8Array;
  /** The device counts the other way round. */
  protected readonly reversed: Uint8Array;
  protected readonly templates = new Map<number, Template>();
  protected readonly texts = new Map<number, TextOut>();
  /** First number and how many follow, of patterns whose value goes through a range of its own. */
  protected readonly ranges = new Map<number, { first: number; span: number }>();
  protected readonly hasRange: Uint8Array;
  protected osc: OscWriter | null = null;

  constructor(patterns: readonly (Pattern | undefined)[]) {
    const count = patterns.length;
    this.how = new Uint8Array(count);
    this.status = new Uint8Array(count);
    this.number = new Uint8Array(count);
    this.lsb = new Uint8Array(count);
    this.detail = new Int32Array(count);
    this.bits = new Int32Array(count);
    this.lowFirst = new Uint8Array(count);
    this.reversed = new Uint8Array(count);
    this.hasRange = new Uint8Array(count);
    patterns.forEach((pattern, i) => {
      if (pattern) this.learn(pattern, i);
    });
  }

  private learn(pattern: Pattern, i: number): void {
    if (pattern.type === 'text' || pattern.type === 'digits') {
      this.how[i] = How.Text;
      this.texts.set(i, pattern.type === 'text' ? sysexText(pattern) : digitsText(pattern));
      return;
    }
    if (pattern.type === 'sysex' || pattern.type === 'colour') {
      const template = readTemplate(pattern.template);
      if ('fault' in template) return;
      this.how[i] = pattern.type === 'colour' ? How.Colour : How.Sysex;
      this.detail[i] = template.high >= 0 ? 16_383 : template.value >= 0 ? 127 : 1;
      this.templates.set(i, template);
      return;
    }
    if (pattern.type === 'osc') {
      this.how[i] = How.Osc;
      this.detail[i] = topOf(pattern);
      this.osc ??= new OscWriter();
      this.osc.learn(i, pattern);
      return;
    }
    const range = rangeOf(pattern);
    if (range) {
      this.ranges.set(i, { first: range[0], span: range[1] - range[0] });
      this.hasRange[i] = 1;
    }
    const channel = pattern.channel - 1;
    this.status[i] = CONTROL_CHANGE | channel;
    if ('number' in pattern) this.number[i] = pattern.number ?? 0;
    switch (pattern.type) {
      case 'note':
        this.status[i] = NOTE_ON | channel;
        this.how[i] = How.Plain;
        break;
      case 'controller':
        this.how[i] = How.Plain;
        break;
      case 'controllerPair':
        this.how[i] = How.Pair;
        this.lsb[i] = pattern.lsb;
        this.lowFirst[i] = pattern.lsbFirst ? 1 : 0;
        break;
      case 'relative':
        this.how[i] = How.Relative;
        this.detail[i] = RELATIVE_ENCODINGS.indexOf(pattern.encoding);
        this.reversed[i] = pattern.reversed ? 1 : 0;
        break;
      case 'nrpn':
      case 'rpn':
        this.how[i] = How.Parameter;
        this.detail[i] = pattern.number;
        this.bits[i] = pattern.bits;
        this.number[i] = pattern.type === 'nrpn' ? NRPN_MSB : RPN_MSB;
        break;
      case 'upDown':
        if (pattern.message === 'note') this.status[i] = NOTE_ON | channel;
        this.how[i] = How.UpDown;
        this.number[i] = pattern.up;
        this.lsb[i] = pattern.down;
        this.reversed[i] = pattern.reversed ? 1 : 0;
        break;
      case 'channelPressure':
        this.status[i] = CHANNEL_PRESSURE | channel;
        this.how[i] = How.Pressure;
        break;
      case 'polyPressure':
        this.status[i] = POLY_PRESSURE | channel;
        this.how[i] = How.Plain;
        break;
      case 'program':
        this.status[i] = PROGRAM_CHANGE | channel;
        this.how[i] = pattern.number === undefined ? How.Pressure : How.Program;
        break;
      case 'pitchBend':
        this.status[i] = PITCH_BEND | channel;
        this.how[i] = How.Bend;
        this.detail[i] = pattern.bits;
        break;
      case 'ring':
        this.how[i] = How.Ring;
        this.detail[i] = RING_STYLES.indexOf(pattern.style);
        break;
      case 'stripMeter':
        this.status[i] = CHANNEL_PRESSURE | channel;
        this.how[i] = How.StripMeter;
        this.detail[i] = pattern.strip;
        break;
    }
  }
}
