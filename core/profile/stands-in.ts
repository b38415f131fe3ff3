import { edit, type Edited } from '@rondo/core/document';
import { expectedPart, type HostModel } from '@rondo/core/host';
import {
  mainPart,
  inputsOf,
  outputsOf,
  turns,
  type Control,
  type InputPart,
  type OutputPart,
  type Surface,
} from '@rondo/core/surface';
import type { Scope } from './action.js';
import type { Binding, OutputRef, Profile, StandInPair, StandsIn } from './profile.js';

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
const expectedKey = (unit: number, control: string): string => `${unit} ${control}`;

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

/**
 * What a surface of a profile could stand in for before a program: what is bound by itself on the lowest layer is left
 * alone, and what others stand in for already is left to them, so that several make one desk together. Where they have
 * it all, it may do the same once more.
 * @param expected the units that the program expects
 */
export function proposeStandIn(
  profile: Profile,
  id: string,
  surface: Surface,
  host: string,
  expected: readonly Surface[],
): StandsIn {
  const [base] = profile.layerOrder;
  const keep = new Set<string>();
  for (const key of profile.bindingOrder) {
    const { control, layer } = profile.bindings[key];
    if (control?.surface === id && layer === base) keep.add(control.control);
  }
  const covered = new Set<string>();
  for (const other of profile.surfaceOrder) {
    const { standsIn } = profile.surfaces[other];
    if (other === id || standsIn?.host !== host) continue;
    for (const pair of standsIn.pairs) covered.add(expectedKey(pair.unit, pair.for));
  }
  const open = matchControls(surface, expected, keep, covered);
  return { host, pairs: open.length > 0 ? open : matchControls(surface, expected, keep) };
}

const nameOf = (profile: Profile, surface: string): string => profile.surfaces[surface].label;

/** Lets a surface stand in for what a host's program expects; null lets it be itself again. */
export const setStandsIn = (
  profile: Profile,
  surface: string,
  standsIn: StandsIn | null,
): Edited<Profile> =>
  edit(
    profile,
    standsIn
      ? `${nameOf(profile, surface)} stands in for another`
      : `${nameOf(profile, surface)} stands in for nothing`,
    (draft) => {
      if (standsIn) draft.surfaces[surface].standsIn = standsIn;
      else Reflect.deleteProperty(draft.surfaces[surface], 'standsIn');
    },
  );

/** Says which control stands in for an expected one; null for none. */
export const setPair = (
  profile: Profile,
  surface: string,
  expected: { readonly for: string; readonly unit: number },
  control: string | null,
): Edited<Profile> =>
  edit(profile, `What stands in for ${expected.for}`, (draft) => {
    const { standsIn } = draft.surfaces[surface];
    if (!standsIn) return;
    const at = standsIn.pairs.findIndex(
      (pair) => pair.for === expected.for && pair.unit === expected.unit,
    );
    if (control === null) {
      if (at >= 0) standsIn.pairs.splice(at, 1);
      return;
    }
    const pair = { control, for: expected.for, unit: expected.unit };
    // One control stands in for one other.
    const other = standsIn.pairs.findIndex((one) => one.control === control);
    if (other >= 0 && other !== at) standsIn.pairs.splice(other, 1);
    const now = standsIn.pairs.findIndex(
      (one) => one.for === expected.for && one.unit === expected.unit,
    );
    if (now >= 0) standsIn.pairs[now] = pair;
    else standsIn.pairs.push(pair);
  });

/** What ids of bindings begin with that nobody has made: a surface stands in for another. */
export const STANDS_IN = 'standsIn:';

interface StandInTarget {
  readonly host: string;
  readonly function: string;
  readonly scope: Scope;
}

/** What surfaces do by standing in for others. */
export interface StandInBindings {
  /** One for each part that the hand moves; they lie under all of the user's own. */
  readonly bindings: readonly Binding[];
  /** What is shown where no part of the same control moves it. */
  readonly shown: readonly { readonly out: OutputRef; readonly target: StandInTarget }[];
  /** What cannot be, in a sentence each. */
  readonly faults: readonly string[];
}

/** Outputs that follow a part which the hand moves, and need no telling. */
const FOLLOWS: Readonly<Partial<Record<OutputPart, InputPart>>> = {
  motor: 'value',
  ring: 'value',
  light: 'push',
};

/** Bindings that follow from what the surfaces of a profile stand in for: live, and nowhere written down. */
export function standsInBindings(
  profile: Profile,
  surfaceOf: (id: string) => Surface | undefined,
  hostOf: (model: string) => HostModel | undefined,
): StandInBindings {
  const bindings: Binding[] = [];
  const shown: { out: OutputRef; target: StandInTarget }[] = [];
  const faults: string[] = [];
  const [layer] = profile.layerOrder;
  for (const id of profile.surfaceOrder) {
    const { standsIn, label } = profile.surfaces[id];
    const surface = surfaceOf(id);
    if (!standsIn || !surface) continue;
    const { host } = standsIn;
    const known = Object.hasOwn(profile.hosts, host) ? profile.hosts[host] : undefined;
    const model = known && hostOf(known.model);
    if (!model?.expects) {
      faults.push(`${label} stands in for a surface, but ${known?.label ?? host} expects none.`);
      continue;
    }
    for (const { control: own, for: other, unit } of standsIn.pairs) {
      const control = surface.controls.find((one) => one.id === own);
      const targetOf = (part: InputPart | OutputPart): StandInTarget | null => {
        const found = expectedPart(model, unit, other, part);
        if (!found) return null;
        const scope: Scope =
          found.strip < 0 ? { kind: 'host' } : { kind: 'fixed', strip: found.strip };
        return { host, function: found.fn, scope };
      };
      const ins: InputPart[] = control
        ? inputsOf(surface, control).filter((part) => part !== 'touch')
        : [];
      const outs: OutputPart[] = control ? outputsOf(surface, control) : [];
      if (!control || ![...ins, ...outs].some(targetOf)) {
        faults.push(`${label} has no ${own} that could be ${other} of ${model.name}.`);
        continue;
      }
      for (const part of ins) {
        const target = targetOf(part);
        if (target)
          bindings.push({
            id: `${STANDS_IN}${id}:${own}:${part}`,
            layer,
            control: { surface: id, control: own, part },
            actions: [{ do: 'function', ...target, behaviour: 'follow' }],
          });
      }
      for (const part of outs) {
        const follows = FOLLOWS[part];
        if (follows && ins.includes(follows) && targetOf(follows)) continue;
        const target = targetOf(part);
        if (target) shown.push({ out: { surface: id, control: own, part }, target });
      }
    }
  }
  return { bindings, shown, faults };
}
