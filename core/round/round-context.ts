import type { LinkDecoder, Sender } from '@rondo/core/surface';
import type { Causes } from './cables/causes.js';
import type { TurnedBack } from './cables/turned-back.js';
import type { Layers } from './forward/layers.js';
import type { Matcher } from './forward/matcher.js';
import type { EngineServices } from './engine-services.js';
import type { State } from './live/state.js';
import type { Plan } from './plan/plan.js';
import type { Tables } from './plan/tables.js';
import type { Beliefs } from './return/beliefs.js';
import type { Outbox } from './return/outbox.js';
import type { Stop } from './trace.js';

/**
 * What every stage of the round stands on: the plan, the live state, the wires, and what is known and counts. Which other
 * stages one needs it says itself, so that no two know each other's files.
 */
export interface RoundContext {
  readonly services: EngineServices;
  readonly plan: Plan;
  readonly state: State;
  readonly tables: Tables;

  readonly decoders: readonly LinkDecoder[];
  readonly outboxes: readonly Outbox[];
  /** Onboard page that each link is on, from 0; and the sender for it. */
  readonly pages: readonly number[];
  readonly senders: readonly Sender[];

  readonly beliefs: Beliefs;
  readonly layers: Layers;
  readonly matcher: Matcher;
  readonly causes: Causes;
  readonly turnedBack: TurnedBack;

  /** Records why a part's message went no further. */
  stop(part: number, why: Stop): void;
  /** What is believed of a slot has changed: what shows it and what hangs on it are due. */
  changed(slot: number): void;
  /** What outputs show is worked out anew before anything is sent. */
  resolveAnew(): void;
}
