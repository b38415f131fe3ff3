import type { Action, ControlRef } from '@rondo/core/profile';
import { LookBook, Shows, type OutPlan, type PlainPlan, type Station } from '@rondo/core/round';
import {
  MAX_VALUE_BYTES,
  Sender,
  heldField,
  placeText,
  topOf,
  type InputPart,
  type Level,
  type Pattern,
  type ReturnLevels,
} from '@rondo/core/surface';
import { toHex } from '@rondo/core/wire';
import { OutField, type Frame } from '../../../engine/frame';
import { oscText } from './osc-words';

/** Outputs that answer a part, the likeliest first. */
const ANSWERS: Readonly<Record<InputPart, readonly Shows[]>> = {
  value: [Shows.Motor, Shows.Ring],
  push: [Shows.Light, Shows.Ring],
  touch: [Shows.Motor],
  pressure: [Shows.Light],
};

/** The output that answers a part: a motor or ring for a value, a light for a press; −1 where there is none. */
export function answerOf(plan: PlainPlan, selected: ControlRef): number {
  for (const shows of ANSWERS[selected.part]) {
    const found = plan.outs.findIndex(
      (out) =>
        out.shows === shows &&
        out.control.id === selected.control &&
        plan.links[out.link].id === selected.surface,
    );
    if (found >= 0) return found;
  }
  return -1;
}

const UNKNOWN: Pattern = { type: 'controller', channel: 1, number: 0 };

/** What an output shows, in words. */
export function outputText(out: OutPlan, frame: Frame, index: number): string {
  const wire = frame.out(index, OutField.Wire);
  if (wire < 0) return 'Nothing sent yet';
  switch (out.shows) {
    case Shows.Motor:
      return `Motor at ${motorText(out.control.takes.motor ?? UNKNOWN, wire)}`;
    case Shows.Light:
      return wire > 0 ? 'Light on' : 'Light off';
    case Shows.Ring:
      return (wire & 0x0f) === 0 ? 'Ring dark' : `Ring at ${wire & 0x0f} of 11`;
    default:
      return '';
  }
}

const motorText = (pattern: Pattern, wire: number): string =>
  placeText(pattern, wire / topOf(pattern));

/** What was sent to an output last: its bytes, or its OSC message. */
export function outputHex(out: OutPlan, frame: Frame, index: number): string {
  const wire = frame.out(index, OutField.Wire);
  if (wire < 0) return '';
  const [pattern] = out.patterns;
  if (pattern?.type === 'osc') return oscText(pattern, wire / topOf(pattern));
  const bytes = new Uint8Array(MAX_VALUE_BYTES);
  return toHex(bytes, 0, new Sender([pattern]).write(0, wire, bytes, 0));
}

const RULES: Readonly<Record<Shows, string>> = {
  [Shows.Motor]: 'The motor goes where the host has it, unless it is touched.',
  [Shows.Light]: 'The light is on while the function is on.',
  [Shows.Ring]: 'The ring shows the value.',
  [Shows.Text]: 'The display shows the value.',
  [Shows.Meter]: 'The meter shows the level.',
};
const LIGHT_RULES = {
  state: RULES[Shows.Light],
  told: 'The light is as the program tells its lamp.',
  bands: 'The light has a look for each band of the value.',
  gradient: 'The light goes smoothly with the value.',
} as const;
const LEVEL_WORDS: Readonly<Record<Level, string>> = {
  usual: 'as usual',
  surface: 'the surface says so',
  profile: 'the whole profile says so',
  layer: 'its layer says so',
  binding: 'this binding says so',
};

/** What is shown of a function, in a sentence. */
export function ruleText({ shows }: OutPlan, levels: ReturnLevels): string {
  const inverted = heldField('invert', levels).value ? ' The other way round.' : '';
  if (shows === Shows.Light) return LIGHT_RULES[heldField('by', levels).value] + inverted;
  return RULES[shows] + (shows === Shows.Ring ? inverted : '');
}

const books = new WeakMap<PlainPlan, LookBook>();

/** What each level says of what comes back of a binding. */
export function levelsOf(plan: PlainPlan, out: OutPlan, binding: number): ReturnLevels {
  let book = books.get(plan);
  if (!book) books.set(plan, (book = new LookBook(plan)));
  return book.levelsOf(out, binding, -1);
}

/** A station of the round after which nothing comes back, and why. */
export interface Silent {
  readonly station: Station;
  readonly why: string;
}

/** Why nothing can come back to a control, and from which station on. */
export function silence(
  frame: Frame,
  out: OutPlan | null,
  action: Action | null,
  untold: boolean,
  levels: ReturnLevels,
): Silent | null {
  // A control that can show nothing is no fault.
  if (!action || !out) return null;
  if (!frame.isOpen(out.link, 'output'))
    return {
      station: 'output',
      why: 'The output to the surface is missing. Choose it under Ports.',
    };
  const feedback = heldField('feedback', levels);
  const motor = heldField('motor', levels);
  if (!feedback.value)
    return { station: 'rule', why: `Nothing is to come back: ${LEVEL_WORDS[feedback.from]}.` };
  if (out.shows === Shows.Motor && !motor.value)
    return { station: 'rule', why: `The motor is left alone: ${LEVEL_WORDS[motor.from]}.` };
  if (untold) return { station: 'state', why: 'The host has not told this value yet.' };
  return null;
}
