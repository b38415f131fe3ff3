import type { z } from 'zod';
import type { controlSchema } from '../surface.js';

/** A control as stock surfaces write it down. */
export type Drawn = z.input<typeof controlSchema>;

export const note = (number: number, channel = 1) => ({ type: 'note', channel, number }) as const;
export const controller = (number: number, channel = 1) =>
  ({ type: 'controller', channel, number }) as const;

/** A run of controls: `make` is called with 0, 1, 2 … */
export const run = (total: number, make: (index: number) => Drawn): Drawn[] =>
  Array.from({ length: total }, (_, index) => make(index));

const WHITE = [0, 2, 4, 5, 7, 9, 11];
const KEY = { width: 13.5, height: 74 };
const BLACK = { width: 8.5, height: 46 };

/**
 * Piano keys from a C on, seven white ones an octave.
 * @param first note of the first key, a C
 * @param total black ones included
 */
export function keyboard(total: number, first: number, x: number, y: number, channel = 1): Drawn[] {
  return run(total, (index) => {
    const tone = index % 12;
    const octave = Math.floor(index / 12) * 7;
    const white = WHITE.indexOf(tone);
    const isWhite = white >= 0;
    const below = WHITE.filter((n) => n < tone).length;
    return {
      id: `key-${index + 1}`,
      kind: 'key',
      label: `Key ${index + 1}`,
      x: isWhite
        ? x + (octave + white) * KEY.width
        : x + (octave + below) * KEY.width - BLACK.width / 2,
      y,
      ...(isWhite ? KEY : { ...BLACK, dark: true }),
      sends: { push: note(first + index, channel) },
    };
  });
}

/** How wide a keyboard of so many keys is, in millimetres. */
export const keyboardWidth = (total: number): number => {
  const rest = total % 12;
  const white = Math.floor(total / 12) * 7 + WHITE.filter((tone) => tone < rest).length;
  return white * KEY.width;
};
