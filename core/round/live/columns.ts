/** What a piece of live state belongs to. `one` is the engine as a whole. */
export const FAMILIES = [
  'one',
  'link',
  'part',
  'out',
  'slot',
  'binding',
  'action',
  'layer',
  'cause',
  'route',
  'focusItem',
] as const;
export type Family = (typeof FAMILIES)[number];

/** How many of each family a plan has. */
export type Sizes = Readonly<Record<Family, number>>;

/** Where each member of a family stood in the plan before, and where one of then stands now; −1 for nowhere. */
export interface Move {
  /** Place before, by place now. */
  readonly was: Int32Array;
  /** Place now, by place before. */
  readonly now: Int32Array;
  /** Everything stands where it stood. */
  readonly stays: boolean;
}
export type Moves = Readonly<Record<Family, Move>>;

/** Members of a family in the order in which they came to be on a list; each is on it once. */
export class IndexList {
  readonly items: Int32Array;
  count = 0;

  constructor(capacity: number) {
    this.items = new Int32Array(capacity);
  }

  add(item: number): void {
    this.items[this.count++] = item;
  }

  /** Takes one off; the order of the others stays. */
  remove(item: number): void {
    const at = this.items.indexOf(item);
    if (at < 0 || at >= this.count) return;
    this.items.copyWithin(at, at + 1, this.count);
    this.count--;
  }
}

/** A piece of live state of every member of a family: how it is made, and how it goes on under another plan. */
export interface Column<Kept> {
  readonly family: Family;
  make(size: number): Kept;
  carry(from: Kept, to: Kept, moves: Moves): void;
}

type Numbers = Uint8Array | Int8Array | Int32Array | Float64Array;

/** What a number in a column refers to; below 0 it refers to nothing. */
interface Refers {
  readonly to: Family;
  /** What stands there when what it referred to is gone. */
  readonly gone: number;
}

interface NumberOptions {
  /** What a new member has; 0 unless said. */
  readonly fill?: number;
  /** Numbers a member has side by side; 1 unless said. */
  readonly width?: number;
  readonly refers?: Family;
  /** What stands there when what it refers to is gone; −1 unless said. */
  readonly gone?: number;
}

function numbers<Kept extends Numbers>(
  family: Family,
  array: new (length: number) => Kept,
  { fill = 0, width = 1, refers, gone = -1 }: NumberOptions,
): Column<Kept> {
  const reference: Refers | null = refers ? { to: refers, gone } : null;
  return {
    family,
    make: (size) => new array(size * width).fill(fill) as Kept,
    carry: (from, to, moves) => {
      const { was, stays } = moves[family];
      const now = reference && moves[reference.to].now;
      if (stays && (!reference || moves[reference.to].stays)) {
        to.set(from);
        return;
      }
      for (let i = 0; i < was.length; i++) {
        if (was[i] < 0) continue;
        for (let n = 0; n < width; n++) {
          const kept = from[was[i] * width + n];
          if (!now || kept < 0) to[i * width + n] = kept;
          else to[i * width + n] = now[kept] < 0 ? gone : now[kept];
        }
      }
    },
  };
}

/** Whole numbers from 0 to 255. */
export const bytes = (family: Family, options: NumberOptions = {}): Column<Uint8Array> =>
  numbers(family, Uint8Array, options);
/** Whole numbers from −128 to 127. */
export const smalls = (family: Family, options: NumberOptions = {}): Column<Int8Array> =>
  numbers(family, Int8Array, options);
export const wholes = (family: Family, options: NumberOptions = {}): Column<Int32Array> =>
  numbers(family, Int32Array, options);
export const reals = (family: Family, options: NumberOptions = {}): Column<Float64Array> =>
  numbers(family, Float64Array, options);

/** Anything that is kept as it is, by reference. */
export const things = <Thing>(family: Family, fresh: () => Thing): Column<Thing[]> => ({
  family,
  make: (size) => Array.from({ length: size }, fresh),
  carry: (from, to, moves) => {
    const { was } = moves[family];
    for (let i = 0; i < was.length; i++) if (was[i] >= 0) to[i] = from[was[i]];
  },
});

/** Members of a family that wait for something, in their order. */
export const list = (family: Family): Column<IndexList> => ({
  family,
  make: (size) => new IndexList(size),
  carry: (from, to, moves) => {
    const { now } = moves[family];
    to.count = 0;
    for (let i = 0; i < from.count; i++) {
      const item = now[from.items[i]];
      if (item >= 0) to.add(item);
    }
  },
});

type Kept<C> = C extends Column<infer K> ? K : never;
/** All columns of a table, made. */
export type Made<Table> = { readonly [Name in keyof Table]: Kept<Table[Name]> };

/** Makes every column of a table. */
export function makeAll<Table extends Readonly<Record<string, Column<unknown>>>>(
  table: Table,
  sizes: Sizes,
): Made<Table> {
  return Object.fromEntries(
    Object.entries(table).map(([name, column]) => [name, column.make(sizes[column.family])]),
  ) as Made<Table>;
}

/** Takes every column of a table over from another plan's: the one way in which live state is carried. */
export function carryAll<Table extends Readonly<Record<string, Column<unknown>>>>(
  table: Table,
  from: Made<Table>,
  to: Made<Table>,
  moves: Moves,
): void {
  for (const [name, column] of Object.entries(table))
    column.carry(from[name] as never, to[name] as never, moves);
}
