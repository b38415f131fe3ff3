import fc from 'fast-check';
import {
  BRACKET_COLOURS,
  BRACKET_PATTERNS,
  bracketOf,
  neapRink,
  readProfile,
  setBracket,
} from './index.js';

test('each surface has a bracket of its own before anybody chooses one', () => {
  const profile = neapRink();
  const all = profile.surfaceOrder.map((id) => bracketOf(profile, id));
  for (const key of ['mark', 'colour', 'pattern'] as const)
    expect(new Set(all.map((one) => one[key])).size).toBe(profile.surfaceOrder.length);
});

test('what its owner chooses is what it is, and can be read again; an empty mark is none', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...neapRink().surfaceOrder),
      fc.record(
        {
          mark: fc.constantFrom('A', '7', 'LX', ' '),
          colour: fc.constantFrom(...BRACKET_COLOURS),
          pattern: fc.constantFrom(...BRACKET_PATTERNS),
        },
        { requiredKeys: [] },
      ),
      (id, change) => {
        const { document } = setBracket(neapRink(), id, change);
        const usual = bracketOf(neapRink(), id);
        const chosen = { ...usual, ...change };
        expect(bracketOf(document, id)).toEqual({
          ...chosen,
          mark: chosen.mark.trim() === '' ? usual.mark : chosen.mark,
        });
        expect(readProfile(JSON.parse(JSON.stringify(document)))).toMatchObject({ ok: true });
      },
    ),
  );
});
