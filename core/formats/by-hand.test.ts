import fc from 'fast-check';
import type { Fault } from '@rondo/core/document';
import { nineFerriesMix } from '@rondo/core/profile';
import { faultPlace, fileText, readFileText } from './index.js';

/*
 * Files that people have edited by hand: what is wrong is said in their words, with its line and column; a list of what
 * comes in which order is put right.
 */

const PROFILE = nineFerriesMix();
const TEXT = fileText(PROFILE);

const faultsOf = (text: string): readonly Fault[] => {
  const found = readFileText(text);
  return found.ok ? [] : found.faults;
};
/** The file with one line of it changed; the number of that line. */
function withLine(like: RegExp, to: (line: string) => string): { text: string; line: number } {
  const lines = TEXT.split('\n');
  const at = lines.findIndex((line) => like.test(line));
  return { text: lines.map((line, n) => (n === at ? to(line) : line)).join('\n'), line: at + 1 };
}

test.each([
  [
    'a comma too few',
    /"id": "base",/,
    (line: string) => line.replace(/,$/, ''),
    'comma is missing',
  ],
  [
    'a text without an end',
    /"id": "base",/,
    (line: string) => line.replace(/",$/, ','),
    'does not end',
  ],
  ['a comment', /"id": "base",/, (line: string) => `${line} // mine`, 'no comments'],
  ['a colon too few', /"id": "base",/, (line: string) => line.replace(':', ''), 'colon is missing'],
])('%s is told with its line', (_, like, change, says) => {
  const { text, line } = withLine(like, change);
  const [fault] = faultsOf(text);
  expect(fault.message).toContain(says);
  // What is missing at the end of a line is missed on the next.
  expect([line, line + 1]).toContain(fault.line);
  expect(faultPlace(fault)).toMatch(/^Line \d+, column \d+: \(whole file\)$/);
});

test.each([
  [
    /"label": "Base"/,
    (line: string) => line.replace('"Base"', '7'),
    'has to be a text, and is a number',
  ],
  [/"name": "Nine/, (line: string) => line.replace(/"Nine[^"]*"/, '""'), 'must not be empty'],
  [/"do": "function"/, (line: string) => line.replace('function', 'dance'), 'of none of the kinds'],
  [
    /"model": "harrow-8"/,
    (line: string) => line.replace('model', 'modle'),
    'is missing; it has to be a text',
  ],
  [/"version": 5/, (line: string) => line.replace('5', '"five"'), 'has to be 5, and is “five”'],
])('%s: what the schema says is told in plain words, at its line', (like, change, says) => {
  const { text, line } = withLine(like, change);
  const [fault] = faultsOf(text);
  expect(fault.message).toContain(says);
  expect(fault.message).not.toMatch(/expected|received|Invalid/);
  // What is missing is told where it should stand.
  expect(Math.abs(fault.line! - line)).toBeLessThanOrEqual(3);
});

test('whatever is spoilt in a file is told with a place in it, in no words of the reader’s own', () => {
  const lines = TEXT.split('\n');
  fc.assert(
    fc.property(
      fc.nat({ max: lines.length - 1 }),
      fc.constantFrom('7', 'null', '[]', '{}', '"x"', 'true', '-1', ''),
      (at, value) => {
        const spoilt = lines.map((line, n) =>
          n === at
            ? line.replace(/(: |^ +)("[^"]*"|[\d.-]+|true|false)(,?)$/, `$1${value}$3`)
            : line,
        );
        for (const { message, line, column } of faultsOf(spoilt.join('\n'))) {
          expect(message).not.toMatch(/expected|received|Invalid|undefined/);
          expect(line! >= 1 && line! <= lines.length && column! >= 1).toBe(true);
        }
      },
    ),
    // The format itself, a version of a newer Rondo.
    {
      numRuns: 300,
      examples: ['"format": "rondo-profile"', '"version": 5'].map((says) => [
        lines.findIndex((line) => line.includes(says)),
        '7',
      ]),
    },
  );
});

test('orders that lack entries, have too many, or name one twice are put right, and what was done is said', () => {
  const order = ['layerOrder', 'flagOrder', 'bindingOrder', 'surfaceOrder', 'hostOrder'] as const;
  fc.assert(
    fc.property(
      fc.constantFrom(...order),
      fc.array(fc.nat({ max: 50 }), { maxLength: 4 }),
      fc.array(fc.constantFrom('ghost', 'toString', 'constructor'), { maxLength: 2 }),
      fc.boolean(),
      (name, out, more, twice) => {
        const list = PROFILE[name].filter((_, at) => !out.includes(at));
        const spoilt = [...list, ...more, ...(twice ? list.slice(0, 1) : [])];
        const found = readFileText(JSON.stringify({ ...PROFILE, [name]: spoilt }));
        if (!found.ok) throw new Error(found.faults.map(({ message }) => message).join());
        const right = found.file.profiles[0][name];
        expect([...right].sort()).toEqual([...PROFILE[name]].sort());
        expect(right.slice(0, list.length)).toEqual(list);
        expect(found.putRight.map(({ path }) => path)).toEqual(
          spoilt.length === PROFILE[name].length && more.length === 0 && !twice ? [] : [name],
        );
      },
    ),
    { numRuns: 200 },
  );
});
