import { CONTROL_CHANGE, SYSEX, SYSEX_END } from '@rondo/core/wire';
import type { Pattern } from './pattern.js';
import { MOST_CELLS, cellsOf } from './time-cells.js';

/** A field of a display: what fits it, and the message that writes it. */
export interface TextOut {
  /** Characters that it has room for; 0 where its text ends with the message. */
  readonly room: number;
  /** Text, 7-bit safe already, cut and padded to it. */
  fit(text: string): string;
  /**
   * Writes text that fits at `buffer[at…]`; returns how many bytes it took.
   * @param before what it shows now
   */
  write(fitted: string, buffer: Uint8Array, at: number, before: string): number;
}

/** A text that goes as a SysEx: header, perhaps a place, and a character a byte. */
export function sysexText({
  header,
  offset,
  width = 0,
  gap,
}: Extract<Pattern, { type: 'text' }>): TextOut {
  const begins = Uint8Array.from([SYSEX, ...header, ...(offset === undefined ? [] : [offset])]);
  const room = Math.max(0, width - gap);
  return {
    room,
    fit: (text) => (width === 0 ? text : text.slice(0, room).trimEnd().padEnd(width)),
    write: (fitted, buffer, at) => {
      buffer.set(begins, at);
      let end = at + begins.length;
      for (let c = 0; c < fitted.length; c++) buffer[end++] = fitted.charCodeAt(c) & 0x7f;
      buffer[end++] = SYSEX_END;
      return end - at;
    },
  };
}

/** A time display, with its digits at the right: a controller a cell, and only those cells that differ. */
export function digitsText({
  channel,
  number,
  count,
}: Extract<Pattern, { type: 'digits' }>): TextOut {
  return {
    room: MOST_CELLS,
    fit: (text) => cellsOf(text, count),
    write: (cells, buffer, at, before) => {
      let end = at;
      for (let cell = cells.length - 1; cell >= 0; cell--) {
        if (cells[cell] === before[cell]) continue;
        buffer[end++] = CONTROL_CHANGE | (channel - 1);
        buffer[end++] = number + cells.length - 1 - cell;
        buffer[end++] = cells.charCodeAt(cell);
      }
      return end - at;
    },
  };
}
