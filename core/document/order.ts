/** One entry of an order, and what stood on its two sides; null at an end. */
export interface Placed {
  readonly id: string;
  readonly after: string | null;
  readonly before: string | null;
}

/**
 * A change of an order of ids, as what left it and what came into it, each beside its neighbours: so it can be taken back
 * whatever else has come or gone since. What only moved is in both.
 */
export interface OrderPatch {
  readonly op: 'order';
  readonly path: readonly (string | number)[];
  readonly out: readonly Placed[];
  readonly in: readonly Placed[];
}

/** A list whose entries are all different: what an order of ids is. */
export const isOrderOfIds = (value: unknown): value is readonly string[] =>
  Array.isArray(value) &&
  value.every((one) => typeof one === 'string') &&
  new Set(value).size === value.length;

const placed = (list: readonly string[], at: number): Placed => ({
  id: list[at],
  after: list[at - 1] ?? null,
  before: list[at + 1] ?? null,
});

/** The most entries that stay in their places when a list of numbers is put in order (longest increasing subsequence). */
function staying(numbers: readonly number[]): Set<number> {
  // By length, where the sequence of that length ends that ends with the smallest number.
  const ends: number[] = [];
  const previous: number[] = [];
  numbers.forEach((number, at) => {
    let [low, high] = [0, ends.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (numbers[ends[middle]] < number) low = middle + 1;
      else high = middle;
    }
    previous[at] = low === 0 ? -1 : ends[low - 1];
    ends[low] = at;
  });
  const stay = new Set<number>();
  for (let at = ends.at(-1) ?? -1; at >= 0; at = previous[at]) stay.add(numbers[at]);
  return stay;
}

/** What has left an order and come into it, in the order in which it stands there. */
export function orderDifference(
  from: readonly string[],
  to: readonly string[],
): Pick<OrderPatch, 'in' | 'out'> {
  const target = new Map(to.map((id, at) => [id, at]));
  const stay = staying(from.flatMap((id) => target.get(id) ?? []));
  const goes = (id: string) => !stay.has(target.get(id) ?? -1);
  const source = new Set(from);
  return {
    out: from.flatMap((id, at) => (goes(id) ? [placed(from, at)] : [])),
    in: to.flatMap((id, at) => (!source.has(id) || !stay.has(at) ? [placed(to, at)] : [])),
  };
}

/**
 * Whether all that would leave an order is there, and nothing that would come; and whether what only moves still has a
 * neighbour that it had.
 */
export function orderHolds(now: unknown, { in: comes, out: leaves }: OrderPatch): boolean {
  if (!isOrderOfIds(now)) return false;
  const at = new Map(now.map((id, place) => [id, place]));
  const moving = new Set(leaves.map(({ id }) => id));
  const movesTo = new Set(comes.map(({ id }) => id));
  return (
    comes.every(({ id }) => moving.has(id) || !at.has(id)) &&
    leaves.every(({ id, after, before }) => {
      const place = at.get(id);
      if (place === undefined) return false;
      return (
        !movesTo.has(id) ||
        (now[place - 1] ?? null) === after ||
        (now[place + 1] ?? null) === before
      );
    })
  );
}

/** An order with a change made in it. What comes stands beside a neighbour that is there, or else at the end. */
export function ordered(now: readonly string[], { in: comes, out: leaves }: OrderPatch): string[] {
  const gone = new Set(leaves.map(({ id }) => id));
  const list = now.filter((id) => !gone.has(id));
  for (const { id, after, before } of comes) {
    const left = after === null ? -1 : list.indexOf(after);
    const right = before === null ? -1 : list.indexOf(before);
    if (after === null || left >= 0) list.splice(left + 1, 0, id);
    else list.splice(right >= 0 ? right : list.length, 0, id);
  }
  return list;
}
