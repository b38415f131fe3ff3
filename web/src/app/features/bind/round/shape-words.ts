import type { Action } from '@rondo/core/profile';
import type { SlotPlan } from '@rondo/core/round';

/** Where the function is, seen from the control. */
export function pickupText(gap: number, action: Action | null): string {
  if (gap === 0) return '';
  const inverted =
    action?.do === 'function' &&
    (action.shape?.invert ?? false) !== (action.shape?.low ?? 0) > (action.shape?.high ?? 1);
  const up = gap > 0 !== inverted;
  const far = Math.max(1, Math.round(Math.abs(gap) * 100));
  return `${up ? '▲ Further up' : '▼ Further down'} by ${far} % to meet the value.`;
}

/** How a value is shaped on its way to the function, in a sentence. */
export function shapeText(
  action: Action | null,
  law: { format(value: number): string } | null,
  slot: SlotPlan | null,
): string {
  if (action?.do === 'bank') return 'Each press moves the bank window.';
  if (action?.do === 'layer' && action.how === 'hold') return 'For as long as it is held.';
  if (action?.do !== 'function') return action ? 'At each press.' : 'Passed on as it is.';
  if (slot?.fn.id === action.function && slot.fn.kind === 'trigger')
    return 'Each press does it once.';
  if (slot?.taps && (action.behaviour === 'follow' || action.behaviour === 'momentary'))
    return 'The key is down for as long as this is.';
  if (action.behaviour === 'set' && law)
    return `Each press sets it to ${law.format(action.to ?? 1)}.`;
  if (action.behaviour === 'step') return 'Each press goes on by a step.';
  const { shape } = action;
  if (shape?.zones) return `${shape.zones.length} zones.`;
  const words = [
    shape?.curve && shape.curve.kind !== 'linear' ? CURVE_WORDS[shape.curve.kind] : '',
    (shape?.low ?? 0) !== 0 || (shape?.high ?? 1) !== 1
      ? `from ${law?.format(shape?.low ?? 0)} to ${law?.format(shape?.high ?? 1)}`
      : '',
    shape?.invert ? 'inverted' : '',
    shape?.steps ? `in ${shape.steps} steps` : '',
    shape?.deadMiddle ? 'with a centre dead zone' : '',
  ].filter(Boolean);
  if (words.length > 0) return `${words.join(', ').replace(/^./, (c) => c.toUpperCase())}.`;
  return 'Linear: the whole travel is the whole range.';
}

const CURVE_WORDS = {
  exponential: 'exponential',
  s: 'an S curve',
  drawn: 'a drawn curve',
} as const;
