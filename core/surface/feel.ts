import * as z from 'zod';
import { CONTROL_KINDS, type ControlKind } from './kinds.js';

/** What happens where a control and its function disagree. */
export const TAKEOVERS = ['jump', 'pickup', 'scale', 'rest'] as const;
export type Takeover = (typeof TAKEOVERS)[number];

/** Kinds of control as far as they feel differently: a fader with a motor, and what springs back, stand apart. */
const FEEL_KINDS = ['motorFader', 'spring', ...CONTROL_KINDS] as const;
export type FeelKind = (typeof FEEL_KINDS)[number];

/** How a control feels. What is left out is inherited. */
export const feelSchema = z.looseObject({
  takeover: z.enum(TAKEOVERS).optional(),
  /** How near the control must come to the value for a pickup, as a share of the range. */
  tolerance: z.number().min(0).max(0.25).optional(),
  /** How far one tick goes, as a share of the range. */
  step: z.number().min(0.0001).max(1).optional(),
  /** How much further a tick goes in a fast turn; 1 for no difference. */
  acceleration: z.number().min(1).max(20).optional(),
  /** A press that is held as long is a long one, ms. */
  longPress: z.number().min(150).max(5_000).optional(),
  /** Two presses within this time are a double tap, ms. */
  doubleTap: z.number().min(100).max(1_000).optional(),
  /** How long a motor without touch sense waits after the hand, ms. */
  motorWait: z.number().min(0).max(5_000).optional(),
  /** How often a motor is told a place at most, times a second. */
  motorRate: z.number().min(1).max(1_000).optional(),
});
export type FeelSettings = z.infer<typeof feelSchema>;
export type Feeling = Required<
  Pick<
    FeelSettings,
    | 'takeover'
    | 'tolerance'
    | 'step'
    | 'acceleration'
    | 'longPress'
    | 'doubleTap'
    | 'motorWait'
    | 'motorRate'
  >
>;
export type FeelField = keyof Feeling;

/** Settings by kind of control, as a surface, a profile or a layer has them. */
export const feelByKindSchema = z.partialRecord(z.enum(FEEL_KINDS), feelSchema);

/** What goes without saying. Times and tolerance: common practice, no source. */
const USUAL: Feeling = {
  takeover: 'pickup',
  tolerance: 0.02,
  step: 0.01,
  acceleration: 1,
  longPress: 500,
  doubleTap: 300,
  motorWait: 400,
  motorRate: 1_000,
};

const BY_KIND: Partial<Record<FeelKind, Partial<Feeling>>> = {
  // A motor brings the fader to the value: nothing is to be picked up.
  motorFader: { takeover: 'jump' },
  spring: { takeover: 'rest' },
  switch: { takeover: 'jump' },
  // A finger lands anywhere.
  touchStrip: { takeover: 'jump' },
  xyPad: { takeover: 'jump' },
  list: { takeover: 'jump' },
  // Twenty-five ticks are half a turn of many encoders: from the middle to an end.
  encoder: { step: 0.02 },
  jog: { step: 0.02 },
  pad: { takeover: 'jump' },
  key: { takeover: 'jump' },
};

const USUAL_BY_KIND = new Map(FEEL_KINDS.map((kind) => [kind, { ...USUAL, ...BY_KIND[kind] }]));

/** How a kind of control feels where nobody has said otherwise. */
export const usualFeel = (kind: FeelKind): Feeling => USUAL_BY_KIND.get(kind) ?? USUAL;

/** What kind a control is as far as its feel goes. */
export function feelKindOf(
  control: {
    readonly kind: ControlKind;
    readonly springs?: string | undefined;
    readonly takes: { readonly motor?: unknown };
  },
  deviceTakes = true,
): FeelKind {
  if (control.springs) return 'spring';
  return control.takes.motor && deviceTakes ? 'motorFader' : control.kind;
}

/** What a kind of feel is called by people. */
export const feelKindName = (
  kind: FeelKind,
  names: Readonly<Record<ControlKind, string>>,
): string =>
  kind === 'motorFader' ? 'motor fader' : kind === 'spring' ? 'what springs back' : names[kind];

/** The levels that settings are inherited through, from the most general to the most special. */
export const LEVELS = ['usual', 'surface', 'profile', 'layer', 'binding'] as const;
export type Level = (typeof LEVELS)[number];

/** What each level above the usual says, where it says something. */
export type FeelLevels = Readonly<
  Partial<Record<Exclude<Level, 'usual'>, FeelSettings | undefined>>
>;

/** A setting, and the level that it comes from. */
export interface Inherited<T> {
  readonly value: T;
  readonly from: Level;
}

/** One setting as it holds, from the most special level that says something. */
export function inherit<F extends FeelField>(
  field: F,
  kind: FeelKind,
  levels: FeelLevels,
): Inherited<Feeling[F]> {
  let found: Inherited<Feeling[F]> = { value: usualFeel(kind)[field], from: 'usual' };
  for (const from of LEVELS) {
    const value = from === 'usual' ? undefined : levels[from]?.[field];
    if (value !== undefined) found = { value: value as Feeling[F], from };
  }
  return found;
}

/** All settings as they hold. */
export function feelOf(kind: FeelKind, { surface, profile, layer, binding }: FeelLevels): Feeling {
  const usual = usualFeel(kind);
  const value = <F extends FeelField>(field: F): Feeling[F] =>
    (binding?.[field] ??
      layer?.[field] ??
      profile?.[field] ??
      surface?.[field] ??
      usual[field]) as Feeling[F];
  return {
    takeover: value('takeover'),
    tolerance: value('tolerance'),
    step: value('step'),
    acceleration: value('acceleration'),
    longPress: value('longPress'),
    doubleTap: value('doubleTap'),
    motorWait: value('motorWait'),
    motorRate: value('motorRate'),
  };
}
