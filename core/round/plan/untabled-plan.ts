import type { ReturnSettings } from '@rondo/core/surface';
import type { ActionPlan, BindingPlan, Broken, CausePlan, LayerPlan } from './binding-plan.js';
import type { Link, RoutePlan } from './link-plan.js';
import type { OutPlan } from './out-plan.js';
import type { PartPlan } from './part-plan.js';
import type { FocusPlan, SlotPlan, Times } from './slot-plan.js';

/** A plan before its tables are made. */
export interface UntabledPlan {
  readonly profileId: string;
  readonly profileName: string;
  /** What comes back on every layer, as the profile has it. */
  readonly returns: ReturnSettings | undefined;
  /** By host, in their order. */
  readonly times: readonly Times[];
  readonly links: readonly Link[];
  readonly routes: readonly RoutePlan[];
  readonly parts: readonly PartPlan[];
  readonly outs: readonly OutPlan[];
  /** Values of hosts; after them those of Rondo itself, layers and flags. */
  readonly slots: readonly SlotPlan[];
  readonly actions: readonly ActionPlan[];
  readonly bindings: readonly BindingPlan[];
  readonly causes: readonly CausePlan[];
  readonly layers: readonly LayerPlan[];
  /** Slots that flags live in, with what they are at first. */
  readonly flags: readonly {
    readonly id: string;
    readonly slot: number;
    readonly initially: boolean;
  }[];
  readonly focuses: readonly FocusPlan[];
  /** Slots of which only one is on, by exclusive group. */
  readonly groups: readonly Int32Array[];
  /** Strips that the bank window runs over. */
  readonly strips: number;
  /** Width of the bank window. */
  readonly window: number;
  readonly broken: readonly Broken[];
  /** Numbers of the profile that lay outside 0…1 and were clamped. */
  readonly clamped: number;
}
