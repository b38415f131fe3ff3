import type { Action, FunctionAction } from '@rondo/core/profile';
import { setsAState } from '@rondo/core/round';
import type { Names } from '../names';
import { unitsOf } from './bank-window';
import { choiceOf, type Choice } from './choice';
import { addOwn, type Add } from './own-choices';

/** Every function whose state a host tells, to ask for it or to wait for it; or every one that can be set. */
export function stateChoices(names: Names, way: 'report' | 'set' = 'report'): Choice[] {
  const choices: Choice[] = [];
  const { width } = unitsOf(names);
  for (const host of names.profile.hostOrder) {
    const model = names.model(host);
    if (!model) continue;
    const strips = model.strips.length;
    for (const fn of model.functions) {
      if (fn.kind === 'text' || !fn.messages.some((messages) => messages?.[way])) continue;
      const add = (scope: FunctionAction['scope'], kind: Choice['scope'], usual: boolean) => {
        const action: Action = {
          do: 'function',
          host,
          function: fn.id,
          scope,
          behaviour: 'set',
          to: 1,
        };
        const words = [...fn.words, model.name];
        choices.push(choiceOf(names, action, fn.category, words, kind, usual));
      };
      if (fn.per === 'host') {
        add({ kind: 'host' }, 'host', true);
        continue;
      }
      const hasSelected = fn.messages.length > strips;
      if (hasSelected) add({ kind: 'selected' }, 'selected', true);
      for (let offset = 0; offset < Math.min(width, strips); offset++)
        add({ kind: 'window', offset }, 'window', false);
      fn.messages.slice(0, strips).forEach((messages, strip) => {
        if (messages) add({ kind: 'fixed', strip }, 'fixed', !hasSelected && strip === 0);
      });
    }
  }
  return choices;
}

/** All that entering or leaving a layer can do: what sets a state and turns none over. */
export function enterChoices(names: Names): Choice[] {
  const choices = stateChoices(names, 'set');
  const add: Add = (action, category, words, scope, usual) => {
    if (setsAState(action)) choices.push(choiceOf(names, action, category, words, scope, usual));
  };
  addOwn(names.profile, add, 'push');
  return choices;
}
