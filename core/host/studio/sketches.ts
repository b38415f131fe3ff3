import { sketched, type Sketch } from '../numbered.js';
import { numbers } from './messages.js';
import { STRIPS, TRACKS } from './session.js';

const count = STRIPS.length;
export const strips = (sketch: Sketch, has: (strip: number) => boolean = () => true) =>
  sketched(sketch, 'strip', numbers.many(sketch.kind, count + 1, has, sketch.told));
export const tracks = (sketch: Sketch) =>
  strips(sketch, (strip) => strip < TRACKS.length || strip === count);
export const host = (sketch: Sketch) =>
  sketched(sketch, 'host', [numbers.one(sketch.kind, sketch.told)]);
export const trigger = (id: string, label: string, category: Sketch['category'], also: string) =>
  host({ id, label, category, kind: 'trigger', also });
export const toggle = (id: string, label: string, category: Sketch['category'], also: string) =>
  host({ id, label, category, kind: 'toggle', also });
export const place = (id: string, label: string, category: Sketch['category'], also: string) =>
  host({ id, label, category, kind: 'continuous', law: 'bars', also });
export const numbered = (total: number, make: (n: number) => ReturnType<typeof host>) =>
  Array.from({ length: total }, (_, index) => make(index + 1));
