import type { State } from '../live/state.js';
import { Know, type Beliefs } from './beliefs.js';

/**
 * What lights, motors and texts see of the hosts: what is believed, but for what someone supposes ("what if it were
 * muted?"). Actions and conditions never see that.
 */
export class Sight {
  /** By slot; NaN where nothing is supposed. */
  private readonly supposed: Float64Array;
  private count = 0;

  constructor(
    private readonly beliefs: Beliefs,
    state: State,
  ) {
    this.supposed = state.supposed;
    for (const value of this.supposed) if (!Number.isNaN(value)) this.count++;
  }

  /** Supposes a value; null ends that. */
  suppose(slot: number, value: number | null): void {
    const was = !Number.isNaN(this.supposed[slot]);
    this.supposed[slot] = value ?? NaN;
    this.count += (value === null ? 0 : 1) - (was ? 1 : 0);
  }

  /** Whether a value is supposed of a slot. */
  isSupposed(slot: number): boolean {
    return this.count > 0 && !Number.isNaN(this.supposed[slot]);
  }

  /** Puts the value of a slot into a place of a list; false where it is not known, and then nothing is put. */
  see(slot: number, into: Float64Array, at: number): boolean {
    if (this.isSupposed(slot)) {
      into[at] = this.supposed[slot];
      return true;
    }
    if (this.beliefs.know[slot] === Know.Unknown) return false;
    into[at] = this.beliefs.value[slot];
    return true;
  }

  /** Whether a state is only taken to be so because we said it: at once where the host never tells, else when it should have. */
  isAssumed(slot: number, tells: boolean): boolean {
    if (this.isSupposed(slot)) return false;
    return this.beliefs.know[slot] === Know.Assumed && !(tells && this.beliefs.isFresh(slot));
  }

  isOn(slot: number): boolean {
    if (this.isSupposed(slot)) return this.supposed[slot] >= 0.5;
    return this.beliefs.know[slot] !== Know.Unknown && this.beliefs.value[slot] >= 0.5;
  }

  isOff(slot: number): boolean {
    if (this.isSupposed(slot)) return this.supposed[slot] < 0.5;
    return this.beliefs.know[slot] !== Know.Unknown && this.beliefs.value[slot] < 0.5;
  }

  /** A text; '' where it is not known. */
  text(slot: number): string {
    return this.beliefs.know[slot] === Know.Unknown ? '' : this.beliefs.text[slot];
  }
}
