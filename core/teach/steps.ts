import {
  isPlace,
  mainPart,
  type Control,
  type ControlKind,
  type InputPart,
  type Surface,
} from '@rondo/core/surface';

/** One part of one control, to be taught. */
export interface Step {
  readonly control: Control;
  readonly part: InputPart;
  /** Nobody has said yet what it is: its movement tells. */
  readonly isOpen?: boolean;
}

const HOW: Readonly<Record<ControlKind, string>> = {
  fader: 'Move it from end to end and back.',
  knob: 'Turn it from end to end and back.',
  encoder: 'Turn it clockwise first, then back.',
  button: 'Press it shortly, twice.',
  pad: 'Strike it twice and press on.',
  key: 'Strike it softly, then hard.',
  pedal: 'Step on it shortly, twice.',
  expression: 'Move it from heel to toe and back.',
  switch: 'Go through all its positions and back.',
  wheel: 'Move it and let go, twice.',
  touchStrip: 'Slide a finger from end to end.',
  jog: 'Turn it clockwise first, then back.',
  display: '',
  xyPad: 'Slide a finger from the bottom to the top.',
  list: 'Go through all its lines and back.',
  label: '',
};

const PART_HOW: Partial<Record<InputPart, string>> = {
  push: 'Press it shortly, twice, without turning.',
  touch: 'Touch it without moving it, twice.',
  pressure: 'Hold it down and press on.',
};

/** The same steps, as the surface describes now what nothing was taught for yet. */
export const stepsNow = (steps: readonly Step[], { controls }: Surface): Step[] =>
  steps.map((step) => {
    const control = controls.find(({ id }) => id === step.control.id);
    if (!control || !isPlace(control)) return step;
    return { ...step, control, part: mainPart(control.kind) ?? step.part };
  });

/** What a step asks the hand to do. */
export function askFor({ control, part }: Step): string {
  return part === mainPart(control.kind) ? HOW[control.kind] : (PART_HOW[part] ?? '');
}

/** Controls whose middles lie this close, in millimetres, stand in one row. */
const ROW = 12;

/** The steps of a whole pass over a surface, row by row as the eye reads. */
export function stepsOf({ controls }: Surface): Step[] {
  const middle = (control: Control) => control.y + control.height / 2;
  const rows: Control[][] = [];
  for (const control of [...controls].sort((a, b) => middle(a) - middle(b))) {
    const row = rows.at(-1);
    if (row && middle(control) - middle(row[0]) < ROW) row.push(control);
    else rows.push([control]);
  }
  return rows
    .flatMap((row) => row.sort((a, b) => a.x - b.x))
    .filter((control) => !control.silent)
    .flatMap((control): Step[] => {
      const main = mainPart(control.kind);
      if (!main) return [];
      const push =
        main === 'value' && control.sends.push ? [{ control, part: 'push' as const }] : [];
      return [{ control, part: main, ...(isPlace(control) ? { isOpen: true } : {}) }, ...push];
    });
}
