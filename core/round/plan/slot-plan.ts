import type { HostFunction, LawName } from '@rondo/core/host';
import type { Pattern } from '@rondo/core/surface';

export interface SlotPlan {
  readonly key: string;
  readonly address: string;
  /** The host; −1 for a layer or a flag, which are Rondo's own. */
  readonly link: number;
  /** Index within its link's patterns. */
  readonly local: number;
  readonly fn: HostFunction;
  readonly law: LawName;
  readonly strip: number;
  readonly exists: boolean;
  /** The messages by which it is set, and by which the host tells it. */
  readonly set: Pattern | undefined;
  readonly report: Pattern | undefined;
  readonly settable: boolean;
  readonly reports: boolean;
  /** Its message turns it over, whatever is sent. */
  readonly toggleOnly: boolean;
  /** It is a key: pressed and let go, and what it tells is its lamp. */
  readonly taps: boolean;
  /** Slot by which the host is told that a finger lies on what moves this one; −1 where there is none. */
  readonly touch: number;
  /** Slot that tells whether this one is available now: on where it is; −1 where it always is. */
  readonly needs: number;
  /** Slot that tells whether its strip is ready to record; −1 where there is none. */
  readonly armed: number;
  /** The value at which it waits for its time; −1 where it never does. */
  readonly waits: number;
}

/** The parameters of what can have focus in a host. */
export interface FocusPlan {
  readonly link: number;
  /** Slot that tells which has focus, by its share of the last. */
  readonly slot: number;
  /** Slots of the parameters in their order, for each. */
  readonly tables: readonly Int32Array[];
  /** What each is called. */
  readonly labels: readonly string[];
  /** Parameters on a page. */
  readonly width: number;
}

/** Where a host tells its time and tempo; −1 where it does not. */
export interface Times {
  readonly link: number;
  readonly time: number;
  readonly tempo: number;
}
