import type { Shortcut } from '../../shared/ui/shortcuts';
import type { Panel } from './workbench';

/** What the keys of the screen do. */
export interface BindDoes {
  find(): void;
  /** Opens a panel, or closes it where it is open. */
  toggle(panel: Panel): void;
  holdOff(): void;
  lock(): void;
  point(): void;
  goAcross(): void;
  sheet(): void;
  unbind(): void;
  escape(): void;
  /** The drawing is there, and not the sheet. */
  isDrawn(): boolean;
  /** Nothing else is open: what is in hand is what is looked at. */
  isBare(): boolean;
}

/** The keys of the screen, as the list of keys shows them. */
export const bindKeys = (does: BindDoes): readonly Shortcut[] => [
  {
    keys: ['/', 'Shift+/'],
    shown: '/',
    does: 'Find a function for the control in hand, or first the function and then its control',
    run: does.find,
  },
  {
    keys: ['v'],
    shown: 'V',
    does: 'Versions: name what is saved now, look at what was, bring it back',
    run: () => does.toggle('versions'),
  },
  {
    keys: ['u'],
    shown: 'U',
    does: 'Set-ups: ports, layers, flags and bank for an occasion',
    run: () => does.toggle('setUps'),
  },
  {
    keys: ['h'],
    shown: 'H',
    does: 'Hold off: touches select and show, nothing reaches the host',
    run: does.holdOff,
  },
  {
    keys: ['l'],
    shown: 'L',
    does: 'Lock the selection',
    run: does.lock,
  },
  {
    keys: ['p'],
    shown: 'P',
    does: 'Point at a function in the host, then touch a control',
    run: does.point,
  },
  {
    keys: ['r'],
    shown: 'R',
    does: 'To the round with the keyboard, and from there back to the drawing',
    when: does.isDrawn,
    run: does.goAcross,
  },
  {
    keys: ['s'],
    shown: 'S',
    does: 'The sheet: all bindings as lines',
    run: does.sheet,
  },
  {
    keys: ['Delete', 'Backspace'],
    shown: 'Delete',
    does: 'Unbind the gesture in hand',
    when: does.isBare,
    run: does.unbind,
  },
  { keys: ['Escape'], shown: 'Esc', does: 'Close what is open', run: does.escape },
  {
    keys: [],
    shown: 'Tab',
    does: 'To the drawing, the host’s picture, and what is beside them',
  },
  {
    keys: [],
    shown: 'Arrows',
    does: 'Go between the controls of a drawing, and of a host’s picture',
  },
  {
    keys: [],
    shown: 'Enter',
    does: 'Take hold of a control: then arrows move it, Shift for one step, and Esc lets go',
  },
  { keys: [], shown: 'Space', does: 'Press the key that has focus' },
  {
    keys: [],
    shown: 'Alt + click',
    does: 'Hold a control while another is moved; a click on it, or Esc, lets go',
  },
];
