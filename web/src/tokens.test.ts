import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { contrast } from '../../core/testing/wcag.js';

const SOURCES = join(process.cwd(), 'web/src');
const css = readFileSync(join(SOURCES, 'styles.css'), 'utf8');

/** The tokens of a theme; what the booth leaves alone is as in daylight. */
const tokensOf = (selector: string): Map<string, string> => {
  const body = new RegExp(`\\n${selector} \\{([^}]*)\\}`).exec(`\n${css}`)![1];
  return new Map(
    [...body.matchAll(/--([\w-]+):\s*([^;]+);/g)].map(([, name, value]) => [name, value]),
  );
};
const day = tokensOf(':root');
const booth = new Map([...day, ...tokensOf('\\.booth')]);

/** What is written on what, in both themes. */
const WRITTEN: readonly (readonly [ink: string, on: string])[] = [
  ['ink', 'paper'],
  ['ink', 'sheet'],
  ['ink', 'raised'],
  ['ink', 'desk'],
  ['ink', 'key'],
  ['ink-soft', 'paper'],
  ['ink-soft', 'sheet'],
  ['ink-soft', 'raised'],
  ['tape-ink', 'tape'],
  ['glass-ink', 'glass'],
  ['stop', 'sheet'],
  ['on-light', 'light-on'],
  ['on-light', 'light-yellow'],
  ['on-light', 'light-green'],
  ['on-light', 'light-blue'],
  ['on-light', 'light-white'],
  ['on-light', 'return-line'],
  ['on-red', 'light-red'],
  ['on-panic', 'panic'],
];

test.each(WRITTEN)(
  '%s is legible on %s in daylight and in the booth (WCAG 2.2, 1.4.3)',
  (ink, on) => {
    for (const theme of [day, booth])
      expect(contrast(theme.get(ink)!, theme.get(on)!)).toBeGreaterThanOrEqual(4.5);
  },
);

test('no component has a colour of its own: all of them are tokens of one file', () => {
  const files = readdirSync(join(SOURCES, 'app'), { recursive: true, encoding: 'utf8' });
  const strays = files
    .filter((file) => /\.(ts|css|html)$/.test(file) && !file.endsWith('.test.ts'))
    .flatMap((file) => {
      const text = readFileSync(join(SOURCES, 'app', file), 'utf8');
      // Declarations of a style sheet; colours as data, as of a light, stand between quotation marks.
      const found = text.match(
        /^\s*[\w-]+:[^'"`;{]*(#[0-9a-f]{3,8}\b|\b(rgb|hsl|oklch)a?\()[^;]*;$/gim,
      );
      return (found ?? []).map((line) => `${file}: ${line.trim()}`);
    });
  expect(strays).toEqual([]);
});
