import { toHex } from './text.js';

/**
 * Universal SysEx identity request to every device: F0 7E 7F 06 01 F7.
 * Source: MIDI 1.0 Detailed Specification 4.2.1, Universal System Exclusive, General Information.
 */
export const IDENTITY_REQUEST: Readonly<Uint8Array> = Uint8Array.of(
  0xf0,
  0x7e,
  0x7f,
  0x06,
  0x01,
  0xf7,
);

/** What a device answers when asked who it is. */
export interface Identity {
  /** Manufacturer id as hex: one byte, or 00 and two more. */
  readonly manufacturer: string;
  /** Family and member, 0–16383, least significant byte first on the wire. */
  readonly family: number;
  readonly member: number;
  /** Software version, four bytes as hex. */
  readonly version: string;
}

/**
 * Reads an identity reply: F0 7E dd 06 02 mm ff ff nn nn vv vv vv vv F7, or mm = 00 hh hh.
 * @returns null where the SysEx is anything else
 */
export function readIdentity(bytes: Uint8Array): Identity | null {
  const long = bytes[5] === 0;
  const length = long ? 17 : 15;
  const isReply =
    bytes.length === length &&
    bytes[0] === 0xf0 &&
    bytes[1] === 0x7e &&
    bytes[3] === 0x06 &&
    bytes[4] === 0x02 &&
    bytes[length - 1] === 0xf7 &&
    bytes.subarray(1, -1).every((byte) => byte < 0x80);
  if (!isReply) return null;
  const at = long ? 8 : 6;
  return {
    manufacturer: toHex(bytes, 5, at),
    family: bytes[at] | (bytes[at + 1] << 7),
    member: bytes[at + 2] | (bytes[at + 3] << 7),
    version: toHex(bytes, at + 4, at + 8),
  };
}
