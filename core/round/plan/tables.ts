import type { Action } from '@rondo/core/profile';
import type { Takeover } from '@rondo/core/surface';
import { FOCUS, GestureAt, type Aim, type ConditionPlan, type Plan } from './plan.js';
import type { Shaper } from './shaper.js';

/** What an action does, as the engine tells them apart. */
export const enum Op {
  Broken,
  Follow,
  Nudge,
  Toggle,
  Momentary,
  SetTo,
  Step,
  Bank,
  LayerHold,
  LayerToggle,
  LayerOn,
  LayerOff,
  LayerStep,
  FlagHold,
  FlagToggle,
  FlagOn,
  FlagOff,
  Send,
  Notes,
  FocusPage,
}

// Columns of the flat tables that the hot path reads.
export const enum PartColumn {
  Mode,
  Motor,
  Partner,
  Text,
  TextSource,
  Link,
  /** First candidate of each gesture, and after them the end of the last. */
  Candidates,
  Width = 12,
}
export const enum BindingColumn {
  Layer,
  WhenFirst,
  WhenCount,
  First,
  Count,
  PassOn,
  /** It holds something for as long as it is pressed. */
  Holds,
  Shown,
  Base,
  Offset,
  Strips,
  NameBase,
  NameOffset,
  NameStrips,
  MeterBase,
  MeterOffset,
  MeterStrips,
  Width = 18,
}
export const enum ActionColumn {
  Op,
  Base,
  Offset,
  Strips,
  By,
  WhenFirst,
  WhenCount,
  Group,
  Link,
  Wrap,
  Width = 12,
}
export const enum ConditionColumn {
  Base,
  Offset,
  Strips,
  Width = 4,
}
export const enum SlotColumn {
  Link,
  Local,
  Exists,
  Settable,
  Continuous,
  Reports,
  Needs,
  ToggleOnly,
  Taps,
  Touch,
  Nudge,
  Width,
}
export const enum OutputColumn {
  Link,
  Local,
  Shows,
  Mover,
  Part,
  Pick,
  Part2,
  Pick2,
  Width,
}

/** What an output shows of the binding that it follows. */
export const enum Pick {
  Own,
  Name,
  Meter,
}
const PICKS: Readonly<Record<'own' | 'name' | 'meter', Pick>> = {
  own: Pick.Own,
  name: Pick.Name,
  meter: Pick.Meter,
};

/** What hangs on the value of a slot, as bits. */
export const enum Watch {
  Condition = 1,
  Focus = 2,
}

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
  }
}

const HOLDING: ReadonlySet<Op> = new Set([Op.Momentary, Op.LayerHold, Op.FlagHold, Op.Notes]);

/** A plan as flat numbers, so that a message touches few places in memory. */
export class Tables {
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
  readonly watch: Uint8Array;
  readonly oneShot: Uint8Array;
  readonly latching: Uint8Array;
  readonly rest: Float64Array;

  constructor(readonly plan: Plan) {
    const { parts, bindings, actions, slots, outs } = plan;
    const conditions: ConditionPlan[] = [];
    const when = (list: readonly ConditionPlan[]): [number, number] => {
      const first = conditions.length;
      conditions.push(...list);
      return [first, list.length];
    };

    const candidates: number[] = [];
    this.parts = new Int32Array(parts.length * PartColumn.Width);
    parts.forEach((part, p) => {
      const { moves, motor, partner, text, textSource, link } = part;
      this.parts.set([moves, motor, partner, text, textSource, link], p * PartColumn.Width);
      for (let gesture = 0; gesture < GestureAt.Count; gesture++) {
        this.parts[p * PartColumn.Width + PartColumn.Candidates + gesture] = candidates.length;
        candidates.push(...part.candidates[gesture]);
      }
      this.parts[p * PartColumn.Width + PartColumn.Candidates + GestureAt.Count] =
        candidates.length;
    });
    this.candidates = Int32Array.from(candidates);
    this.oneShot = Uint8Array.from(parts, (part) => (part.oneShot ? 1 : 0));
    this.latching = Uint8Array.from(parts, (part) => (part.latching ? 1 : 0));
    this.rest = Float64Array.from(parts, (part) => part.rest);

    this.acts = new Int32Array(actions.length * ActionColumn.Width);
    this.actTo = new Float64Array(actions.length);
    this.actStep = new Float64Array(actions.length);
    this.acceleration = Float64Array.from(actions, ({ feel }) => feel.acceleration);
    this.shapers = actions.map(({ shaper }) => shaper);
    this.takeovers = actions.map(({ feel }) => feel);
    actions.forEach((plan, a) => {
      const { action, aim, broken, link, group } = plan;
      const target = aim && aim.strips !== FOCUS ? slots[aim.base].fn : undefined;
      const { base, offset, strips } = aim ?? NO_AIM;
      let by = 'by' in action && typeof action.by === 'number' ? action.by : DEFAULT_BY;
      if (action.do === 'send') by = action.message === undefined ? 1 : 0;
      if (action.do === 'layer') by = plan.layers[0] ?? -1;
      const wrap = 'wrap' in action && action.wrap ? 1 : 0;
      const op = broken ? Op.Broken : opOf(action, target?.kind === 'nudge');
      this.acts.set(
        [op, base, offset, strips, by, ...when(plan.when), group, link, wrap],
        a * ActionColumn.Width,
      );
      if (action.do !== 'function') return;
      this.actTo[a] = Math.max(0, Math.min(1, action.to ?? 1));
      const choice = target?.choices ? 1 / (target.choices.length - 1) : 0;
      // A press goes by whole choices, a tick by them too unless it is told otherwise.
      this.actStep[a] =
        action.behaviour === 'step'
          ? choice || HUNDREDTH
          : (action.step ?? (choice || plan.feel.step));
    });

    this.bindings = new Int32Array(bindings.length * BindingColumn.Width);
    this.litFrom = Float64Array.from(bindings, ({ lit }) => lit[0]);
    this.litTo = Float64Array.from(bindings, ({ lit }) => lit[1]);
    bindings.forEach((binding, b) => {
      const { first, count, layer, passOn, shown } = binding;
      let holds = 0;
      for (let a = first; a < first + count; a++)
        if (HOLDING.has(this.acts[a * ActionColumn.Width + ActionColumn.Op] as Op)) holds = 1;
      const row = b * BindingColumn.Width;
      this.bindings[row + BindingColumn.Layer] = layer;
      this.bindings[row + BindingColumn.WhenFirst] = conditions.length;
      this.bindings[row + BindingColumn.WhenCount] = binding.when.length;
      conditions.push(...binding.when);
      this.bindings[row + BindingColumn.First] = first;
      this.bindings[row + BindingColumn.Count] = count;
      this.bindings[row + BindingColumn.PassOn] = passOn ? 1 : 0;
      this.bindings[row + BindingColumn.Holds] = holds;
      this.bindings[row + BindingColumn.Shown] = shown;
      this.putAim(row + BindingColumn.Base, binding.shows);
      this.putAim(row + BindingColumn.NameBase, binding.showsName);
      this.putAim(row + BindingColumn.MeterBase, binding.showsMeter);
    });

    this.slots = new Int32Array(slots.length * SlotColumn.Width);
    slots.forEach((slot, i) => {
      const { link, local, exists, settable, reports, needs, toggleOnly, taps, touch } = slot;
      this.slots.set(
        [
          link,
          local,
          exists ? 1 : 0,
          settable ? 1 : 0,
          slot.fn.kind === 'continuous' ? 1 : 0,
          reports ? 1 : 0,
          needs,
          toggleOnly ? 1 : 0,
          taps ? 1 : 0,
          touch,
          slot.fn.kind === 'nudge' ? 1 : 0,
        ],
        i * SlotColumn.Width,
      );
    });

    this.outs = new Int32Array(outs.length * OutputColumn.Width);
    outs.forEach((out, i) => {
      const one = out.sources.at(0);
      const two = out.sources.at(1) ?? one;
      this.outs.set(
        [
          out.link,
          out.local,
          out.shows,
          out.mover,
          one?.part ?? -1,
          PICKS[one?.pick ?? 'own'],
          two?.part ?? -1,
          PICKS[two?.pick ?? 'own'],
        ],
        i * OutputColumn.Width,
      );
    });

    this.conditions = Int32Array.from(
      conditions.flatMap(({ aim }) => [aim.base, aim.offset, aim.strips, 0]),
    );
    this.conditionLow = Float64Array.from(conditions, ({ low }) => low);
    this.conditionHigh = Float64Array.from(conditions, ({ high }) => high);
    this.watch = new Uint8Array(slots.length);
    for (const { aim } of conditions) {
      if (aim.strips === FOCUS) continue;
      const count = aim.offset < 0 ? 1 : aim.strips;
      for (let n = 0; n < count; n++) this.watch[aim.base + n] |= Watch.Condition;
    }
    // A condition on what has focus may mean any of its parameters.
    if (conditions.some(({ aim }) => aim.strips === FOCUS))
      for (const { tables } of plan.focuses)
        for (const table of tables) for (const slot of table) this.watch[slot] |= Watch.Condition;
    for (const { slot } of plan.focuses) this.watch[slot] |= Watch.Focus;
  }

  private putAim(at: number, aim: Aim | null): void {
    const { base, offset, strips } = aim ?? NO_AIM;
    this.bindings[at] = base;
    this.bindings[at + 1] = offset;
    this.bindings[at + 2] = strips;
  }

  get conditionCount(): number {
    return this.conditionLow.length;
  }
}
