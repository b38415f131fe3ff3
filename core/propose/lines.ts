import munkres from 'munkres';
import {
  actionAt,
  assign,
  gainOf,
  hasOwnWord,
  isSaid,
  sayer,
  tidy,
  type Assigned,
} from './assign.js';
import type { Place } from './places.js';
import { rowsOf } from './strips.js';
import { isPressed, type Together, type Wish } from './wishes.js';

/** What stands together, in one line or alone. */
export type Group = readonly Assigned[];

/** As few channels are a mixer. */
const FEWEST_CHANNELS = 2;

/** As few of a numbered run are one, and as few of a bundle. */
const FEWEST: Readonly<Record<Together['kind'], number>> = { strips: 1, run: 4, bundle: 2 };

/**
 * Wishes at places, so that what belongs together stands side by side: a function of every strip in one line with all of
 * them or not at all, a numbered run in its order, the rest where it is written or suits best. Lines are given by the
 * assignment by which most is gained (Munkres, 1957), what gains most for each place first. The same input gives the same
 * answer.
 * @param wishes what is wanted most first
 * @param isLowest what is wanted most of all is there even where there are fewer controls than strips
 */
export function arrange(
  wishes: readonly Wish[],
  free: readonly Place[],
  isLowest: boolean,
): Group[] {
  const groups = arranged(wishes, free, isLowest);
  const placed = new Set(groups.flat().map(({ wish }) => wish));
  const halves = new Set(
    wishes.filter((wish) => !placed.has(wish)).flatMap(({ together }) => together?.whole ?? []),
  );
  const isHalf = ({ together }: Wish) => halves.has(together?.whole ?? '');
  return groups.flat().some(({ wish }) => isHalf(wish))
    ? arrange(
        wishes.filter((wish) => !isHalf(wish)),
        free,
        isLowest,
      )
    : groups;
}

function arranged(wishes: readonly Wish[], free: readonly Place[], isLowest: boolean): Group[] {
  const [most] = wishes;
  const first = isLowest && most && !isPressed(most.suits) ? most.together?.key : undefined;
  const names = new Set([...wishes.flatMap((wish) => wish.names), ...LAYER_WORDS]);
  const saidAt = sayer(names);
  const lined: Group[] = [];
  const alone: Assigned[] = [];
  let left = wishes;
  let open = free;
  const take = (group: Group): void => {
    const [ws, ps] = [new Set(group.map((a) => a.wish)), new Set(group.map((a) => a.place))];
    left = left.filter((wish) => !ws.has(wish));
    open = open.filter((place) => !ps.has(place));
  };

  // What stands on several is of a row, if there is one.
  const ofRows = new Set(
    wishes.flatMap((wish) => (wish.together?.kind === 'strips' ? wish.names : [])),
  );
  const saying = (name: string) => free.filter((place) => saidAt(place).has(name)).length;
  const isWritten = (place: Place) =>
    [...saidAt(place)].some((name) => !ofRows.has(name) || saying(name) === 1);
  const written = assign(left.filter(mayStandAlone), open.filter(isWritten)).filter(
    (one) => one.isSaid,
  );
  take(written);
  alone.push(...written);

  const all = linesOf(free);
  const hasStrips = ({ ref, control }: Place, count: number): boolean =>
    all.some(
      (line) =>
        line.length >= count &&
        line[0].strip !== null &&
        line[0].control.kind === control.kind &&
        line[0].ref.surface === ref.surface,
    );
  for (;;) {
    const best = bestOf(unitsOf(left), linesOf(open), { saidAt, hasStrips, first });
    if (!best) break;
    take(best);
    lined.push(best);
    // What is left of a row that a smaller mixer has taken goes nowhere else.
    const { together } = best[0].wish;
    if (together?.kind === 'strips')
      left = left.filter((wish) => wish.together?.key !== together.key);
  }

  alone.push(...assign(left.filter(mayStandAlone), open));
  return [...inOrder(runsInOrder(lined)), ...tidy(alone).map((one) => [one])];
}

/** What is written on keys that are meant to turn layers on (common practice, no source). */
export const LAYER_WORDS: readonly string[] = ['layer', 'shift', 'page', 'mode', 'modifier'];

const mayStandAlone = ({ together }: Wish): boolean =>
  together === null || together.kind === 'bundle';

/** Places that are free as lines, from left to right; those of units that extend each other go on from one to the next. */
function linesOf(free: readonly Place[]): readonly (readonly Place[])[] {
  const lines: Place[][] = [];
  const joined = new Map<string, Place[]>();
  for (const surface of new Set(free.map(({ ref }) => ref.surface))) {
    const at = new Map(
      free.flatMap((place) => (place.ref.surface === surface ? [[place.control, place]] : [])),
    );
    const ranks = new Map<string, number>();
    for (const row of rowsOf([...at.keys()])) {
      const here = row.flatMap((control) => at.get(control) ?? []);
      const beside = here.filter(({ strip }) => strip === null);
      if (beside.length > 0) lines.push(beside);
      for (const line of oneAStrip(here.filter(({ strip }) => strip !== null))) {
        const rank = ranks.get(line[0].control.kind) ?? 0;
        ranks.set(line[0].control.kind, rank + 1);
        const key = `${line[0].control.kind} ${rank}`;
        const before = joined.get(key);
        const strips = new Set(line.map(({ strip }) => strip));
        if (before && !before.some(({ strip }) => strips.has(strip))) before.push(...line);
        else {
          joined.set(key, line);
          lines.push(line);
        }
      }
    }
  }
  return lines;
}

/** A row of places, parted so that no strip is there twice. */
function oneAStrip(row: readonly Place[]): Place[][] {
  const lines: Place[][] = [];
  for (const place of row) {
    const line = lines.find((one) => one.every(({ strip }) => strip !== place.strip));
    if (line) line.push(place);
    else lines.push([place]);
  }
  return lines;
}

interface Unit {
  readonly kind: Together['kind'];
  /** In order: by strip, or by rule and number. */
  readonly wishes: readonly Wish[];
}

function unitsOf(wishes: readonly Wish[]): Unit[] {
  const units = new Map<string, { kind: Together['kind']; wishes: Wish[] }>();
  for (const wish of wishes) {
    if (!wish.together) continue;
    const { key, kind } = wish.together;
    const unit = units.get(key) ?? { kind, wishes: [] };
    unit.wishes.push(wish);
    units.set(key, unit);
  }
  const place = ({ strip, order }: Wish) => (strip ?? 0) * 1e6 + order;
  for (const { wishes: own } of units.values()) own.sort((a, b) => place(a) - place(b));
  return [...units.values()];
}

/** What lines are looked at with. */
interface Surroundings {
  /** Which names that are wanted stand on a place. */
  readonly saidAt: (place: Place) => ReadonlySet<string>;
  /** Whether a surface has so many strips with controls like the one of a place. */
  readonly hasStrips: (place: Place, count: number) => boolean;
  /** The row that may have gaps. */
  readonly first: string | undefined;
}

/** What it costs besides to be one of a row or of a run on a key that has a word of its own. */
const STRAY = 25;
const strayCost = (place: Place): number => (place.strip === null && hasOwnWord(place) ? STRAY : 0);

/** Whether what has fewer strips than there are decks, or than a wider surface beside it, has a row with all that it has. */
function isAllOf(line: readonly Place[], group: Group): boolean {
  return group.length >= FEWEST_CHANNELS && group.length === line[0].strips;
}

interface Fit {
  /** A row with gaps, which counts only where it is whole nowhere. */
  readonly hasGaps: boolean;
  readonly group: Group;
  /** What is gained at each place, at the mean: what a short unit leaves free is not lost. */
  readonly gain: number;
}
const NO_FIT: Fit = { hasGaps: false, group: [], gain: 0 };

/** The unit in its line that gains most a place, within the best assignment of units to lines. */
function bestOf(
  units: readonly Unit[],
  lines: readonly (readonly Place[])[],
  room: Surroundings,
): Group | null {
  if (units.length === 0 || lines.length === 0) return null;
  const fits = units.map((unit) => {
    const own = lines.map((line) => fitOf(unit, line, room));
    const isSomewhere = own.some(({ group, hasGaps }) => group.length > 0 && !hasGaps);
    return own.map((fit) => (fit.hasGaps && isSomewhere ? NO_FIT : fit));
  });
  let best = NO_FIT;
  for (const [unit, line] of munkres(fits.map((row) => row.map(({ gain }) => -gain))))
    if (fits[unit][line].gain > best.gain) best = fits[unit][line];
  return best === NO_FIT ? null : best.group;
}

function fitOf(
  { kind, wishes }: Unit,
  line: readonly Place[],
  { saidAt, hasStrips, first }: Surroundings,
): Fit {
  const group: Assigned[] = [];
  let gain = 0;
  let hasGaps = false;
  const put = (wish: Wish, place: Place | undefined): void => {
    const gained = place ? gainOf(wish, place, saidAt(place)) - strayCost(place) : 0;
    const action = place && gained > 0 ? actionAt(wish, place) : null;
    if (!place || !action) return;
    group.push({ wish, place, action, isSaid: isSaid(wish, saidAt(place)) });
    gain += gained;
  };
  if (kind === 'strips') {
    const inStrips = line[0].strip !== null;
    if (!inStrips && hasStrips(line[0], wishes.length)) return NO_FIT;
    wishes.forEach((wish, at) => {
      put(wish, inStrips ? line.find(({ strip }) => strip === wish.strip) : line[at]);
    });
    hasGaps = group.length < wishes.length && !isAllOf(line, group);
    if (hasGaps && wishes[0].together?.key !== first) return NO_FIT;
  } else {
    const rest = [...line];
    for (const wish of wishes) {
      const at = rest.findIndex(
        (place) => gainOf(wish, place, saidAt(place)) - strayCost(place) > 0,
      );
      if (at < 0) break;
      put(wish, rest[at]);
      rest.splice(0, at + 1);
    }
    const fewest = kind === 'run' ? Math.min(FEWEST.run, wishes.length) : FEWEST[kind];
    if (group.length < fewest) return NO_FIT;
  }
  return group.length > 0 ? { hasGaps, group, gain: gain / group.length } : NO_FIT;
}

/** A run that goes on from one line to the next counts on from the upper one to the lower. */
function runsInOrder(groups: readonly Group[]): Group[] {
  const runs = new Map<string, Group[]>();
  for (const group of groups) {
    const [{ wish, place }] = group;
    const { key, kind } = wish.together ?? { key: '', kind: 'strips' };
    const like =
      kind === 'strips' ? `${runs.size}` : `${key} ${place.ref.surface} ${place.control.kind}`;
    runs.set(like, [...(runs.get(like) ?? []), group]);
  }
  return [...runs.values()].flatMap((list) => {
    if (list.length === 1) return list;
    const wishes = list.flat().sort((a, b) => a.wish.order - b.wish.order);
    let next = 0;
    return [...list].sort(byPlace).map((group) =>
      group.map(({ place }) => {
        const { wish, isSaid: was } = wishes[next++];
        return { wish, place, action: actionAt(wish, place) ?? wish.action, isSaid: was };
      }),
    );
  });
}

const byPlace = ([a]: Group, [b]: Group): number =>
  a.place.control.y - b.place.control.y || a.place.control.x - b.place.control.x;

/** Groups on lines of like places in the order of their wishes, from the top. */
function inOrder(groups: readonly Group[]): Group[] {
  const alike = new Map<string, Group[]>();
  for (const group of groups) {
    const [{ place }] = group;
    const strips = group.map((one) => one.place.strip).join();
    const key = group.some((one) => one.isSaid)
      ? `said ${alike.size}`
      : `${place.ref.surface} ${place.control.kind} ${place.part} ${group.length} ${strips}`;
    alike.set(key, [...(alike.get(key) ?? []), group]);
  }
  return [...alike.values()].flatMap((list) => {
    const lines = [...list].sort(byPlace).map((group) => group.map(({ place }) => place));
    const moved = [...list]
      .sort(([a], [b]) => a.wish.order - b.wish.order)
      .map((group, at) =>
        group.flatMap(({ wish, isSaid: was }, n) => {
          const action = actionAt(wish, lines[at][n]);
          return action ? [{ wish, place: lines[at][n], action, isSaid: was }] : [];
        }),
      );
    return moved.every((group, at) => group.length === list[at].length) ? moved : list;
  });
}
