import { Index, type Entry } from '@rondo/core/find';
import { choicesOf, valueOfChoice, type HostFunction, type HostModel } from '@rondo/core/host';
import { libraryNow } from '../../../state/library-now';
import {
  RONDO_COMMANDS,
  targetOf,
  usualBehaviour,
  type Action,
  type ControlRef,
  type FunctionAction,
  type Profile,
  type Scope,
} from '@rondo/core/profile';
import { setsAState } from '@rondo/core/round';
import { turns, type Control, type InputPart, type Surface } from '@rondo/core/surface';
import { actionName, bankName, modelOf } from '../names';

/** Which instances of functions are listed; any of them where nothing is chosen. */
export const SCOPES = ['any', 'window', 'selected', 'fixed', 'focus'] as const;
export type ScopeChoice = (typeof SCOPES)[number];

/** A set-up, as far as it can be gone over to. */
export interface NamedSetUp {
  readonly id: string;
  readonly name: string;
}

/** One thing that a control part can be bound to. */
export interface Choice extends Entry {
  readonly label: string;
  readonly category: string;
  /** Its host, where there are several; '' otherwise. */
  readonly host?: string;
  readonly action: Action;
  readonly scope: 'host' | ScopeChoice;
  /** It stands for its function while no other instance is asked for. */
  readonly usual: boolean;
  /** What it is bound to already, in words; empty where nothing is. */
  readonly boundTo: string;
  /** What it chooses among, where a press can set one of them. */
  readonly values?: readonly string[];
}

/** As many of the controls that something is bound to are named; of the rest it is said how many they are. */
const MOST_NAMED = 2;
/** Strips of the bank window where no surface has strips to count. */
const WINDOW = 8;

/** How wide the bank window is, and at which of its strips an extender begins: each unit goes on where the last ends. */
function unitsOf(profile: Profile): {
  readonly width: number;
  readonly first: Map<string, number>;
} {
  const first = new Map<string, number>();
  let width = 0;
  for (const id of profile.surfaceOrder) {
    const surface = libraryNow().surface(profile.surfaces[id].model);
    const strips = surface?.controls.reduce((most, { strip = -1 }) => Math.max(most, strip + 1), 0);
    const isSide = surface?.device.desk === 'extender';
    first.set(id, isSide ? width : 0);
    if (strips) width = isSide ? width + strips : Math.max(width, strips);
  }
  return { width: width || WINDOW, first };
}

/** The host of a function where there are several, so that two lines never read the same; '' otherwise. */
function hostLabel(profile: Profile, action: Action): string {
  const host = 'host' in action && typeof action.host === 'string' ? action.host : '';
  const tells = profile.hostOrder.length > 1 && Object.hasOwn(profile.hosts, host);
  return tells ? profile.hosts[host].label : '';
}

/** Strips that one window of the bank shows: the desk's, and those of what extends it. */
export const windowOf = (profile: Profile): number => unitsOf(profile).width;

/** A usual instance, where a function has it: what cannot go to it goes where the control suggests. */
function usualScope(model: HostModel, fn: HostFunction, usual: Scope | null): Scope | null {
  if (usual?.kind === 'fixed') return fn.messages[usual.strip] ? usual : null;
  return usual?.kind === 'selected' && fn.messages.length > model.strips.length ? usual : null;
}

/** Everything that a part of a control can be bound to, its own strip of the bank first. */
export function choicesFor(
  profile: Profile,
  surface: Surface,
  control: Control,
  part: InputPart,
  controlName: (ref: ControlRef) => string,
  setUps: readonly NamedSetUp[] = [],
  usualOf: (host: string) => Scope | null = () => null,
): Choice[] {
  const bound = new Map<string, string[]>();
  for (const key of profile.bindingOrder) {
    const { actions, control: by } = profile.bindings[key];
    for (const action of actions) {
      const target = targetOf(action);
      if (by) bound.set(target, [...(bound.get(target) ?? []), controlName(by)]);
    }
  }
  const boundTo = (action: Action): string => {
    const names = bound.get(targetOf(action)) ?? [];
    const more = names.length - MOST_NAMED;
    return more > 0
      ? `${names.slice(0, MOST_NAMED).join('; ')} and ${more} more`
      : names.join('; ');
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
    const label = actionName(profile, action);
    const host = hostLabel(profile, action);
    choices.push({
      ...(values ? { values } : {}),
      label,
      category,
      host,
      action,
      ...entryOf(label, action, [category, host], words),
      scope,
      usual,
      boundTo: boundTo(action),
    });
  };
  const { width, first } = unitsOf(profile);
  const side = profile.surfaceOrder.find((id) => profile.surfaces[id].model === surface.id);
  const own =
    control.strip === undefined ? undefined : control.strip + (first.get(side ?? '') ?? 0);
  const relative = turns(surface, control, part);
  for (const host of profile.hostOrder) {
    const model = modelOf(profile, host);
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
  addFocus(profile, add, part);
  addOwn(profile, add, part);
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

/** Every function whose state a host tells, to ask for it or to wait for it; or every one that can be set. */
export function stateChoices(profile: Profile, way: 'report' | 'set' = 'report'): Choice[] {
  const choices: Choice[] = [];
  const { width } = unitsOf(profile);
  for (const host of profile.hostOrder) {
    const model = modelOf(profile, host);
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
        const label = actionName(profile, action);
        choices.push({
          label,
          category: fn.category,
          action,
          ...entryOf(label, action, [fn.category, model.name], fn.words),
          scope: kind,
          usual,
          boundTo: '',
        });
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
export function enterChoices(profile: Profile): Choice[] {
  const choices = stateChoices(profile, 'set');
  const add: Add = (action, category, words, scope, usual) => {
    if (!setsAState(action)) return;
    const label = actionName(profile, action);
    choices.push({
      label,
      category,
      action,
      ...entryOf(label, action, [category], words),
      scope,
      usual,
      boundTo: '',
    });
  };
  addOwn(profile, add, 'push');
  return choices;
}

type Add = (
  action: Action,
  category: string,
  words: readonly string[],
  scope: Choice['scope'],
  usual: boolean,
) => void;

/** Parameters of the plug-in in focus, by their place on the page. */
function addFocus(profile: Profile, add: Add, part: InputPart): void {
  for (const host of profile.hostOrder) {
    const focus = modelOf(profile, host)?.focus;
    if (!focus) continue;
    if (part === 'push' || part === 'touch') {
      for (const by of [1, -1] as const)
        add(
          { do: 'focusPage', host, by, wrap: false },
          'Focus',
          ['plug-in', 'parameters', 'turn'],
          'focus',
          true,
        );
      continue;
    }
    for (let slot = 0; slot < WINDOW; slot++)
      add(
        {
          do: 'function',
          host,
          function: focus.function,
          scope: { kind: 'focus', slot },
          behaviour: 'follow',
        },
        'Focus',
        ['plug-in', 'slot', 'follows'],
        'focus',
        true,
      );
  }
}

/** What Rondo does itself: layers, flags, notes and messages. */
function addOwn(profile: Profile, add: Add, part: InputPart): void {
  const [base] = profile.layerOrder;
  const pressed = part === 'push' || part === 'touch';
  if (pressed) {
    const groups = new Set<string>();
    for (const id of profile.layerOrder) {
      const { group } = profile.layers[id];
      if (group !== undefined) groups.add(group);
      if (id === base) continue;
      for (const how of ['hold', 'toggle', 'on', 'off'] as const)
        add({ do: 'layer', layer: id, how }, 'Layers', ['layer', 'shift', 'page'], 'host', true);
    }
    for (const group of groups)
      for (const by of [1, -1] as const)
        add({ do: 'layerStep', group, by, wrap: true }, 'Layers', ['layer', 'cycle'], 'host', true);
    for (const id of profile.flagOrder)
      for (const how of ['toggle', 'hold', 'on', 'off'] as const)
        add({ do: 'flag', flag: id, how }, 'Flags', ['condition', 'switch'], 'host', true);
  }
  if (pressed)
    for (const command of RONDO_COMMANDS) add({ do: 'rondo', command }, 'Rondo', [], 'host', true);
  for (const host of profile.hostOrder) {
    if (pressed)
      add(
        { do: 'notes', to: { host }, channel: 1, notes: [60] },
        'Notes',
        ['note', 'chord', 'play', 'instrument'],
        'host',
        true,
      );
    add(
      { do: 'send', to: { host }, message: 'B0 66 value' },
      'Messages',
      ['any', 'midi', 'sysex', 'raw'],
      'host',
      true,
    );
    add(
      { do: 'send', to: { host }, message: 'F0 7D text F7', text: '{layer}' },
      'Messages',
      ['text', 'sysex', 'display', 'name'],
      'host',
      true,
    );
    add({ do: 'send', to: { host } }, 'Messages', ['raw', 'through', 'as it is'], 'host', true);
  }
}

/** What a choice is found by. */
function entryOf(
  label: string,
  action: Action,
  under: readonly string[],
  also: readonly string[],
): Entry {
  const scope = action.do === 'function' ? action.scope : null;
  // The way back is found by its own words, and never before what is called so.
  const own = label.replace(/, back$/, '');
  const parted = scope?.kind === 'window' || scope?.kind === 'selected' || scope?.kind === 'fixed';
  const comma = parted ? own.indexOf(', ') : -1;
  return {
    name: comma < 0 ? own : own.slice(0, comma),
    whose: comma < 0 ? '' : own.slice(comma + 2),
    alsoWhose:
      scope?.kind === 'fixed'
        ? `track ${scope.strip + 1} always`
        : scope?.kind === 'window'
          ? 'bank window'
          : '',
    also: also.join(' '),
    under: under.join(' '),
  };
}

/** What tells a choice from every other, for those used lately. */
export const choiceKey = (choice: Choice): string => JSON.stringify(choice.action);

const indices = new WeakMap<readonly Choice[], Index<Choice>>();

/** What is typed of a value, without what people leave out or write otherwise. */
const plainValue = (text: string): string =>
  text
    .toLowerCase()
    .replace(/[−–]/g, '-')
    .replace(/(^|\s)\+(?=\d)/g, '$1')
    .trim();

/**
 * Lines that set one value of what chooses among several: ‘key shift -9’, ‘loop length 8 beats’. What is typed is a function
 * and, behind it, how its value begins.
 */
function valuesFor(choices: readonly Choice[], typed: string, scope: ScopeChoice): Choice[] {
  const words = typed.trim().split(/\s+/);
  for (let head = words.length - 1; head > 0; head--) {
    const value = plainValue(words.slice(head).join(' '));
    const found = search(choices, words.slice(0, head).join(' '), scope).flatMap((choice) => {
      const { values = [], action } = choice;
      const names = values.map(plainValue);
      const same = names.findIndex((name) => name === value || name.split(' ')[0] === value);
      const at = same >= 0 ? same : names.findIndex((name) => name.startsWith(value));
      if (at < 0 || action.do !== 'function') return [];
      const { by: _by, wrap: _wrap, ...rest } = action;
      return [
        {
          ...choice,
          label: `${choice.label}: ${values[at]}`,
          boundTo: '',
          action: { ...rest, behaviour: 'set' as const, to: valueOfChoice(values.length, at) },
        },
      ];
    });
    if (found.length > 0) return found;
  }
  return [];
}

/** As {@link search}; where nothing has all the words, the last of them may be a value. */
export function searchWithValues(
  choices: readonly Choice[],
  typed: string,
  scope: ScopeChoice = 'any',
  recent: readonly string[] = [],
): Choice[] {
  const found = search(choices, typed, scope, recent);
  return found.length > 0 ? found : valuesFor(choices, typed, scope);
}

/**
 * Choices that have every word typed, best first: what is called exactly so, then what was used lately, then the rest. A
 * function stands in the list once, with the scope that the control suggests, until whose it is has been asked for or chosen.
 */
export function search(
  choices: readonly Choice[],
  typed: string,
  scope: ScopeChoice = 'any',
  recent: readonly string[] = [],
): Choice[] {
  let index = indices.get(choices);
  if (!index) indices.set(choices, (index = new Index(choices)));
  const scored: { choice: Choice; tier: number; cost: number; order: number }[] = [];
  index.fits(typed).forEach((fit, order) => {
    const choice = choices[order];
    if (!fit || (scope !== 'any' && choice.scope !== scope && choice.scope !== 'host')) return;
    // The other instances of a function only where their own name is asked for.
    const isNamed = fit.isNamed || (scope !== 'any' && choice.scope === scope);
    if (!choice.usual && !isNamed) return;
    const used = recent.length > 0 && fit.isSure ? recent.indexOf(choiceKey(choice)) : -1;
    const tier = fit.isExact ? 0 : used >= 0 ? 1 : 2;
    // A strip of the window is asked for by its own words.
    const aside = choice.usual ? 0 : choice.scope === 'window' ? 0.8 : 0.5;
    const cost = tier === 1 ? used : fit.cost + aside;
    scored.push({ choice, tier, cost, order });
  });
  scored.sort((a, b) => a.tier - b.tier || a.cost - b.cost || a.order - b.order);
  return scored.map(({ choice }) => choice);
}
