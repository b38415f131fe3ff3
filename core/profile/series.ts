import { dequal } from 'dequal';
import { edit, type Edited } from '@rondo/core/document';
import type { HostFunction, HostModel } from '@rondo/core/host';
import { inputsOf, type Control, type InputPart, type Surface } from '@rondo/core/surface';
import type { Action, Condition, FunctionAction } from './action.js';
import { putCopies } from './edit.js';
import type { Binding, ControlRef, Profile } from './profile.js';

/** What counts on from one control of a series to the next. */
export const ALONG = ['strip', 'number', 'value', 'row', 'message', 'note', 'nothing'] as const;
export type Along = (typeof ALONG)[number];

export interface SeriesSpec {
  /** Binding that is repeated. */
  readonly binding: string;
  /** How many controls in all, the first one included. */
  readonly count: number;
  /** Every so many controls; 2 for every second. */
  readonly controlStep: number;
  /** The controls themselves, in order, in place of a count of those that are alike; the first one is not among them. */
  readonly controls?: readonly string[];
  readonly along: Along;
  /** By how much each control's function goes on. */
  readonly by: number;
}

/** One binding of a series before it is made. */
export interface SeriesEntry {
  readonly control: ControlRef;
  readonly label: string;
  /** Null where the functions have come to their end. */
  readonly actions: readonly Action[] | null;
  /** Under what conditions; counted on as the actions are. */
  readonly when?: readonly Condition[];
  /** It has something else bound to it already. */
  readonly taken: boolean;
}

/** The name of a control without its number: `pad` of `pad-12`. */
const stemOf = (control: Control): string => control.id.replace(/\d+(?!.*\d)/, '#');

/** Controls like this one, in reading order: those of its run of numbers, else all of its kind. */
export function controlsLike(surface: Surface, control: Control, part: InputPart): Control[] {
  const alike = surface.controls.filter(
    (other) => other.kind === control.kind && inputsOf(surface, other).includes(part),
  );
  const run = alike.filter((other) => stemOf(other) === stemOf(control));
  return inReadingOrder(run.length > 1 ? run : alike);
}

/** Row by row as they stand, each from the left; from below where their numbers go up that way. */
function inReadingOrder(controls: readonly Control[]): Control[] {
  const middle = ({ y, height }: Control) => y + height / 2;
  const rows: Control[][] = [];
  for (const one of [...controls].sort((a, b) => middle(a) - middle(b))) {
    const [last] = rows.at(-1) ?? [];
    if (last && middle(one) - middle(last) < last.height / 2) rows.at(-1)!.push(one);
    else rows.push([one]);
  }
  const lowest = (row: readonly Control[]) =>
    Math.min(...row.map(({ id }) => numberIn(id)?.n ?? NaN));
  if (rows.length > 1 && lowest(rows[0]) > lowest(rows.at(-1)!)) rows.reverse();
  return rows.flatMap((row) => row.sort((a, b) => a.x - b.x));
}

const numberIn = (id: string): { stem: string; n: number; end: string } | null => {
  const found = /^(.*?)(\d+)(\D*)$/.exec(id);
  return found ? { stem: found[1], n: Number(found[2]), end: found[3] } : null;
};

/** Functions of one name and different numbers, in the order of these; numbers may be left out between. */
function familyOf(model: HostModel | undefined, id: string): string[] {
  const like = numberIn(id);
  if (!model || !like) return [];
  return model.functions
    .flatMap((fn) => {
      const found = numberIn(fn.id);
      return found?.stem === like.stem && found.end === like.end ? [{ id: fn.id, n: found.n }] : [];
    })
    .sort((a, b) => a.n - b.n)
    .map((one) => one.id);
}

/** Rows of a chart of one kind, in its order; none where a host has no chart. */
const rowsOf = (model: HostModel | undefined, fn: HostFunction | undefined): string[] =>
  model && fn && model.strips.length === 0
    ? model.functions.filter(({ kind }) => kind === fn.kind).map(({ id }) => id)
    : [];

/** The function some steps on in a list; null where it ends. */
function stepped(list: readonly string[], id: string, by: number): string | null {
  const at = list.indexOf(id) + by;
  return at >= 0 && at < list.length ? list[at] : null;
}

/**
 * A channel message as it is typed, its note, controller or program counted on (MIDI 1.0: the first data byte). Null where
 * it is another message, or where its numbers end.
 */
function countedMessage(text: string, by: number): string | null {
  const found = /^(\s*[89abc][0-9a-f]\s+)([0-7][0-9a-f])(\s.*)?$/is.exec(text);
  const n = found ? parseInt(found[2], 16) + by : -1;
  return found && n >= 0 && n <= 127
    ? `${found[1]}${n.toString(16).padStart(2, '0').toUpperCase()}${found[3] ?? ''}`
    : null;
}

const functionOf = (model: HostModel | undefined, id: string): HostFunction | undefined =>
  model?.functions.find((fn) => fn.id === id);

/** What of an action can count on, the likeliest first. */
export function alongsOf(action: Action, model: HostModel | undefined): Along[] {
  if (action.do === 'notes') return ['note', 'nothing'];
  if (action.do === 'send' && countedMessage(action.message ?? '', 0) !== null)
    return ['message', 'nothing'];
  if (action.do !== 'function') return ['nothing'];
  const fn = functionOf(model, action.function);
  const found: Along[] = [];
  const numbered = familyOf(model, action.function).length > 1;
  const setsChoice = action.behaviour === 'set' && fn?.choices !== undefined;
  if (setsChoice) found.push('value');
  if (numbered) found.push('number');
  if (rowsOf(model, fn).length > 1) found.push('row');
  const { kind } = action.scope;
  if (kind === 'fixed' || kind === 'window' || kind === 'focus') found.push('strip');
  if (action.behaviour === 'set' && fn?.kind === 'continuous') found.push('value');
  return [...found, 'nothing'];
}

/** An action counted on by some steps; null where its functions end. */
export function counted(
  action: Action,
  along: Along,
  by: number,
  model: HostModel | undefined,
): Action | null {
  if (along === 'nothing' || by === 0) return action;
  if (action.do === 'notes') {
    const notes = action.notes.map((note) => note + by);
    return notes.every((note) => note >= 0 && note <= 127) ? { ...action, notes } : null;
  }
  if (action.do === 'send') {
    const message = countedMessage(action.message ?? '', by);
    return message === null ? null : { ...action, message };
  }
  if (action.do !== 'function') return action;
  const fn = functionOf(model, action.function);
  const { scope } = action;
  switch (along) {
    case 'strip':
      if (scope.kind === 'fixed') {
        const strip = scope.strip + by;
        const there = strip >= 0 && strip < (model?.strips.length ?? 0);
        const has = there && fn?.messages[strip] !== null;
        return has ? { ...action, scope: { ...scope, strip } } : null;
      }
      if (scope.kind === 'window') {
        const offset = scope.offset + by;
        return offset >= 0 && offset < Math.min(64, model?.strips.length ?? 0)
          ? { ...action, scope: { ...scope, offset } }
          : null;
      }
      if (scope.kind === 'focus') {
        const slot = scope.slot + by;
        return slot >= 0 && slot < 64 ? { ...action, scope: { ...scope, slot } } : null;
      }
      return action;
    case 'number':
    case 'row': {
      const list = along === 'row' ? rowsOf(model, fn) : familyOf(model, action.function);
      const id = stepped(list, action.function, by);
      return id === null ? null : { ...action, function: id };
    }
    default: {
      const last = fn?.choices ? fn.choices.length - 1 : 100;
      const at = Math.round((action.to ?? 1) * last) + by;
      return at >= 0 && at <= last ? { ...action, to: at / last } : null;
    }
  }
}

type FunctionCondition = Pick<FunctionAction, 'host' | 'function' | 'scope'>;

/** A condition on a function of a host, counted on like an action on it; another stays as it is. */
function countedCondition(
  condition: Condition,
  along: Along,
  by: number,
  modelOf: (host: string) => HostModel | undefined,
): Condition {
  if ('flag' in condition || 'layer' in condition) return condition;
  const { host, function: fn, scope } = condition as FunctionCondition;
  const like: FunctionAction = { do: 'function', behaviour: 'follow', host, function: fn, scope };
  const model = modelOf(host);
  const next = alongsOf(like, model).includes(along) ? counted(like, along, by, model) : like;
  return next?.do === 'function'
    ? { ...condition, function: next.function, scope: next.scope }
    : condition;
}

/** What a series would bind, control by control; the first is the binding that is repeated. */
export function seriesOf(
  profile: Profile,
  surface: Surface,
  spec: SeriesSpec,
  modelOf: (host: string) => HostModel | undefined,
): SeriesEntry[] {
  const binding = Object.hasOwn(profile.bindings, spec.binding)
    ? profile.bindings[spec.binding]
    : undefined;
  const ref = binding?.control;
  const control = ref && surface.controls.find(({ id }) => id === ref.control);
  if (!binding || !ref || !control) return [];
  const taken = takenOf(profile, binding);
  const entries: SeriesEntry[] = [];
  /** Conditions on functions go on as what is done does, as far as there are any. */
  const conditions = (when: readonly Condition[] | undefined, by: number) =>
    when ? { when: when.map((one) => countedCondition(one, spec.along, by, modelOf)) } : {};
  for (const [n, next] of controlsOf(surface, control, ref.part, spec).entries()) {
    const all = binding.actions.map((action) =>
      counted(
        action,
        alongsOf(action, hostOf(action, modelOf)).includes(spec.along) ? spec.along : 'nothing',
        n * spec.by,
        hostOf(action, modelOf),
      ),
    );
    const actions = all.every((action) => action !== null)
      ? all.map((action) => ({ ...action, ...conditions(action.when, n * spec.by) }))
      : null;
    const at = { ...ref, control: next.id };
    entries.push({
      control: at,
      label: next.label,
      actions,
      ...conditions(binding.when, n * spec.by),
      taken: n > 0 && !!actions && !!taken.get(next.id)?.some((bound) => !dequal(bound, actions)),
    });
  }
  return entries;
}

/** The controls of a series, the first one included. */
function controlsOf(
  surface: Surface,
  control: Control,
  part: InputPart,
  { controls, count, controlStep }: SeriesSpec,
): Control[] {
  if (controls)
    return [control].concat(
      controls.flatMap(
        (id) =>
          surface.controls.find((one) => one.id === id && inputsOf(surface, one).includes(part)) ??
          [],
      ),
    );
  const run = controlsLike(surface, control, part);
  const first = run.indexOf(control);
  // Counted backwards a series ends at the first control, and does not go on at the last.
  return Array.from({ length: count }, (_, n) => first + n * controlStep)
    .filter((place) => place >= 0 && place < run.length)
    .map((place) => run[place]);
}

const hostOf = (action: Action, modelOf: (host: string) => HostModel | undefined) =>
  action.do === 'function' ? modelOf(action.host) : undefined;

/** What is bound on the same place of controls of the same surface, by control. */
function takenOf(profile: Profile, like: Binding): ReadonlyMap<string, (readonly Action[])[]> {
  const taken = new Map<string, (readonly Action[])[]>();
  for (const key of profile.bindingOrder) {
    const { control, layer, gesture = 'press', actions } = profile.bindings[key];
    if (!control || control.surface !== like.control?.surface) continue;
    if (control.part !== like.control.part || layer !== like.layer) continue;
    if (gesture !== (like.gesture ?? 'press')) continue;
    taken.set(control.control, [...(taken.get(control.control) ?? []), actions]);
  }
  return taken;
}

/** Binds a series; what stood there goes. Controls without a function are left as they are. */
export function applySeries(
  profile: Profile,
  name: string,
  binding: string,
  entries: readonly SeriesEntry[],
): Edited<Profile> {
  const { id: _id, ...like } = profile.bindings[binding];
  const copies = entries.flatMap(({ control, actions, when }) =>
    actions && control.control !== like.control?.control
      ? [{ ...like, control, ...(when ? { when: [...when] } : {}), actions: [...actions] }]
      : [],
  );
  return edit(profile, name, (draft) => putCopies(draft, copies));
}
