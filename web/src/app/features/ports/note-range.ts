import type { Route } from '@rondo/core/profile';

/** Notes from one to another, 0–127, both among them. */
export type NoteRange = NonNullable<Route['notes']>;

/** A range with one of its ends at another note; the other end gives way, so that it is never empty. */
export function withEnd({ from, to }: NoteRange, end: 'from' | 'to', note: number): NoteRange {
  return end === 'from'
    ? { from: note, to: Math.max(note, to) }
    : { from: Math.min(note, from), to: note };
}
