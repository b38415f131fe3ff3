/** Stations of the round, in its order: four forward, three on the way back. */
export const STATIONS = [
  'control',
  'message',
  'shape',
  'function',
  'state',
  'rule',
  'output',
] as const;
export type Station = (typeof STATIONS)[number];

/** Why a message went no further. */
export const enum Stop {
  None,
  NothingBound,
  HeldOff,
  NotAvailable,
  HostClosed,
  StateUnknown,
  Broken,
  Busy,
  Played,
  /** What is bound to it is bound on layers that are off. */
  OtherLayer,
  ConditionFalse,
  /** The control has not met its function yet. */
  Pickup,
}

/** Which station a stop belongs to. */
export const STOP_STATION: Readonly<Record<Stop, Station | null>> = {
  [Stop.None]: null,
  [Stop.NothingBound]: 'function',
  [Stop.HeldOff]: 'function',
  [Stop.NotAvailable]: 'function',
  [Stop.HostClosed]: 'function',
  [Stop.StateUnknown]: 'state',
  [Stop.Broken]: 'function',
  [Stop.Busy]: 'function',
  [Stop.Played]: 'message',
  [Stop.OtherLayer]: 'function',
  [Stop.ConditionFalse]: 'function',
  [Stop.Pickup]: 'shape',
};

/**
 * The last way through the round of every part. Plugged into the engine it is told each step on the same code path
 * that the messages take; it keeps the newest of each and allocates nothing.
 */
export class RoundLog {
  readonly packed: Int32Array;
  readonly at: Float64Array;
  readonly value: Float64Array;
  readonly stop: Uint8Array;
  /** Slot that the part's last message reached; −1 where it reached none. */
  readonly slot: Int32Array;
  readonly shaped: Float64Array;
  /** Binding that took the part's last message; −1 where none did. */
  readonly binding: Int32Array;
  /** How far the function is from the control, of its range; above 0 it is higher. 0 where they have met. */
  readonly gap: Float64Array;
  /** Newest message that matched no control: link, message, time. */
  strayLink = -1;
  strayPacked = 0;
  strayAt = -1;
  /** Part touched last and when. */
  inHand = -1;
  inHandAt = -1;

  constructor(parts: number) {
    this.packed = new Int32Array(parts);
    this.at = new Float64Array(parts).fill(-1);
    this.value = new Float64Array(parts);
    this.stop = new Uint8Array(parts);
    this.slot = new Int32Array(parts).fill(-1);
    this.shaped = new Float64Array(parts);
    this.binding = new Int32Array(parts).fill(-1);
    this.gap = new Float64Array(parts);
  }

  stray(link: number, packed: number, t: number): void {
    this.strayLink = link;
    this.strayPacked = packed;
    this.strayAt = t;
  }

  /**
   * @param register has the value that came in at its first place
   * @param clock has the time at its first place, µs
   * @param release true for the end of a press: what became of the press stays
   */
  hand(
    part: number,
    packed: number,
    register: Float64Array,
    clock: Float64Array,
    release: boolean,
  ): void {
    this.packed[part] = packed;
    this.at[part] = clock[0];
    this.value[part] = register[0];
    this.inHand = part;
    this.inHandAt = clock[0];
    if (release) return;
    this.stop[part] = Stop.None;
    this.slot[part] = -1;
    this.binding[part] = -1;
    this.gap[part] = 0;
  }

  /** @param at place of the shaped value in a list */
  reached(part: number, slot: number, values: Float64Array, at: number): void {
    this.slot[part] = slot;
    this.shaped[part] = at >= 0 ? values[at] : 0;
  }

  stopped(part: number, why: Stop): void {
    this.stop[part] = why;
  }
}
