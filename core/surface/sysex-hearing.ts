import { join14 } from '@rondo/core/wire';
import { HALF, NO_MATCH } from './heard.js';
import type { PageTables } from './page-tables.js';
import type { WrittenTexts } from './written-texts.js';

const TOP_14 = 16_383;

/**
 * The target of a SysEx (F0 … F7) by the tables of one onboard page, {@link NO_MATCH}, or {@link HALF} where it is a text of
 * no field.
 * @param written takes what is written into displays
 * @param value takes the value in its first place, 0…1 or a colour of 21 bits; texts leave it as it is
 */
export function hearSysex(
  tables: PageTables,
  written: WrittenTexts,
  value: Float64Array,
  bytes: Uint8Array,
  from: number,
  to: number,
): number {
  written.begin();
  for (const board of tables.boards) {
    const { header } = board;
    if (to - from < header.length + 2) continue;
    if (!header.every((byte, i) => bytes[from + i] === byte)) continue;
    written.writeBoard(board, bytes, from, to);
    return written.count > 0 ? written.targets[0] : HALF;
  }
  for (const entry of tables.sysexes) {
    const { fixed, target, template } = entry;
    const length = to - from;
    if (template ? length !== fixed.length : length < fixed.length + 1) continue;
    let same = true;
    for (let i = 0; i < fixed.length && same; i++)
      same = fixed[i] < 0 || bytes[from + i] === fixed[i];
    if (!same) continue;
    if (!template) written.writeText(entry, bytes, from, to);
    else if (template.red >= 0)
      value[0] =
        (bytes[from + template.red] << 14) |
        (bytes[from + template.green] << 7) |
        bytes[from + template.blue];
    else if (template.value >= 0) value[0] = bytes[from + template.value] / 127;
    else if (template.high >= 0)
      value[0] = join14(bytes[from + template.low], bytes[from + template.high]) / TOP_14;
    else value[0] = 1;
    return target;
  }
  return NO_MATCH;
}
