import type { Profile } from '@rondo/core/profile';
import { compileInSlices, type Plan } from '@rondo/core/round';
import { libraryWith, type Own } from './library';

/** How long a profile is compiled before what has come is read, µs. */
const SLICE_MICROS = 500;

/** A profile as the page gives it. */
export interface Given {
  readonly profile: Profile;
  readonly version: number;
  readonly own: Own;
}

/**
 * Compiles profiles one after the other, a slice at a time, so that traffic never waits for it; of those that come
 * meanwhile the newest is next.
 */
export class Compiling {
  private slices: Generator<void, Plan> | null = null;
  private next: Given | null = null;

  /**
   * @param clock whole µs
   * @param soon does some work once what has come already has been read
   * @param hasTime nothing plays that would have to wait
   * @param done receives each plan
   */
  constructor(
    private readonly clock: () => number,
    private readonly soon: (work: () => void) => void,
    private readonly hasTime: () => boolean,
    private readonly done: (plan: Plan, given: Given) => void,
  ) {}

  take(given: Given): void {
    this.next = given;
    if (!this.slices) this.begin();
  }

  private begin(): void {
    const given = this.next;
    if (!given) return;
    this.next = null;
    this.slices = compileInSlices(given.profile, libraryWith(given.own));
    this.goOn(given);
  }

  private goOn(given: Given): void {
    const until = this.clock() + SLICE_MICROS;
    do {
      const slice = this.slices?.next();
      if (!slice) return;
      if (slice.done) {
        this.slices = null;
        this.done(slice.value, given);
        this.begin();
        return;
      }
    } while (this.hasTime() || this.clock() < until);
    this.soon(() => this.goOn(given));
  }
}
