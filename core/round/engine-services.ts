import type { CableCheck } from './cables/cable-check.js';
import type { CableWatch } from './cables/cable-watch.js';
import type { Greeting } from './cables/greeting.js';
import type { Notices } from './cables/notices.js';
import type { ActionContext } from './context.js';
import type { BankWindow } from './forward/bank.js';
import type { LookCache } from './plan/look-book.js';
import type { Beat } from './return/beat.js';
import type { RoundLog } from './trace.js';

/** What outlives every plan and needs no carrying: it refers to nothing in one, or by keys only. */
export interface EngineServices {
  /** The time now, µs, in its first place: as an argument it would be put on the heap. */
  readonly clock: Float64Array;
  /**
   * No later than the first thing that is due by itself, µs, in its first place. Who plans something earlier puts that
   * there; −Infinity asks for the exact time to be worked out anew.
   */
  readonly agenda: Float64Array;
  readonly context: ActionContext;
  readonly bank: BankWindow;
  readonly beat: Beat;
  /** What has happened on links, for their owner to know. */
  readonly notices: Notices;
  readonly greeting: Greeting;
  readonly watch: CableWatch;
  readonly cables: CableCheck;
  /** Looks that were worked out before, by what they say. */
  readonly looks: LookCache;
  /** Recorder of the last way through the round, where one is plugged in. */
  log: RoundLog | null;
  /** Nothing that is touched acts at all, as while a control is being chosen. */
  choosing: boolean;
  /** After a panic no motor is driven until everything is repainted. */
  motorsFree: boolean;
  /** Nothing that is touched reaches a host. */
  readonly silent: boolean;
  /** Counts changes of any host text. */
  textVersion: number;
  /** Counts changes of what a host would have to let go of if Rondo vanished. */
  heldVersion: number;
  /** Counts changes of layers and flags. */
  sessionVersion: number;
  /** Counts values that would have left their range and were held at its end. */
  clamped: number;
  /**
   * What Rondo itself was told to do, by its place in `RONDO_COMMANDS`, once the message at hand is done; after those by the
   * action that goes over to a set-up.
   */
  readonly asked: number[];
  /** Receives the bytes of a link as they go out. */
  output(link: number, bytes: Uint8Array, from: number, to: number): void;
}
