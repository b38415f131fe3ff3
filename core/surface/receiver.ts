import {
  CHANNEL_PRESSURE,
  COLOUR_SLOTS,
  CONTROL_CHANGE,
  NOTE_OFF,
  NOTE_ON,
  PITCH_BEND,
  POLY_PRESSURE,
  PROGRAM_CHANGE,
  RELATIVE_ENCODINGS,
  SLOTS,
  SYSEX,
  join14,
  readTemplate,
  ticksOf,
  type Template,
} from '@rondo/core/wire';
import { rangeOf, topOf, type Pattern } from './pattern.js';
import { textOfCells } from './sender.js';

const enum How {
  Note,
  Controller,
  PairMsb,
  PairLsb,
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

/** No pattern matches the message. */
export const NO_MATCH = -1;
/** The message is a part of a value that is not whole yet: nothing to do. */
export const HALF = -2;

const NUMBERS = 128;
const KEYS = 8 * 16 * NUMBERS;
const keyOf = (status: number, number: number): number =>
  ((status & 0x70) << 7) | ((status & 0x0f) << 7) | number;

/** Numbers of registered and non-registered parameters, by kind and channel: a list of 16 384 where one is used. */
type Parameters = (Int32Array | undefined)[];
const PARAMETERS = 16_384;
const listOf = (type: 'nrpn' | 'rpn', channel: number): number =>
  (type === 'rpn' ? 16 : 0) + channel;

/** An entry of the table is one number, so that a match touches one place in memory: how, aux, target. */
const AUX_SHIFT = 4;
const TARGET_SHIFT = 9;
const NO_ENTRY = -1;
/** Bit of a relative entry's aux: the device counts the other way round. */
const REVERSED = 0x10;

// Levels of a strip meter, and what sets and clears its overload lamp (Mackie-style, common practice, no source).
const METER_STEPS = 12;
const OVERLOAD_ON = 14;

// MIDI 1.0, registered and non-registered parameters.
const DATA_MSB = 6;
const DATA_LSB = 38;
const NRPN_LSB = 98;
const RPN_MSB = 101;

interface SysexEntry {
  readonly target: number;
  /** Bytes that must be the same; −1 for any. Without F7 for text, which goes on. */
  readonly fixed: Int16Array;
  readonly template: Template | null;
}

/** One long display: what stands in it, and the fields that it is divided into. */
interface Board {
  readonly header: Uint8Array;
  readonly memory: Uint8Array;
  readonly fields: { readonly target: number; readonly offset: number; readonly width: number }[];
}

/** Places of a display that offsets of one byte reach. */
const BOARD_PLACES = 128;
const SPACE = 0x20;

/** What came with the last match beside its value; −1 for nothing. */
export const NO_AUX = -1;
/** The strip meter's overload lamp, in {@link Receiver.aux}. */
export const OVERLOAD_AUX = 1;

/** The parameter that a channel's data entry is for. */
class Parameter {
  type: 'nrpn' | 'rpn' = 'nrpn';
  msb = -1;
  lsb = -1;
  high = 0;
}

/** A device's onboard page: what is sent on it, and the message by which the device says that it is on. */
export interface ReceiverPage {
  readonly patterns: readonly (Pattern | undefined)[];
  readonly enter?: Uint8Array | undefined;
}

/**
 * Matches messages against a set of patterns and reads their value. One look-up a message, nothing allocated.
 * Where two patterns have one message, the first keeps it and the second is listed in {@link collisions}.
 * With several onboard pages the page that is on goes first; a message that only another page has puts that page on.
 */
export class Receiver {
  /** Value of the last match: 0…1, or ticks where the pattern is relative; −1 for a dark ring. */
  value = 0;
  /** Which cell of a time display the last match was for, from the right; its {@link value} is the character's code. */
  cell = -1;
  /** What came with the value: the bits of a ring's form and centre lamp; 1 or 0 for an overload lamp, and then no value. */
  aux = NO_AUX;
  /** Fields whose text the last SysEx match has changed, the first {@link textCount} of them. */
  readonly textTargets: Int32Array;
  textCount = 0;
  /** The last text was longer than its display, or began behind it. */
  textSpills = false;
  /** Onboard page that is on, as far as its messages tell. */
  page = 0;
  /** Targets that got no message of their own because a first one of the same page has it. */
  readonly collisions: { readonly first: number; readonly second: number }[] = [];

  private readonly boards: Board[][];
  private readonly texts = new Map<number, string>();
  private readonly cells = new Map<number, Uint8Array>();
  /** Targets whose value goes through a range of its own: the first number, and one over how many there are. */
  private readonly ranges = new Map<number, { first: number; scale: number; top: number }>();
  private table: Int32Array;
  private readonly tables: Int32Array[];
  private readonly latched: Uint8Array;
  private readonly sysexes: SysexEntry[][];
  private readonly parameters: Parameters[];
  private readonly chosen: Parameter[] = [];
  private readonly enters = new Map<number, number>();
  private readonly enterSysexes: { bytes: Uint8Array; page: number }[] = [];

  /**
   * @param patterns index in this list is the target reported; undefined entries match nothing
   * @param more further onboard pages, their lists as long as the first
   */
  constructor(patterns: readonly (Pattern | undefined)[], more: readonly ReceiverPage[] = []) {
    const pages: readonly ReceiverPage[] = [{ patterns }, ...more];
    this.latched = new Uint8Array(patterns.length);
    this.textTargets = new Int32Array(patterns.length);
    this.boards = pages.map(() => []);
    this.tables = pages.map(() => new Int32Array(KEYS).fill(NO_ENTRY));
    this.table = this.tables[0];
    this.sysexes = pages.map(() => []);
    const parameters = pages.map((): Parameters => []);
    this.parameters = parameters;
    if (pages.some((page) => page.patterns.some((p) => p?.type === 'nrpn' || p?.type === 'rpn')))
      for (let channel = 0; channel < 16; channel++) this.chosen.push(new Parameter());
    pages.forEach((page, at) =>
      page.patterns.forEach((pattern, target) => {
        if (pattern) this.learn(pattern, target, at, parameters[at]);
      }),
    );
  }

  /** Tells by which message the device says that a page is on. */
  setEnter(page: number, bytes: Uint8Array): void {
    if (bytes[0] === SYSEX) this.enterSysexes.push({ bytes, page });
    else if (bytes.length > 0)
      this.enters.set(bytes[0] | ((bytes[1] ?? 0) << 8) | ((bytes[2] ?? 0) << 16), page);
  }

  private learn(pattern: Pattern, target: number, page: number, parameters: Parameters): void {
    const table = this.tables[page];
    const add = (status: number, number: number, how: How, aux = 0) => {
      const key = keyOf(status, number);
      if (table[key] !== NO_ENTRY) this.collide(table[key] >> TARGET_SHIFT, target);
      else table[key] = how | (aux << AUX_SHIFT) | (target << TARGET_SHIFT);
    };
    switch (pattern.type) {
      case 'text': {
        const { header, width } = pattern;
        if (pattern.offset !== undefined && width !== undefined) {
          const bytes = Uint8Array.from([SYSEX, ...header]);
          const boards = this.boards[page];
          let board = boards.find((other) => String(other.header) === String(bytes));
          if (!board) {
            const memory = new Uint8Array(BOARD_PLACES).fill(SPACE);
            boards.push((board = { header: bytes, memory, fields: [] }));
          }
          board.fields.push({ target, offset: pattern.offset, width });
          return;
        }
        const offset = pattern.offset === undefined ? [] : [pattern.offset];
        const fixed = Int16Array.from([SYSEX, ...header, ...offset]);
        this.sysexes[page].push({ target, fixed, template: null });
        return;
      }
      case 'colour':
      case 'sysex': {
        const template = readTemplate(pattern.template);
        if ('fault' in template) return;
        const fixed = Int16Array.from(template.bytes);
        for (const slot of [...SLOTS, ...COLOUR_SLOTS])
          if (template[slot] >= 0) fixed[template[slot]] = -1;
        const same = this.sysexes[page].find((other) => String(other.fixed) === String(fixed));
        if (same) this.collide(same.target, target);
        this.sysexes[page].push({ target, fixed, template });
        return;
      }
      case 'osc':
        return;
    }
    const channel = pattern.channel - 1;
    const control = CONTROL_CHANGE | channel;
    const range = rangeOf(pattern);
    if (range) {
      const [first, last] = range;
      const scale = first === last ? 0 : 1 / (last - first);
      this.ranges.set(target, { first, scale, top: topOf(pattern) });
    }
    switch (pattern.type) {
      case 'note':
        add(NOTE_ON | channel, pattern.number, How.Note);
        break;
      case 'controller':
        add(control, pattern.number, How.Controller);
        break;
      case 'controllerPair':
        add(control, pattern.number, How.PairMsb, pattern.lsbFirst ? 1 : 0);
        add(control, pattern.lsb, How.PairLsb, pattern.lsbFirst ? 1 : 0);
        break;
      case 'nrpn':
      case 'rpn': {
        const at = listOf(pattern.type, channel);
        const list = (parameters[at] ??= new Int32Array(PARAMETERS).fill(NO_ENTRY));
        const first = list[pattern.number];
        if (first !== NO_ENTRY) this.collide(first >> 1, target);
        else list[pattern.number] = target * 2 + (pattern.bits === 14 ? 1 : 0);
        break;
      }
      case 'relative': {
        const aux = RELATIVE_ENCODINGS.indexOf(pattern.encoding);
        add(control, pattern.number, How.Relative, pattern.reversed ? aux | REVERSED : aux);
        break;
      }
      case 'upDown': {
        const status = pattern.message === 'note' ? NOTE_ON | channel : control;
        add(status, pattern.up, How.Tick, pattern.reversed ? 1 : 0);
        add(status, pattern.down, How.Tick, pattern.reversed ? 0 : 1);
        break;
      }
      case 'pitchBend':
        add(PITCH_BEND | channel, 0, How.Bend, pattern.bits);
        break;
      case 'channelPressure':
        // The table tells the strips of meters apart by the value's upper bits: this has them all.
        for (let strip = 0; strip < 8; strip++)
          add(CHANNEL_PRESSURE | channel, strip, How.Pressure);
        break;
      case 'polyPressure':
        add(POLY_PRESSURE | channel, pattern.number, How.Controller);
        break;
      case 'program':
        if (pattern.number !== undefined)
          add(PROGRAM_CHANGE | channel, pattern.number, How.Program);
        else
          for (let number = 0; number < NUMBERS; number++)
            add(PROGRAM_CHANGE | channel, number, How.ProgramValue);
        break;
      case 'digits':
        this.cells.set(target, new Uint8Array(pattern.count).fill(SPACE));
        for (let cell = 0; cell < pattern.count; cell++)
          add(control, pattern.number + cell, How.Digit, cell);
        break;
      case 'ring':
        add(control, pattern.number, How.Ring);
        break;
      case 'stripMeter':
        // The strip stands in the value, so the key is the strip.
        add(CHANNEL_PRESSURE | channel, pattern.strip, How.StripMeter);
        break;
    }
  }

  private collide(first: number, second: number): void {
    const known = this.collisions.some((pair) => pair.first === first && pair.second === second);
    if (first !== second && !known) this.collisions.push({ first, second });
  }

  /** Puts an onboard page on. */
  setPage(page: number): void {
    this.page = page;
    this.table = this.tables[page];
  }

  /** The target of a packed message, {@link NO_MATCH} or {@link HALF}; its value is then in {@link value}. */
  accept(packed: number): number {
    let status = packed & 0xff;
    if (status >= 0xf0) return NO_MATCH;
    this.cell = -1;
    this.aux = NO_AUX;
    const one = (packed >> 8) & 0x7f;
    let two = (packed >> 16) & 0x7f;
    const kind = status & 0xf0;
    let number = one;
    if (kind === NOTE_OFF) {
      status |= 0x10;
      two = 0;
    } else if (kind === PITCH_BEND) number = 0;
    else if (kind === CHANNEL_PRESSURE) number = one >> 4;
    if (this.enters.size > 0) {
      const page = this.enters.get(packed & 0xff_ffff);
      if (page !== undefined) this.setPage(page);
    }
    if (this.chosen.length > 0 && kind === CONTROL_CHANGE) {
      const target = this.parameter(status & 0x0f, one, two);
      if (target >= 0 && this.ranges.size > 0) this.narrow(target);
      if (target !== NO_MATCH) return target;
    }
    const key = keyOf(status, number);
    let entry = this.table[key];
    if (entry === NO_ENTRY) {
      if (this.tables.length === 1) return NO_MATCH;
      const page = this.tables.findIndex((table) => table[key] !== NO_ENTRY);
      if (page < 0) return NO_MATCH;
      this.setPage(page);
      entry = this.table[key];
    }
    const target = this.read(entry, kind, one, two);
    if (target >= 0 && this.ranges.size > 0) this.narrow(target);
    return target;
  }

  /** A value of a range of its own, as a share of that. */
  private narrow(target: number): void {
    const range = this.ranges.get(target);
    if (!range) return;
    const share = (Math.round(this.value * range.top) - range.first) * range.scale;
    this.value = share > 0 ? Math.min(1, share) : 0;
  }

  /** Reads the value of a message by its entry; returns the target. */
  private read(entry: number, kind: number, one: number, two: number): number {
    const target = entry >> TARGET_SHIFT;
    const aux = (entry >> AUX_SHIFT) & 0x1f;
    switch (entry & 0x0f) {
      case How.Note:
      case How.Controller:
        this.value = two / 127;
        return target;
      case How.PairMsb:
        if (aux === 1) {
          this.value = join14(this.latched[target], two) / 16_383;
          return target;
        }
        this.latched[target] = two;
        return HALF;
      case How.PairLsb:
        if (aux === 1) {
          this.latched[target] = two;
          return HALF;
        }
        this.value = join14(two, this.latched[target]) / 16_383;
        return target;
      case How.Relative: {
        const ticks = ticksOf(RELATIVE_ENCODINGS[aux & 0x0f], two);
        this.value = (aux & REVERSED) !== 0 ? -ticks : ticks;
        return target;
      }
      case How.Tick:
        // A note's release is no second tick.
        if (kind === NOTE_OFF || (kind === NOTE_ON && two === 0)) return HALF;
        this.value = aux === 1 ? -1 : 1;
        return target;
      case How.Bend: {
        this.value = (join14(one, two) >> (14 - aux)) / ((1 << aux) - 1);
        return target;
      }
      case How.Program:
        this.value = 1;
        return target;
      case How.ProgramValue:
      case How.Pressure:
        this.value = one / 127;
        return target;
      case How.Digit:
        this.cell = aux;
        this.value = two;
        this.putCell(target, aux, two);
        return target;
      case How.Ring:
        this.aux = two >> 4;
        this.value = (two & 0x0f) === 0 ? -1 : ((two & 0x0f) - 1) / 10;
        return target;
      default: {
        const level = one & 0x0f;
        if (level >= OVERLOAD_ON) this.aux = level === OVERLOAD_ON ? OVERLOAD_AUX : 0;
        else this.value = Math.min(METER_STEPS, level) / METER_STEPS;
        return target;
      }
    }
  }

  /** What a controller means as a step of an (N)RPN; {@link NO_MATCH} where it means nothing of that kind. */
  private parameter(channel: number, number: number, data: number): number {
    const chosen = this.chosen[channel];
    if (number >= NRPN_LSB && number <= RPN_MSB) {
      const type = number <= 99 ? 'nrpn' : 'rpn';
      if (chosen.type !== type) chosen.msb = chosen.lsb = -1;
      chosen.type = type;
      if (number % 2 === 1) chosen.msb = data;
      else chosen.lsb = data;
      // A pattern of its own may stand on such a controller.
      return this.table[keyOf(CONTROL_CHANGE | channel, number)] === NO_ENTRY ? HALF : NO_MATCH;
    }
    if ((number !== DATA_MSB && number !== DATA_LSB) || chosen.msb < 0 || chosen.lsb < 0)
      return NO_MATCH;
    const at = listOf(chosen.type, channel);
    const parameter = join14(chosen.lsb, chosen.msb);
    let found = this.parameters[this.page][at]?.[parameter] ?? NO_ENTRY;
    if (found === NO_ENTRY) {
      const page = this.parameters.findIndex((lists) => (lists[at]?.[parameter] ?? -1) >= 0);
      if (page < 0) return NO_MATCH;
      this.setPage(page);
      found = this.parameters[page][at]?.[parameter] as number;
    }
    const fine = (found & 1) === 1;
    if (number === DATA_MSB) {
      chosen.high = data;
      if (fine) return HALF;
      this.value = data / 127;
    } else {
      if (!fine) return HALF;
      this.value = join14(data, chosen.high) / 16_383;
    }
    return found >> 1;
  }

  /**
   * The target of a SysEx (F0 … F7), else {@link NO_MATCH}; its value is then in {@link value}. Of a text all fields that
   * it has changed are in {@link textTargets}, and what stands there by {@link textAt}.
   */
  acceptSysex(bytes: Uint8Array, from: number, to: number): number {
    this.cell = -1;
    for (const { bytes: enter, page } of this.enterSysexes)
      if (to - from === enter.length && enter.every((byte, i) => byte === bytes[from + i]))
        this.setPage(page);
    const found = this.matchSysex(this.page, bytes, from, to);
    if (found !== NO_MATCH || this.tables.length === 1) return found;
    for (let page = 0; page < this.tables.length; page++) {
      const elsewhere = this.matchSysex(page, bytes, from, to);
      if (elsewhere === NO_MATCH) continue;
      this.setPage(page);
      return elsewhere;
    }
    return NO_MATCH;
  }

  private putCell(target: number, cell: number, code: number): void {
    const cells = this.cells.get(target);
    if (cells) cells[cells.length - 1 - cell] = code;
  }

  /** The text of a target as it stands now: a field of a display, a time display, or what came last. */
  textAt(target: number): string {
    const cells = this.cells.get(target);
    if (cells) return textOfCells(String.fromCharCode(...cells));
    return this.texts.get(target) ?? '';
  }

  /** Writes into a display from a place of it on; what is written may lie across its fields. */
  private writeBoard(
    { memory, fields, header }: Board,
    bytes: Uint8Array,
    from: number,
    to: number,
  ) {
    const offset = bytes[from + header.length];
    const start = from + header.length + 1;
    const end = offset + (to - 1 - start);
    const last = fields.reduce((most, field) => Math.max(most, field.offset + field.width), 0);
    this.textSpills = end > last;
    for (let at = start; at < to - 1 && offset + at - start < BOARD_PLACES; at++)
      memory[offset + at - start] = bytes[at];
    for (const { target, offset: first, width } of fields) {
      if (first >= end || first + width <= offset) continue;
      this.texts.set(target, String.fromCharCode(...memory.subarray(first, first + width)));
      this.textTargets[this.textCount++] = target;
    }
  }

  private matchSysex(page: number, bytes: Uint8Array, from: number, to: number): number {
    this.textCount = 0;
    this.textSpills = false;
    this.aux = NO_AUX;
    for (const board of this.boards[page]) {
      const { header } = board;
      if (to - from < header.length + 2) continue;
      if (!header.every((byte, i) => bytes[from + i] === byte)) continue;
      this.writeBoard(board, bytes, from, to);
      return this.textCount > 0 ? this.textTargets[0] : HALF;
    }
    for (const { fixed, target, template } of this.sysexes[page]) {
      const length = to - from;
      if (template ? length !== fixed.length : length < fixed.length + 1) continue;
      let same = true;
      for (let i = 0; i < fixed.length && same; i++)
        same = fixed[i] < 0 || bytes[from + i] === fixed[i];
      if (!same) continue;
      if (!template) {
        let text = '';
        for (let i = from + fixed.length; i < to - 1; i++) text += String.fromCharCode(bytes[i]);
        this.texts.set(target, text);
        this.textTargets[this.textCount++] = target;
      } else if (template.red >= 0)
        this.value =
          (bytes[from + template.red] << 14) |
          (bytes[from + template.green] << 7) |
          bytes[from + template.blue];
      else if (template.value >= 0) this.value = bytes[from + template.value] / 127;
      else if (template.high >= 0)
        this.value = join14(bytes[from + template.low], bytes[from + template.high]) / 16_383;
      else this.value = 1;
      return target;
    }
    return NO_MATCH;
  }
}
