import type { Action, Behaviour } from '@rondo/core/profile';
import type { Feeling, ReturnSettings } from '@rondo/core/surface';
import type { OscTemplate, Template } from '@rondo/core/wire';
import type { Aim, ConditionPlan } from './aim.js';
import type { GestureAt } from './part-plan.js';
import type { Shaper } from './shaper.js';

export interface ActionPlan {
  /** Binding that it belongs to; empty for what a layer does. */
  readonly binding: string;
  readonly action: Action;
  /** Null for an action that has no function, or whose function is not there. */
  readonly aim: Aim | null;
  /** Host or surface that it goes to; −1 for what stays within Rondo. */
  readonly link: number;
  /** True where what it names is not there at all. */
  readonly broken: boolean;
  /** Why, in a sentence, and the behaviour by which it would work where there is one. */
  readonly why: string;
  readonly mend: Behaviour | null;
  readonly when: readonly ConditionPlan[];
  readonly shaper: Shaper;
  readonly feel: Feeling;
  readonly message: Template | null;
  readonly osc: OscTemplate | null;
  /** Layers that a step goes through, or the one that is changed. */
  readonly layers: readonly number[];
  /** Slots that let go when this one is on. */
  readonly group: number;
}

/** A run of {@link Plan.actions}. */
export interface Run {
  readonly first: number;
  readonly count: number;
}

export interface BindingPlan extends Run {
  readonly id: string;
  /** What it does, as the profile has it. */
  readonly actions: readonly Action[];
  /** Index of its layer. */
  readonly layer: number;
  /** Part that it hangs on; −1 for a host's change. */
  readonly part: number;
  readonly gesture: GestureAt;
  readonly when: readonly ConditionPlan[];
  readonly passOn: boolean;
  /** What it drives first, to be shown; null where it drives nothing that has a state. */
  readonly shows: Aim | null;
  readonly showsName: Aim | null;
  readonly showsMeter: Aim | null;
  /** The action that {@link shows} belongs to. */
  readonly shown: number;
  /** Values, from and to, for which a light is on. */
  readonly lit: readonly [number, number];
  /** What comes back as its function has it, and as it says itself. */
  readonly usual: ReturnSettings | undefined;
  readonly returns: ReturnSettings | undefined;
}

/** A host's change that runs a binding. */
export interface CausePlan {
  readonly binding: number;
  readonly aim: Aim;
  readonly when: 'on' | 'off' | 'change';
}

export interface LayerPlan {
  readonly id: string;
  readonly label: string;
  /** Layers of which only one is on, this one among them; −1 where it stands alone. */
  readonly group: number;
  /** Slot that tells whether it is on. */
  readonly slot: number;
  /** Link and onboard page on which it is on; null where it is not a page's. */
  readonly page: { readonly link: number; readonly page: number } | null;
  readonly enter: Run;
  readonly leave: Run;
  readonly returns: ReturnSettings | undefined;
}

/** What of a profile refers to what is not there, or cannot work; it is kept and does nothing. */
export interface Broken {
  /** Binding or layer that it is. */
  readonly binding: string;
  readonly layer: string;
  /** The showing that it is, where it is one. */
  readonly showing?: string;
  readonly what:
    | 'control'
    | 'function'
    | 'flag'
    | 'layer'
    | 'circle'
    | 'message'
    | 'turnsOver'
    | 'behaviour'
    /** A set-up that is not there any more: no plan knows them, whoever keeps them says so. */
    | 'setUp';
  readonly why: string;
  /** The behaviour by which it would work. */
  readonly mend?: Behaviour;
}
