import { LARGEST_PACKET } from './osc.js';

/** Bytes before each packet that say how long it is (OSC 1.0: “in a stream-based protocol … an int32”). */
export const OSC_HEAD = 4;

/** Writes how long the packet is that begins {@link OSC_HEAD} bytes further on. */
export function writeOscHead(length: number, buffer: Uint8Array, at: number): void {
  buffer[at] = length >>> 24;
  buffer[at + 1] = (length >>> 16) & 0xff;
  buffer[at + 2] = (length >>> 8) & 0xff;
  buffer[at + 3] = length & 0xff;
}

/** A packet with its length before it, as it goes over a stream. */
export function inStream(packet: Uint8Array): Uint8Array {
  const framed = new Uint8Array(OSC_HEAD + packet.length);
  writeOscHead(packet.length, framed, 0);
  framed.set(packet, OSC_HEAD);
  return framed;
}

/** Takes the packets of a stream, cut anywhere. A length that no datagram has ends the stream until it begins anew. */
export class OscStream {
  private kept = new Uint8Array(0);
  /** It said a length that cannot be: nothing that follows means anything. */
  broken = false;

  /** @param take receives each packet at `bytes[from…to)`, valid during the call only */
  constructor(private readonly take: (bytes: Uint8Array, from: number, to: number) => void) {}

  /** The stream begins anew. */
  reset(): void {
    this.kept = new Uint8Array(0);
    this.broken = false;
  }

  /** More of it has come. */
  feed(bytes: Uint8Array, from: number, to: number): void {
    if (this.broken) return;
    let all = bytes;
    let at = from;
    let end = to;
    if (this.kept.length > 0) {
      all = new Uint8Array(this.kept.length + to - from);
      all.set(this.kept);
      all.set(bytes.subarray(from, to), this.kept.length);
      at = 0;
      end = all.length;
    }
    while (end - at >= OSC_HEAD) {
      const length =
        ((all[at] << 24) | (all[at + 1] << 16) | (all[at + 2] << 8) | all[at + 3]) >>> 0;
      if (length === 0 || length > LARGEST_PACKET) {
        this.broken = true;
        this.kept = new Uint8Array(0);
        return;
      }
      if (end - at - OSC_HEAD < length) break;
      this.take(all, at + OSC_HEAD, at + OSC_HEAD + length);
      at += OSC_HEAD + length;
    }
    this.kept = all.slice(at, end);
  }
}
