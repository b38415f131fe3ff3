import { placeText, type Pattern } from '@rondo/core/surface';

/** An OSC message as it came: its address, and the number that stands for the value. */
export function oscText(pattern: Pattern | undefined, share: number): string {
  if (pattern?.type !== 'osc') return 'OSC';
  const place = pattern.argument > 1 ? `, argument ${pattern.argument}` : '';
  return `OSC ${pattern.address} ${placeText(pattern, share)}${place}`;
}
