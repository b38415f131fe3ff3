import type { Draft } from 'immer';
import { edit, type Edited } from '@rondo/core/document';
import {
  freshBindingId,
  type Action,
  type Binding,
  type ControlRef,
  type Profile,
} from '@rondo/core/profile';
import { sayer, type Assigned } from './assign.js';
import { LAYER_WORDS, arrange, type Group } from './lines.js';
import { placesOf, type Place, type SurfaceOf } from './places.js';
import { PURPOSES, PURPOSE_WORDS, type Purpose } from './purposes.data.js';
import { wishesOf, type HostOf, type Wish } from './wishes.js';

/** One binding that is proposed. */
export interface Proposed {
  readonly ref: ControlRef;
  readonly action: Action;
  /** The layer that it is for, among those that are proposed; null for the lowest, which is there. */
  readonly layer: Purpose | null;
}

/** What is proposed for one purpose: taken or left as a whole. */
export interface ProposalPart {
  readonly purpose: Purpose;
  readonly label: string;
  /** Why it is so, in a sentence. */
  readonly why: string;
  readonly bindings: readonly Proposed[];
  /** The key that turns its layer on, where it has one of its own. */
  readonly key: ControlRef | null;
}

export interface Proposal {
  readonly parts: readonly ProposalPart[];
  /** What could not be proposed and why, in sentences; never empty where there are no parts. */
  readonly says: readonly string[];
}

/** As many layers are proposed at most: more nobody finds again. */
const MOST_LAYERS = 4;
/** What is worth more than this is not given up for a layer's key. */
const KEY_WORTH = 60;
/** As few are not worth a layer. */
const FEWEST = 4;
/** As many wishes for each place are looked at: what is wanted least would get none. */
const WISHES_A_PLACE = 2;

/**
 * What surfaces could do with hosts, by purpose: by kinds, places, rows, columns, words and counts of the controls. What
 * is bound already stays as it is, and what it does is not proposed again. The same input gives the same proposal.
 * @param purposes those that are asked for; all of them unless said
 */
export function propose(
  profile: Profile,
  surfaces: readonly SurfaceOf[],
  hosts: readonly HostOf[],
  purposes: readonly Purpose[] = PURPOSES,
): Proposal {
  const { free, above, width } = placesOf(profile, surfaces);
  const { wanted: wishable, begun } = wishesOf(profile, hosts, width);
  const wanted = wishable.filter(({ purpose }) => purposes.includes(purpose));
  const says = reasons(surfaces, hosts, free, wanted);
  if (says.length > 0) return { parts: [], says };
  const kinds = new Set([...free, ...above].map(({ control }) => control.kind));
  const suited = wanted.filter(({ suits }) => [...kinds].some((kind) => suits[kind] !== undefined));
  const alone = suited.filter(({ together }) => together === null);
  const last = alone[WISHES_A_PLACE * free.length];
  const all = suited.filter(
    ({ together, worth }) => together !== null || worth > (last?.worth ?? -1),
  );
  const first = arrange(all, free, true);
  const isIdle = all.some(({ action }) => action.do === 'bank') && !hasBank(profile, first);
  const wishes = isIdle ? all.filter(({ action }) => action.do !== 'bank') : all;
  const { base, layers, keys } = layersFor(wishes, isIdle ? arrange(wishes, free, true) : first, {
    free,
    above,
    begun,
    most: MOST_LAYERS - (profile.layerOrder.length - 1),
  });
  const kept = base.flat();
  const parts = PURPOSES.flatMap((purpose): ProposalPart[] => {
    const here = kept.filter(({ wish }) => wish.purpose === purpose).map(proposedOn(null));
    const layered = (layers.get(purpose) ?? []).map(proposedOn(purpose));
    const bindings = [...here, ...layered];
    const key = layered.length > 0 ? (keys.get(purpose)?.ref ?? null) : null;
    return bindings.length > 0 ? [{ purpose, ...PURPOSE_WORDS[purpose], bindings, key }] : [];
  });
  if (parts.length === 0)
    return {
      parts,
      says: ['No free control suits what the programs can do. Bind by hand: press / on a control.'],
    };
  const count = parts.reduce((sum, { bindings }) => sum + bindings.length, 0);
  const left = wanted.length - count;
  return {
    parts,
    says:
      left > 0
        ? [
            `${left} more ${left === 1 ? 'function has' : 'functions have'} no control here. Press / on a control to find them.`,
          ]
        : [],
  };
}

/** Whether something follows the bank: without it no key is wanted that moves it. */
const hasBank = (profile: Profile, groups: readonly Group[]): boolean =>
  [
    ...Object.values(profile.bindings).flatMap(({ actions }) => actions),
    ...groups.flat().map(({ action }) => action),
  ].some((action) => action.do === 'function' && action.scope.kind === 'window');

const proposedOn =
  (layer: Purpose | null) =>
  ({ place, action }: Assigned): Proposed => ({ ref: place.ref, action, layer });

/** Why nothing can be proposed; empty where something may be. */
function reasons(
  surfaces: readonly SurfaceOf[],
  hosts: readonly HostOf[],
  free: readonly Place[],
  wanted: readonly Wish[],
): string[] {
  if (surfaces.length === 0) return ['There is no surface yet. Add one, then ask again.'];
  if (hosts.length === 0) return ['There is no program yet. Add a host, then ask again.'];
  const senders = surfaces.filter(({ surface }) => surface.device.sends);
  if (free.length === 0)
    return senders.length === 0
      ? [
          'These surfaces send nothing, so nothing can be bound to them. They can still show: see Lights.',
        ]
      : [
          'Every control that sends something is bound already. Take something off, or bind on a layer.',
        ];
  if (wanted.length === 0)
    return [
      'All that these programs offer for this is bound already, or they offer nothing that can be set.',
    ];
  return [];
}

interface Layers {
  /** What is on the lowest layer, after keys were made free. */
  readonly base: readonly Group[];
  readonly layers: ReadonlyMap<Purpose, readonly Assigned[]>;
  readonly keys: ReadonlyMap<Purpose, Place>;
  /** One more key would make one more layer. */
  readonly isShort: boolean;
}

/**
 * What found no place on the lowest layer, on layers of its own, and the key of each. Where no key is free, what is wanted
 * least gives its line, as far as that makes more layers.
 */
function layersFor(wishes: readonly Wish[], groups: readonly Group[], room: LayerRoom): Layers {
  const worthOf = (group: Group) => Math.max(...group.map(({ wish }) => wish.worth));
  const least = groups
    .filter(
      (group) =>
        worthOf(group) < KEY_WORTH && group.every(({ place, isSaid }) => isKey(place) && !isSaid),
    )
    .sort((a, b) => asKeys(a) - asKeys(b) || worthOf(a) - worthOf(b))[0];
  const made = layersOn(wishes, groups, room);
  if (!least || !made.isShort) return made;
  const given = layersOn(
    wishes,
    groups.filter((group) => group !== least),
    room,
  );
  const kept = new Set(fresh(given, room));
  const isMore = given.layers.size > made.layers.size;
  return isMore && fresh(made, room).every((purpose) => kept.has(purpose)) ? given : made;
}

/** Purposes of which something is proposed and nothing is bound yet. */
const fresh = ({ base, layers }: Layers, { begun }: LayerRoom): Purpose[] =>
  [...base.flat().map(({ wish }) => wish.purpose), ...layers.keys()].filter(
    (purpose) => !begun.has(purpose),
  );

const isKey = ({ part, control }: Place): boolean =>
  part === 'push' && control.kind !== 'key' && !control.latching;
const isFixed = ({ purpose, action }: Wish): boolean =>
  purpose === 'transport' || action.do !== 'function';
const asKeys = (group: Group): number => (group.some(({ place }) => isForLayers(place)) ? 0 : 1);
const saysLayer = sayer(new Set(LAYER_WORDS));
const isForLayers = (place: Place): boolean => saysLayer(place).size > 0;

interface LayerRoom {
  readonly free: readonly Place[];
  /** What a layer may use. */
  readonly above: readonly Place[];
  /** Purposes that come after the others. */
  readonly begun: ReadonlySet<Purpose>;
  /** As many layers more. */
  readonly most: number;
}

function layersOn(
  wishes: readonly Wish[],
  base: readonly Group[],
  { free, above, begun, most }: LayerRoom,
): Layers {
  const layers = new Map<Purpose, Assigned[]>();
  const keys = new Map<Purpose, Place>();
  const taken = base.flat();
  const placed = new Set(taken.map(({ wish }) => wish));
  const used = new Set(taken.map(({ place }) => place));
  const said = sayer(new Set(wishes.flatMap(({ names }) => names)));
  // What says that it is for layers first, then what stands outside of strips, the last of the panel first.
  const rank = (place: Place) => (isForLayers(place) ? 0 : place.strip === null ? 1 : 2);
  const spare = free
    .filter((place) => isKey(place) && !used.has(place) && said(place).size === 0)
    .sort((a, b) => rank(a) - rank(b) || free.indexOf(b) - free.indexOf(a))
    .slice(0, Math.max(0, most))
    .sort((a, b) => free.indexOf(a) - free.indexOf(b));
  const held = new Set([
    ...spare,
    ...taken.filter(({ wish }) => isFixed(wish)).map(({ place }) => place),
  ]);
  const open = above.filter((place) => !held.has(place));
  // What has gaps on the lowest layer, for want of controls, does not go on elsewhere.
  const rows = new Set(
    taken.flatMap(({ wish }) => (wish.together?.kind === 'strips' ? wish.together.key : [])),
  );
  let isShort = false;
  const later = PURPOSES.filter((purpose) => begun.has(purpose));
  for (const purpose of [...PURPOSES.filter((one) => !begun.has(one)), ...later]) {
    const unmet = wishes.filter(
      (wish) =>
        wish.purpose === purpose && !placed.has(wish) && !rows.has(wish.together?.key ?? ''),
    );
    const key = spare[0];
    if (unmet.length < FEWEST) continue;
    if (!key) {
      isShort = keys.size < most;
      continue;
    }
    const found = arrange(unmet, open, false).flat();
    if (found.length < FEWEST) continue;
    spare.shift();
    layers.set(purpose, found);
    keys.set(purpose, key);
  }
  return { base, layers, keys, isShort };
}

/** Takes some parts of a proposal into a profile, in one edit: their bindings, and a layer with its key where one is needed. */
export function takeProposal(
  profile: Profile,
  { parts }: Proposal,
  taken: ReadonlySet<Purpose>,
): Edited<Profile> {
  const chosen = parts.filter(({ purpose }) => taken.has(purpose));
  const count = chosen.reduce((sum, { bindings }) => sum + bindings.length, 0);
  const name = `Take a proposal of ${count} ${count === 1 ? 'binding' : 'bindings'}`;
  return edit(profile, name, (draft) => {
    const [base] = profile.layerOrder;
    const add = (binding: Omit<Binding, 'id'>) => {
      const id = freshBindingId(draft);
      draft.bindings[id] = { ...binding, id } as Draft<Binding>;
      draft.bindingOrder.push(id);
    };
    for (const { purpose, label, bindings, key } of chosen) {
      let layer = base;
      if (key) {
        let n = draft.layerOrder.length;
        while (Object.hasOwn(draft.layers, `layer-${n}`)) n++;
        layer = `layer-${n}`;
        draft.layers[layer] = { id: layer, label, group: 'Pages' };
        draft.layerOrder.push(layer);
        add({ layer: base, control: key, actions: [{ do: 'layer', layer, how: 'toggle' }] });
      }
      for (const { ref, action, layer: on } of bindings)
        add({ layer: on === purpose ? layer : base, control: ref, actions: [action] });
    }
  });
}
