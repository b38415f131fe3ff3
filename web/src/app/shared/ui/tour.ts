import { Injectable, signal } from '@angular/core';
import { keep, kept } from '../../state/kept';

const KEY = 'rondo.tour';

/** The tour of one minute: begun, left and found again from wherever. */
@Injectable({ providedIn: 'root' })
export class Tour {
  /** Its step, from 0; null while there is none. */
  readonly step = signal<number | null>(null);
  /** Whether it was taken, or left, on this machine before. */
  readonly isKnown = signal(kept(KEY) !== null);

  start(): void {
    this.step.set(0);
  }

  /** Goes on from a step, unless it is another one by now. */
  next(from: number, steps: number): void {
    if (this.step() !== from) return;
    if (from + 1 < steps) this.step.set(from + 1);
    else this.leave();
  }

  back(): void {
    this.step.update((step) => (step === null ? null : Math.max(0, step - 1)));
  }

  leave(): void {
    this.step.set(null);
    this.isKnown.set(true);
    keep(KEY, 'known');
  }
}
