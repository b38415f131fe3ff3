import {
  pinnedFirst,
  type Binding,
  type ControlRef,
  type Gesture,
  type Profile,
} from '@rondo/core/profile';

/** A binding as it stands on the layer that is looked at: of that layer, or seen through it from below. */
export interface Seen {
  readonly binding: Binding;
  readonly below: boolean;
  /** Nobody has bound it: its surface stands in for another. */
  readonly standsIn?: boolean;
}

const keyOf = (surface: string, control: string, part: string, gesture: string): string =>
  `${surface}/${control}/${part}/${gesture}`;

/** Whether a binding does what the focus of its host says. */
const followsFocus = ({ actions }: Binding): boolean =>
  actions.find((action) => action.do === 'function')?.scope.kind === 'focus';

/**
 * All bindings as they stand on one layer: its own, and of what it leaves alone those of the layers below it that are
 * on, the lowest always among them. What has conditions gives way to what has none, since it is not always there; what
 * follows the focus to what is pinned.
 */
export class Stack {
  private readonly seen = new Map<string, Seen>();

  /** @param base bindings that lie under all of the profile's own */
  constructor(
    profile: Profile,
    readonly layer: string,
    on: ReadonlySet<string>,
    base: readonly Binding[] = [],
  ) {
    for (const binding of base) {
      const { control } = binding;
      if (!control) continue;
      const at = keyOf(control.surface, control.control, control.part, 'press');
      this.seen.set(at, { binding, below: true, standsIn: true });
    }
    const order = profile.layerOrder;
    const top = order.indexOf(layer);
    const isOn = (at: number) => at === top || (at < top && (at === 0 || on.has(order[at])));
    const rank = new Map(order.map((id, at) => [id, at]));
    const score = ({ layer: id, when }: Binding) =>
      (rank.get(id) ?? -1) * 2 + (when && when.length > 0 ? 0 : 1);
    const all = new Map<string, Binding[]>();
    for (const key of profile.bindingOrder) {
      const binding = profile.bindings[key];
      const { control } = binding;
      if (!control) continue;
      const at = keyOf(control.surface, control.control, control.part, binding.gesture ?? 'press');
      const list = all.get(at);
      if (list) list.push(binding);
      else all.set(at, [binding]);
    }
    for (const [at, list] of all) {
      list.sort((a, b) => score(b) - score(a));
      const isPinned = (one: Binding) => one.pinned === true;
      const binding = pinnedFirst(list, isPinned, followsFocus).find(({ layer: id }) =>
        isOn(rank.get(id) ?? Infinity),
      );
      if (binding) this.seen.set(at, { binding, below: binding.layer !== layer });
    }
  }

  /** The strips of a host that a surface's controls go to, as far as they are one by one. */
  reach(surface: string, host: string, bank: number): Set<number> {
    const found = new Set<number>();
    for (const { binding } of this.seen.values()) {
      if (binding.control?.surface !== surface) continue;
      for (const action of binding.actions) {
        if (action.do !== 'function' || action.host !== host) continue;
        const { scope } = action;
        if (scope.kind === 'fixed') found.add(scope.strip);
        if (scope.kind === 'window') found.add(bank + scope.offset);
      }
    }
    return found;
  }

  /** What a gesture of a part does; a move counts as a press. */
  of(ref: ControlRef, gesture: Gesture = 'press'): Seen | undefined {
    return this.seen.get(keyOf(ref.surface, ref.control, ref.part, gesture));
  }

  /** What a part does by the likeliest of its gestures. */
  first(ref: ControlRef): Seen | undefined {
    for (const gesture of ['press', 'longPress', 'doubleTap', 'release'] as const) {
      const found = this.of(ref, gesture);
      if (found) return found;
    }
    return undefined;
  }
}
