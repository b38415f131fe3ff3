import type { RulePiece, Sender } from '@rondo/core/surface';
import type { BankWindow } from '../forward/bank.js';
import { Beat } from './beat.js';
import { DOUBT, type Beliefs } from './beliefs.js';
import { Lights, type Aimed } from './lights.js';
import { LookBook } from '../plan/look-book.js';
import type { Matcher } from '../forward/matcher.js';
import type { Outbox } from './outbox.js';
import { GestureAt, InputMode, Shows, type Plan, type ShownHere } from '../plan/plan.js';
import { NOTHING, shaperOf, type Shaper } from '../plan/shaper.js';
import { Sight } from './sight.js';
import {
  BindingColumn,
  OutputColumn,
  PartColumn,
  Pick,
  SlotColumn,
  type Tables,
} from '../plan/tables.js';
import { Texts } from './texts.js';

/** A surface's own meters fall a step about every 300 ms (common practice, no source). */
const METER_FALL = 300_000;

/** A display field is written at most this often, µs: nobody reads faster. */
export const TEXT_EVERY = 40_000;

/** The overload lamp of a meter stays on so long after the level was at its top, µs, where the host has no say in it. */
const OVERLOAD_STAYS = 2_000_000;

const NEVER = -1;
const NOTHING_SHOWN = -2;
const LONG_AGO = -1e12;
/** Motors and what is in hand; lights; rings; texts; meters; lights that pulse. */
export const OUT_PRIORITIES = 6;
const LAST_PRIORITY = 5;

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
const LIT_BY = [GestureAt.Press, GestureAt.Long, GestureAt.Double, GestureAt.Release] as const;

/** Slots that one output may hang on: what it shows, and what else decides how. */
const HOOKS = 4;

/** A motor that is tried goes up and down in this time, µs, and is told so often. */
const SWEEP = 4_000_000;
const SWEEP_EVERY = 20_000;

/** What is tried with the motors of a surface. */
export type MotorTest = 'sweep' | 'park' | 'stop';

/** What the way back needs of the rest of the engine. */
export interface Stage {
  readonly plan: Plan;
  readonly tables: Tables;
  readonly beliefs: Beliefs;
  readonly matcher: Matcher;
  readonly bank: BankWindow;
  readonly beat: Beat;
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
  /** What is seen of hosts, with what is played at. */
  private readonly sight: Sight;
  private readonly book: LookBook;
  private readonly lights: Lights;
  private readonly texts: Texts;
  private readonly shownAt: Float64Array;
  private readonly aimed: Aimed[];
  /** What an output shows is to be worked out anew before it is written. */
  private readonly stale: Uint8Array;
  private readonly shapers: Shaper[];
  /** First hook on each slot; the next hook on the same slot, and the slot itself, by hook. */
  private readonly firstHook: Int32Array;
  private readonly nextHook: Int32Array;
  private readonly hookSlot: Int32Array;
  private readonly waiting: Int32Array;
  private readonly isWaiting: Uint8Array;
  /** When an output that waits is due, µs. */
  private readonly dueAt: Float64Array;
  /** How long a motor waits after the hand, and between two places that it is told, µs. */
  private readonly waits: Float64Array;
  private readonly gaps: Float64Array;
  /** When a motor of each link was told something last, µs. */
  private readonly motorAt: Float64Array;
  /** What is tried with the motors of each link, and since when, µs. */
  private readonly motorTests: (MotorTest | null)[];
  private readonly motorTestAt: Float64Array;
  /** What an output is made to show by hand; below 0 where it shows its own. */
  private readonly tried: Int32Array;
  /** The text field that begins where this one ends, and the one that ends where it begins; −1 for none. */
  private readonly textAfter: Int32Array;
  private readonly textBefore: Int32Array;
  /** Displays that show what was moved last on their surface, by link; and the part that was. */
  private readonly loneOuts: readonly (readonly number[])[];
  private readonly lastPart: Int32Array;
  /** Highest place of a meter, and when, µs. */
  private readonly peaks: Int32Array;
  private readonly peakAt: Float64Array;
  /** Where the slow refresh of each link goes on. */
  private readonly refreshed: Int32Array;
  private readonly scratch = new Float64Array(1);
  /** Overload lamps that are lit, and when a meter was at its top last, µs. */
  private readonly overload: Uint8Array;
  private readonly topAt: Float64Array;
  private waitingCount = 0;
  /** When the first of what was put off is due, µs, in its first place; Infinity where nothing is. */
  readonly waitingDue = Float64Array.of(Infinity);

  constructor(private readonly stage: Stage) {
    const { plan, tables, beliefs, beat, clock } = stage;
    const count = plan.outs.length;
    this.shown = new Int32Array(count).fill(NOTHING_SHOWN);
    this.shownText = new Array<string>(count).fill('');
    this.shownAt = new Float64Array(count).fill(LONG_AGO);
    this.showing = new Int32Array(count).fill(-1);
    this.shapers = new Array<Shaper>(count).fill(shaperOf(undefined));
    this.textPick = new Uint8Array(count);
    this.stale = new Uint8Array(count);
    this.waiting = new Int32Array(count);
    this.isWaiting = new Uint8Array(count);
    this.dueAt = new Float64Array(count);
    this.waits = new Float64Array(count);
    this.gaps = new Float64Array(count);
    this.motorAt = new Float64Array(plan.links.length).fill(LONG_AGO);
    this.motorTests = plan.links.map(() => null);
    this.motorTestAt = new Float64Array(plan.links.length);
    this.tried = new Int32Array(count).fill(NEVER);
    this.textAfter = new Int32Array(count).fill(-1);
    this.textBefore = new Int32Array(count).fill(-1);
    this.refreshed = new Int32Array(plan.links.length);
    this.peaks = new Int32Array(count).fill(-1);
    this.peakAt = new Float64Array(count);
    this.overload = new Uint8Array(count);
    this.topAt = new Float64Array(count).fill(LONG_AGO);
    this.joinTexts();
    this.firstHook = new Int32Array(plan.slots.length).fill(-1);
    this.nextHook = new Int32Array(count * HOOKS).fill(-1);
    this.hookSlot = new Int32Array(count * HOOKS).fill(-1);
    this.lastPart = new Int32Array(plan.links.length).fill(-1);
    this.loneOuts = plan.links.map((_, link) =>
      plan.outs.flatMap((out, i) => (out.link === link && out.lone ? [i] : [])),
    );
    this.sight = new Sight(beliefs, plan.slots.length);
    this.book = new LookBook(plan);
    this.lights = new Lights(count, tables, this.sight, beat, clock);
    this.texts = new Texts(plan, this.sight, stage.bank);
    const nothing: Aimed = {
      rule: NO_RULE,
      slot: -1,
      binding: NEVER,
      shown: null,
    };
    this.aimed = new Array<Aimed>(count).fill(nothing);
  }

  /** Takes over what the same output showed under another plan. */
  carry(out: number, from: Returns, fromOut: number): void {
    this.shown[out] = from.shown[fromOut];
    this.shownText[out] = from.shownText[fromOut];
    this.shownAt[out] = from.shownAt[fromOut];
    this.textPick[out] = from.textPick[fromOut];
    this.tried[out] = from.tried[fromOut];
  }

  /** Takes over what was played at of the same slot. */
  carrySlot(slot: number, from: Returns, fromSlot: number): void {
    this.sight.carry(slot, from.sight, fromSlot);
  }

  /** Takes over what was moved last, and what is tried with motors, on a link. */
  carryLink(link: number, from: Returns, fromLink: number, partOf: (part: number) => number): void {
    const part = from.lastPart[fromLink];
    this.lastPart[link] = part < 0 ? -1 : partOf(part);
    this.motorTests[link] = from.motorTests[fromLink];
    this.motorTestAt[link] = from.motorTestAt[fromLink];
  }

  /** Works out anew what every output shows: after a move of the bank window, of a layer, or a new plan. */
  retarget(): void {
    this.firstHook.fill(-1);
    this.hookSlot.fill(-1);
    for (let out = 0; out < this.showing.length; out++) {
      this.aim(out);
      this.markOut(out);
    }
  }

  /** The part whose binding an output shows; below 0 where there is none. */
  private partOf(out: number): number {
    const plan = this.stage.plan.outs[out];
    if (plan.lone) return this.lastPart[plan.link];
    return this.stage.tables.outs[
      out * OutputColumn.Width + (this.textPick[out] === 1 ? OutputColumn.Part2 : OutputColumn.Part)
    ];
  }

  /** The binding of its own control whose state an output shows now; below 0 where there is none. */
  private bindingOf(part: number): number {
    if (part < 0) return NEVER;
    const { matcher, bank, tables } = this.stage;
    if (tables.parts[part * PartColumn.Width + PartColumn.Mode] !== InputMode.Press)
      return matcher.resolve(part, GestureAt.Press, bank.start);
    for (const gesture of LIT_BY) {
      const binding = matcher.resolve(part, gesture, bank.start);
      if (binding >= 0) return binding;
    }
    return NEVER;
  }

  /** The showing that an output shows in place of its own control, where there is one. */
  private showingAt(out: number, binding: number): ShownHere | null {
    const { plan, matcher, bank, tables } = this.stage;
    const list = plan.outs[out].showings;
    for (const shown of list) {
      const { layer } = plan.bindings[shown.binding];
      // The control's own binding of a higher layer hides it.
      if (binding >= 0 && plan.bindings[binding].layer > layer) return null;
      if (matcher.active[layer] === 0) continue;
      const row = shown.binding * BindingColumn.Width;
      const { bindings } = tables;
      if (
        matcher.passes(
          bindings[row + BindingColumn.WhenFirst],
          bindings[row + BindingColumn.WhenCount],
          bank.start,
        )
      )
        return shown;
    }
    return null;
  }

  private slotOf(binding: number, pick: Pick): number {
    if (binding < 0) return -1;
    const { bindings } = this.stage.tables;
    const at =
      binding * BindingColumn.Width +
      (pick === Pick.Own
        ? BindingColumn.Base
        : pick === Pick.Name
          ? BindingColumn.NameBase
          : BindingColumn.MeterBase);
    const { matcher, bank } = this.stage;
    return matcher.slotAt(bindings[at], bindings[at + 1], bindings[at + 2], bank.start);
  }

  private aim(out: number): void {
    const { tables, plan } = this.stage;
    this.stale[out] = 0;
    const at = out * OutputColumn.Width;
    const shows = tables.outs[at + OutputColumn.Shows] as Shows;
    const own = this.bindingOf(this.partOf(out));
    const shown = this.showingAt(out, own);
    const binding = shown ? shown.binding : own;
    const pick = tables.outs[
      at + (this.textPick[out] === 1 ? OutputColumn.Pick2 : OutputColumn.Pick)
    ] as Pick;
    const meter = shows === Shows.Meter && !shown;
    const slot = this.slotOf(binding, meter ? pick : Pick.Own);
    const rule = this.book.ruleOf(out, binding, this.topLayer());
    this.aimed[out] = { rule, slot, binding, shown };
    this.showing[out] = slot;
    const action =
      binding < 0 ? -1 : tables.bindings[binding * BindingColumn.Width + BindingColumn.Shown];
    this.shapers[out] = action < 0 ? shaperOf(undefined) : tables.shapers[action];
    if (shows === Shows.Motor && action >= 0) {
      const { motorWait, motorRate } = plan.actions[action].feel;
      this.waits[out] = motorWait * 1_000;
      this.gaps[out] = 1_000_000 / motorRate;
    }
    if (shows === Shows.Text) this.hangText(out);
    else this.hang(out, 0, slot);
    if (shows === Shows.Light && slot >= 0) {
      this.hang(out, 1, tables.slots[slot * SlotColumn.Width + SlotColumn.Needs]);
      this.hang(out, 2, plan.slots[slot].armed);
    } else if (shows === Shows.Ring && slot >= 0) {
      const { ring } = rule;
      this.stage.senders[tables.outs[at + OutputColumn.Link]].setRingStyle(
        tables.outs[at + OutputColumn.Local],
        ring !== 'fit' ? ring : plan.slots[slot].law === 'pan' ? 'fromCentre' : 'fromEnd',
      );
    }
  }

  private hangText(out: number): void {
    const { aimed } = this;
    const { binding, rule, slot } = aimed[out];
    for (let at = 0; at < HOOKS; at++) this.hang(out, at, -1);
    for (const piece of rule.text) {
      if (!('place' in piece)) continue;
      if (piece.place === 'value') this.hang(out, 0, slot);
      else if (piece.place === 'time' || piece.place === 'tempo')
        this.hang(out, piece.place === 'time' ? 2 : 3, this.timesOf(binding)?.[piece.place] ?? -1);
      else if (piece.place === 'track' || piece.place === 'deck' || piece.place === 'name')
        this.hang(out, 1, this.slotOf(binding, Pick.Name));
    }
  }

  /** Where the host of a binding tells its time; the first that does, where it does not. */
  private timesOf(binding: number) {
    const { plan } = this.stage;
    const slot = binding < 0 ? -1 : this.slotOf(binding, Pick.Own);
    const link = slot < 0 ? -1 : plan.slots[slot].link;
    return (
      plan.times.find((times) => times.link === link && (times.time >= 0 || times.tempo >= 0)) ??
      plan.times.find((times) => times.time >= 0 || times.tempo >= 0)
    );
  }

  /** Hangs an output on a slot: a change of it makes the output due. */
  private hang(out: number, at: number, slot: number): void {
    const hook = out * HOOKS + at;
    if (this.hookSlot[hook] >= 0) this.unhang(hook);
    if (slot < 0) return;
    this.hookSlot[hook] = slot;
    this.nextHook[hook] = this.firstHook[slot];
    this.firstHook[slot] = hook;
  }

  private unhang(hook: number): void {
    const slot = this.hookSlot[hook];
    this.hookSlot[hook] = -1;
    if (this.firstHook[slot] === hook) {
      this.firstHook[slot] = this.nextHook[hook];
      return;
    }
    let before = this.firstHook[slot];
    while (before >= 0 && this.nextHook[before] !== hook) before = this.nextHook[before];
    if (before >= 0) this.nextHook[before] = this.nextHook[hook];
  }

  /** The highest layer that is on. */
  private topLayer(): number {
    const { active } = this.stage.matcher;
    for (let layer = active.length - 1; layer >= 0; layer--) if (active[layer] !== 0) return layer;
    return -1;
  }

  /** A part has been moved or pressed: displays that show what was, do so now. */
  touched(part: number, link: number): void {
    const outs = this.loneOuts[link];
    if (outs.length === 0) return;
    const again = this.lastPart[link] === part;
    this.lastPart[link] = part;
    for (const out of outs) {
      if (!again) this.stale[out] = 1;
      this.markOut(out);
    }
  }

  /** Chooses which of its two sources a text shows. */
  pickText(out: number, pick: number): void {
    // What it shows then is worked out when it is written: that is rare, and moves are not.
    if (this.textPick[out] !== pick) this.stale[out] = 1;
    this.textPick[out] = pick;
    this.markOut(out);
  }

  /** Something of a slot has changed: what shows it is due. */
  markSlot(slot: number): void {
    for (let hook = this.firstHook[slot]; hook >= 0; hook = this.nextHook[hook])
      this.markOut((hook / HOOKS) | 0);
  }

  /** Whether an output shows a slot now. */
  isShown(slot: number): boolean {
    return this.firstHook[slot] >= 0;
  }

  /** The text that a rule gives now, of what a part is bound to; part −1 for none. */
  textBy(rule: readonly RulePiece[], part: number): string {
    const binding = this.bindingOf(part);
    const times = this.timesOf(binding);
    return this.texts.textOf(
      { text: rule, feedback: true },
      {
        own: this.slotOf(binding, Pick.Own),
        name: this.slotOf(binding, Pick.Name),
        time: times?.time ?? -1,
        tempo: times?.tempo ?? -1,
        part,
        layer: this.topLayer(),
      },
      0,
    );
  }

  /** An output is due. */
  markOut(out: number): void {
    const { tables, outboxes, clock } = this.stage;
    const at = out * OutputColumn.Width;
    const box = outboxes[tables.outs[at + OutputColumn.Link]];
    if (!box.open) return;
    const shows = tables.outs[at + OutputColumn.Shows] as Shows;
    if (shows === Shows.Text && clock[0] < this.shownAt[out] + TEXT_EVERY) {
      if (this.isWaiting[out] !== 0) return;
      this.dueAt[out] = this.shownAt[out] + TEXT_EVERY;
      this.wait(out);
    } else box.mark(tables.outs[at + OutputColumn.Local], this.priorityOf(out, shows));
  }

  /** What the hand waits for goes before what it does not look at. */
  private priorityOf(out: number, shows: Shows): number {
    const usual = PRIORITY[shows];
    if (usual === 0 || shows === Shows.Meter) return usual;
    const { tables, movedAt, clock } = this.stage;
    const part =
      tables.outs[
        out * OutputColumn.Width +
          (this.textPick[out] === 1 ? OutputColumn.Part2 : OutputColumn.Part)
      ];
    return part >= 0 && movedAt[part] > 0 && clock[0] - movedAt[part] < IN_HAND ? 0 : usual;
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

  /** When something moves by itself next, µs: what was put off, lights that blink, motors that are tried. */
  get deadline(): number {
    let due = Math.min(this.waitingDue[0], this.lights.due[0]);
    for (let link = 0; link < this.motorTests.length; link++)
      if (this.motorTests[link] === 'sweep') due = Math.min(due, this.motorTestAt[link]);
    return due;
  }

  /** Does what is due by now. */
  advance(): void {
    const now = this.stage.clock[0];
    if (now >= this.waitingDue[0]) this.endWaits();
    if (now >= this.lights.due[0])
      this.lights.advance((out, canWait) => {
        if (canWait) this.markLast(out);
        else this.markOut(out);
      });
    for (let link = 0; link < this.motorTests.length; link++)
      if (this.motorTests[link] === 'sweep' && now >= this.motorTestAt[link]) {
        this.motorTestAt[link] = now + SWEEP_EVERY;
        this.markMotors(link);
      }
  }

  private markLast(out: number): void {
    const { tables, outboxes } = this.stage;
    const at = out * OutputColumn.Width;
    const box = outboxes[tables.outs[at + OutputColumn.Link]];
    if (box.open) box.mark(tables.outs[at + OutputColumn.Local], LAST_PRIORITY);
  }

  /** The beat has been told anew. */
  beaten(): void {
    this.lights.beaten();
  }

  /** Shows one more output of a link again, as if nothing were known of it: a device may have been off meanwhile. */
  refresh(link: number): void {
    const { outs } = this.stage.tables;
    const count = this.showing.length;
    for (let n = 0; n < count; n++) {
      const out = (this.refreshed[link] + n) % count;
      const at = out * OutputColumn.Width;
      if (
        outs[at + OutputColumn.Link] !== link ||
        (outs[at + OutputColumn.Shows] as Shows) === Shows.Meter
      )
        continue;
      if (this.shown[out] < 0) continue;
      this.refreshed[link] = out + 1;
      this.shown[out] = NOTHING_SHOWN;
      this.markOut(out);
      return;
    }
  }

  /** Plays at a value of a slot, on lights, motors and texts only; null ends that. */
  play(slot: number, value: number | null): void {
    this.sight.play(slot, value);
    this.markSlot(slot);
  }

  /** Makes an output show a number whatever it is bound to; below 0 it shows its own again. */
  tryOut(out: number, wire: number): void {
    this.tried[out] = wire;
    this.markOut(out);
  }

  /** Tries the motors of a surface; null gives them back to what they are bound to. A touched one is never driven. */
  tryMotors(link: number, test: MotorTest | null): void {
    this.motorTests[link] = test;
    this.motorTestAt[link] = this.stage.clock[0];
    this.markMotors(link);
  }

  private markMotors(link: number): void {
    const { outs } = this.stage.tables;
    for (let out = 0; out < this.showing.length; out++)
      if (
        outs[out * OutputColumn.Width + OutputColumn.Link] === link &&
        (outs[out * OutputColumn.Width + OutputColumn.Shows] as Shows) === Shows.Motor
      )
        this.markOut(out);
  }

  /** Whether a hand is on the motor of a part, as far as can be told: without touch sense it stays there for a while. */
  isInHand(part: number): boolean {
    const { tables, hand, down, movedAt, clock } = this.stage;
    const touch = tables.parts[part * PartColumn.Width + PartColumn.Partner];
    if (touch >= 0) return down[touch] !== 0;
    const out = tables.parts[part * PartColumn.Width + PartColumn.Motor];
    return hand[part] >= 0 && clock[0] < movedAt[part] + this.waits[out];
  }

  /** Where a motor should be, as it goes over the wire; {@link NEVER} where it is let alone. */
  private wantedPlace(out: number): number {
    const { tables, senders, hand, down } = this.stage;
    const at = out * OutputColumn.Width;
    const link = tables.outs[at + OutputColumn.Link];
    const sender = senders[link];
    const local = tables.outs[at + OutputColumn.Local];
    const slot = this.showing[out];
    const mover = tables.outs[at + OutputColumn.Mover];
    const touch = mover >= 0 ? tables.parts[mover * PartColumn.Width + PartColumn.Partner] : -1;
    const moved = mover >= 0 && hand[mover] >= 0;
    if (touch >= 0 && down[touch] !== 0) return moved ? sender.wireAt(local, hand, mover) : NEVER;
    const test = this.motorTests[link];
    if (test !== null) return this.triedPlace(out, test);
    const { rule } = this.aimed[out];
    if (slot < 0 || !rule.motor || !rule.feedback || !this.sight.see(slot, this.scratch, 0))
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
    if (shaper.isPlain) return sender.wireAt(local, this.scratch, 0);
    // Many places may stand for one value: a hand that has put the fader at one of them leaves it there.
    if (moved) {
      this.scratch[0] = hand[mover];
      shaper.apply(this.scratch, 0);
      const there = this.scratch[0];
      this.sight.see(slot, this.scratch, 0);
      if (there === NOTHING || Math.abs(there - this.scratch[0]) < 1 / 2_046)
        return sender.wireAt(local, hand, mover);
    }
    shaper.invertAt(this.scratch, 0);
    return sender.wireAt(local, this.scratch, 0);
  }

  /** Where a motor that is tried should be. */
  private triedPlace(out: number, test: MotorTest): number {
    if (test === 'stop') return NEVER;
    const { tables, senders, clock } = this.stage;
    const at = out * OutputColumn.Width;
    const turn = (clock[0] % SWEEP) / SWEEP;
    this.scratch[0] = test === 'park' ? 0 : turn < 0.5 ? turn * 2 : 2 - turn * 2;
    return senders[tables.outs[at + OutputColumn.Link]].wireAt(
      tables.outs[at + OutputColumn.Local],
      this.scratch,
      0,
    );
  }

  /** What an output should show now, as it goes over the wire; {@link NEVER} where nothing is to be sent. */
  private wantedWire(out: number): number {
    if (this.tried[out] >= 0) return this.tried[out];
    const { tables, senders, clock } = this.stage;
    const at = out * OutputColumn.Width;
    const shows = tables.outs[at + OutputColumn.Shows] as Shows;
    if (shows === Shows.Motor) return this.wantedPlace(out);
    const aimed = this.aimed[out];
    if (shows === Shows.Light) {
      const wire = this.lights.wire(out, aimed);
      this.lights.keep(out);
      if (aimed.slot >= 0 && this.stage.beliefs.isFresh(aimed.slot)) {
        // What nobody has confirmed by then is assumed, and may look so.
        this.dueAt[out] = clock[0] + DOUBT;
        this.wait(out);
      }
      if (aimed.shown !== null && aimed.rule.peak > 0) this.waitForPeak(out, aimed);
      return wire;
    }
    const sender = senders[tables.outs[at + OutputColumn.Link]];
    const local = tables.outs[at + OutputColumn.Local];
    const slot = this.showing[out];
    const seen = aimed.rule.feedback && slot >= 0 && this.sight.see(slot, this.scratch, 0);
    if (shows === Shows.Ring) {
      if (!seen) return sender.wire(local, -1);
      const as = this.stage.beliefs.aux[slot];
      // A ring that came as a ring is shown as it came, unless the user wants it otherwise.
      if (as >= 0 && aimed.rule.ring === 'fit' && !aimed.rule.invert)
        return sender.ringAs(local, as, this.scratch, 0);
      if (aimed.rule.invert) this.scratch[0] = 1 - this.scratch[0];
      return sender.wireAt(local, this.scratch, 0);
    }
    return seen ? sender.wireAt(local, this.scratch, 0) : 0;
  }

  private waitForPeak(out: number, aimed: Aimed): void {
    const end = this.lights.peakEnd(aimed);
    if (end === Infinity) return;
    this.dueAt[out] = end;
    this.wait(out);
  }

  /** Writes what an output is due at `buffer[bufferAt…]`; returns its bytes, 0 where nothing needs to be sent. */
  render(out: number, buffer: Uint8Array, bufferAt: number): number {
    const { tables, senders, clock, hand } = this.stage;
    const at = out * OutputColumn.Width;
    const shows = tables.outs[at + OutputColumn.Shows] as Shows;
    const sender = senders[tables.outs[at + OutputColumn.Link]];
    const local = tables.outs[at + OutputColumn.Local];
    if (shows === Shows.Text) return this.renderText(out, buffer, bufferAt);
    let wire = this.wantedWire(out);
    if (wire === NEVER) return 0;
    if (shows === Shows.Meter) {
      const before = this.renderOverload(out, sender, local, buffer, bufferAt);
      wire = this.meterWire(out, wire);
      const fallen = this.shown[out] - Math.floor((clock[0] - this.shownAt[out]) / METER_FALL);
      if (wire <= Math.max(0, fallen)) return before;
      this.shown[out] = wire;
      this.shownAt[out] = clock[0];
      return before + sender.write(local, wire, buffer, bufferAt + before);
    }
    if (wire === this.shown[out]) return 0;
    if (shows === Shows.Motor) {
      // A motor is told no more than its rate allows; what it misses comes in its time.
      this.dueAt[out] = this.shownAt[out] + this.gaps[out];
      if (clock[0] < this.dueAt[out] && this.shown[out] >= 0) {
        this.wait(out);
        return 0;
      }
    }
    this.shown[out] = wire;
    this.shownAt[out] = clock[0];
    if (shows === Shows.Motor) {
      this.motorAt[tables.outs[at + OutputColumn.Link]] = clock[0];
      const mover = tables.outs[at + OutputColumn.Mover];
      if (mover >= 0 && hand[mover] >= 0 && sender.wireAt(local, hand, mover) !== wire)
        hand[mover] = NEVER;
    }
    return sender.write(local, wire, buffer, bufferAt);
  }

  /** Writes that the overload lamp of a meter goes on or off, where that is due: as the host says, or while it was at its top. */
  private renderOverload(
    out: number,
    sender: Sender,
    local: number,
    buffer: Uint8Array,
    bufferAt: number,
  ): number {
    const slot = this.showing[out];
    const told = slot < 0 ? -1 : this.stage.beliefs.aux[slot];
    const now = this.stage.clock[0];
    const shows = slot >= 0 && this.aimed[out].rule.feedback;
    if (shows && told < 0 && this.sight.see(slot, this.scratch, 0) && this.scratch[0] >= 1) {
      this.topAt[out] = now;
      this.dueAt[out] = now + OVERLOAD_STAYS;
      this.wait(out);
    }
    const lit = shows && (told >= 0 ? told === 1 : now - this.topAt[out] < OVERLOAD_STAYS);
    if (lit === (this.overload[out] === 1)) return 0;
    const length = sender.writeOverload(local, lit, buffer, bufferAt);
    if (length > 0) this.overload[out] = lit ? 1 : 0;
    return length;
  }

  /** A meter whose highest place stays is told it again, as often as the surface lets it fall. */
  private meterWire(out: number, wire: number): number {
    const { peak } = this.aimed[out].rule;
    if (peak === 0) return wire;
    const now = this.stage.clock[0];
    if (wire >= this.peaks[out] || now - this.peakAt[out] >= peak) {
      this.peaks[out] = wire;
      this.peakAt[out] = now;
      return wire;
    }
    this.dueAt[out] = now + METER_FALL;
    this.wait(out);
    return this.peaks[out];
  }

  /** The text that a field is due; null where it shows it. */
  private dueText(out: number): string | null {
    const { tables, senders } = this.stage;
    const at = out * OutputColumn.Width;
    const sender = senders[tables.outs[at + OutputColumn.Link]];
    const local = tables.outs[at + OutputColumn.Local];
    const text = sender.fit(local, this.wantedText(out, sender.roomOf(local)));
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
    const link = tables.outs[out * OutputColumn.Width + OutputColumn.Link];
    const sender = senders[link];
    let text = this.dueText(out);
    if (text === null) {
      // It is not worked out more often than it may be written.
      this.shownAt[out] = now;
      return 0;
    }
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
    const local = tables.outs[first * OutputColumn.Width + OutputColumn.Local];
    const before = this.shown[first] >= 0 ? this.shownText[first] : '';
    const length = sender.writeText(local, text, buffer, bufferAt, before);
    if (live && length > SHORT_SYSEX && buffer[bufferAt] === SYSEX_START) {
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

  private wantedText(out: number, width: number): string {
    if (this.stale[out] !== 0) this.aim(out);
    const { binding, slot, rule } = this.aimed[out];
    const times = this.timesOf(binding);
    return this.texts.textOf(
      rule,
      {
        own: slot,
        name: this.slotOf(binding, Pick.Name),
        time: times?.time ?? -1,
        tempo: times?.tempo ?? -1,
        part: this.partOf(out),
        layer: this.topLayer(),
      },
      width,
    );
  }

  /** What a surface shows is not known any more: everything is due. */
  repaint(link: number): void {
    const { outs } = this.stage.tables;
    for (let out = 0; out < this.showing.length; out++) {
      if (outs[out * OutputColumn.Width + OutputColumn.Link] !== link) continue;
      this.shown[out] = NOTHING_SHOWN;
      this.shownAt[out] = LONG_AGO;
      this.overload[out] = 0;
      this.markOut(out);
    }
  }
}

const SYSEX_START = 0xf0;

/** Before anything is aimed. */
const NO_RULE: Aimed['rule'] = {
  feedback: false,
  motor: false,
  invert: false,
  ring: 'fit',
  light: null,
  text: [],
  peak: 0,
};
