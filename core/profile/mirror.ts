import { edit, type Edited } from '@rondo/core/document';
import type { Control, Surface } from '@rondo/core/surface';
import type { Action, Condition } from './action.js';
import { addBinding, dropBindings, isOn } from './edit.js';
import type { Profile } from './profile.js';

export interface MirrorSpec {
  readonly surface: string;
  /** The half that is copied. */
  readonly from: 'left' | 'right';
  /** Strips, from 0, that its functions are changed from and to: deck 1 to deck 2. Null where they stay. */
  readonly strips: { readonly from: number; readonly to: number } | null;
  /** Layer whose bindings are copied; all where it is left out. */
  readonly layer?: string;
}

/** A control and the one that stands for it in the other half. */
export interface MirrorPair {
  readonly from: Control;
  readonly to: Control;
}

const middleOf = (control: Control): number => control.x + control.width / 2;

/** How far apart two places of alike controls are, in millimetres; infinite where they are not alike. */
function distance(control: Control, other: Control, x: number): number {
  if (other.kind !== control.kind) return Infinity;
  const y = other.y + other.height / 2 - control.y - control.height / 2;
  return Math.hypot(middleOf(other) - x, y);
}

const words = [
  ['left', 'right'],
  ['Left', 'Right'],
] as const;

/** The control of the other half that is called the same but for its side. */
function byName(surface: Surface, control: Control): Control | undefined {
  for (const [a, b] of words)
    for (const [from, to] of [
      [a, b],
      [b, a],
    ])
      if (control.id.includes(from)) {
        const id = control.id.replace(from, to);
        return surface.controls.find((other) => other.id === id);
      }
  return undefined;
}

/**
 * Controls of one half with those that stand for them in the other: by name where the sides are in the names, else by
 * place, whether the panel repeats itself or is mirrored, whichever fits better.
 */
export function mirrorPairs(surface: Surface, from: 'left' | 'right'): MirrorPair[] {
  const centre = surface.width / 2;
  const isLeft = (control: Control) => middleOf(control) < centre;
  const half = surface.controls.filter(
    (control) => isLeft(control) === (from === 'left') && middleOf(control) !== centre,
  );
  const other = surface.controls.filter((control) => isLeft(control) !== (from === 'left'));
  const shift = from === 'left' ? centre : -centre;
  const match = (placeOf: (control: Control) => number) => {
    const free = new Set(other);
    let cost = 0;
    const pairs: MirrorPair[] = [];
    for (const control of half) {
      const named = byName(surface, control);
      let best: Control | undefined = named;
      let least = named ? 0 : Infinity;
      if (!named)
        for (const candidate of free) {
          const far = distance(control, candidate, placeOf(control));
          if (far >= least) continue;
          least = far;
          best = candidate;
        }
      if (!best || least > Math.max(control.width, control.height)) {
        cost += control.width;
        continue;
      }
      free.delete(best);
      cost += least;
      pairs.push({ from: control, to: best });
    }
    return { pairs, cost };
  };
  const repeated = match((control) => middleOf(control) + shift);
  const mirrored = match((control) => surface.width - middleOf(control));
  return repeated.cost <= mirrored.cost ? repeated.pairs : mirrored.pairs;
}

interface OnStrip {
  readonly scope: { readonly kind: string; readonly strip?: unknown };
}

const moved = <T extends Action | Condition>(what: T, strips: MirrorSpec['strips']): T => {
  if (!strips || !('scope' in what)) return what;
  const { scope } = what as unknown as OnStrip;
  return scope.kind === 'fixed' && scope.strip === strips.from
    ? { ...what, scope: { ...scope, strip: strips.to } }
    : what;
};

/** Copies the bindings of one half of a surface to the other. */
export function mirror(
  profile: Profile,
  name: string,
  surface: Surface,
  spec: MirrorSpec,
): Edited<Profile> {
  const to = new Map(mirrorPairs(surface, spec.from).map((pair) => [pair.from.id, pair.to.id]));
  return edit(profile, name, (draft) => {
    for (const key of profile.bindingOrder) {
      const { id: _id, ...binding } = profile.bindings[key];
      const { control } = binding;
      if (control?.surface !== spec.surface) continue;
      if (spec.layer !== undefined && binding.layer !== spec.layer) continue;
      const target = to.get(control.control);
      if (target === undefined) continue;
      const ref = { ...control, control: target };
      const place = { layer: binding.layer, gesture: binding.gesture ?? ('press' as const) };
      dropBindings(draft, (other) => isOn(other, ref, place));
      addBinding(draft, {
        ...binding,
        control: ref,
        ...(binding.when ? { when: binding.when.map((c) => moved(c, spec.strips)) } : {}),
        actions: binding.actions.map((action) => moved(action, spec.strips)),
      });
    }
  });
}
