import { fromBuffer, toBuffer } from 'osc-min';

/*
 * Open Sound Control (specification 1.0, 2002): packets to messages and back. The bytes of one message are read and
 * written by a package; bundles are taken apart here, so that how deep and how many is bounded.
 */

/** A message begins with the slash of its address. */
export const OSC_MESSAGE = 0x2f;
/** A bundle begins with `#bundle`. */
const OSC_BUNDLE = 0x23;

/** The largest packet that one datagram carries, in bytes: 65 535 less the heads of IPv4 and UDP (RFC 791, RFC 768). */
export const LARGEST_PACKET = 65_507;
/** Bundles within bundles are opened down to this many. */
export const DEEPEST_BUNDLE = 8;
/** Messages that are taken from one packet. */
export const MOST_MESSAGES = 1_000;
/** Longest address, in characters; as patterns are matched against it, it bounds their cost. */
export const LONGEST_ADDRESS = 256;

/** An argument as far as it can be a value: numbers of any type, text, on and off, nothing; null for all else. */
export type OscValue = number | string | boolean | null;

export interface OscMessage {
  readonly address: string;
  readonly values: readonly OscValue[];
  /** The type tags, one character for each argument (OSC 1.0: i f s b; common beside them: h d T F N I). */
  readonly tags: string;
}

const TAGS: Readonly<Record<string, string>> = {
  integer: 'i',
  float: 'f',
  string: 's',
  symbol: 'S',
  blob: 'b',
  bigint: 'h',
  double: 'd',
  true: 'T',
  false: 'F',
  null: 'N',
  bang: 'I',
};

/**
 * Reads one message, not a bundle.
 * @returns null where it is malformed or its address is too long
 */
export function readOscMessage(bytes: Uint8Array): OscMessage | null {
  if (bytes[0] !== OSC_MESSAGE || bytes.length % 4 !== 0) return null;
  try {
    const packet = fromBuffer(bytes);
    if (packet.oscType !== 'message' || packet.address.length > LONGEST_ADDRESS) return null;
    return {
      address: packet.address,
      values: packet.args.map((arg): OscValue => {
        // An impulse is a press that nobody lets go of.
        if (arg.type === 'bang') return true;
        if (arg.type === 'bigint') return Number(arg.value);
        const { value } = arg;
        return ['number', 'string', 'boolean'].includes(typeof value) ? (value as OscValue) : null;
      }),
      tags: packet.args.map(({ type }) => TAGS[type] ?? '?').join(''),
    };
  } catch {
    return null;
  }
}

/** How a value is written: f, i, T or F, s, d, h. */
export const OSC_TYPES = ['float', 'integer', 'boolean', 'string', 'double', 'long'] as const;
export type OscType = (typeof OSC_TYPES)[number];

/** An argument to be written. */
export interface OscArgument {
  readonly as: OscType;
  readonly value: number | string;
}

function argumentOf({ as, value }: OscArgument) {
  switch (as) {
    case 'string':
      return { type: 'string', value: String(value).replaceAll('\0', '') } as const;
    case 'boolean':
      return Number(value) >= 0.5 ? ({ type: 'true' } as const) : ({ type: 'false' } as const);
    case 'integer':
      return { type: 'integer', value: Math.round(Number(value)) } as const;
    case 'long':
      return { type: 'bigint', value: BigInt(Math.round(Number(value))) } as const;
    case 'double':
      return { type: 'double', value: Number(value) } as const;
    default:
      return { type: 'float', value: Number(value) } as const;
  }
}

/** Writes one message. */
export function writeOscMessage(address: string, args: readonly OscArgument[]): Uint8Array {
  const view = toBuffer({ address, args: args.map(argumentOf) });
  return new Uint8Array(view.buffer, view.byteOffset, view.byteLength);
}

/** Why something of a packet is left out. */
export type OscRefusal = 'malformed' | 'tooDeep' | 'tooMany' | 'tooFarAhead';

/** A message of a packet, and how long it has to wait, µs: 0 for at once. */
export interface OscDelivery {
  readonly bytes: Uint8Array;
  readonly wait: number;
}

/** Time tags further ahead than this, µs, are refused: what came so early would be a surprise when it acts. */
export const FURTHEST_AHEAD = 2_000_000;

/** Seconds from the zero of time tags, 1 January 1900, to that of Unix (RFC 5905, figure 4). */
const UNIX_FROM_1900 = 2_208_988_800;
/** The tag that means ‘at once’ (OSC 1.0). */
const AT_ONCE = 1;

/** The time of a tag, µs since the Unix epoch; −Infinity for ‘at once’. */
function timeOf(view: DataView, at: number): number {
  const seconds = view.getUint32(at);
  const fraction = view.getUint32(at + 4);
  if (seconds === 0 && fraction === AT_ONCE) return -Infinity;
  return (seconds - UNIX_FROM_1900) * 1_000_000 + (fraction / 2 ** 32) * 1_000_000;
}

/**
 * The messages of a packet in their order; those of bundles with the time of theirs. What is late acts at once.
 * @param now µs since the Unix epoch
 */
export function openPacket(
  packet: Uint8Array,
  now: number,
): { readonly messages: readonly OscDelivery[]; readonly refused: readonly OscRefusal[] } {
  const messages: OscDelivery[] = [];
  const refused = new Set<OscRefusal>();
  const open = (bytes: Uint8Array, wait: number, depth: number): void => {
    if (bytes.length === 0 || bytes.length % 4 !== 0) refused.add('malformed');
    else if (bytes[0] === OSC_MESSAGE) {
      if (messages.length < MOST_MESSAGES) messages.push({ bytes, wait });
      else refused.add('tooMany');
    } else if (bytes[0] === OSC_BUNDLE) openBundle(bytes, depth);
    else refused.add('malformed');
  };
  const openBundle = (bytes: Uint8Array, depth: number): void => {
    if (depth >= DEEPEST_BUNDLE) return void refused.add('tooDeep');
    const isBundle = [...'#bundle\0'].every((sign, i) => bytes[i] === sign.charCodeAt(0));
    if (!isBundle || bytes.length < 16) return void refused.add('malformed');
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    const ahead = timeOf(view, 8) - now;
    if (ahead > FURTHEST_AHEAD) return void refused.add('tooFarAhead');
    for (let at = 16; at < bytes.length;) {
      const length = at + 4 <= bytes.length ? view.getInt32(at) : -1;
      if (length < 0 || at + 4 + length > bytes.length) return void refused.add('malformed');
      open(bytes.subarray(at + 4, at + 4 + length), Math.max(0, ahead), depth + 1);
      at += 4 + length;
    }
  };
  open(packet, 0, 0);
  return { messages, refused: [...refused] };
}
