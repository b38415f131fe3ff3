import {
  mainPart,
  inputsOf,
  outputsOf,
  turns,
  type Control,
  type Surface,
} from '@rondo/core/surface';
import type { StandInPair } from './profile.js';

/** What a control is good for when it stands in for another. */
type Sort = 'place' | 'turn' | 'press' | 'text' | 'lamp';

function sortOf(surface: Surface, control: Control): Sort | null {
  const ins = inputsOf(surface, control);
  if (ins.includes('value')) return turns(surface, control, 'value') ? 'turn' : 'place';
  if (ins.includes('push')) return 'press';
  if (mainPart(control.kind) === null) return 'text';
  return outputsOf(surface, control).length > 0 ? 'lamp' : null;
}

/** What may stand in for what, the best first. */
const MAY: Readonly<Record<Sort, readonly Sort[]>> = {
  place: ['place', 'turn'],
  turn: ['turn', 'place'],
  press: ['press'],
  text: ['text'],
  lamp: ['lamp'],
};

/** Controls that belong side by side: of one run of names, and in one row. */
interface Row {
  readonly sort: Sort;
  readonly kind: Control['kind'];
  readonly unit: number;
  readonly inStrips: boolean;
  readonly controls: readonly Control[];
}

/** Keys without a number that no desk is of use without. */
const FIRST = /^(play|stop|record|rewind|forward|loop|click|bank|strip)/;

/** As many of one name as a desk has strips. */
const LONGEST_RUN = 8;

const stemOf = ({ id }: Control): string => id.replace(/\d+(?!.*\d)/, '#');

function rowsOf(surface: Surface, unit: number, controls: readonly Control[]): Row[] {
  const rows = new Map<string, Control[]>();
  const counts = new Map<string, number>();
  for (const control of controls)
    counts.set(stemOf(control), (counts.get(stemOf(control)) ?? 0) + 1);
  for (const control of controls) {
    const sort = sortOf(surface, control);
    if (!sort) continue;
    const stem = stemOf(control);
    // What has no number belongs to nothing; a short run that is wrapped is one row all the same.
    const isRun = (counts.get(stem) ?? 0) <= LONGEST_RUN;
    const line = !stem.includes('#') ? control.id : isRun ? '' : Math.round(control.y);
    const key = `${sort} ${stem} ${line}`;
    rows.set(key, [...(rows.get(key) ?? []), control]);
  }
  return [...rows.values()].map((row) => ({
    sort: sortOf(surface, row[0]) as Sort,
    kind: row[0].kind,
    unit,
    inStrips: row[0].strip !== undefined,
    controls: [...row].sort((a, b) => Math.round(a.y) - Math.round(b.y) || a.x - b.x),
  }));
}

/** When a row gets its turn: what stands in strips is what a desk is for; what has no number gets what is left. */
function turnOf({ inStrips, controls }: Row): number {
  const isRow = controls.length > 1;
  if (inStrips && isRow) return 0;
  if (FIRST.test(controls[0].id)) return 1;
  return isRow ? 2 : 3;
}

/** How well a row suits another, the lower the better; Infinity where it does not. */
function misfit(surface: Surface, row: Row, wanted: Row): number {
  const way = MAY[wanted.sort].indexOf(row.sort);
  if (way < 0) return Infinity;
  const short = Math.max(0, wanted.controls.length - row.controls.length);
  const motor = outputsOf(surface, row.controls[0]).includes('motor') ? 0 : 1;
  return way * 1_000 + short * 20 + (row.kind === wanted.kind ? 0 : 4) + motor;
}

/** One expected control of one unit. */
export const expectedKey = (unit: number, control: string): string => `${unit} ${control}`;

/** Controls that are called the same and are of the same sort, or mean the same by their message. */
function samePairs(
  surface: Surface,
  expected: readonly Surface[],
  keep: ReadonlySet<string>,
  covered: ReadonlySet<string>,
): StandInPair[] {
  const pairs: StandInPair[] = [];
  const used = new Set<string>();
  const isDesk = surface.device.desk !== undefined;
  const said = (control: Control) => JSON.stringify(Object.values(control.sends)[0] ?? control.id);
  // An extender is an extender first.
  const suits = (other: Surface) => Number(other.device.desk === surface.device.desk);
  const units = [...expected.entries()].sort(([, a], [, b]) => suits(b) - suits(a));
  for (const [unit, other] of units)
    for (const wanted of other.controls) {
      if (covered.has(expectedKey(unit, wanted.id))) continue;
      const like = surface.controls.filter(
        (control) =>
          !used.has(control.id) &&
          !keep.has(control.id) &&
          sortOf(surface, control) === sortOf(other, wanted),
      );
      const found =
        like.find((control) => control.id === wanted.id) ??
        // Two desks of one protocol mean the same by a message; of others that would be chance.
        (isDesk && other.device.desk !== undefined
          ? like.find((control) => said(control) === said(wanted))
          : undefined);
      if (!found || sortOf(surface, found) === null) continue;
      used.add(found.id);
      pairs.push({ control: found.id, for: wanted.id, unit });
    }
  return pairs;
}

/**
 * Which controls of a surface could stand in for those that a program expects: rows for rows in reading order, faders
 * before knobs, then key for key. A proposal; whoever wants it otherwise changes it.
 * @param expected the units that the program expects
 * @param keep controls that have a job of their own and are left alone
 * @param covered expected controls, by {@link expectedKey}, that another surface stands in for
 */
export function matchControls(
  surface: Surface,
  expected: readonly Surface[],
  keep: ReadonlySet<string> = new Set(),
  covered: ReadonlySet<string> = new Set(),
): StandInPair[] {
  const pairs = samePairs(surface, expected, keep, covered);
  const used = new Set(pairs.map(({ control }) => control));
  const met = new Set([...covered, ...pairs.map((pair) => expectedKey(pair.unit, pair.for))]);
  const free = rowsOf(
    surface,
    0,
    surface.controls.filter(({ id }) => !keep.has(id) && !used.has(id)),
  ).sort((a, b) => a.controls[0].y - b.controls[0].y || a.controls[0].x - b.controls[0].x);
  const wanted = expected
    .flatMap((other, unit) =>
      rowsOf(
        other,
        unit,
        other.controls.filter(({ id }) => !met.has(expectedKey(unit, id))),
      ),
    )
    .sort(
      (a, b) =>
        turnOf(a) - turnOf(b) ||
        b.controls.length - a.controls.length ||
        a.controls[0].y - b.controls[0].y,
    );
  for (const row of wanted) {
    const best = free
      .map((one, at) => ({ at, worth: misfit(surface, one, row) }))
      .filter(({ worth }) => worth < Infinity)
      .sort((a, b) => a.worth - b.worth || a.at - b.at)[0];
    if (!best) continue;
    const [taken] = free.splice(best.at, 1);
    const count = Math.min(taken.controls.length, row.controls.length);
    for (let n = 0; n < count; n++)
      pairs.push({ control: taken.controls[n].id, for: row.controls[n].id, unit: row.unit });
    const rest = taken.controls.slice(count);
    if (rest.length > 0) free.splice(best.at, 0, { ...taken, controls: rest });
  }
  return pairs;
}
