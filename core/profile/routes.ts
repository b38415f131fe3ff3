import { edit, type Edited } from '@rondo/core/document';
import type { Draft } from 'immer';
import type { Destination } from './action.js';
import { MESSAGE_KINDS, type MessageKind, type Profile, type Route } from './profile.js';

/** A host or a surface of a profile as one word, as links are keyed. */
export const endKey = (end: Destination): string =>
  'host' in end ? `host:${end.host as string}` : `surface:${end.surface as string}`;

/** What a host or a surface is called in a profile; its id where it is not there. */
export function endLabel(profile: Profile, end: Destination): string {
  const [all, id]: [Profile['surfaces'] | Profile['hosts'], string] =
    'host' in end ? [profile.hosts, end.host as string] : [profile.surfaces, end.surface as string];
  return Object.hasOwn(all, id) ? all[id].label : id;
}

/** Routes of one input, in their order. */
export const routesFrom = (profile: Profile, from: Destination): Route[] =>
  profile.routeOrder
    .map((id) => profile.routes[id])
    .filter((route) => endKey(route.from) === endKey(from));

/** What can still be of a message that goes along: kinds, and channels as bits. */
interface Load {
  readonly kinds: readonly MessageKind[];
  readonly channels: number;
}
const ALL: Load = { kinds: MESSAGE_KINDS, channels: 0xffff };
/** Kinds that belong to no channel. */
const CHANNELLESS: ReadonlySet<MessageKind> = new Set(['sysex', 'clock', 'osc']);

/** What of a load a route takes, as it goes on; null where nothing does. */
function along({ kinds, channels }: Load, route: Route): Load | null {
  const taken = kinds.filter((kind) => route.kinds.includes(kind));
  const mask = route.channels?.reduce((bits, channel) => bits | (1 << (channel - 1)), 0) ?? 0xffff;
  const left = channels & mask;
  const carried = left === 0 ? taken.filter((kind) => CHANNELLESS.has(kind)) : taken;
  if (carried.length === 0) return null;
  return {
    kinds: carried,
    channels: left !== 0 && route.channel !== undefined ? 1 << (route.channel - 1) : left,
  };
}

/**
 * The way on which a message could come back to where it started, were a route there: what it goes along, by name, from
 * that start to itself. Null where none can. Notes that a transposition would push out of range in the end count as coming
 * back: they do, some hundred times.
 * @param others the routes that count beside it
 */
export function loopOf(
  profile: Profile,
  route: Route,
  others: readonly Route[] = profile.routeOrder.map((id) => profile.routes[id]),
): string[] | null {
  const all = [...others.filter(({ id }) => id !== route.id), route];
  const start = endKey(route.from);
  const walk = (at: string, load: Load, path: readonly Destination[]): Destination[] | null => {
    if (at === start) return [...path];
    for (const next of all) {
      const key = endKey(next.to);
      if (endKey(next.from) !== at) continue;
      const isNew = key === start || path.every((end) => endKey(end) !== key);
      const goesOn = isNew ? along(load, next) : null;
      const found = goesOn && walk(key, goesOn, [...path, next.to]);
      if (found) return found;
    }
    return null;
  };
  const first = along(ALL, route);
  const found = first && walk(endKey(route.to), first, [route.from, route.to]);
  return found ? found.map((end) => endLabel(profile, end)) : null;
}

/**
 * The routes that do not count since a message would come back along them, with its way: of those that make a loop together
 * the first ones count.
 */
export function loopsOf(profile: Profile): ReadonlyMap<string, readonly string[]> {
  const loops = new Map<string, readonly string[]>();
  const counted: Route[] = [];
  for (const id of profile.routeOrder) {
    const route = profile.routes[id];
    const loop = loopOf(profile, route, counted);
    if (loop) loops.set(id, loop);
    else counted.push(route);
  }
  return loops;
}

/** What a route takes, and how it goes on. */
export type RouteTerms = Pick<
  Route,
  'kinds' | 'channels' | 'notes' | 'transpose' | 'channel' | 'rest'
>;

/** Adds a route behind all others. */
export function addRoute(
  profile: Profile,
  from: Destination,
  to: Destination,
  terms: RouteTerms,
): Edited<Profile> & { readonly id: string } {
  let n = profile.routeOrder.length + 1;
  while (Object.hasOwn(profile.routes, `route-${n}`)) n++;
  const id = `route-${n}`;
  const name = `Route ${endLabel(profile, from)} to ${endLabel(profile, to)}`;
  return {
    id,
    ...edit(profile, name, (draft) => {
      draft.routes[id] = { ...structuredClone({ ...terms, from, to }), id } as Draft<Route>;
      draft.routeOrder.push(id);
    }),
  };
}

/** Changes what a route takes, and how it goes on. What is set to undefined is left out. */
export function changeRoute(
  profile: Profile,
  id: string,
  change: Partial<RouteTerms> & { readonly to?: Destination },
): Edited<Profile> {
  if (!Object.hasOwn(profile.routes, id)) return { document: profile, edit: null };
  const { from, to } = profile.routes[id];
  const name = `Route ${endLabel(profile, from)} to ${endLabel(profile, to)}`;
  return edit(profile, name, (draft) => {
    const route = draft.routes[id] as Record<string, unknown>;
    for (const [key, value] of Object.entries(change))
      if (value === undefined) Reflect.deleteProperty(route, key);
      else route[key] = value;
  });
}

/** Takes a route out. */
export function removeRoute(profile: Profile, id: string): Edited<Profile> {
  if (!Object.hasOwn(profile.routes, id)) return { document: profile, edit: null };
  const { from, to } = profile.routes[id];
  const name = `Remove the route ${endLabel(profile, from)} to ${endLabel(profile, to)}`;
  return edit(profile, name, (draft) => dropRoutes(draft, (route) => route.id === id));
}

/** Takes routes out of a profile that is being edited. */
export function dropRoutes(draft: Draft<Profile>, isGone: (route: Route) => boolean): void {
  const gone = draft.routeOrder.filter((id) => isGone(draft.routes[id] as Route));
  for (const id of gone) Reflect.deleteProperty(draft.routes, id);
  if (gone.length > 0) draft.routeOrder = draft.routeOrder.filter((id) => !gone.includes(id));
}
