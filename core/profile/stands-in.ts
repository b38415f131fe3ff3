import { edit, type Edited } from '@rondo/core/document';
import type { Surface } from '@rondo/core/surface';
import type { Profile, StandsIn } from './profile.js';
import { expectedKey, matchControls } from './stand-in-match.js';

/**
 * What a surface of a profile could stand in for before a program: what is bound by itself on the lowest layer is left
 * alone, and what others stand in for already is left to them, so that several make one desk together. Where they have
 * it all, it may do the same once more.
 * @param expected the units that the program expects
 */
export function proposeStandIn(
  profile: Profile,
  id: string,
  surface: Surface,
  host: string,
  expected: readonly Surface[],
): StandsIn {
  const [base] = profile.layerOrder;
  const keep = new Set<string>();
  for (const key of profile.bindingOrder) {
    const { control, layer } = profile.bindings[key];
    if (control?.surface === id && layer === base) keep.add(control.control);
  }
  const covered = new Set<string>();
  for (const other of profile.surfaceOrder) {
    const { standsIn } = profile.surfaces[other];
    if (other === id || standsIn?.host !== host) continue;
    for (const pair of standsIn.pairs) covered.add(expectedKey(pair.unit, pair.for));
  }
  const open = matchControls(surface, expected, keep, covered);
  return { host, pairs: open.length > 0 ? open : matchControls(surface, expected, keep) };
}

const nameOf = (profile: Profile, surface: string): string => profile.surfaces[surface].label;

/** Lets a surface stand in for what a host's program expects; null lets it be itself again. */
export const setStandsIn = (
  profile: Profile,
  surface: string,
  standsIn: StandsIn | null,
): Edited<Profile> =>
  edit(
    profile,
    standsIn
      ? `${nameOf(profile, surface)} stands in for another`
      : `${nameOf(profile, surface)} stands in for nothing`,
    (draft) => {
      if (standsIn) draft.surfaces[surface].standsIn = standsIn;
      else Reflect.deleteProperty(draft.surfaces[surface], 'standsIn');
    },
  );

/** Says which control stands in for an expected one; null for none. */
export const setPair = (
  profile: Profile,
  surface: string,
  expected: { readonly for: string; readonly unit: number },
  control: string | null,
): Edited<Profile> =>
  edit(profile, `What stands in for ${expected.for}`, (draft) => {
    const { standsIn } = draft.surfaces[surface];
    if (!standsIn) return;
    const at = standsIn.pairs.findIndex(
      (pair) => pair.for === expected.for && pair.unit === expected.unit,
    );
    if (control === null) {
      if (at >= 0) standsIn.pairs.splice(at, 1);
      return;
    }
    const pair = { control, for: expected.for, unit: expected.unit };
    // One control stands in for one other.
    const other = standsIn.pairs.findIndex((one) => one.control === control);
    if (other >= 0 && other !== at) standsIn.pairs.splice(other, 1);
    const now = standsIn.pairs.findIndex(
      (one) => one.for === expected.for && one.unit === expected.unit,
    );
    if (now >= 0) standsIn.pairs[now] = pair;
    else standsIn.pairs.push(pair);
  });
