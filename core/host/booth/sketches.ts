import { Numbers, sketched, type Sketch } from '../numbered.js';
import { DECKS } from './sizes.js';

/** Everything goes by non-registered parameters of channel 15, and texts under 7D, kept for private use by MIDI 1.0. */
const CHANNEL = 15;
const numbers = new Numbers(CHANNEL, [0x7d, 0x42]);

/** A function of each deck, and of the one in focus. */
export const deck = (sketch: Sketch) =>
  sketched(
    sketch,
    'strip',
    numbers.many(sketch.kind, DECKS + 1, () => true, sketch.told),
  );
/** A function of the whole program. */
export const host = (sketch: Sketch) =>
  sketched(sketch, 'host', [numbers.one(sketch.kind, sketch.told)]);

type Category = Sketch['category'];
/** @param also words by which it is found too */
export const trigger = (id: string, label: string, category: Category, also: string) =>
  deck({ id, label, category, kind: 'trigger', also });
export const toggle = (id: string, label: string, category: Category, also: string) =>
  deck({ id, label, category, kind: 'toggle', also });
export const smooth = (
  id: string,
  label: string,
  category: Category,
  law: NonNullable<Sketch['law']>,
  rest: number,
  also: string,
) => deck({ id, label, category, kind: 'continuous', law, rest, also });
export const text = (id: string, label: string, category: Category) =>
  deck({ id, label, category, kind: 'text', also: 'display' });
/** One for each number from 1. */
export const upTo = <T>(total: number, make: (n: number) => T): T[] =>
  Array.from({ length: total }, (_, index) => make(index + 1));
