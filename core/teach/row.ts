import type { Pattern } from '@rondo/core/surface';
import { Capture } from './capture.js';
import { THIN } from './guess.js';
import { infer, type Finding } from './infer.js';
import { patternOf, type Heard } from './settle.js';

/** What a movement of a device says about a row of its chart. */
export interface HeardRow {
  readonly message: Pattern;
  /** What the message does there, in the words of a chart. */
  readonly does: 'continuous' | 'toggle' | 'trigger' | 'nudge';
}

/** How much of a movement a finding has: the messages of its own kind. */
const shareOf = ({ sends }: Finding, lines: readonly Heard[]): number =>
  lines.filter(({ bytes }) => (bytes[0] & 0x0f) + 1 === sends.channel).length;

function doesOf({ sends, kind, behaviour }: Finding): HeardRow['does'] {
  if (sends.encoding !== undefined && sends.encoding !== 'absolute') return 'nudge';
  if (behaviour === 'latching') return 'toggle';
  const isPressed = kind === 'button' || kind === 'pad' || kind === 'key';
  return isPressed && behaviour === 'momentary' ? 'trigger' : 'continuous';
}

/**
 * The row that a device shows while one of its controls is moved: the message that it sends is the one that moves it.
 * @param lines all that came, in order
 * @returns null where nothing came that a row can have; a sentence where one more move is needed to tell
 */
export function heardRow(lines: readonly Heard[]): HeardRow | { readonly ask: string } | null {
  const capture = new Capture();
  for (const { t, bytes } of lines) capture.feed(t, bytes);
  const found = infer(capture).sort((a, b) => shareOf(b, lines) - shareOf(a, lines));
  const main = found.find(({ kind }) => kind !== 'touch');
  if (!main) return null;
  return main.confidence < THIN
    ? { ask: main.why }
    : { message: patternOf(main, lines), does: doesOf(main) };
}
