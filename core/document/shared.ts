import { redo, type Edit } from './edit.js';

/** An edit by its own name: the window that made it, and its number there, counted from 1. */
export interface Numbered {
  readonly from: string;
  readonly n: number;
  readonly edit: Edit;
}

/**
 * What one window has of a document that several windows edit. One of them leads: it puts all edits in one order, which all
 * follow. The others show their own edits at once, before the order is known.
 */
export interface Replica<T> {
  /** As the order has it so far. */
  readonly agreed: T;
  /** How many edits of each window the order has, or has left out. */
  readonly seen: Readonly<Record<string, number>>;
  /** Own edits that are not in the order yet. */
  readonly pending: readonly Numbered[];
}

/** A document that one window has just opened. */
export const replicaOf = <T>(document: T): Replica<T> => ({
  agreed: document,
  seen: {},
  pending: [],
});

/** The document as a window shows it: as agreed, with its own edits on top as far as they still apply. */
export const shown = <T extends object>({ agreed, pending }: Replica<T>): T =>
  pending.reduce((document, { edit }) => redo(document, edit) ?? document, agreed);

/** A window that follows makes an edit of its own. */
export const make = <T>(replica: Replica<T>, edit: Numbered): Replica<T> => ({
  ...replica,
  pending: [...replica.pending, edit],
});

/**
 * Whether an edit is the next of its window. One that the order has already is not; nor is one before which another of the
 * same window is missing, as while the lead changes: its window tells both again.
 */
export const isNext = (
  { seen }: { readonly seen: Readonly<Record<string, number>> },
  { from, n }: Pick<Numbered, 'from' | 'n'>,
): boolean => n === (seen[from] ?? 0) + 1;

/**
 * The next edit of the order, at the window that leads and at those that follow alike. One that no longer applies, since
 * another window has changed the same places, is left out everywhere. One that is not the next of its window changes nothing.
 */
export function order<T extends object>(
  replica: Replica<T>,
  numbered: Numbered,
): { replica: Replica<T>; applied: boolean } {
  if (!isNext(replica, numbered)) return { replica, applied: false };
  const { from, n, edit } = numbered;
  const next = redo(replica.agreed, edit);
  return {
    replica: {
      agreed: next ?? replica.agreed,
      seen: { ...replica.seen, [from]: n },
      pending: replica.pending.filter((own) => own.from !== from || own.n > n),
    },
    applied: next !== null,
  };
}

/** A window that follows takes over what the one that leads has: its own edits that are not in that stay on top. */
export const follow = <T>(
  { pending }: Replica<T>,
  { agreed, seen }: Pick<Replica<T>, 'agreed' | 'seen'>,
): Replica<T> => ({
  agreed,
  seen,
  pending: pending.filter(({ from, n }) => n > (seen[from] ?? 0)),
});

/** A window that followed leads from now on: its own edits that were not in the order are the next of it. */
export const lead = <T extends object>(replica: Replica<T>): Replica<T> =>
  replica.pending.reduce<Replica<T>>((now, own) => order(now, own).replica, replica);
