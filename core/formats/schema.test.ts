import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { Ajv2020 } from 'ajv/dist/2020.js';
import fc from 'fast-check';
import { lantern, readMessageHost } from '@rondo/core/host';
import {
  PROFILE_VERSION,
  farShore,
  neapRink,
  nineFerriesMix,
  readProfile,
} from '@rondo/core/profile';
import { STOCK_SURFACES, readSurface } from '@rondo/core/surface';
import { PUBLISHED, fileOf, jsonSchemas, readFileValue } from './index';

const published = (name: string): unknown =>
  JSON.parse(
    readFileSync(fileURLToPath(new URL(`../../docs/schema/${name}.json`, import.meta.url)), 'utf8'),
  );

test('what is published is what the sources say (else: node scripts/schema.mjs)', () => {
  const made = jsonSchemas();
  for (const name of PUBLISHED)
    expect(published(name)).toEqual(JSON.parse(JSON.stringify(made[name])));
});

describe('a general validator reads by them (ajv, JSON Schema 2020-12)', () => {
  const ajv = new Ajv2020({ allErrors: false, strict: false });
  for (const name of PUBLISHED) ajv.addSchema(published(name) as object);
  const takes = (name: string, value: unknown) => ajv.validate(`${name}.json`, value) as boolean;
  const profiles = [nineFerriesMix(), neapRink(), farShore()];
  /** Whether Rondo takes a document as it stands; a list of what comes in which order it puts right, and says so. */
  type Read = (value: unknown) => { ok: boolean; putRight?: readonly unknown[] };
  const documents: [string, unknown, Read][] = [
    ...profiles.map((one): (typeof documents)[number] => ['profile', one, readProfile]),
    ...[...STOCK_SURFACES.values()].map((one): (typeof documents)[number] => [
      'surface',
      one,
      readSurface,
    ]),
    ['host', lantern(), readMessageHost],
    ['rondo-file', fileOf(profiles, { surface: () => null, host: () => lantern() }), readFileValue],
  ];

  test('every document that ships is taken by both', () => {
    for (const [name, document, read] of documents) {
      expect([name, takes(name, JSON.parse(JSON.stringify(document)))]).toEqual([name, true]);
      expect(read(document).ok).toBe(true);
    }
  });

  /** A document with one value at random put in the place of another. */
  const spoiled = fc
    .tuple(
      fc.constantFrom(...documents),
      fc.infiniteStream(fc.nat()),
      fc.jsonValue({ maxDepth: 1 }),
    )
    .map(([[name, document, read], picks, value]) => {
      const copy: unknown = JSON.parse(JSON.stringify(document));
      let at = copy as Record<string, unknown>;
      for (;;) {
        const keys = Object.keys(at);
        const key = keys[(picks.next().value as number) % keys.length];
        const inner = at[key];
        const isDeeper =
          typeof inner === 'object' && inner !== null && Object.keys(inner).length > 0;
        if (!isDeeper || (picks.next().value as number) % 5 === 0) {
          at[key] = value;
          return { name, document: copy, read };
        }
        at = inner as Record<string, unknown>;
      }
    });

  /** The schemas are of the newest form. Rondo brings an earlier one forward, so that it may look otherwise. */
  const isEarlier = (document: unknown): boolean => {
    const { format, version, profiles } = document as Record<string, unknown>;
    if (Array.isArray(profiles)) return profiles.some((one) => one !== null && isEarlier(one));
    return format === 'rondo-profile' && Number(version) >= 1 && Number(version) < PROFILE_VERSION;
  };

  test('what Rondo takes the validator takes', () => {
    fc.assert(
      fc.property(spoiled, ({ name, document, read }) => {
        const found = read(document);
        if (isEarlier(document) || !found.ok || found.putRight?.length) return;
        expect([takes(name, document), ajv.errors]).toEqual([true, null]);
      }),
      { numRuns: 400 },
    );
  });

  test('what the validator refuses Rondo refuses, too; and it does refuse', () => {
    let refused = 0;
    fc.assert(
      fc.property(spoiled, ({ name, document, read }) => {
        if (takes(name, document)) return;
        refused++;
        expect(read(document).ok).toBe(false);
      }),
      { numRuns: 200 },
    );
    expect(refused).toBeGreaterThan(20);
  });
});

test('what earlier versions called a blend is read as a gradient', () => {
  const old = { ...nineFerriesMix(), returns: { by: 'blend' } };
  const read = readProfile(old);
  expect(read.ok && read.document.returns?.by).toBe('gradient');
});
