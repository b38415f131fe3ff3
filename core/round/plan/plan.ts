import type { HostFunction, HostModel, LawName } from '@rondo/core/host';
import type { Action, Behaviour, MessageKind } from '@rondo/core/profile';
import type {
  Control,
  Feeling,
  InputPart,
  MessageMap,
  OutputPart,
  Pattern,
  ReturnSettings,
  Sender,
  Surface,
} from '@rondo/core/surface';
import type { DeskUnit, OscTemplate, Template } from '@rondo/core/wire';
import type { Shaper } from './shaper.js';
import type { Tables } from './tables.js';

/** What a profile needs to know of the world to be compiled. */
export interface Library {
  surface(modelId: string): Surface | undefined;
  host(modelId: string): HostModel | undefined;
}

/** One device or program, each with an input and an output of its own. */
export interface Link {
  readonly key: string;
  readonly kind: 'surface' | 'host';
  /** Id within the profile. */
  readonly id: string;
  readonly label: string;
  /** Surface or host model that it is. */
  readonly model: string;
  /** The description of a surface; null for a host. */
  readonly surface: Surface | null;
  /** What a host can do; null for a surface. */
  readonly host: HostModel | null;
  readonly bytesPerSecond: number;
  /** What its messages mean; targets count from {@link firstTarget} on. */
  readonly map: MessageMap;
  /** Writes its messages, by output of a surface, by slot of a host; one for each onboard page. */
  readonly senders: readonly Sender[];
  /** Notes that are played and never command: 1 at channel × 128 + note, channels from 0; null where there are none. */
  readonly played: Uint8Array | null;
  /** Message that makes a host report everything. */
  readonly ask: Uint8Array | null;
  /** The unit of a host that it is, from 0; 0 for a surface. */
  readonly unit: number;
  /** It speaks OSC: packets with their lengths before them, in place of MIDI. */
  readonly isOsc: boolean;
  /** It speaks the Mackie-style protocol, as this unit; null where it does not. */
  readonly desk: DeskUnit | null;
  /** First of the parts of a surface, or of the slots of a host, that its messages mean. */
  readonly firstTarget: number;
  /** First of its slots or outputs, and how many there are; a host's units share them all. */
  readonly first: number;
  readonly count: number;
  /** Its clock is the one to follow. */
  readonly clock: boolean;
  /** Link to the unit of a host before which a surface stands in for another; −1 where it is itself. */
  readonly standsBefore: number;
}

/** Where messages of a link go on to, and which. */
export interface RoutePlan {
  readonly id: string;
  readonly from: number;
  readonly to: number;
  /** Bits of {@link KIND_BITS}. */
  readonly kinds: number;
  /** Channels that it takes, as bits from channel 1 on. */
  readonly channels: number;
  /** Notes that it takes, both ends among them. */
  readonly low: number;
  readonly high: number;
  /** Semitones by which notes go up. */
  readonly shift: number;
  /** Channel on which all goes on, from 0; −1 for that on which it came. */
  readonly channel: number;
  /** It takes only what no other route of its link takes. */
  readonly rest: boolean;
}

/** How a part tells what the hand does. */
export const enum InputMode {
  Absolute,
  Relative,
  Press,
  Touch,
}

/** Gestures in the order of a part's candidates. A move counts as a press. */
export const enum GestureAt {
  Press,
  Release,
  Long,
  Double,
  Count,
}

/** An input part of a control. */
export interface PartPlan {
  readonly key: string;
  readonly link: number;
  readonly control: Control;
  readonly part: InputPart;
  /** What it sends on each onboard page. */
  readonly patterns: readonly (Pattern | undefined)[];
  readonly moves: InputMode;
  /** Its message says 'pressed' and never 'released', or says both by turns as a self-latching key does. */
  readonly oneShot: boolean;
  readonly latching: boolean;
  /** The motor beside it, as an output index; −1 without one. */
  readonly motor: number;
  /** The part whose value this touch guards, or which guards this value; −1 without one. */
  readonly partner: number;
  /** The text that shows its value when it moves, as an output index, and which of its two sources that is. */
  readonly text: number;
  readonly textSource: number;
  /** Where a spring pulls it, 0…1. */
  readonly rest: number;
  /** Bindings by gesture, the first that may count first: topmost layer, then those with conditions. */
  readonly candidates: readonly (readonly number[])[];
}

/** Stands for the number of strips where an aim is a parameter of what has focus. */
export const FOCUS = -2;

/** Where an action or an output finds its slot: at `base`, in the bank window from `base` on, or through the focus. */
export interface Aim {
  /** First slot: that of strip 1 where `offset` is not negative. The focus table for {@link FOCUS}. */
  readonly base: number;
  /** Place in the bank window, or on the page of what has focus; −1 where the slot is fixed. */
  readonly offset: number;
  /** Strips of that host, or {@link FOCUS}. */
  readonly strips: number;
}

/** Holds where the value at its aim is known or assumed and lies from `low` up to, not including, `high`. */
export interface ConditionPlan {
  readonly aim: Aim;
  readonly low: number;
  readonly high: number;
}

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

/** The parameters of what can have focus in a host. */
export interface FocusPlan {
  readonly link: number;
  /** Slot that tells which has focus, by its share of the last. */
  readonly slot: number;
  /** Slots of the parameters in their order, for each. */
  readonly tables: readonly Int32Array[];
  /** What each is called. */
  readonly labels: readonly string[];
  /** Parameters on a page. */
  readonly width: number;
}

export interface SlotPlan {
  readonly key: string;
  readonly address: string;
  /** The host; −1 for a layer or a flag, which are Rondo's own. */
  readonly link: number;
  /** Index within its link's patterns. */
  readonly local: number;
  readonly fn: HostFunction;
  readonly law: LawName;
  readonly strip: number;
  readonly exists: boolean;
  /** The messages by which it is set, and by which the host tells it. */
  readonly set: Pattern | undefined;
  readonly report: Pattern | undefined;
  readonly settable: boolean;
  readonly reports: boolean;
  /** Its message turns it over, whatever is sent. */
  readonly toggleOnly: boolean;
  /** It is a key: pressed and let go, and what it tells is its lamp. */
  readonly taps: boolean;
  /** Slot by which the host is told that a finger lies on what moves this one; −1 where there is none. */
  readonly touch: number;
  /** Slot that tells whether this one is available now: on where it is; −1 where it always is. */
  readonly needs: number;
  /** Slot that tells whether its strip is ready to record; −1 where there is none. */
  readonly armed: number;
  /** The value at which it waits for its time; −1 where it never does. */
  readonly waits: number;
}

export const enum Shows {
  Motor,
  Light,
  Ring,
  Text,
  Meter,
}

/** What an output shows: what a part is bound to, or the name or meter of the same strip. */
export interface Source {
  readonly part: number;
  readonly pick: 'own' | 'name' | 'meter';
}

/** An output part of a control and what it shows. */
export interface OutPlan {
  readonly key: string;
  readonly link: number;
  readonly local: number;
  readonly control: Control;
  readonly part: OutputPart;
  /** What it takes on each onboard page. */
  readonly patterns: readonly (Pattern | undefined)[];
  readonly shows: Shows;
  /** It is a meter that falls by itself and needs to be told of rises only. */
  readonly falls: boolean;
  /** The part that the hand moves beside a motor; −1 elsewhere. */
  readonly mover: number;
  /** A lower text line has two and shows the one moved last. */
  readonly sources: readonly Source[];
  /** A display that stands in no strip: it shows what was moved last on its surface. */
  readonly lone: boolean;
  /** What shows here beside its own control, the highest layer first: showings as bindings that nothing triggers. */
  readonly showings: readonly ShownHere[];
}

/** A showing on one of its outputs. */
export interface ShownHere {
  readonly binding: number;
  /** Its place in a row, from 0, and how many there are; −1 where each shows the whole. */
  readonly place: number;
  readonly count: number;
}

/** Where a host tells its time and tempo; −1 where it does not. */
export interface Times {
  readonly link: number;
  readonly time: number;
  readonly tempo: number;
}

/** What of a profile refers to what is not there, or cannot work; it is kept and does nothing. */
export interface Broken {
  /** Binding or layer that it is. */
  readonly binding: string;
  readonly layer: string;
  /** The showing that it is, where it is one. */
  readonly showing?: string;
  readonly what:
    'control' | 'function' | 'flag' | 'layer' | 'circle' | 'message' | 'turnsOver' | 'behaviour';
  readonly why: string;
  /** The behaviour by which it would work. */
  readonly mend?: Behaviour;
}

/** A profile made ready to run. It never changes. */
export interface Plan extends UntabledPlan {
  readonly tables: Tables;
}

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

export const partKey = (surface: string, control: string, part: string): string =>
  `${surface}/${control}/${part}`;

/** The key of the link to a unit of a host, from 0. */
export const hostLinkKey = (host: string, unit: number): string =>
  unit === 0 ? `host:${host}` : `host:${host}~${unit + 1}`;

/** Bit of a kind of message. */
export const KIND_BITS: Readonly<Record<MessageKind, number>> = {
  note: 1,
  controller: 2,
  program: 4,
  bend: 8,
  pressure: 16,
  sysex: 32,
  clock: 64,
  osc: 128,
};
