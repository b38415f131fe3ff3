import { MESSAGE_LENGTH, SYSEX, SYSEX_END } from './status.js';

/** What a {@link StreamParser} hands its complete messages to. */
export interface MessageSink {
  /** Any complete message but SysEx, packed as `status | data1 << 8 | data2 << 16`. */
  short(packed: number): void;
  /** A complete SysEx, F0 and F7 included, at `bytes[from…to)`. Valid only during the call: copy what you keep. */
  sysex(bytes: Uint8Array, from: number, to: number): void;
}

/** How often broken input was skipped, by what was wrong with it. */
export interface SkipCounts {
  /** Data bytes that came without a status they could belong to. */
  strayData: number;
  /** Messages cut short by another status. */
  truncated: number;
  /** F4, F5, F9 and FD, and an F7 that ends nothing. */
  undefinedStatus: number;
  /** SysEx ended by a status other than F7. */
  brokenSysex: number;
  /** SysEx longer than the limit. */
  oversizeSysex: number;
}

/** Largest SysEx kept unless the caller says otherwise, in bytes. */
const DEFAULT_SYSEX_LIMIT = 65_536;

const FIRST_SYSEX = 256;

/**
 * Turns a MIDI byte stream into messages. Chunks may be cut anywhere; running status, real time inside anything
 * and broken input follow MIDI 1.0 (Detailed Specification 4.2.1, section 2 and appendix A-1..A-3). It never
 * throws: what cannot be read is skipped and counted in {@link skipped}. It allocates nothing per message.
 */
export class StreamParser {
  readonly skipped: SkipCounts = {
    strayData: 0,
    truncated: 0,
    undefinedStatus: 0,
    brokenSysex: 0,
    oversizeSysex: 0,
  };
  /** Grows up to the limit. */
  private sysexBuffer = new Uint8Array(FIRST_SYSEX);
  /** The status that following data bytes belong to; 0 where there is none. */
  private status = 0;
  private needed = 0;
  private first = 0;
  private got = 0;
  private inSysex = false;
  private sysexLength = 0;

  /**
   * @param sink receives the messages in order
   * @param sysexLimit longest SysEx kept, in bytes, F0 and F7 included; longer ones are skipped whole
   */
  constructor(
    private readonly sink: MessageSink,
    private readonly sysexLimit = DEFAULT_SYSEX_LIMIT,
  ) {}

  /** Forgets a half-read message and running status, as after a reconnect. Counts stay. */
  reset(): void {
    this.status = 0;
    this.got = 0;
    this.inSysex = false;
  }

  /** Reads `bytes[from…to)`, which goes on where the last call stopped. */
  feed(bytes: Uint8Array, from = 0, to = bytes.length): void {
    let at = from;
    while (at < to) {
      if (this.got === 0 && this.status < SYSEX && !this.inSysex) {
        at = this.wholeMessages(bytes, at, to);
        if (at === to) return;
      }
      const byte = bytes[at++];
      if (byte < 0x80) this.data(byte);
      else if (byte >= 0xf8) this.realTime(byte);
      else this.newStatus(byte);
    }
  }

  /** The common case in one tight loop: three-byte channel messages, each whole. Returns where it stopped. */
  private wholeMessages(bytes: Uint8Array, from: number, to: number): number {
    const sink = this.sink;
    let at = from;
    let status = 0;
    for (const last = to - 2; at < last; at += 3) {
      const byte = bytes[at];
      // 8x, 9x, Ax, Bx and Ex; not Cx and Dx, which are shorter, nor Fx.
      if (byte < 0x80 || byte >= 0xf0 || (byte & 0xe0) === 0xc0) break;
      const one = bytes[at + 1];
      const two = bytes[at + 2];
      if ((one | two) >= 0x80) break;
      status = byte;
      sink.short(byte | (one << 8) | (two << 16));
    }
    if (status !== 0) {
      this.status = status;
      this.needed = 2;
    }
    return at;
  }

  private realTime(byte: number): void {
    if (MESSAGE_LENGTH[byte] === 1) this.sink.short(byte);
    else this.skipped.undefinedStatus++;
  }

  private data(byte: number): void {
    if (this.inSysex) {
      // One place is kept free for the closing F7.
      if (this.sysexLength < this.sysexLimit - 1) this.keep(byte);
      else this.sysexLength = this.sysexLimit;
      return;
    }
    if (this.status === 0) {
      this.skipped.strayData++;
      return;
    }
    if (this.got === 0 && this.needed === 2) {
      this.first = byte;
      this.got = 1;
      return;
    }
    const packed =
      this.needed === 2
        ? this.status | (this.first << 8) | (byte << 16)
        : this.status | (byte << 8);
    this.got = 0;
    // Running status holds over channel messages only.
    if (this.status >= SYSEX) this.status = 0;
    this.sink.short(packed);
  }

  private keep(byte: number): void {
    if (this.sysexLength === this.sysexBuffer.length) {
      const larger = new Uint8Array(this.sysexBuffer.length * 2);
      larger.set(this.sysexBuffer);
      this.sysexBuffer = larger;
    }
    this.sysexBuffer[this.sysexLength++] = byte;
  }

  private newStatus(byte: number): void {
    if (byte === SYSEX_END && this.inSysex) {
      this.endSysex();
      return;
    }
    if (this.inSysex) {
      this.skipped.brokenSysex++;
      this.inSysex = false;
    } else if (this.got > 0 || this.status >= SYSEX) {
      this.skipped.truncated++;
    }
    this.got = 0;
    this.status = 0;
    if (byte === SYSEX) {
      this.inSysex = true;
      this.sysexBuffer[0] = SYSEX;
      this.sysexLength = 1;
      return;
    }
    const length = MESSAGE_LENGTH[byte];
    if (length === 0) {
      this.skipped.undefinedStatus++;
      return;
    }
    if (length === 1) {
      this.sink.short(byte);
      return;
    }
    this.status = byte;
    this.needed = length - 1;
  }

  private endSysex(): void {
    this.inSysex = false;
    if (this.sysexLength >= this.sysexLimit) {
      this.skipped.oversizeSysex++;
      return;
    }
    this.keep(SYSEX_END);
    this.sink.sysex(this.sysexBuffer, 0, this.sysexLength);
  }
}
