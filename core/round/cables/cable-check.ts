import { IDENTITY_REQUEST } from '@rondo/core/wire';
import { Know, type Beliefs } from '../return/beliefs.js';
import { LONG_AGO, type State } from '../live/state.js';
import type { Greeted } from './greeting.js';
import type { Notices } from './notices.js';

/** How long a question may take to come back, µs; it is asked twice, so that chance is none. */
const CABLE_WAITS = 400_000;
const QUESTIONS = 2;
/** How long a program is watched, and how soon after a move it would have to change by itself, µs. */
const WATCH_LASTS = 10_000_000;
const AFTER_MOVE = 250_000;

/**
 * Checks that their owner asks for: whether a cable hears itself, and whether a program follows a device of its own
 * accord while Rondo keeps silent.
 */
export class CableCheck {
  /** When something is due, µs; {@link advance} is needed by then. */
  deadline = Infinity;
  /** Links that are asked and watched, each in its first place; below 0 for none. */
  private askedLink: Int32Array = Int32Array.of(-1);
  private watchedLink: Int32Array = Int32Array.of(-1);
  private asked = 0;
  private back = 0;
  private askedAt = 0;
  private watchEnd = Infinity;
  private moves = 0;
  private changes = 0;
  private movedAt = LONG_AGO;

  /** @param clock the time now, µs, in its first place */
  constructor(
    private readonly notices: Notices,
    private readonly clock: Float64Array,
    private readonly question: (link: number) => void,
  ) {}

  private get link(): number {
    return this.askedLink[0];
  }
  private set link(link: number) {
    this.askedLink[0] = link;
  }
  private get watched(): number {
    return this.watchedLink[0];
  }
  private set watched(link: number) {
    this.watchedLink[0] = link;
  }

  /** Goes on under another plan, with its state; what is gone is not asked any more. */
  use(state: State): void {
    this.askedLink = state.askedLink;
    this.watchedLink = state.watchedLink;
    this.settle();
  }

  isAsking(link: number): boolean {
    return this.link === link;
  }

  /** A program is watched now: nothing is sent to hosts. */
  get isWatching(): boolean {
    return this.watched >= 0;
  }

  /** Asks on a link, once and a second time. */
  ask(link: number, links: readonly Greeted[], inOpen: boolean, outOpen: boolean): void {
    const { key, label } = links[link];
    if (!inOpen || !outOpen) {
      const end = inOpen ? 'output' : 'input';
      this.notices.say('cable', key, `${label} has no ${end} open. Choose one, then check again.`);
      return;
    }
    this.link = link;
    this.asked = 1;
    this.back = 0;
    this.askedAt = this.clock[0];
    this.question(link);
    this.settle();
  }

  private settle(): void {
    this.deadline = Math.min(
      this.link < 0 ? Infinity : this.askedAt + CABLE_WAITS,
      this.watched < 0 ? Infinity : this.watchEnd,
    );
  }

  /** A SysEx has come on a link that was asked; true where both questions have come back as they went. */
  heard(
    link: number,
    links: readonly Greeted[],
    bytes: Uint8Array,
    from: number,
    to: number,
  ): boolean {
    const same =
      to - from === IDENTITY_REQUEST.length &&
      IDENTITY_REQUEST.every((byte, i) => bytes[from + i] === byte);
    if (!same || link !== this.link) return false;
    this.back++;
    if (this.back < QUESTIONS || this.asked < QUESTIONS) return false;
    this.link = -1;
    this.settle();
    this.notices.forget(links[link].key, ['cable']);
    return true;
  }

  /** Watches a program: what is touched is kept from it. */
  watch(link: number, links: readonly Greeted[]): void {
    this.watched = link;
    this.watchEnd = this.clock[0] + WATCH_LASTS;
    this.moves = 0;
    this.changes = 0;
    this.movedAt = LONG_AGO;
    this.notices.say(
      'twice',
      links[link].key,
      `For ten seconds Rondo sends ${links[link].label} nothing. Move a few controls now.`,
      false,
    );
    this.settle();
  }

  /** A hand has moved something while a program is watched. */
  moved(): void {
    this.moves++;
    this.movedAt = this.clock[0];
  }

  /** A program has told the value at the first place of a register while it is watched. */
  changed(slot: number, beliefs: Beliefs, register: Float64Array): void {
    if (this.clock[0] - this.movedAt > AFTER_MOVE || beliefs.know[slot] === Know.Unknown) return;
    if (Math.abs(beliefs.value[slot] - register[0]) > 1e-9) this.changes++;
  }

  /** Does what is due: the second question, and what the checks have found. */
  advance(links: readonly Greeted[]): void {
    const t = this.clock[0];
    if (this.link >= 0 && t >= this.askedAt + CABLE_WAITS) this.nextQuestion(links);
    if (this.watched >= 0 && t >= this.watchEnd) this.found(links);
    this.settle();
  }

  private nextQuestion(links: readonly Greeted[]): void {
    const { key, label } = links[this.link];
    if (this.back > 0 && this.asked < QUESTIONS) {
      this.asked++;
      this.askedAt = this.clock[0];
      this.question(this.link);
      return;
    }
    this.link = -1;
    this.notices.say(
      'cable',
      key,
      `Nothing of what Rondo sends to ${label} comes back by itself: the cable is sound.`,
      false,
    );
  }

  private found(links: readonly Greeted[]): void {
    const { key, label } = links[this.watched];
    this.watched = -1;
    const times = this.moves === 1 ? 'once' : `${this.moves} times`;
    if (this.moves === 0)
      this.notices.say(
        'twice',
        key,
        'Nothing was moved, so nothing was found out. Try again.',
        false,
      );
    else if (this.changes > 0)
      this.notices.say(
        'twice',
        key,
        `${label} changed while Rondo sent it nothing: it also listens to the device itself, and every move acts twice. Switch the device off in the program, input and output.`,
      );
    else
      this.notices.say(
        'twice',
        key,
        `You moved something ${times} and ${label} stayed as it was: it hears Rondo only.`,
        false,
      );
  }
}
