import type { Draft } from 'immer';
import type { Profile } from './profile.js';

/** Letters and digits that ids are made of by chance: 13 of them are 67 bits. */
const SIGNS = '0123456789abcdefghijklmnopqrstuvwxyz';
const LENGTH = 13;

/** Says how an id goes on after its word; `isTaken` tells which ids there are. */
export type IdSource = (word: string, isTaken: (id: string) => boolean) => string;

/**
 * By chance, so that no two windows make the same at once, and none that was removed comes again and means something
 * else to what still names it.
 */
const byChance: IdSource = (word) => {
  const chances = crypto.getRandomValues(new Uint32Array(LENGTH));
  // The few that are likelier by the remainder cost a millionth of a bit.
  return `${word}-${Array.from(chances, (chance) => SIGNS[chance % SIGNS.length]).join('')}`;
};
let source = byChance;

/** Ids come from here from now on, as in a test that is to be the same each time; without any by chance again. */
export function takeIdsFrom(other: IdSource = byChance): void {
  source = other;
}

/** An id that nothing has, had, or will have: a word, and what its source adds. */
export const freshId = (taken: Readonly<Record<string, unknown>>, word: string): string =>
  source(word, (id) => Object.hasOwn(taken, id));

/** A label that no other has: with a number where it is taken. */
export function freshLabel(taken: readonly string[], label: string): string {
  let name = label;
  for (let n = 2; taken.includes(name); n++) name = `${label} ${n}`;
  return name;
}

export const labelsOf = (entries: Readonly<Record<string, { readonly label: string }>>): string[] =>
  Object.values(entries).map(({ label }) => label);

/** The id that the next new layer has. */
export const nextLayerId = ({ layers }: Profile): string => freshId(layers, 'layer');

/** Puts an empty layer on top of all others. */
export function putNewLayer(draft: Draft<Profile>, id: string, label = 'Layer'): void {
  draft.layers[id] = { id, label: freshLabel(labelsOf(draft.layers), label) };
  draft.layerOrder.push(id);
}
