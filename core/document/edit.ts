import { applyPatches, enablePatches, produceWithPatches, type Draft, type Patch } from 'immer';

enablePatches();

/** A named change of a document that can be taken back: what it wrote, and what stood there before. */
export interface Edit {
  readonly name: string;
  readonly forward: readonly Patch[];
  readonly inverse: readonly Patch[];
}

export interface Edited<T> {
  readonly document: T;
  /** Null where nothing changed. */
  readonly edit: Edit | null;
}

/** Changes a document and keeps the patches both ways. */
export function edit<T extends object>(
  document: T,
  name: string,
  recipe: (draft: Draft<T>) => void,
): Edited<T> {
  const [next, forward, inverse] = produceWithPatches(document, (draft) => {
    recipe(draft);
  });
  return forward.length === 0
    ? { document, edit: null }
    : { document: next, edit: { name, forward, inverse } };
}

function valueAt(root: unknown, path: readonly (string | number)[]): unknown {
  let value = root;
  for (const key of path) {
    if (typeof value !== 'object' || value === null) return undefined;
    value = (value as Record<string | number, unknown>)[key];
  }
  return value;
}

const same = (a: unknown, b: unknown): boolean =>
  a === b || JSON.stringify(a) === JSON.stringify(b);

function apply<T extends object>(
  document: T,
  from: readonly Patch[],
  to: readonly Patch[],
): T | null {
  const holds = from.every((patch) => {
    // A list's length stands behind its entries and is checked by them.
    if (patch.path.at(-1) === 'length') return true;
    const now = valueAt(document, patch.path);
    return patch.op === 'remove' ? Array.isArray(now) || now === undefined : same(now, patch.value);
  });
  return holds ? applyPatches(document, [...to]) : null;
}

/** Takes an edit back; null where something else has changed the same places since. */
export const undo = <T extends object>(document: T, done: Edit): T | null =>
  apply(document, done.forward, done.inverse);

/** Does an edit, for the first time or again; null where something else has changed the same places since. */
export const redo = <T extends object>(document: T, undone: Edit): T | null =>
  apply(document, undone.inverse, undone.forward);

/** Gives a document another name; blank names are ignored. */
export function rename<T extends { name: string }>(document: T, to: string): Edited<T> {
  const name = to.trim();
  return name === '' || name === document.name
    ? { document, edit: null }
    : edit(document, `Rename to “${name}”`, (draft) => {
        (draft as { name: string }).name = name;
      });
}
