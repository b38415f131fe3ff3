import type { Sketch } from '../numbered.js';
import { BUSES } from './session.js';

/** Where tracks can be sent to beside their bus. */
export const SENDS = BUSES;

/** Inserts of every strip, in order, with their parameters. */
export const INSERTS: readonly {
  readonly name: string;
  readonly also: string;
  readonly parameters: readonly (Pick<Sketch, 'label'> & Partial<Pick<Sketch, 'law' | 'rest'>>)[];
}[] = [
  {
    name: 'Equaliser',
    also: 'eq, tone, filter',
    parameters: [
      { label: 'Low gain', law: 'gain', rest: 0.5 },
      { label: 'Low frequency', law: 'frequency', rest: 0.25 },
      { label: 'Low-mid gain', law: 'gain', rest: 0.5 },
      { label: 'Low-mid frequency', law: 'frequency', rest: 0.45 },
      { label: 'Low-mid Q', law: 'quality', rest: 0.4 },
      { label: 'High-mid gain', law: 'gain', rest: 0.5 },
      { label: 'High-mid frequency', law: 'frequency', rest: 0.7 },
      { label: 'High-mid Q', law: 'quality', rest: 0.4 },
      { label: 'High gain', law: 'gain', rest: 0.5 },
      { label: 'High frequency', law: 'frequency', rest: 0.85 },
      { label: 'Low cut', law: 'frequency', rest: 0 },
      { label: 'Output', law: 'gain', rest: 0.5 },
    ],
  },
  {
    name: 'Compressor',
    also: 'dynamics, comp',
    parameters: [
      { label: 'Threshold', law: 'threshold', rest: 1 },
      { label: 'Ratio', law: 'ratio', rest: 0.4 },
      { label: 'Attack', law: 'time', rest: 0.3 },
      { label: 'Release', law: 'time', rest: 0.6 },
      { label: 'Make-up', law: 'gain', rest: 0.5 },
      { label: 'Mix', law: 'percent', rest: 1 },
    ],
  },
  {
    name: 'Echo',
    also: 'delay, repeat',
    parameters: [
      { label: 'Time', law: 'time', rest: 0.75 },
      { label: 'Feedback', law: 'percent', rest: 0.3 },
      { label: 'Tone', law: 'frequency', rest: 0.8 },
      { label: 'Mix', law: 'percent', rest: 0 },
    ],
  },
];
