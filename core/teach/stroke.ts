import {
  CHANNEL_PRESSURE,
  CONTROL_CHANGE,
  NOTE_OFF,
  NOTE_ON,
  PITCH_BEND,
  POLY_PRESSURE,
  PROGRAM_CHANGE,
} from '@rondo/core/wire';
import { TICK_VALUES, TREMBLE } from './infer.js';
import type { Heard } from './settle.js';

/**
 * A hand that goes from one control to another needs at least so long, ms; what comes closer together is one movement: the
 * halves of a value, a fader and its touch sense. Common practice, no source.
 */
export const HAND_MS = 50;
/** Messages kept of one stroke; older ones go. */
const MOST_HEARD = 4_000;

/** By whom a message is sent, as far as one message tells; '' where what follows does. */
export class Senders {
  /** Parameter that each channel has chosen, as its four controllers were set last (MIDI 1.0: 98–101). */
  private readonly chosen = new Map<number, number[]>();

  /** @returns an address; null for what only chooses, or goes with whatever is held */
  of(bytes: Uint8Array): string | null {
    const channel = bytes[0] & 0x0f;
    switch (bytes[0] & 0xf0) {
      case NOTE_ON:
      case NOTE_OFF:
      case POLY_PRESSURE:
        return `note ${channel} ${bytes[1]}`;
      case CONTROL_CHANGE:
        return this.controller(channel, bytes[1], bytes[2]);
      case PITCH_BEND:
        return `bend ${channel}`;
      case PROGRAM_CHANGE:
        return `program ${channel}`;
      case CHANNEL_PRESSURE:
        return null;
      default:
        return null;
    }
  }

  private controller(channel: number, number: number, value: number): string | null {
    if (number >= 98 && number <= 101) {
      const four = this.chosen.get(channel) ?? [-1, -1, -1, -1];
      four[number - 98] = value;
      // Registered and other parameters are chosen by a pair each; the last one counts.
      if (number <= 99) four.fill(-1, 2);
      else four.fill(-1, 0, 2);
      this.chosen.set(channel, four);
      return null;
    }
    const four = this.chosen.get(channel);
    const isData = number === 6 || number === 38 || number === 96 || number === 97;
    if (isData && four && four.filter((part) => part >= 0).length === 2)
      return `parameter ${channel} ${four.join()}`;
    return `controller ${channel} ${number}`;
  }
}

/** What a hand does to one control, until it begins with another. */
export class Stroke {
  readonly lines: Heard[] = [];
  /** Addresses that belong to it. */
  readonly addresses = new Set<string>();
  /** When something of it moved last, ms; −Infinity while nothing has. */
  lastAt = -Infinity;
  private readonly held = new Set<string>();
  private readonly reach = new Map<string, { low: number; high: number }>();

  get isEmpty(): boolean {
    return this.lastAt === -Infinity;
  }

  /**
   * Whether a message is of another control: nothing here is held to which it could belong, and there was time to go there.
   * @param holds whether a held note can be a finger that lies on what moves
   */
  isOther(t: number, address: string | null, holds: boolean): boolean {
    return (
      address !== null &&
      !this.isEmpty &&
      !this.addresses.has(address) &&
      !(holds && this.held.size > 0) &&
      t - this.lastAt >= HAND_MS
    );
  }

  add(t: number, bytes: Uint8Array, address: string | null): void {
    this.lines.push({ t, bytes: bytes.slice() });
    if (this.lines.length > MOST_HEARD) this.lines.splice(0, MOST_HEARD / 2);
    if (address !== null && this.trembles(bytes, address)) return;
    if (address !== null) {
      this.addresses.add(address);
      const status = bytes[0] & 0xf0;
      if (status === NOTE_ON && bytes[2] > 0) this.held.add(address);
      else if (status === NOTE_ON || status === NOTE_OFF) this.held.delete(address);
    }
    this.lastAt = t;
  }

  /** A controller that goes to and fro by a step or two is not moved by a hand. */
  trembles(bytes: Uint8Array, address: string): boolean {
    if ((bytes[0] & 0xf0) !== CONTROL_CHANGE || TICK_VALUES.has(bytes[2])) return false;
    const reach = this.reach.get(address);
    if (!reach) {
      this.reach.set(address, { low: bytes[2], high: bytes[2] });
      return false;
    }
    reach.low = Math.min(reach.low, bytes[2]);
    reach.high = Math.max(reach.high, bytes[2]);
    return reach.high > reach.low && reach.high - reach.low <= TREMBLE;
  }

  /** Takes another stroke of the same control along. */
  join(later: Stroke): void {
    this.lines.push(...later.lines);
    for (const address of later.addresses) this.addresses.add(address);
    this.lastAt = later.lastAt;
  }

  /** Whether another stroke is of the same control. */
  isLike(other: Stroke): boolean {
    return [...other.addresses].some((address) => this.addresses.has(address));
  }
}
