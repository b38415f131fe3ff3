import * as z from 'zod';
import { idSchema, labelSchema } from './names.js';
import { shapeSchema, shareSchema } from './shape.js';

/** Which instance of a function. */
export const scopeSchema = z.discriminatedUnion('kind', [
  /** The host's own. */
  z.looseObject({ kind: z.literal('host') }),
  /** One strip for good. Strips count from 0 here, from 1 wherever people see them. */
  z.looseObject({ kind: z.literal('fixed'), strip: z.int().min(0).max(1023) }),
  /** The strip that is selected in the host, or its deck in focus. */
  z.looseObject({ kind: z.literal('selected') }),
  /** A strip of the bank window. */
  z.looseObject({ kind: z.literal('window'), offset: z.int().min(0).max(63) }),
  /** A parameter of what has focus, by its place on the page; `function` then names what tells the focus. */
  z.looseObject({ kind: z.literal('focus'), slot: z.int().min(0).max(63) }),
]);
export type Scope = z.infer<typeof scopeSchema>;

const functionName = z.string().min(1).max(64);

/** One instance of a function of a host. */
const target = { host: idSchema, function: functionName, scope: scopeSchema };

/** What a showing shows: a host's function, a layer or a flag. */
export const targetSchema = z.union([
  z.looseObject(target),
  z.looseObject({ layer: idSchema }),
  z.looseObject({ flag: idSchema }),
]);
export type Target = z.infer<typeof targetSchema>;

/** What must hold for a binding or an action to count. A state that is not known holds for nothing. */
export const conditionSchema = z.union([
  z.looseObject({ flag: idSchema, is: z.enum(['on', 'off']) }),
  z.looseObject({ layer: idSchema, is: z.enum(['on', 'off']) }),
  z.looseObject({
    ...target,
    is: z.enum(['on', 'off', 'atLeast', 'below']),
    /** For `atLeast` and `below`. */
    value: shareSchema.optional(),
  }),
]);
export type Condition = z.infer<typeof conditionSchema>;

export const BEHAVIOURS = ['follow', 'toggle', 'momentary', 'set', 'step'] as const;
export type Behaviour = (typeof BEHAVIOURS)[number];

/** A host or a surface of the profile, as somewhere to send to. */
export const destinationSchema = z.union([
  z.looseObject({ host: idSchema }),
  z.looseObject({ surface: idSchema }),
]);
export type Destination = z.infer<typeof destinationSchema>;

const when = { when: z.array(conditionSchema).max(8).optional() };

/** What Rondo itself can be told from a surface, in the order of the engine's own table. */
export const RONDO_COMMANDS = ['repaint', 'panic', 'holdOff', 'askHosts'] as const;
export type RondoCommand = (typeof RONDO_COMMANDS)[number];

export const actionSchema = z.discriminatedUnion('do', [
  z.looseObject({
    ...when,
    ...target,
    do: z.literal('function'),
    /**
     * follow: the value itself; toggle: the other end of the range at each press; momentary: the high end while held;
     * set: `to`, at each press; step: `by` further at each press.
     */
    behaviour: z.enum(BEHAVIOURS),
    to: shareSchema.optional(),
    /** How far one tick of a relative control moves the value, as a share of its range. */
    step: z.number().min(0.0001).max(1).optional(),
    /** Choices, or hundredths of the range, that a press moves on by; negative is back. */
    by: z.int().min(-128).max(128).optional(),
    /** After the last step comes the first. */
    wrap: z.boolean().optional(),
    shape: shapeSchema.optional(),
  }),
  /** Moves the bank window by some strips; negative is to the left. */
  z.looseObject({ ...when, do: z.literal('bank'), by: z.int().min(-64).max(64) }),
  z.looseObject({
    ...when,
    do: z.literal('layer'),
    layer: idSchema,
    /** hold: while pressed; toggle, on, off: from then on. */
    how: z.enum(['hold', 'toggle', 'on', 'off']),
  }),
  /** The next or previous layer of a radio group. */
  z.looseObject({
    ...when,
    do: z.literal('layerStep'),
    group: labelSchema,
    by: z.union([z.literal(1), z.literal(-1)]),
    wrap: z.boolean().default(false),
  }),
  z.looseObject({
    ...when,
    do: z.literal('flag'),
    flag: idSchema,
    how: z.enum(['hold', 'toggle', 'on', 'off']),
  }),
  /** Any message, or the one that came in, as it is. */
  z.looseObject({
    ...when,
    do: z.literal('send'),
    to: destinationSchema,
    /** Hex pairs with `value`, or `high` and `low`; without it the incoming message. */
    message: z.string().max(1_024).optional(),
    /** What stands in the place of `text`: a rule with places in braces, as {layer}. */
    text: z.string().max(120).optional(),
  }),
  /** A note or a chord, for as long as it is pressed. */
  z.looseObject({
    ...when,
    do: z.literal('notes'),
    to: destinationSchema,
    channel: z.int().min(1).max(16),
    notes: z.array(z.int().min(0).max(127)).min(1).max(16),
    /** 1–127; as it was played where it is left out. */
    velocity: z.int().min(1).max(127).optional(),
  }),
  /** Turns the page of parameters of what has focus. */
  z.looseObject({
    ...when,
    do: z.literal('focusPage'),
    host: idSchema,
    by: z.union([z.literal(1), z.literal(-1)]),
    wrap: z.boolean().default(false),
  }),
  /**
   * Something that Rondo does itself: shows everything anew, releases all that is held, keeps touches from hosts or lets them
   * through again, asks every host for its full state.
   */
  z.looseObject({ ...when, do: z.literal('rondo'), command: z.enum(RONDO_COMMANDS) }),
  /** Goes over to a set-up, which may be one of another profile; what it was called when it was bound. */
  z.looseObject({ ...when, do: z.literal('setUp'), setUp: idSchema, name: z.string().max(60) }),
]);
export type Action = z.infer<typeof actionSchema>;
export type FunctionAction = Extract<Action, { do: 'function' }>;

/** A change of a host's state that is a binding's cause: it comes on, goes off, or changes at all. */
export const causeSchema = z.looseObject({
  ...target,
  when: z.enum(['on', 'off', 'change']),
});
export type Cause = z.infer<typeof causeSchema>;

/** Gestures of what is pressed; a move is the only one of what is moved. */
export const GESTURES = ['press', 'release', 'longPress', 'doubleTap'] as const;
export type Gesture = (typeof GESTURES)[number];
