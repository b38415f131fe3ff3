import { dequal } from 'dequal';
import type { BankWindow } from '../forward/bank.js';
import type { Matcher } from '../forward/matcher.js';
import type { Move, Moves } from '../live/columns.js';
import type { State } from '../live/state.js';
import { BindingColumn, OutputColumn, PartColumn, Pick, SlotColumn } from '../plan/columns.js';
import { LookBook, type OutRule } from '../plan/look-book.js';
import { type ShownHere, Shows } from '../plan/out-plan.js';
import { GestureAt, InputMode } from '../plan/part-plan.js';
import type { Plan } from '../plan/plan.js';
import type { Times } from '../plan/slot-plan.js';
import { shaperOf, type Shaper } from '../plan/shaper.js';
import type { Tables } from '../plan/tables.js';
import type { RoundContext } from '../round-context.js';
import type { DueOuts } from './due-outs.js';
import type { ResolvedOutput } from './lights.js';
import { HOOKS, type Subscriptions } from './subscriptions.js';

const NEVER = -1;

/** Gestures whose binding a light shows, the likeliest first. */
const LIT_BY = [GestureAt.Press, GestureAt.Long, GestureAt.Double, GestureAt.Release] as const;

/** Before anything is resolved. */
const NO_RULE: OutRule = {
  feedback: false,
  motor: false,
  invert: false,
  ring: 'fit',
  light: null,
  text: [],
  peak: 0,
};
const NOTHING_RESOLVED: ResolvedOutput = { rule: NO_RULE, slot: -1, binding: NEVER, shown: null };
const PLAIN = shaperOf(undefined);

const isAlike = (a: Shaper, b: Shaper): boolean => a === b || dequal(a.shape, b.shape);

/** What it needs of the round. */
interface Needs extends RoundContext {
  readonly dueOuts: DueOuts;
  readonly subscriptions: Subscriptions;
  readonly fields: { isDue(out: number): boolean };
}

/** What every output shows now, and by which rule: that follows from layers, bank, focus and conditions. */
export class OutputTargets {
  /** The slot each output shows now; −1 where it shows none. */
  readonly showing: Int32Array;
  /** What each output shows, and how. */
  readonly resolved: ResolvedOutput[];
  /** The shape of the action whose state an output shows. */
  readonly shapers: Shaper[];
  /** How long a motor waits after the hand, and between two places that it is told, µs. */
  readonly motorWaits: Float64Array;
  readonly motorGaps: Float64Array;
  private readonly plan: Plan;
  private readonly tables: Tables;
  private readonly state: State;
  private readonly matcher: Matcher;
  private readonly bank: BankWindow;
  private readonly dueOuts: DueOuts;
  private readonly subscriptions: Subscriptions;
  private readonly book: LookBook;
  /** What an output shows is to be worked out anew before it is written. */
  private readonly stale: Uint8Array;
  /** Displays that show what was moved last on their surface, by link. */
  private readonly striplessOuts: readonly (readonly number[])[];

  constructor(private readonly round: Needs) {
    const { plan } = round;
    const count = plan.outs.length;
    this.plan = plan;
    this.tables = round.tables;
    this.state = round.state;
    this.matcher = round.matcher;
    this.bank = round.services.bank;
    this.dueOuts = round.dueOuts;
    this.subscriptions = round.subscriptions;
    this.book = new LookBook(plan, round.services.looks);
    this.showing = new Int32Array(count).fill(NEVER);
    this.resolved = new Array<ResolvedOutput>(count).fill(NOTHING_RESOLVED);
    this.shapers = new Array<Shaper>(count).fill(PLAIN);
    this.motorWaits = new Float64Array(count);
    this.motorGaps = new Float64Array(count);
    this.stale = new Uint8Array(count);
    this.striplessOuts = plan.links.map((_, link) =>
      plan.outs.flatMap((out, i) => (out.link === link && out.isStripless ? [i] : [])),
    );
  }

  /** Works out anew what every output shows, and makes due what has changed: after a move of the bank, or of a layer. */
  resolveAll(): void {
    for (let out = 0; out < this.showing.length; out++) {
      const changed = this.resolve(out);
      if (this.isText(out) ? this.round.fields.isDue(out) : changed) this.dueOuts.add(out);
    }
  }

  /**
   * The same under another plan: what shows the same as before is left alone.
   * @param before what was shown under the plan before
   * @param moves where everything of that one stands now
   */
  resolveAsBefore(
    before: OutputTargets,
    { out: outs, slot: slots, binding: bindings }: Moves,
  ): void {
    for (let out = 0; out < this.showing.length; out++) {
      this.resolve(out);
      const from = outs.was[out];
      const stays = from >= 0 && this.showsAsBefore(out, before, from, slots, bindings);
      // Of a text it counts what it says: names may be others now.
      if (this.isText(out) ? this.round.fields.isDue(out) : !stays) this.dueOuts.add(out);
    }
  }

  private showsAsBefore(
    out: number,
    before: OutputTargets,
    from: number,
    slots: Move,
    bindings: Move,
  ) {
    const now = (move: Move, place: number) => (place < 0 ? place : move.now[place]);
    const { rule, slot, binding, shown } = before.resolved[from];
    const is = this.resolved[out];
    return (
      rule === is.rule &&
      now(slots, slot) === is.slot &&
      now(bindings, binding) === is.binding &&
      shown?.place === is.shown?.place &&
      shown?.count === is.shown?.count &&
      isAlike(before.shapers[from], this.shapers[out])
    );
  }

  private isText(out: number): boolean {
    const { outs } = this.tables;
    return (outs[out * OutputColumn.Width + OutputColumn.Shows] as Shows) === Shows.Text;
  }

  /** The part whose binding an output shows; below 0 where there is none. */
  partOf(out: number): number {
    const plan = this.plan.outs[out];
    if (plan.isStripless) return this.state.lastPart[plan.link];
    const source = this.state.textPick[out] === 1 ? OutputColumn.Part2 : OutputColumn.Part;
    return this.tables.outs[out * OutputColumn.Width + source];
  }

  /** The binding of its own control whose state an output shows now; below 0 where there is none. */
  bindingOf(part: number): number {
    if (part < 0) return NEVER;
    const { matcher, bank, tables } = this;
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
    const { bindings, outs } = this.plan;
    for (const shown of outs[out].showings) {
      // The control's own binding of a higher layer hides it.
      if (binding >= 0 && bindings[binding].layer > bindings[shown.binding].layer) return null;
      if (this.matcher.counts(shown.binding, this.bank.start)) return shown;
    }
    return null;
  }

  /** The slot of a binding: what it drives, or the name or meter of the same strip; −1 for none. */
  slotOf(binding: number, pick: Pick): number {
    if (binding < 0) return -1;
    const { bindings } = this.tables;
    const column =
      pick === Pick.Own
        ? BindingColumn.Base
        : pick === Pick.Name
          ? BindingColumn.NameBase
          : BindingColumn.MeterBase;
    const at = binding * BindingColumn.Width + column;
    return this.matcher.slotAt(bindings[at], bindings[at + 1], bindings[at + 2], this.bank.start);
  }

  /** Works out what an output shows; true where that is not what it was. */
  private resolve(out: number): boolean {
    const { tables, plan } = this;
    this.stale[out] = 0;
    const at = out * OutputColumn.Width;
    const shows = tables.outs[at + OutputColumn.Shows] as Shows;
    const own = this.bindingOf(this.partOf(out));
    const shown = this.showingAt(out, own);
    const binding = shown ? shown.binding : own;
    const picked = this.state.textPick[out] === 1 ? OutputColumn.Pick2 : OutputColumn.Pick;
    const pick = tables.outs[at + picked] as Pick;
    const slot = this.slotOf(binding, shows === Shows.Meter && !shown ? pick : Pick.Own);
    const rule = this.book.ruleOf(out, binding, this.topLayer());
    const action =
      binding < 0 ? -1 : tables.bindings[binding * BindingColumn.Width + BindingColumn.Shown];
    const shaper = action < 0 ? PLAIN : tables.shapers[action];
    const was = this.resolved[out];
    let changed =
      was.rule !== rule ||
      was.slot !== slot ||
      was.binding !== binding ||
      was.shown !== shown ||
      this.shapers[out] !== shaper;
    if (changed) this.resolved[out] = { rule, slot, binding, shown };
    this.showing[out] = slot;
    this.shapers[out] = shaper;
    if (shows === Shows.Motor && action >= 0) {
      const { motorWait, motorRate } = plan.actions[action].feel;
      this.motorWaits[out] = motorWait * 1_000;
      this.motorGaps[out] = 1_000_000 / motorRate;
    }
    if (shows === Shows.Text) return this.hangText(out) || changed;
    const { subscriptions } = this;
    changed = subscriptions.hang(out, 0, slot) || changed;
    const isLit = shows === Shows.Light && slot >= 0;
    const needs = isLit ? tables.slots[slot * SlotColumn.Width + SlotColumn.Needs] : -1;
    changed = subscriptions.hang(out, 1, needs) || changed;
    return subscriptions.hang(out, 2, isLit ? plan.slots[slot].armed : -1) || changed;
  }

  private readonly hooks = new Int32Array(HOOKS);

  private hangText(out: number): boolean {
    const { binding, rule, slot } = this.resolved[out];
    const { hooks } = this;
    hooks.fill(-1);
    for (const piece of rule.text) {
      if (!('place' in piece)) continue;
      if (piece.place === 'value') hooks[0] = slot;
      else if (piece.place === 'time') hooks[2] = this.timesOf(binding)?.time ?? -1;
      else if (piece.place === 'tempo') hooks[3] = this.timesOf(binding)?.tempo ?? -1;
      else if (piece.place === 'track' || piece.place === 'deck' || piece.place === 'name')
        hooks[1] = this.slotOf(binding, Pick.Name);
    }
    let changed = false;
    for (let at = 0; at < HOOKS; at++)
      if (this.subscriptions.hang(out, at, hooks[at])) changed = true;
    return changed;
  }

  /** Where the host of a binding tells its time; the first that does, where it does not. */
  timesOf(binding: number): Times | undefined {
    const { plan } = this;
    const slot = binding < 0 ? -1 : this.slotOf(binding, Pick.Own);
    const link = slot < 0 ? -1 : plan.slots[slot].link;
    return (
      plan.times.find((times) => times.link === link && (times.time >= 0 || times.tempo >= 0)) ??
      plan.times.find((times) => times.time >= 0 || times.tempo >= 0)
    );
  }

  /** The highest layer that is on. */
  topLayer(): number {
    const { active } = this.matcher;
    for (let layer = active.length - 1; layer >= 0; layer--) if (active[layer] !== 0) return layer;
    return -1;
  }

  /** A part has been moved or pressed: displays that show what was, do so now. */
  touched(part: number, link: number): void {
    const outs = this.striplessOuts[link];
    if (outs.length === 0) return;
    const { lastPart } = this.state;
    const again = lastPart[link] === part;
    lastPart[link] = part;
    for (const out of outs) {
      if (!again) this.stale[out] = 1;
      this.dueOuts.add(out);
    }
  }

  /** Chooses which of its two sources a text shows. */
  pickText(out: number, pick: number): void {
    // What it shows then is worked out when it is written: that is rare, and moves are not.
    const { textPick } = this.state;
    if (textPick[out] !== pick) this.stale[out] = 1;
    textPick[out] = pick;
    this.dueOuts.add(out);
  }

  /** What an output shows, worked out anew where that was put off. */
  fresh(out: number): ResolvedOutput {
    if (this.stale[out] !== 0) this.resolve(out);
    return this.resolved[out];
  }
}
