import { edit, type Edited } from '@rondo/core/document';
import type { Control, Surface } from '@rondo/core/surface';
import type { Action, Condition } from './action.js';
import { putCopies } from './edit.js';
import type { Profile } from './profile.js';

/** The half that is copied. */
export type Side = 'left' | 'right' | 'top' | 'bottom';
/** How the other half is laid out: like the first once more, or like it in a mirror. */
export type MirrorOrder = 'same' | 'mirrored';

export interface MirrorSpec {
  readonly surface: string;
  readonly from: Side;
  /** Whichever fits the panel better, where it is left out. */
  readonly order?: MirrorOrder;
  /** Strips, from 0, that its functions are changed from and to: deck 1 to deck 2. Null where they stay. */
  readonly strips: { readonly from: number; readonly to: number } | null;
  /** Layer whose bindings are copied; all where it is left out. */
  readonly layer?: string;
  /** What is bound in the other half already stays. */
  readonly keep?: boolean;
}

/** A control and the one that stands for it in the other half. */
export interface MirrorPair {
  readonly from: Control;
  readonly to: Control;
}

/** What copying a half does, before it is done. */
export interface MirrorPreview {
  readonly pairs: readonly MirrorPair[];
  /** Controls of the other half that are bound to something else already. */
  readonly replaces: readonly Control[];
  /** Bound controls of the half for which nothing stands in the other. */
  readonly leftOut: readonly Control[];
}

type Axis = 'x' | 'y';
const AXIS: Readonly<Record<Side, Axis>> = { left: 'x', right: 'x', top: 'y', bottom: 'y' };
const isFirst = (side: Side): boolean => side === 'left' || side === 'top';

const middleOf = (control: Control, axis: Axis): number =>
  axis === 'x' ? control.x + control.width / 2 : control.y + control.height / 2;

/** How far apart two places of alike controls are, in millimetres; infinite where they are not alike. */
function distance(control: Control, other: Control, axis: Axis, place: number): number {
  if (other.kind !== control.kind) return Infinity;
  const across: Axis = axis === 'x' ? 'y' : 'x';
  return Math.hypot(
    middleOf(other, axis) - place,
    middleOf(other, across) - middleOf(control, across),
  );
}

const words: Readonly<Record<Axis, readonly (readonly [string, string])[]>> = {
  x: [
    ['left', 'right'],
    ['Left', 'Right'],
  ],
  y: [
    ['top', 'bottom'],
    ['upper', 'lower'],
  ],
};

/** The control of the other half that is called the same but for its side. */
function byName(surface: Surface, control: Control, axis: Axis): Control | undefined {
  for (const [a, b] of words[axis])
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

/** Where a panel, or a row of it, is folded into two halves, and how far they are apart, in millimetres. */
interface Fold {
  readonly centre: number;
  readonly shift: number;
}

/** What is nearer than this to a middle stands in it, in millimetres. */
const NEAR = 0.01;
/** How much the distances in an even row may differ, as a share of one. */
const UNEVEN = 0.25;

/**
 * Where the halves of a control’s own row meet: an even row of like controls that reaches over the middle of the panel has
 * a middle of its own, so that the fourth of seven stands for itself. Everything else is folded with the panel.
 */
function foldOf(surface: Surface, control: Control, axis: Axis): Fold {
  const whole = axis === 'x' ? surface.width : surface.height;
  const panel = { centre: whole / 2, shift: whole / 2 };
  const across: Axis = axis === 'x' ? 'y' : 'x';
  const size = across === 'x' ? control.width : control.height;
  const row = surface.controls
    .filter(
      (other) =>
        other.kind === control.kind &&
        Math.abs(middleOf(other, across) - middleOf(control, across)) < size / 2,
    )
    .map((other) => middleOf(other, axis))
    .sort((a, b) => a - b);
  const [first, last] = [row[0], row[row.length - 1]];
  const pitch = (last - first) / (row.length - 1);
  const isEven = row.every(
    (place, at) => at === 0 || Math.abs(place - row[at - 1] - pitch) <= UNEVEN * pitch,
  );
  if (row.length < 3 || !isEven || first > panel.centre || last < panel.centre) return panel;
  return { centre: (first + last) / 2, shift: pitch * Math.ceil(row.length / 2) };
}

/** What stands on one side, and on the other; what stands in the middle is of neither. */
function halvesOf(
  { controls }: Surface,
  from: Side,
  foldAt: (control: Control) => Fold,
): Readonly<Record<'half' | 'other', readonly Control[]>> {
  const axis = AXIS[from];
  const side = (control: Control) => {
    const beyond = middleOf(control, axis) - foldAt(control).centre;
    return Math.abs(beyond) < NEAR ? 0 : beyond < 0 === isFirst(from) ? 1 : -1;
  };
  return {
    half: controls.filter((control) => side(control) === 1),
    other: controls.filter((control) => side(control) === -1),
  };
}

/**
 * Controls of one half with those that stand for them in the other: by name where the sides are in the names, else by
 * place, in the order that was asked for.
 */
export function mirrorPairs(surface: Surface, from: Side, order?: MirrorOrder): MirrorPair[] {
  const axis = AXIS[from];
  const places = new Map(
    surface.controls.map((control) => [control, foldOf(surface, control, axis)]),
  );
  const foldAt = (control: Control) => places.get(control) as Fold;
  const { half, other } = halvesOf(surface, from, foldAt);
  const shiftOf = (control: Control) => foldAt(control).shift * (isFirst(from) ? 1 : -1);
  const match = (placeOf: (control: Control) => number) => {
    const free = new Set(other);
    let cost = 0;
    const pairs: MirrorPair[] = [];
    for (const control of half) {
      const named = byName(surface, control, axis);
      let best: Control | undefined = named;
      let least = named ? 0 : Infinity;
      if (!named)
        for (const candidate of free) {
          const far = distance(control, candidate, axis, placeOf(control));
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
  const same = match((control) => middleOf(control, axis) + shiftOf(control));
  const mirrored = match((control) => 2 * foldAt(control).centre - middleOf(control, axis));
  if (order) return (order === 'same' ? same : mirrored).pairs;
  return same.cost <= mirrored.cost ? same.pairs : mirrored.pairs;
}

/** What copying a half would do. */
export function mirrorPreview(profile: Profile, surface: Surface, spec: MirrorSpec): MirrorPreview {
  const pairs = mirrorPairs(surface, spec.from, spec.order);
  const bound = new Set(
    profile.bindingOrder.flatMap((key) => {
      const { control, layer } = profile.bindings[key];
      const here = control?.surface === spec.surface;
      return here && (spec.layer === undefined || spec.layer === layer) ? [control.control] : [];
    }),
  );
  const axis = AXIS[spec.from];
  const { half } = halvesOf(surface, spec.from, (control) => foldOf(surface, control, axis));
  const paired = new Set(pairs.map(({ from }) => from.id));
  return {
    pairs: pairs.filter(({ from }) => bound.has(from.id)),
    replaces: pairs.flatMap(({ from, to }) => (bound.has(from.id) && bound.has(to.id) ? [to] : [])),
    leftOut: half.filter(({ id }) => bound.has(id) && !paired.has(id)),
  };
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
  const { pairs, replaces } = mirrorPreview(profile, surface, spec);
  const kept = new Set(spec.keep ? replaces.map(({ id }) => id) : []);
  const to = new Map(pairs.map((pair) => [pair.from.id, pair.to.id]));
  const copies = profile.bindingOrder.flatMap((key) => {
    const { id: _id, ...binding } = profile.bindings[key];
    const { control, layer } = binding;
    if (control?.surface !== spec.surface) return [];
    if (spec.layer !== undefined && layer !== spec.layer) return [];
    const target = to.get(control.control);
    if (target === undefined || kept.has(target)) return [];
    const conditions = (when: readonly Condition[] | undefined) =>
      when ? { when: when.map((c) => moved(c, spec.strips)) } : {};
    return [
      {
        ...binding,
        control: { ...control, control: target },
        ...conditions(binding.when),
        actions: binding.actions.map((action) => ({
          ...moved(action, spec.strips),
          ...conditions(action.when),
        })),
      },
    ];
  });
  return edit(profile, name, (draft) => putCopies(draft, copies));
}
