import { differenceCiede2000 } from 'culori/fn';
import fc from 'fast-check';
import {
  COBBLE_64,
  LEVELS,
  upToLevel,
  RETURN_FIELDS,
  colourDistance,
  fitPieces,
  glowOf,
  heldField,
  inheritedGlow,
  lightTarget,
  lightWire,
  nearestColour,
  plainText,
  readPalette,
  readTextRule,
  rgbOf,
  shortName,
  shortValue,
  shownColour,
  unknownPlaces,
  type Level,
  type Pattern,
  type ReturnLevels,
  type TextPiece,
} from './index.js';

const colour = fc
  .integer({ min: 0, max: 0xffffff })
  .map((n) => `#${n.toString(16).padStart(6, '0')}`);

describe('colours', () => {
  // Sharma, Wu and Dalal, “The CIEDE2000 Color-Difference Formula”, 2005, table 1; pairs written down from memory.
  test.each([
    [50, 2.6772, -79.7751, 50, 0, -82.7485, 2.0425],
    [50, 3.1571, -77.2803, 50, 0, -82.7485, 2.8615],
    [50, 2.8361, -74.02, 50, 0, -82.7485, 3.4412],
    [50, -1.3802, -84.2814, 50, 0, -82.7485, 1.0],
    [50, 0, 0, 50, -1, 2, 2.3669],
    [50, 2.49, -0.001, 50, -2.49, 0.0009, 7.1792],
    [50, 2.5, 0, 73, 25, -18, 27.1492],
    [60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387, 1.2644],
    [63.0109, -31.0961, -5.8663, 62.8187, -29.7946, -4.0864, 1.263],
    [2.0776, 0.0795, -1.135, 0.9033, -0.0636, -0.5514, 0.9082],
  ])('CIEDE2000 of a published pair: %p %p %p', (l1, a1, b1, l2, a2, b2, expected) => {
    const distance = differenceCiede2000();
    colourDistance('#000000', '#ffffff');
    expect(
      distance({ mode: 'lab65', l: l1, a: a1, b: b1 }, { mode: 'lab65', l: l2, a: a2, b: b2 }),
    ).toBeCloseTo(expected, 4);
  });

  test('a wanted colour gets the entry that looks most like it, and what shines is never black', () => {
    const { palette } = COBBLE_64.device;
    fc.assert(
      fc.property(colour, (wanted) => {
        const found = nearestColour(palette, wanted)!;
        const far = colourDistance(found.colour, wanted);
        const shines = wanted !== '#000000';
        for (const entry of palette)
          if (!shines || entry.colour !== '#000000')
            expect(colourDistance(entry.colour, wanted)).toBeGreaterThanOrEqual(far);
        if (shines) expect(found.colour).not.toBe('#000000');
      }),
    );
    for (const entry of palette)
      expect(nearestColour(palette, entry.colour)!.colour).toBe(entry.colour);
  });

  test('a table with holes, and an empty one, still give a number that the wire can carry', () => {
    const holes = [
      { value: 3, colour: '#ff0000' },
      { value: 90, colour: '#0000ff' },
    ];
    expect(lightWire({ kind: 'palette', palette: holes, off: 0 }, '#ee2211', 1)).toBe(3);
    expect(lightWire({ kind: 'palette', palette: holes, off: 0 }, '#2200dd', 1)).toBe(90);
    expect(lightWire({ kind: 'palette', palette: holes, off: 0 }, '#000000', 0)).toBe(0);
    expect(lightWire({ kind: 'palette', palette: [], off: 0 }, '#ee2211', 1)).toBe(127);
  });

  test('full colour goes out in seven bits a part; brightness is a number; two ways only is half and more', () => {
    fc.assert(
      fc.property(colour, (wanted) => {
        const wire = lightWire({ kind: 'rgb', off: 0 }, wanted, 1);
        expect([wire >> 14, (wire >> 7) & 0x7f, wire & 0x7f]).toEqual(
          rgbOf(wanted).map((part) => part >> 1),
        );
      }),
    );
    const lamp = { kind: 'brightness', top: 127, off: 0 } as const;
    expect([0, 0.001, 0.5, 1].map((b) => lightWire(lamp, '#ffffff', b))).toEqual([0, 1, 64, 127]);
    const bulb = { kind: 'onOff', on: 127, blink: 0, off: 0 } as const;
    expect([0, 0.49, 0.5, 1].map((b) => lightWire(bulb, '#ffffff', b))).toEqual([0, 0, 127, 127]);
  });

  test('lights that never go dark are at their dimmest when they are off, and what is on is told apart from it', () => {
    const light: Pattern = { type: 'note', channel: 1, number: 1 };
    const rgb: Pattern = { type: 'colour', template: 'F0 7D red green blue F7' };
    fc.assert(
      fc.property(
        fc.constantFrom('onOff', 'brightness', 'palette', 'rgb'),
        colour,
        fc.double({ min: 0.5, max: 1, noNaN: true }),
        (kind, wanted, brightness) => {
          const { palette } = COBBLE_64.device;
          const device = { ...COBBLE_64.device, neverDark: true, palette };
          const pattern = kind === 'rgb' ? rgb : light;
          const surface = { ...COBBLE_64, device };
          const [control] = COBBLE_64.controls;
          const target = lightTarget(
            surface,
            kind === 'rgb' ? control : { ...control, light: kind as 'onOff' },
            pattern,
          );
          const off = lightWire(target, wanted, 0);
          expect(off).toBeGreaterThan(0);
          expect(lightWire(target, '#000000', 1)).toBe(off);
          if (wanted !== '#000000') expect(lightWire(target, wanted, brightness)).not.toBe(off);
          expect(shownColour(target, off)).toBeNull();
          // Without it nothing is as bright when it is off as any colour of the table.
          const plain = lightTarget(COBBLE_64, control, pattern);
          expect(lightWire(plain, wanted, 0)).toBe(0);
          if (kind !== 'palette') return;
          const dimmest = palette.find(({ value }) => value === off)!;
          for (const entry of palette)
            if (entry.colour !== '#000000')
              expect(colourDistance('#010101', dimmest.colour)).toBeLessThanOrEqual(
                colourDistance('#010101', entry.colour),
              );
        },
      ),
    );
  });

  test('a table is read from CSV as people export it; what cannot be read is told by its line', () => {
    const { palette, faults } = readPalette(
      'number,colour,name\r\n5,#FF8800,"orange, warm"\r\n6,0,128,255,sky\r\nx,#000000\r\n7,nonsense\r\n99999,#000000\r\n',
    );
    expect(palette).toEqual([
      { value: 5, colour: '#ff8800', name: 'orange, warm' },
      { value: 6, colour: '#0080ff', name: 'sky' },
    ]);
    expect(faults.map(({ line }) => line)).toEqual([4, 5, 6]);
  });
});

describe('what comes back is inherited', () => {
  const settings = fc.record(
    {
      feedback: fc.boolean(),
      by: fc.constantFrom('state' as const, 'bands' as const, 'gradient' as const),
      invert: fc.boolean(),
      upper: fc.string({ maxLength: 10 }),
      peak: fc.integer({ min: 0, max: 5_000 }),
      states: fc.record(
        {
          on: fc.record({ colour, brightness: fc.constantFrom(0.5, 1) }, { requiredKeys: [] }),
          off: fc.record({ colour }, { requiredKeys: [] }),
        },
        { requiredKeys: [] },
      ),
    },
    { requiredKeys: [] },
  );
  const levels: fc.Arbitrary<ReturnLevels> = fc.record(
    { surface: settings, profile: settings, layer: settings, binding: settings },
    { requiredKeys: [] },
  );
  const SPECIAL: readonly Level[] = ['binding', 'layer', 'profile', 'surface'];

  test('each setting is that of the most special level that says something, and tells what it would be without', () => {
    fc.assert(
      fc.property(levels, fc.constantFrom(...RETURN_FIELDS), (given, field) => {
        const held = heldField(field, given);
        const first = SPECIAL.find((level) => given[level]?.[field] !== undefined) ?? 'usual';
        expect(held.from).toBe(first);
        if (first === 'usual') return;
        expect(held.value).toEqual(given[first]![field]);
        const without = { ...given, [first]: { ...given[first], [field]: undefined } };
        expect(heldField(field, without).value).toEqual(held.otherwise);
      }),
    );
  });

  test('a state that says nothing is like the one it is like: waiting as on, armed as off', () => {
    fc.assert(
      fc.property(levels, (given) => {
        expect(glowOf('waiting', given).colour).toBe(glowOf('on', given).colour);
        expect(glowOf('assumed', given)).toEqual(glowOf('on', given));
        expect(glowOf('armed', given)).toEqual(glowOf('off', given));
        expect(inheritedGlow('waiting', 'motion', given).value).toBe('blink');
      }),
    );
  });

  test('a pinned number ends where a more special level names a colour', () => {
    const pinned: ReturnLevels = { surface: { states: { on: { number: 9, colour: '#ff0000' } } } };
    expect(glowOf('on', pinned).number).toBe(9);
    const layer = { states: { on: { colour: '#00ff00' } } };
    expect(glowOf('on', { ...pinned, layer }).number).toBeUndefined();
  });

  test('under a level its own word stands, whatever a more special one says; where none does, it is what holds', () => {
    const says = fc.option(fc.boolean(), { nil: undefined });
    fc.assert(
      fc.property(fc.array(says, { minLength: 4, maxLength: 4 }), fc.nat(3), (said, at) => {
        const special = LEVELS.slice(1);
        const levels = Object.fromEntries(
          said.map((feedback, i) => [
            special[i],
            feedback === undefined ? undefined : { feedback },
          ]),
        ) as ReturnLevels;
        const held = heldField('feedback', upToLevel(levels, special[at]));
        const last = said.slice(0, at + 1).findLast((one) => one !== undefined);
        expect(held.value).toBe(last ?? heldField('feedback', {}).value);
        if (said.slice(at + 1).every((one) => one === undefined))
          expect(held).toEqual(heldField('feedback', levels));
      }),
    );
  });
});

describe('text in little room', () => {
  const word = fc.stringMatching(/^[A-Z][a-z]{0,9}$/);
  const name = fc.array(word, { minLength: 1, maxLength: 4 }).map((words) => words.join(' '));

  test('a name that fits stays; else it has exactly the width or less, and begins as before', () => {
    fc.assert(
      fc.property(name, fc.integer({ min: 1, max: 20 }), (text, width) => {
        const short = shortName(text, width);
        expect(short.length).toBeLessThanOrEqual(width);
        expect(short[0]).toBe(text[0]);
        if (text.length <= width) expect(short).toBe(text);
      }),
    );
  });

  test('numbered names stay apart, down to two characters more than the number', () => {
    fc.assert(
      fc.property(name, fc.integer({ min: 3, max: 8 }), (text, width) => {
        const all = Array.from({ length: 12 }, (_, n) => shortName(`${text} ${n + 1}`, width));
        expect(new Set(all).size).toBe(12);
      }),
    );
  });

  test.each([
    ['Narrator', 'Narrtr'],
    ['Bow Wave', 'Bow Wv'],
    ['Engine Room', 'EngnRm'],
    ['Bass Clarinet', 'BssClr'],
    ['Audio Track 12', 'AdTr12'],
  ])('%s in six characters: %s', (text, expected) => {
    expect(shortName(text, 6)).toBe(expected);
  });

  test('a value gives up its unit, then its decimals, and is never another number', () => {
    expect(
      ['−12.3 dB', '+6.0 dB', '−∞ dB', '2.52 kHz', '448 Hz'].map((v) =>
        shortValue(plainText(v), 6),
      ),
    ).toEqual(['-12.3', '+6.0dB', '-infdB', '2.52k', '448 Hz']);
    fc.assert(
      fc.property(
        fc.double({ min: -999, max: 999, noNaN: true }),
        fc.integer({ min: 1, max: 8 }),
        (n, width) => {
          const text = `${n.toFixed(1)} dB`;
          const short = shortValue(text, width);
          expect(short.length).toBeLessThanOrEqual(width);
          const number = parseFloat(short);
          if (!short.startsWith('#'))
            expect(Math.abs(number - Number(n.toFixed(1)))).toBeLessThan(1);
        },
      ),
    );
  });

  test('whatever Unicode comes, what goes out is 7-bit and no wider than its field', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            kind: fc.constantFrom<TextPiece['kind']>('plain', 'name', 'value'),
            text: fc.string({ unit: 'grapheme', maxLength: 20 }),
          }),
          { maxLength: 4 },
        ),
        fc.integer({ min: 1, max: 16 }),
        (pieces, width) => {
          const text = fitPieces(pieces, width);
          expect(text).toMatch(/^[\x20-\x7e]*$/);
          expect(text.length).toBeLessThanOrEqual(width);
        },
      ),
    );
    expect(plainText('Größe Ærø Łódź Ночь −∞')).toBe('Grosse AEro Lodz Noch -inf');
  });

  test('a rule with a name and a value keeps the value whole and shortens the name', () => {
    const fit = (width: number) =>
      fitPieces(
        [
          { kind: 'name', text: 'Engine Room' },
          { kind: 'plain', text: ' ' },
          { kind: 'value', text: '−12.3 dB' },
        ],
        width,
      );
    expect([fit(20), fit(14), fit(11)]).toEqual([
      'Engine Room -12.3 dB',
      'EngnRm -12.3dB',
      'EnR -12.3dB',
    ]);
  });

  test('braces that name no place stay as typed, and are told', () => {
    expect(readTextRule('{track}: {value}{oops}')).toEqual([
      { place: 'track' },
      { text: ': ' },
      { place: 'value' },
      { text: '{oops}' },
    ]);
    expect(unknownPlaces('{track} {oops} {}')).toEqual(['oops', '']);
  });
});
