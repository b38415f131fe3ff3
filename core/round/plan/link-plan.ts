import type { HostModel } from '@rondo/core/host';
import type { MessageKind } from '@rondo/core/profile';
import type { MessageMap, Sender, Surface } from '@rondo/core/surface';
import type { DeskUnit } from '@rondo/core/wire';

/** One device or program, each with an input and an output of its own. */
export interface Link {
  readonly key: string;
  readonly kind: 'surface' | 'host';
  /** Id within the profile. */
  readonly id: string;
  readonly label: string;
  /** Surface or host model that it is. */
  readonly model: string;
  /** The description of a surface; null for a host. */
  readonly surface: Surface | null;
  /** What a host can do; null for a surface. */
  readonly host: HostModel | null;
  readonly bytesPerSecond: number;
  /** What its messages mean; targets count from {@link firstTarget} on. */
  readonly map: MessageMap;
  /** Writes its messages, by output of a surface, by slot of a host; one for each onboard page. */
  readonly senders: readonly Sender[];
  /** Notes that are played and never command: 1 at channel × 128 + note, channels from 0; null where there are none. */
  readonly musicalNotes: Uint8Array | null;
  /** Message that makes a host report everything. */
  readonly ask: Uint8Array | null;
  /** The unit of a host that it is, from 0; 0 for a surface. */
  readonly unit: number;
  /** It speaks OSC: packets with their lengths before them, in place of MIDI. */
  readonly isOsc: boolean;
  /** It speaks the Mackie-style protocol, as this unit; null where it does not. */
  readonly desk: DeskUnit | null;
  /** First of the parts of a surface, or of the slots of a host, that its messages mean. */
  readonly firstTarget: number;
  /** First of its slots or outputs, and how many there are; a host's units share them all. */
  readonly first: number;
  readonly count: number;
  /** Its clock is the one to follow. */
  readonly clock: boolean;
  /** Link to the unit of a host before which a surface stands in for another; −1 where it is itself. */
  readonly standsBefore: number;
}

/** Where messages of a link go on to, and which. */
export interface RoutePlan {
  readonly id: string;
  readonly from: number;
  readonly to: number;
  /** Bits of {@link KIND_BITS}. */
  readonly kinds: number;
  /** Channels that it takes, as bits from channel 1 on. */
  readonly channels: number;
  /** Notes that it takes, both ends among them. */
  readonly low: number;
  readonly high: number;
  /** Semitones by which notes go up. */
  readonly shift: number;
  /** Channel on which all goes on, from 0; −1 for that on which it came. */
  readonly channel: number;
  /** It takes only what no other route of its link takes. */
  readonly rest: boolean;
}

/** Bit of a kind of message. */
export const KIND_BITS: Readonly<Record<MessageKind, number>> = {
  note: 1,
  controller: 2,
  program: 4,
  bend: 8,
  pressure: 16,
  sysex: 32,
  clock: 64,
  osc: 128,
};

/** The key of the link to a unit of a host, from 0. */
export const hostLinkKey = (host: string, unit: number): string =>
  unit === 0 ? `host:${host}` : `host:${host}~${unit + 1}`;
