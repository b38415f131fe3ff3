import * as z from 'zod';
import { LEVELS, type Level } from './feel.js';

/**
 * What a light can tell. `unavailable`: the host cannot do it now; `waiting`: it will, in its time; `armed`: the strip
 * is ready to record; `assumed`: it is on as far as we said so ourselves, and the host tells nothing.
 */
export const LIGHT_STATES = ['off', 'on', 'waiting', 'armed', 'unavailable', 'assumed'] as const;
export type LightState = (typeof LIGHT_STATES)[number];

/** How a light goes through time. `beat` flashes in time with the music. */
export const MOTIONS = ['steady', 'blink', 'pulse', 'beat', 'bar'] as const;
export type Motion = (typeof MOTIONS)[number];

const colour = z.string().regex(/^#[0-9a-fA-F]{6}$/, 'six hex digits after #');
const share = z.number().min(0).max(1);

/** How a light looks. What is left out is inherited. */
const glowSchema = z.looseObject({
  colour: colour.optional(),
  brightness: share.optional(),
  motion: z.enum(MOTIONS).optional(),
  /** A number of the device's own table, whatever its colour is. */
  number: z.int().min(0).max(16_383).optional(),
});
export type Glow = z.infer<typeof glowSchema>;

const bandSchema = z.looseObject({ ...glowSchema.shape, upTo: share });
export type Band = z.infer<typeof bandSchema>;

export const RING_CHOICES = ['fit', 'dot', 'fromCentre', 'fromEnd', 'widening'] as const;

/** Longest text template, in characters. */
const LONGEST_TEXT_RULE = 120;

/** What earlier versions called a gradient. */
const renamed = (value: unknown): unknown => (value === 'blend' ? 'gradient' : value);

/** What comes back to a control and how it looks there. What is left out is inherited. */
export const returnsSchema = z.looseObject({
  /** False: nothing comes back at all; lights, rings and texts stay dark, motors stay where they are. */
  feedback: z.boolean().optional(),
  /** False: the motor alone is left alone. */
  motor: z.boolean().optional(),
  /** By what a light looks: its state, bands of the value, smoothly between two ends, or as the host itself tells a lamp. */
  by: z.preprocess(renamed, z.enum(['state', 'bands', 'gradient', 'told'])).optional(),
  states: z.partialRecord(z.enum(LIGHT_STATES), glowSchema).optional(),
  bands: z.array(bandSchema).max(32).optional(),
  low: glowSchema.optional(),
  high: glowSchema.optional(),
  /** Lights and rings show the other way round. */
  invert: z.boolean().optional(),
  ring: z.enum(RING_CHOICES).optional(),
  /** Texts with places in braces, as {track} {value}. */
  upper: z.string().max(LONGEST_TEXT_RULE).optional(),
  lower: z.string().max(LONGEST_TEXT_RULE).optional(),
  /** How long a meter's highest place stays, ms; 0 for not at all. */
  peak: z.number().min(0).max(10_000).optional(),
});
export type ReturnSettings = z.infer<typeof returnsSchema>;

/** What each level says of what comes back, where it says something. */
export type ReturnLevels = Readonly<Partial<Record<Level, ReturnSettings | undefined>>>;

/** Levels from the most special to the most general. */
const FROM_SPECIAL = ['binding', 'layer', 'profile', 'surface', 'usual'] as const;

/** A state that says nothing of a field looks there as this one does. */
const LIKE: Readonly<Partial<Record<LightState, LightState>>> = {
  waiting: 'on',
  assumed: 'on',
  armed: 'off',
};

/** What goes without saying. Blinking for what waits: common practice, no source. */
const USUAL_RETURNS: ReturnSettings = {
  feedback: true,
  motor: true,
  by: 'state',
  states: {
    off: { colour: '#000000', brightness: 0, motion: 'steady' },
    on: { colour: '#ffffff', brightness: 1, motion: 'steady' },
    waiting: { motion: 'blink' },
    unavailable: { colour: '#000000', brightness: 0, motion: 'steady' },
  },
  bands: [
    { upTo: 0.7, colour: '#22c55e', brightness: 1, motion: 'steady' },
    { upTo: 0.9, colour: '#f59e0b', brightness: 1, motion: 'steady' },
    { upTo: 1, colour: '#ef4444', brightness: 1, motion: 'steady' },
  ],
  low: { colour: '#000000', brightness: 0 },
  high: { colour: '#ffffff', brightness: 1 },
  invert: false,
  ring: 'fit',
  upper: '{track}',
  lower: '{value}',
  peak: 0,
};

/** The fields that stand by themselves. */
export const RETURN_FIELDS = [
  'feedback',
  'motor',
  'by',
  'bands',
  'invert',
  'ring',
  'upper',
  'lower',
  'peak',
] as const;
export type ReturnField = (typeof RETURN_FIELDS)[number];
export const GLOW_FIELDS = ['colour', 'brightness', 'motion', 'number'] as const;
export type GlowField = (typeof GLOW_FIELDS)[number];

/** A setting as it holds, the level that says so, and what it would be were that level silent. */
export interface Settled<T> {
  readonly value: T;
  readonly from: Level;
  readonly otherwise: T;
}

function hold<T>(levels: ReturnLevels, read: (settings: ReturnSettings) => T): Settled<T> {
  const said = FROM_SPECIAL.flatMap((from) => {
    const settings = from === 'usual' ? (levels.usual ?? USUAL_RETURNS) : levels[from];
    const value = settings === undefined ? undefined : read(settings);
    const known = value ?? (from === 'usual' ? read(USUAL_RETURNS) : undefined);
    return known === undefined ? [] : [{ from, value: known }];
  });
  const [first, second] = said;
  return first === undefined
    ? { value: undefined as T, from: 'usual', otherwise: undefined as T }
    : { ...first, otherwise: (second ?? first).value };
}

/** A field as it holds, from the most special level that says something. */
export const heldField = <F extends ReturnField>(
  field: F,
  levels: ReturnLevels,
): Settled<NonNullable<ReturnSettings[F]>> =>
  hold(levels, (settings) => settings[field] as NonNullable<ReturnSettings[F]>);

/** What the levels up to one say, without those that are more special: what holds where only they are asked. */
export const upToLevel = (levels: ReturnLevels, level: Level): ReturnLevels =>
  Object.fromEntries(
    LEVELS.slice(0, LEVELS.indexOf(level) + 1).map((one) => [one, levels[one]]),
  ) as ReturnLevels;

/** Which look a glow belongs to: one of the states, or an end of a blend. */
export type GlowPlace = LightState | 'low' | 'high';

const glowAt = (settings: ReturnSettings, place: GlowPlace): Glow | undefined =>
  place === 'low' || place === 'high' ? settings[place] : settings.states?.[place];

/**
 * A field of a look as it holds. A pinned number ends where a more special level names a colour. What a state leaves
 * open at every level is as in the state that it is like: waiting as on, armed as off.
 */
export function inheritedGlow<F extends GlowField>(
  place: GlowPlace,
  field: F,
  levels: ReturnLevels,
): Settled<Glow[F]> {
  const found = hold<Glow[F]>(levels, (settings) => {
    const glow = glowAt(settings, place);
    return glow?.[field];
  });
  if (found.value !== undefined) return found;
  const like = LIKE[place as LightState];
  return like === undefined ? found : inheritedGlow(like, field, levels);
}

/** How a state, or an end of a blend, looks in the end. */
export function glowOf(place: GlowPlace, levels: ReturnLevels): Glow {
  const number = inheritedGlow(place, 'number', levels);
  const colour = inheritedGlow(place, 'colour', levels);
  const order = (from: Level): number => FROM_SPECIAL.indexOf(from);
  return {
    colour: colour.value ?? '#000000',
    brightness: inheritedGlow(place, 'brightness', levels).value ?? 1,
    motion: inheritedGlow(place, 'motion', levels).value ?? 'steady',
    ...(number.value !== undefined && order(number.from) <= order(colour.from)
      ? { number: number.value }
      : {}),
  };
}
