import type { FeelField, FeelKind, Takeover } from '@rondo/core/surface';

export const TAKEOVER_WORDS: Readonly<Record<Takeover, string>> = {
  jump: 'Jump to the control',
  pickup: 'Pick up when they meet',
  scale: 'Scale towards each other',
  rest: 'Start from rest',
};

/** How a setting reads: its name, its unit, how many of these make 1, and its limits as they are kept. */
export const FEEL_WORDS: Readonly<
  Record<
    FeelField,
    { label: string; unit: string; factor: number; limits: readonly [low: number, high: number] }
  >
> = {
  takeover: { label: 'Takeover', unit: '', factor: 1, limits: [0, 0] },
  tolerance: { label: 'Meets within', unit: '% of the range', factor: 100, limits: [0, 0.25] },
  step: { label: 'Step per tick', unit: '% of the range', factor: 100, limits: [0.0001, 1] },
  acceleration: { label: 'Fast turns go further', unit: 'times', factor: 1, limits: [1, 20] },
  longPress: { label: 'Long from', unit: 'ms', factor: 1, limits: [150, 5_000] },
  doubleTap: { label: 'Double within', unit: 'ms', factor: 1, limits: [100, 1_000] },
  motorWait: { label: 'Motor waits after the hand', unit: 'ms', factor: 1, limits: [0, 5_000] },
  motorRate: {
    label: 'Motor is told at most',
    unit: 'times a second',
    factor: 1,
    limits: [1, 1_000],
  },
};

/** Settings that a kind of control has: what is pressed, what turns, what stands somewhere. */
export function feelFieldsOf(kind: FeelKind): readonly FeelField[] {
  switch (kind) {
    case 'button':
    case 'pad':
    case 'key':
    case 'pedal':
      return ['longPress', 'doubleTap'];
    case 'encoder':
    case 'jog':
      return ['step', 'acceleration'];
    case 'display':
    case 'label':
      return [];
    case 'motorFader':
      return ['takeover', 'tolerance', 'motorWait', 'motorRate'];
    default:
      return ['takeover', 'tolerance'];
  }
}
