import fc from 'fast-check';
import { undo } from '@rondo/core/document';
import { bindingsThen, bringControlBack, controlsThatDiffer, type Profile } from './index.js';
import { DEMOS, lot, profileBy } from '../testing/random-room.js';

const two = fc
  .tuple(
    fc.constantFrom(...Object.keys(DEMOS)),
    fc.array(lot, { maxLength: 8 }),
    fc.array(lot, { maxLength: 8 }),
  )
  .map(([demo, then, now]): [Profile, Profile] => [profileBy(demo, then), profileBy(demo, now)]);
const what = (profile: Profile, key: string) => {
  const [surface, control] = key.split(' ');
  // By what they say: an id may be another one by now.
  return bindingsThen(profile, profile, { surface, control }).there.map(
    ({ id: _id, ...said }) => said,
  );
};

test('two versions differ where one of them does something else, and nowhere else', () => {
  fc.assert(
    fc.property(two, ([then, now]) => {
      expect(controlsThatDiffer(then, then).size).toBe(0);
      const differs = controlsThatDiffer(then, now);
      expect(controlsThatDiffer(now, then)).toEqual(differs);
      const keys = [then, now].flatMap(({ bindings }) =>
        Object.values(bindings).flatMap(({ control }) =>
          control ? [`${control.surface} ${control.control}`] : [],
        ),
      );
      for (const key of keys)
        if (!differs.has(key)) expect(what(now, key)).toEqual(what(then, key));
    }),
    { numRuns: 30 },
  );
});

test('one control is as it was, all others stay as they are, and undo takes that back', () => {
  fc.assert(
    fc.property(two, fc.nat(), ([then, now], at) => {
      const differs = [...controlsThatDiffer(then, now)];
      if (differs.length === 0) return;
      const key = differs[at % differs.length];
      const [surface, control] = key.split(' ');
      const { document, edit } = bringControlBack(now, then, { surface, control }, 'It');
      expect(what(document, key)).toEqual(what(then, key));
      for (const other of new Set([...controlsThatDiffer(now, document)])) expect(other).toBe(key);
      expect(edit?.name).toBe('It as it was');
      if (edit) expect(undo(document, edit)).toEqual(now);
    }),
    { numRuns: 30 },
  );
});

test('what was bound on a layer that is gone is not brought back, and counted', () => {
  const [then, now] = [profileBy('shore', []), profileBy('shore', [])];
  const binding = Object.values(then.bindings).find(({ control }) => control)!;
  const layer = 'gone';
  const before: Profile = {
    ...then,
    layers: { ...then.layers, [layer]: { id: layer, label: 'Gone' } },
    layerOrder: [...then.layerOrder, layer],
    bindings: { ...then.bindings, [binding.id]: { ...binding, layer } },
  };
  const of = { surface: binding.control!.surface, control: binding.control!.control };
  expect(bindingsThen(now, before, of).lost).toBe(1);
});
