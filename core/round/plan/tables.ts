import { RONDO_COMMANDS, type Action } from '@rondo/core/profile';
import type { Takeover } from '@rondo/core/surface';
import {
  ActionColumn,
  BindingColumn,
  Op,
  OutputColumn,
  PartColumn,
  Pick,
  SlotColumn,
  Watch,
} from './columns.js';
import { type Aim, type ConditionPlan, FOCUS } from './aim.js';
import { GestureAt } from './part-plan.js';
import type { UntabledPlan } from './untabled-plan.js';
import type { Shaper } from './shaper.js';

const PICKS: Readonly<Record<'own' | 'name' | 'meter', Pick>> = {
  own: Pick.Own,
  name: Pick.Name,
  meter: Pick.Meter,
};

const NO_AIM: Aim = { base: -1, offset: -1, strips: 0 };
const DEFAULT_BY = 1;
const HUNDREDTH = 1 / 100;

const LAYER_OPS = { hold: Op.LayerHold, toggle: Op.LayerToggle, on: Op.LayerOn, off: Op.LayerOff };
const FLAG_OPS = { hold: Op.FlagHold, toggle: Op.FlagToggle, on: Op.FlagOn, off: Op.FlagOff };

function opOf(action: Action, isNudge: boolean): Op {
  switch (action.do) {
    case 'function':
      return {
        follow: isNudge ? Op.Nudge : Op.Follow,
        toggle: Op.Toggle,
        momentary: Op.Momentary,
        set: Op.SetTo,
        step: Op.Step,
      }[action.behaviour];
    case 'bank':
      return Op.Bank;
    case 'layer':
      return LAYER_OPS[action.how];
    case 'layerStep':
      return Op.LayerStep;
    case 'flag':
      return FLAG_OPS[action.how];
    case 'send':
      return Op.Send;
    case 'notes':
      return Op.Notes;
    case 'focusPage':
      return Op.FocusPage;
    case 'rondo':
    case 'setUp':
      return Op.Rondo;
  }
}

const HOLDING: ReadonlySet<Op> = new Set([Op.Momentary, Op.LayerHold, Op.FlagHold, Op.Notes]);

/** Rows that are written before traffic gets its turn again. */
const SLICE = 256;

/** A plan as flat numbers, so that a message touches few places in memory. */
export interface Tables {
  readonly parts: Int32Array;
  readonly candidates: Int32Array;
  readonly bindings: Int32Array;
  readonly litFrom: Float64Array;
  readonly litTo: Float64Array;
  readonly acts: Int32Array;
  /** Value that a press sets, and how far a tick or a step goes, by action. */
  readonly actTo: Float64Array;
  readonly actStep: Float64Array;
  readonly acceleration: Float64Array;
  readonly shapers: readonly Shaper[];
  readonly takeovers: readonly { takeover: Takeover; tolerance: number }[];
  readonly conditions: Int32Array;
  readonly conditionLow: Float64Array;
  readonly conditionHigh: Float64Array;
  readonly slots: Int32Array;
  readonly outs: Int32Array;
  readonly conditionCount: number;
  readonly watch: Uint8Array;
  readonly oneShot: Uint8Array;
  readonly latching: Uint8Array;
  readonly rest: Float64Array;
}

/** Conditions of everything, gathered in one list. */
class Conditions {
  readonly list: ConditionPlan[] = [];

  /** Adds some; returns the place of the first. */
  add(more: readonly ConditionPlan[]): number {
    const first = this.list.length;
    for (const one of more) this.list.push(one);
    return first;
  }
}

function partTables({ parts }: UntabledPlan) {
  const candidates: number[] = [];
  const table = new Int32Array(parts.length * PartColumn.Width);
  parts.forEach((part, p) => {
    const at = p * PartColumn.Width;
    table[at + PartColumn.Mode] = part.moves;
    table[at + PartColumn.Motor] = part.motor;
    table[at + PartColumn.Partner] = part.partner;
    table[at + PartColumn.Text] = part.text;
    table[at + PartColumn.TextSource] = part.textSource;
    table[at + PartColumn.Link] = part.link;
    for (let gesture = 0; gesture < GestureAt.Count; gesture++) {
      table[at + PartColumn.Candidates + gesture] = candidates.length;
      for (const binding of part.candidates[gesture]) candidates.push(binding);
    }
    table[at + PartColumn.Candidates + GestureAt.Count] = candidates.length;
  });
  return {
    parts: table,
    candidates: Int32Array.from(candidates),
    oneShot: Uint8Array.from(parts, (part) => (part.oneShot ? 1 : 0)),
    latching: Uint8Array.from(parts, (part) => (part.latching ? 1 : 0)),
    rest: Float64Array.from(parts, (part) => part.rest),
  };
}

function* actionTables({ actions, slots }: UntabledPlan, conditions: Conditions) {
  const acts = new Int32Array(actions.length * ActionColumn.Width);
  const actTo = new Float64Array(actions.length);
  const actStep = new Float64Array(actions.length);
  for (const [a, plan] of actions.entries()) {
    if (a % SLICE === SLICE - 1) yield;
    const { action, aim, broken, link, group } = plan;
    const target = aim && aim.strips !== FOCUS ? slots[aim.base].fn : undefined;
    const { base, offset, strips } = aim ?? NO_AIM;
    let by = 'by' in action && typeof action.by === 'number' ? action.by : DEFAULT_BY;
    if (action.do === 'send') by = action.message === undefined ? 1 : 0;
    if (action.do === 'layer') by = plan.layers[0] ?? -1;
    if (action.do === 'rondo') by = RONDO_COMMANDS.indexOf(action.command);
    // Set-ups come after Rondo's commands, by the action that names one.
    if (action.do === 'setUp') by = RONDO_COMMANDS.length + a;
    const at = a * ActionColumn.Width;
    acts[at + ActionColumn.Op] = broken ? Op.Broken : opOf(action, target?.kind === 'nudge');
    acts[at + ActionColumn.Base] = base;
    acts[at + ActionColumn.Offset] = offset;
    acts[at + ActionColumn.Strips] = strips;
    acts[at + ActionColumn.By] = by;
    acts[at + ActionColumn.WhenFirst] = conditions.add(plan.when);
    acts[at + ActionColumn.WhenCount] = plan.when.length;
    acts[at + ActionColumn.Group] = group;
    acts[at + ActionColumn.Link] = link;
    acts[at + ActionColumn.Wrap] = 'wrap' in action && action.wrap ? 1 : 0;
    if (action.do !== 'function') continue;
    actTo[a] = Math.max(0, Math.min(1, action.to ?? 1));
    // What is on or off has two choices.
    const choices = target?.kind === 'toggle' ? 2 : (target?.choices?.length ?? 1);
    const choice = choices > 1 ? 1 / (choices - 1) : 0;
    // A press goes by whole choices, a tick by them too unless it is told otherwise.
    actStep[a] =
      action.behaviour === 'step'
        ? choice || HUNDREDTH
        : (action.step ?? (choice || plan.feel.step));
  }
  return {
    acts,
    actTo,
    actStep,
    acceleration: Float64Array.from(actions, ({ feel }) => feel.acceleration),
    shapers: actions.map(({ shaper }) => shaper),
    takeovers: actions.map(({ feel }) => feel),
  };
}

function putAim(table: Int32Array, at: number, aim: Aim | null): void {
  const { base, offset, strips } = aim ?? NO_AIM;
  table[at] = base;
  table[at + 1] = offset;
  table[at + 2] = strips;
}

function* bindingTables({ bindings }: UntabledPlan, acts: Int32Array, conditions: Conditions) {
  const table = new Int32Array(bindings.length * BindingColumn.Width);
  for (const [b, binding] of bindings.entries()) {
    if (b % SLICE === SLICE - 1) yield;
    const { first, count, layer, passOn, shown } = binding;
    let holds = 0;
    for (let a = first; a < first + count; a++) {
      const at = a * ActionColumn.Width;
      const op = acts[at + ActionColumn.Op] as Op;
      // What is sent as it came in ends as its press ends.
      if (HOLDING.has(op) || (op === Op.Send && acts[at + ActionColumn.By] === 1)) holds = 1;
    }
    const row = b * BindingColumn.Width;
    table[row + BindingColumn.Layer] = layer;
    table[row + BindingColumn.WhenFirst] = conditions.add(binding.when);
    table[row + BindingColumn.WhenCount] = binding.when.length;
    table[row + BindingColumn.First] = first;
    table[row + BindingColumn.Count] = count;
    table[row + BindingColumn.PassOn] = passOn ? 1 : 0;
    table[row + BindingColumn.Holds] = holds;
    table[row + BindingColumn.Shown] = shown;
    putAim(table, row + BindingColumn.Base, binding.shows);
    putAim(table, row + BindingColumn.NameBase, binding.showsName);
    putAim(table, row + BindingColumn.MeterBase, binding.showsMeter);
  }
  return {
    bindings: table,
    litFrom: Float64Array.from(bindings, ({ lit }) => lit[0]),
    litTo: Float64Array.from(bindings, ({ lit }) => lit[1]),
  };
}

function slotTable({ slots }: UntabledPlan): Int32Array {
  const table = new Int32Array(slots.length * SlotColumn.Width);
  slots.forEach((slot, i) => {
    const at = i * SlotColumn.Width;
    table[at + SlotColumn.Link] = slot.link;
    table[at + SlotColumn.Local] = slot.local;
    table[at + SlotColumn.Exists] = slot.exists ? 1 : 0;
    table[at + SlotColumn.Settable] = slot.settable ? 1 : 0;
    table[at + SlotColumn.Continuous] = slot.fn.kind === 'continuous' ? 1 : 0;
    table[at + SlotColumn.Reports] = slot.reports ? 1 : 0;
    table[at + SlotColumn.Needs] = slot.needs;
    table[at + SlotColumn.ToggleOnly] = slot.toggleOnly ? 1 : 0;
    table[at + SlotColumn.Taps] = slot.taps ? 1 : 0;
    table[at + SlotColumn.Touch] = slot.touch;
    table[at + SlotColumn.Nudge] = slot.fn.kind === 'nudge' ? 1 : 0;
  });
  return table;
}

function outTable({ outs }: UntabledPlan): Int32Array {
  const table = new Int32Array(outs.length * OutputColumn.Width);
  outs.forEach((out, i) => {
    const one = out.sources.at(0);
    const two = out.sources.at(1) ?? one;
    const at = i * OutputColumn.Width;
    table[at + OutputColumn.Link] = out.link;
    table[at + OutputColumn.Local] = out.local;
    table[at + OutputColumn.Shows] = out.shows;
    table[at + OutputColumn.Mover] = out.mover;
    table[at + OutputColumn.Part] = one?.part ?? -1;
    table[at + OutputColumn.Pick] = PICKS[one?.pick ?? 'own'];
    table[at + OutputColumn.Part2] = two?.part ?? -1;
    table[at + OutputColumn.Pick2] = PICKS[two?.pick ?? 'own'];
    table[at + OutputColumn.Falls] = out.falls ? 1 : 0;
  });
  return table;
}

/** What hangs on each slot, as bits. */
function watchedSlots({ slots, focuses }: UntabledPlan, { list }: Conditions): Uint8Array {
  const watch = new Uint8Array(slots.length);
  for (const { aim } of list) {
    if (aim.strips === FOCUS) continue;
    const count = aim.offset < 0 ? 1 : aim.strips;
    for (let n = 0; n < count; n++) watch[aim.base + n] |= Watch.Condition;
  }
  // A condition on what has focus may mean any of its parameters.
  if (list.some(({ aim }) => aim.strips === FOCUS))
    for (const { tables } of focuses)
      for (const table of tables) for (const slot of table) watch[slot] |= Watch.Condition;
  for (const { slot } of focuses) watch[slot] |= Watch.Focus;
  return watch;
}

/** Makes the tables of a plan, a slice at a time. */
export function* tablesOf(plan: UntabledPlan): Generator<void, Tables> {
  const conditions = new Conditions();
  const parts = partTables(plan);
  yield;
  const actions = yield* actionTables(plan, conditions);
  const bindings = yield* bindingTables(plan, actions.acts, conditions);
  const { list } = conditions;
  return {
    ...parts,
    ...actions,
    ...bindings,
    slots: slotTable(plan),
    outs: outTable(plan),
    conditions: Int32Array.from(list.flatMap(({ aim }) => [aim.base, aim.offset, aim.strips, 0])),
    conditionLow: Float64Array.from(list, ({ low }) => low),
    conditionHigh: Float64Array.from(list, ({ high }) => high),
    conditionCount: list.length,
    watch: watchedSlots(plan, conditions),
  };
}
