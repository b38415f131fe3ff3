import { edit, type Edited } from '@rondo/core/document';
import { mainPart, type Control, type Surface } from '@rondo/core/surface';

/** How much of their own height controls of one row may be apart. */
const ROW = 0.5;
/** The last strip that a surface can say, from 0. */
export const LAST_STRIP = 63;
/** As few like controls in a row make strips. */
const FEWEST = 3;

const middle = ({ x, width }: Control): number => x + width / 2;
const level = ({ y, height }: Control): number => y + height / 2;

/** Like controls that stand side by side, from left to right, in an arc too; the rows from top to bottom. */
export function rowsOf(controls: readonly Control[]): Control[][] {
  const rows: Control[][] = [];
  for (const control of [...controls].sort((a, b) => level(a) - level(b) || a.x - b.x)) {
    const row = rows.find((one) => {
      const near = one[one.length - 1];
      return (
        near.kind === control.kind &&
        level(control) - level(near) <= ROW * Math.min(near.height, control.height)
      );
    });
    if (row) row.push(control);
    else rows.push([control]);
  }
  return rows.map((row) => row.sort((a, b) => a.x - b.x));
}

/** What strips are made of first: faders, then what is turned, then pads and keys of a panel. */
const MAKES: readonly (readonly Control['kind'][])[] = [
  ['fader'],
  ['knob', 'encoder'],
  ['pad'],
  ['button'],
];

/**
 * Which strip each control of a surface stands in, from 0: as the surface says, else found from the longest row of like
 * controls, each of which heads a column. What stands in no column is left out.
 */
export function stripsOf({ controls }: Pick<Surface, 'controls'>): ReadonlyMap<string, number> {
  const said = controls.filter(({ strip }) => strip !== undefined);
  if (said.length > 0) return new Map(said.map(({ id, strip }) => [id, strip as number]));
  const heads = headsOf(controls);
  if (heads.length < FEWEST) return halvesOf(controls);
  const pitch = Math.min(...heads.slice(1).map((head, at) => middle(head) - middle(heads[at])));
  const strips = new Map<string, number>();
  for (const control of controls) {
    // What is as wide as two columns belongs to none, and keys that are played stand in none.
    if (control.width > pitch * 1.2 || control.kind === 'key' || !mainPart(control.kind)) continue;
    const at = heads.findIndex((head) => Math.abs(middle(head) - middle(control)) <= pitch * 0.4);
    if (at >= 0) strips.set(control.id, at);
  }
  return strips;
}

/**
 * Puts controls of a surface into a strip, from 0, or out of every strip (null). What was found of the others is said from
 * then on, so that the correction of one moves none of them.
 */
export function inStrip(
  surface: Surface,
  ids: readonly string[],
  strip: number | null,
): Edited<Surface> {
  const found = stripsOf(surface);
  const isThere = ids.every((id) => (found.get(id) ?? null) === strip);
  if (isThere || (strip ?? 0) > LAST_STRIP) return { document: surface, edit: null };
  const name = strip === null ? 'Out of every strip' : `Into strip ${strip + 1}`;
  return edit(surface, name, (draft) => {
    for (const control of draft.controls) {
      const at = ids.includes(control.id) ? strip : (found.get(control.id) ?? null);
      if (at === null || at > LAST_STRIP) Reflect.deleteProperty(control, 'strip');
      else control.strip = at;
    }
  });
}

/** As few pairs of like controls make two halves of one panel. */
const FEWEST_PAIRS = 4;

const isMoved = ({ kind }: Control): boolean =>
  kind === 'fader' || kind === 'knob' || kind === 'encoder';

/** The two halves of a panel that has everything twice, side by side, as a mixer of two channels. */
function halvesOf(controls: readonly Control[]): ReadonlyMap<string, number> {
  const twins = new Map<number, [Control, Control][]>();
  for (const left of controls)
    for (const right of controls) {
      const apart = Math.round(right.x - left.x);
      const isTwin =
        apart > left.width &&
        right.kind === left.kind &&
        Math.abs(level(right) - level(left)) < 1 &&
        Math.abs(right.width - left.width) < 1;
      if (isTwin) twins.set(apart, [...(twins.get(apart) ?? []), [left, right]]);
    }
  // What stands furthest apart, where two distances go as well.
  const [, pairs] = [...twins].reduce<[number, [Control, Control][]]>(
    (best, one) =>
      one[1].length > best[1].length || (one[1].length === best[1].length && one[0] > best[0])
        ? one
        : best,
    [0, []],
  );
  if (pairs.length < FEWEST_PAIRS) return new Map();
  // A field of keys has twins everywhere: where something is moved, it stands on both sides too.
  const moved = controls.filter(isMoved);
  if (moved.length > 0 && !pairs.some(([left]) => isMoved(left))) return new Map();
  return new Map(pairs.flatMap(([left, right]) => [[left.id, 0] as const, [right.id, 1] as const]));
}

function headsOf(controls: readonly Control[]): readonly Control[] {
  for (const kinds of MAKES) {
    // One fader beside a row of keys is one strip, and its keys are no columns.
    if (kinds.includes('button') && controls.some(isMoved)) break;
    const rows = rowsOf(controls.filter(({ kind }) => kinds.includes(kind))).map(evenly);
    const longest = rows.reduce<Control[]>(
      (best, row) => (row.length > best.length ? row : best),
      [],
    );
    if (longest.length >= FEWEST) return longest;
  }
  return [];
}

/** The part of a row that stands at even distances: a fader that stands apart, as a master does, is none of the strips. */
function evenly(row: readonly Control[]): Control[] {
  let best: Control[] = row.slice(0, 1);
  for (let from = 0; from + 1 < row.length; from++) {
    const pitch = middle(row[from + 1]) - middle(row[from]);
    let to = from + 1;
    while (
      to + 1 < row.length &&
      Math.abs(middle(row[to + 1]) - middle(row[to]) - pitch) < 0.25 * pitch
    )
      to++;
    if (to - from + 1 > best.length) best = row.slice(from, to + 1);
  }
  return best;
}
