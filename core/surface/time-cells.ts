/** Characters and dots that a time display may be given before they are put into its cells. */
export const MOST_CELLS = 40;
const DOT = 0x40;

/** The code of a character in a time display: 40–5F hex → 00–1F, 20–3F as it is; small letters as capitals. */
function cellOf(character: string): number {
  const code = character.toUpperCase().charCodeAt(0);
  return code >= 0x40 && code < 0x60 ? code - 0x40 : code >= 0x20 && code < 0x40 ? code : 0x20;
}

/** Text as the codes of so many cells, a character each, the last one at the right; a dot or colon goes with the cell before it. */
export function cellsOf(text: string, count: number): string {
  const cells: number[] = [];
  for (const character of text) {
    const dots = character === '.' || character === ':' || character === ',';
    const last = cells.length - 1;
    if (dots && last >= 0 && (cells[last] & DOT) === 0) cells[last] |= DOT;
    else cells.push(dots ? cellOf(' ') | DOT : cellOf(character));
  }
  const shown = cells.slice(-count);
  while (shown.length < count) shown.unshift(cellOf(' '));
  return String.fromCharCode(...shown);
}

/** The text of such cells. */
export function textOfCells(cells: string): string {
  let text = '';
  for (const cell of cells) {
    const code = cell.charCodeAt(0) & 0x3f;
    text += String.fromCharCode(code < 0x20 ? code + 0x40 : code);
    if ((cell.charCodeAt(0) & DOT) !== 0) text += '.';
  }
  return text;
}
