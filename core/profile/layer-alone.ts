import type { Draft } from 'immer';
import { edit, type Edited } from '@rondo/core/document';
import { addBinding } from './edit.js';
import { putShowing } from './showings.js';
import { freshId, freshLabel, nextLayerId } from './fresh.js';
import { MOST_LAYERS, type Profile } from './profile.js';
import { referencesIn, renamed, type Named, type Rename } from './references.js';

/** What names of a document mean in another one, by what is named. */
type Names = Readonly<Record<Named, ReadonlyMap<string, string>>>;
const by =
  (names: Names): Rename =>
  (kind, id) =>
    names[kind].get(id);

/** With actions that name something that is not there left out; undefined where none is left, or all hangs on it. */
function renamedBinding<T extends { readonly actions: readonly unknown[] }>(
  binding: T,
  names: Rename,
): T | undefined {
  const { actions, ...rest } = binding;
  const kept = actions.flatMap((action) => renamed(action, names) ?? []);
  const whole = renamed(rest, names);
  return whole && kept.length > 0 ? ({ ...whole, actions: kept } as unknown as T) : undefined;
}

const same = (ids: readonly string[]): ReadonlyMap<string, string> =>
  new Map(ids.map((id) => [id, id]));

const only = <T>(entries: Readonly<Record<string, T>>, ids: readonly string[]): Record<string, T> =>
  Object.fromEntries(ids.map((id) => [id, entries[id]]));

/**
 * One layer by itself, as a profile that has nothing else: to be read into another profile. What it does to other layers
 * is left out, since they do not come along.
 */
export function layerAlone(profile: Profile, id: string): Profile {
  const [lowest] = profile.layerOrder;
  const names = by({
    surface: same(profile.surfaceOrder),
    host: same(profile.hostOrder),
    flag: same(profile.flagOrder),
    layer: same([id]),
  });
  const { enter = [], leave = [], ...layer } = profile.layers[id];
  const whole = {
    ...layer,
    ...(enter.length > 0 ? { enter: enter.filter((one) => renamed(one, names)) } : {}),
    ...(leave.length > 0 ? { leave: leave.filter((one) => renamed(one, names)) } : {}),
  };
  const bindings = profile.bindingOrder
    .map((key) => profile.bindings[key])
    .filter((binding) => binding.layer === id)
    .flatMap((binding) => renamedBinding(binding, names) ?? []);
  const showings = profile.showingOrder
    .map((key) => profile.showings[key])
    .filter((showing) => showing.layer === id && renamed(showing, names));
  const content = [whole, bindings, showings];
  const used = (kind: 'surface' | 'host' | 'flag', order: readonly string[]): string[] => {
    const named = new Set(
      referencesIn(content).flatMap((one) => (one.kind === kind ? [one.id] : [])),
    );
    return order.filter((one) => named.has(one));
  };
  const surfaceOrder = used('surface', profile.surfaceOrder);
  const hostOrder = used('host', profile.hostOrder);
  const flagOrder = used('flag', profile.flagOrder);
  return {
    format: profile.format,
    version: profile.version,
    id: profile.id,
    name: layer.label,
    surfaces: Object.fromEntries(
      surfaceOrder.map((key) => {
        const { model, label } = profile.surfaces[key];
        return [key, { id: key, model, label }];
      }),
    ),
    surfaceOrder,
    hosts: only(profile.hosts, hostOrder),
    hostOrder,
    layers:
      id === lowest ? { [id]: whole } : { [lowest]: { id: lowest, label: 'Base' }, [id]: whole },
    layerOrder: id === lowest ? [id] : [lowest, id],
    flags: only(profile.flags, flagOrder),
    flagOrder,
    routes: {},
    routeOrder: [],
    bindings: Object.fromEntries(bindings.map((binding) => [binding.id, binding])),
    bindingOrder: bindings.map((binding) => binding.id),
    showings: Object.fromEntries(showings.map((showing) => [showing.id, showing])),
    showingOrder: showings.map((showing) => showing.id),
  };
}

/** Each of one profile’s surfaces or hosts in another one: of the same name and model, else the next of its model. */
function meant(
  from: Readonly<Record<string, { readonly model: string }>>,
  to: Readonly<Record<string, { readonly model: string }>>,
): Map<string, string> {
  const found = new Map<string, string>();
  const isFree = (key: string) => ![...found.values()].includes(key);
  for (const [key, { model }] of Object.entries(from))
    if (Object.hasOwn(to, key) && to[key].model === model) found.set(key, key);
  for (const [key, { model }] of Object.entries(from)) {
    if (found.has(key)) continue;
    const other = Object.keys(to).find((one) => to[one].model === model && isFree(one));
    if (other !== undefined) found.set(key, other);
  }
  return found;
}

/**
 * Puts a layer that came by itself on top of a profile's own. Surfaces and hosts are found again by their model; what is on
 * others is left out.
 * @returns the id of the new layer, null where there is no room, and how many bindings and lights found no place
 */
export function putLayer(
  profile: Profile,
  part: Profile,
): Edited<Profile> & { readonly id: string | null; readonly left: number } {
  const from = part.layerOrder.at(-1);
  if (from === undefined || profile.layerOrder.length >= MOST_LAYERS)
    return { document: profile, edit: null, id: null, left: 0 };
  const id = nextLayerId(profile);
  const label = freshLabel(
    Object.values(profile.layers).map((one) => one.label),
    part.layers[from].label,
  );
  const flags = new Map<string, string>();
  const newFlags: { id: string; label: string; initially?: boolean | undefined }[] = [];
  for (const flag of part.flagOrder.map((key) => part.flags[key])) {
    const here = Object.values(profile.flags).find((one) => one.label === flag.label);
    const taken = { ...profile.flags, ...Object.fromEntries(newFlags.map((one) => [one.id, one])) };
    const key = here?.id ?? freshId(taken, 'flag');
    flags.set(flag.id, key);
    if (!here) newFlags.push({ ...flag, id: key });
  }
  const names = by({
    surface: meant(part.surfaces, profile.surfaces),
    host: meant(part.hosts, profile.hosts),
    flag: flags,
    layer: new Map([[from, id]]),
  });
  const bindings = part.bindingOrder.map((key) => renamedBinding(part.bindings[key], names));
  const showings = part.showingOrder.map((key) => renamed(part.showings[key], names));
  const left = [...bindings, ...showings].filter((one) => one === undefined).length;
  const { enter = [], leave = [], page, usual = [], ...layer } = part.layers[from];
  const done = edit(profile, `Read layer ${label}`, (draft) => {
    for (const flag of newFlags) {
      draft.flags[flag.id] = flag as Draft<Profile['flags'][string]>;
      draft.flagOrder.push(flag.id);
    }
    const acts = (list: readonly unknown[]) => list.flatMap((one) => renamed(one, names) ?? []);
    const shown = page && renamed(page, names);
    draft.layers[id] = {
      ...structuredClone(layer),
      id,
      label,
      ...(shown ? { page: shown } : {}),
      ...(usual.length > 0 ? { usual: acts(usual) as Draft<typeof usual> } : {}),
      ...(enter.length > 0 ? { enter: acts(enter) } : {}),
      ...(leave.length > 0 ? { leave: acts(leave) } : {}),
    } as Draft<Profile['layers'][string]>;
    draft.layerOrder.push(id);
    for (const binding of bindings)
      if (binding) {
        const { id: _, ...rest } = binding;
        addBinding(draft, structuredClone(rest));
      }
    for (const showing of showings) if (showing) putShowing(draft, showing);
  });
  return { ...done, id, left };
}
