import fc from 'fast-check';
import { STOCK_SURFACES, sendsOf, topOf } from '@rondo/core/surface';
import { patternKey } from '@rondo/core/host';
import { heardKey, knownBySending } from './known';

test('a surface is among those that send what was heard of it; one that lacks a message is not', () => {
  const all = [...STOCK_SURFACES.values()];
  const keysOf = (surface: (typeof all)[number]) =>
    surface.controls.flatMap((c) => Object.values(sendsOf(surface, c)).map(patternKey));
  const withSome = all.filter((surface) => new Set(keysOf(surface)).size >= 3);
  fc.assert(
    fc.property(
      fc
        .constantFrom(...withSome)
        .chain((surface) =>
          fc.tuple(
            fc.constant(surface),
            fc.shuffledSubarray([...new Set(keysOf(surface))], { minLength: 2, maxLength: 6 }),
          ),
        ),
      ([surface, heard]) => {
        expect(knownBySending(all, new Set(heard))).toContain(surface);
        expect(knownBySending(all, new Set([...heard, 'note 16 127 never']))).toEqual([]);
        expect(knownBySending(all, new Set(heard.slice(0, 1)))).toEqual([]);
      },
    ),
  );
});

test('status bytes are read as MIDI 1.0 has them', () => {
  expect(heardKey([0x93, 60, 1])).toBe('note 4 60');
  expect(heardKey([0x83, 60, 0])).toBe('note 4 60');
  expect(heardKey([0xbf, 7, 1])).toBe('controller 16 7');
  expect(heardKey([0xe0, 0, 64])).toBe('pitchBend 1');
  expect(heardKey([0xf8])).toBeNull();
  expect(topOf({ type: 'controller', channel: 1, number: 7 })).toBe(127);
});
