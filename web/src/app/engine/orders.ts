import * as z from 'zod';
import { portChoiceSchema, setUpSchema } from '@rondo/core/profile';
import { MOTOR_TESTS } from '@rondo/core/round';

const id = z.string().max(200);

/** What changes how a profile is played, whichever window it is said in. */
export const orderSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.enum(['panic', 'repaint']) }),
  z.object({ kind: z.literal('holdOff'), on: z.boolean() }),
  /** A window is choosing a control, or teaches a surface: what is touched acts on nothing. */
  z.object({ kind: z.enum(['choosing', 'teaching']), on: z.boolean() }),
  z.object({ kind: z.literal('setUp'), setUp: setUpSchema }),
  z.object({ kind: z.enum(['layer', 'flag']), id, on: z.boolean() }),
  z.object({ kind: z.literal('bank'), by: z.int().min(-1_000).max(1_000) }),
  /** A state of a host as lights show it; null ends that. */
  z.object({ kind: z.literal('play'), key: z.string().max(1_000), value: z.number().nullable() }),
  z.object({ kind: z.literal('tryLight'), link: id, control: id, wire: z.number() }),
  z.object({ kind: z.literal('tryMotors'), link: id, test: z.enum(MOTOR_TESTS).nullable() }),
  z.object({ kind: z.enum(['askAgain', 'checkCable', 'checkTwice']), link: id }),
  z.object({ kind: z.literal('ports'), link: id, choice: portChoiceSchema }),
]);
export type Order = z.infer<typeof orderSchema>;

/** Orders that are about the profile which plays, and mean nothing for another one. */
const OF_A_PROFILE: ReadonlySet<Order['kind']> = new Set([
  'layer',
  'flag',
  'bank',
  'play',
  'tryLight',
  'tryMotors',
  'askAgain',
  'checkCable',
  'checkTwice',
  'ports',
]);
export const isOfAProfile = ({ kind }: Order): boolean => OF_A_PROFILE.has(kind);

/** How an order ended: it was done, or what plays is another profile, or has no such thing. */
export const OUTCOMES = ['done', 'otherProfile', 'notThere', 'noAnswer'] as const;
export type Outcome = (typeof OUTCOMES)[number];

/** How the engine plays, for all windows to say the same. */
export const standingSchema = z.object({
  /** Id and name of the profile that plays; null while none does. */
  profile: z.object({ id: z.string(), name: z.string() }).nullable(),
  holdOff: z.boolean(),
  /** Some window is choosing or teaches, so that touches act on nothing. */
  isKeptAway: z.boolean(),
  layers: z.array(z.string()).max(64),
  flags: z.record(z.string(), z.boolean()),
  bank: z.number(),
  ports: z.record(z.string(), portChoiceSchema),
  /** The set-up that was gone over to last. */
  setUp: z.string().nullable(),
});
export type Standing = z.infer<typeof standingSchema>;
