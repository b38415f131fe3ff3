import { z } from 'zod';
import { readDocument, type Read } from '@rondo/core/document';
import { INPUT_PARTS } from '@rondo/core/surface';

export const PROFILE_FORMAT = 'rondo-profile';
export const PROFILE_VERSION = 2;

const id = z
  .string()
  .min(1)
  .max(64)
  .regex(/^[a-zA-Z0-9][a-zA-Z0-9_.:-]*$/, 'letters, digits and - _ . : only');
const label = z.string().trim().min(1).max(80);

/** Which instance of a function: the host's own, one strip for good, or a strip of the bank window. */
export const scopeSchema = z.discriminatedUnion('kind', [
  z.looseObject({ kind: z.literal('host') }),
  /** Strips count from 0 here, from 1 wherever people see them. */
  z.looseObject({ kind: z.literal('fixed'), strip: z.int().min(0).max(1023) }),
  /** The strip that is selected in the host, or its deck in focus. */
  z.looseObject({ kind: z.literal('selected') }),
  z.looseObject({ kind: z.literal('window'), offset: z.int().min(0).max(63) }),
]);
export type Scope = z.infer<typeof scopeSchema>;

export const BEHAVIOURS = ['follow', 'toggle', 'momentary', 'set'] as const;

export const actionSchema = z.discriminatedUnion('do', [
  z.looseObject({
    do: z.literal('function'),
    host: id,
    function: z.string().min(1).max(64),
    scope: scopeSchema,
    /** follow: the value itself; toggle and momentary: on/off; set: `to`, on press. */
    behaviour: z.enum(BEHAVIOURS),
    to: z.number().min(0).max(1).optional(),
    /** How far one tick of a relative control moves the value, as a share of its range. */
    step: z.number().min(0.0001).max(1).optional(),
  }),
  /** Moves the bank window by some strips; negative is to the left. */
  z.looseObject({ do: z.literal('bank'), by: z.int().min(-64).max(64) }),
]);
export type Action = z.infer<typeof actionSchema>;
export type FunctionAction = Extract<Action, { do: 'function' }>;

export const controlRefSchema = z.looseObject({
  surface: id,
  control: id,
  part: z.enum(INPUT_PARTS),
});
export type ControlRef = z.infer<typeof controlRefSchema>;

export const bindingSchema = z.looseObject({
  id,
  layer: id,
  control: controlRefSchema,
  actions: z.array(actionSchema).min(1).max(16),
});
export type Binding = z.infer<typeof bindingSchema>;

/** What the messages of a surface's port are for. What is not named here is for control. */
export const rolesSchema = z.looseObject({
  /** Notes that are played: they never fire a command. A channel of null is every channel. */
  notes: z
    .array(
      z.looseObject({
        channel: z.int().min(1).max(16).nullable(),
        from: z.int().min(0).max(127),
        to: z.int().min(0).max(127),
      }),
    )
    .max(16)
    .default([]),
  /** Its clock is the one to follow. */
  clock: z.boolean().default(false),
});
export type Roles = z.infer<typeof rolesSchema>;

/** A profile document. Fields that this version does not know are kept. */
export const profileSchema = z
  .looseObject({
    format: z.literal(PROFILE_FORMAT),
    version: z.literal(PROFILE_VERSION),
    id,
    name: label,
    surfaces: z.record(id, z.looseObject({ id, model: id, label, roles: rolesSchema.optional() })),
    surfaceOrder: z.array(id).max(16),
    hosts: z.record(id, z.looseObject({ id, model: id, label })),
    hostOrder: z.array(id).max(8),
    layers: z.record(id, z.looseObject({ id, label })),
    layerOrder: z.array(id).min(1).max(64),
    bindings: z.record(id, bindingSchema),
    bindingOrder: z.array(id).max(20_000),
  })
  .superRefine((profile, context) => {
    const families = [
      ['surfaces', 'surfaceOrder'],
      ['hosts', 'hostOrder'],
      ['layers', 'layerOrder'],
      ['bindings', 'bindingOrder'],
    ] as const;
    for (const [family, order] of families) {
      const known = Object.keys(profile[family]);
      const listed = new Set<string>(profile[order]);
      if (listed.size !== profile[order].length)
        context.addIssue({ code: 'custom', path: [order], message: 'names an entry twice' });
      for (const [index, key] of profile[order].entries())
        if (!Object.hasOwn(profile[family], key))
          context.addIssue({
            code: 'custom',
            path: [order, index],
            message: `“${key}” is not among the ${family}`,
          });
      for (const key of known) {
        if (!listed.has(key))
          context.addIssue({
            code: 'custom',
            path: [family, key],
            message: `is missing from ${order}`,
          });
        if (profile[family][key].id !== key)
          context.addIssue({
            code: 'custom',
            path: [family, key, 'id'],
            message: `must be “${key}”, the key it stands under`,
          });
      }
    }
  });
export type Profile = z.infer<typeof profileSchema>;

/** Version 1 said `stock` where a surface now names its `model`, as hosts do. */
function migrate(value: Record<string, unknown>): unknown {
  const surfaces = value['surfaces'];
  if (typeof surfaces !== 'object' || surfaces === null) return value;
  const moved = Object.entries(surfaces as Record<string, unknown>).map(([key, surface]) => {
    const { stock, ...rest } = (surface ?? {}) as Record<string, unknown>;
    return [key, { ...rest, model: stock }];
  });
  return { ...value, version: PROFILE_VERSION, surfaces: Object.fromEntries(moved) };
}

/** Reads a profile from parsed JSON: accepted whole or refused whole, with the path of each fault. */
export const readProfile = (value: unknown): Read<Profile> =>
  readDocument(value, profileSchema, { format: PROFILE_FORMAT, version: PROFILE_VERSION }, migrate);

/** A profile with nothing bound: one surface, one host, one layer. */
export function emptyProfile(profileId: string, name: string): Profile {
  return {
    format: PROFILE_FORMAT,
    version: PROFILE_VERSION,
    id: profileId,
    name,
    surfaces: { desk: { id: 'desk', model: 'harrow-8', label: 'Harrow 8' } },
    surfaceOrder: ['desk'],
    hosts: { studio: { id: 'studio', model: 'studio', label: 'Studio' } },
    hostOrder: ['studio'],
    layers: { base: { id: 'base', label: 'Base' } },
    layerOrder: ['base'],
    bindings: {},
    bindingOrder: [],
  };
}
