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
import { HALF, NO_MATCH } from './heard.js';
import { NO_HALF } from './half-values.js';
import { MessageMap } from './message-map.js';
import {
  AUX_SHIFT,
  NO_ENTRY,
  REVERSED,
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
import { NO_MAP, ParameterDecoder } from './parameter-decoder.js';

// Levels of a strip meter, and what sets and clears its overload lamp (Mackie-style, common practice, no source).
const METER_STEPS = 12;
const OVERLOAD_ON = 14;
/** Places of a ring (Mackie-style, common practice, no source). */
const RING_PLACES = 11;

/** What came with the last match beside its value; −1 for nothing. */
export const NO_AUX = -1;
/** The strip meter's overload lamp, in {@link LinkDecoder.aux}. */
const OVERLOAD_AUX = 1;

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
export class LinkDecoder extends ParameterDecoder {
  /** Which cell of a time display the last match was for, from the right; its {@link value} is the character's code. */
  cell = -1;
  /** What came with the value: the bits of a ring's form and centre lamp; 1 or 0 for an overload lamp, and then no value. */
  aux = NO_AUX;
  /** What stands in displays. */
  readonly written = new WrittenTexts();
  /** The value of a SysEx. */
  private readonly heard = new Float64Array(1);
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
    super(clock, agenda);
    this.use(map);
  }

  /** From now on messages mean this. What is half read stays so. */
  use(map: MessageMap): void {
    this.map = map;
    this.written.fit(map.targets);
    this.setPage(Math.min(this.page, map.pages.length - 1));
  }

  /** The cable is another one now: nothing is half said any more. */
  reset(): void {
    this.halves.forget();
    for (const chosen of this.chosen) chosen.forget();
    this.written.forget();
    this.use(this.map);
  }

  /** When a half that waits acts alone, µs; Infinity where none waits. {@link takeOverdue} is needed by then. */
  get deadline(): number {
    return this.halves.deadline;
  }

  /**
   * The target of a packed message, {@link NO_MATCH} or {@link HALF}; its value is then in {@link value}.
   * @param packed a short message as `status | data1 << 8 | data2 << 16`
   */
  accept(packed: number): number {
    let status = packed & 0xff;
    if (status >= 0xf0) return NO_MATCH;
    this.cell = -1;
    this.aux = NO_AUX;
    this.firstHalf = 0;
    this.holdsHalf = false;
    this.wasChosenAway = false;
    const one = (packed >> 8) & 0x7f;
    let two = (packed >> 16) & 0x7f;
    const kind = status & 0xf0;
    let number = one;
    if (kind === NOTE_OFF) {
      status |= 0x10;
      two = 0;
    } else if (kind === PITCH_BEND) number = 0;
    else if (kind === CHANNEL_PRESSURE) number = one >> 4;
    const { map } = this;
    if (map.hasEnters) {
      const page = map.enters.get(packed & 0xff_ffff);
      if (page !== undefined) this.setPage(page);
    }
    if (IS_OF_PARAMETERS[one] === 1 && kind === CONTROL_CHANGE)
      if (map.hasParameters) {
        const target = this.parameter(packed, status & 0x0f, one, two);
        if (target >= 0 && map.hasRanges) this.narrow(target);
        if (target !== NO_MATCH) return target;
      } else if (one >= NRPN_LOW && one <= RPN_HIGH)
        // Chosen all the same: what waits for it may be described later.
        this.chosen[status & 0x0f].choose(one, two);
    const key = keyOf(status, number);
    let entry = this.tables.table[key];
    if (entry === NO_ENTRY) {
      if (map.pages.length === 1) return NO_MATCH;
      const page = map.pages.findIndex(({ table }) => table[key] !== NO_ENTRY);
      if (page < 0) return NO_MATCH;
      this.setPage(page);
      entry = this.tables.table[key];
    }
    const target = this.read(entry, packed, kind, one, two);
    if (target >= 0 && map.hasRanges) this.narrow(target);
    return target;
  }

  /**
   * The target of a half that has waited long enough for the other by now, as {@link accept} tells it; its message is
   * then in {@link firstHalf}. {@link HALF} where that means nothing alone; {@link NO_MATCH} where no more has waited so
   * long.
   */
  takeOverdue(): number {
    const key = this.halves.overdue();
    if (key < 0) return NO_MATCH;
    const packed = this.halves.end(key);
    const target = this.alone(key, packed);
    this.firstHalf = packed;
    if (target < 0) return HALF;
    if (this.map.hasRanges) this.narrow(target);
    return target;
  }

  /** A half acts without the other, as far as it still means something. */
  private alone(key: number, packed: number): number {
    const one = (packed >> 8) & 0x7f;
    if (one === DATA_HIGH && this.map.hasParameters) {
      const found = this.parameterEntry(key >> 7);
      if (found >= 0) return this.loneParameter(key, found >> 1);
    }
    const entry = this.tables.table[keyOf(packed & 0xff, one)];
    if (entry === NO_ENTRY) return NO_MATCH;
    const how = (entry & 0x0f) as ReadAs;
    const target = entry >> TARGET_SHIFT;
    if (how === ReadAs.PairHigh) return this.loneHigh(key, target);
    if (how !== ReadAs.PairLow || this.halves.high[key] === NO_HALF) return NO_MATCH;
    return this.joined(key, target);
  }

  /** A value of a range of its own, as a share of that. */
  private narrow(target: number): void {
    const range = this.map.ranges.get(target);
    if (!range) return;
    const share = (Math.round(this.value * range.top) - range.first) * range.scale;
    this.value = share > 0 ? Math.min(1, share) : 0;
  }

  /** Reads the value of a message by its entry; returns the target. */
  private read(entry: number, packed: number, kind: number, one: number, two: number): number {
    const target = entry >> TARGET_SHIFT;
    const aux = (entry >> AUX_SHIFT) & 0x1f;
    switch ((entry & 0x0f) as ReadAs) {
      case ReadAs.Note:
      case ReadAs.Controller:
        this.value = two / 127;
        return target;
      case ReadAs.PairHigh:
        return this.highHalf(this.map.pairs[target], target, packed, two, aux === 1);
      case ReadAs.PairLow:
        return this.lowHalf(this.map.pairs[target], target, packed, two, aux === 1);
      case ReadAs.Relative: {
        const ticks = ticksOf(RELATIVE_ENCODINGS[aux & 0x0f], two);
        this.value = (aux & REVERSED) !== 0 ? -ticks : ticks;
        return target;
      }
      case ReadAs.Tick:
        // A note's release is no second tick.
        if (kind === NOTE_OFF || (kind === NOTE_ON && two === 0)) return HALF;
        this.value = aux === 1 ? -1 : 1;
        return target;
      case ReadAs.Bend: {
        this.value = (join14(one, two) >> (14 - aux)) / ((1 << aux) - 1);
        return target;
      }
      case ReadAs.Program:
        this.value = 1;
        return target;
      case ReadAs.ProgramValue:
      case ReadAs.Pressure:
        this.value = one / 127;
        return target;
      case ReadAs.Digit:
        this.cell = aux;
        this.value = two;
        this.written.writeCell(packed & 0x0f, one, two);
        return target;
      case ReadAs.Ring: {
        this.aux = two >> 4;
        const place = Math.min(RING_PLACES, two & 0x0f);
        this.value = place === 0 ? -1 : (place - 1) / (RING_PLACES - 1);
        return target;
      }
      default: {
        const level = one & 0x0f;
        if (level >= OVERLOAD_ON) this.aux = level === OVERLOAD_ON ? OVERLOAD_AUX : 0;
        else this.value = Math.min(METER_STEPS, level) / METER_STEPS;
        return target;
      }
    }
  }

  /** What an OSC message says; see {@link hearOsc}. */
  acceptOsc(bytes: Uint8Array, from: number, to: number): OscHeard {
    const heard = hearOsc(bytes.subarray(from, to), this.map, this.page);
    if (heard.page !== this.page) this.setPage(heard.page);
    return heard;
  }

  /**
   * The target of a SysEx (F0 … F7), else {@link NO_MATCH}; its value is then in {@link value}. Of a text all fields that
   * it has changed are in {@link written}, and what stands there by {@link textAt}.
   */
  acceptSysex(bytes: Uint8Array, from: number, to: number): number {
    this.cell = -1;
    const { pages, enterSysexes } = this.map;
    for (const { bytes: enter, page } of enterSysexes)
      if (to - from === enter.length && enter.every((byte, i) => byte === bytes[from + i]))
        this.setPage(page);
    const found = this.hear(this.tables, bytes, from, to);
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
    const { heard } = this;
    heard[0] = this.value;
    this.aux = NO_AUX;
    const target = hearSysex(tables, this.written, heard, bytes, from, to);
    this.value = heard[0];
    return target;
  }

  /** The text of a target as it stands now. */
  textAt(target: number): string {
    return this.written.textAt(target, this.map, this.tables);
  }
}
