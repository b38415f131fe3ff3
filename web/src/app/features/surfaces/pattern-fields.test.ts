import '@angular/compiler';
import { INPUT_PARTS, OUTPUT_PARTS, STOCK_SURFACES, patternSchema } from '@rondo/core/surface';
import fc from 'fast-check';
import { FIELDS, freshFor, readField, showField, typesFor } from './pattern-fields';

const controls = [...STOCK_SURFACES.values()].flatMap((surface) => surface.controls);

test('a message begins as one that its part can have; a light and a motor with what their control sends', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...controls),
      fc.constantFrom(...INPUT_PARTS, ...OUTPUT_PARTS),
      ({ sends }, part) => {
        const fresh = freshFor(part, sends);
        expect(typesFor(part)).toContain(fresh.type);
        expect(patternSchema.safeParse(fresh).success).toBe(true);
        if (part === 'light' && sends.push?.type === 'note') expect(fresh).toEqual(sends.push);
        if (part === 'motor' && sends.value?.type === 'pitchBend')
          expect(fresh).toEqual(sends.value);
      },
    ),
  );
  expect(freshFor('light', {})).toMatchObject({ type: 'note' });
});

test('what a field shows is read back as the same value, in hex too', () => {
  const patterns = controls.flatMap(({ sends, takes }) => Object.values({ ...sends, ...takes }));
  fc.assert(
    fc.property(fc.constantFrom(...patterns), fc.boolean(), (pattern, hex) => {
      for (const field of FIELDS[pattern.type]) {
        if (field.as !== 'number' && field.as !== 'hex') continue;
        const value = (pattern as Record<string, unknown>)[field.key];
        if (value === undefined) continue;
        expect(readField(field, showField(field, pattern, hex), hex)).toEqual({ value });
      }
    }),
  );
});
