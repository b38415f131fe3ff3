import { OSC_MESSAGE, inStream } from '@rondo/core/wire';
import { KIND_BITS, type Plan } from '../plan/plan.js';
import type { Outbox } from '../return/outbox.js';
import { LONGEST_SYSEX } from './link-input.js';
import type { Round } from '../round.js';
import { Fate } from './hands.js';
import { pushShort } from './short-messages.js';

/** A SysEx above this many bytes is worth a word about the time that it takes on the wire. */
const LONG_SYSEX = 512;

/** Bit of the kind that a status byte belongs to. */
export function kindBit(status: number): number {
  if (status >= 0xf0) return KIND_BITS.clock;
  switch (status & 0xf0) {
    case 0xb0:
      return KIND_BITS.controller;
    case 0xc0:
      return KIND_BITS.program;
    case 0xa0:
    case 0xd0:
      return KIND_BITS.pressure;
    case 0xe0:
      return KIND_BITS.bend;
    default:
      return KIND_BITS.note;
  }
}

/** Passes on what comes from a surface: what its bindings let through, and what matches nothing, by kind. */
export class PassOn {
  private readonly plan: Plan;
  private readonly outboxes: readonly Outbox[];
  /** Link that each link's messages go on to, and the kinds that do where nothing matches them. */
  private readonly to: Int32Array;
  private readonly kinds: Uint8Array;

  constructor(private readonly round: Round) {
    this.plan = round.plan;
    this.outboxes = round.outboxes;
    this.to = Int32Array.from(this.plan.links, ({ onward }) => onward?.link ?? -1);
    this.kinds = Uint8Array.from(this.plan.links, ({ onward }) => onward?.kinds ?? 0);
  }

  /** Passes on the short message that is being worked on, if it is to go on. */
  short(link: number, fate: Fate): void {
    const to = this.to[link];
    if (to < 0 || fate === Fate.Consumed) return;
    const { packed, firstHalf } = this.round.lasting.context;
    if (fate === Fate.Unmatched && (this.kinds[link] & kindBit(packed & 0xff)) === 0) return;
    if (firstHalf !== 0) this.push(to, firstHalf);
    this.push(to, packed);
  }

  /** Passes on a half of a value that means nothing alone, as the choice of a parameter. */
  half(link: number, packed: number): void {
    const to = this.to[link];
    if (to >= 0 && (this.kinds[link] & kindBit(packed & 0xff)) !== 0) this.push(to, packed);
  }

  private push(to: number, packed: number): void {
    if (!pushShort(this.outboxes[to], packed) && this.outboxes[to].open) this.crowded(to);
  }

  private crowded(to: number): void {
    const { key, label } = this.plan.links[to];
    this.round.lasting.notices.say(
      'crowded',
      key,
      `More goes on to ${label} than its cable takes: some of it was left out. Pass on fewer kinds of messages, or slow down what sends them.`,
    );
  }

  /** Passes on a SysEx or an OSC message of a link, if it is to go on. */
  fromSysex(link: number, fate: Fate, bytes: Uint8Array, from: number, to: number): void {
    const onto = this.to[link];
    if (onto < 0 || fate === Fate.Consumed) return;
    const kind = bytes[from] === OSC_MESSAGE ? KIND_BITS.osc : KIND_BITS.sysex;
    if (fate === Fate.PassedOn || (this.kinds[link] & kind) !== 0)
      this.sysex(onto, bytes, from, to);
  }

  /**
   * Sends a SysEx, or an OSC message, to a link as it is; a long one waits for everything else, and how long it takes is
   * told. A link that does not speak so gets nothing.
   */
  sysex(link: number, bytes: Uint8Array, from: number, to: number): void {
    const box = this.outboxes[link];
    const { key, label, bytesPerSecond, isOsc } = this.plan.links[link];
    if (!box.open || (bytes[from] === OSC_MESSAGE) !== isOsc) return;
    if (isOsc) {
      const packet = inStream(bytes.subarray(from, to));
      if (!box.pushEvent(packet, 0, packet.length)) this.crowded(link);
      return;
    }
    const length = to - from;
    if (!box.pushEvent(bytes, from, to)) {
      this.crowded(link);
      return;
    }
    if (length <= LONG_SYSEX) return;
    const seconds = length / bytesPerSecond;
    const time = seconds < 1 ? `${Math.ceil(seconds * 1_000)} ms` : `${seconds.toFixed(1)} s`;
    this.round.lasting.notices.say(
      'longSysex',
      key,
      `A SysEx message of ${length} bytes goes on to ${label}: it takes ${time} on the wire, and nothing else gets through meanwhile. It waits until nothing else is due.`,
      false,
    );
  }

  /** A SysEx was too long to be read. */
  tooLong(link: number): void {
    const { key, label } = this.plan.links[link];
    this.round.lasting.notices.say(
      'longSysex',
      key,
      `${label} sent a SysEx message of more than ${LONGEST_SYSEX / 1_024} KiB. Rondo refused it; nothing of it went on.`,
    );
  }
}
