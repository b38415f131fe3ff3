import type { Feeling, FeelSettings } from '@rondo/core/surface';
import type { Profile } from '@rondo/core/profile';
import type { ActionPlan, Broken } from './binding-plan.js';
import type { Library } from './library.js';
import type { Link } from './link-plan.js';
import type { SlotPlan } from './slot-plan.js';

/** What of a plan is still being put together: indices first, contents after. */
export class PlanDraft {
  readonly links: Link[] = [];
  readonly slots: SlotPlan[] = [];
  readonly broken: Broken[] = [];
  readonly actions: ActionPlan[] = [];
  /** Links by key, and the first slot of each function by host and name. */
  readonly linkIndex = new Map<string, number>();
  readonly slotBase = new Map<string, number>();
  /** Strips of each host. */
  readonly hostStrips = new Map<string, number>();
  readonly layerSlots = new Map<string, number>();
  readonly flagSlots = new Map<string, number>();
  readonly layerIndex = new Map<string, number>();
  readonly layerGroups = new Map<string, number[]>();
  readonly focusIndex = new Map<string, number>();
  readonly groupIndex = new Map<string, number>();
  /** How bindings feel that say nothing of their own, by what their surface says, then kind and layer. */
  readonly feels = new Map<FeelSettings | undefined, Map<string, Feeling>>();
  /** Numbers of the profile that lay outside 0…1. */
  clamped = 0;

  constructor(
    readonly profile: Profile,
    readonly library: Library,
  ) {}

  /** A number of the profile, within 0…1. */
  share(value: number): number {
    const inside = Math.max(0, Math.min(1, value));
    if (inside !== value) this.clamped++;
    return inside;
  }

  /** Tells what refers to what is not there, or cannot work. */
  say(broken: Broken): void {
    this.broken.push(broken);
  }

  /** What a host is called in the profile. */
  hostName(id: string): string {
    return Object.hasOwn(this.profile.hosts, id) ? this.profile.hosts[id].label : id;
  }
}
