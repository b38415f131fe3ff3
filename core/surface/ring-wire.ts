export const RING_STYLES = ['dot', 'fromCentre', 'fromEnd', 'widening'] as const;
/** Wire value of a ring with no lamp lit. */
export const DARK_RING = 0;
const CENTRE_LAMP = 0x40;
/** How near the middle a value must be for the centre lamp, as a share of the range. */
const CENTRE_REACH = 1 / 256;

/** A value, 0…1, as it goes over the wire to a ring, in a style by its place in {@link RING_STYLES}. */
export const ringWire = (value: number, style: number): number =>
  (Math.abs(value - 0.5) < CENTRE_REACH ? CENTRE_LAMP : 0) |
  (style << 4) |
  (1 + Math.round(value * 10));
