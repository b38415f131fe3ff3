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
  readTemplate,
} from '@rondo/core/wire';
import { oscRangeOf, rangeOf, topOf, type Pattern } from './pattern.js';
import {
  ReadAs,
  DETAIL_SHIFT,
  TARGET_SHIFT,
  NO_ENTRY,
  COUNTS_BACK,
  NUMBERS,
  KEYS,
  keyOf,
  PARAMETERS,
  parameterListOf,
  type CellRow,
  type MappedPage,
  type OscEntry,
  type PageTables,
} from './page-tables.js';

/** Controllers that choose a parameter or carry its value (MIDI 1.0). */
const isOfParameter = (number: number): boolean =>
  number === 6 || number === 38 || (number >= 96 && number <= 101);

/**
 * Which message means which target: the patterns of a link as look-ups. It never changes once it is made; what a wire
 * has half said belongs to the {@link LinkDecoder}. Where two patterns have one message, the first keeps it and the
 * second is listed in {@link collisions}.
 */
export class MessageMap {
  readonly pages: readonly PageTables[];
  /** Targets that got no message of their own because a first one of the same page has it. */
  readonly collisions: { readonly first: number; readonly second: number }[] = [];
  /** Targets whose value goes through a range of its own: the first number, and one over how many there are. */
  readonly ranges = new Map<number, { first: number; scale: number; top: number }>();
  /** Cells of time displays, by target. */
  readonly cells = new Map<number, CellRow>();
  /** Channel × 128 + number of the high half, by target of a pair. */
  readonly pairs: Int32Array;
  /** Short messages, packed, by which the device says that a page is on. */
  readonly enters = new Map<number, number>();
  readonly enterSysexes: readonly { readonly bytes: Uint8Array; readonly page: number }[];
  /** Whether any pattern is a registered or non-registered parameter. */
  readonly hasParameters: boolean;
  /** Whether there are any {@link ranges}, any {@link enters}: cheaper to ask at each message than the lists are. */
  readonly hasRanges: boolean;
  readonly hasEnters: boolean;
  readonly targets: number;

  /**
   * @param patterns index in this list is the target reported; undefined entries match nothing
   * @param more further onboard pages, their lists as long as the first
   * @param enter message by which the device says that its first page is on
   */
  constructor(
    patterns: readonly (Pattern | undefined)[],
    more: readonly MappedPage[] = [],
    enter?: Uint8Array,
  ) {
    const pages: readonly MappedPage[] = [{ patterns, enter }, ...more];
    this.targets = patterns.length;
    this.pairs = new Int32Array(patterns.length).fill(NO_ENTRY);
    this.pages = pages.map(() => ({
      table: new Int32Array(KEYS).fill(NO_ENTRY),
      boards: [],
      sysexes: [],
      parameters: [],
      addresses: new Map<string, OscEntry[]>(),
    }));
    this.hasParameters = pages.some((page) =>
      page.patterns.some((p) => p?.type === 'nrpn' || p?.type === 'rpn'),
    );
    pages.forEach((page, at) =>
      page.patterns.forEach((pattern, target) => {
        if (pattern) this.learn(pattern, target, this.pages[at]);
      }),
    );
    const sysexes: { bytes: Uint8Array; page: number }[] = [];
    pages.forEach(({ enter: bytes }, page) => {
      if (!bytes || bytes.length === 0 || pages.length === 1) return;
      if (bytes[0] === SYSEX) sysexes.push({ bytes, page });
      else this.enters.set(bytes[0] | ((bytes[1] ?? 0) << 8) | ((bytes[2] ?? 0) << 16), page);
    });
    this.enterSysexes = sysexes;
    this.hasRanges = this.ranges.size > 0;
    this.hasEnters = this.enters.size > 0;
  }

  /** Whether a short message, packed, is one of these: of any page, and whole or a part of a value. */
  knows(packed: number): boolean {
    const kind = packed & 0xf0;
    const status = kind === NOTE_OFF ? packed | 0x10 : packed;
    const one = (packed >> 8) & 0x7f;
    const channel = packed & 0x0f;
    const hasList = ({ parameters }: PageTables) =>
      [parameterListOf('nrpn', channel), parameterListOf('rpn', channel)].some(
        (list) => parameters[list] !== undefined,
      );
    if (kind === CONTROL_CHANGE && isOfParameter(one) && this.pages.some(hasList)) return true;
    const number = kind === PITCH_BEND ? 0 : kind === CHANNEL_PRESSURE ? one >> 4 : one;
    return this.pages.some(({ table }) => table[keyOf(status & 0xff, number)] !== NO_ENTRY);
  }

  private learn(pattern: Pattern, target: number, page: PageTables): void {
    if (pattern.type === 'osc') this.learnOsc(pattern, target, page);
    else if (pattern.type === 'text') this.learnText(pattern, target, page);
    else if (pattern.type === 'colour' || pattern.type === 'sysex')
      this.learnSysex(pattern.template, target, page);
    else {
      const range = rangeOf(pattern);
      if (range) {
        const [first, last] = range;
        const scale = first === last ? 0 : 1 / (last - first);
        this.ranges.set(target, { first, scale, top: topOf(pattern) });
      }
      this.learnShort(pattern, target, page);
    }
  }

  private learnOsc(
    pattern: Extract<Pattern, { type: 'osc' }>,
    target: number,
    { addresses }: PageTables,
  ): void {
    const [low, high] = oscRangeOf(pattern);
    const argument = pattern.argument - 1;
    const list = addresses.get(pattern.address) ?? [];
    addresses.set(pattern.address, list);
    const first = list.find((entry) => entry.argument === argument);
    if (first) this.collide(first.target, target);
    else
      list.push({
        target,
        argument,
        low,
        scale: high === low ? 0 : 1 / (high - low),
        isText: pattern.as === 'string',
      });
  }

  private learnText(
    { header, offset, width }: Extract<Pattern, { type: 'text' }>,
    target: number,
    page: PageTables,
  ): void {
    if (offset === undefined || width === undefined) {
      const fixed = Int16Array.from([SYSEX, ...header, ...(offset === undefined ? [] : [offset])]);
      page.sysexes.push({ target, fixed, template: null });
      return;
    }
    const name = String(header);
    let board = page.boards.find((other) => other.name === name);
    if (!board) {
      board = { name, header: Uint8Array.from([SYSEX, ...header]), fields: [] };
      page.boards.push(board);
    }
    board.fields.push({ target, offset, width });
  }

  private learnSysex(text: string, target: number, page: PageTables): void {
    const template = readTemplate(text);
    if ('fault' in template) return;
    const fixed = Int16Array.from(template.bytes);
    for (const slot of [...SLOTS, ...COLOUR_SLOTS])
      if (template[slot] >= 0) fixed[template[slot]] = -1;
    const same = page.sysexes.find((other) => String(other.fixed) === String(fixed));
    if (same) this.collide(same.target, target);
    page.sysexes.push({ target, fixed, template });
  }

  private learnShort(
    pattern: Exclude<Pattern, { type: 'osc' | 'text' | 'colour' | 'sysex' }>,
    target: number,
    page: PageTables,
  ): void {
    const { table } = page;
    const add = (status: number, number: number, how: ReadAs, detail = 0) => {
      const key = keyOf(status, number);
      if (table[key] !== NO_ENTRY) this.collide(table[key] >> TARGET_SHIFT, target);
      else table[key] = how | (detail << DETAIL_SHIFT) | (target << TARGET_SHIFT);
    };
    const channel = pattern.channel - 1;
    const control = CONTROL_CHANGE | channel;
    switch (pattern.type) {
      case 'note':
        add(NOTE_ON | channel, pattern.number, ReadAs.Note);
        return;
      case 'controller':
        add(control, pattern.number, ReadAs.Controller);
        return;
      case 'controllerPair':
        this.pairs[target] = (channel << 7) | pattern.number;
        add(control, pattern.number, ReadAs.PairHigh, pattern.lsbFirst ? 1 : 0);
        add(control, pattern.lsb, ReadAs.PairLow, pattern.lsbFirst ? 1 : 0);
        return;
      case 'nrpn':
      case 'rpn': {
        const at = parameterListOf(pattern.type, channel);
        const list = (page.parameters[at] ??= new Int32Array(PARAMETERS).fill(NO_ENTRY));
        const first = list[pattern.number];
        if (first !== NO_ENTRY) this.collide(first >> 1, target);
        else list[pattern.number] = target * 2 + (pattern.bits === 14 ? 1 : 0);
        return;
      }
      case 'relative': {
        const detail = RELATIVE_ENCODINGS.indexOf(pattern.encoding);
        add(
          control,
          pattern.number,
          ReadAs.Relative,
          pattern.reversed ? detail | COUNTS_BACK : detail,
        );
        return;
      }
      case 'upDown': {
        const status = pattern.message === 'note' ? NOTE_ON | channel : control;
        add(status, pattern.up, ReadAs.Tick, pattern.reversed ? 1 : 0);
        add(status, pattern.down, ReadAs.Tick, pattern.reversed ? 0 : 1);
        return;
      }
      case 'pitchBend':
        add(PITCH_BEND | channel, 0, ReadAs.Bend, pattern.bits);
        return;
      case 'channelPressure':
        // The table tells the strips of meters apart by the value's upper bits: this has them all.
        for (let strip = 0; strip < 8; strip++)
          add(CHANNEL_PRESSURE | channel, strip, ReadAs.Pressure);
        return;
      case 'polyPressure':
        add(POLY_PRESSURE | channel, pattern.number, ReadAs.Controller);
        return;
      case 'program':
        if (pattern.number !== undefined)
          add(PROGRAM_CHANGE | channel, pattern.number, ReadAs.Program);
        else
          for (let number = 0; number < NUMBERS; number++)
            add(PROGRAM_CHANGE | channel, number, ReadAs.ProgramValue);
        return;
      case 'digits':
        this.cells.set(target, { channel, first: pattern.number, count: pattern.count });
        for (let cell = 0; cell < pattern.count; cell++)
          add(control, pattern.number + cell, ReadAs.Digit, cell);
        return;
      case 'ring':
        add(control, pattern.number, ReadAs.Ring);
        return;
      case 'stripMeter':
        // The strip stands in the value, so the key is the strip.
        add(CHANNEL_PRESSURE | channel, pattern.strip, ReadAs.StripMeter);
        return;
    }
  }

  private collide(first: number, second: number): void {
    const known = this.collisions.some((pair) => pair.first === first && pair.second === second);
    if (first !== second && !known) this.collisions.push({ first, second });
  }
}
