import { bindingsOf, type Action, type ControlRef, type Profile } from '@rondo/core/profile';
import {
  mainPart,
  sendsOf,
  turns,
  type Control,
  type InputPart,
  type Surface,
} from '@rondo/core/surface';
import { RULES } from './purposes.data.js';
import { stripsOf } from './strips.js';

/** A control that is free for a proposal, with what matters of where it stands. */
export interface Place {
  readonly ref: ControlRef;
  readonly control: Control;
  readonly part: InputPart;
  readonly relative: boolean;
  /** Strip from 0, counted on through units that extend each other; null outside of strips. */
  readonly strip: number | null;
  /** How many strips its surface has. */
  readonly strips: number;
  /** What is written on it and beside it, in small letters. */
  readonly says: string;
}

export interface SurfaceOf {
  readonly id: string;
  readonly surface: Surface;
}

/** Keys of a keyboard are for playing: so many of them on one panel are left alone. */
const KEYBOARD = 12;

/** Whether what is on the lowest layer may be covered by a layer: never its keys, nor what stops and starts. */
const mayBeCovered = (action: Action): boolean =>
  action.do === 'function' &&
  !(
    action.scope.kind === 'host' &&
    RULES.some(({ purpose, id }) => purpose === 'transport' && id.test(action.function))
  );

/**
 * The places of some surfaces, in the order of the panels: those that are free on the lowest layer, and those that a layer
 * above may use too; and how many strips they make: the desk with its extenders, else the surface that has most.
 */
export function placesOf(
  profile: Profile,
  surfaces: readonly SurfaceOf[],
): { readonly free: readonly Place[]; readonly above: readonly Place[]; readonly width: number } {
  const free: Place[] = [];
  const above: Place[] = [];
  let desk = 0;
  let most = 0;
  // An extender goes on from its desk, whichever was added first.
  const isExtender = ({ surface }: SurfaceOf) => Number(surface.device.desk === 'extender');
  for (const { id, surface } of [...surfaces].sort((a, b) => isExtender(a) - isExtender(b))) {
    const strips = stripsOf(surface);
    const count = Math.max(0, ...[...strips.values()].map((strip) => strip + 1));
    const isDesk = surface.device.desk !== undefined;
    const first = surface.device.desk === 'extender' ? desk : 0;
    const isKeyboard = surface.controls.filter(({ kind }) => kind === 'key').length >= KEYBOARD;
    for (const control of [...surface.controls].sort((a, b) => a.y - b.y || a.x - b.x)) {
      const part = mainPart(control.kind);
      if (!part || (control.kind === 'key' && isKeyboard)) continue;
      // What springs back would take with it whatever it was put on.
      if (control.springs && part === 'value') continue;
      const sends = sendsOf(surface, control)[part];
      if (!sends) continue;
      const own = strips.get(control.id);
      const strip = own === undefined ? null : own + first;
      const ref: ControlRef = { surface: id, control: control.id, part };
      const bound = bindingsOf(profile, ref, { layer: profile.layerOrder[0] });
      const says = `${control.label} ${control.legend ?? ''}`.toLowerCase();
      const place: Place = {
        ref,
        control,
        part,
        relative: turns(surface, control, part),
        strip,
        strips: count,
        says,
      };
      if (bound.length === 0) free.push(place);
      if (bound.every(({ actions }) => actions.every(mayBeCovered))) above.push(place);
    }
    if (isDesk) desk = Math.max(desk, first + count);
    most = Math.max(most, count);
  }
  return { free, above, width: desk > 0 ? desk : most };
}
