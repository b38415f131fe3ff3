import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import { run } from './link.mjs';

/* An example for Linux with an X server: it needs the general tool xdotool from your distribution. */

const does = promisify(execFile);
const NAMES = {
  Space: 'space',
  Enter: 'Return',
  Tab: 'Tab',
  Backspace: 'BackSpace',
  Delete: 'Delete',
  Insert: 'Insert',
  Escape: 'Escape',
  Home: 'Home',
  End: 'End',
  PageUp: 'Prior',
  PageDown: 'Next',
  ArrowUp: 'Up',
  ArrowDown: 'Down',
  ArrowLeft: 'Left',
  ArrowRight: 'Right',
  ControlLeft: 'Control_L',
  ControlRight: 'Control_R',
  ShiftLeft: 'Shift_L',
  ShiftRight: 'Shift_R',
  AltLeft: 'Alt_L',
  AltRight: 'Alt_R',
  MetaLeft: 'Super_L',
  MetaRight: 'Super_R',
  Comma: 'comma',
  Period: 'period',
  Minus: 'minus',
  Equal: 'equal',
  Slash: 'slash',
  Semicolon: 'semicolon',
};
const nameOf = (code) =>
  NAMES[code] ??
  code.replace(/^Key(.)$/, (_, letter) => letter.toLowerCase()).replace(/^Digit/, '');

run('Linux key adapter', {
  down: (code) => does('xdotool', ['keydown', nameOf(code)]),
  up: (code) => does('xdotool', ['keyup', nameOf(code)]),
  front: () =>
    does('xdotool', ['getactivewindow', 'getwindowname']).then(
      ({ stdout }) => stdout.trim(),
      () => null,
    ),
});
