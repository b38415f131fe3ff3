import { z } from 'zod';
import { patternSchema } from './pattern.js';

export const CONTROL_KINDS = ['fader', 'encoder', 'button', 'jog', 'display'] as const;
export const INPUT_PARTS = ['value', 'push', 'touch'] as const;
export const OUTPUT_PARTS = ['motor', 'light', 'ring', 'upper', 'lower', 'meter'] as const;
export type InputPart = (typeof INPUT_PARTS)[number];
export type OutputPart = (typeof OUTPUT_PARTS)[number];

export const controlSchema = z.looseObject({
  id: z.string().min(1).max(64),
  kind: z.enum(CONTROL_KINDS),
  label: z.string().max(40),
  /** Place and size on the panel, in millimetres from its top left corner. */
  x: z.number(),
  y: z.number(),
  width: z.number().positive(),
  height: z.number().positive(),
  /** Which of the surface's eight strips it stands in, 0–7, where it stands in one. */
  strip: z.int().min(0).optional(),
  sends: z.partialRecord(z.enum(INPUT_PARTS), patternSchema).default({}),
  takes: z.partialRecord(z.enum(OUTPUT_PARTS), patternSchema).default({}),
});
export type Control = z.infer<typeof controlSchema>;

/** A physical or on-screen controller: its panel and what each part of it sends and takes. */
export const surfaceSchema = z.looseObject({
  id: z.string().min(1).max(64),
  name: z.string().min(1).max(60),
  about: z.string().max(200),
  /** Panel size in millimetres. */
  width: z.number().positive(),
  height: z.number().positive(),
  /** How many bytes a second its output port carries: 3 125 on DIN (MIDI 1.0), more on USB. */
  bytesPerSecond: z.number().positive(),
  controls: z.array(controlSchema),
});
export type Surface = z.infer<typeof surfaceSchema>;

/** What a part of a control is called by people. */
export const PART_NAMES: Readonly<Record<InputPart | OutputPart, string>> = {
  value: 'move',
  push: 'press',
  touch: 'touch',
  motor: 'motor',
  light: 'light',
  ring: 'ring',
  upper: 'upper line',
  lower: 'lower line',
  meter: 'meter',
};
