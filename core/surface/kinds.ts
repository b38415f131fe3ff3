/** Kinds of control that a surface can have. */
export const CONTROL_KINDS = [
  'fader',
  'knob',
  'encoder',
  'button',
  'pad',
  'key',
  'pedal',
  'expression',
  'switch',
  'wheel',
  'touchStrip',
  'jog',
  'display',
  // Made for glass.
  'xyPad',
  'list',
  'label',
] as const;
export type ControlKind = (typeof CONTROL_KINDS)[number];

/** What a control kind is called by people. */
export const KIND_NAMES: Readonly<Record<ControlKind, string>> = {
  fader: 'fader',
  knob: 'knob',
  encoder: 'encoder',
  button: 'button',
  pad: 'pad',
  key: 'key',
  pedal: 'pedal',
  expression: 'expression pedal',
  switch: 'switch',
  wheel: 'wheel',
  touchStrip: 'touch strip',
  jog: 'jog wheel',
  display: 'display',
  xyPad: 'XY pad',
  list: 'list',
  label: 'label',
};
