import {
  LONGEST_TEMPLATE,
  NOTE_ON,
  RELATIVE_ENCODINGS,
  dataOfTicks,
  lsb7,
  msb7,
  type Template,
} from '@rondo/core/wire';
import { LONGEST_OSC_TEXT } from './osc-writer.js';
import { plainText } from './plain-text.js';
import { DARK_RING, ringWire } from './ring-wire.js';
import { How, SenderTable } from './sender-table.js';

// Data entry of registered and non-registered parameters (MIDI 1.0).
const DATA_MSB = 6;
const DATA_LSB = 38;

/** Ticks that one write of an up/down pair carries at most. */
const MOST_TICKS = 32;

// What sets and clears a strip meter's overload lamp (Mackie-style, common practice, no source).
const OVERLOAD_ON = 14;
const OVERLOAD_OFF = 15;

/** Most bytes that one value takes. Text may be longer: header, offset, width and two more. */
export const MAX_VALUE_BYTES = 2 * LONGEST_TEMPLATE;

/**
 * Writes values as the messages of a set of patterns. Values are first turned into whole numbers as they go over the
 * wire, so that 'has it changed?' is asked where it matters. Nothing is allocated per value.
 */
export class Sender extends SenderTable {
  private readonly one = new Float64Array(1);

  /**
   * A ring's value, 0…1, in a style that follows what it shows; below 0 it is dark. What is no ring has no style.
   * @param style its place in {@link RING_STYLES}
   */
  ringAt(i: number, style: number, values: Float64Array, at: number): number {
    if (this.how[i] !== How.Ring) return this.wireAt(i, values, at);
    const value = values[at];
    return value >= 0 ? ringWire(value > 1 ? 1 : value, style) : DARK_RING;
  }

  /** A ring that is shown as it came from elsewhere: the bits of its form and centre lamp, and its value. */
  ringAs(i: number, bits: number, values: Float64Array, at: number): number {
    if (this.how[i] !== How.Ring) return this.wireAt(i, values, at);
    return (bits << 4) | (values[at] >= 0 ? 1 + Math.round(Math.min(1, values[at]) * 10) : 0);
  }

  /** Writes that a strip meter's overload lamp goes on or off; returns its bytes, 0 where an entry has none. */
  writeOverload(i: number, on: boolean, buffer: Uint8Array, at: number): number {
    if (this.how[i] !== How.StripMeter) return 0;
    buffer[at] = this.status[i];
    buffer[at + 1] = (this.detail[i] << 4) | (on ? OVERLOAD_ON : OVERLOAD_OFF);
    return 2;
  }

  /**
   * A value, 0…1, as the whole number that goes over the wire; ticks for a relative pattern.
   * A value below 0 makes a ring dark and everything else 0. Out-of-range values are clamped.
   */
  wire(i: number, value: number): number {
    this.one[0] = value;
    return this.wireAt(i, this.one, 0);
  }

  /** The same of a value that stands in a list: as an argument it would be put on the heap. */
  wireAt(i: number, values: Float64Array, at: number): number {
    const value = values[at];
    const v = value > 1 ? 1 : value;
    if (this.hasRange[i] === 1) {
      const { first, span } = this.ranges.get(i) as { first: number; span: number };
      return first + Math.round((v > 0 ? v : 0) * span);
    }
    switch (this.how[i]) {
      case How.Relative:
        return dataOfTicks(
          RELATIVE_ENCODINGS[this.detail[i]],
          this.reversed[i] === 1 ? -value : value,
        );
      case How.UpDown: {
        const ticks = Math.max(-MOST_TICKS, Math.min(MOST_TICKS, Math.trunc(value)));
        return this.reversed[i] === 1 ? -ticks : ticks;
      }
      case How.Parameter:
        return v > 0 ? Math.round(v * ((1 << this.bits[i]) - 1)) : 0;
      case How.Sysex:
        return v > 0 ? Math.round(v * this.detail[i]) : 0;
      case How.Osc:
        return v > 0 ? Math.round(v * this.detail[i]) : 0;
      case How.Pair:
        return v > 0 ? Math.round(v * 16_383) : 0;
      case How.Bend:
        return v > 0 ? Math.round(v * ((1 << this.detail[i]) - 1)) : 0;
      case How.Ring:
        return v >= 0 ? ringWire(v, this.detail[i]) : DARK_RING;
      case How.StripMeter:
        return v > 0 ? Math.round(v * 12) : 0;
      default:
        return v > 0 ? Math.round(v * 127) : 0;
    }
  }

  /**
   * Writes the message of a wire value at `buffer[at…]`; returns how many bytes it took.
   * @param beside what the others were told last, where several share a message as in OSC
   */
  write(i: number, wire: number, buffer: Uint8Array, at: number, beside?: Int32Array): number {
    switch (this.how[i]) {
      case How.None:
      case How.Text:
        return 0;
      case How.Colour: {
        const { bytes, red, green, blue } = this.templates.get(i) as Template;
        buffer.set(bytes, at);
        if (red >= 0) {
          buffer[at + red] = (wire >> 14) & 0x7f;
          buffer[at + green] = (wire >> 7) & 0x7f;
          buffer[at + blue] = wire & 0x7f;
        }
        return bytes.length;
      }
      case How.Pair: {
        const lsbFirst = this.lowFirst[i] === 1;
        buffer[at] = buffer[at + 3] = this.status[i];
        buffer[at + 1] = lsbFirst ? this.lsb[i] : this.number[i];
        buffer[at + 2] = lsbFirst ? lsb7(wire) : msb7(wire);
        buffer[at + 4] = lsbFirst ? this.number[i] : this.lsb[i];
        buffer[at + 5] = lsbFirst ? msb7(wire) : lsb7(wire);
        return 6;
      }
      case How.Parameter: {
        const fine = this.bits[i] === 14;
        const length = fine ? 12 : 9;
        for (let n = at; n < at + length; n += 3) buffer[n] = this.status[i];
        buffer[at + 1] = this.number[i];
        buffer[at + 2] = msb7(this.detail[i]);
        buffer[at + 4] = this.number[i] - 1;
        buffer[at + 5] = lsb7(this.detail[i]);
        buffer[at + 7] = DATA_MSB;
        buffer[at + 8] = fine ? msb7(wire) : wire;
        if (fine) {
          buffer[at + 10] = DATA_LSB;
          buffer[at + 11] = lsb7(wire);
        }
        return length;
      }
      case How.UpDown: {
        const number = wire > 0 ? this.number[i] : this.lsb[i];
        const isNote = (this.status[i] & 0xf0) === NOTE_ON;
        let end = at;
        for (let tick = 0; tick < Math.abs(wire); tick++) {
          buffer.set([this.status[i], number, 127], end);
          end += 3;
          if (isNote) {
            buffer.set([this.status[i], number, 0], end);
            end += 3;
          }
        }
        return end - at;
      }
      case How.Program:
        // A program change has no release.
        if (wire === 0) return 0;
        buffer[at] = this.status[i];
        buffer[at + 1] = this.number[i];
        return 2;
      case How.Pressure:
        buffer[at] = this.status[i];
        buffer[at + 1] = wire;
        return 2;
      case How.Osc:
        return this.osc?.write(i, wire, buffer, at, beside) ?? 0;
      case How.Sysex:
        return this.writeTemplate(this.templates.get(i) as Template, wire, buffer, at);
      case How.Bend: {
        const bend = wire << (14 - this.detail[i]);
        buffer[at] = this.status[i];
        buffer[at + 1] = lsb7(bend);
        buffer[at + 2] = msb7(bend);
        return 3;
      }
      case How.StripMeter:
        buffer[at] = this.status[i];
        buffer[at + 1] = (this.detail[i] << 4) | wire;
        return 2;
      default:
        buffer[at] = this.status[i];
        buffer[at + 1] = this.number[i];
        buffer[at + 2] = wire;
        return 3;
    }
  }

  private writeTemplate(template: Template, wire: number, buffer: Uint8Array, at: number): number {
    const { bytes, value, high, low } = template;
    // A message without a place for a value can only say 'pressed'.
    if (value < 0 && high < 0 && wire === 0) return 0;
    buffer.set(bytes, at);
    if (value >= 0) buffer[at + value] = wire;
    if (high >= 0) buffer[at + high] = msb7(wire);
    if (low >= 0) buffer[at + low] = lsb7(wire);
    return bytes.length;
  }

  /** Characters that an entry's field has room for; 0 where its text ends with the message. */
  roomOf(i: number): number {
    return this.how[i] === How.Osc ? LONGEST_OSC_TEXT : (this.texts.get(i)?.room ?? 0);
  }

  /** Text cut and padded to an entry's field, 7-bit safe. */
  fit(i: number, text: string): string {
    const plain = plainText(text);
    if (this.how[i] === How.Osc) return plain.slice(0, LONGEST_OSC_TEXT);
    return this.texts.get(i)?.fit(plain) ?? plain;
  }

  /**
   * Writes text already {@link fit}ted; returns how many bytes it took.
   * @param before what the field shows: a time display is told only the characters that differ
   */
  writeText(i: number, fitted: string, buffer: Uint8Array, at: number, before = ''): number {
    if (this.how[i] === How.Osc) return this.osc?.write(i, fitted, buffer, at) ?? 0;
    return this.texts.get(i)?.write(fitted, buffer, at, before) ?? 0;
  }
}
