import { SYSEX, describePacked, toHex, type Identity } from '@rondo/core/wire';

/** What has come from one input since somebody looks. */
export interface Traffic {
  readonly count: number;
  readonly last: string;
  readonly hex: string;
  /** Milliseconds since the Unix epoch. */
  readonly at: number;
}

/** Longest stretch of a message shown as hex, in bytes. */
const HEX_SHOWN = 24;
const SENSING = 0xfe;
const CLOCK = 0xf8;

/** Clock and active sensing come all the time: they show that a port lives, not that it was touched. */
export const isTouch = (bytes: Uint8Array): boolean =>
  bytes[0] !== CLOCK && bytes[0] !== SENSING && bytes.length > 0;

/** Adds a whole message, as the browser hands it over, to what is known of its port. */
export function heard(before: Traffic | undefined, bytes: Uint8Array, at: number): Traffic {
  const packed = bytes[0] | ((bytes[1] ?? 0) << 8) | ((bytes[2] ?? 0) << 16);
  const cut = bytes.length > HEX_SHOWN ? ' …' : '';
  return {
    count: (before?.count ?? 0) + 1,
    last: bytes[0] === SYSEX ? `SysEx, ${bytes.length} bytes` : describePacked(packed),
    hex: toHex(bytes, 0, Math.min(bytes.length, HEX_SHOWN)) + cut,
    at,
  };
}

/** An identity in a line: manufacturer, family, member and version. */
export function identityText(identity: Identity): string {
  return `Manufacturer ${identity.manufacturer}, family ${identity.family}, member ${identity.member}, version ${identity.version}`;
}
