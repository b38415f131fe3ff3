import * as z from 'zod';
import { messageHostSchema } from '@rondo/core/host';
import { profileSchema } from '@rondo/core/profile';
import { surfaceSchema } from '@rondo/core/surface';
import { fileSchema } from './rondo-file.js';

/** The formats that are published, by the name of their file. */
export const PUBLISHED = ['profile', 'surface', 'host', 'rondo-file'] as const;
export type Published = (typeof PUBLISHED)[number];

const plain = (schema: z.ZodType): Record<string, unknown> =>
  z.toJSONSchema(schema, {
    target: 'draft-2020-12',
    io: 'input',
    unrepresentable: 'any',
  }) as Record<string, unknown>;

/**
 * What documents look like, as JSON Schema 2020-12, made from the schemas that Rondo itself reads by. What two places say
 * of each other, as that an order names every entry, is checked by Rondo and not by them.
 */
export function jsonSchemas(): Readonly<Record<Published, Record<string, unknown>>> {
  const [profile, surface, host] = [profileSchema, surfaceSchema, messageHostSchema].map(plain);
  const file = plain(fileSchema);
  const properties = file['properties'] as Record<string, Record<string, unknown>>;
  const list = (name: string, of: Published) => ({
    ...properties[name],
    items: { $ref: `${of}.json` },
  });
  const named = (name: Published, title: string, schema: Record<string, unknown>) => ({
    ...schema,
    $id: `${name}.json`,
    title,
  });
  return {
    profile: named('profile', 'A control surface profile', profile),
    surface: named('surface', 'A control surface', surface),
    host: named('host', 'A host by its chart', host),
    'rondo-file': named('rondo-file', 'Rondo’s file', {
      ...file,
      properties: {
        ...properties,
        profiles: list('profiles', 'profile'),
        surfaces: list('surfaces', 'surface'),
        hosts: list('hosts', 'host'),
        layers: list('layers', 'profile'),
      },
    }),
  };
}
