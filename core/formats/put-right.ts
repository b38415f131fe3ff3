import { isOrderOfIds, type Fault } from '@rondo/core/document';

/** Lists that say in which order the entries beside them come. */
const ORDERS = [
  ['surfaces', 'surfaceOrder'],
  ['hosts', 'hostOrder'],
  ['layers', 'layerOrder'],
  ['flags', 'flagOrder'],
  ['routes', 'routeOrder'],
  ['bindings', 'bindingOrder'],
  ['showings', 'showingOrder'],
] as const;

type Fields = Readonly<Record<string, unknown>>;
const isFields = (value: unknown): value is Fields =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

const named = (ids: readonly string[]): string =>
  ids
    .map((id) => `“${id}”`)
    .slice(0, 3)
    .join(', ') + (ids.length > 3 ? ` and ${ids.length - 3} more` : '');

/**
 * A profile whose orders name just what stands beside them: who edits a file by hand adds or takes out an entry and forgets
 * the list. What else is wrong with it is left for the reader to tell.
 */
export function putOrdersRight(value: unknown): { value: unknown; putRight: Fault[] } {
  if (!isFields(value)) return { value, putRight: [] };
  const putRight: Fault[] = [];
  const fields: Record<string, unknown> = { ...value };
  for (const [family, order] of ORDERS) {
    const entries = value[family];
    const list = value[order] ?? [];
    if (!isFields(entries) || !Array.isArray(list)) continue;
    if (!list.every((one): one is string => typeof one === 'string')) continue;
    const there = [...new Set(list.filter((id) => Object.hasOwn(entries, id)))];
    const lacking = Object.keys(entries).filter((id) => !there.includes(id));
    if (isOrderOfIds(list) && there.length === list.length && lacking.length === 0) continue;
    const gone = [...new Set(list.filter((id) => !Object.hasOwn(entries, id)))];
    const says = [
      ...(lacking.length > 0 ? [`${named(lacking)} put at the end`] : []),
      ...(gone.length > 0 ? [`${named(gone)} left out, since there is no such entry`] : []),
      ...(there.length + gone.length < list.length && gone.length === 0
        ? ['what was named twice is named once']
        : []),
    ];
    fields[order] = [...there, ...lacking];
    putRight.push({ path: order, message: says.join('; '), at: [order] });
  }
  return { value: putRight.length > 0 ? fields : value, putRight };
}
