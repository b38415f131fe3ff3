import { NOTE_ON, type Template } from '@rondo/core/wire';
import { MAX_VALUE_BYTES, readTextRule, type RulePiece, type Sender } from '@rondo/core/surface';
import type { BankWindow } from './bank.js';
import { Know, type Beliefs } from '../return/beliefs.js';
import type { Causes } from '../cables/causes.js';
import { Fingers } from './fingers.js';
import type { Layers } from './layers.js';
import type { Matcher } from './matcher.js';
import { Notes } from './notes.js';
import type { Outbox } from '../return/outbox.js';
import { InputMode, type Plan, type Run } from '../plan/plan.js';
import { NOTHING } from '../plan/shaper.js';
import {
  ActionColumn,
  BindingColumn,
  Op,
  PartColumn,
  SlotColumn,
  type Tables,
} from '../plan/tables.js';
import { TakeoverAt, type Takeovers } from './takeover.js';
import { Stop, type RoundLog } from '../trace.js';
import { TurnedBack } from '../cables/turned-back.js';

const NEVER = -1;
/** Ticks a second from which a turn counts as fast, and where acceleration is at its full. */
const SLOW_TURN = 15;
const FAST_TURN = 75;
/** Layers that change layers are followed so often. Circles are broken before; this is the last guard. */
const MOST_CHANGES = 32;
/** Sounding notes that no slot stands for. */
const HOLDS_NOTES = -2;
const HOLDS_NOTHING = -1;

/** Places in the register that values travel in: doubles as arguments would be put on the heap. */
export const enum Register {
  /** What came in: a position, ticks, or how hard a press was. */
  Value,
  /** What a host is to be told. */
  Wanted,
  /** Where the control stood before; below 0 where that is not known. */
  Before,
  /** When it was moved before, µs. */
  MovedBefore,
  Width,
}

/** What actions need of the engine that they act in. */
export interface Ground {
  readonly plan: Plan;
  readonly tables: Tables;
  readonly beliefs: Beliefs;
  readonly matcher: Matcher;
  readonly bank: BankWindow;
  readonly layers: Layers;
  readonly causes: Causes;
  readonly takeovers: Takeovers;
  /** By link. */
  readonly senders: readonly Sender[];
  readonly outboxes: readonly Outbox[];
  /** {@link Register} */
  readonly register: Float64Array;
  readonly log: RoundLog | null;
  readonly now: number;
  /** Nothing reaches a host. */
  readonly silent: boolean;
  /** The message that has come in: a short one, or SysEx in a stretch of bytes. */
  readonly packed: number;
  readonly incoming: Uint8Array | null;
  readonly incomingFrom: number;
  readonly incomingTo: number;
  clamped: number;
  willVersion: number;
  sessionVersion: number;
  /** The bank window that a part's messages mean. */
  bankOf(part: number): number;
  /** What is believed of a slot has changed. */
  changed(slot: number): void;
  /** What outputs show is to be worked out anew. */
  aimAnew(): void;
  /** The text that a rule gives now, 7-bit safe. */
  textBy(rule: readonly RulePiece[], part: number): string;
  /** The time now, µs, in its first place. */
  readonly clock: Float64Array;
}

/** What bindings do when they count, and what they hold until they are let go. One for each plan. */
export class Acts {
  private readonly plan: Plan;
  private readonly tables: Tables;
  private readonly beliefs: Beliefs;
  private readonly matcher: Matcher;
  private readonly bank: BankWindow;
  private readonly layers: Layers;
  private readonly causes: Causes;
  private readonly takeovers: Takeovers;
  private readonly senders: readonly Sender[];
  private readonly register: Float64Array;
  private readonly notes: Notes;
  /** Slot that an action holds down, {@link HOLDS_NOTES}, or {@link HOLDS_NOTHING}. */
  private readonly actHeld: Int32Array;
  /** How many actions hold each slot. */
  private readonly slotHolds: Uint8Array;
  private readonly scratch = new Uint8Array(MAX_VALUE_BYTES);
  private readonly textRules = new Map<number, readonly RulePiece[]>();
  /** Fingers on faders, as hosts are told of them. */
  readonly fingers: Fingers;
  /** What lamps of a program's keys do at a press. */
  readonly turnedBack: TurnedBack;
  /** Slot that the finger on each part is told of; −1 for none. */
  private readonly fingerAt: Int32Array;

  constructor(private readonly ground: Ground) {
    this.plan = ground.plan;
    this.tables = ground.tables;
    this.beliefs = ground.beliefs;
    this.matcher = ground.matcher;
    this.bank = ground.bank;
    this.layers = ground.layers;
    this.causes = ground.causes;
    this.takeovers = ground.takeovers;
    this.senders = ground.senders;
    this.register = ground.register;
    this.notes = new Notes(this.plan.links.length);
    this.actHeld = new Int32Array(this.plan.actions.length).fill(HOLDS_NOTHING);
    this.slotHolds = new Uint8Array(this.plan.slots.length);
    this.turnedBack = new TurnedBack(this.plan.slots.length);
    this.fingerAt = new Int32Array(this.plan.parts.length).fill(NEVER);
    this.fingers = new Fingers(this.plan.slots.length, (slot, on) => {
      this.event(slot, on ? 1 : 0);
      this.ground.willVersion++;
    });
  }

  /** Takes over the fingers that lie on the same slots and parts of another plan. */
  carryFingers(
    from: Acts,
    slotOf: (slot: number) => number,
    partOf: (part: number) => number,
  ): void {
    for (const slot of from.fingers.touched()) {
      const to = slotOf(slot);
      if (to >= 0) this.fingers.carry(to, from.fingers, slot);
    }
    from.fingerAt.forEach((slot, part) => {
      const to = slot < 0 ? NEVER : slotOf(slot);
      if (to >= 0 && partOf(part) >= 0) this.fingerAt[partOf(part)] = to;
    });
  }

  /** A finger has come to a fader, whose binding is given, or has gone; true where a host is told that it has come. */
  finger(part: number, binding: number, on: boolean): boolean {
    if (this.fingerAt[part] >= 0) this.fingers.lift(this.fingerAt[part]);
    this.fingerAt[part] = NEVER;
    if (!on || binding < 0 || this.ground.silent) return false;
    const { acts, bindings, slots } = this.tables;
    const action = bindings[binding * BindingColumn.Width + BindingColumn.Shown];
    if (action < 0) return false;
    const at = action * ActionColumn.Width;
    const slot = this.matcher.slotAt(
      acts[at + ActionColumn.Base],
      acts[at + ActionColumn.Offset],
      acts[at + ActionColumn.Strips],
      this.ground.bankOf(part),
    );
    const touch = slot < 0 ? NEVER : slots[slot * SlotColumn.Width + SlotColumn.Touch];
    if (touch < 0) return false;
    this.fingerAt[part] = touch;
    this.fingers.press(touch);
    return true;
  }
  /** Whether an action of a run holds something. */
  holds({ first, count }: Run): boolean {
    for (let action = first; action < first + count; action++)
      if (this.actHeld[action] !== HOLDS_NOTHING) return true;
    return false;
  }

  /** Whether an action of a run holds something, or has met its function. */
  lives(run: Run): boolean {
    if (this.holds(run)) return true;
    for (let action = run.first; action < run.first + run.count; action++)
      if (this.takeovers.met[action] >= 0) return true;
    return false;
  }

  /** Takes over what sounds on a link of another plan. */
  carryNotes(link: number, from: Acts, fromLink: number): void {
    this.notes.carry(link, from.notes, fromLink);
  }

  /** Takes over what another plan's run, the same as this one, holds and has met; slots go by their keys. */
  carry(run: Run, from: Acts, fromRun: Run, slotOf: ReadonlyMap<string, number>): void {
    for (let n = 0; n < run.count; n++)
      this.carryAction(run.first + n, from, fromRun.first + n, slotOf);
  }

  private carryAction(
    action: number,
    before: Acts,
    from: number,
    slotOf: ReadonlyMap<string, number>,
  ): void {
    const slotNow = (slot: number): number =>
      slot < 0 ? NEVER : (slotOf.get(before.plan.slots[slot].key) ?? NEVER);
    const held = before.actHeld[from];
    if (held === HOLDS_NOTES) this.actHeld[action] = held;
    else if (held >= 0 && slotNow(held) >= 0) {
      this.actHeld[action] = slotNow(held);
      this.slotHolds[slotNow(held)]++;
      if (this.tables.acts[action * ActionColumn.Width + ActionColumn.Op] === Op.LayerHold)
        this.layers.hold(this.tables.acts[action * ActionColumn.Width + ActionColumn.By]);
    }
    const met = slotNow(before.takeovers.met[from]);
    if (met >= 0) this.takeovers.carry(action, before.takeovers, from, met);
  }

  /** Runs all actions of a binding, in order; part −1 is for a host's change. */
  runBinding(part: number, binding: number, moves: InputMode, pressed: boolean): void {
    const { bindings } = this.tables;
    const row = binding * BindingColumn.Width;
    const first = bindings[row + BindingColumn.First];
    const end = first + bindings[row + BindingColumn.Count];
    const value = this.register[Register.Value];
    for (let action = first; action < end; action++) {
      this.register[Register.Value] = value;
      this.act(part, action, moves, pressed);
    }
    this.register[Register.Value] = value;
  }

  /** Does one action. What stops it stops no other. */
  private act(part: number, action: number, moves: InputMode, pressed: boolean): void {
    const { acts } = this.tables;
    const at = action * ActionColumn.Width;
    const op = acts[at + ActionColumn.Op] as Op;
    const bank = this.ground.bankOf(part);
    if (acts[at + ActionColumn.WhenCount] > 0 && !this.matcher.allows(action, bank)) {
      this.stop(part, Stop.ConditionFalse);
      return;
    }
    if (op === Op.Broken) {
      this.stop(part, Stop.Broken);
      return;
    }
    if (op <= Op.Step) {
      this.drive(part, action, op, moves, bank);
      return;
    }
    // What is left happens at a press, or where a turn goes its way.
    const isPress = moves === InputMode.Press || moves === InputMode.Touch;
    if (op === Op.Send) {
      this.sendMessage(part, action);
      return;
    }
    if (isPress ? !pressed : moves === InputMode.Absolute && part >= 0) return;
    this.actOnce(part, action, op, moves);
  }

  private actOnce(part: number, action: number, op: Op, moves: InputMode): void {
    const { acts } = this.tables;
    const at = action * ActionColumn.Width;
    const by = acts[at + ActionColumn.By];
    const way = moves === InputMode.Relative && this.register[Register.Value] < 0 ? -1 : 1;
    const slot = acts[at + ActionColumn.Base];
    switch (op) {
      case Op.Bank:
        if (this.bank.move(way * by)) this.ground.aimAnew();
        return;
      case Op.LayerHold:
        if (moves === InputMode.Relative) return;
        this.actHeld[action] = slot;
        this.layers.hold(by);
        break;
      case Op.LayerToggle:
        this.layers.toggle(by);
        break;
      case Op.LayerOn:
        this.layers.on(by);
        break;
      case Op.LayerOff:
        this.layers.off(by);
        break;
      case Op.LayerStep:
        this.layers.step(
          this.plan.actions[action].layers,
          way * by,
          acts[at + ActionColumn.Wrap] === 1,
        );
        break;
      case Op.FlagHold:
        if (moves === InputMode.Relative) return;
        this.actHeld[action] = slot;
        this.slotHolds[slot]++;
        this.setOwn(slot, true);
        this.exclude(action, slot);
        break;
      case Op.FlagToggle:
        this.setOwn(slot, this.beliefs.value[slot] < 0.5);
        if (this.beliefs.value[slot] >= 0.5) this.exclude(action, slot);
        break;
      case Op.FlagOn:
        this.setOwn(slot, true);
        this.exclude(action, slot);
        break;
      case Op.FlagOff:
        this.setOwn(slot, false);
        break;
      case Op.Notes:
        this.playNotes(part, action);
        return;
      case Op.FocusPage:
        if (this.matcher.turnFocusPage(slot, way * by, acts[at + ActionColumn.Wrap] === 1))
          this.ground.aimAnew();
        return;
      default:
        return;
    }
    if (this.ground.log && part >= 0) this.ground.log.reached(part, slot, this.beliefs.value, slot);
  }

  /** Drives a function of a host. */
  private drive(part: number, action: number, op: Op, moves: InputMode, bank: number): void {
    const { acts, slots } = this.tables;
    const at = action * ActionColumn.Width;
    const slot = this.matcher.slotAt(
      acts[at + ActionColumn.Base],
      acts[at + ActionColumn.Offset],
      acts[at + ActionColumn.Strips],
      bank,
    );
    if (
      slot < 0 ||
      slots[slot * SlotColumn.Width + SlotColumn.Settable] === 0 ||
      !this.isAvailable(slot)
    ) {
      this.stop(part, Stop.NotAvailable);
      return;
    }
    const { know } = this.beliefs;
    const log = part >= 0 ? this.ground.log : null;
    if (log) log.reached(part, slot, this.beliefs.value, slot);
    if (
      slots[slot * SlotColumn.Width + SlotColumn.Taps] === 1 &&
      this.tap(part, action, op, moves, slot)
    )
      return;
    if (!this.want(part, action, op, moves, slot)) return;
    const r = this.register;
    if (this.ground.silent) {
      this.stop(part, Stop.HeldOff);
      return;
    }
    const flips = slots[slot * SlotColumn.Width + SlotColumn.ToggleOnly] === 1;
    if (flips && know[slot] === Know.Unknown && op !== Op.Toggle) {
      this.stop(part, Stop.StateUnknown);
      return;
    }
    this.moveFinger(part, slot);
    if (!this.send(slot)) {
      this.stop(
        part,
        this.ground.outboxes[slots[slot * SlotColumn.Width]].open ? Stop.Busy : Stop.HostClosed,
      );
      return;
    }
    if (op === Op.Momentary && part >= 0) {
      this.actHeld[action] = slot;
      this.slotHolds[slot]++;
      this.ground.willVersion++;
    }
    if (acts[at + ActionColumn.Group] >= 0 && r[Register.Wanted] >= 0.5) this.exclude(action, slot);
    if (log) log.shaped[part] = r[Register.Wanted];
  }

  /** What moves a function is touched while it moves, where a host wants to know and no finger is felt. */
  private moveFinger(part: number, slot: number): void {
    const touch = this.tables.slots[slot * SlotColumn.Width + SlotColumn.Touch];
    if (
      touch < 0 ||
      part < 0 ||
      this.tables.parts[part * PartColumn.Width + PartColumn.Partner] >= 0
    )
      return;
    this.fingers.moved(touch, this.ground.clock);
  }

  /**
   * Holds a key of a host down for as long as what drives it is pressed. What only sets or turns its state over taps
   * it.
   * @returns false where the key is to be tapped, if at all
   */
  private tap(part: number, action: number, op: Op, moves: InputMode, slot: number): boolean {
    const r = this.register;
    const isPress = moves === InputMode.Press || moves === InputMode.Touch;
    const holds = op === Op.Momentary || (op === Op.Follow && isPress);
    if (!holds && op !== Op.Follow) return false;
    if (this.ground.silent) {
      this.stop(part, Stop.HeldOff);
      return true;
    }
    const down = holds || r[Register.Value] >= 0.5;
    const wasDown = this.slotHolds[slot] > 0;
    if (!holds && down === wasDown) return true;
    if (moves === InputMode.Relative) return false;
    if (this.actHeld[action] === slot && down) return true;
    if (down && !wasDown && !this.event(slot, 1)) {
      this.stop(part, this.isOpen(slot) ? Stop.Busy : Stop.HostClosed);
      return true;
    }
    if (!down) {
      this.letGo(action);
      return true;
    }
    if (!wasDown) this.turnedBack.pressed(slot, this.ground.clock);
    this.actHeld[action] = slot;
    this.slotHolds[slot]++;
    this.ground.willVersion++;
    if (this.ground.log && part >= 0) this.ground.log.shaped[part] = 1;
    // A host's change has nobody to let go of it.
    if (part < 0) this.letGo(action);
    return true;
  }

  private isOpen(slot: number): boolean {
    return this.ground.outboxes[this.tables.slots[slot * SlotColumn.Width + SlotColumn.Link]].open;
  }

  /** Tells a host a value of a slot as an event, which is never left out; false where it cannot go. */
  private event(slot: number, value: number): boolean {
    const { slots } = this.tables;
    const link = slots[slot * SlotColumn.Width + SlotColumn.Link];
    const local = slots[slot * SlotColumn.Width + SlotColumn.Local];
    const box = this.ground.outboxes[link];
    if (!box.open) return false;
    const sender = this.senders[link];
    const length = sender.write(local, sender.wire(local, value), this.scratch, 0);
    return length === 0 || box.pushEvent(this.scratch, 0, length);
  }

  /** Works out what a function is to be told, into the register; false where it is told nothing. */
  private want(part: number, action: number, op: Op, moves: InputMode, slot: number): boolean {
    const { actTo, shapers } = this.tables;
    const { value: believed, know } = this.beliefs;
    const r = this.register;
    const shaper = shapers[action];
    const { low, high } = shaper;
    switch (op) {
      case Op.Toggle: {
        const nearHigh = Math.abs(believed[slot] - high) <= Math.abs(believed[slot] - low);
        r[Register.Wanted] = know[slot] !== Know.Unknown && nearHigh ? low : high;
        return true;
      }
      case Op.SetTo:
        r[Register.Wanted] = actTo[action];
        return true;
      case Op.Momentary:
        r[Register.Wanted] = high;
        return true;
      case Op.Nudge:
        r[Register.Wanted] = r[Register.Value];
        return moves !== InputMode.Absolute || part < 0 || this.ticksMoved(action);
      case Op.Step:
        return this.stepOn(part, action, moves, slot);
      default:
        if (moves === InputMode.Relative) return this.turn(part, action, slot);
        r[Register.Wanted] = r[Register.Value];
        shaper.apply(r, Register.Wanted);
        if (r[Register.Wanted] === NOTHING) return false;
        if (moves !== InputMode.Absolute || part < 0 || know[slot] === Know.Unknown) return true;
        return this.takeOver(part, action, slot);
    }
  }

  /** What stands at a place turns by the ticks that lie between it and the place before; false where there are none. */
  private ticksMoved(action: number): boolean {
    const r = this.register;
    if (r[Register.Before] < 0) return false;
    const step = this.tables.actStep[action];
    const ticks = Math.round(r[Register.Value] / step) - Math.round(r[Register.Before] / step);
    r[Register.Wanted] = ticks;
    return ticks !== 0;
  }

  /** A press, or a tick, goes on by whole steps; at the end it stops, or begins anew. */
  private stepOn(part: number, action: number, moves: InputMode, slot: number): boolean {
    const { acts, actStep, shapers } = this.tables;
    const { value: believed, know } = this.beliefs;
    if (know[slot] === Know.Unknown) {
      this.stop(part, Stop.StateUnknown);
      return false;
    }
    const at = action * ActionColumn.Width;
    const { low, high } = shapers[action];
    const [bottom, top] = low <= high ? [low, high] : [high, low];
    const step = actStep[action];
    const ticks = moves === InputMode.Relative ? this.register[Register.Value] : 1;
    let wanted = believed[slot] + ticks * acts[at + ActionColumn.By] * step;
    const slack = step / 2;
    if (wanted > top + slack || wanted < bottom - slack) {
      if (acts[at + ActionColumn.Wrap] === 1) wanted = wanted > top ? bottom : top;
      else this.ground.clamped++;
    }
    this.register[Register.Wanted] = Math.max(bottom, Math.min(top, wanted));
    return true;
  }

  /** A turn moves the function from where it is. */
  private turn(part: number, action: number, slot: number): boolean {
    const { actStep, acceleration, shapers } = this.tables;
    const { value: believed, know } = this.beliefs;
    if (know[slot] === Know.Unknown) {
      this.stop(part, Stop.StateUnknown);
      return false;
    }
    const r = this.register;
    const shaper = shapers[action];
    const bottom = Math.min(shaper.low, shaper.high);
    const top = Math.max(shaper.low, shaper.high);
    const ticks = r[Register.Value];
    let step = shaper.invert === shaper.low <= shaper.high ? -actStep[action] : actStep[action];
    if (acceleration[action] > 1 && part >= 0) {
      const passed = Math.max(1, this.ground.now - r[Register.MovedBefore]);
      const speed = (Math.abs(ticks) * 1_000_000) / passed;
      const share = (speed - SLOW_TURN) / (FAST_TURN - SLOW_TURN);
      if (share > 0) step *= 1 + (acceleration[action] - 1) * Math.min(1, share);
    }
    const wanted = believed[slot] + ticks * step;
    if (wanted > top || wanted < bottom) this.ground.clamped++;
    r[Register.Wanted] = wanted > top ? top : wanted < bottom ? bottom : wanted;
    return true;
  }

  /** A control that stands elsewhere than its function meets it. */
  private takeOver(part: number, action: number, slot: number): boolean {
    const r = this.register;
    const t = this.takeovers.register;
    const shaper = this.tables.shapers[action];
    t[TakeoverAt.Position] = r[Register.Value];
    t[TakeoverAt.Wanted] = r[Register.Wanted];
    t[TakeoverAt.Before] = r[Register.Before];
    if (t[TakeoverAt.Before] >= 0) shaper.apply(t, TakeoverAt.Before);
    t[TakeoverAt.Now] = this.beliefs.value[slot];
    t[TakeoverAt.Low] = shaper.invert ? shaper.high : shaper.low;
    t[TakeoverAt.High] = shaper.invert ? shaper.low : shaper.high;
    t[TakeoverAt.Rest] = this.tables.rest[part];
    const meets = this.takeovers.meet(action, slot);
    r[Register.Wanted] = t[TakeoverAt.Wanted];
    if (this.ground.log) this.ground.log.gap[part] = t[TakeoverAt.Gap];
    if (!meets) this.stop(part, Stop.Pickup);
    return meets;
  }

  /** Whether the host has the function now, as far as it has told. */
  private isAvailable(slot: number): boolean {
    const needs = this.tables.slots[slot * SlotColumn.Width + SlotColumn.Needs];
    return (
      needs < 0 || this.beliefs.know[needs] === Know.Unknown || this.beliefs.value[needs] >= 0.5
    );
  }

  /** The others of an exclusive group let go. */
  private exclude(action: number, slot: number): void {
    const group = this.tables.acts[action * ActionColumn.Width + ActionColumn.Group];
    if (group < 0) return;
    const wanted = this.register[Register.Wanted];
    for (const other of this.plan.groups[group]) {
      if (other === slot || this.beliefs.value[other] < 0.5) continue;
      if (this.plan.slots[other].link < 0) this.setOwn(other, false);
      else if (this.beliefs.know[other] !== Know.Unknown && this.isAvailable(other)) {
        this.register[Register.Wanted] = 0;
        this.send(other);
      }
    }
    this.register[Register.Wanted] = wanted;
  }

  private playNotes(part: number, action: number): void {
    const { action: said, link } = this.plan.actions[action];
    if (said.do !== 'notes' || this.actHeld[action] === HOLDS_NOTES) return;
    if (this.ground.silent) {
      this.stop(part, Stop.HeldOff);
      return;
    }
    if (!this.ground.outboxes[link].open) {
      this.stop(part, Stop.HostClosed);
      return;
    }
    const played = Math.round(this.register[Register.Value] * 127);
    const velocity = said.velocity ?? Math.max(1, Math.min(127, played));
    this.actHeld[action] = HOLDS_NOTES;
    this.ground.willVersion++;
    for (const note of said.notes) {
      this.notes.press(link, said.channel - 1, note);
      this.pushPacked(link, NOTE_ON | (said.channel - 1) | (note << 8) | (velocity << 16));
    }
    // What comes from a host's change has nobody to let go of it.
    if (part < 0) this.letGo(action);
  }

  private sendMessage(part: number, action: number): void {
    const { message, link } = this.plan.actions[action];
    if (this.ground.silent) {
      this.stop(part, Stop.HeldOff);
      return;
    }
    const box = this.ground.outboxes[link];
    if (!box.open) {
      this.stop(part, Stop.HostClosed);
      return;
    }
    if (message) {
      const { bytes, value, high, low } = message;
      if (message.text >= 0) {
        this.sendText(part, action, message);
        return;
      }
      const share = Math.max(0, Math.min(1, this.register[Register.Value]));
      this.scratch.set(bytes);
      if (value >= 0) this.scratch[value] = Math.round(share * 127);
      const fine = Math.round(share * 16_383);
      if (high >= 0) this.scratch[high] = fine >> 7;
      if (low >= 0) this.scratch[low] = fine & 0x7f;
      if (!box.pushEvent(this.scratch, 0, bytes.length)) this.stop(part, Stop.Busy);
    } else if (this.ground.incoming)
      box.pushEvent(this.ground.incoming, this.ground.incomingFrom, this.ground.incomingTo);
    else if (part >= 0) this.pushPacked(link, this.ground.packed);
  }

  /** Sends a message with a text in the place of one of its bytes, cut to what a message may hold. */
  private sendText(part: number, action: number, { bytes, text }: Template): void {
    const { action: said, link } = this.plan.actions[action];
    if (said.do !== 'send') return;
    let rule = this.textRules.get(action);
    if (!rule) this.textRules.set(action, (rule = readTextRule(said.text ?? '')));
    const room = this.scratch.length - bytes.length + 1;
    const shown = this.ground.textBy(rule, part).slice(0, room);
    this.scratch.set(bytes.subarray(0, text));
    for (let i = 0; i < shown.length; i++) this.scratch[text + i] = shown.charCodeAt(i) & 0x7f;
    this.scratch.set(bytes.subarray(text + 1), text + shown.length);
    const length = bytes.length - 1 + shown.length;
    if (!this.ground.outboxes[link].pushEvent(this.scratch, 0, length)) this.stop(part, Stop.Busy);
  }

  /** Releases what a run of actions holds. */
  letGoOfRun({ first, count }: Run): void {
    for (let action = first; action < first + count; action++) this.letGo(action);
  }

  /** A press of a run of actions ends. */
  endPress(part: number, run: Run): void {
    const { acts } = this.tables;
    this.letGoOfRun(run);
    // What is sent on as it came in has an end of its own.
    for (let action = run.first; action < run.first + run.count; action++)
      if (
        acts[action * ActionColumn.Width + ActionColumn.Op] === Op.Send &&
        acts[action * ActionColumn.Width + ActionColumn.By] === 1
      )
        this.sendMessage(part, action);
  }

  /** Releases all that is held. */
  letGoOfAll(): void {
    this.fingers.liftAll();
    this.fingerAt.fill(NEVER);
    this.letGoOfRun({ first: 0, count: this.actHeld.length });
  }

  /** Releases what an action holds. */
  private letGo(action: number): void {
    const held = this.actHeld[action];
    if (held === undefined || held === HOLDS_NOTHING) return;
    this.actHeld[action] = HOLDS_NOTHING;
    this.ground.willVersion++;
    const { acts, shapers, slots } = this.tables;
    const op = acts[action * ActionColumn.Width + ActionColumn.Op] as Op;
    if (held === HOLDS_NOTES) {
      const { action: said, link } = this.plan.actions[action];
      if (said.do !== 'notes') return;
      for (const note of said.notes)
        if (this.notes.release(link, said.channel - 1, note))
          this.pushPacked(link, NOTE_ON | (said.channel - 1) | (note << 8));
      return;
    }
    if (op === Op.LayerHold) {
      this.layers.release(acts[action * ActionColumn.Width + ActionColumn.By]);
      return;
    }
    if (this.slotHolds[held] > 0) this.slotHolds[held]--;
    // Another control still holds the same.
    if (this.slotHolds[held] > 0) return;
    if (slots[held * SlotColumn.Width + SlotColumn.Taps] === 1) {
      this.turnedBack.released(held);
      this.event(held, 0);
      return;
    }
    if (op === Op.FlagHold) this.setOwn(held, false);
    else {
      this.register[Register.Wanted] = shapers[action].low;
      const unknown = this.beliefs.know[held] === Know.Unknown;
      if (slots[held * SlotColumn.Width + SlotColumn.ToggleOnly] === 0 || !unknown) this.send(held);
    }
  }

  /** Sets a flag, or tells of a layer. */
  setOwn(slot: number, on: boolean): void {
    this.ground.sessionVersion++;
    this.beliefs.set(slot, on);
    this.ground.changed(slot);
  }

  /** Enters and leaves layers until what is on is what is wanted. */
  applyLayers(): void {
    const { active } = this.matcher;
    const { layers } = this.plan;
    for (let turn = 0; turn < MOST_CHANGES; turn++) {
      let changed = -1;
      // What is left is left before anything is entered.
      for (let layer = 0; layer < layers.length && changed < 0; layer++)
        if (active[layer] === 1 && !this.layers.isOn(layer)) changed = layer;
      for (let layer = 0; layer < layers.length && changed < 0; layer++)
        if (active[layer] === 0 && this.layers.isOn(layer)) changed = layer;
      if (changed < 0) return;
      const on = active[changed] === 0;
      active[changed] = on ? 1 : 0;
      this.setOwn(layers[changed].slot, on);
      this.ground.aimAnew();
      const run = on ? layers[changed].enter : layers[changed].leave;
      const value = this.register[Register.Value];
      for (let action = run.first; action < run.first + run.count; action++) {
        this.register[Register.Value] = 1;
        this.act(NEVER, action, InputMode.Press, true);
      }
      this.register[Register.Value] = value;
    }
  }

  /** Layers as they are, without entering or leaving any. */
  showLayers(): void {
    this.plan.layers.forEach(({ slot }, layer) => {
      const on = this.layers.isOn(layer);
      this.matcher.active[layer] = on ? 1 : 0;
      this.beliefs.set(slot, on);
    });
  }

  /**
   * Tells a host the value in the register; false where its port is closed, or events pile up. A host that only knows
   * how to turn a function over is told nothing where it has the value already.
   */
  private send(slot: number): boolean {
    const { slots } = this.tables;
    const at = slot * SlotColumn.Width;
    const link = slots[at + SlotColumn.Link];
    const local = slots[at + SlotColumn.Local];
    const box = this.ground.outboxes[link];
    if (!box.open) return false;
    const value = this.register[Register.Wanted];
    const sender = this.senders[link];
    let wire = sender.wireAt(local, this.register, Register.Wanted);
    const { know, value: believed } = this.beliefs;
    const flips = slots[at + SlotColumn.ToggleOnly] === 1;
    if (flips) {
      if (know[slot] !== Know.Unknown && value >= 0.5 === believed[slot] >= 0.5) return true;
      // What it does is for its lamp to tell.
      if (slots[at + SlotColumn.Taps] === 1) {
        this.turnedBack.pressed(slot, this.ground.clock);
        return this.event(slot, 1) && this.event(slot, 0);
      }
      wire = sender.wire(local, 1);
    }
    if (slots[at + SlotColumn.Continuous] !== 0) box.mark(local, 0);
    else {
      const length = sender.write(local, wire, this.scratch, 0);
      if (!box.pushEvent(this.scratch, 0, length)) return false;
    }
    this.beliefs.sentWire[slot] = wire;
    if (this.causes.running !== 0) this.causes.told(slot, this.ground.now);
    // What turns tells by its ring where it stands, and ticks are no place.
    if (slots[at + SlotColumn.Nudge] === 1) return true;
    // A trigger leaves no state behind; what was turned over blindly is as unknown as before.
    if (slots[at + SlotColumn.Reports] === 0 && !(flips && know[slot] !== Know.Unknown))
      return true;
    if (flips && know[slot] === Know.Unknown) return true;
    this.beliefs.assume(slot, this.register, Register.Wanted);
    this.ground.changed(slot);
    return true;
  }

  /** Writes what a host is due of a slot; returns its bytes. */
  renderSlot(slot: number, buffer: Uint8Array, at: number): number {
    const { slots } = this.tables;
    return this.senders[slots[slot * SlotColumn.Width + SlotColumn.Link]].write(
      slots[slot * SlotColumn.Width + SlotColumn.Local],
      this.beliefs.sentWire[slot],
      buffer,
      at,
    );
  }

  /** Sends a short message as an event; false where it cannot go. */
  pushPacked(link: number, packed: number): boolean {
    const length = writePacked(packed, this.scratch);
    return length > 0 && this.ground.outboxes[link].open
      ? this.ground.outboxes[link].pushEvent(this.scratch, 0, length)
      : false;
  }

  /** The bytes that would release what is held on a host link, should Rondo vanish. */
  will(link: number): Uint8Array {
    const sender = this.senders[link];
    const { slots, shapers } = this.tables;
    const bytes: number[] = [];
    this.actHeld.forEach((slot, action) => {
      if (slot < 0 || slots[slot * SlotColumn.Width + SlotColumn.Link] !== link) return;
      const local = slots[slot * SlotColumn.Width + SlotColumn.Local];
      const length = sender.write(local, sender.wire(local, shapers[action].low), this.scratch, 0);
      bytes.push(...this.scratch.subarray(0, length));
    });
    for (const slot of this.fingers.touched()) {
      if (slots[slot * SlotColumn.Width + SlotColumn.Link] !== link) continue;
      const local = slots[slot * SlotColumn.Width + SlotColumn.Local];
      const length = sender.write(local, sender.wire(local, 0), this.scratch, 0);
      bytes.push(...this.scratch.subarray(0, length));
    }
    return Uint8Array.from([...bytes, ...this.notes.silence(link)]);
  }

  /** Records why a part's message went no further. */
  stop(part: number, why: Stop): void {
    if (this.ground.log && part >= 0) this.ground.log.stopped(part, why);
  }
}

/** Writes a packed short message; returns its bytes, 0 for what is none. */
function writePacked(packed: number, buffer: Uint8Array): number {
  const status = packed & 0xff;
  buffer[0] = status;
  buffer[1] = (packed >> 8) & 0x7f;
  buffer[2] = (packed >> 16) & 0x7f;
  if (status < 0x80) return 0;
  if (status >= 0xf0) return status >= 0xf8 || status === 0xf6 ? 1 : status === 0xf2 ? 3 : 2;
  return (status & 0xe0) === 0xc0 ? 2 : 3;
}
