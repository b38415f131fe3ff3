import * as z from 'zod';

/*
 * What a surface on glass, the server and the engine's worker say to each other: JSON in text messages of a WebSocket. A
 * glass says what fingers do and is told how its controls stand; the server only lets in who is paired and passes it on.
 */

/** The longest message of a glass, in bytes; a panel that an engine shows may be larger. */
export const LONGEST_FROM_GLASS = 2_048;
export const LONGEST_PANEL = 2 << 20;
/** Letters of a pairing code; none that is mistaken for another. */
export const CODE_LETTERS = 'ABCDEFGHJKMNPQRSTUVWXYZ23456789';
export const CODE_LENGTH = 8;

const id = z.string().min(1).max(200);
const secret = z.string().min(1).max(100);

export const HAND_DEEDS = ['touch', 'move', 'press', 'turn', 'squeeze', 'page'] as const;
const deed = {
  control: z.string().max(64),
  does: z.enum(HAND_DEEDS),
  /** A position or pressure 0…1, 1 or 0, ticks, or a page. */
  value: z.number().min(-1_000).max(1_000),
};

/** From a glass to the server. */
export const fromGlassSchema = z.discriminatedUnion('kind', [
  /** With the code of its address, to be remembered. */
  z.object({ kind: z.literal('pair'), code: z.string().max(20), name: z.string().max(60) }),
  z.object({ kind: z.literal('join'), id, secret }),
  z.object({ kind: z.literal('hand'), ...deed }),
  /** To see whether the way is still there; it comes back. */
  z.object({ kind: z.literal('echo') }),
]);
export type FromGlass = z.infer<typeof fromGlassSchema>;

/** Why a glass is not let in, or has nothing to show. */
const GLASS_REFUSALS = ['code', 'pause', 'unknown', 'revoked', 'full', 'fast', 'busy'] as const;
export type GlassRefusal = (typeof GLASS_REFUSALS)[number];

/** Stands between what a control does and whose that is. */
export const DOES_AND_WHOSE = '\n';

/** How controls stand: by place in their list, so that a change is short. */
const changesSchema = z.object({
  /** The onboard page that it is on. */
  page: z.int().optional(),
  /** Positions 0…1, or ticks turned in all, by place of the control. */
  at: z.array(z.tuple([z.int(), z.number()])).optional(),
  /** Numbers that lights, rings and meters show, by place of the output. */
  out: z.array(z.tuple([z.int(), z.number()])).optional(),
  text: z.array(z.tuple([z.int(), z.string().max(200)])).optional(),
  /** What controls do and whose that is, by place of the control; '' for nothing that has a name. */
  does: z.array(z.tuple([z.int(), z.string().max(200)])).optional(),
});
export type GlassChanges = z.infer<typeof changesSchema>;

/** From the server to a glass. */
export const toGlassSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('paired'), id, secret }),
  z.object({ kind: z.literal('refused'), why: z.enum(GLASS_REFUSALS) }),
  /** The surface that it shows; without one why not. */
  z.object({
    kind: z.literal('panel'),
    surface: z.unknown().optional(),
    why: z.string().max(300).optional(),
  }),
  z.object({ kind: z.literal('changes'), changes: changesSchema }),
  z.object({ kind: z.literal('echo') }),
]);
export type ToGlass = z.infer<typeof toGlassSchema>;

/** From the server to an engine. */
export const toGlassEngineSchema = z.discriminatedUnion('kind', [
  /** Who is there now, and by which surface's id it goes; said again when that changes. */
  z.object({
    kind: z.literal('there'),
    glasses: z.array(z.object({ glass: id, surface: z.string().max(64) })),
  }),
  /** A glass could not take all that was said to it: it is to be painted whole. */
  z.object({ kind: z.literal('anew'), glass: id, surface: z.string().max(64) }),
  z.object({ kind: z.literal('hand'), glass: id, surface: z.string().max(64), ...deed }),
]);
export type ToGlassEngine = z.infer<typeof toGlassEngineSchema>;

/** From an engine to the server, for all glasses of a surface, or for one of them. */
export const fromGlassEngineSchema = z.object({
  surface: z.string().max(64),
  glass: id.optional(),
  says: z.discriminatedUnion('kind', [toGlassSchema.options[2], toGlassSchema.options[3]]),
});
export type FromGlassEngine = z.infer<typeof fromGlassEngineSchema>;
