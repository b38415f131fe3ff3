import { valueText } from '@rondo/core/host';
import type { Sender } from '@rondo/core/surface';
import type { BankWindow } from './bank.js';
import { Know, type Beliefs } from './beliefs.js';
import type { Matcher } from './matcher.js';
import type { Outbox } from './outbox.js';
import { G, Moves, Shows, type Plan } from './plan.js';
import { NOTHING, shaperOf, type Shaper } from './shaper.js';
import { B, O, P, Pick, type Tables } from './tables.js';

/** A surface's own meters fall a step about every 300 ms (common practice, no source). */
const METER_FALL = 300_000;

/** A display field is written at most this often, µs: nobody reads faster. */
export const TEXT_EVERY = 40_000;

const NEVER = -1;
const NOTHING_SHOWN = -2;
const LONG_AGO = -1e12;
export const OUT_PRIORITIES = 5;

/** Order in which outputs go out: motors, lights, rings, text, meters. */
const PRIORITY: Readonly<Record<Shows, number>> = {
  [Shows.Motor]: 0,
  [Shows.Light]: 1,
  [Shows.Ring]: 2,
  [Shows.Text]: 3,
  [Shows.Meter]: 4,
};

/** While a motor was told something this lately it is live, µs: nothing long goes out between its messages. */
const MOTOR_LIVE = 40_000;

/** Longest SysEx that goes out while a motor is live, in bytes. */
const SHORT_SYSEX = 15;

/** Most characters that neighbouring text fields are joined to. */
const LONGEST_JOINED = 56;

/** What belongs to a control that the hand was at this lately goes first, µs. */
const IN_HAND = 500_000;

/** Gestures whose binding a light shows, the likeliest first. */
const LIT_BY = [G.Press, G.Long, G.Double, G.Release] as const;

/** What the way back needs of the rest of the engine. */
export interface Stage {
  readonly plan: Plan;
  readonly tables: Tables;
  readonly beliefs: Beliefs;
  readonly matcher: Matcher;
  readonly bank: BankWindow;
  /** Where the hand last put an absolute control; below 0 where a motor has moved it since. By part. */
  readonly hand: Float64Array;
  readonly down: Uint8Array;
  /** When each part was moved or pressed last, µs. */
  readonly movedAt: Float64Array;
  /** By link. */
  readonly senders: readonly Sender[];
  readonly outboxes: readonly Outbox[];
  /** The time now, µs, in its first place. */
  readonly clock: Float64Array;
  readonly motorsFree: boolean;
}

/** The way back: what every output of a surface is to show, and what it was last told. */
export class Returns {
  /** Last whole number sent to an output; below 0 where none was. */
  readonly shown: Int32Array;
  readonly shownText: string[];
  /** The slot each output shows now; −1 where it shows none. */
  readonly showing: Int32Array;
  /** Which of its two sources a text shows. */
  readonly textPick: Uint8Array;
  private readonly shownAt: Float64Array;
  private readonly binding: Int32Array;
  private readonly shapers: Shaper[];
  private readonly firstShowing: Int32Array;
  private readonly nextShowing: Int32Array;
  private readonly waiting: Int32Array;
  private readonly isWaiting: Uint8Array;
  /** When an output that waits is due, µs. */
  private readonly dueAt: Float64Array;
  /** How long a motor waits after the hand, µs. */
  private readonly waits: Float64Array;
  /** When a motor of each link was told something last, µs. */
  private readonly motorAt: Float64Array;
  /** The text field that begins where this one ends, and the one that ends where it begins; −1 for none. */
  private readonly textAfter: Int32Array;
  private readonly textBefore: Int32Array;
  /** Where the slow refresh of each link goes on. */
  private readonly refreshed: Int32Array;
  private readonly scratch = new Float64Array(1);
  private waitingCount = 0;
  /** When the first of what was put off is due, µs, in its first place; Infinity where nothing is. */
  readonly waitingDue = Float64Array.of(Infinity);

  constructor(private readonly stage: Stage) {
    const count = stage.plan.outs.length;
    this.shown = new Int32Array(count).fill(NOTHING_SHOWN);
    this.shownText = new Array<string>(count).fill('');
    this.shownAt = new Float64Array(count).fill(LONG_AGO);
    this.showing = new Int32Array(count).fill(-1);
    this.binding = new Int32Array(count).fill(-1);
    this.shapers = new Array<Shaper>(count).fill(shaperOf(undefined));
    this.textPick = new Uint8Array(count);
    this.waiting = new Int32Array(count);
    this.isWaiting = new Uint8Array(count);
    this.dueAt = new Float64Array(count);
    this.waits = new Float64Array(count);
    this.motorAt = new Float64Array(stage.plan.links.length).fill(LONG_AGO);
    this.textAfter = new Int32Array(count).fill(-1);
    this.textBefore = new Int32Array(count).fill(-1);
    this.refreshed = new Int32Array(stage.plan.links.length);
    this.joinTexts();
    this.nextShowing = new Int32Array(count);
    this.firstShowing = new Int32Array(stage.plan.slots.length);
  }

  /** Takes over what the same output showed under another plan. */
  carry(out: number, from: Returns, fromOut: number): void {
    this.shown[out] = from.shown[fromOut];
    this.shownText[out] = from.shownText[fromOut];
    this.shownAt[out] = from.shownAt[fromOut];
    this.textPick[out] = from.textPick[fromOut];
  }

  /** Works out anew what every output shows: after a move of the bank window, of a layer, or a new plan. */
  retarget(): void {
    this.firstShowing.fill(-1);
    for (let out = 0; out < this.showing.length; out++) this.aimOut(out);
  }

  /** The binding whose state an output shows now; below 0 where there is none. */
  private bindingOf(out: number): number {
    const { outs } = this.stage.tables;
    const at = out * O.Width;
    const part = outs[at + (this.textPick[out] === 1 ? O.Part2 : O.Part)];
    if (part < 0) return NEVER;
    const { matcher, bank, tables } = this.stage;
    if (tables.parts[part * P.Width + P.Moves] !== Moves.Press)
      return matcher.resolve(part, G.Press, bank.start);
    for (const gesture of LIT_BY) {
      const binding = matcher.resolve(part, gesture, bank.start);
      if (binding >= 0) return binding;
    }
    return NEVER;
  }

  private slotOf(out: number, binding: number): number {
    if (binding < 0) return -1;
    const { outs, bindings } = this.stage.tables;
    const pick = outs[out * O.Width + (this.textPick[out] === 1 ? O.Pick2 : O.Pick)] as Pick;
    const at =
      binding * B.Width +
      (pick === Pick.Own ? B.Base : pick === Pick.Name ? B.NameBase : B.MeterBase);
    const { matcher, bank } = this.stage;
    return matcher.slotAt(bindings[at], bindings[at + 1], bindings[at + 2], bank.start);
  }

  private aimOut(out: number): void {
    const { tables, plan, senders } = this.stage;
    const binding = this.bindingOf(out);
    const slot = this.slotOf(out, binding);
    this.binding[out] = binding;
    this.showing[out] = slot;
    const shown = binding < 0 ? -1 : tables.bindings[binding * B.Width + B.Shown];
    this.shapers[out] = shown < 0 ? shaperOf(undefined) : tables.shapers[shown];
    this.waits[out] = shown < 0 ? 0 : plan.actions[shown].feel.motorWait * 1_000;
    this.nextShowing[out] = -1;
    if (slot >= 0) {
      this.nextShowing[out] = this.firstShowing[slot];
      this.firstShowing[slot] = out;
      const at = out * O.Width;
      if ((tables.outs[at + O.Shows] as Shows) === Shows.Ring)
        senders[tables.outs[at + O.Link]].setRingStyle(
          tables.outs[at + O.Local],
          plan.slots[slot].law === 'pan' ? 'fromCentre' : 'fromEnd',
        );
    }
    this.markOut(out);
  }

  /** Something of a slot has changed: what shows it is due. */
  markSlot(slot: number): void {
    for (let out = this.firstShowing[slot]; out >= 0; out = this.nextShowing[out])
      this.markOut(out);
  }

  /** An output is due. */
  markOut(out: number): void {
    const { tables, outboxes, clock } = this.stage;
    const now = clock[0];
    const at = out * O.Width;
    const box = outboxes[tables.outs[at + O.Link]];
    if (!box.open) return;
    const shows = tables.outs[at + O.Shows] as Shows;
    if (shows === Shows.Text && now < this.shownAt[out] + TEXT_EVERY) {
      if (this.isWaiting[out] !== 0) return;
      this.dueAt[out] = this.shownAt[out] + TEXT_EVERY;
      this.wait(out);
    } else box.mark(tables.outs[at + O.Local], this.priorityOf(out, shows));
  }

  /** What the hand waits for goes before what it does not look at. */
  private priorityOf(out: number, shows: Shows): number {
    const usual = PRIORITY[shows];
    if (usual === 0 || shows === Shows.Meter) return usual;
    const { tables, movedAt, clock } = this.stage;
    const now = clock[0];
    const part = tables.outs[out * O.Width + (this.textPick[out] === 1 ? O.Part2 : O.Part)];
    return part >= 0 && movedAt[part] > 0 && now - movedAt[part] < IN_HAND ? 0 : usual;
  }

  /** Finds text fields that lie side by side in one display: what is due in both goes in one message. */
  private joinTexts(): void {
    const { outs, links } = this.stage.plan;
    const fields = outs.flatMap(({ control, part, link }, out) => {
      const pattern = control.takes[part];
      const plain = links[link].senders.length === 1;
      if (!plain || pattern?.type !== 'text' || pattern.offset === undefined || !pattern.width)
        return [];
      const display = `${link} ${pattern.header.join(' ')}`;
      return [{ out, display, offset: pattern.offset, width: pattern.width }];
    });
    const starts = new Map(fields.map(({ out, display, offset }) => [`${display} ${offset}`, out]));
    for (const { out, display, offset, width } of fields) {
      const next = starts.get(`${display} ${offset + width}`);
      if (next === undefined) continue;
      this.textAfter[out] = next;
      this.textBefore[next] = out;
    }
  }

  /** Puts an output off until its {@link dueAt}: a text until its field may be written again, a motor until the hand is away. */
  private wait(out: number): void {
    if (this.dueAt[out] < this.waitingDue[0]) this.waitingDue[0] = this.dueAt[out];
    if (this.isWaiting[out] !== 0) return;
    this.isWaiting[out] = 1;
    this.waiting[this.waitingCount++] = out;
  }

  /** What was put off long enough is due. */
  endWaits(): void {
    const count = this.waitingCount;
    const now = this.stage.clock[0];
    this.waitingCount = 0;
    this.waitingDue[0] = Infinity;
    for (let i = 0; i < count; i++) {
      const out = this.waiting[i];
      this.isWaiting[out] = 0;
      if (this.dueAt[out] <= now) this.markOut(out);
      else this.wait(out);
    }
  }

  /** Shows one more output of a link again, as if nothing were known of it: a device may have been off meanwhile. */
  refresh(link: number): void {
    const { outs } = this.stage.tables;
    const count = this.showing.length;
    for (let n = 0; n < count; n++) {
      const out = (this.refreshed[link] + n) % count;
      const at = out * O.Width;
      if (outs[at + O.Link] !== link || (outs[at + O.Shows] as Shows) === Shows.Meter) continue;
      if (this.shown[out] < 0) continue;
      this.refreshed[link] = out + 1;
      this.shown[out] = NOTHING_SHOWN;
      this.markOut(out);
      return;
    }
  }

  /** Where a motor should be, as it goes over the wire; {@link NEVER} where it is let alone. */
  private wantedPlace(out: number): number {
    const { tables, beliefs, senders, hand, down } = this.stage;
    const at = out * O.Width;
    const sender = senders[tables.outs[at + O.Link]];
    const local = tables.outs[at + O.Local];
    const slot = this.showing[out];
    const mover = tables.outs[at + O.Mover];
    const touch = mover >= 0 ? tables.parts[mover * P.Width + P.Partner] : -1;
    const moved = mover >= 0 && hand[mover] >= 0;
    if (slot < 0 || beliefs.know[slot] === Know.Unknown || (touch >= 0 && down[touch] !== 0))
      return moved ? sender.wireAt(local, hand, mover) : NEVER;
    if (this.stage.motorsFree) return NEVER;
    // Without touch sense, a hand that has just moved it may still be there.
    if (touch < 0 && moved) {
      this.dueAt[out] = this.stage.movedAt[mover] + this.waits[out];
      if (this.stage.clock[0] < this.dueAt[out]) {
        this.wait(out);
        return NEVER;
      }
    }
    const shaper = this.shapers[out];
    if (shaper.isPlain) return sender.wireAt(local, beliefs.value, slot);
    // Many places may stand for one value: a hand that has put the fader at one of them leaves it there.
    if (moved) {
      this.scratch[0] = hand[mover];
      shaper.apply(this.scratch, 0);
      if (
        this.scratch[0] === NOTHING ||
        Math.abs(this.scratch[0] - beliefs.value[slot]) < 1 / 2_046
      )
        return sender.wireAt(local, hand, mover);
    }
    this.scratch[0] = beliefs.value[slot];
    shaper.invertAt(this.scratch, 0);
    return sender.wireAt(local, this.scratch, 0);
  }

  /** What an output should show now, as it goes over the wire; {@link NEVER} where nothing is to be sent. */
  private wantedWire(out: number): number {
    const { tables, beliefs, senders } = this.stage;
    const at = out * O.Width;
    const sender = senders[tables.outs[at + O.Link]];
    const local = tables.outs[at + O.Local];
    const slot = this.showing[out];
    const known = slot >= 0 && beliefs.know[slot] !== Know.Unknown;
    switch (tables.outs[at + O.Shows] as Shows) {
      case Shows.Motor:
        return this.wantedPlace(out);
      case Shows.Ring:
        return known ? sender.wireAt(local, beliefs.value, slot) : sender.wire(local, -1);
      case Shows.Light: {
        const binding = this.binding[out];
        const lit =
          known &&
          beliefs.value[slot] >= tables.litFrom[binding] &&
          beliefs.value[slot] <= tables.litTo[binding];
        return lit ? tables.outs[at + O.On] : 0;
      }
      default:
        return known ? sender.wireAt(local, beliefs.value, slot) : 0;
    }
  }

  /** Writes what an output is due at `buffer[bufferAt…]`; returns its bytes, 0 where nothing needs to be sent. */
  render(out: number, buffer: Uint8Array, bufferAt: number): number {
    const { tables, senders, clock, hand } = this.stage;
    const now = clock[0];
    const at = out * O.Width;
    const shows = tables.outs[at + O.Shows] as Shows;
    const sender = senders[tables.outs[at + O.Link]];
    const local = tables.outs[at + O.Local];
    if (shows === Shows.Text) return this.renderText(out, buffer, bufferAt);
    const wire = this.wantedWire(out);
    if (wire === NEVER) return 0;
    if (shows === Shows.Meter) {
      const fallen = this.shown[out] - Math.floor((now - this.shownAt[out]) / METER_FALL);
      if (wire <= Math.max(0, fallen)) return 0;
    } else if (wire === this.shown[out]) return 0;
    this.shown[out] = wire;
    this.shownAt[out] = now;
    if (shows === Shows.Motor) {
      this.motorAt[tables.outs[at + O.Link]] = now;
      const mover = tables.outs[at + O.Mover];
      if (mover >= 0 && hand[mover] >= 0 && sender.wireAt(local, hand, mover) !== wire)
        hand[mover] = NEVER;
    }
    return sender.write(local, wire, buffer, bufferAt);
  }

  /** The text that a field is due; null where it shows it. */
  private dueText(out: number): string | null {
    const { tables, senders } = this.stage;
    const at = out * O.Width;
    const sender = senders[tables.outs[at + O.Link]];
    const text = sender.fit(tables.outs[at + O.Local], this.wantedText(out));
    return this.shown[out] >= 0 && text === this.shownText[out] ? null : text;
  }

  /** The next field beside one that is due too and may be written now; −1 where there is none. */
  private dueBeside(field: number, beside: Int32Array, length: number): number {
    const next = beside[field];
    if (next < 0 || this.isWaiting[next] !== 0) return -1;
    const text = this.dueText(next);
    return text === null || text.length + length > LONGEST_JOINED ? -1 : next;
  }

  /**
   * Writes a text field, and those beside it that are due too, in one message: fewer bytes than one for each. While a
   * motor is live nothing long goes out.
   */
  private renderText(out: number, buffer: Uint8Array, bufferAt: number): number {
    const { tables, senders, outboxes, clock } = this.stage;
    const now = clock[0];
    const link = tables.outs[out * O.Width + O.Link];
    const sender = senders[link];
    let text = this.dueText(out);
    if (text === null) return 0;
    const live = now - this.motorAt[link] < MOTOR_LIVE || outboxes[link].isDue(0);
    let first = out;
    const fields = [out];
    if (!live) {
      for (let at = out; ;) {
        at = this.dueBeside(at, this.textBefore, text.length);
        if (at < 0) break;
        text = (this.dueText(at) ?? '') + text;
        first = at;
        fields.push(at);
      }
      for (let at = out; ;) {
        at = this.dueBeside(at, this.textAfter, text.length);
        if (at < 0) break;
        text += this.dueText(at) ?? '';
        fields.push(at);
      }
    }
    const local = tables.outs[first * O.Width + O.Local];
    const length = sender.writeText(local, text, buffer, bufferAt);
    if (live && length > SHORT_SYSEX) {
      this.dueAt[out] = now + MOTOR_LIVE;
      this.wait(out);
      return 0;
    }
    for (const field of fields) {
      this.shownText[field] = this.dueText(field) ?? '';
      this.shown[field] = 0;
      this.shownAt[field] = now;
    }
    return length;
  }

  private wantedText(out: number): string {
    const { beliefs, plan } = this.stage;
    // The picked source may have changed since the output was aimed.
    const slot = this.slotOf(out, this.bindingOf(out));
    if (slot !== this.showing[out]) this.move(out, slot);
    if (slot < 0 || beliefs.know[slot] === Know.Unknown) return '';
    const { fn } = plan.slots[slot];
    return fn.kind === 'text' ? beliefs.text[slot] : shortText(valueText(fn, beliefs.value[slot]));
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

  /** What a surface shows is not known any more: everything is due. */
  repaint(link: number): void {
    const { outs } = this.stage.tables;
    for (let out = 0; out < this.showing.length; out++) {
      if (outs[out * O.Width + O.Link] !== link) continue;
      this.shown[out] = NOTHING_SHOWN;
      this.shownAt[out] = LONG_AGO;
      this.markOut(out);
    }
  }
}

/** Text short enough for six characters of a display. */
function shortText(text: string): string {
  return text.replace(/ (dB|bpm)$/, '$1').replace('Centre', 'C');
}
