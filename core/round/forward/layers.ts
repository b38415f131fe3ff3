import type { State } from '../live/state.js';
import type { LayerPlan } from '../plan/binding-plan.js';

/** Which layers are on and why: latched, holds, or by an onboard page. The first layer always is. */
export class Layers {
  readonly latched: Uint8Array;
  /** How many controls hold each. */
  private readonly holds: Uint8Array;
  private readonly paged: Uint8Array;

  constructor(
    private readonly plans: readonly LayerPlan[],
    state: State,
  ) {
    this.latched = state.latched;
    this.holds = state.layerHolds;
    this.paged = state.paged;
  }

  /** Latches a layer; the others of its group are let go. */
  on(layer: number): void {
    const { group } = this.plans[layer];
    if (group >= 0)
      this.plans.forEach((other, i) => {
        if (other.group === group) this.latched[i] = 0;
      });
    this.latched[layer] = 1;
  }

  /** Where two of one group are on, as after an edit that put them into one, the higher one stays. */
  fitGroups(): void {
    for (let layer = this.plans.length - 1; layer >= 0; layer--)
      if (this.latched[layer] === 1) this.on(layer);
  }

  off(layer: number): void {
    this.latched[layer] = 0;
  }

  toggle(layer: number): void {
    if (this.latched[layer] === 1) this.off(layer);
    else this.on(layer);
  }

  hold(layer: number): void {
    if (this.holds[layer] < 255) this.holds[layer]++;
  }

  release(layer: number): void {
    if (this.holds[layer] > 0) this.holds[layer]--;
  }

  /** Latches the next layer of a list, or the previous one; at the end it stops, or goes on at the other. */
  step(list: readonly number[], by: number, wrap: boolean): void {
    const now = list.findIndex((layer) => this.latched[layer] === 1);
    const wanted = now < 0 ? (by > 0 ? 0 : list.length - 1) : now + by;
    const to = wrap
      ? (wanted + list.length) % list.length
      : Math.max(0, Math.min(list.length - 1, wanted));
    this.on(list[to]);
  }

  /** A device has turned to an onboard page. */
  turned(link: number, page: number): void {
    this.plans.forEach((plan, layer) => {
      if (plan.page?.link === link) this.paged[layer] = plan.page.page === page ? 1 : 0;
    });
  }

  /** Whether a layer is on now. A held one of a radio group stands in for the latched one. */
  isOn(layer: number): boolean {
    const { group, page } = this.plans[layer];
    if (layer === 0 || this.holds[layer] > 0) return true;
    if (page) return this.paged[layer] === 1;
    if (this.latched[layer] === 0) return false;
    if (group < 0) return true;
    for (let other = 0; other < this.plans.length; other++)
      if (this.holds[other] > 0 && this.plans[other].group === group) return false;
    return true;
  }
}
