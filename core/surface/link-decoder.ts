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
import { HalfValues, NO_HALF } from './half-values.js';
import {
  AUX_SHIFT,
  MessageMap,
  NO_ENTRY,
  REVERSED,
  ReadAs,
  TARGET_SHIFT,
  keyOf,
  parameterListOf,
  type PageTables,
} from './message-map.js';
import {
  ChosenParameter,
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

// Levels of a strip meter, and what sets and clears its overload lamp (Mackie-style, common practice, no source).
const METER_STEPS = 12;
const OVERLOAD_ON = 14;
/** Places of a ring (Mackie-style, common practice, no source). */
const RING_PLACES = 11;

const TOP_14 = 16_383;

/** What came with the last match beside its value; −1 for nothing. */
export const NO_AUX = -1;
/** The strip meter's overload lamp, in {@link LinkDecoder.aux}. */
export const OVERLOAD_AUX = 1;

const NO_MAP = new MessageMap([]);

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
  /** Value of the last match: 0…1, or ticks where the pattern is relative; −1 for a dark ring. */
  value = 0;
  /** Which cell of a time display the last match was for, from the right; its {@link value} is the character's code. */
  cell = -1;
  /** What came with the value: the bits of a ring's form and centre lamp; 1 or 0 for an overload lamp, and then no value. */
  aux = NO_AUX;
  /** The half that came before the last match and belongs to it, packed; 0 for none. */
  firstHalf = 0;
  /** What was a half is kept and waits for the other: it comes with that, or by itself. */
  holdsHalf = false;
  /** The last match is what {@link firstHalf} had said: the message itself chooses another parameter and is told by it. */
  wasChosenAway = false;
  /** What stands in displays. */
  readonly written = new WrittenTexts();
  /** Onboard page that is on, as far as its messages tell. */
  page = 0;

  /** The value of a SysEx. */
  private readonly heard = new Float64Array(1);
  private map: MessageMap = NO_MAP;
  private tables: PageTables = NO_MAP.pages[0];
  private readonly halves: HalfValues;
  private readonly chosen = Array.from({ length: 16 }, () => new ChosenParameter());

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
    this.use(map);
  }

  /** From now on messages mean this. What is half read stays so. */
  use(map: MessageMap): void {
    this.map = map;
    this.written.fit(map.targets);
    this.setPage(Math.min(this.page, map.pages.length - 1));
  }

  /** Puts an onboard page on. */
  setPage(page: number): void {
    this.page = page;
    this.tables = this.map.pages[page];
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
   * then in {@link firstHalf}. {@link NO_MATCH} where no more has.
   */
  takeOverdue(): number {
    for (let key = this.halves.overdue(); key >= 0; key = this.halves.overdue()) {
      const packed = this.halves.end(key);
      const target = this.alone(key, packed);
      this.firstHalf = packed;
      if (target < 0) continue;
      if (this.map.hasRanges) this.narrow(target);
      return target;
    }
    return NO_MATCH;
  }

  /** A half acts without the other, as far as it still means something. */
  private alone(key: number, packed: number): number {
    const one = (packed >> 8) & 0x7f;
    if (one === DATA_HIGH && this.map.hasParameters) {
      const found = this.parameterEntry(key >> 7);
      if (found >= 0) return this.loneHigh(key, found >> 1);
    }
    const entry = this.tables.table[keyOf(packed & 0xff, one)];
    if (entry === NO_ENTRY) return NO_MATCH;
    const how = (entry & 0x0f) as ReadAs;
    const target = entry >> TARGET_SHIFT;
    if (how === ReadAs.PairHigh) return this.loneHigh(key, target);
    if (how !== ReadAs.PairLow || this.halves.high[key] === NO_HALF) return NO_MATCH;
    this.value = join14(this.halves.low[key], this.halves.high[key]) / TOP_14;
    return target;
  }

  /**
   * A high half without a low one is a value of seven bits: with a low half of 0, as the standard has it in the
   * receiver's view, a fader that sends no more would never reach its top.
   */
  private loneHigh(key: number, target: number): number {
    this.halves.cameAlone(key);
    this.value = this.halves.high[key] / 127;
    return target;
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

  private highHalf(
    key: number,
    target: number,
    packed: number,
    data: number,
    lowFirst: boolean,
  ): number {
    const { halves } = this;
    const low = halves.low[key];
    halves.high[key] = data;
    halves.low[key] = NO_HALF;
    if (lowFirst) {
      this.firstHalf = halves.end(key);
      this.value = low === NO_HALF ? data / 127 : join14(low, data) / TOP_14;
      return target;
    }
    // Of two high halves in a row the first one had no low half.
    if (halves.isWaiting(key)) halves.cameAlone(key);
    if (halves.comesAlone(key)) {
      halves.end(key);
      return this.loneHigh(key, target);
    }
    return this.waits(key, packed);
  }

  /** A half is kept until the other comes. */
  private waits(key: number, packed: number): number {
    this.halves.wait(key, packed);
    this.holdsHalf = true;
    return HALF;
  }

  private lowHalf(
    key: number,
    target: number,
    packed: number,
    data: number,
    lowFirst: boolean,
  ): number {
    const { halves } = this;
    halves.low[key] = data;
    if (lowFirst) return this.waits(key, packed);
    this.firstHalf = halves.end(key);
    halves.bothCame(key);
    // Where no high half ever came, nobody knows what this one refines.
    if (halves.high[key] === NO_HALF) return HALF;
    this.value = join14(data, halves.high[key]) / TOP_14;
    return target;
  }

  /** What is looked up for the parameter that is chosen on a channel; {@link NO_ENTRY} where it is not waited for. */
  private parameterEntry(channel: number): number {
    const chosen = this.chosen[channel];
    if (chosen.lookedUpIn === this.tables) return chosen.entry;
    const entry = this.lookUp(chosen, channel);
    chosen.entry = entry;
    chosen.lookedUpIn = this.tables;
    return entry;
  }

  private lookUp({ type, number }: ChosenParameter, channel: number): number {
    if (number < 0) return NO_ENTRY;
    const at = parameterListOf(type, channel);
    const here = this.tables.parameters[at]?.[number] ?? NO_ENTRY;
    if (here !== NO_ENTRY) return here;
    const page = this.map.pages.findIndex(
      ({ parameters }) => (parameters[at]?.[number] ?? -1) >= 0,
    );
    if (page < 0) return NO_ENTRY;
    this.setPage(page);
    return this.tables.parameters[at]?.[number] as number;
  }

  /** What a controller means as a step of an (N)RPN; {@link NO_MATCH} where it means nothing of that kind. */
  private parameter(packed: number, channel: number, number: number, data: number): number {
    const chosen = this.chosen[channel];
    const key = (channel << 7) | DATA_HIGH;
    if (number >= NRPN_LOW && number <= RPN_HIGH) {
      // The low half of the one before can no longer come: what was said of it acts, and then it is forgotten.
      const waited = this.halves.end(key);
      const found = waited === 0 ? NO_ENTRY : this.parameterEntry(channel);
      chosen.choose(number, data);
      if (found !== NO_ENTRY) {
        this.loneHigh(key, found >> 1);
        this.halves.high[key] = NO_HALF;
        this.firstHalf = waited;
        this.wasChosenAway = true;
        return found >> 1;
      }
      this.halves.high[key] = NO_HALF;
      // A pattern of its own may stand on such a controller.
      const own = this.tables.table[keyOf(CONTROL_CHANGE | channel, number)];
      return own === NO_ENTRY ? HALF : NO_MATCH;
    }
    const steps = number === DATA_INCREMENT ? 1 : number === DATA_DECREMENT ? -1 : 0;
    if (steps !== 0 && this.tables.table[keyOf(packed & 0xff, number)] !== NO_ENTRY)
      return NO_MATCH;
    const found = this.parameterEntry(channel);
    if (found === NO_ENTRY) return NO_MATCH;
    const fine = (found & 1) === 1;
    const target = found >> 1;
    if (steps !== 0) return this.stepParameter(chosen, target, steps, fine);
    if (number === DATA_HIGH && !fine) {
      chosen.value = data << 7;
      this.value = data / 127;
      return target;
    }
    if (!fine) return HALF;
    const read =
      number === DATA_HIGH
        ? this.highHalf(key, target, packed, data, false)
        : this.lowHalf(key, target, packed, data, false);
    if (read >= 0) chosen.value = Math.round(this.value * TOP_14);
    return read;
  }

  /** Data increment and decrement go by one step, whatever number comes with them (RP-018). */
  private stepParameter(
    chosen: ChosenParameter,
    target: number,
    steps: number,
    fine: boolean,
  ): number {
    // Where nobody has said a value there is none to go on from.
    if (chosen.value < 0) return HALF;
    const wanted = chosen.value + steps * (fine ? 1 : 128);
    chosen.value = Math.max(0, Math.min(fine ? TOP_14 : 127 << 7, wanted));
    this.value = fine ? chosen.value / TOP_14 : (chosen.value >> 7) / 127;
    return target;
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
