import type { HostFunction } from '@rondo/core/host';
import type { Action, ControlRef, FunctionAction, Profile } from '@rondo/core/profile';
import { turns, type Control, type InputPart, type Surface } from '@rondo/core/surface';
import { actionName, bankName, modelOf, stripName } from './names';

/** One thing that a control part can be bound to. */
export interface Choice {
  readonly label: string;
  readonly category: string;
  readonly action: Action;
  /** All that it is found by, in small letters. */
  readonly words: string;
  /** What it is bound to already, in words; empty where nothing is. */
  readonly boundTo: string;
}

const WINDOW = 8;
const BANK_MOVES = [-8, 8, -1, 1];
const PAN_STEP = 1 / 50;

/** How a function is driven by a part of that kind, unless the user says otherwise. Null where it cannot be. */
export function usualBehaviour(
  fn: HostFunction,
  relative: boolean,
  part: InputPart,
): Pick<FunctionAction, 'behaviour' | 'to' | 'step'> | null {
  if (fn.kind === 'text' || fn.kind === 'meter') return null;
  if (part === 'push' || part === 'touch') {
    if (fn.kind === 'nudge') return null;
    if (fn.kind === 'continuous') return { behaviour: 'set', to: fn.rest };
    const oneWay = fn.kind === 'trigger' || ['select', 'play', 'stop'].includes(fn.id);
    return oneWay ? { behaviour: 'set', to: 1 } : { behaviour: 'toggle' };
  }
  if (fn.kind === 'nudge') return relative ? { behaviour: 'follow' } : null;
  if (fn.kind !== 'continuous') return null;
  return relative ? { behaviour: 'follow', step: PAN_STEP } : { behaviour: 'follow' };
}

const sameTarget = (a: Action, b: Action): boolean =>
  a.do === 'function' && b.do === 'function'
    ? a.host === b.host &&
      a.function === b.function &&
      JSON.stringify(a.scope) === JSON.stringify(b.scope)
    : a.do === 'bank' && b.do === 'bank' && a.by === b.by;

/** Everything that a part of a control can be bound to, its own strip of the bank first. */
export function choicesFor(
  profile: Profile,
  surface: Surface,
  control: Control,
  part: InputPart,
  controlName: (ref: ControlRef) => string,
): Choice[] {
  const bound = profile.bindingOrder.map((key) => profile.bindings[key]);
  const boundTo = (action: Action): string =>
    bound
      .filter((binding) => binding.actions.some((other) => sameTarget(other, action)))
      .map((binding) => controlName(binding.control))
      .join(', ');
  const choices: Choice[] = [];
  const add = (action: Action, category: string, words: readonly string[]) => {
    const label = actionName(profile, action);
    choices.push({
      label,
      category,
      action,
      words: [label, category, ...words].join(' ').toLowerCase(),
      boundTo: boundTo(action),
    });
  };
  const own = control.strip;
  const relative = turns(surface, control, part);
  for (const host of profile.hostOrder) {
    const model = modelOf(profile, host);
    if (!model) continue;
    for (const fn of model.functions) {
      const behaviour = usualBehaviour(fn, relative, part);
      if (!behaviour) continue;
      const action = (scope: FunctionAction['scope']): Action => ({
        do: 'function',
        host,
        function: fn.id,
        scope,
        ...behaviour,
      });
      const words = [...fn.words, model.name];
      if (fn.per === 'host') {
        add(action({ kind: 'host' }), fn.category, words);
        continue;
      }
      const offsets = Array.from({ length: WINDOW }, (_, offset) => offset);
      if (own !== undefined) offsets.sort((a, b) => Number(b === own) - Number(a === own));
      for (const offset of offsets) add(action({ kind: 'window', offset }), fn.category, words);
      fn.messages.forEach((messages, strip) => {
        if (messages)
          add(action({ kind: 'fixed', strip }), fn.category, [
            ...words,
            stripName(model, strip),
            'always',
          ]);
      });
    }
  }
  if (part === 'push' || part === 'touch')
    for (const by of BANK_MOVES)
      add({ do: 'bank', by }, 'Bank', [bankName(by), 'window', 'next', 'previous']);
  return choices;
}

/** Choices that have every word typed, those whose label starts with them first. */
export function search(choices: readonly Choice[], typed: string): Choice[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return [...choices];
  const scored = choices.flatMap((choice, order) => {
    let score = 0;
    for (const word of words) {
      const at = choice.words.indexOf(word);
      if (at < 0) return [];
      const startsWord = at === 0 || choice.words[at - 1] === ' ';
      score += (at === 0 ? 0 : startsWord ? 1 : 3) + (at < choice.label.length ? 0 : 2);
    }
    return [{ choice, score, order }];
  });
  scored.sort((a, b) => a.score - b.score || a.order - b.order);
  return scored.map(({ choice }) => choice);
}
