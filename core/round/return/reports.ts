import type { Sender } from '@rondo/core/surface';
import type { Causes } from '../cables/causes.js';
import { Register } from '../context.js';
import type { EngineServices } from '../engine-services.js';
import { SlotColumn } from '../plan/columns.js';
import { InputMode } from '../plan/part-plan.js';
import type { Plan } from '../plan/plan.js';
import type { SlotPlan } from '../plan/slot-plan.js';
import type { RoundContext } from '../round-context.js';
import type { Actions } from '../forward/actions.js';
import type { Holds } from '../forward/holds.js';
import type { LayerChanges } from '../forward/layer-changes.js';
import type { Subscriptions } from './subscriptions.js';
import { Know, type Beliefs } from './beliefs.js';

const NOBODY = -1;
const UNKNOWN = -1;

/** What it needs of the round. */
interface Needs extends RoundContext {
  readonly actions: Actions;
  readonly holds: Holds;
  readonly layerChanges: LayerChanges;
  readonly subscriptions: Subscriptions;
}

/**
 * What hosts tell: what of it is believed, and what that sets off. Reads `Register.Heard`, and writes it for what it sets
 * off.
 */
export class Reports {
  private readonly plan: Plan;
  private readonly slots: Int32Array;
  private readonly services: EngineServices;
  private readonly beliefs: Beliefs;
  private readonly causes: Causes;
  private readonly senders: readonly Sender[];
  private readonly register: Float64Array;
  private readonly runCause = (cause: number): void => this.caused(cause);

  constructor(private readonly round: Needs) {
    this.plan = round.plan;
    this.slots = round.tables.slots;
    this.services = round.services;
    this.beliefs = round.beliefs;
    this.causes = round.causes;
    this.senders = round.senders;
    this.register = round.services.context.register;
  }

  /** A host has told the value in the register. */
  value(slot: number): void {
    const { cables } = this.services;
    if (cables.isWatching) cables.changed(slot, this.beliefs, this.register);
    if (this.slots[slot * SlotColumn.Width + SlotColumn.Taps] === 1) this.lamp(slot);
    else this.believe(slot);
  }

  private believe(slot: number): void {
    const { beliefs, slots, register } = this;
    const at = slot * SlotColumn.Width;
    const isSet = slots[at + SlotColumn.Settable] !== 0 && slots[at + SlotColumn.ToggleOnly] === 0;
    if (isSet && beliefs.isFresh(slot)) {
      const sender = this.senders[slots[at + SlotColumn.Link]];
      const wire = sender.wireAt(slots[at + SlotColumn.Local], register, Register.Heard);
      if (wire !== beliefs.sentWire[slot]) {
        beliefs.doubt(slot, register, Register.Heard);
        return;
      }
    }
    beliefs.believe(slot, register, Register.Heard);
    this.believed(slot);
  }

  /** Believes what was doubted for long enough. */
  resolve(): void {
    this.beliefs.resolve((slot) => this.believed(slot));
  }

  /** What a host has told is believed. */
  private believed(slot: number): void {
    const at = slot * SlotColumn.Width;
    const link = this.slots[at + SlotColumn.Link];
    // A message of several arguments tells of its neighbours, too, where they stand.
    if (link >= 0 && this.plan.links[link].isOsc)
      this.beliefs.standsWire[slot] = this.senders[link].wireAt(
        this.slots[at + SlotColumn.Local],
        this.beliefs.value,
        slot,
      );
    this.round.changed(slot);
    if (this.causes.hangsOn(slot))
      this.causes.reported(slot, this.beliefs.value, this.isSwitch(slot), this.runCause);
  }

  private isSwitch(slot: number): boolean {
    const { kind } = this.plan.slots[slot].fn;
    return kind === 'toggle' || kind === 'trigger';
  }

  /** A host has told the lamp of a key; its value stands in the register. */
  private lamp(slot: number): void {
    const lit = this.register[Register.Heard] > 0;
    const turns = this.beliefs.value[slot] > 0 !== lit;
    this.believe(slot);
    if (turns && this.round.turnedBack.turned(slot)) this.services.watch.heardTwice(slot);
    if (lit && !this.round.subscriptions.isShown(slot)) this.services.watch.unshown(slot);
  }

  /** A host has told a text. */
  text(slot: number, text: string): void {
    if (this.beliefs.tell(slot, text)) this.services.textVersion++;
    this.round.subscriptions.changed(slot);
  }

  /** All displays of a host are empty. */
  clearTexts(link: number): void {
    this.plan.slots.forEach((slot, i) => {
      if (slot.link === link && slot.fn.kind === 'text') this.text(i, '');
    });
  }

  /** All functions of a kind that a host reports are at 0. */
  clearValues(link: number, kind: SlotPlan['fn']['kind']): void {
    this.plan.slots.forEach((slot, i) => {
      if (slot.link !== link || !slot.reports || slot.fn.kind !== kind) return;
      this.register[Register.Heard] = 0;
      this.beliefs.believe(i, this.register, Register.Heard);
      this.believed(i);
    });
  }

  /** Whether a host has told anything since it was connected. */
  hasSpoken(link: number): boolean {
    return this.plan.slots.some(
      (slot, i) => slot.link === link && this.beliefs.know[i] === Know.Known,
    );
  }

  /** A host is gone: nothing is known of it any more. */
  forgetHost(link: number): void {
    this.services.textVersion++;
    this.plan.causes.forEach(({ binding }, cause) => {
      const slot = this.causes.slotOf(cause);
      if (slot >= 0 && this.plan.slots[slot].link === link)
        this.round.holds.letGoOf(this.plan.bindings[binding]);
    });
    this.round.layerChanges.apply();
    this.plan.slots.forEach((slot, i) => {
      if (slot.link !== link) return;
      this.beliefs.forget(i);
      this.causes.forget(i);
      this.round.changed(i);
    });
  }

  /** Hangs every cause on the slot that it means now. */
  hangCauses(): void {
    if (this.causes.isEmpty) return;
    const { matcher } = this.round;
    const { bank } = this.services;
    this.causes.hang(
      (cause) => {
        const { base, offset, strips } = this.plan.causes[cause].aim;
        return matcher.slotAt(base, offset, strips, bank.start);
      },
      (slot) => (this.beliefs.know[slot] === Know.Known ? this.beliefs.value[slot] : UNKNOWN),
    );
    // What hangs on something else from now on, or on nothing, holds nothing for what it hung on before.
    this.plan.causes.forEach(({ binding }, cause) => {
      if (this.causes.was[cause] < 0.5) this.round.holds.letGoOf(this.plan.bindings[binding]);
    });
  }

  /** Runs what a host's change is the cause of. */
  private caused(cause: number): void {
    const { binding, when } = this.plan.causes[cause];
    const { register } = this;
    if (!this.round.matcher.counts(binding, this.services.bank.start)) return;
    register[Register.Heard] = when === 'change' ? this.causes.was[cause] : 1;
    const mode = when === 'change' ? InputMode.Absolute : InputMode.Press;
    this.round.actions.runBinding(NOBODY, binding, mode);
    // It holds as long as what changes is on, if that is told at all.
    if (when !== 'change' || this.causes.was[cause] < 0.5)
      this.round.holds.letGoOf(this.plan.bindings[binding]);
    this.round.layerChanges.apply();
  }
}
