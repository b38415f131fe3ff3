import munkres from 'munkres';
import { usualBehaviour, type Action } from '@rondo/core/profile';
import { SIGNS } from './purposes.data.js';
import type { Place } from './places.js';
import { rowsOf } from './strips.js';
import type { Wish } from './wishes.js';

/** What it costs to be where one would not look for it. */
const OUT_OF_STRIP = 14;
const IN_STRIP = 8;
const OUT_OF_RANK = 1;
const WRONG_WORD = 16;
const RIGHT_WORD = 20;
const NO_LIGHT = 1;

/** The action by which a wish works at a place; null where it does not. */
export function actionAt({ fn, action }: Wish, { part, relative }: Place): Action | null {
  if (action.do !== 'function' || !fn) return part === 'push' ? action : null;
  const behaviour = usualBehaviour(fn, part, relative);
  return behaviour && { ...action, ...behaviour };
}

const hasWord = (says: string, word: string): boolean =>
  new RegExp(`(^|[^a-z])${word.replace(/[^a-z0-9 ]/g, '.')}($|[^a-z])`).test(says);

/** Which of the names that are wanted stands on a place: by its sign, else in words. */
export function saidBy(place: Place, names: ReadonlySet<string>): ReadonlySet<string> {
  const sign = SIGNS[place.control.legend ?? ''];
  if (sign !== undefined) return new Set([sign]);
  return new Set([...names].filter((name) => hasWord(place.says, name)));
}

/** How much is gained by a wish at a place, −Infinity where it cannot be there. */
export function gainOf(wish: Wish, place: Place, said: ReadonlySet<string>): number {
  const suits = wish.suits[place.control.kind];
  if (suits === undefined || !actionAt(wish, place)) return -Infinity;
  let cost = suits * 2;
  if (wish.strip === null) cost += place.strip === null ? 0 : IN_STRIP;
  else if (place.strip === null) cost += OUT_OF_STRIP;
  else if (place.strip !== wish.strip) return -Infinity;
  else cost += OUT_OF_RANK * Math.min(6, Math.abs(place.rank - wish.rank));
  if (wish.names.some((name) => said.has(name))) cost -= RIGHT_WORD;
  else if (said.size > 0) cost += WRONG_WORD;
  if (place.part === 'push' && !place.control.takes.light) cost += NO_LIGHT;
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
  const names = new Set(wishes.flatMap(({ names: own }) => own));
  const said = places.map((place) => saidBy(place, names));
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

const isSaid = (wish: Wish, said: ReadonlySet<string>): boolean =>
  wish.names.some((name) => said.has(name));

/**
 * The same wishes at the same places, in an order that people find again: what controls of one kind do in a strip, or
 * beside the strips, goes from the top left to the bottom right by the order of the wishes.
 */
export function tidy(assigned: readonly Assigned[]): Assigned[] {
  const groups = new Map<string, Assigned[]>();
  for (const one of assigned) {
    const { control, part, strip, ref } = one.place;
    // What is written on a control stays there.
    const key = one.isSaid
      ? `said ${groups.size}`
      : `${ref.surface} ${control.kind} ${part} ${strip}`;
    groups.set(key, [...(groups.get(key) ?? []), one]);
  }
  return [...groups.values()].flatMap((group) => {
    const wishes = group.map(({ wish }) => wish);
    wishes.sort((a, b) => a.order - b.order || (a.strip ?? -1) - (b.strip ?? -1));
    const places = rowsOf(group.map(({ place }) => place.control)).flat();
    const next = wishes.flatMap((wish, at) => {
      const found = group.find(({ place }) => place.control === places[at]);
      const action = found && actionAt(wish, found.place);
      return found && action ? [{ ...found, wish, action }] : [];
    });
    return next.length === group.length ? next : group;
  });
}
