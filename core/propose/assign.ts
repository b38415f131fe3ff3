import munkres from 'munkres';
import { usualBehaviour, type Action } from '@rondo/core/profile';
import { SIGNS } from './purposes.data.js';
import type { Place } from './places.js';
import { rowsOf } from './strips.js';
import type { Wish } from './wishes.js';

/** What it costs to be where one would not look for it. */
const OUT_OF_STRIP = 14;
const IN_STRIP = 8;
const WRONG_WORD = 60;
const RIGHT_WORD = 20;
const NO_LIGHT = 1;
/** Share of its worth that what is moved or turned loses where nothing comes back: the best of a desk has the motors. */
const NO_WAY_BACK = 0.05;
/** A key that has a word of its own, which is not wanted here, is for something else. */
const OWN_WORD = 25;

/** The action by which a wish works at a place; null where it does not. */
export function actionAt(wish: Wish, place: Place): Action | null {
  const kind = `${place.part} ${place.relative}`;
  const known = ACTIONS.get(wish) ?? new Map<string, Action | null>();
  ACTIONS.set(wish, known);
  const action = known.get(kind);
  if (action !== undefined) return action;
  const found = actionFor(wish, place);
  known.set(kind, found);
  return found;
}

/** What was found of each wish: it is asked for at every place, again and again. */
const ACTIONS = new WeakMap<Wish, Map<string, Action | null>>();

function actionFor({ fn, action }: Wish, { part, relative }: Place): Action | null {
  if (action.do !== 'function' || !fn) return part === 'push' ? action : null;
  const behaviour = usualBehaviour(fn, part, relative);
  return behaviour && { ...action, ...behaviour };
}

/** Which of the names that are wanted stands on a place: by its sign, else in words. */
export function sayer(names: ReadonlySet<string>): (place: Place) => ReadonlySet<string> {
  const words = [...names].map(
    (name) =>
      [name, new RegExp(`(^|[^a-z])${name.replace(/[^a-z0-9 ]/g, '.')}($|[^a-z])`)] as const,
  );
  const known = new WeakMap<Place, ReadonlySet<string>>();
  return (place) => {
    const before = known.get(place);
    if (before) return before;
    const sign = SIGNS[place.control.legend ?? ''];
    const said = new Set(
      sign === undefined
        ? words.flatMap(([name, word]) => (word.test(place.says) ? [name] : []))
        : [sign],
    );
    known.set(place, said);
    return said;
  };
}

/** Whether a key is called after what it does, rather than by kind and number. */
export const hasOwnWord = ({ part, control: { label, kind } }: Place): boolean =>
  part === 'push' && !/\d$|^(key|button|pad|pedal|switch)$/i.test(label) && label !== kind;

/** How much is gained by a wish at a place, −Infinity where it cannot be there. */
export function gainOf(wish: Wish, place: Place, said: ReadonlySet<string>): number {
  const suits = wish.suits[place.control.kind];
  if (suits === undefined || !actionAt(wish, place)) return -Infinity;
  let cost = suits * 2;
  if (wish.strip === null) cost += place.strip === null ? 0 : IN_STRIP;
  else if (place.strip === null) cost += OUT_OF_STRIP;
  else if (place.strip !== wish.strip) return -Infinity;
  if (wish.names.some((name) => said.has(name))) cost -= RIGHT_WORD;
  else if (said.size > 0) cost += WRONG_WORD;
  const { light, ring, motor } = place.control.takes;
  if (place.part === 'push' && !light) cost += NO_LIGHT;
  if (place.part === 'value' && !ring && !motor) cost += wish.worth * NO_WAY_BACK;
  if (said.size === 0 && hasOwnWord(place)) cost += OWN_WORD;
  return wish.worth - cost;
}

export interface Assigned {
  readonly wish: Wish;
  readonly place: Place;
  readonly action: Action;
  /** It is written on the control. */
  readonly isSaid: boolean;
}

/**
 * The assignment of wishes to places by which most is gained, each at most once (Munkres, 1957). What would gain nothing
 * is left out. The same input gives the same answer.
 */
export function assign(wishes: readonly Wish[], places: readonly Place[]): Assigned[] {
  if (wishes.length === 0 || places.length === 0) return [];
  const said = places.map(sayer(new Set(wishes.flatMap(({ names }) => names))));
  const costs = wishes.map((wish) =>
    places.map((place, at) => -Math.max(0, gainOf(wish, place, said[at]))),
  );
  return munkres(costs)
    .filter(([wish, place]) => costs[wish][place] < 0)
    .flatMap(([w, p]) => {
      const action = actionAt(wishes[w], places[p]);
      return action
        ? [{ wish: wishes[w], place: places[p], action, isSaid: isSaid(wishes[w], said[p]) }]
        : [];
    });
}

/** Whether one of a wish’s names is among those that stand on a place. */
export const isSaid = (wish: Wish, said: ReadonlySet<string>): boolean =>
  wish.names.some((name) => said.has(name));

/**
 * The same wishes at the same places, in an order that people find again: what controls of one kind do goes from the top
 * left to the bottom right by the order of the wishes.
 */
export function tidy(assigned: readonly Assigned[]): Assigned[] {
  const groups = new Map<string, Assigned[]>();
  for (const one of assigned) {
    const { control, part, ref } = one.place;
    // What is written on a control stays there.
    const key = one.isSaid ? `said ${groups.size}` : `${ref.surface} ${control.kind} ${part}`;
    groups.set(key, [...(groups.get(key) ?? []), one]);
  }
  return [...groups.values()].flatMap((group) => {
    const wishes = group.map(({ wish }) => wish);
    wishes.sort((a, b) => a.order - b.order);
    const places = rowsOf(group.map(({ place }) => place.control)).flat();
    const next = wishes.flatMap((wish, at) => {
      const found = group.find(({ place }) => place.control === places[at]);
      const action = found && actionAt(wish, found.place);
      return found && action ? [{ ...found, wish, action }] : [];
    });
    return next.length === group.length ? next : group;
  });
}
