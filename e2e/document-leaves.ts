/** A value as JSON with its keys in their order, so that the same things are the same text. */
export const sorted = (value: unknown): string =>
  JSON.stringify(value, (_, inner: unknown) =>
    typeof inner === 'object' && inner !== null && !Array.isArray(inner)
      ? Object.fromEntries(Object.entries(inner).sort(([a], [b]) => (a < b ? -1 : 1)))
      : inner,
  );

/** A document as a flat map: what stands at each place. Of a list only what is in it counts here, not where. */
export type Leaves = ReadonlyMap<string, string>;

/** Flattens a document of plain JSON. Absent and undefined are the same. */
export function leavesOf(document: unknown): Map<string, string> {
  const leaves = new Map<string, string>();
  const walk = (value: unknown, path: string): void => {
    if (value === undefined) return;
    if (Array.isArray(value)) {
      leaves.set(path, 'list');
      for (const one of value)
        leaves.set(`${path}/${typeof one === 'string' ? one : sorted(one)}`, 'in');
      return;
    }
    if (typeof value !== 'object' || value === null) {
      leaves.set(path, JSON.stringify(value));
      return;
    }
    // Whether it has anything in it or not: what one window puts into it does not make another's step differ.
    leaves.set(path, 'object');
    for (const [key, inner] of Object.entries(value)) walk(inner, `${path}/${key}`);
  };
  walk(document, '');
  return leaves;
}

/** What one edit has changed: by place, what stood there before and after; null where nothing did. */
export type Change = ReadonlyMap<string, readonly [string | null, string | null]>;

export function changeBetween(before: Leaves, after: Leaves): Change {
  const change = new Map<string, readonly [string | null, string | null]>();
  for (const path of new Set([...before.keys(), ...after.keys()])) {
    const [was, is] = [before.get(path) ?? null, after.get(path) ?? null];
    if (was !== is) change.set(path, [was, is]);
  }
  return change;
}

/** The document with one change taken back (0) or done again (1), whatever else was changed since. */
export function withChange(document: Leaves, change: Change, to: 0 | 1): Map<string, string> {
  const next = new Map(document);
  for (const [path, sides] of change) {
    const value = sides[to];
    if (value === null) next.delete(path);
    else next.set(path, value);
  }
  return next;
}

/** The thing that a place is of: a binding, a layer, the name … */
const thingOf = (path: string): string =>
  path
    .split('/')
    .slice(1, 3)
    .join('/')
    .replace(/Order\//, 's/');

/** Whether two changes are of the same thing, so that one may be in the other's way. */
export function meet(a: Change, b: Change): boolean {
  const things = new Set([...a.keys()].map(thingOf));
  return [...b.keys()].some((path) => things.has(thingOf(path)));
}
