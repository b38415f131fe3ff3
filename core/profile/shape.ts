import * as z from 'zod';

/** A share of a travel or of a range. What lies outside 0…1 is read, clamped where it is used, and counted. */
export const shareSchema = z.number().min(-1_000).max(1_000);

export const CURVES = ['linear', 'exponential', 's', 'drawn'] as const;

const curveSchema = z.discriminatedUnion('kind', [
  z.looseObject({ kind: z.literal('linear') }),
  /** Positive bends start slowly and end fast, negative the other way round; 0 is straight. */
  z.looseObject({ kind: z.literal('exponential'), bend: z.number().min(-8).max(8) }),
  /** Positive bends are slow at both ends, negative in the middle; 0 is straight. */
  z.looseObject({ kind: z.literal('s'), bend: z.number().min(-8).max(8) }),
  /** Straight lines between points, in order of x. */
  z.looseObject({
    kind: z.literal('drawn'),
    points: z
      .array(z.looseObject({ x: shareSchema, y: shareSchema }))
      .min(2)
      .max(64),
  }),
]);
export type Curve = z.infer<typeof curveSchema>;

/** A stretch of the travel, from where the one before ends up to `upTo`. The last one goes to the end in any case. */
const zoneSchema = z.discriminatedUnion('does', [
  /** Always this value. */
  z.looseObject({ does: z.literal('value'), upTo: shareSchema, value: shareSchema }),
  /** The stretch is spread over a range of its own. */
  z.looseObject({
    does: z.literal('range'),
    upTo: shareSchema,
    low: shareSchema,
    high: shareSchema,
  }),
  /** Nothing is told to the host here. */
  z.looseObject({ does: z.literal('nothing'), upTo: shareSchema }),
]);
export type Zone = z.infer<typeof zoneSchema>;

/**
 * How a control's travel becomes a function's value: dead band, then zones, or curve, direction, range and steps.
 * Everything is a share, 0…1.
 */
export const shapeSchema = z.looseObject({
  /** The range of the function that is reached: its value at the low end of the travel, and at the high end. */
  low: shareSchema.optional(),
  high: shareSchema.optional(),
  invert: z.boolean().optional(),
  curve: curveSchema.optional(),
  /** Width of the middle that counts as the exact middle, and of each end that counts as the end. */
  deadMiddle: z.number().min(0).max(0.5).optional(),
  deadEnds: z.number().min(0).max(0.25).optional(),
  /** The range in so many values, evenly spread; 2 for its ends only. */
  steps: z.int().min(2).max(128).optional(),
  zones: z.array(zoneSchema).min(1).max(64).optional(),
});
export type Shape = z.infer<typeof shapeSchema>;

/** Zones of the same width that choose the values given, the lowest first. */
export const zonesOf = (values: readonly number[]): Zone[] =>
  values.map((value, i) => ({ does: 'value', upTo: (i + 1) / values.length, value }));

/**
 * What one of several functions does with a travel that they share, each its own part, from the low end to the high one: in
 * its part it goes over its whole range, and it rests at the nearer end of that elsewhere.
 * @param at which of them it is, from 0
 * @param of how many share the travel
 */
export const partOfTravel = (at: number, of: number): Zone[] => [
  ...(at > 0 ? [{ does: 'value' as const, upTo: at / of, value: 0 }] : []),
  { does: 'range' as const, upTo: (at + 1) / of, low: 0, high: 1 },
  ...(at < of - 1 ? [{ does: 'value' as const, upTo: 1, value: 1 }] : []),
];
