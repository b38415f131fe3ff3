import { edit, type Edited } from '@rondo/core/document';
import { blankSurface, type Control, type Surface } from './surface.js';

/** Controls that an unknown device may have as it is first touched, in rows as most panels have them. */
const ROWS = 5;
const IN_A_ROW = 8;
const APART = 28;
const SIZE = 18;
const WORD = 'Control';

/** A device that nobody has described: places for its controls, in the order in which they will be touched. */
export function unknownSurface(id: string, name: string): Surface {
  const controls = Array.from({ length: ROWS * IN_A_ROW }, (_, n): Control => ({
    id: `control-${n + 1}`,
    kind: 'knob',
    label: `${WORD} ${n + 1}`,
    x: 12 + (n % IN_A_ROW) * APART,
    y: 12 + Math.floor(n / IN_A_ROW) * APART,
    width: SIZE,
    height: SIZE,
    sends: {},
    takes: {},
  }));
  return { ...blankSurface(id, name), width: 240, height: 150, controls };
}

const isUntouched = ({ id, label, sends }: Control): boolean =>
  id.startsWith('control-') && label.startsWith(WORD) && Object.keys(sends).length === 0;

/** Takes out the places that nothing was taught for; the panel ends below what is left. */
export function dropUntouched(surface: Surface): Edited<Surface> {
  const left = surface.controls.filter((control) => !isUntouched(control));
  if (left.length === surface.controls.length) return { document: surface, edit: null };
  return edit(surface, 'Take out what was not touched', (draft) => {
    draft.controls = left as typeof draft.controls;
    const bottom = Math.max(40, ...left.map(({ y, height }) => y + height + 12));
    draft.height = Math.min(surface.height, bottom);
  });
}
