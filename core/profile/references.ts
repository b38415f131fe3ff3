import type { Draft } from 'immer';
import type { Action, Condition } from './action.js';
import { dropBindings } from './edit.js';
import type { Profile } from './profile.js';
import { dropRoutes } from './routes.js';

/** Entries of a profile that other entries name, each under the key of this word. */
export const NAMED = ['surface', 'host', 'flag', 'layer'] as const;
export type Named = (typeof NAMED)[number];

/** Where something names an entry of the profile. */
export interface Reference {
  readonly kind: Named;
  readonly id: string;
  /** From the value that was walked. */
  readonly path: readonly string[];
}

const kindOf = (key: string, value: unknown): Named | undefined =>
  typeof value === 'string' ? NAMED.find((name) => name === key) : undefined;

/** Every reference in a profile, or in a part of one. */
export function referencesIn(value: unknown): Reference[] {
  const found: Reference[] = [];
  const walk = (one: unknown, path: readonly string[]): void => {
    if (typeof one !== 'object' || one === null) return;
    for (const [key, inner] of Object.entries(one)) {
      const here = [...path, key];
      const kind = kindOf(key, inner);
      if (kind) found.push({ kind, id: inner as string, path: here });
      // The one list that is kept by what it is of.
      else if (key === 'focusOrders')
        for (const id of Object.keys(inner as object))
          found.push({ kind: 'host', id, path: [...here, id] });
      else walk(inner, here);
    }
  };
  walk(value, []);
  return found;
}

/** Says what a name means elsewhere; undefined where it means nothing there. */
export type Rename = (kind: Named, id: string) => string | undefined;

/** A part of a profile under other names; undefined where it names something that means nothing there. */
export function renamed<T>(value: T, rename: Rename): T | undefined {
  if (Array.isArray(value)) {
    const list = value.map((one: unknown) => renamed(one, rename));
    return list.includes(undefined) ? undefined : (list as T);
  }
  if (typeof value !== 'object' || value === null) return value;
  const found: [string, unknown][] = [];
  for (const [key, one] of Object.entries(value)) {
    if (one === undefined) continue;
    const kind = kindOf(key, one);
    const next = kind ? rename(kind, one as string) : renamed<unknown>(one, rename);
    if (next === undefined) return undefined;
    found.push([key, next]);
  }
  return Object.fromEntries(found) as T;
}

/** What of what names something that is gone goes with it. */
export interface Drops {
  /** Actions that do something to it, and bindings that have no other. */
  readonly actions: boolean;
  /** Conditions that ask it: without them a binding does more than before. */
  readonly conditions: boolean;
}

/** Says that an entry is gone. */
type IsGone = (kind: Named, id: string) => boolean;

const names = (value: unknown, isGone: IsGone): boolean =>
  referencesIn(value).some(({ kind, id }) => isGone(kind, id));

/** Whether an action itself names it; what it asks first is another matter. */
const doesTo = ({ when: _when, ...action }: Action, isGone: IsGone): boolean =>
  names(action, isGone);

type WithConditions = Draft<{ when?: Condition[] | undefined }>;
type WithUsual = Draft<{ usual?: { host: string }[] | undefined }>;

/** Takes what is gone out of a list; in one assignment, so that an undo puts back no more than was taken. */
function filterIn<K extends string, T>(
  owner: Partial<Record<K, T[] | undefined>>,
  key: K,
  stays: (one: T) => boolean,
): void {
  const list = owner[key];
  if (list && !list.every(stays)) owner[key] = list.filter(stays);
}

/**
 * Takes out of a profile whatever cannot be without what is gone: bindings on it or of it, lights that show it or stand
 * on it, routes to and from it, usual places, what stands in for it; of the rest as {@link Drops} says.
 * @param isOf the bindings that it is about; all where it is left out, and then all other places too
 */
export function dropReferences(
  draft: Draft<Profile>,
  isGone: IsGone,
  { actions, conditions }: Drops,
  isOf?: (binding: string) => boolean,
): void {
  const dropConditions = (owner: WithConditions): void => {
    if (conditions) filterIn(owner, 'when', (one) => !names(one, isGone));
  };
  const empty = new Set<string>();
  for (const key of draft.bindingOrder) {
    if (isOf && !isOf(key)) continue;
    const binding = draft.bindings[key];
    dropConditions(binding);
    for (const action of binding.actions) dropConditions(action as WithConditions);
    if (!actions) continue;
    const stay = binding.actions.filter((action) => !doesTo(action as Action, isGone));
    if (stay.length === 0) empty.add(key);
    else if (stay.length < binding.actions.length) binding.actions = stay;
  }
  dropBindings(draft, ({ id, layer, control, cause }) => {
    if (isOf && !isOf(id)) return false;
    return empty.has(id) || names({ layer, control, cause }, isGone);
  });
  if (isOf) return;
  for (const key of [...draft.showingOrder]) {
    const showing = draft.showings[key];
    const { layer, shows } = showing;
    const on = showing.on.filter((one) => !names(one, isGone));
    if (names({ layer, shows }, isGone) || on.length === 0) {
      Reflect.deleteProperty(draft.showings, key);
      draft.showingOrder.splice(draft.showingOrder.indexOf(key), 1);
      continue;
    }
    if (on.length < showing.on.length) showing.on = on;
    dropConditions(showing);
  }
  for (const layer of Object.values(draft.layers)) {
    if (layer.page && names(layer.page, isGone)) delete layer.page;
    if (actions)
      for (const event of ['enter', 'leave'] as const)
        filterIn(layer, event, (action) => !doesTo(action as Action, isGone));
  }
  for (const surface of Object.values(draft.surfaces))
    if (surface.standsIn && names(surface.standsIn, isGone)) delete surface.standsIn;
  for (const owner of [...Object.values(draft.surfaces), ...Object.values(draft.layers)])
    filterIn(owner as WithUsual, 'usual', (one) => !names(one, isGone));
  dropRoutes(draft, ({ from, to }) => names([from, to], isGone));
  for (const host of Object.keys(draft.focusOrders ?? {}))
    if (isGone('host', host)) Reflect.deleteProperty(draft.focusOrders as object, host);
}
