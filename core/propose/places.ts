import { bindingsOf, type ControlRef, type Profile } from '@rondo/core/profile';
import {
  mainPart,
  sendsOf,
  turns,
  type Control,
  type InputPart,
  type Surface,
} from '@rondo/core/surface';
import { stripsOf } from './strips.js';

/** A control that is free for a proposal, with what matters of where it stands. */
export interface Place {
  readonly ref: ControlRef;
  readonly control: Control;
  readonly part: InputPart;
  readonly relative: boolean;
  /** Strip from 0, counted on through units that extend each other; null outside of strips. */
  readonly strip: number | null;
  /** Which of its strip it is among what is moved, or among what is pressed, from the top. */
  readonly rank: number;
  /** What is written on it and beside it, in small letters. */
  readonly says: string;
}

export interface SurfaceOf {
  readonly id: string;
  readonly surface: Surface;
}

/** Keys of a keyboard are for playing: so many of them on one panel are left alone. */
const KEYBOARD = 12;

/** The places of some surfaces, in the order of the panels, and how many strips they make together. */
export function placesOf(
  profile: Profile,
  surfaces: readonly SurfaceOf[],
): { readonly free: readonly Place[]; readonly width: number } {
  const free: Place[] = [];
  let width = 0;
  for (const { id, surface } of surfaces) {
    const strips = stripsOf(surface);
    const count = Math.max(0, ...[...strips.values()].map((strip) => strip + 1));
    const first = surface.device.desk === 'extender' ? width : 0;
    const isKeyboard = surface.controls.filter(({ kind }) => kind === 'key').length >= KEYBOARD;
    const ranks = new Map<string, number>();
    for (const control of [...surface.controls].sort((a, b) => a.y - b.y || a.x - b.x)) {
      const part = mainPart(control.kind);
      if (!part || (control.kind === 'key' && isKeyboard)) continue;
      const sends = sendsOf(surface, control)[part];
      if (!sends) continue;
      const own = strips.get(control.id);
      const strip = own === undefined ? null : own + first;
      const group = `${strip ?? 'alone'} ${part}`;
      const rank = ranks.get(group) ?? 0;
      ranks.set(group, rank + 1);
      const ref: ControlRef = { surface: id, control: control.id, part };
      const isBound = bindingsOf(profile, ref, { layer: profile.layerOrder[0] }).length > 0;
      if (isBound) continue;
      const says = `${control.label} ${control.legend ?? ''}`.toLowerCase();
      free.push({
        ref,
        control,
        part,
        relative: turns(surface, control, part),
        strip,
        rank,
        says,
      });
    }
    if (count > 0)
      width = surface.device.desk === 'extender' ? width + count : Math.max(width, count);
  }
  return { free, width };
}
