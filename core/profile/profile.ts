import * as z from 'zod';
import { readDocument, type Read } from '@rondo/core/document';
import {
  INPUT_PARTS,
  OUTPUT_PARTS,
  feelByKindSchema,
  feelSchema,
  returnsSchema,
} from '@rondo/core/surface';
import {
  GESTURES,
  actionSchema,
  causeSchema,
  conditionSchema,
  destinationSchema,
  targetSchema,
} from './action.js';
import { bracketSchema } from './bracket-schema.js';
import { usualInstanceSchema } from './usual-instance-schema.js';
import { hostModelIdSchema, idSchema as id, labelSchema as label } from './names.js';

export const PROFILE_FORMAT = 'rondo-profile';
export const PROFILE_VERSION = 5;

const controlRefSchema = z.looseObject({
  surface: id,
  control: id,
  part: z.enum(INPUT_PARTS),
});
export type ControlRef = z.infer<typeof controlRefSchema>;

/** What one gesture of a control, or one change of a host's state, does on a layer. */
const bindingSchema = z
  .looseObject({
    id,
    layer: id,
    /** The part of a control that it hangs on; or else a host's change of state. */
    control: controlRefSchema.optional(),
    cause: causeSchema.optional(),
    /** Which gesture of what is pressed; a press where it is left out. */
    gesture: z.enum(GESTURES).optional(),
    /** All must hold, else the binding counts as absent. */
    when: z.array(conditionSchema).max(8).optional(),
    /** The message goes on to where its surface's other messages go; else it ends here. */
    passOn: z.boolean().optional(),
    /** What has focus never takes this control. */
    pinned: z.boolean().optional(),
    /** Of all bindings with this word only one is on: the others let go. */
    group: label.optional(),
    feel: feelSchema.optional(),
    /** What comes back to the control, and how it looks there. */
    returns: returnsSchema.optional(),
    actions: z.array(actionSchema).min(1).max(16),
  })
  .refine((binding) => (binding.control === undefined) !== (binding.cause === undefined), {
    message: 'hangs on a control or on a change of a host, on one of the two',
  });
export type Binding = z.infer<typeof bindingSchema>;

/** A set of bindings over the ones below it. */
const layerSchema = z.looseObject({
  id,
  label,
  /** Of all layers with this word only one is on. */
  group: label.optional(),
  /** On while a surface is on this onboard page. */
  page: z.looseObject({ surface: id, page: id }).optional(),
  /** Done on entering and on leaving. They set states and never turn them over. */
  enter: z.array(actionSchema).max(16).optional(),
  leave: z.array(actionSchema).max(16).optional(),
  feel: feelByKindSchema.optional(),
  returns: returnsSchema.optional(),
  /** What new bindings on it go to. */
  usual: z.array(usualInstanceSchema).max(16).optional(),
});
export type Layer = z.infer<typeof layerSchema>;

/** Kinds of message as far as passing on goes. */
export const MESSAGE_KINDS = [
  'note',
  'controller',
  'program',
  'bend',
  'pressure',
  'sysex',
  'clock',
  'osc',
] as const;
export type MessageKind = (typeof MESSAGE_KINDS)[number];

const midiChannel = z.int().min(1).max(16);
const midiNote = z.int().min(0).max(127);

/**
 * Where messages go that come from a surface, or from a host: those of bindings that pass on, and of these kinds all that
 * nothing is bound to.
 */
const routeSchema = z.looseObject({
  id,
  from: destinationSchema,
  to: destinationSchema,
  kinds: z.array(z.enum(MESSAGE_KINDS)).max(MESSAGE_KINDS.length),
  /** Channels that it takes; all where they are left out. */
  channels: z.array(midiChannel).min(1).max(16).optional(),
  /** Notes that it takes, both ends among them; all where they are left out. */
  notes: z.looseObject({ from: midiNote, to: midiNote }).optional(),
  /** Semitones by which notes go up. */
  transpose: z.int().min(-127).max(127).optional(),
  /** Channel on which all goes on; that on which it came where it is left out. */
  channel: midiChannel.optional(),
  /** It takes only what no other route of the same input takes. */
  rest: z.boolean().optional(),
});
export type Route = z.infer<typeof routeSchema>;

/** A named on/off value of the profile. */
const flagSchema = z.looseObject({ id, label, initially: z.boolean().optional() });
export type Flag = z.infer<typeof flagSchema>;

/** What the messages of a surface's port are for. What is not named here is for control. */
const rolesSchema = z.looseObject({
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

/** A part of a control that shows something. */
const outputRefSchema = z.looseObject({
  surface: id,
  control: id,
  part: z.enum(OUTPUT_PARTS),
});
export type OutputRef = z.infer<typeof outputRefSchema>;

/** A state shown where one wants it, beside what controls show by themselves. */
const showingSchema = z.looseObject({
  id,
  layer: id,
  shows: targetSchema,
  on: z.array(outputRefSchema).min(1).max(128),
  /** `same`: each shows the whole state; `row`: a level is spread over them, the first is the lowest. */
  spread: z.enum(['same', 'row']).default('same'),
  when: z.array(conditionSchema).max(8).optional(),
  returns: returnsSchema.optional(),
});
export type Showing = z.infer<typeof showingSchema>;

/** That a surface stands in for another before a program that expects that one: which control is which. */
const standsInSchema = z.looseObject({
  /** A host of the profile whose program expects a surface. */
  host: id,
  pairs: z
    .array(
      z.looseObject({
        control: id,
        /** The control of the surface that is expected, and its unit from 0. */
        for: id,
        unit: z.int().min(0).max(7).default(0),
      }),
    )
    .max(500),
});
export type StandsIn = z.infer<typeof standsInSchema>;
export type StandInPair = StandsIn['pairs'][number];

/** As many layers as a profile can have. */
export const MOST_LAYERS = 64;

/** A profile document. Fields that this version does not know are kept. */
export const profileSchema = z
  .looseObject({
    format: z.literal(PROFILE_FORMAT),
    version: z.literal(PROFILE_VERSION),
    id,
    name: label,
    surfaces: z.record(
      id,
      z.looseObject({
        id,
        model: id,
        label,
        roles: rolesSchema.optional(),
        standsIn: standsInSchema.optional(),
        /** What new bindings on it go to, or on some of its controls. */
        usual: z.array(usualInstanceSchema).max(64).optional(),
        bracket: bracketSchema.optional(),
      }),
    ),
    surfaceOrder: z.array(id).max(16),
    hosts: z.record(id, z.looseObject({ id, model: hostModelIdSchema, label })),
    hostOrder: z.array(id).max(8),
    layers: z.record(id, layerSchema),
    layerOrder: z.array(id).min(1).max(MOST_LAYERS),
    flags: z.record(id, flagSchema),
    flagOrder: z.array(id).max(64),
    routes: z.record(id, routeSchema),
    routeOrder: z.array(id).max(64),
    /** How controls feel on every layer, by kind. */
    feel: feelByKindSchema.optional(),
    /** What comes back on every layer, and how it looks. */
    returns: returnsSchema.optional(),
    /** Order of the parameters of what can have focus, by its name, by host. */
    focusOrders: z.record(id, z.record(z.string(), z.array(z.string()).max(128))).optional(),
    bindings: z.record(id, bindingSchema),
    bindingOrder: z.array(id).max(20_000),
    showings: z.record(id, showingSchema),
    showingOrder: z.array(id).max(1_000),
  })
  .superRefine((profile, context) => {
    const families = [
      ['surfaces', 'surfaceOrder'],
      ['hosts', 'hostOrder'],
      ['layers', 'layerOrder'],
      ['flags', 'flagOrder'],
      ['routes', 'routeOrder'],
      ['bindings', 'bindingOrder'],
      ['showings', 'showingOrder'],
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

/** Before version 5 a surface said itself where its messages go on to, to one place only. */
function routesOfSurfaces(value: Record<string, unknown>): Record<string, unknown> {
  const routes: Record<string, unknown> = {};
  const surfaces = Object.entries((value['surfaces'] ?? {}) as Record<string, unknown>).map(
    ([key, surface]) => {
      if (typeof surface !== 'object' || surface === null) return [key, surface];
      const { onward, ...rest } = surface as Record<string, unknown>;
      if (typeof onward === 'object' && onward !== null)
        routes[key] = { ...onward, id: key, from: { surface: key } };
      return [key, rest];
    },
  );
  return {
    ...value,
    surfaces: Object.fromEntries(surfaces),
    routes,
    routeOrder: Object.keys(routes),
  };
}

/**
 * Version 1 said `stock` where a surface now names its `model`, as hosts do; before version 3 there were no flags, before
 * version 4 no showings, before version 5 no routes.
 */
function migrate(value: Record<string, unknown>, version: number): unknown {
  const surfaces = value['surfaces'];
  if (version === 1 && typeof surfaces === 'object' && surfaces !== null) {
    const moved = Object.entries(surfaces as Record<string, unknown>).map(([key, surface]) => {
      const { stock, ...rest } = (surface ?? {}) as Record<string, unknown>;
      return [key, { ...rest, model: stock }];
    });
    return migrate({ ...value, surfaces: Object.fromEntries(moved) }, 2);
  }
  const flags = version < 3 ? { flags: {}, flagOrder: [] } : {};
  const showings = version < 4 ? { showings: {}, showingOrder: [] } : {};
  return routesOfSurfaces({ ...value, ...flags, ...showings, version: PROFILE_VERSION });
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
    flags: {},
    flagOrder: [],
    routes: {},
    routeOrder: [],
    bindings: {},
    bindingOrder: [],
    showings: {},
    showingOrder: [],
  };
}
