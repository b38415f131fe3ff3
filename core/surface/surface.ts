import * as z from 'zod';
import { readDocument, type Read } from '@rondo/core/document';
import { feelByKindSchema } from './feel.js';
import { returnsSchema } from './glow.js';
import { CONTROL_KINDS, type ControlKind } from './kinds.js';
import { isRelative, patternSchema, type Pattern } from './pattern.js';

export const SURFACE_FORMAT = 'rondo-surface';
export const SURFACE_VERSION = 1;

export const INPUT_PARTS = ['value', 'push', 'touch', 'pressure'] as const;
export const OUTPUT_PARTS = ['motor', 'light', 'ring', 'upper', 'lower', 'meter'] as const;
export type InputPart = (typeof INPUT_PARTS)[number];
export type OutputPart = (typeof OUTPUT_PARTS)[number];

/** What a part of a control is called by people. */
export const PART_NAMES: Readonly<Record<InputPart | OutputPart, string>> = {
  value: 'move',
  push: 'press',
  touch: 'touch',
  pressure: 'pressure',
  motor: 'motor',
  light: 'light',
  ring: 'ring',
  upper: 'upper line',
  lower: 'lower line',
  meter: 'meter',
};

/** Kinds that only show something. */
const SHOWING: ReadonlySet<ControlKind> = new Set(['display', 'label']);
/** Kinds that are pressed; all others but what only shows something are moved. */
const PRESSED: ReadonlySet<ControlKind> = new Set(['button', 'pad', 'key', 'pedal']);

/** The part that a kind is known by: its push for what is pressed, its value for what is moved. */
export const mainPart = (kind: ControlKind): InputPart | null =>
  SHOWING.has(kind) ? null : PRESSED.has(kind) ? 'push' : 'value';

/** Lamp colours that a drawing knows by name. */
export const LAMPS = ['amber', 'red', 'green', 'yellow', 'blue', 'white'] as const;

/** What lights can do: on and off, brightness, or the numbers of a colour table. Full colour is a message of its own. */
export const LIGHT_KINDS = ['onOff', 'brightness', 'palette'] as const;

const id = z
  .string()
  .min(1)
  .max(64)
  .regex(/^[a-zA-Z0-9][a-zA-Z0-9_.:-]*$/, 'letters, digits and - _ . : only');
const millimetres = z.number().min(-10_000).max(10_000);
const size = z.number().positive().max(5_000);

const sendsSchema = z.partialRecord(z.enum(INPUT_PARTS), patternSchema);
const takesSchema = z.partialRecord(z.enum(OUTPUT_PARTS), patternSchema);

export const controlSchema = z.looseObject({
  id,
  kind: z.enum(CONTROL_KINDS),
  label: z.string().max(40),
  /** A letter or sign on the control itself, in place of its label. */
  legend: z.string().max(12).optional(),
  /** Drawn round, where its kind leaves the choice. */
  round: z.boolean().optional(),
  /** Drawn dark, as the black keys of a piano. */
  dark: z.boolean().optional(),
  lamp: z.enum(LAMPS).optional(),
  /** How its light takes what it shows, where that is not as the device's others do. */
  light: z.enum(LIGHT_KINDS).optional(),
  /** Place and size on the panel, in millimetres from its top left corner. */
  x: millimetres,
  y: millimetres,
  width: size,
  height: size,
  /** Which strip of the surface it stands in, from 0, where it stands in one. */
  strip: z.int().min(0).max(63).optional(),
  sends: sendsSchema.default({}),
  takes: takesSchema.default({}),
  /** What it sends and takes on further onboard pages, by page id. */
  pages: z
    .record(id, z.looseObject({ sends: sendsSchema.default({}), takes: takesSchema.default({}) }))
    .optional(),
  /** A button that stays on in hardware until it is pressed again. */
  latching: z.boolean().optional(),
  /** Wire values that a switch stops at, lowest first. */
  positions: z.array(z.int().min(0).max(16_383)).min(2).max(64).optional(),
  /** What its positions are called, where they are chosen from a list. */
  names: z.array(z.string().max(40)).max(64).optional(),
  /** Of an XY pad: the control that goes with a finger's way from left to right; the pad itself goes with its way up. */
  across: id.optional(),
  /** It clicks into place in the middle. */
  detent: z.boolean().optional(),
  /** Where it springs back to when let go. */
  springs: z.enum(['centre', 'low']).optional(),
  /** It also works inside the device: when it is free for Rondo, in a few words. */
  inside: z.string().max(120).optional(),
  /** It sends nothing at all. */
  silent: z.boolean().optional(),
  /** What the device sheet asks for where that differs from what it was taught. */
  sheet: z
    .looseObject({ sends: sendsSchema.default({}), latching: z.boolean().optional() })
    .optional(),
});
export type Control = z.infer<typeof controlSchema>;

export const paletteColourSchema = z.looseObject({
  value: z.int().min(0).max(16_383),
  name: z.string().max(40).optional(),
  colour: z.string().regex(/^#[0-9a-fA-F]{6}$/, 'six hex digits after #'),
});

export type PaletteColour = z.infer<typeof paletteColourSchema>;

/** What the device can do and how it is reached. */
export const deviceSchema = z.looseObject({
  /** False for a device that sends nothing, as a lamp box. */
  sends: z.boolean().default(true),
  /** False for a device without an input: it gets no feedback. */
  takes: z.boolean().default(true),
  wire: z.enum(['usb', 'din', 'network']).default('usb'),
  /** How many bytes a second its output port carries: 3 125 on DIN (MIDI 1.0), more on USB. */
  bytesPerSecond: z.number().min(100).max(10_000_000).default(60_000),
  /** How long it has to rest after a SysEx before it takes more, ms. */
  sysexPause: z.number().min(0).max(1_000).default(0),
  palette: z.array(paletteColourSchema).max(20_000).default([]),
  /** What its lights can do; a colour table, where it has one, else on and off. */
  light: z.enum(LIGHT_KINDS).optional(),
  /** Its lights never go dark: one that is off is at its dimmest. */
  neverDark: z.boolean().optional(),
  /** The number by which the device itself makes a light blink. */
  blink: z.int().min(1).max(127).optional(),
  /** It speaks the Mackie-style protocol, as a main unit or as an extender beside one. */
  desk: z.enum(['main', 'extender']).optional(),
  /** Who it says it is; see the identity reply of MIDI 1.0. */
  identity: z
    .looseObject({ manufacturer: z.string().max(20), family: z.int(), member: z.int() })
    .optional(),
  /** Further lines of the device sheet, as its owner wrote them. */
  notes: z.array(z.string().max(200)).max(40).default([]),
});
export type Device = z.infer<typeof deviceSchema>;

const pageSchema = z.looseObject({
  id,
  label: z.string().max(40),
  /** The message by which the device says that this page is on, as hex pairs. */
  enter: z.string().max(400).optional(),
});

/** A physical or on-screen controller: its panel and what each part of it sends and takes. */
export const surfaceSchema = z.looseObject({
  format: z.literal(SURFACE_FORMAT).default(SURFACE_FORMAT),
  version: z.literal(SURFACE_VERSION).default(SURFACE_VERSION),
  id,
  name: z.string().trim().min(1).max(60),
  about: z.string().max(200).default(''),
  /** Panel size in millimetres. */
  width: size,
  height: size,
  device: deviceSchema.prefault({}),
  /** Onboard pages beside the first, which is what controls send by themselves. */
  pages: z.array(pageSchema).max(15).default([]),
  /** Name of the first page. */
  firstPage: pageSchema.optional(),
  /** How its controls feel, by kind, where that is not the usual. */
  feel: feelByKindSchema.optional(),
  /** What comes back to its controls and how it looks, where that is not the usual. */
  returns: returnsSchema.optional(),
  controls: z
    .array(controlSchema)
    .max(500)
    .superRefine((controls, context) => {
      const seen = new Set<string>();
      controls.forEach((control, index) => {
        if (seen.has(control.id))
          context.addIssue({
            code: 'custom',
            path: [index, 'id'],
            message: `“${control.id}” is there twice`,
          });
        seen.add(control.id);
      });
    }),
});
export type Surface = z.infer<typeof surfaceSchema>;

/** Reads a surface from parsed JSON: accepted whole or refused whole, with the path of each fault. */
export const readSurface = (value: unknown): Read<Surface> =>
  readDocument(value, surfaceSchema, { format: SURFACE_FORMAT, version: SURFACE_VERSION });

/** What a control sends on an onboard page (0 is the first). Nothing where it, or the device, sends nothing. */
export function sendsOf(
  surface: Surface,
  control: Control,
  page = 0,
): Partial<Record<InputPart, Pattern>> {
  if (control.silent || !surface.device.sends) return {};
  return page === 0 ? control.sends : (control.pages?.[surface.pages[page - 1].id]?.sends ?? {});
}

/** What a control takes on an onboard page (0 is the first). Nothing where the device takes nothing. */
export function takesOf(
  surface: Surface,
  control: Control,
  page = 0,
): Partial<Record<OutputPart, Pattern>> {
  if (!surface.device.takes) return {};
  return page === 0 ? control.takes : (control.pages?.[surface.pages[page - 1].id]?.takes ?? {});
}

/** The ids of the onboard pages, in order; the first has one of its own even where it has no name. */
export const pageIdsOf = (surface: Surface): string[] => [
  surface.firstPage?.id ?? 'first',
  ...surface.pages.map((page) => page.id),
];

/** The input parts that a control has, on whatever page. */
export const inputsOf = (surface: Surface, control: Control): InputPart[] =>
  INPUT_PARTS.filter((part) =>
    pagesOf(surface).some((page) => sendsOf(surface, control, page)[part]),
  );

/** The output parts that a control has, on whatever page. */
export const outputsOf = (surface: Surface, control: Control): OutputPart[] =>
  OUTPUT_PARTS.filter((part) =>
    pagesOf(surface).some((page) => takesOf(surface, control, page)[part]),
  );

/** Whether a surface is on the network and speaks OSC, which has nothing of MIDI. */
export const speaksOsc = ({ device }: Surface): boolean => device.wire === 'network';

/** The onboard pages by number; always at least 0. */
export const pagesOf = (surface: Surface): number[] => [
  0,
  ...surface.pages.map((_, index) => index + 1),
];

/** Whether a part of a control counts ticks. */
export function turns(surface: Surface, control: Control, part: InputPart): boolean {
  return pagesOf(surface).some((page) => {
    const pattern = sendsOf(surface, control, page)[part];
    return pattern !== undefined && isRelative(pattern);
  });
}

/** A surface with nothing on it yet. */
export function blankSurface(surfaceId: string, name: string): Surface {
  return surfaceSchema.parse({ id: surfaceId, name, width: 400, height: 200, controls: [] });
}
