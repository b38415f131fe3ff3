import fc from 'fast-check';
import { plainText } from './plain-text.js';
import { digitsText, sysexText } from './text-out.js';

const anyText = fc.string({ unit: 'grapheme', maxLength: 20 }).map(plainText);
/** A field as wide as it says, or one whose text ends with the message. */
const field = fc.record({
  type: fc.constant('text' as const),
  header: fc.array(fc.nat(127), { minLength: 1, maxLength: 5 }),
  offset: fc.option(fc.nat(111), { nil: undefined }),
  width: fc.option(fc.integer({ min: 2, max: 16 }), { nil: undefined }),
  gap: fc.nat(1),
});

test('what fits a field fills it and fits again; its message is one SysEx of 7-bit data (MIDI 1.0, System Exclusive)', () => {
  fc.assert(
    fc.property(field, anyText, fc.nat(9), (pattern, text, at) => {
      const out = sysexText(pattern);
      const fitted = out.fit(text);
      expect(out.fit(fitted)).toBe(fitted);
      if (pattern.width === undefined) expect(fitted).toBe(text);
      else {
        expect(fitted.length).toBe(pattern.width);
        expect(fitted.trimEnd().length).toBeLessThanOrEqual(out.room);
      }
      const buffer = new Uint8Array(64);
      const bytes = buffer.subarray(at, at + out.write(fitted, buffer, at, ''));
      expect([bytes[0], bytes.at(-1)]).toEqual([0xf0, 0xf7]);
      expect(Math.max(...bytes.subarray(1, -1))).toBeLessThan(0x80);
      expect(String.fromCharCode(...bytes.subarray(-1 - fitted.length, -1))).toBe(fitted);
    }),
  );
});

test('a time display is told the cells that differ and no others, and shows what it was told', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 2, max: 10 }),
      fc.array(fc.stringMatching(/^[0-9.: -]{0,14}$/), { minLength: 1, maxLength: 6 }),
      (count, texts) => {
        const out = digitsText({ type: 'digits', channel: 2, number: 64, count });
        const shown = new Array<number>(count).fill(-1);
        const buffer = new Uint8Array(64);
        let before = '';
        for (const text of texts) {
          const cells = out.fit(text);
          const end = out.write(cells, buffer, 0, before);
          for (let i = 0; i < end; i += 3) {
            expect(buffer[i]).toBe(0xb1);
            const place = count - 1 - (buffer[i + 1] - 64);
            expect(shown[place]).not.toBe(buffer[i + 2]);
            shown[place] = buffer[i + 2];
          }
          expect(shown).toEqual([...cells].map((cell) => cell.charCodeAt(0)));
          expect(out.write(cells, buffer, 0, cells)).toBe(0);
          before = cells;
        }
      },
    ),
  );
});
