import * as z from 'zod';
import { readDocument, type Read } from '@rondo/core/document';
import { netChoiceSchema } from '@rondo/core/wire';

const SETUP_FORMAT = 'rondo-setup';
const SETUP_VERSION = 1;

const idSchema = z
  .string()
  .min(1)
  .max(64)
  .regex(/^[a-zA-Z0-9][a-zA-Z0-9_.:-]*$/, 'letters, digits and - _ . : only');

const portSchema = z.object({
  id: z.string().max(400),
  name: z.string().max(400),
  twin: z.boolean().optional(),
});

/** Which real ports stand in place of a link's simulation. Names tell a port again when its id has changed. */
export const portChoiceSchema = z.object({
  real: z.boolean(),
  input: portSchema.nullable(),
  output: portSchema.nullable(),
  /** Who the device says it is: by that it is found again under another port name. */
  identity: z
    .object({ manufacturer: z.string(), family: z.number(), member: z.number() })
    .optional(),
  /** Where it listens and sends to, where it speaks OSC. */
  net: netChoiceSchema.optional(),
  /** It was chosen for this profile: what is known of the device elsewhere counts no more. */
  said: z.boolean().optional(),
});
export type PortChoice = z.infer<typeof portChoiceSchema>;

/** A profile as it is played on an occasion: on which ports, with which layers and flags, from which strip of the bank. */
export const setUpSchema = z.looseObject({
  format: z.literal(SETUP_FORMAT),
  version: z.literal(SETUP_VERSION),
  id: idSchema,
  name: z.string().trim().min(1).max(60),
  profile: idSchema,
  /** By key of the link. */
  ports: z.record(z.string().max(200), portChoiceSchema),
  layers: z.array(idSchema).max(64),
  flags: z.record(idSchema, z.boolean()),
  /** First strip of the bank window, from 0. */
  bank: z.int().min(0).max(10_000),
});
export type SetUp = z.infer<typeof setUpSchema>;

/** Reads a set-up from parsed JSON: accepted whole or refused whole, with the path of each fault. */
export const readSetUp = (value: unknown): Read<SetUp> =>
  readDocument(value, setUpSchema, { format: SETUP_FORMAT, version: SETUP_VERSION });
