import { mainPart, type ControlKind } from '@rondo/core/surface';
import type { Finding } from './infer.js';
import { MOVED, PRESSED } from './settle.js';
import type { Step } from './steps.js';

const LOOKS: Readonly<Partial<Record<ControlKind, string>>> = {
  expression: 'pedal that is moved',
  touchStrip: 'touch strip',
};

/** What a kind of control is called. */
export const nameOf = (kind: ControlKind): string => LOOKS[kind] ?? kind;

/** What a finding looks like where the control is drawn as another sort of thing; '' where it may be that. */
export function crosses({ control, part, isOpen }: Step, { kind, behaviour }: Finding): string {
  if (isOpen || part !== mainPart(control.kind)) return '';
  const isMoved = ['fader', 'knob', 'wheel', 'encoder'].includes(kind) || behaviour === 'positions';
  const isPressed = ['button', 'pad', 'key'].includes(kind);
  if (PRESSED.has(control.kind) && isMoved)
    return kind === 'switch' ? 'switch with positions' : 'control that moves';
  if (
    (MOVED.has(control.kind) || control.kind === 'encoder' || control.kind === 'jog') &&
    isPressed
  )
    return 'control that is pressed';
  return '';
}
