import type { Surface } from '@rondo/core/surface';
import type { Workbench } from './workbench';

type Bench = Pick<Workbench, 'surface' | 'surfaceOf' | 'profile'>;

/** Who takes no messages, so that nothing can be shown at all: all surfaces of the profile; null where one does. */
export function allDeaf(bench: Bench): string | null {
  const order = bench.profile()?.surfaceOrder ?? [];
  return namesOfDeaf(order.flatMap((id) => bench.surfaceOf(id) ?? []));
}

/** As {@link allDeaf}, of the surface in hand, where there is one. */
export function deafName(bench: Bench): string | null {
  const inHand = bench.surface();
  return inHand ? namesOfDeaf([inHand]) : allDeaf(bench);
}

function namesOfDeaf(surfaces: readonly Surface[]): string | null {
  return surfaces.length > 0 && surfaces.every(({ device }) => !device.takes)
    ? surfaces.map(({ name }) => name).join(', ')
    : null;
}
