import { edit, type Edited } from '@rondo/core/document';
import { USUAL_SIZES } from './layout.js';
import { blankSurface, type Control, type Surface } from './surface.js';

/** Controls that an unknown device may have as it is first touched, in rows as most panels have them. */
const ROWS = 5;
const IN_A_ROW = 8;
const APART = 28;
const EDGE = 12;
const SIZE = 18;
const WORD = 'Control';

/** A device that nobody has described: places for its controls, in the order in which they will be touched. */
export function unknownSurface(id: string, name: string): Surface {
  const controls = Array.from({ length: ROWS * IN_A_ROW }, (_, n): Control => ({
    id: `control-${n + 1}`,
    kind: 'knob',
    label: `${WORD} ${n + 1}`,
    x: EDGE + (n % IN_A_ROW) * APART,
    y: EDGE + Math.floor(n / IN_A_ROW) * APART,
    width: SIZE,
    height: SIZE,
    sends: {},
    takes: {},
  }));
  return { ...blankSurface(id, name), width: 240, height: 150, controls };
}

/** Whether a control is a place of an unknown device that nothing was taught for yet: nobody has said what it is. */
export const isPlace = ({ id, label, sends }: Control): boolean =>
  id.startsWith('control-') && label.startsWith(WORD) && Object.keys(sends).length === 0;

/** What a row of an unknown device may be said to be; the wire cannot tell a fader from a knob. */
export const ROW_KINDS = ['knob', 'fader', 'button', 'pad'] as const;
export type RowKind = (typeof ROW_KINDS)[number];

/** Between rows that were said to be such, in millimetres. */
const BETWEEN = 14;

/**
 * Begins a new row with a place of an unknown device: the places from there on, as they were laid out, stand below all
 * that comes before and are of a kind. Where it is the first of a row already, that row is of the kind.
 * @param from id of the place; nothing changes where it is none
 */
export function newRow(surface: Surface, from: string, kind: RowKind): Edited<Surface> {
  const first = surface.controls.findIndex((control) => control.id === from && isPlace(control));
  if (first < 0) return { document: surface, edit: null };
  const moved = new Set(surface.controls.slice(first).filter(isPlace));
  const stays = surface.controls.filter((control) => !moved.has(control));
  const top = stays.length === 0 ? EDGE : bottomOf(stays) + BETWEEN;
  const [width, height] = kind === 'knob' ? [SIZE, SIZE] : USUAL_SIZES[kind];
  const ids = new Map([...moved].map(({ id }, n) => [id, n]));
  return edit(surface, `A new row of ${kind}s`, (draft) => {
    for (const control of draft.controls) {
      const n = ids.get(control.id);
      if (n === undefined) continue;
      control.kind = kind;
      control.width = width;
      control.height = height;
      // Whatever stands in a column has its middle in one line, so that strips are seen.
      control.x = EDGE + (n % IN_A_ROW) * APART + (SIZE - width) / 2;
      control.y = top + Math.floor(n / IN_A_ROW) * (height + BETWEEN);
    }
    draft.height = bottomOf(draft.controls as Control[]) + EDGE;
  });
}

const bottomOf = (controls: readonly Control[]): number =>
  Math.max(...controls.map(({ y, height }) => y + height));

/** Takes out the places that nothing was taught for; the panel ends beside and below what is left. */
export function dropUntouched(surface: Surface): Edited<Surface> {
  const left = surface.controls.filter((control) => !isPlace(control));
  if (left.length === surface.controls.length) return { document: surface, edit: null };
  return edit(surface, 'Take out what was not touched', (draft) => {
    draft.controls = left as typeof draft.controls;
    const end = (ends: number[]) => Math.max(40, ...ends.map((one) => one + EDGE));
    draft.height = Math.min(surface.height, end(left.map(({ y, height }) => y + height)));
    draft.width = Math.min(surface.width, end(left.map(({ x, width }) => x + width)));
  });
}
