import type { Workbench } from './workbench';

/**
 * Who takes no messages, so that nothing can come back: the surface in hand, or, with nothing in hand, all of the profile's;
 * null where something can.
 */
export function deafName(
  bench: Pick<Workbench, 'surface' | 'surfaceOf' | 'profile'>,
): string | null {
  const inHand = bench.surface();
  const order = bench.profile()?.surfaceOrder ?? [];
  const surfaces = inHand ? [inHand] : order.flatMap((id) => bench.surfaceOf(id) ?? []);
  return surfaces.length > 0 && surfaces.every(({ device }) => !device.takes)
    ? surfaces.map(({ name }) => name).join(', ')
    : null;
}
