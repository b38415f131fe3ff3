import { choicesOf, type HostFunction, type HostModel } from '@rondo/core/host';
import {
  MOST_LAYERS,
  targetOf,
  usualBehaviour,
  type Action,
  type ControlRef,
  type FunctionAction,
  type Scope,
} from '@rondo/core/profile';
import { turns, type Control, type InputPart, type Surface } from '@rondo/core/surface';
import { bankName, type Names } from '../names';
import { unitsOf } from './bank-window';
import { choiceOf, type Choice } from './choice';
import { addFocus, addOwn, newLayerChoice } from './own-choices';

/** A set-up, as far as it can be gone over to. */
export interface NamedSetUp {
  readonly id: string;
  readonly name: string;
}

/** As many of the controls that something is bound to are named; of the rest it is said how many they are. */
const MOST_NAMED = 2;

/** A usual instance, where a function has it: what cannot go to it goes where the control suggests. */
function usualScope(model: HostModel, fn: HostFunction, usual: Scope | null): Scope | null {
  if (usual?.kind === 'fixed') return fn.messages[usual.strip] ? usual : null;
  return usual?.kind === 'selected' && fn.messages.length > model.strips.length ? usual : null;
}

/** Everything that a part of a control can be bound to, its own strip of the bank first. */
export function choicesFor(
  names: Names,
  surface: Surface,
  control: Control,
  part: InputPart,
  controlName: (ref: ControlRef) => string,
  setUps: readonly NamedSetUp[] = [],
  usualOf: (host: string) => Scope | null = () => null,
): Choice[] {
  const { profile } = names;
  const bound = new Map<string, string[]>();
  for (const key of profile.bindingOrder) {
    const { actions, control: by } = profile.bindings[key];
    for (const action of actions) {
      const target = targetOf(action);
      if (by) bound.set(target, [...(bound.get(target) ?? []), controlName(by)]);
    }
  }
  const boundTo = (action: Action): string => {
    const by = bound.get(targetOf(action)) ?? [];
    const more = by.length - MOST_NAMED;
    return more > 0 ? `${by.slice(0, MOST_NAMED).join('; ')} and ${more} more` : by.join('; ');
  };
  const choices: Choice[] = [];
  const add = (
    action: Action,
    category: string,
    words: readonly string[],
    scope: Choice['scope'],
    usual: boolean,
    values?: readonly string[],
  ) => {
    choices.push({
      ...(values ? { values } : {}),
      ...choiceOf(names, action, category, words, scope, usual),
      boundTo: boundTo(action),
    });
  };
  const { width, first } = unitsOf(names);
  const side = profile.surfaceOrder.find((id) => profile.surfaces[id].model === surface.id);
  const own =
    control.strip === undefined ? undefined : control.strip + (first.get(side ?? '') ?? 0);
  const relative = turns(surface, control, part);
  for (const host of profile.hostOrder) {
    const model = names.model(host);
    if (!model) continue;
    const strips = model.strips.length;
    for (const fn of model.functions) {
      const behaviour = usualBehaviour(fn, part, relative);
      // What the host only tells, nobody can drive.
      if (!behaviour || !fn.messages.some((messages) => messages?.set)) continue;
      const action = (scope: FunctionAction['scope']): Action => ({
        do: 'function',
        host,
        function: fn.id,
        scope,
        ...behaviour,
      });
      const words = [...fn.words, model.name];
      const values = behaviour.behaviour === 'follow' ? undefined : choicesOf(fn);
      // What goes on by a press goes back by another.
      const backTo = (scope: FunctionAction['scope'], kind: Choice['scope']) => {
        const back = action(scope);
        if (back.do === 'function' && back.behaviour === 'step')
          add({ ...back, by: -1 }, fn.category, [...words, 'previous', 'back'], kind, true);
      };
      if (fn.per === 'host') {
        add(action({ kind: 'host' }), fn.category, words, 'host', true, values);
        backTo({ kind: 'host' }, 'host');
        continue;
      }
      const hasSelected = fn.messages.length > strips;
      const usual = usualScope(model, fn, usualOf(host));
      const inWindow = !usual && own !== undefined && own < strips;
      for (let offset = 0; offset < Math.min(width, strips); offset++)
        add(
          action({ kind: 'window', offset }),
          fn.category,
          words,
          'window',
          inWindow ? offset === own : !usual && !hasSelected && offset === 0,
          values,
        );
      if (hasSelected) {
        const stands = usual ? usual.kind === 'selected' : !inWindow;
        add(action({ kind: 'selected' }), fn.category, words, 'selected', stands, values);
        if (stands) backTo({ kind: 'selected' }, 'selected');
      }
      fn.messages.slice(0, strips).forEach((messages, strip) => {
        const stands = usual?.kind === 'fixed' && usual.strip === strip;
        if (messages)
          add(action({ kind: 'fixed', strip }), fn.category, words, 'fixed', stands, values);
      });
    }
  }
  addFocus(names, add, part);
  addOwn(profile, add, part);
  if ((part === 'push' || part === 'touch') && profile.layerOrder.length < MOST_LAYERS)
    for (const how of ['hold', 'toggle'] as const) choices.push(newLayerChoice(profile, how));
  // Whoever presses goes over to another set-up; what is moved would do so at every message.
  if (part === 'push')
    for (const { id, name } of setUps)
      add(
        { do: 'setUp', setUp: id, name },
        'Set-ups',
        ['occasion', 'scene', 'switch', 'preset'],
        'host',
        true,
      );
  if (part === 'push' || part === 'touch' || relative)
    for (const by of [-width, width, -1, 1])
      add({ do: 'bank', by }, 'Bank', [bankName(by), 'window', 'next', 'previous'], 'host', true);
  // What the host itself calls so goes by its own order: the one that goes by the order that is set stands for both.
  const lineOf = ({ label, host }: Choice) => `${label} ${host ?? ''}`;
  const inFocus = new Set(choices.filter(({ scope }) => scope === 'focus').map(lineOf));
  return choices.filter((choice) => choice.scope !== 'host' || !inFocus.has(lineOf(choice)));
}
