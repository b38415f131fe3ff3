import type { LinkDecoder } from '@rondo/core/surface';
import type { Echoes } from '../cables/echoes.js';
import { GestureAt } from '../plan/part-plan.js';
import { Pace } from '../forward/pace.js';
import type { LinkInput } from '../forward/link-input.js';
import type { Outbox } from '../return/outbox.js';
import {
  bytes,
  list,
  makeAll,
  reals,
  smalls,
  things,
  wholes,
  type Made,
  type Sizes,
} from './columns.js';

/** Long before anything, µs. */
export const LONG_AGO = -1e12;
/** No binding has been taken hold of. */
export const NO_GRIP = -9;
/** Nothing was sent to an output. */
export const NOTHING_SHOWN = -2;
/** Channels × notes. */
export const KEYS = 16 * 128;

/**
 * All that the engine remembers, by what it belongs to. Whatever is not here, and is no choice of the owner, follows from
 * the plan and from this. An edit of the profile carries it over by key, all in the same way.
 */
export const STATE = {
  // Links: what is open, what the wire has half said, what is still to go out.
  inOpen: bytes('link'),
  inputs: things<LinkInput | null>('link', () => null),
  decoders: things<LinkDecoder | null>('link', () => null),
  outboxes: things<Outbox | null>('link', () => null),
  echoes: things<Echoes | null>('link', () => null),
  deaf: bytes('link'),
  /** Which input a link hears, by number: links of the same one get the same messages. −1 where it is alone on its. */
  heardOn: wholes('link', { fill: -1 }),
  /** How many actions hold each note. */
  noteHolds: bytes('link', { width: KEYS }),
  motorAt: reals('link', { fill: LONG_AGO }),
  motorTest: bytes('link'),
  motorTestAt: reals('link'),
  lastPart: wholes('link', { fill: -1, refers: 'part' }),
  /** When one more output is shown again, and how many are to follow at once. */
  refreshAt: reals('link', { fill: Infinity }),
  unpainted: wholes('link'),
  refreshed: wholes('link', { refers: 'out', gone: 0 }),

  // Parts: hands and gestures.
  hand: reals('part', { fill: -1 }),
  down: bytes('part'),
  bankAt: wholes('part'),
  movedAt: reals('part'),
  grip: wholes('part', { fill: NO_GRIP, refers: 'binding', gone: NO_GRIP }),
  disposition: bytes('part'),
  phase: bytes('part'),
  gestureDue: reals('part', { fill: Infinity }),
  pressedAt: reals('part'),
  settled: wholes('part', { fill: -1, width: GestureAt.Count, refers: 'binding' }),
  running: wholes('part', { fill: -1, refers: 'binding' }),
  timedParts: list('part'),
  /** What a press was: its value, its message, and its bytes where it is a SysEx. */
  pressValue: reals('part'),
  pressPacked: wholes('part'),
  pressSysex: things<Uint8Array | null>('part', () => null),
  /** The function that an action of a press meant when its key went down; −1 for none. */
  pressSlot: wholes('action', { fill: -1, refers: 'slot' }),
  fingerAt: wholes('part', { fill: -1, refers: 'slot' }),
  pressCount: bytes('part'),
  pressFrom: reals('part', { fill: LONG_AGO }),

  // Outputs: what is shown.
  shown: wholes('out', { fill: NOTHING_SHOWN }),
  shownText: things('out', () => ''),
  shownAt: reals('out', { fill: LONG_AGO }),
  textPick: bytes('out'),
  tried: wholes('out', { fill: -1 }),
  dueAt: reals('out'),
  isWaiting: bytes('out'),
  waitingOuts: list('out'),
  motion: bytes('out'),
  isMoving: bytes('out'),
  movingOuts: list('out'),
  /** The function whose highest place and overload these are. */
  meterSlot: wholes('out', { fill: -1, refers: 'slot' }),
  meterPeak: wholes('out', { fill: -1 }),
  meterPeakAt: reals('out'),
  overload: bytes('out'),
  topAt: reals('out', { fill: LONG_AGO }),

  // Slots: what hosts are believed to have.
  value: reals('slot'),
  know: bytes('slot'),
  text: things('slot', () => ''),
  extra: smalls('slot', { fill: -1 }),
  /** What was sent last: as it was wanted, as a whole number on the wire, and when. */
  sentValue: reals('slot'),
  sentWire: wholes('slot'),
  sentAt: reals('slot', { fill: LONG_AGO }),
  /** What is believed came about by what Rondo sent. */
  isOurs: bytes('slot'),
  /** What the host itself told last; NaN for nothing. */
  toldBefore: reals('slot', { fill: NaN }),
  /** The smallest difference between two values that the host has told one after the other. */
  finest: reals('slot', { fill: Infinity }),
  /** What the host has it at, as a whole number on the wire: as it was told, or as it tells. */
  standsWire: wholes('slot'),
  heard: reals('slot', { fill: -1 }),
  isDoubted: bytes('slot'),
  doubtedSlots: list('slot'),
  supposed: reals('slot', { fill: NaN }),
  slotHolds: bytes('slot'),
  fingerUntil: reals('slot', { fill: -1 }),
  timedFingers: list('slot'),
  keyPressedAt: reals('slot', { fill: LONG_AGO }),
  lampTurnedAt: reals('slot', { fill: LONG_AGO }),
  lampTurns: bytes('slot'),
  slotChain: wholes('slot'),
  slotChainAt: reals('slot'),
  slotChainValue: reals('slot'),

  // Bindings and actions.
  rowSlot: wholes('binding', { fill: -1, refers: 'slot' }),
  rowPeak: reals('binding', { fill: -1 }),
  rowPeakAt: reals('binding'),
  /** Slot that an action holds down, or one of {@link Held}. */
  actionHolds: wholes('action', { fill: -1, refers: 'slot' }),
  met: wholes('action', { fill: -1, refers: 'slot' }),
  sent: reals('action'),
  causeWas: reals('cause', { fill: -1 }),
  /** The value at which a cause ran last. */
  causeRan: reals('cause', { fill: -1 }),
  causeChain: wholes('cause'),
  causeSlot: wholes('cause', { fill: -1, refers: 'slot' }),

  // Routes: notes that sound, 1 + the key at which they do by the key that came; what has gone along, and its clock.
  routeNotes: wholes('route', { width: KEYS }),
  routePassed: reals('route'),
  routePace: reals('route', { width: Pace.Width }),

  // Layers and focus.
  latched: bytes('layer'),
  layerHolds: bytes('layer'),
  paged: bytes('layer'),
  active: bytes('layer'),
  focusPage: bytes('focusItem'),

  // The whole.
  beatSource: wholes('one', { fill: -1, refers: 'link' }),
  lastLamp: wholes('one', { fill: -1, refers: 'slot' }),
  /** Presses in a row at which a lamp turned over and back. */
  lampRow: wholes('one'),
  /** Chains of causes so far, chains that were cut, and the binding that would have come round. */
  chains: wholes('one'),
  chainsCut: wholes('one'),
  lastCut: wholes('one', { fill: -1, refers: 'binding' }),
  askedLink: wholes('one', { fill: -1, refers: 'link' }),
  watchedLink: wholes('one', { fill: -1, refers: 'link' }),
};
export type State = Made<typeof STATE>;

/** State as it is before anything has happened. */
export const freshState = (sizes: Sizes): State => makeAll(STATE, sizes) as State;
