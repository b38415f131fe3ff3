import { z } from 'zod';
import { INPUT_PARTS } from '@rondo/core/surface';

export const PROFILE_FORMAT = 'rondo-profile';
export const PROFILE_VERSION = 1;

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

/** A profile document. Fields that this version does not know are kept. */
export const profileSchema = z
  .looseObject({
    format: z.literal(PROFILE_FORMAT),
    version: z.literal(PROFILE_VERSION),
    id,
    name: label,
    surfaces: z.record(id, z.looseObject({ id, stock: id, label })),
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

/** One fault of a document: where it is and what is wrong, in words. */
export interface Fault {
  readonly path: string;
  readonly message: string;
}

/** Zod's issues as paths and words. */
export function faultsOf(error: z.ZodError): Fault[] {
  return error.issues.map((issue) => ({
    path: issue.path.length === 0 ? '(whole document)' : issue.path.map(String).join(' › '),
    message: issue.message,
  }));
}

export type ReadResult = { ok: true; profile: Profile } | { ok: false; faults: Fault[] };

/** Reads a profile from parsed JSON: accepted whole or refused whole, with the path of each fault. */
export function readProfile(value: unknown): ReadResult {
  const newer = z.looseObject({ format: z.literal(PROFILE_FORMAT), version: z.number() });
  const head = newer.safeParse(value);
  if (head.success && head.data.version > PROFILE_VERSION)
    return {
      ok: false,
      faults: [
        {
          path: 'version',
          message: `made by a newer Rondo (format ${head.data.version}; this one reads up to ${PROFILE_VERSION}). Update Rondo to open it.`,
        },
      ],
    };
  const result = profileSchema.safeParse(value);
  return result.success
    ? { ok: true, profile: result.data }
    : { ok: false, faults: faultsOf(result.error) };
}

/** A profile with nothing bound: one surface, one host, one layer. */
export function emptyProfile(profileId: string, name: string): Profile {
  return {
    format: PROFILE_FORMAT,
    version: PROFILE_VERSION,
    id: profileId,
    name,
    surfaces: { desk: { id: 'desk', stock: 'harrow-8', label: 'Harrow 8' } },
    surfaceOrder: ['desk'],
    hosts: { studio: { id: 'studio', model: 'studio', label: 'Studio' } },
    hostOrder: ['studio'],
    layers: { base: { id: 'base', label: 'Base' } },
    layerOrder: ['base'],
    bindings: {},
    bindingOrder: [],
  };
}
