import { expectingId } from '@rondo/core/host';
import { proposeStandIn, setStandsIn, type Profile } from '@rondo/core/profile';
import { STOCK_SURFACES, type Surface } from '@rondo/core/surface';

/** A program that expects a whole desk. */
export const DESK_PROGRAM = expectingId(['whole-desk']);
/** The host that a profile has first. */
export const hostId = (profile: Profile) => profile.hostOrder[0];

/** A surface stands in for all that a program expects, as Rondo proposes it. */
export const standing =
  (
    surface: string,
    expected: readonly string[],
    n = 1,
    made: Readonly<Record<string, Surface>> = {},
  ) =>
  (profile: Profile): Profile => {
    const id = `surface-${n}`;
    const units = expected.map((one) => STOCK_SURFACES.get(one)!);
    const own = made[surface] ?? STOCK_SURFACES.get(surface)!;
    const standsIn = proposeStandIn(profile, id, own, hostId(profile), units);
    return setStandsIn(profile, id, standsIn).document;
  };
