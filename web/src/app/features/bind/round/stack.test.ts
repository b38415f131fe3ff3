import { HOST_MODELS } from '@rondo/core/host';
import { nineFerriesMix, neapRink, type Profile } from '@rondo/core/profile';
import { GestureAt, compile, type Library } from '@rondo/core/round';
import { STOCK_SURFACES } from '@rondo/core/surface';
import fc from 'fast-check';
import { Stack } from './stack';

const stockLibrary: Library = {
  surface: (id) => STOCK_SURFACES.get(id),
  host: (id) => HOST_MODELS.get(id),
};

/** A profile with some bindings pinned, or moved to another layer. */
function changed(profile: Profile, pins: readonly number[], moves: readonly [number, number][]) {
  const { bindingOrder, layerOrder } = profile;
  const bindings = { ...profile.bindings };
  for (const n of pins) {
    const id = bindingOrder[n % bindingOrder.length];
    bindings[id] = { ...bindings[id], pinned: true };
  }
  for (const [n, to] of moves) {
    const id = bindingOrder[n % bindingOrder.length];
    bindings[id] = { ...bindings[id], layer: layerOrder[to % layerOrder.length] };
  }
  return { ...profile, bindings };
}

test('the picture of a layer names what the round does there: pinned before what follows the focus', () => {
  const some = fc.array(fc.nat(999), { maxLength: 12 });
  const moves = fc.array(fc.tuple(fc.nat(999), fc.nat(9)), { maxLength: 12 });
  let pinned = 0;
  fc.assert(
    fc.property(
      fc.constantFrom(nineFerriesMix(), neapRink()),
      some,
      moves,
      fc.nat(9),
      fc.subarray([1, 2, 3, 4]),
      (demo, pins, moved, n, others) => {
        const profile = changed(demo, pins, moved);
        const { layerOrder } = profile;
        const plan = compile(profile, stockLibrary);
        const top = n % layerOrder.length;
        // Layers above the one that is looked at are off.
        const on = new Set([0, top, ...others.filter((at) => at < top)]);
        const stack = new Stack(
          profile,
          layerOrder[top],
          new Set([...on].map((at) => layerOrder[at])),
        );
        for (const { link, control, part, candidates } of plan.parts) {
          const surface = plan.links[link].key.replace('surface:', '');
          const list = candidates[GestureAt.Press].map((index) => plan.bindings[index]);
          // What has conditions may or may not be there: the picture shows the likelier.
          if (list.some(({ id, when }) => when.length > 0 || !(id in profile.bindings))) continue;
          const does = list.find(({ layer }) => on.has(layer));
          const seen = stack.of({ surface, control: control.id, part });
          expect(seen?.binding.id).toBe(does?.id);
          if (seen?.binding.pinned) pinned++;
        }
      },
    ),
    { numRuns: 100 },
  );
  expect(pinned).toBeGreaterThan(0);
});
