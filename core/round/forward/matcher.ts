import { choiceAt } from '@rondo/core/host';
import type { State } from '../live/state.js';
import type { BankWindow } from './bank.js';
import { Know, type Beliefs } from '../return/beliefs.js';
import { FOCUS } from '../plan/aim.js';
import type { Plan } from '../plan/plan.js';
import {
  ActionColumn,
  BindingColumn,
  ConditionColumn,
  PartColumn,
  SlotColumn,
} from '../plan/columns.js';
import type { Tables } from '../plan/tables.js';

/** Why no binding counts. */
export const enum NoMatch {
  /** Nothing is bound to this. */
  Nothing = -1,
  /** Something is, on layers that are off. */
  OtherLayer = -2,
  /** Something is, and its condition does not hold. */
  Condition = -3,
}

/** Decides which binding counts and which slot an aim means, with layers, bank, focus and conditions as they are. */
export class Matcher {
  /** Layers that are on. */
  readonly active: Uint8Array;
  /** Page of parameters of each thing that can have focus; and where those of each focus begin. */
  private readonly focusPage: Uint8Array;
  private readonly focusFirst: readonly number[];
  private readonly tables: Tables;
  /** Which conditions held when they were last asked. */
  private readonly truth: Uint8Array;

  constructor(
    readonly plan: Plan,
    state: State,
    private readonly beliefs: Beliefs,
    private readonly bank: BankWindow,
  ) {
    this.tables = plan.tables;
    this.active = state.active;
    this.focusPage = state.focusPage;
    let first = 0;
    this.focusFirst = plan.focuses.map(({ labels }) => (first += labels.length) - labels.length);
    this.truth = new Uint8Array(plan.tables.conditionCount);
  }

  /** Slot of an aim with the bank window at `bank`; −1 where there is none. */
  slotAt(base: number, offset: number, strips: number, bank: number): number {
    if (base < 0) return -1;
    if (strips === FOCUS) return this.focusSlot(base, offset);
    if (offset >= 0 && offset + bank >= strips) return -1;
    const slot = offset < 0 ? base : base + offset + bank;
    return this.tables.slots[slot * SlotColumn.Width + SlotColumn.Exists] === 0 ? -1 : slot;
  }

  /** What has focus, as its place among all that can; −1 where the host has not told. */
  focused(focus: number): number {
    const { slot, tables } = this.plan.focuses[focus];
    if (this.beliefs.know[slot] === Know.Unknown) return -1;
    return choiceAt(tables.length, this.beliefs.value[slot]);
  }

  private focusSlot(focus: number, place: number): number {
    const item = this.focused(focus);
    if (item < 0) return -1;
    const { tables, width } = this.plan.focuses[focus];
    const at = this.focusPage[this.focusFirst[focus] + item] * width + place;
    return at < tables[item].length ? tables[item][at] : -1;
  }

  /** Turns the page of what has focus; false where there is no further one. */
  turnFocusPage(focus: number, by: number, wrap: boolean): boolean {
    const item = this.focused(focus);
    if (item < 0) return false;
    const { tables, width } = this.plan.focuses[focus];
    const pages = Math.max(1, Math.ceil(tables[item].length / width));
    const at = this.focusFirst[focus] + item;
    const wanted = this.focusPage[at] + by;
    const page = wrap ? (wanted + pages) % pages : Math.max(0, Math.min(pages - 1, wanted));
    if (page === this.focusPage[at]) return false;
    this.focusPage[at] = page;
    return true;
  }

  /** Whether a run of conditions holds. */
  passes(first: number, count: number, bank: number): boolean {
    for (let condition = first; condition < first + count; condition++)
      if (!this.holds(condition, bank)) return false;
    return true;
  }

  private holds(condition: number, bank: number): boolean {
    const { conditions, conditionLow, conditionHigh } = this.tables;
    const at = condition * ConditionColumn.Width;
    const slot = this.slotAt(
      conditions[at + ConditionColumn.Base],
      conditions[at + ConditionColumn.Offset],
      conditions[at + ConditionColumn.Strips],
      bank,
    );
    if (slot < 0 || this.beliefs.know[slot] === Know.Unknown) return false;
    const value = this.beliefs.value[slot];
    return value >= conditionLow[condition] && value < conditionHigh[condition];
  }

  /** The binding that a gesture of a part means now, else a {@link NoMatch}. */
  resolve(part: number, gesture: number, bank: number): number {
    const { parts, candidates, bindings } = this.tables;
    const at = part * PartColumn.Width + PartColumn.Candidates + gesture;
    let why: number = NoMatch.Nothing;
    for (let i = parts[at]; i < parts[at + 1]; i++) {
      const binding = candidates[i];
      const row = binding * BindingColumn.Width;
      if (this.active[bindings[row + BindingColumn.Layer]] === 0) {
        if (why === NoMatch.Nothing) why = NoMatch.OtherLayer;
        continue;
      }
      const count = bindings[row + BindingColumn.WhenCount];
      if (count === 0 || this.passes(bindings[row + BindingColumn.WhenFirst], count, bank))
        return binding;
      why = NoMatch.Condition;
    }
    return why;
  }

  /** Whether a binding counts now: its layer is on, and its conditions hold. */
  counts(binding: number, bank: number): boolean {
    const { bindings } = this.tables;
    const row = binding * BindingColumn.Width;
    return (
      this.active[bindings[row + BindingColumn.Layer]] === 1 &&
      this.passes(
        bindings[row + BindingColumn.WhenFirst],
        bindings[row + BindingColumn.WhenCount],
        bank,
      )
    );
  }

  /** Whether an action's own conditions hold. */
  allows(action: number, bank: number): boolean {
    const { acts } = this.tables;
    const at = action * ActionColumn.Width;
    const count = acts[at + ActionColumn.WhenCount];
    return count === 0 || this.passes(acts[at + ActionColumn.WhenFirst], count, bank);
  }

  /** Works out all conditions anew; true where one of them has changed. */
  refresh(): boolean {
    let changed = false;
    for (let condition = 0; condition < this.truth.length; condition++) {
      const now = this.holds(condition, this.bank.start) ? 1 : 0;
      if (now === this.truth[condition]) continue;
      this.truth[condition] = now;
      changed = true;
    }
    return changed;
  }
}
