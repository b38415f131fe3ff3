import {
  applyPatches,
  enablePatches,
  produce,
  produceWithPatches,
  type Draft,
  type Patch,
} from 'immer';
import stringify from 'safe-stable-stringify';
import { isOrderOfIds, orderDifference, orderHolds, ordered, type OrderPatch } from './order.js';

enablePatches();

/** A change of one place: of a value, or of an order of ids. */
export type EditPatch = Patch | OrderPatch;

/** A named change of a document that can be taken back: what it wrote, and what stood there before. */
export interface Edit {
  readonly name: string;
  readonly forward: readonly EditPatch[];
  readonly inverse: readonly EditPatch[];
}

export interface Edited<T> {
  readonly document: T;
  /** Null where nothing changed. */
  readonly edit: Edit | null;
}

type Path = readonly (string | number)[];

/** Orders of ids are called so in every document: `bindingOrder`, `layerOrder`, … */
const orderIn = (path: Path): Path | null => {
  const at = path.findIndex((key) => typeof key === 'string' && /^[a-z]+Order$/i.test(key));
  return at < 0 ? null : path.slice(0, at + 1);
};

/** Patches as they were made, with one for each order in place of those of its single entries. */
function withOrders(from: object, to: object, patches: readonly Patch[]): EditPatch[] {
  const done = new Set<string>();
  return patches.flatMap((patch): EditPatch[] => {
    const path = orderIn(patch.path);
    if (!path) return [patch];
    const key = path.join('\0');
    // One for all its entries: a series of bindings is a patch for each of them.
    if (done.has(key)) return [];
    const [before, after] = [valueAt(from, path), valueAt(to, path)];
    if (!isOrderOfIds(before) || !isOrderOfIds(after)) return [patch];
    done.add(key);
    const change = orderDifference(before, after);
    return change.in.length + change.out.length > 0 ? [{ op: 'order', path, ...change }] : [];
  });
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
    : {
        document: next,
        edit: {
          name,
          forward: withOrders(document, next, forward),
          inverse: withOrders(next, document, inverse),
        },
      };
}

const isObject = (value: unknown): value is object => typeof value === 'object' && value !== null;

function valueAt(root: unknown, path: Path): unknown {
  let value = root;
  for (const key of path) {
    if (!isObject(value) || !Object.hasOwn(value, key)) return undefined;
    value = (value as Record<string | number, unknown>)[key];
  }
  return value;
}

/** Whether two values are the same as JSON: in whatever order their keys stand, and absent is undefined. */
export const isSameJson = (a: unknown, b: unknown): boolean =>
  a === b || stringify(a) === stringify(b);

/** Places at which a document is not as a change would find it: `from` is what stands there then, `to` what it would write. */
function placesThatDiffer(
  document: object,
  from: readonly EditPatch[],
  to: readonly EditPatch[],
): Path[] {
  const values = from.filter((patch) => {
    // A list's length stands behind its entries and is checked by them.
    if (patch.op === 'order' || patch.path.at(-1) === 'length') return false;
    const now = valueAt(document, patch.path);
    return patch.op === 'remove' ? now !== undefined : !isSameJson(now, patch.value);
  });
  const targets = to.filter((patch) =>
    patch.op === 'order'
      ? !orderHolds(valueAt(document, patch.path), patch)
      : // What it would be put into is gone.
        !isObject(valueAt(document, patch.path.slice(0, -1))),
  );
  return [...values, ...targets].map(({ path }) => path);
}

function apply<T extends object>(
  document: T,
  from: readonly EditPatch[],
  to: readonly EditPatch[],
): T | null {
  if (placesThatDiffer(document, from, to).length > 0) return null;
  const next = applyPatches(
    document,
    to.filter((patch): patch is Patch => patch.op !== 'order'),
  );
  const orders = to.filter((patch) => patch.op === 'order');
  return orders.length === 0
    ? next
    : produce(next, (draft) => {
        for (const patch of orders) {
          const list = valueAt(draft, patch.path) as string[];
          list.splice(0, list.length, ...ordered(list, patch));
        }
      });
}

/** Takes an edit back; null where something else has changed the same places since. */
export const undo = <T extends object>(document: T, done: Edit): T | null =>
  apply(document, done.forward, done.inverse);

/** Does an edit, for the first time or again; null where something else has changed the same places since. */
export const redo = <T extends object>(document: T, undone: Edit): T | null =>
  apply(document, undone.inverse, undone.forward);

/** The same edit the other way round: to do it is to take the first back. */
export const reversed = ({ name, forward, inverse }: Edit): Edit => ({
  name,
  forward: inverse,
  inverse: forward,
});

/** The places at which a document is not any more as an edit would find it. */
export const placesInTheWay = (document: object, { inverse, forward }: Edit): Path[] =>
  placesThatDiffer(document, inverse, forward);

/** Whether an edit writes at, above or below one of some places. */
export const touches = ({ forward }: Edit, places: readonly Path[]): boolean =>
  forward.some(({ path }) =>
    places.some((place) =>
      place.slice(0, path.length).every((key, at) => String(key) === String(path[at])),
    ),
  );

/** Gives a document another name; blank names are ignored. */
export function rename<T extends { name: string }>(document: T, to: string): Edited<T> {
  const name = to.trim();
  return name === '' || name === document.name
    ? { document, edit: null }
    : edit(document, `Rename to “${name}”`, (draft) => {
        (draft as { name: string }).name = name;
      });
}
