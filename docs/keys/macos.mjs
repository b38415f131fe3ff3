import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import { run } from './link.mjs';

/* An example for macOS, by its own osascript; allow the terminal that runs it to control the computer in the system settings. */

const does = promisify(execFile);
const script = (text) => does('osascript', ['-e', `tell application "System Events" to ${text}`]);
const MODIFIERS = { Control: 'control', Shift: 'shift', Alt: 'option', Meta: 'command' };
/** Virtual key codes of the system, by W3C code. */
const CODES = {
  KeyA: 0,
  KeyS: 1,
  KeyD: 2,
  KeyF: 3,
  KeyH: 4,
  KeyG: 5,
  KeyZ: 6,
  KeyX: 7,
  KeyC: 8,
  KeyV: 9,
  KeyB: 11,
  KeyQ: 12,
  KeyW: 13,
  KeyE: 14,
  KeyR: 15,
  KeyY: 16,
  KeyT: 17,
  Digit1: 18,
  Digit2: 19,
  Digit3: 20,
  Digit4: 21,
  Digit6: 22,
  Digit5: 23,
  Equal: 24,
  Digit9: 25,
  Digit7: 26,
  Minus: 27,
  Digit8: 28,
  Digit0: 29,
  KeyO: 31,
  KeyU: 32,
  KeyI: 34,
  KeyP: 35,
  Enter: 36,
  KeyL: 37,
  KeyJ: 38,
  KeyK: 40,
  Comma: 43,
  Slash: 44,
  KeyN: 45,
  KeyM: 46,
  Period: 47,
  Tab: 48,
  Space: 49,
  Backspace: 51,
  Escape: 53,
  Home: 115,
  PageUp: 116,
  Delete: 117,
  End: 119,
  PageDown: 121,
  ArrowLeft: 123,
  ArrowRight: 124,
  ArrowDown: 125,
  ArrowUp: 126,
};

function key(code, way) {
  const modifier = MODIFIERS[code.replace(/(Left|Right)$/, '')];
  if (modifier) return script(`key ${way} ${modifier}`);
  const number = CODES[code];
  if (number === undefined) throw new Error(`${code} has no number here yet: add it to CODES.`);
  // The system presses and lets go of other keys in one.
  return way === 'down' ? script(`key code ${number}`) : Promise.resolve();
}

run('macOS key adapter', {
  down: (code) => key(code, 'down'),
  up: (code) => key(code, 'up'),
  front: () =>
    script('get name of first process whose frontmost is true').then(
      ({ stdout }) => stdout.trim(),
      () => null,
    ),
});
