/**
 * Relative encoder encodings, 7 bit. Common practice, no published source.
 * Positive ticks are clockwise.
 */
export const RELATIVE_ENCODINGS = [
  'twosComplement',
  'signMagnitude',
  'signMagnitudeReversed',
  'binaryOffset',
] as const;
export type RelativeEncoding = (typeof RELATIVE_ENCODINGS)[number];

/** Ticks in a received data byte, −64…63; clockwise positive. */
export function ticksOf(encoding: RelativeEncoding, data: number): number {
  switch (encoding) {
    case 'twosComplement':
      return data < 64 ? data : data - 128;
    case 'signMagnitude':
      return data < 64 ? data : 64 - data;
    case 'signMagnitudeReversed':
      return data < 64 ? -data : data - 64;
    case 'binaryOffset':
      return data - 64;
  }
}

/** The data byte for some ticks; ticks are clamped to −63…63, which every encoding can carry. */
export function dataOfTicks(encoding: RelativeEncoding, ticks: number): number {
  const n = Math.max(-63, Math.min(63, Math.trunc(ticks)));
  switch (encoding) {
    case 'twosComplement':
      return n & 0x7f;
    case 'signMagnitude':
      return n >= 0 ? n : 64 - n;
    case 'signMagnitudeReversed':
      return n > 0 ? 64 + n : -n;
    case 'binaryOffset':
      return 64 + n;
  }
}
