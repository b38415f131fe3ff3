import * as z from 'zod';
import { LARGEST_PACKET } from './osc.js';

/*
 * What the engine's worker and the server say to each other about OSC: text messages as JSON, and packets as bytes, each
 * stretch behind the number of the list of places that it is about and the place in that list.
 */

/** Places that one engine may have, and senders that one of them may list. */
const MOST_PLACES = 64;
const MOST_SENDERS = 32;
/** Strokes that one place may list, and the longest address of one. */
const MOST_STROKES = 2_000;
const LONGEST_STROKE = 400;

const udpPort = z.int().min(1).max(65_535);
/** An address or a name of a machine (RFC 1123, 2.1). */
const machine = z
  .string()
  .max(253)
  .regex(/^[0-9a-zA-Z:.%_-]+$/, 'an address as 192.168.1.20, or a name');

/** Where an OSC link listens, and where it sends to. */
export const netChoiceSchema = z.object({
  /** UDP port that Rondo listens on; null where nothing is to come. */
  listen: udpPort.nullable(),
  /** Where it sends to; null where nothing is to go. */
  to: z.object({ host: machine, port: udpPort }).nullable(),
  /** Machines that may send, beside the one that it sends to and this one. */
  from: z.array(machine).max(MOST_SENDERS),
  /** It goes to the keys of this computer instead, by the key adapter. */
  keys: z
    .object({
      /** Only while a program of this name is in front; '' for whichever is. */
      program: z.string().max(80),
    })
    .optional(),
});
export type NetChoice = z.infer<typeof netChoiceSchema>;

const netPlaceSchema = netChoiceSchema.extend({
  link: z.string().max(200),
  /** Addresses of the strokes that may be sent: those that the profile's host lists, and no others. */
  strokes: z.array(z.string().max(LONGEST_STROKE)).max(MOST_STROKES).optional(),
});
export type NetPlace = z.infer<typeof netPlaceSchema>;

/** The longest will, in bytes. */
const LONGEST_WILL = 65_536;

/** From the engine to the server. */
export const toNetSchema = z.discriminatedUnion('kind', [
  /** The places that there are now, in the order in which they are counted. */
  z.object({
    kind: z.literal('places'),
    round: z.int().min(0).max(255),
    places: z.array(netPlaceSchema).max(MOST_PLACES),
  }),
  /** What is sent to a place when the engine is gone: it releases what is held there. */
  z.object({
    kind: z.literal('will'),
    link: z.string().max(200),
    bytes: z.array(z.int().min(0).max(255)).max(LONGEST_WILL),
  }),
]);

/** Why something that came was not taken. */
const NET_REFUSALS = [
  'stranger',
  'malformed',
  'tooDeep',
  'tooMany',
  'tooFarAhead',
  'tooFast',
  // Of key strokes.
  'notInFront',
  'notListed',
] as const;
export type NetRefusal = (typeof NET_REFUSALS)[number];

const standingSchema = z.object({
  link: z.string(),
  /** It listens, as was asked. */
  hears: z.boolean(),
  /** It has somewhere to send to. */
  speaks: z.boolean(),
  /** What keeps it from either, in a sentence; '' for nothing. */
  fault: z.string(),
});
export type NetStanding = z.infer<typeof standingSchema>;

const newsSchema = z.object({
  link: z.string(),
  why: z.enum(NET_REFUSALS),
  /** Who sent it last, and how many there were since it was told before. */
  from: z.string(),
  count: z.int(),
});
export type NetNews = z.infer<typeof newsSchema>;

/** From the server to the engine. */
export const fromNetSchema = z.discriminatedUnion('kind', [
  /** How the places of a round stand. */
  z.object({
    kind: z.literal('standing'),
    round: z.int(),
    standing: z.array(standingSchema),
  }),
  z.object({ kind: z.literal('news'), news: z.array(newsSchema) }),
]);
export type FromNet = z.infer<typeof fromNetSchema>;

/** Bytes before each stretch: the round of places, and the place. */
export const NET_HEAD = 2;
/** The longest message between the two, in bytes. */
export const LONGEST_NET = 16 * LARGEST_PACKET;

/** A stretch of packets with whose it is before it. */
export function netStretch(
  round: number,
  place: number,
  bytes: Uint8Array,
): Uint8Array<ArrayBuffer> {
  const stretch = new Uint8Array(NET_HEAD + bytes.length);
  stretch[0] = round;
  stretch[1] = place;
  stretch.set(bytes, NET_HEAD);
  return stretch;
}
