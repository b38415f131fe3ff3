import {
  CHANNEL_PRESSURE,
  CONTROL_CHANGE,
  NOTE_OFF,
  NOTE_ON,
  PITCH_BEND,
  RELATIVE_ENCODINGS,
  join14,
  ticksOf,
} from '@rondo/core/wire';
import { HALF, Heard, NO_EXTRA, NO_MATCH } from './heard.js';
import { HalfValues, NO_HALF } from './half-values.js';
import type { MessageMap } from './message-map.js';
import {
  DETAIL_SHIFT,
  NO_ENTRY,
  COUNTS_BACK,
  ReadAs,
  TARGET_SHIFT,
  keyOf,
  type PageTables,
} from './page-tables.js';
import {
  DATA_DECREMENT,
  DATA_HIGH,
  DATA_INCREMENT,
  DATA_LOW,
  NRPN_LOW,
  RPN_HIGH,
} from './parameter-numbers.js';
import { hearOsc, type OscHeard } from './osc-hearing.js';
import { hearSysex } from './sysex-hearing.js';
import { WrittenTexts } from './written-texts.js';
import { NO_MAP, PageInUse } from './page-in-use.js';
import { PairDecoder } from './pair-decoder.js';
import { ParameterDecoder } from './parameter-decoder.js';

// Levels of a strip meter, and what sets and clears its overload lamp (Mackie-style, common practice, no source).
const METER_STEPS = 12;
const OVERLOAD_ON = 14;
/** Places of a ring (Mackie-style, common practice, no source). */
const RING_PLACES = 11;

/** The strip meter's overload lamp is on, in {@link Heard.extra}. */
const IS_OVERLOAD = 1;

/** Whether a controller number is of (N)RPNs: data, its steps, and what chooses. */
const IS_OF_PARAMETERS = new Uint8Array(128);
for (const number of [DATA_HIGH, DATA_LOW, DATA_INCREMENT, DATA_DECREMENT])
  IS_OF_PARAMETERS[number] = 1;
IS_OF_PARAMETERS.fill(1, NRPN_LOW, RPN_HIGH + 1);

/**
 * Reads what comes on one link against a {@link MessageMap}: one look-up a message, nothing allocated. All that the wire
 * has half said lives here, by what the wire itself calls it, and outlives any number of maps: halves of 14-bit values,
 * chosen parameter numbers, what stands in displays, the onboard page.
 * With several onboard pages the page that is on goes first; a message that only another page has puts that page on.
 */
export class LinkDecoder {
  /** What the last message said. */
  readonly heard = new Heard();
  /** What stands in displays. */
  readonly written = new WrittenTexts();
  private readonly inUse = new PageInUse();
  private readonly halves: HalfValues;
  private readonly pairs: PairDecoder;
  private readonly parameters: ParameterDecoder;
  /** The value of a SysEx. */
  private readonly sysexValue = new Float64Array(1);

  /**
   * @param clock the time now, µs, in its first place
   * @param map what the messages mean at first
   * @param agenda hears of what is planned earlier than what stands in its first place, µs
   */
  constructor(
    clock: Float64Array,
    map: MessageMap = NO_MAP,
    agenda: Float64Array = new Float64Array(1),
  ) {
    this.halves = new HalfValues(clock, agenda);
    this.pairs = new PairDecoder(this.halves, this.heard);
    this.parameters = new ParameterDecoder(this.inUse, this.pairs, this.halves, this.heard);
    this.use(map);
  }

  /** Onboard page that is on, as far as its messages tell. */
  get page(): number {
    return this.inUse.page;
  }

  /** Puts an onboard page on. */
  setPage(page: number): void {
    this.inUse.turnTo(page);
  }

  /** From now on messages mean this. What is half read stays so. */
  use(map: MessageMap): void {
    this.written.fit(map.targets);
    this.inUse.use(map);
  }

  /** The cable is another one now: nothing is half said any more. */
  reset(): void {
    this.halves.forget();
    this.parameters.forget();
    this.written.forget();
    this.use(this.inUse.map);
  }

  /** When a half that waits acts alone, µs; Infinity where none waits. {@link takeOverdue} is needed by then. */
  get deadline(): number {
    return this.halves.deadline;
  }

  /**
   * The target of a packed message, {@link NO_MATCH} or {@link HALF}; its value is then in {@link heard}.
   * @param packed a short message as `status | data1 << 8 | data2 << 16`
   */
  accept(packed: number): number {
    let status = packed & 0xff;
    if (status >= 0xf0) return NO_MATCH;
    this.heard.clear();
    const one = (packed >> 8) & 0x7f;
    let two = (packed >> 16) & 0x7f;
    const kind = status & 0xf0;
    let number = one;
    if (kind === NOTE_OFF) {
      status |= 0x10;
      two = 0;
    } else if (kind === PITCH_BEND) number = 0;
    else if (kind === CHANNEL_PRESSURE) number = one >> 4;
    const { inUse, parameters } = this;
    const { map } = inUse;
    if (map.hasEnters) {
      const page = map.enters.get(packed & 0xff_ffff);
      if (page !== undefined) inUse.turnTo(page);
    }
    if (IS_OF_PARAMETERS[one] === 1 && kind === CONTROL_CHANGE)
      if (map.hasParameters) {
        const target = parameters.accept(packed, status & 0x0f, one, two);
        if (target >= 0 && map.hasRanges) this.narrow(target);
        if (target !== NO_MATCH) return target;
      } else if (one >= NRPN_LOW && one <= RPN_HIGH) parameters.choose(status & 0x0f, one, two);
    const key = keyOf(status, number);
    let entry = inUse.tables.table[key];
    if (entry === NO_ENTRY) {
      if (map.pages.length === 1) return NO_MATCH;
      const page = map.pages.findIndex(({ table }) => table[key] !== NO_ENTRY);
      if (page < 0) return NO_MATCH;
      inUse.turnTo(page);
      entry = inUse.tables.table[key];
    }
    const target = this.read(entry, packed, kind, one, two);
    if (target >= 0 && map.hasRanges) this.narrow(target);
    return target;
  }

  /**
   * The target of a half that has waited long enough for the other by now, as {@link accept} tells it; its message is
   * then in {@link heard}. {@link HALF} where that means nothing alone; {@link NO_MATCH} where no more has waited so
   * long.
   */
  takeOverdue(): number {
    const key = this.halves.overdue();
    if (key < 0) return NO_MATCH;
    const packed = this.halves.end(key);
    const target = this.alone(key, packed);
    this.heard.firstHalf = packed;
    if (target < 0) return HALF;
    if (this.inUse.map.hasRanges) this.narrow(target);
    return target;
  }

  /** A half acts without the other, as far as it still means something. */
  private alone(key: number, packed: number): number {
    const one = (packed >> 8) & 0x7f;
    const { inUse, pairs, parameters } = this;
    if (one === DATA_HIGH && inUse.map.hasParameters) {
      const found = parameters.entryOf(key >> 7);
      if (found >= 0) return parameters.alone(key, found >> 1);
    }
    const entry = inUse.tables.table[keyOf(packed & 0xff, one)];
    if (entry === NO_ENTRY) return NO_MATCH;
    const how = (entry & 0x0f) as ReadAs;
    const target = entry >> TARGET_SHIFT;
    if (how === ReadAs.PairHigh) return pairs.alone(key, target);
    if (how !== ReadAs.PairLow || this.halves.high[key] === NO_HALF) return NO_MATCH;
    return pairs.joined(key, target);
  }

  /** A value of a range of its own, as a share of that. */
  private narrow(target: number): void {
    const range = this.inUse.map.ranges.get(target);
    if (!range) return;
    const { heard } = this;
    const share = (Math.round(heard.value * range.top) - range.first) * range.scale;
    heard.value = share > 0 ? Math.min(1, share) : 0;
  }

  /** Reads the value of a message by its entry; returns the target. */
  private read(entry: number, packed: number, kind: number, one: number, two: number): number {
    const target = entry >> TARGET_SHIFT;
    const { heard } = this;
    const detail = (entry >> DETAIL_SHIFT) & 0x1f;
    switch ((entry & 0x0f) as ReadAs) {
      case ReadAs.Note:
      case ReadAs.Controller:
        heard.value = two / 127;
        return target;
      case ReadAs.PairHigh:
        return this.pairs.highHalf(this.inUse.map.pairs[target], target, packed, two, detail === 1);
      case ReadAs.PairLow:
        return this.pairs.lowHalf(this.inUse.map.pairs[target], target, packed, two, detail === 1);
      case ReadAs.Relative: {
        const ticks = ticksOf(RELATIVE_ENCODINGS[detail & 0x0f], two);
        heard.value = (detail & COUNTS_BACK) !== 0 ? -ticks : ticks;
        return target;
      }
      case ReadAs.Tick:
        // A note's release is no second tick.
        if (kind === NOTE_OFF || (kind === NOTE_ON && two === 0)) return HALF;
        heard.value = detail === 1 ? -1 : 1;
        return target;
      case ReadAs.Bend: {
        heard.value = (join14(one, two) >> (14 - detail)) / ((1 << detail) - 1);
        return target;
      }
      case ReadAs.Program:
        heard.value = 1;
        return target;
      case ReadAs.ProgramValue:
      case ReadAs.Pressure:
        heard.value = one / 127;
        return target;
      case ReadAs.Digit:
        heard.cell = detail;
        heard.value = two;
        this.written.writeCell(packed & 0x0f, one, two);
        return target;
      case ReadAs.Ring: {
        heard.extra = two >> 4;
        const place = Math.min(RING_PLACES, two & 0x0f);
        heard.value = place === 0 ? -1 : (place - 1) / (RING_PLACES - 1);
        return target;
      }
      default: {
        const level = one & 0x0f;
        if (level >= OVERLOAD_ON) heard.extra = level === OVERLOAD_ON ? IS_OVERLOAD : 0;
        else heard.value = Math.min(METER_STEPS, level) / METER_STEPS;
        return target;
      }
    }
  }

  /** What an OSC message says; see {@link hearOsc}. */
  acceptOsc(bytes: Uint8Array, from: number, to: number): OscHeard {
    const heard = hearOsc(bytes.subarray(from, to), this.inUse.map, this.page);
    if (heard.page !== this.page) this.setPage(heard.page);
    return heard;
  }

  /**
   * The target of a SysEx (F0 … F7), else {@link NO_MATCH}; its value is then in {@link heard}. Of a text all fields that
   * it has changed are in {@link written}, and what stands there by {@link textAt}.
   */
  acceptSysex(bytes: Uint8Array, from: number, to: number): number {
    this.heard.cell = -1;
    const { pages, enterSysexes } = this.inUse.map;
    for (const { bytes: enter, page } of enterSysexes)
      if (to - from === enter.length && enter.every((byte, i) => byte === bytes[from + i]))
        this.setPage(page);
    const found = this.hear(this.inUse.tables, bytes, from, to);
    if (found !== NO_MATCH || pages.length === 1) return found;
    for (let page = 0; page < pages.length; page++) {
      const elsewhere = this.hear(pages[page], bytes, from, to);
      if (elsewhere === NO_MATCH) continue;
      this.setPage(page);
      return elsewhere;
    }
    return NO_MATCH;
  }

  private hear(tables: PageTables, bytes: Uint8Array, from: number, to: number): number {
    const { heard, sysexValue } = this;
    sysexValue[0] = heard.value;
    heard.extra = NO_EXTRA;
    const target = hearSysex(tables, this.written, sysexValue, bytes, from, to);
    heard.value = sysexValue[0];
    return target;
  }

  /** The text of a target as it stands now. */
  textAt(target: number): string {
    return this.written.textAt(target, this.inUse.map, this.inUse.tables);
  }
}
