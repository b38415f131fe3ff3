import { IDENTITY_REQUEST } from '@rondo/core/wire';
import { CableCheck } from './cables/cable-check.js';
import { CableWatch } from './cables/cable-watch.js';
import { DeskOrders } from './cables/desk-orders.js';
import { Greeting } from './cables/greeting.js';
import { Notices } from './cables/notices.js';
import { ActionContext } from './context.js';
import { BankWindow } from './forward/bank.js';
import type { EngineServices } from './engine-services.js';
import type { Moves } from './live/columns.js';
import { movesBetween, sizesOf } from './live/moves.js';
import { freshState } from './live/state.js';
import { carriedTo, letGoOfChanged } from './live/swap.js';
import { SetUpWishes } from './forward/set-up-wishes.js';
import { LookCache } from './plan/look-book.js';
import type { Plan } from './plan/plan.js';
import { Beat } from './return/beat.js';
import { Round } from './round.js';
import { RoundLog } from './trace.js';

/** Takes what leaves a link: whole messages, valid only during the call; they leave at {@link Playing.now}. */
export type LinkOutput = (link: number, bytes: Uint8Array, from: number, to: number) => void;

/** Identity request (MIDI 1.0): every device may answer it, and none sends it back. */
const IDENTITY_QUESTION = Uint8Array.from(IDENTITY_REQUEST);

/** After so long without a call, µs, the machine has slept: what blinks and is refreshed does not make up for it. */
const ASLEEP = 10_000_000;

/**
 * A plan that plays, and its time. Time is whole microseconds and always passed in, never less than before; a call first
 * does all that was due by then, each at its own time. Its owner calls {@link advance} by {@link nextDeadline} at the
 * latest. Nothing is allocated per message. What comes on a link whose input is closed is dropped.
 */
export abstract class Playing implements EngineServices {
  readonly clock = new Float64Array(1);
  readonly agenda = Float64Array.of(-Infinity);
  readonly context = new ActionContext();
  readonly bank = new BankWindow();
  readonly beat = new Beat(this.clock);
  readonly notices = new Notices(this.clock);
  readonly looks = new LookCache();
  /** The time that is gone on to, µs, in its first place; while something is received, the time that it bears. */
  private readonly until = new Float64Array(1);
  readonly watch = new CableWatch(this.notices, this.clock, this.until);
  readonly greeting: Greeting;
  readonly cables: CableCheck;
  log: RoundLog | null = null;
  /** Touches select and show, but nothing reaches a host. */
  holdOff = false;
  choosing = false;
  readonly asked: number[] = [];
  motorsFree = false;
  textVersion = 0;
  heldVersion = 0;
  sessionVersion = 0;
  clamped = 0;
  readonly setUps = new SetUpWishes(this.notices, this.clock);
  /** The round under the plan that is loaded. */
  round: Round;

  /** @param sink receives the bytes of every link */
  constructor(
    plan: Plan,
    private readonly sink: LinkOutput,
  ) {
    this.greeting = new Greeting(
      this.notices,
      this.clock,
      (link, bytes) => this.push(link, bytes),
      new DeskOrders(
        () => this.round,
        (link, bytes) => this.push(link, bytes),
      ),
    );
    this.cables = new CableCheck(this.notices, this.clock, (link) =>
      this.push(link, IDENTITY_QUESTION),
    );
    const state = freshState(sizesOf(plan));
    this.round = this.join(new Round(this, plan, state, null));
    this.giveFirstValues(null, null);
    this.round.begin(null, null);
  }

  /** The plan that is loaded. */
  get plan(): Plan {
    return this.round.plan;
  }

  get silent(): boolean {
    return this.holdOff || this.cables.isWatching;
  }

  /** The time now, µs. */
  get now(): number {
    return this.clock[0];
  }

  /** @internal bytes go out on a link */
  output(link: number, bytes: Uint8Array, from: number, to: number): void {
    this.sink(link, bytes, from, to);
  }

  protected push(link: number, bytes: Uint8Array): void {
    this.round.outboxes[link].pushEvent(bytes, 0, bytes.length);
  }

  /**
   * Swaps the plan between two messages. Live state goes on by key, all in one way: what hosts told, what surfaces show,
   * what is touched, what the wires have half said. What a binding that is gone, or changed, held down is let go of first.
   * @param t when, µs
   */
  load(plan: Plan, t: number): void {
    this.command(t);
    const before = this.round;
    const moves = movesBetween(before.plan, plan);
    letGoOfChanged(before, moves);
    const state = carriedTo(plan, before, moves);
    // What was touched last in another profile is nothing of this one.
    const isSame = before.plan.profileId === plan.profileId;
    if (this.log) this.log = isSame ? this.log.under(sizesOf(plan), moves) : RoundLog.for(plan);
    this.round = this.join(new Round(this, plan, state, moves));
    this.giveFirstValues(before.plan, moves);
    this.round.begin(before, moves);
  }

  /** What outlives plans goes on with the state of this one. */
  private join(round: Round): Round {
    const { plan, state } = round;
    this.beat.use(state.beatSource);
    this.watch.use(plan, state);
    this.cables.use(state);
    return round;
  }

  /** What is new in a plan gets its first values. */
  private giveFirstValues(before: Plan | null, moves: Moves | null): void {
    const { plan, beliefs } = this.round;
    const isNew = (slot: number) => !moves || moves.slot.was[slot] < 0;
    plan.slots.forEach((slot, i) => {
      if (slot.link < 0 && isNew(i)) beliefs.set(i, false);
    });
    for (const { slot, initially } of plan.flags) if (isNew(slot)) beliefs.set(slot, initially);
    if (before) this.round.services.textVersion++;
  }

  /** Does all that was due by a time, µs, each at its own, in order; then it is that time. */
  private settle(t: number): void {
    this.until[0] = t;
    this.goOn();
  }

  private goOn(): void {
    const { clock, agenda } = this;
    const t = this.until[0];
    if (t >= agenda[0]) {
      if (t - clock[0] > ASLEEP) clock[0] = t - ASLEEP;
      for (this.round.findNext(); agenda[0] <= t; this.round.findNext()) {
        if (agenda[0] > clock[0]) clock[0] = agenda[0];
        this.round.advance();
      }
    }
    if (t > clock[0]) clock[0] = t;
  }

  /** Does what is due by `t`, µs. */
  advance(t: number): void {
    this.settle(t);
    this.round.pump();
    this.obey();
  }

  /** Does what a control has asked of Rondo itself, once what it came with is done. */
  protected abstract obey(): void;

  /** A command comes at a time, µs: whatever it plans is found when time goes on. */
  protected command(t: number): void {
    this.settle(t);
    this.agenda[0] = -Infinity;
  }

  /** When {@link advance} is needed next, µs; Infinity where it is not. */
  nextDeadline(): number {
    this.round.findNext();
    return this.agenda[0];
  }

  /**
   * What is received next bears the time `t`, µs. It is done then, or, where time has gone on since (the machine stood
   * still while it waited), now: only how quickly a hand was is asked of the time that it bears. A call of its own, and so small that it is always
   * made a part of its caller: as an argument of {@link receive} the time would be put on the heap with each message.
   */
  at(t: number): this {
    this.until[0] = t;
    return this;
  }

  /** Bytes from a link, in order, at the time that was said by {@link at} or gone on to since. */
  receive(link: number, bytes: Uint8Array, from: number, to: number): void {
    this.goOn();
    const { round } = this;
    if (round.inOpen[link] === 0) return;
    const input = round.inputs[link];
    const { skipped } = input.parser;
    const { brokenSysex, oversizeSysex } = skipped;
    input.feed(bytes, from, to);
    if (skipped.brokenSysex !== brokenSysex) this.watch.brokenOff(link);
    if (skipped.oversizeSysex !== oversizeSysex) round.passOn.tooLong(link);
    round.pump();
    this.obey();
  }
}
