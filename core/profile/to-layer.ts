import { edit, type Edited } from '@rondo/core/document';
import type { Draft } from 'immer';
import { addBinding, dropBindings } from './edit.js';
import type { Binding, Profile } from './profile.js';

/** What becomes of two bindings of one gesture that meet on a layer: the first stays, the last takes its place, or both. */
export const LANDINGS = ['keep', 'replace', 'beside'] as const;
export type Landing = (typeof LANDINGS)[number];

/** The gesture that a binding hangs on; null for what a host's change causes, which never meets another. */
const gestureOf = ({ control, gesture = 'press' }: Binding): string | null =>
  control ? JSON.stringify([control.surface, control.control, control.part, gesture]) : null;

/** What comes to a layer, gesture by gesture, and what is there already; layer by layer, the lowest first. */
interface Meeting {
  readonly there: readonly Binding[];
  /** By the layer that they come from. */
  readonly coming: readonly (readonly Binding[])[];
}

function meetings(profile: Profile, ids: readonly string[], layer: string): Meeting[] {
  const wanted = new Set(ids);
  const all = profile.bindingOrder.map((id) => profile.bindings[id]);
  const coming = all.filter((one) => wanted.has(one.id) && one.layer !== layer);
  const there = all.filter((one) => one.layer === layer);
  const causes = coming.filter((one) => gestureOf(one) === null);
  const gestures = new Set(coming.flatMap((one) => gestureOf(one) ?? []));
  return [
    ...causes.map((one) => ({ there: [], coming: [[one]] })),
    ...[...gestures].map((gesture) => ({
      there: there.filter((one) => gestureOf(one) === gesture),
      coming: profile.layerOrder
        .map((from) => coming.filter((one) => one.layer === from && gestureOf(one) === gesture))
        .filter((list) => list.length > 0),
    })),
  ];
}

/** How many of some bindings would land on what is on a layer already, or on one another. */
export const landingOn = (profile: Profile, ids: readonly string[], layer: string): number =>
  meetings(profile, ids, layer).reduce((count, { there, coming }) => {
    const all = coming.flat().length;
    return count + (there.length > 0 ? all : all - coming[0].length);
  }, 0);

/** What arrives of what would come, and what gives way to it. */
function arriving(
  profile: Profile,
  ids: readonly string[],
  layer: string,
  landing: Landing,
): { readonly arrive: readonly Binding[]; readonly gone: ReadonlySet<string> } {
  const arrive = new Set<string>();
  const gone = new Set<string>();
  for (const { there, coming } of meetings(profile, ids, layer)) {
    const meets = there.length > 0 || coming.length > 1;
    const list =
      landing === 'beside' || !meets
        ? coming.flat()
        : landing === 'replace'
          ? // Of several layers the topmost plays, and takes the place of the others.
            (coming.at(-1) ?? [])
          : there.length > 0
            ? []
            : coming[0];
    for (const { id } of list) arrive.add(id);
    if (landing === 'replace') for (const { id } of there) gone.add(id);
  }
  return {
    arrive: profile.bindingOrder.filter((id) => arrive.has(id)).map((id) => profile.bindings[id]),
    gone,
  };
}

/** Moves some bindings to another layer. What does not arrive stays where it is. */
export function moveToLayer(
  profile: Profile,
  name: string,
  ids: readonly string[],
  layer: string,
  landing: Landing,
): Edited<Profile> {
  const { arrive, gone } = arriving(profile, ids, layer, landing);
  return edit(profile, name, (draft) => {
    dropBindings(draft, ({ id }) => gone.has(id));
    for (const { id } of arrive) draft.bindings[id].layer = layer;
  });
}

/** Copies some bindings to another layer, each with all that it has. */
export function copyToLayer(
  profile: Profile,
  name: string,
  ids: readonly string[],
  layer: string,
  landing: Landing,
): Edited<Profile> {
  const { arrive, gone } = arriving(profile, ids, layer, landing);
  return edit(profile, name, (draft) => {
    dropBindings(draft, ({ id }) => gone.has(id));
    for (const { id: _id, ...binding } of arrive)
      addBinding(draft, { ...(binding as Draft<Omit<Binding, 'id'>>), layer });
  });
}
