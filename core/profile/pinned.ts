/**
 * The order in which the bindings of one gesture count, where some are pinned: what follows the focus of a host goes after
 * all that is pinned, and it alone gives way, whatever other layers there are.
 * @param list most wanted first
 */
export function pinnedFirst<Item>(
  list: readonly Item[],
  isPinned: (one: Item) => boolean,
  followsFocus: (one: Item) => boolean,
): readonly Item[] {
  const end = list.findLastIndex(isPinned) + 1;
  if (end === 0) return list;
  const givesWay = (one: Item) => followsFocus(one) && !isPinned(one);
  const upTo = list.slice(0, end);
  return [...upTo.filter((one) => !givesWay(one)), ...upTo.filter(givesWay), ...list.slice(end)];
}
