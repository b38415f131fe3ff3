import fc from 'fast-check';
import { hostModelSchema } from './catalogue.js';
import { MessageMap } from '@rondo/core/surface';
import { HOST_MODELS, STUDIO, slotsOf } from './index.js';
import { LAWS, deflection, faderTaper, panGains, panLaw } from './law.js';

const share = fc.double({ min: 0, max: 1, noNaN: true });

describe.each(Object.entries(LAWS))('the %s law', (name, law) => {
  test('is monotone', () => {
    fc.assert(
      fc.property(share, share, (a, b) => {
        const [low, high] = a < b ? [a, b] : [b, a];
        expect(law.toUnit(low)).toBeLessThanOrEqual(law.toUnit(high));
      }),
    );
  });
  test('undoes itself', () => {
    fc.assert(
      fc.property(share, (p) => {
        const rounded = name === 'switch' ? Math.round(p) : p;
        expect(law.fromUnit(law.toUnit(p))).toBeCloseTo(rounded, 9);
      }),
    );
  });
});

test('fader taper: +6 dB at the top, 0 dB at 79.4 %, a halved travel is 18.06 dB less', () => {
  expect(faderTaper.format(1)).toBe('+6.0 dB');
  expect(faderTaper.format(faderTaper.fromUnit(0))).toBe('0.0 dB');
  expect(faderTaper.format(faderTaper.fromUnit(-6))).toBe('−6.0 dB');
  expect(faderTaper.format(0)).toBe('−∞ dB');
  // Cube law: 20·log10(2³) = 18.06 dB (logarithm tables).
  expect(faderTaper.toUnit(0.8) - faderTaper.toUnit(0.4)).toBeCloseTo(18.06, 2);
});

test('pan reads as people say it', () => {
  expect([0, 0.34, 0.5, 1].map((p) => panLaw.format(p))).toEqual(['L100', 'L32', 'Centre', 'R100']);
});

// Handbook value: constant-power pan is 3.01 dB down at the centre.
test('constant-power pan', () => {
  const [left, right] = panGains(0.5);
  expect(20 * Math.log10(left)).toBeCloseTo(-3.01, 2);
  expect(20 * Math.log10(right)).toBeCloseTo(-3.01, 2);
  fc.assert(
    fc.property(share, (p) => {
      const [l, r] = panGains(p);
      expect(l * l + r * r).toBeCloseTo(1, 12);
    }),
  );
});

// IEC 60268-18 digital peak scale, common piecewise form, from memory.
test.each([
  [-70, 0],
  [-60, 0.025],
  [-50, 0.075],
  [-40, 0.15],
  [-30, 0.3],
  [-20, 0.5],
  [0, 1],
  [-Infinity, 0],
  [6, 1],
])('meter deflection at %f dB', (db, share) => {
  expect(deflection(db)).toBeCloseTo(share, 12);
});

describe('catalogues', () => {
  test.each([...HOST_MODELS])(
    '%s: no two functions are set, or told, by one message',
    (_, model) => {
      const slots = slotsOf(model);
      for (const unit of [0, 1, 2]) {
        const its = slots.filter((slot) => slot.unit === unit);
        expect(new MessageMap(its.map(({ set }) => set)).collisions).toEqual([]);
        expect(new MessageMap(its.map(({ report }) => report)).collisions).toEqual([]);
      }
    },
  );
  test('two functions that report with one message are refused, with the path', () => {
    const fault = structuredClone(STUDIO);
    fault.functions[1].messages = fault.functions[0].messages;
    const result = hostModelSchema.safeParse(fault);
    expect(result.error?.issues[0].path).toEqual(['functions', 1, 'messages']);
    expect(result.error?.issues[0].message).toContain(
      'pan reports with the same message as volume',
    );
  });
  test.each([
    ['two functions with one address', 'id', { id: 'volume' }],
    ['a choice among nothing', 'choices', { kind: 'choice', choices: ['only'] }],
    ['a choice without choices', 'choices', { kind: 'choice' }],
    ['a function that needs what is not there', 'needs', { needs: 'ghost' }],
    ['a law that nobody knows', 'law', { law: 'wishes' }],
    ['a rest outside its range', 'rest', { rest: 2 }],
  ])('%s is refused, with its path', (_, field, fault) => {
    const model = structuredClone(STUDIO) as unknown as { functions: object[] };
    Object.assign(model.functions[1], fault);
    const paths = hostModelSchema.safeParse(model).error?.issues.map(({ path }) => path);
    expect(paths).toContainEqual(['functions', 1, field]);
  });
  test('a strip function with too few entries is refused', () => {
    const fault = structuredClone(STUDIO);
    fault.functions[0].messages.splice(-2);
    expect(hostModelSchema.safeParse(fault).error?.issues[0].message).toBe(
      'needs 20 entries, has 19',
    );
  });
});
