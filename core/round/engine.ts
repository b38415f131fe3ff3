import { CLOCK, SYSEX, StreamParser, type MessageSink } from '@rondo/core/wire';
import { MAX_VALUE_BYTES, NO_MATCH, type Receiver, type Sender } from '@rondo/core/surface';
import { valueText } from '@rondo/core/host';
import { BankWindow } from './bank.js';
import { Beliefs, Know } from './beliefs.js';
import { Outbox } from './outbox.js';
import { Feel, Shows, type Aim, type Plan } from './plan.js';
import { RoundLog, Stop } from './trace.js';

/** Takes what leaves a link: whole messages, valid only during the call. */
export type LinkOutput = (
  link: number,
  bytes: Uint8Array,
  from: number,
  to: number,
  t: number,
) => void;

/** A surface's own meters fall a step about every 300 ms (common practice, no source). */
const METER_FALL = 300_000;

/** A display field is written at most this often, µs: nobody reads faster. */
export const TEXT_EVERY = 40_000;

const NEVER = -1;
const NOTHING_SHOWN = -2;
const LONG_AGO = -1e12;
const OUT_PRIORITIES = 5;

/** Order in which outputs go out: motors, lights, rings, text, meters. */
const PRIORITY: Readonly<Record<Shows, number>> = {
  [Shows.Motor]: 0,
  [Shows.Light]: 1,
  [Shows.Ring]: 2,
  [Shows.Text]: 3,
  [Shows.Meter]: 4,
};

const enum Op {
  None,
  Follow,
  Toggle,
  Momentary,
  SetTo,
  Nudge,
  Bank,
  Broken,
}
// Columns of the flat tables that the hot path reads.
const enum P {
  Feel,
  Motor,
  Partner,
  Text,
  TextSource,
  First,
  Count,
  Link,
  Width,
}
const enum A {
  Op,
  Base,
  Offset,
  Strips,
  By,
  /** A power of two, so that no row lies across two lines of the cache. */
  Width = 8,
}
const enum S {
  Link,
  Local,
  Exists,
  Settable,
  Continuous,
  Reports,
  Needs,
  Width,
}
const enum O {
  Link,
  Local,
  Shows,
  Mover,
  Base,
  Offset,
  Strips,
  Base2,
  Offset2,
  Strips2,
  On,
  Width,
}

const NO_AIM: Aim = { base: -1, offset: -1, strips: 0 };
const DEFAULT_STEP = 1 / 100;

class LinkInput implements MessageSink {
  readonly parser: StreamParser;
  constructor(
    private readonly engine: Engine,
    private readonly link: number,
  ) {
    this.parser = new StreamParser(this, 4_096);
  }
  short(packed: number): void {
    this.engine.onShort(this.link, packed);
  }
  sysex(bytes: Uint8Array, from: number, to: number): void {
    this.engine.onSysex(this.link, bytes, from, to);
  }
}

/**
 * The round: what comes from surfaces goes, shaped, to hosts; what hosts tell comes back as motor, light, ring, text
 * and meter. Time is whole microseconds and always passed in. Nothing is allocated per message.
 */
export class Engine {
  readonly bank = new BankWindow();
  /** What hosts are believed to have, by slot. */
  beliefs = new Beliefs(0);
  /** Where the hand last put an absolute control, 0…1; −1 where a motor has moved it since. By part. */
  hand = new Float64Array(0);
  /** Touched or pressed now. By part. */
  down = new Uint8Array(0);
  /** Last whole number sent to an output; below 0 where none was. */
  shown = new Int32Array(0);
  shownText: string[] = [];
  /** The slot each output shows now; −1 where it shows none. */
  showing = new Int32Array(0);
  /** Touches select and show, but nothing reaches a host. */
  holdOff = false;
  /** After a panic no motor is driven until everything is repainted. */
  motorsFree = false;
  /** Counts changes of any host text. */
  textVersion = 0;
  /** Counts changes of what a host would have to let go of if Rondo vanished. */
  willVersion = 0;
  /** Recorder of the last way through the round, where one is plugged in. */
  log: RoundLog | null = null;
  plan: Plan;

  private now = 0;
  private inputs: LinkInput[] = [];
  // By link, side by side, so that the hot path reaches them in one step.
  private receivers: Receiver[] = [];
  private senders: Sender[] = [];
  private isSurface: boolean[] = [];
  private paged: boolean[] = [];
  /** Onboard page that each link is on, from 0. */
  pages: number[] = [];
  private played: (Uint8Array | null)[] = [];
  private oneShot = new Uint8Array(0);
  private inOpen = new Uint8Array(0);
  private outboxes: Outbox[] = [];
  private parts = new Int32Array(0);
  private acts = new Int32Array(0);
  private actTo = new Float64Array(0);
  private actStep = new Float64Array(0);
  /** Slot that a momentary action holds down; −1 where it holds none. */
  private actHeld = new Int32Array(0);
  private slots = new Int32Array(0);
  private outs = new Int32Array(0);
  private firstShowing = new Int32Array(0);
  private nextShowing = new Int32Array(0);
  private textPick = new Uint8Array(0);
  private shownAt = new Float64Array(0);
  private bankAt = new Int32Array(0);
  private waiting = new Int32Array(0);
  private isWaiting = new Uint8Array(0);
  private waitingCount = 0;
  private waitingDue = Infinity;
  private readonly scratch = new Uint8Array(MAX_VALUE_BYTES);
  private readonly renders: ((item: number, buffer: Uint8Array, at: number) => number)[] = [];
  private readonly writes: ((bytes: Uint8Array, from: number, to: number) => void)[] = [];

  /** @param output receives the bytes of every link */
  constructor(
    plan: Plan,
    private readonly output: LinkOutput,
  ) {
    this.plan = plan;
    this.load(plan);
  }

  /** Index of a link by its key, −1 where the plan has none such. */
  linkOf(key: string): number {
    return this.plan.links.findIndex((link) => link.key === key);
  }

  /**
   * Swaps the plan between two messages. Live state is carried over by key: what hosts told, what surfaces show,
   * what is touched. What a binding that is gone, or changed, held down is let go of first.
   */
  load(plan: Plan): void {
    const old = this.plan;
    const was = {
      links: new Map(old.links.map((link, i) => [link.key, i])),
      parts: new Map(old.parts.map((part, i) => [part.key, i])),
      slots: new Map(old.slots.map((slot, i) => [slot.key, i])),
      outs: new Map(old.outs.map((out, i) => [out.key, i])),
    };
    const first = this.inputs.length === 0;
    const held = first ? null : this.releaseChanged(old, plan);
    const before = { ...this };
    this.plan = plan;
    this.receivers = plan.links.map((link) => link.receiver);
    this.senders = plan.links.map((link) => link.sender);
    this.isSurface = plan.links.map((link) => link.kind === 'surface');
    this.paged = plan.links.map((link) => link.senders.length > 1);
    this.played = plan.links.map((link) => link.played);
    this.oneShot = Uint8Array.from(plan.parts, (part) => (part.oneShot ? 1 : 0));
    this.pages = plan.links.map((link) => {
      const from = was.links.get(link.key);
      const page = first || from === undefined ? 0 : before.pages[from];
      return Math.min(page, link.senders.length - 1);
    });
    this.pages.forEach((page, link) => {
      this.receivers[link].setPage(page);
      this.senders[link] = plan.links[link].senders[page];
    });
    this.tabulate(plan);

    const slotCount = plan.slots.length;
    this.beliefs = new Beliefs(slotCount);
    const partCount = plan.parts.length;
    this.hand = new Float64Array(partCount).fill(NEVER);
    this.down = new Uint8Array(partCount);
    this.bankAt = new Int32Array(partCount);
    const outCount = plan.outs.length;
    this.shown = new Int32Array(outCount).fill(NOTHING_SHOWN);
    this.shownText = new Array<string>(outCount).fill('');
    this.shownAt = new Float64Array(outCount).fill(LONG_AGO);
    this.showing = new Int32Array(outCount).fill(-1);
    this.textPick = new Uint8Array(outCount);
    this.waiting = new Int32Array(outCount);
    this.isWaiting = new Uint8Array(outCount);
    this.waitingCount = 0;
    this.waitingDue = Infinity;
    this.nextShowing = new Int32Array(outCount);
    this.firstShowing = new Int32Array(slotCount);
    const log = this.log ? new RoundLog(partCount) : null;
    if (!first) {
      const slotOf = new Map(plan.slots.map((slot, i) => [slot.key, i]));
      actionKeys(plan).forEach((key, action) => {
        this.actHeld[action] = slotOf.get(held?.get(key) ?? '') ?? -1;
      });
      plan.slots.forEach((slot, i) => {
        const from = was.slots.get(slot.key);
        if (from !== undefined) this.beliefs.carry(i, before.beliefs, from);
      });
      plan.parts.forEach((part, i) => {
        const from = was.parts.get(part.key);
        if (from === undefined) return;
        this.hand[i] = before.hand[from];
        this.down[i] = before.down[from];
        this.bankAt[i] = before.bankAt[from];
        if (log && this.log) {
          log.packed[i] = this.log.packed[from];
          log.at[i] = this.log.at[from];
          log.value[i] = this.log.value[from];
          if (from === this.log.inHand) {
            log.inHand = i;
            log.inHandAt = this.log.inHandAt;
          }
        }
      });
      plan.outs.forEach((out, i) => {
        const from = was.outs.get(out.key);
        if (from === undefined) return;
        this.shown[i] = before.shown[from];
        this.shownText[i] = before.shownText[from];
        this.shownAt[i] = before.shownAt[from];
        this.textPick[i] = before.textPick[from];
      });
    }
    this.log = log;
    const outCounts = plan.links.map((link, i) =>
      link.kind === 'host'
        ? plan.slots.filter((slot) => slot.link === i).length
        : plan.outs.filter((out) => out.link === i).length,
    );
    const firstItem = plan.links.map((link, i) =>
      link.kind === 'host'
        ? plan.slots.findIndex((slot) => slot.link === i)
        : plan.outs.findIndex((out) => out.link === i),
    );
    this.inOpen = new Uint8Array(plan.links.length);
    this.inputs = plan.links.map((link, i) => {
      const from = was.links.get(link.key);
      if (!first && from !== undefined) this.inOpen[i] = before.inOpen[from];
      return new LinkInput(this, i);
    });
    const repaint: number[] = [];
    this.outboxes = plan.links.map((link, i) => {
      const from = was.links.get(link.key);
      // What is due on a link that stays the same goes out all the same.
      const same = !first && from !== undefined && old.links[from].model === link.model;
      const edited = same && old.links[from].surface !== link.surface;
      const box =
        same && !edited
          ? before.outboxes[from]
          : new Outbox(
              outCounts[i],
              link.kind === 'host' ? 1 : OUT_PRIORITIES,
              1_000_000 / link.bytesPerSecond,
            );
      if (edited) {
        box.open = before.outboxes[from].open;
        box.unacknowledgedLimit = before.outboxes[from].unacknowledgedLimit;
        repaint.push(i);
      }
      const base = firstItem[i];
      this.renders[i] =
        link.kind === 'host'
          ? (item, buffer, at) => this.renderSlot(base + item, buffer, at)
          : (item, buffer, at) => this.renderOut(base + item, buffer, at);
      this.writes[i] = (bytes, start, end) => this.output(i, bytes, start, end, this.now);
      return box;
    });
    this.bank.fit(plan.strips, plan.window);
    this.retarget();
    // What an edited surface shows is not known any more.
    for (const link of repaint) this.repaintLink(link);
    this.pump();
  }

  private tabulate(plan: Plan): void {
    const acts = plan.parts.flatMap((part) => part.actions);
    this.parts = new Int32Array(plan.parts.length * P.Width);
    this.acts = new Int32Array(acts.length * A.Width);
    this.actTo = new Float64Array(acts.length);
    this.actStep = new Float64Array(acts.length);
    const held = new Int32Array(acts.length).fill(-1);
    let next = 0;
    plan.parts.forEach((part, p) => {
      this.parts.set(
        [
          part.feel,
          part.motor,
          part.partner,
          part.text,
          part.textSource,
          next,
          part.actions.length,
          part.link,
        ],
        p * P.Width,
      );
      for (const { action, aim, broken } of part.actions) {
        const { base, offset, strips } = aim ?? NO_AIM;
        let op = Op.Broken;
        let by = 0;
        if (action.do === 'bank') {
          op = Op.Bank;
          by = action.by;
        } else if (!broken) {
          op = {
            follow: plan.slots[base].fn.kind === 'nudge' ? Op.Nudge : Op.Follow,
            toggle: Op.Toggle,
            momentary: Op.Momentary,
            set: Op.SetTo,
          }[action.behaviour];
          this.actTo[next] = action.to ?? 1;
          const { choices } = plan.slots[base].fn;
          this.actStep[next] = action.step ?? (choices ? 1 / (choices.length - 1) : DEFAULT_STEP);
        }
        this.acts.set([op, base, offset, strips, by], next * A.Width);
        next++;
      }
    });
    this.actHeld = held;
    this.slots = new Int32Array(plan.slots.length * S.Width);
    plan.slots.forEach((slot, i) => {
      const { kind } = slot.fn;
      this.slots.set(
        [
          slot.link,
          slot.local,
          slot.exists ? 1 : 0,
          slot.settable ? 1 : 0,
          kind === 'continuous' ? 1 : 0,
          slot.reports ? 1 : 0,
          slot.needs,
        ],
        i * S.Width,
      );
    });
    this.outs = new Int32Array(plan.outs.length * O.Width);
    plan.outs.forEach((out, i) => {
      const one = out.sources[0] ?? NO_AIM;
      const two = out.sources[1] ?? one;
      this.outs.set(
        [
          out.link,
          out.local,
          out.shows,
          out.mover,
          one.base,
          one.offset,
          one.strips,
          two.base,
          two.offset,
          two.strips,
          out.on,
        ],
        i * O.Width,
      );
    });
  }

  /**
   * Lets go of what actions hold down that the new plan no longer has as they were.
   * @returns the slot keys still held, by action
   */
  private releaseChanged(old: Plan, plan: Plan): Map<string, string> {
    const staying = new Set(actionKeys(plan));
    const held = new Map<string, string>();
    actionKeys(old).forEach((key, action) => {
      const slot = this.actHeld[action];
      if (slot < 0) return;
      if (staying.has(key)) held.set(key, old.slots[slot].key);
      else this.letGo(action);
    });
    this.pump();
    return held;
  }

  /** Opens or closes the input of a link. A closed host is unknown; a closed surface holds nothing. */
  setInputOpen(link: number, open: boolean, t: number): void {
    this.now = t;
    if (this.inOpen[link] === (open ? 1 : 0)) return;
    this.inOpen[link] = open ? 1 : 0;
    this.inputs[link].parser.reset();
    if (open) this.askHost(link);
    else if (this.plan.links[link].kind === 'host') this.forgetHost(link);
    else this.letGoOf(link);
    this.pump();
  }

  /** Opens or closes the output of a link; what a surface shows is unknown then, and all of it is sent again. */
  setOutputOpen(link: number, open: boolean, t: number, unacknowledgedLimit = Infinity): void {
    this.now = t;
    const box = this.outboxes[link];
    box.unacknowledgedLimit = unacknowledgedLimit;
    if (box.open === open) return;
    box.clear();
    box.open = open;
    if (open && this.plan.links[link].kind === 'host') this.askHost(link);
    if (open) this.repaintLink(link);
    this.pump();
  }

  isInputOpen(link: number): boolean {
    return this.inOpen[link] === 1;
  }

  isOutputOpen(link: number): boolean {
    return this.outboxes[link].open;
  }

  /** The other side of an output has taken some bytes. */
  acknowledge(link: number, bytes: number, t: number): void {
    this.now = t;
    this.outboxes[link].acknowledge(bytes);
    this.pump();
  }

  /** Asks a host to report everything, where it has a way and both ends are open. */
  private askHost(link: number): void {
    const { ask, kind } = this.plan.links[link];
    if (kind !== 'host' || !ask || !this.inOpen[link] || !this.outboxes[link].open) return;
    this.outboxes[link].pushEvent(ask, 0, ask.length);
  }

  private forgetHost(link: number): void {
    this.textVersion++;
    this.plan.slots.forEach((slot, i) => {
      if (slot.link !== link) return;
      this.beliefs.forget(i);
      this.markSlot(i);
    });
  }

  /** Lets go of everything that a surface touches or holds. */
  private letGoOf(link: number): void {
    this.plan.parts.forEach((part, p) => {
      if (part.link !== link || this.down[p] === 0) return;
      const first = this.parts[p * P.Width + P.First];
      const count = this.parts[p * P.Width + P.Count];
      for (let a = first; a < first + count; a++) this.letGo(a);
      this.release(p);
    });
  }

  private release(part: number): void {
    this.down[part] = 0;
    const motor = this.parts[part * P.Width + P.Motor];
    if (motor >= 0) this.markOut(motor);
  }

  /** Bytes from a link, in order. `t` in µs, never less than before. */
  receive(link: number, bytes: Uint8Array, from: number, to: number, t: number): void {
    this.now = t;
    if (this.inOpen[link] === 0) return;
    this.inputs[link].parser.feed(bytes, from, to);
    this.pump();
  }

  /** Does what is due by `t`, µs. */
  advance(t: number): void {
    this.now = t;
    if (t >= this.beliefs.deadline) this.beliefs.resolve(t, (slot) => this.markSlot(slot));
    if (t >= this.waitingDue) this.endWaits();
    this.pump();
  }

  /** When {@link advance} is needed next, µs; Infinity where it is not. */
  nextDeadline(): number {
    let next = Math.min(this.beliefs.deadline, this.waitingDue);
    for (const box of this.outboxes) next = Math.min(next, box.deadline);
    return next;
  }

  private pump(): void {
    for (let link = 0; link < this.outboxes.length; link++)
      this.outboxes[link].drain(this.now, this.renders[link], this.writes[link]);
  }

  /** @internal called by the link's parser */
  onShort(link: number, packed: number): void {
    const receiver = this.receivers[link];
    const target = receiver.accept(packed);
    if (this.paged[link] && receiver.page !== this.pages[link]) this.turnPage(link, receiver.page);
    if (target >= 0) {
      if (!this.isSurface[link]) this.onReport(target, receiver.value);
      else if (this.isPlayed(link, packed)) {
        this.log?.hand(target, packed, receiver.value, this.now, false);
        this.stop(target, Stop.Played);
      } else this.onControl(target, receiver.value, packed);
    } else if (target === NO_MATCH && this.isSurface[link] && (packed & 0xff) < CLOCK && this.log)
      this.log.stray(link, packed, this.now);
  }

  /** @internal called by the link's parser */
  onSysex(link: number, bytes: Uint8Array, from: number, to: number): void {
    const receiver = this.receivers[link];
    const slot = receiver.acceptSysex(bytes, from, to);
    if (this.isSurface[link]) {
      if (this.paged[link] && receiver.page !== this.pages[link])
        this.turnPage(link, receiver.page);
      if (slot >= 0) this.onControl(slot, receiver.value, SYSEX);
      else this.log?.stray(link, SYSEX, this.now);
      return;
    }
    if (slot < 0) return;
    let text = '';
    for (let i = receiver.textFrom; i < receiver.textTo; i++) text += String.fromCharCode(bytes[i]);
    if (this.beliefs.tell(slot, text)) this.textVersion++;
    this.markSlot(slot);
  }

  /** The device has changed its onboard page: it takes other messages now and shows nothing of ours yet. */
  private turnPage(link: number, page: number): void {
    this.pages[link] = page;
    this.senders[link] = this.plan.links[link].senders[page];
    this.repaintLink(link);
  }

  private isPlayed(link: number, packed: number): boolean {
    const played = this.played[link];
    const isNote = (packed & 0xf0) <= 0xa0;
    return (
      isNote && played !== null && played[((packed & 0x0f) << 7) | ((packed >> 8) & 0x7f)] === 1
    );
  }

  private onControl(part: number, value: number, packed: number): void {
    this.onPart(part, value, packed);
    if (this.oneShot[part] !== 0 && value > 0) this.onPart(part, 0, packed);
  }

  private onPart(part: number, value: number, packed: number): void {
    const log = this.log;
    const at = part * P.Width;
    const feel = this.parts[at + P.Feel];
    const isButton = feel === Feel.Press || feel === Feel.Touch;
    if (log) log.hand(part, packed, value, this.now, isButton && value === 0);
    const first = this.parts[at + P.First];
    const count = this.parts[at + P.Count];
    let pressed = false;
    if (feel === Feel.Absolute) {
      this.hand[part] = value;
      if (this.parts[at + P.Motor] >= 0) this.markOut(this.parts[at + P.Motor]);
    } else if (feel !== Feel.Relative) {
      pressed = value > 0;
      if (pressed) {
        this.down[part] = 1;
        this.bankAt[part] = this.bank.start;
      } else this.release(part);
    }
    if (this.parts[at + P.Text] >= 0 && feel !== Feel.Touch) {
      this.textPick[this.parts[at + P.Text]] = this.parts[at + P.TextSource];
      this.markOut(this.parts[at + P.Text]);
    }
    if (count === 0) {
      if (log && feel !== Feel.Touch) log.stopped(part, Stop.NothingBound);
      return;
    }
    for (let action = first; action < first + count; action++)
      this.act(part, action, feel, value, pressed);
  }

  /** The bank window that a part's messages mean: the one at its touch or press, as long as that lasts. */
  private bankOf(part: number): number {
    if (this.down[part] !== 0) return this.bankAt[part];
    const partner = this.parts[part * P.Width + P.Partner];
    return partner >= 0 && this.down[partner] !== 0 ? this.bankAt[partner] : this.bank.start;
  }

  private act(part: number, action: number, feel: Feel, value: number, pressed: boolean): void {
    const at = action * A.Width;
    const op = this.acts[at + A.Op];
    const isButton = feel === Feel.Press || feel === Feel.Touch;
    if (isButton && !pressed) {
      this.letGo(action);
      return;
    }
    if (op === Op.Bank) {
      if (feel !== Feel.Absolute && this.bank.move(this.acts[at + A.By])) this.retarget();
      return;
    }
    if (op === Op.Broken) {
      this.stop(part, Stop.Broken);
      return;
    }
    const slot = this.slotAt(
      this.acts[at + A.Base],
      this.acts[at + A.Offset],
      this.acts[at + A.Strips],
      this.bankOf(part),
    );
    if (slot < 0 || this.slots[slot * S.Width + S.Settable] === 0 || !this.isAvailable(slot)) {
      this.stop(part, Stop.NotAvailable);
      return;
    }
    const { value: believed, know } = this.beliefs;
    if (this.log) this.log.reached(part, slot, believed[slot]);
    let wanted = value;
    if (op === Op.Toggle) wanted = know[slot] && believed[slot] >= 0.5 ? 0 : 1;
    else if (op === Op.SetTo) wanted = this.actTo[action];
    else if (op === Op.Momentary) wanted = 1;
    else if (op === Op.Follow && feel === Feel.Relative) {
      if (know[slot] === Know.Unknown) {
        this.stop(part, Stop.StateUnknown);
        return;
      }
      wanted = Math.max(0, Math.min(1, believed[slot] + value * this.actStep[action]));
    }
    if (this.holdOff) {
      this.stop(part, Stop.HeldOff);
      return;
    }
    if (!this.send(slot, wanted)) {
      this.stop(part, this.outboxes[this.slots[slot * S.Width]].open ? Stop.Busy : Stop.HostClosed);
      return;
    }
    if (op === Op.Momentary) {
      this.actHeld[action] = slot;
      this.willVersion++;
    }
    if (this.log) this.log.reached(part, slot, wanted);
  }

  /** Whether the host has the function now, as far as it has told. */
  private isAvailable(slot: number): boolean {
    const needs = this.slots[slot * S.Width + S.Needs];
    return (
      needs < 0 || this.beliefs.know[needs] === Know.Unknown || this.beliefs.value[needs] >= 0.5
    );
  }

  private stop(part: number, why: Stop): void {
    if (this.log) this.log.stopped(part, why);
  }

  /** Releases what a momentary action holds. */
  private letGo(action: number): void {
    const slot = this.actHeld[action];
    if (slot === undefined || slot < 0) return;
    this.actHeld[action] = -1;
    this.willVersion++;
    this.send(slot, 0);
  }

  private slotAt(base: number, offset: number, strips: number, bank: number): number {
    if (base < 0) return -1;
    if (offset >= 0 && offset + bank >= strips) return -1;
    const slot = offset < 0 ? base : base + offset + bank;
    return this.slots[slot * S.Width + S.Exists] === 0 ? -1 : slot;
  }

  /** Tells a host; false where its port is closed, or events pile up. */
  private send(slot: number, value: number): boolean {
    const at = slot * S.Width;
    const link = this.slots[at + S.Link];
    const local = this.slots[at + S.Local];
    const box = this.outboxes[link];
    if (!box.open) return false;
    const sender = this.senders[link];
    const wire = sender.wire(local, value);
    if (this.slots[at + S.Continuous] !== 0) box.mark(local, 0);
    else {
      const length = sender.write(local, wire, this.scratch, 0);
      if (!box.pushEvent(this.scratch, 0, length)) return false;
    }
    this.beliefs.sentWire[slot] = wire;
    // A trigger or a nudge leaves no state behind.
    if (this.slots[at + S.Reports] === 0) return true;
    this.beliefs.assume(slot, value, this.now);
    this.markSlot(slot);
    return true;
  }

  private renderSlot(slot: number, buffer: Uint8Array, at: number): number {
    const local = this.slots[slot * S.Width + S.Local];
    return this.senders[this.slots[slot * S.Width + S.Link]].write(
      local,
      this.beliefs.sentWire[slot],
      buffer,
      at,
    );
  }

  private onReport(slot: number, value: number): void {
    const { beliefs } = this;
    const at = slot * S.Width;
    if (this.slots[at + S.Settable] !== 0 && beliefs.isFresh(slot, this.now)) {
      const wire = this.senders[this.slots[at + S.Link]].wire(this.slots[at + S.Local], value);
      if (wire !== beliefs.sentWire[slot]) {
        beliefs.doubt(slot, value);
        return;
      }
    }
    beliefs.believe(slot, value);
    this.markSlot(slot);
  }

  /** Works out anew what every output shows, after a move of the bank window or a new plan. */
  private retarget(): void {
    this.firstShowing.fill(-1);
    for (let out = 0; out < this.showing.length; out++) this.aimOut(out);
  }

  /** The slot that an output shows with the bank window where it is; −1 where there is none. */
  private slotOfOut(out: number): number {
    const at = out * O.Width + (this.textPick[out] === 1 ? O.Base2 : O.Base);
    return this.slotAt(this.outs[at], this.outs[at + 1], this.outs[at + 2], this.bank.start);
  }

  private aimOut(out: number): void {
    const slot = this.slotOfOut(out);
    this.showing[out] = slot;
    this.nextShowing[out] = -1;
    if (slot >= 0) {
      this.nextShowing[out] = this.firstShowing[slot];
      this.firstShowing[slot] = out;
    }
    this.markOut(out);
  }

  private markSlot(slot: number): void {
    for (let out = this.firstShowing[slot]; out >= 0; out = this.nextShowing[out])
      this.markOut(out);
  }

  private markOut(out: number): void {
    const at = out * O.Width;
    const box = this.outboxes[this.outs[at + O.Link]];
    if (!box.open) return;
    const shows = this.outs[at + O.Shows] as Shows;
    if (shows === Shows.Text && this.now < this.shownAt[out] + TEXT_EVERY) this.wait(out);
    else box.mark(this.outs[at + O.Local], PRIORITY[shows]);
  }

  /** Puts a text off until its field may be written again. */
  private wait(out: number): void {
    if (this.isWaiting[out] !== 0) return;
    this.isWaiting[out] = 1;
    this.waiting[this.waitingCount++] = out;
    this.waitingDue = Math.min(this.waitingDue, this.shownAt[out] + TEXT_EVERY);
  }

  private endWaits(): void {
    const count = this.waitingCount;
    this.waitingCount = 0;
    this.waitingDue = Infinity;
    for (let i = 0; i < count; i++) {
      const out = this.waiting[i];
      this.isWaiting[out] = 0;
      this.markOut(out);
    }
  }

  /** What an output should show now, as it goes over the wire; {@link NEVER} where nothing is to be sent. */
  private wantedWire(out: number): number {
    const at = out * O.Width;
    const sender = this.senders[this.outs[at + O.Link]];
    const local = this.outs[at + O.Local];
    const slot = this.showing[out];
    const known = slot >= 0 && this.beliefs.know[slot] !== Know.Unknown;
    switch (this.outs[at + O.Shows]) {
      case Shows.Motor: {
        const mover = this.outs[at + O.Mover];
        const touch = mover >= 0 ? this.parts[mover * P.Width + P.Partner] : -1;
        const touched = touch >= 0 && this.down[touch] !== 0;
        const byHand = mover >= 0 ? this.hand[mover] : NEVER;
        if (touched || !known) return byHand === NEVER ? NEVER : sender.wire(local, byHand);
        return this.motorsFree ? NEVER : sender.wire(local, this.beliefs.value[slot]);
      }
      case Shows.Ring:
        return sender.wire(local, known ? this.beliefs.value[slot] : -1);
      case Shows.Light:
        return known && this.beliefs.value[slot] >= 0.5 ? this.outs[at + O.On] : 0;
      default:
        return known ? sender.wire(local, this.beliefs.value[slot]) : 0;
    }
  }

  private renderOut(out: number, buffer: Uint8Array, bufferAt: number): number {
    const at = out * O.Width;
    const shows = this.outs[at + O.Shows] as Shows;
    const sender = this.senders[this.outs[at + O.Link]];
    const local = this.outs[at + O.Local];
    if (shows === Shows.Text) {
      const text = sender.fit(local, this.wantedText(out));
      this.shownAt[out] = this.now;
      if (this.shown[out] >= 0 && text === this.shownText[out]) return 0;
      this.shownText[out] = text;
      this.shown[out] = 0;
      return sender.writeText(local, text, buffer, bufferAt);
    }
    const wire = this.wantedWire(out);
    if (wire === NEVER) return 0;
    if (shows === Shows.Meter) {
      const fallen = this.shown[out] - Math.floor((this.now - this.shownAt[out]) / METER_FALL);
      if (wire <= Math.max(0, fallen)) return 0;
    } else if (wire === this.shown[out]) return 0;
    this.shown[out] = wire;
    this.shownAt[out] = this.now;
    if (shows === Shows.Motor) {
      const mover = this.outs[at + O.Mover];
      if (mover >= 0 && this.hand[mover] !== NEVER && sender.wire(local, this.hand[mover]) !== wire)
        this.hand[mover] = NEVER;
    }
    return sender.write(local, wire, buffer, bufferAt);
  }

  private wantedText(out: number): string {
    // The picked source may have changed since the output was aimed.
    const slot = this.slotOfOut(out);
    if (slot !== this.showing[out]) this.move(out, slot);
    if (slot < 0 || this.beliefs.know[slot] === Know.Unknown) return '';
    const { fn } = this.plan.slots[slot];
    return fn.kind === 'text'
      ? this.beliefs.text[slot]
      : shortText(valueText(fn, this.beliefs.value[slot]));
  }

  /** Hangs an output from another slot. */
  private move(out: number, slot: number): void {
    const from = this.showing[out];
    if (from >= 0) {
      if (this.firstShowing[from] === out) this.firstShowing[from] = this.nextShowing[out];
      else {
        let before = this.firstShowing[from];
        while (before >= 0 && this.nextShowing[before] !== out) before = this.nextShowing[before];
        if (before >= 0) this.nextShowing[before] = this.nextShowing[out];
      }
    }
    this.showing[out] = slot;
    this.nextShowing[out] = slot >= 0 ? this.firstShowing[slot] : -1;
    if (slot >= 0) this.firstShowing[slot] = out;
  }

  private repaintLink(link: number): void {
    for (let out = 0; out < this.showing.length; out++) {
      if (this.outs[out * O.Width + O.Link] !== link) continue;
      this.shown[out] = NOTHING_SHOWN;
      this.shownAt[out] = LONG_AGO;
      this.markOut(out);
    }
  }

  /** Sends everything that surfaces show once more, and takes hold of the motors again after a panic. */
  repaint(t: number): void {
    this.now = t;
    this.motorsFree = false;
    this.plan.links.forEach((link, i) => {
      if (link.kind === 'surface') this.repaintLink(i);
      else this.askHost(i);
    });
    this.pump();
  }

  /** Moves the bank window from the page. */
  moveBank(by: number, t: number): void {
    this.now = t;
    if (this.bank.move(by)) this.retarget();
    this.pump();
  }

  /** Puts the bank window back where it was in an earlier session. */
  goToBank(start: number, t: number): void {
    this.now = t;
    this.bank.goTo(start);
    this.retarget();
    this.pump();
  }

  /** Releases everything that is held and lets the motors go until the next repaint. */
  panic(t: number): void {
    this.now = t;
    this.motorsFree = true;
    for (let action = 0; action < this.actHeld.length; action++) this.letGo(action);
    for (let part = 0; part < this.down.length; part++)
      if (this.down[part] !== 0) this.release(part);
    this.pump();
  }

  /** The bytes that would release what is held on a host link, should Rondo vanish. */
  will(link: number): Uint8Array {
    const sender = this.senders[link];
    const bytes: number[] = [];
    for (const slot of this.actHeld) {
      if (slot < 0 || this.slots[slot * S.Width + S.Link] !== link) continue;
      const local = this.slots[slot * S.Width + S.Local];
      const length = sender.write(local, sender.wire(local, 0), this.scratch, 0);
      bytes.push(...this.scratch.subarray(0, length));
    }
    return Uint8Array.from(bytes);
  }
}

/** What tells an action from every other, in the order of the action table. */
function actionKeys(plan: Plan): string[] {
  return plan.parts.flatMap((part) =>
    part.actions.map(
      ({ binding, action }, n) => `${part.key} ${binding} ${n} ${JSON.stringify(action)}`,
    ),
  );
}

/** Text short enough for six characters of a display. */
function shortText(text: string): string {
  return text.replace(/ (dB|bpm)$/, '$1').replace('Centre', 'C');
}
