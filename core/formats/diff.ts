import patches from 'fast-json-patch';
import type { Profile } from '@rondo/core/profile';
import { STOCK_SURFACES } from '@rondo/core/surface';
import type { RondoFile } from './rondo-file.js';

/** One thing that differs between two documents. */
export interface Difference {
  /** Where, as a JSON Pointer (RFC 6901). */
  readonly path: string;
  /** What stood there, and what stands there now; missing where there was nothing. */
  readonly before?: unknown;
  readonly after?: unknown;
  /** The same in words. */
  readonly says: string;
}

/** A path as a JSON Pointer (RFC 6901). */
export const pointerOf = (path: readonly (string | number)[]): string =>
  path.map((part) => `/${String(part).replaceAll('~', '~0').replaceAll('/', '~1')}`).join('');

/** The path that a JSON Pointer (RFC 6901) writes. */
export const pathOf = (pointer: string): string[] =>
  pointer === ''
    ? []
    : pointer
        .slice(1)
        .split('/')
        .map((part) => part.replaceAll('~1', '/').replaceAll('~0', '~'));

/** What differs between two values of JSON, place by place. Applied to the first it gives the second. */
export function differences(
  before: object,
  after: object,
  says: (
    path: readonly (string | number)[],
    change: { before?: unknown; after?: unknown },
  ) => string,
): Difference[] {
  const found: Difference[] = [];
  let old: { before?: unknown } = {};
  // Each change comes after what stood there (RFC 6902: test, then replace or remove).
  for (const one of patches.compare(before, after, true)) {
    if (one.op === 'test') {
      old = { before: one.value as unknown };
      continue;
    }
    const change = { ...old, ...('value' in one ? { after: one.value as unknown } : {}) };
    found.push({ path: one.path, ...change, says: says(pathOf(one.path), change) });
    old = {};
  }
  return found;
}

/** Applies differences to what they were taken from. The value given is not changed. */
export function applyDifferences<T extends object>(before: T, list: readonly Difference[]): T {
  // As JSON, so that nothing stands in two places at once.
  const next = JSON.parse(JSON.stringify(before)) as T;
  // In their order: what leaves a list goes from its end.
  for (const one of list) {
    const path = pathOf(one.path);
    const last = path.pop();
    let parent: unknown = next;
    for (const part of path) parent = (parent as Record<string, unknown>)[part];
    if (last === undefined) continue;
    // Defined, since `__proto__` is a key as any other.
    if ('after' in one)
      Object.defineProperty(parent, last, {
        value: structuredClone(one.after),
        configurable: true,
        enumerable: true,
        writable: true,
      });
    else if (Array.isArray(parent)) parent.splice(Number(last), 1);
    else Reflect.deleteProperty(parent as object, last);
  }
  return next;
}

const short = (value: unknown): string => {
  const text = typeof value === 'string' ? value : (JSON.stringify(value) ?? '');
  return text.length > 60 ? `${text.slice(0, 59)}…` : text;
};

/** A change in words: what it was, and what it is. */
const changeText = (change: { before?: unknown; after?: unknown }): string =>
  !('before' in change)
    ? `added ${short(change.after)}`
    : !('after' in change)
      ? `taken out, was ${short(change.before)}`
      : `${short(change.before)} → ${short(change.after)}`;

const FAMILY: Readonly<Record<string, string>> = {
  layers: 'Layer',
  flags: 'Flag',
  surfaces: 'Surface',
  hosts: 'Host',
  showings: 'Light',
};

/** What a place of a profile is called: a control for a binding, else its family and its name. */
export function placeName(
  path: readonly (string | number)[],
  profiles: readonly Profile[],
  surfaces: RondoFile['surfaces'],
): string {
  const [family, id] = path.map(String);
  for (const profile of profiles) {
    if (family === 'bindings' && Object.hasOwn(profile.bindings, id)) {
      const { control, layer } = profile.bindings[id];
      if (!control) return `When something changes (${id})`;
      const model = profile.surfaces[control.surface]?.model;
      const surface = surfaces.find((one) => one.id === model) ?? STOCK_SURFACES.get(model ?? '');
      const label = surface?.controls.find((one) => one.id === control.control)?.label;
      const on =
        layer === profile.layerOrder[0] ? '' : `, on ${profile.layers[layer]?.label ?? layer}`;
      return `${label ?? control.control}${on}`;
    }
    const list = (profile as unknown as Record<string, Record<string, { label?: string }>>)[family];
    if (Object.hasOwn(FAMILY, family) && id !== undefined && Object.hasOwn(list ?? {}, id))
      return `${FAMILY[family]} ${list[id].label ?? id}`;
  }
  return family ?? '';
}

/** Whether a place only says in what order things stand. */
export const isOrder = (family: string | undefined): boolean => family?.endsWith('Order') ?? false;

/** The words that an id is made of: ‘send 2’ for send2. */
const spelled = (id: string): string =>
  id
    .replace(/([A-Z]|\d+)/g, ' $1')
    .toLowerCase()
    .trim();

/** What a whole binding does, in its own words. */
export function doesText(binding: unknown): string {
  const actions = (binding as { actions?: { do: string; function?: string }[] }).actions ?? [];
  return actions.map((action) => spelled(action.function ?? action.do)).join(', ') || 'nothing';
}

/** What differs between two profiles, in words of their controls; surfaces of one's own may be told. */
export function profileDifferences(
  before: Profile,
  after: Profile,
  surfaces: RondoFile['surfaces'] = [],
): Difference[] {
  return differences(before, after, (path, change) => {
    const [family, id] = path.map(String);
    if (isOrder(family)) return `the order of ${family.replace(/Order$/, '')}s`;
    const name = placeName(path, [after, before], surfaces);
    if (family === 'bindings' && id !== undefined && path.length === 2)
      return 'after' in change
        ? `${name}: ${doesText(change.after)} bound`
        : `${name}: ${doesText(change.before)} taken off`;
    const rest = path.slice(2).map(String).join(' › ');
    return `${name}${rest ? ` › ${rest}` : ''}: ${changeText(change)}`;
  });
}

const FAMILIES = ['profiles', 'surfaces', 'hosts', 'palettes', 'layers'] as const;

/** A document of a file, and which of its family it is there. */
interface Placed {
  readonly document: { readonly name?: string };
  readonly at: number;
}

/** The documents of one family, each by what it is known by: its id, a palette’s name, a layer’s own id in its profile. */
function byKey(file: RondoFile, family: (typeof FAMILIES)[number]): Map<string, Placed> {
  const list: readonly { id?: string; name: string; layerOrder?: readonly string[] }[] =
    file[family] ?? [];
  return new Map(
    list.map((document, at) => {
      const { id, name, layerOrder = [] } = document;
      const key = family === 'layers' ? `${id} ${layerOrder.at(-1)}` : (id ?? name);
      return [key, { document, at }];
    }),
  );
}

/**
 * What differs between two files, document by document. A path leads to its place in the second file; to that in the first
 * where there is no such place in the second any more.
 */
export function fileDifferences(before: RondoFile, after: RondoFile): Difference[] {
  const surfaces = [...after.surfaces, ...before.surfaces];
  return FAMILIES.flatMap((family) => {
    const was = byKey(before, family);
    const is = byKey(after, family);
    return [...new Set([...was.keys(), ...is.keys()])].sort().flatMap((key): Difference[] => {
      const [old, now] = [was.get(key), is.get(key)];
      const name = (now ?? old)?.document.name ?? key;
      if (!old || !now) {
        const change = {
          ...(old ? { before: old.document } : {}),
          ...(now ? { after: now.document } : {}),
        };
        const path = pointerOf([family, (now ?? old)!.at]);
        return [{ path, ...change, says: `${name}: ${now ? 'added' : 'taken out'}` }];
      }
      const found =
        family === 'profiles' || family === 'layers'
          ? profileDifferences(old.document as Profile, now.document as Profile, surfaces)
          : differences(
              old.document,
              now.document,
              (path, change) => `${name} › ${path.map(String).join(' › ')}: ${changeText(change)}`,
            );
      return found.map((one) => ({
        ...one,
        path: pointerOf([family, 'after' in one ? now.at : old.at]) + one.path,
      }));
    });
  });
}
