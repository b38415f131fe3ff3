import type { MessageMap } from './message-map.js';
import type { Board, PageTables, SysexEntry } from './page-tables.js';
import { textOfCells } from './time-cells.js';

/** Places of a display that offsets of one byte reach. */
const BOARD_PLACES = 128;
const SPACE = 0x20;

/**
 * What stands in the displays that a wire writes into, by what the wire itself calls them, so that it outlives any
 * number of maps: long displays by their header, texts of their own by what they begin with, characters of time displays
 * by channel and controller.
 */
export class WrittenTexts {
  /** Fields that the last SysEx has changed, the first {@link count} of them. */
  targets = new Int32Array(0);
  count = 0;
  /** The last text was longer than its display, or began behind it. */
  spills = false;

  private readonly displays = new Map<string, Uint8Array>();
  private readonly texts = new Map<string, string>();
  private readonly cells = new Uint8Array(16 * 128).fill(SPACE);

  /** Makes room for as many fields as there are targets. */
  fit(targets: number): void {
    if (this.targets.length !== targets) this.targets = new Int32Array(targets);
  }

  /** Nothing has been written so far by the SysEx that is read now. */
  begin(): void {
    this.count = 0;
    this.spills = false;
  }

  /** The cable is another one now. */
  forget(): void {
    this.displays.clear();
    this.texts.clear();
    this.cells.fill(SPACE);
  }

  /** A character of a time display; channels from 0. */
  writeCell(channel: number, controller: number, code: number): void {
    this.cells[(channel << 7) | controller] = code;
  }

  /** Writes into a display from a place of it on; what is written may lie across its fields. */
  writeBoard(board: Board, bytes: Uint8Array, from: number, to: number): void {
    const { fields, header } = board;
    const memory = this.memoryOf(board);
    const offset = bytes[from + header.length];
    const start = from + header.length + 1;
    const end = offset + (to - 1 - start);
    const last = fields.reduce((most, field) => Math.max(most, field.offset + field.width), 0);
    this.spills = end > last;
    for (let at = start; at < to - 1 && offset + at - start < BOARD_PLACES; at++)
      memory[offset + at - start] = bytes[at];
    for (const { target, offset: first, width } of fields)
      if (first < end && first + width > offset) this.targets[this.count++] = target;
  }

  /** Keeps a text of its own: all behind the bytes that it begins with, up to F7. */
  writeText({ fixed, target }: SysexEntry, bytes: Uint8Array, from: number, to: number): void {
    let text = '';
    for (let i = from + fixed.length; i < to - 1; i++) text += String.fromCharCode(bytes[i]);
    this.texts.set(String(fixed), text);
    this.targets[this.count++] = target;
  }

  /** The text of a target as it stands now: a field of a display, a time display, or what came last; '' for none. */
  textAt(target: number, map: MessageMap, tables: PageTables): string {
    const row = map.cells.get(target);
    if (row) {
      const first = (row.channel << 7) | row.first;
      const codes = this.cells.slice(first, first + row.count).reverse();
      return textOfCells(String.fromCharCode(...codes));
    }
    for (const board of tables.boards)
      for (const field of board.fields) {
        if (field.target !== target) continue;
        const { offset, width } = field;
        return String.fromCharCode(...this.memoryOf(board).subarray(offset, offset + width));
      }
    const entry = tables.sysexes.find((other) => other.target === target);
    return (entry && this.texts.get(String(entry.fixed))) ?? '';
  }

  private memoryOf({ name }: Board): Uint8Array {
    let memory = this.displays.get(name);
    if (!memory) this.displays.set(name, (memory = new Uint8Array(BOARD_PLACES).fill(SPACE)));
    return memory;
  }
}
