import type { Draft } from 'immer';
import type { Profile } from './profile.js';

/** An id that nothing has yet: a word and a number from one on. */
export function freshId(
  taken: Readonly<Record<string, unknown>>,
  word: string,
  from: number,
): string {
  let n = from;
  while (Object.hasOwn(taken, `${word}-${n}`)) n++;
  return `${word}-${n}`;
}

/** A label that no other has: with a number where it is taken. */
export function freshLabel(taken: readonly string[], label: string): string {
  let name = label;
  for (let n = 2; taken.includes(name); n++) name = `${label} ${n}`;
  return name;
}

export const labelsOf = (entries: Readonly<Record<string, { readonly label: string }>>): string[] =>
  Object.values(entries).map(({ label }) => label);

/** The id that the next new layer has. */
export const nextLayerId = ({ layers, layerOrder }: Profile): string =>
  freshId(layers, 'layer', layerOrder.length);

/** Puts an empty layer on top of all others. */
export function putNewLayer(draft: Draft<Profile>, id: string, label = 'Layer'): void {
  draft.layers[id] = { id, label: freshLabel(labelsOf(draft.layers), label) };
  draft.layerOrder.push(id);
}
