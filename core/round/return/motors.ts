import type { Sender } from '@rondo/core/surface';
import type { EngineServices } from '../engine-services.js';
import type { State } from '../live/state.js';
import { OutputColumn, PartColumn, SlotColumn } from '../plan/columns.js';
import { Shows } from '../plan/out-plan.js';
import { NOTHING } from '../plan/shaper.js';
import type { Tables } from '../plan/tables.js';
import type { RoundContext } from '../round-context.js';
import type { Hands } from '../forward/hands.js';
import type { OutputTargets } from './output-targets.js';
import type { DueOuts } from './due-outs.js';
import type { Sight } from './sight.js';

/** A motor that is let alone. */
export const LET_ALONE = -1;

/** A motor that is tried goes up and down in this time, µs, and is told so often. */
const SWEEP = 4_000_000;
const SWEEP_EVERY = 20_000;

/** What is tried with the motors of a surface. */
export const MOTOR_TESTS = ['sweep', 'park', 'stop'] as const;
export type MotorTest = (typeof MOTOR_TESTS)[number];

/** Half a step of a motor of ten bits, as a share of its way. */
const HALF_STEP = 1 / 2_046;

/** What it needs of the round. */
interface Needs extends RoundContext {
  readonly targets: OutputTargets;
  readonly dueOuts: DueOuts;
  readonly sight: Sight;
  readonly hands: Hands;
}

/** Where motors are to be: at the host's value, where the hand left them, or nowhere that Rondo has a say in. */
export class Motors {
  private readonly tables: Tables;
  private readonly state: State;
  private readonly hand: Float64Array;
  private readonly down: Uint8Array;
  private readonly movedAt: Float64Array;
  private readonly motorTest: Uint8Array;
  private readonly services: EngineServices;
  private readonly senders: readonly Sender[];
  private readonly targets: OutputTargets;
  private readonly dueOuts: DueOuts;
  private readonly sight: Sight;
  /** A place, a value in the host, and where the hand would have put that. */
  private readonly place = new Float64Array(1);
  private readonly there = new Float64Array(1);

  constructor(private readonly round: Needs) {
    this.tables = round.tables;
    this.state = round.state;
    this.hand = round.state.hand;
    this.down = round.state.down;
    this.movedAt = round.state.movedAt;
    this.motorTest = round.state.motorTest;
    this.services = round.services;
    this.senders = round.senders;
    this.targets = round.targets;
    this.dueOuts = round.dueOuts;
    this.sight = round.sight;
  }

  /** Whether a hand is on the motor of a part, as far as can be told. */
  isInHand(part: number): boolean {
    return this.round.hands.isOnMotor(part);
  }

  /** Whether a finger is felt on the control of a motor. */
  isTouched(out: number): boolean {
    const mover = this.tables.outs[out * OutputColumn.Width + OutputColumn.Mover];
    if (mover < 0) return false;
    const touch = this.tables.parts[mover * PartColumn.Width + PartColumn.Partner];
    return touch >= 0 && this.down[touch] !== 0;
  }

  /** Where a motor should be, as it goes over the wire; {@link LET_ALONE} where it is. */
  wanted(out: number): number {
    const { tables, place, hand, down, movedAt } = this;
    const at = out * OutputColumn.Width;
    const link = tables.outs[at + OutputColumn.Link];
    const sender = this.senders[link];
    const local = tables.outs[at + OutputColumn.Local];
    const mover = tables.outs[at + OutputColumn.Mover];
    const touch = mover >= 0 ? tables.parts[mover * PartColumn.Width + PartColumn.Partner] : -1;
    const moved = mover >= 0 && hand[mover] >= 0;
    if (touch >= 0 && down[touch] !== 0)
      return moved ? sender.wireAt(local, hand, mover) : LET_ALONE;
    if (this.motorTest[link] !== 0) return this.tried(out, sender, local);
    const { slot, rule } = this.targets.resolved[out];
    if (slot < 0 || !rule.motor || !rule.feedback || !this.sight.see(slot, place, 0))
      return moved ? sender.wireAt(local, hand, mover) : LET_ALONE;
    if (this.services.motorsFree) return LET_ALONE;
    // Without touch sense, a hand that has just moved it may still be there.
    if (touch < 0 && moved) {
      const due = movedAt[mover] + this.targets.motorWaits[out];
      if (this.services.clock[0] < due) {
        this.dueOuts.waitUntil(out, due);
        return LET_ALONE;
      }
    }
    // Many places may stand for one value: a hand that has put the fader at one of them leaves it there.
    if (moved && this.isWhereHandPutIt(out, slot, mover)) return sender.wireAt(local, hand, mover);
    const shaper = this.targets.shapers[out];
    if (!shaper.isPlain) shaper.invertAt(place, 0);
    return sender.wireAt(local, place, 0);
  }

  /** Whether the host has what the hand's place means, as finely as it is told and tells. Its value stands in `place`. */
  private isWhereHandPutIt(out: number, slot: number, mover: number): boolean {
    const { place, there } = this;
    there[0] = this.hand[mover];
    this.targets.shapers[out].apply(there, 0);
    if (there[0] === NOTHING) return true;
    if (Math.abs(there[0] - place[0]) < HALF_STEP) return true;
    const { slots } = this.tables;
    const at = slot * SlotColumn.Width;
    const link = slots[at + SlotColumn.Link];
    if (link < 0 || slots[at + SlotColumn.Settable] === 0) return false;
    if (this.sight.isSupposed(slot)) return false;
    const sender = this.senders[link];
    const local = slots[at + SlotColumn.Local];
    return sender.wireAt(local, there, 0) === sender.wireAt(local, place, 0);
  }

  /** What a motor was told is where it is now, and no hand's place any more. */
  driven(out: number, wire: number): void {
    const { outs } = this.tables;
    const at = out * OutputColumn.Width;
    const link = outs[at + OutputColumn.Link];
    const mover = outs[at + OutputColumn.Mover];
    const { hand } = this;
    const { motorAt } = this.state;
    motorAt[link] = this.services.clock[0];
    if (mover < 0 || hand[mover] < 0) return;
    if (this.senders[link].wireAt(outs[at + OutputColumn.Local], hand, mover) !== wire)
      hand[mover] = LET_ALONE;
  }

  /** Tries the motors of a surface; null gives them back to what they are bound to. A touched one is never driven. */
  try(link: number, test: MotorTest | null): void {
    this.state.motorTest[link] = test === null ? 0 : MOTOR_TESTS.indexOf(test) + 1;
    this.state.motorTestAt[link] = this.services.clock[0];
    this.markAll(link);
  }

  /** Where a motor that is tried should be. */
  private tried(out: number, sender: Sender, local: number): number {
    const { motorTest } = this.state;
    const link = this.tables.outs[out * OutputColumn.Width + OutputColumn.Link];
    const test = MOTOR_TESTS[motorTest[link] - 1];
    if (test === 'stop') return LET_ALONE;
    const turn = (this.services.clock[0] % SWEEP) / SWEEP;
    this.place[0] = test === 'park' ? 0 : turn < 0.5 ? turn * 2 : 2 - turn * 2;
    return sender.wireAt(local, this.place, 0);
  }

  private isSweeping(link: number): boolean {
    return MOTOR_TESTS[this.state.motorTest[link] - 1] === 'sweep';
  }

  /** When motors that are tried go on, µs; {@link advance} is needed by then. */
  get deadline(): number {
    const { motorTest, motorTestAt } = this.state;
    let due = Infinity;
    for (let link = 0; link < motorTest.length; link++)
      if (motorTest[link] !== 0 && this.isSweeping(link)) due = Math.min(due, motorTestAt[link]);
    return due;
  }

  /** Motors that sweep go on. */
  advance(): void {
    const { motorTest, motorTestAt } = this.state;
    const now = this.services.clock[0];
    for (let link = 0; link < motorTest.length; link++) {
      if (motorTest[link] === 0 || !this.isSweeping(link) || now < motorTestAt[link]) continue;
      motorTestAt[link] = now + SWEEP_EVERY;
      this.markAll(link);
    }
  }

  private markAll(link: number): void {
    const { outs } = this.tables;
    for (let at = 0, out = 0; at < outs.length; at += OutputColumn.Width, out++)
      if (
        outs[at + OutputColumn.Link] === link &&
        (outs[at + OutputColumn.Shows] as Shows) === Shows.Motor
      )
        this.dueOuts.add(out);
  }
}
