import type { Control, OutputPart, Pattern } from '@rondo/core/surface';

export const enum Shows {
  Motor,
  Light,
  Ring,
  Text,
  Meter,
}

/** What an output shows: what a part is bound to, or the name or meter of the same strip. */
export interface Source {
  readonly part: number;
  readonly pick: 'own' | 'name' | 'meter';
}

/** An output part of a control and what it shows. */
export interface OutPlan {
  readonly key: string;
  readonly link: number;
  readonly local: number;
  readonly control: Control;
  readonly part: OutputPart;
  /** What it takes on each onboard page. */
  readonly patterns: readonly (Pattern | undefined)[];
  readonly shows: Shows;
  /** It is a meter that falls by itself and needs to be told of rises only. */
  readonly falls: boolean;
  /** The part that the hand moves beside a motor; −1 elsewhere. */
  readonly mover: number;
  /** A lower text line has two and shows the one moved last. */
  readonly sources: readonly Source[];
  /** A display that stands in no strip: it shows what was moved last on its surface. */
  readonly isStripless: boolean;
  /** What shows here beside its own control, the highest layer first: showings as bindings that nothing triggers. */
  readonly showings: readonly ShownHere[];
}

/** A showing on one of its outputs. */
export interface ShownHere {
  readonly binding: number;
  /** Its place in a row, from 0, and how many there are; −1 where each shows the whole. */
  readonly place: number;
  readonly count: number;
}
