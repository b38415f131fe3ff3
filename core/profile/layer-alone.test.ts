import fc from 'fast-check';
import { dequal } from 'dequal';
import { STOCK_SURFACES } from '@rondo/core/surface';
import {
  addFlag,
  editLayer,
  farShore,
  layerAlone,
  neapRink,
  nineFerriesMix,
  putLayer,
  readProfile,
  removeLayer,
  type Binding,
  type Profile,
} from './index.js';

const demos = [nineFerriesMix(), neapRink(), farShore()];
const layers = demos.flatMap((profile) => profile.layerOrder.map((id) => [profile, id] as const));
/** What hangs on a layer, without the ids that say only where it is kept. */
const on = (profile: Profile, layer: string) => ({
  bindings: profile.bindingOrder
    .map((id) => profile.bindings[id])
    .filter((one) => one.layer === layer)
    .map(({ id: _, layer: __, ...rest }: Binding) => rest),
  showings: profile.showingOrder
    .map((id) => profile.showings[id])
    .filter((one) => one.layer === layer)
    .map(({ id: _, layer: __, ...rest }) => rest),
});
/** Whether something names a layer, which does not come along. */
const namesLayer = (value: object): boolean => /"do":"layer"|"layer":"/.test(JSON.stringify(value));

test.each(layers)(
  'a layer by itself is a whole profile, and holds all that works without others',
  (profile, id) => {
    const alone = layerAlone(profile, id);
    const read = readProfile(JSON.parse(JSON.stringify(alone)));
    expect(read.ok ? read.document : read.faults).toEqual(alone);
    const was = on(profile, id);
    const plain = was.bindings.filter((one) => !namesLayer(one));
    expect(on(alone, id).bindings).toEqual(expect.arrayContaining(plain));
    // Nothing comes along that nothing there names.
    for (const key of [...alone.surfaceOrder, ...alone.hostOrder])
      expect(JSON.stringify([alone.bindings, alone.showings, alone.layers])).toContain(`"${key}"`);
  },
);

test('the law: what is taken out and put in again does as before, and one undo takes it away', () => {
  fc.assert(
    fc.property(fc.constantFrom(...layers), ([profile, id]) => {
      const alone = layerAlone(profile, id);
      const without = removeLayer(profile, id).document;
      const put = putLayer(without, alone);
      expect(put.left).toBe(0);
      expect(readProfile(JSON.parse(JSON.stringify(put.document))).ok).toBe(true);
      expect(on(put.document, put.id!)).toEqual(on(alone, id));
      expect(put.document.layerOrder.at(-1)).toBe(put.id);
      expect(put.edit).not.toBeNull();
    }),
  );
});

test('elsewhere it is found again by model; what has no surface or host there is left out and counted', () => {
  fc.assert(
    fc.property(fc.constantFrom(...layers), fc.constantFrom(...demos), ([profile, id], other) => {
      const alone = layerAlone(profile, id);
      const put = putLayer(other, alone);
      const read = readProfile(JSON.parse(JSON.stringify(put.document)));
      expect(read.ok).toBe(true);
      const taken = on(put.document, put.id!);
      const count = taken.bindings.length + taken.showings.length;
      expect(count + put.left).toBe(alone.bindingOrder.length + alone.showingOrder.length);
      for (const { control, actions } of taken.bindings) {
        if (control) {
          const { model } = put.document.surfaces[control.surface];
          const surface = STOCK_SURFACES.get(model)!;
          expect(surface.controls.some((one) => one.id === control.control)).toBe(true);
        }
        for (const action of actions)
          if ('host' in action) expect(put.document.hosts).toHaveProperty(String(action.host));
      }
      // What was there is as it was.
      for (const key of other.bindingOrder)
        expect(dequal(put.document.bindings[key], other.bindings[key])).toBe(true);
    }),
  );
});

test('a flag is found again by its name, or comes along; what it does to other layers stays behind', () => {
  const start = nineFerriesMix();
  const [base, layer] = start.layerOrder;
  const { document: flagged, id: flag } = addFlag(start, 'Chorus');
  const profile = editLayer(flagged, 'x', layer, (draft) => {
    draft.enter = [
      { do: 'flag', flag, how: 'on' },
      { do: 'layer', layer: base, how: 'on' },
    ];
  }).document;
  const alone = layerAlone(profile, layer);
  expect(alone.layers[layer].enter).toEqual([{ do: 'flag', flag, how: 'on' }]);
  const fresh = putLayer(start, alone);
  const [made] = fresh.document.flagOrder.slice(-1);
  expect(fresh.document.flags[made].label).toBe('Chorus');
  expect(fresh.document.layers[fresh.id!].enter).toEqual([{ do: 'flag', flag: made, how: 'on' }]);
  const again = putLayer(profile, alone);
  expect(again.document.flagOrder).toEqual(profile.flagOrder);
  expect(again.document.layers[again.id!].label).not.toBe(profile.layers[layer].label);
});

test('a profile that has as many layers as it can have takes none more', () => {
  let profile = nineFerriesMix();
  while (profile.layerOrder.length < 64)
    profile = putLayer(profile, layerAlone(profile, profile.layerOrder[0])).document;
  expect(putLayer(profile, layerAlone(profile, profile.layerOrder[0]))).toMatchObject({
    id: null,
    edit: null,
  });
});
