import type { Draft } from 'immer';
import { edit, type Edited } from '@rondo/core/document';
import {
  freshBindingId,
  type Action,
  type Binding,
  type ControlRef,
  type Profile,
} from '@rondo/core/profile';
import { assign, saidBy, tidy, type Assigned } from './assign.js';
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
/** So often rows that are not whole are given up, and what they free is given anew. */
const PASSES = 4;

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
  const { free, width } = placesOf(profile, surfaces);
  const wanted = wishesOf(profile, hosts, width).filter(({ purpose }) =>
    purposes.includes(purpose),
  );
  const says = reasons(surfaces, hosts, free, wanted);
  if (says.length > 0) return { parts: [], says };
  const kinds = new Set(free.map(({ control }) => control.kind));
  const wishes = wanted
    .filter(({ suits }) => [...kinds].some((kind) => suits[kind] !== undefined))
    .slice(0, Math.max(60, WISHES_A_PLACE * free.length));
  const base = tidy(wholeRows(wishes, free, width));
  const { layers, keys } = layersFor(wishes, base, free, width);
  const keyRefs = new Set(keys.values());
  const kept = base.filter(({ place }) => !keyRefs.has(place));
  const parts = PURPOSES.flatMap((purpose): ProposalPart[] => {
    const here = kept.filter(({ wish }) => wish.purpose === purpose).map(proposedOn(null));
    const above = (layers.get(purpose) ?? []).map(proposedOn(purpose));
    const bindings = [...here, ...above];
    const key = above.length > 0 ? (keys.get(purpose)?.ref ?? null) : null;
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

/**
 * The best assignment in which what belongs to strips is there for all of them or for none: half a row of mutes is no row.
 */
function wholeRows(wishes: readonly Wish[], free: readonly Place[], width: number): Assigned[] {
  let left = wishes;
  for (let pass = 0; ; pass++) {
    const found = assign(left, free);
    if (width === 0) return found;
    const placed = countBy(found.map(({ wish }) => wish));
    const wanted = countBy(left);
    const halves = new Set(
      [...placed].filter(([fn, count]) => count < (wanted.get(fn) ?? 0)).map(([fn]) => fn),
    );
    if (halves.size === 0) return found;
    // What is wanted most of all stays, even where there are fewer controls than strips.
    const first = left.find(({ strip }) => strip !== null);
    halves.delete(rowOf(first));
    if (halves.size === 0 || pass === PASSES)
      return found.filter(({ wish }) => !halves.has(rowOf(wish)));
    left = left.filter((wish) => !halves.has(rowOf(wish)));
  }
}

/** What is one row: a function of every strip. Empty for what belongs to no strip, or is a place on a page. */
const rowOf = (wish: Wish | undefined): string =>
  wish !== undefined &&
  wish.strip !== null &&
  wish.action.do === 'function' &&
  wish.action.scope.kind !== 'focus'
    ? `${wish.action.host} ${wish.action.function}`
    : '';

function countBy(wishes: readonly Wish[]): Map<string, number> {
  const counts = new Map<string, number>();
  for (const wish of wishes) {
    const row = rowOf(wish);
    if (row !== '') counts.set(row, (counts.get(row) ?? 0) + 1);
  }
  return counts;
}

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

/** What found no place on the lowest layer, on layers of its own, and the key of each. */
function layersFor(
  wishes: readonly Wish[],
  base: readonly Assigned[],
  free: readonly Place[],
  width: number,
): { layers: Map<Purpose, Assigned[]>; keys: Map<Purpose, Place> } {
  const layers = new Map<Purpose, Assigned[]>();
  const keys = new Map<Purpose, Place>();
  const placed = new Set(base.map(({ wish }) => wish));
  const worthAt = new Map(base.map(({ wish, place }) => [place, wish.worth]));
  // A key for a layer: what nothing or little was proposed for, outside of strips first, the last of the panel first.
  const names = new Set(wishes.flatMap((wish) => wish.names));
  const spare = free
    .filter(({ part, control }) => part === 'push' && control.kind !== 'key' && !control.latching)
    .filter((place) => (worthAt.get(place) ?? 0) < KEY_WORTH && saidBy(place, names).size === 0)
    .sort(
      (a, b) =>
        (worthAt.get(a) ?? 0) - (worthAt.get(b) ?? 0) ||
        Number(a.strip !== null) - Number(b.strip !== null) ||
        free.indexOf(b) - free.indexOf(a),
    );
  const fixed = new Set(
    base.filter(({ wish }) => wish.purpose === 'transport').map(({ place }) => place),
  );
  for (const purpose of PURPOSES) {
    const unmet = wishes.filter((wish) => wish.purpose === purpose && !placed.has(wish));
    const key = spare[0];
    if (unmet.length < FEWEST || !key || layers.size >= MOST_LAYERS) continue;
    const used = new Set([...keys.values(), key]);
    const found = tidy(
      wholeRows(
        unmet,
        free.filter((place) => !used.has(place) && !fixed.has(place)),
        width,
      ),
    );
    if (found.length < FEWEST) continue;
    spare.shift();
    layers.set(purpose, found);
    keys.set(purpose, key);
  }
  return {
    // A key that came later is no control of a layer that came before.
    layers: new Map(
      [...layers].map(([purpose, list]) => {
        const all = new Set(keys.values());
        return [purpose, list.filter(({ place }) => !all.has(place))];
      }),
    ),
    keys,
  };
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
