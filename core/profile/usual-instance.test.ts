import fc from 'fast-check';
import { undo } from '@rondo/core/document';
import { BOOTH, STUDIO } from '@rondo/core/host';
import {
  instancesInUse,
  layerAlone,
  moveInstance,
  neapRink,
  nineFerriesMix,
  putLayer,
  readProfile,
  removeHost,
  removeSurface,
  setUsual,
  targetOf,
  usualAt,
  usualFor,
  type Profile,
  type Scope,
  type UsualPlace,
} from './index.js';

const deck = (n: number): Scope => ({ kind: 'fixed', strip: n - 1 });
const SELECTED: Scope = { kind: 'selected' };
const set = (profile: Profile, place: UsualPlace, scope: Scope | null): Profile =>
  setUsual(profile, place, 'booth', scope).document;
const pads = (control: string) => ({ surface: 'pads', control, part: 'push' as const });
const usual = (profile: Profile, control: string, layer = 'base') =>
  usualFor(profile, pads(control), layer, 'booth');

test('a layer comes before a part of a surface, a part before the surface; another host has its own', () => {
  let profile = set(neapRink(), { surface: 'pads' }, deck(2));
  expect(usual(profile, 'pad-1')).toEqual(deck(2));
  profile = set(profile, { surface: 'pads', controls: ['pad-1', 'pad-2'] }, deck(3));
  expect([usual(profile, 'pad-1'), usual(profile, 'pad-3')]).toEqual([deck(3), deck(2)]);
  profile = set(profile, { layer: 'stems' }, SELECTED);
  expect([usual(profile, 'pad-1', 'stems'), usual(profile, 'pad-1')]).toEqual([SELECTED, deck(3)]);
  expect(usualFor(profile, null, 'stems', 'booth')).toEqual(SELECTED);
  expect(usualFor(profile, null, 'base', 'booth')).toBeNull();
  expect(usualFor(profile, pads('pad-1'), 'stems', 'studio')).toBeNull();
  expect(readProfile(JSON.parse(JSON.stringify(profile)))).toMatchObject({ ok: true });

  // Taken away it leaves nothing behind.
  for (const place of [
    { layer: 'stems' },
    { surface: 'pads', controls: ['pad-1', 'pad-2'] },
    { surface: 'pads' },
  ])
    profile = set(profile, place, null);
  expect(profile).toEqual(neapRink());
});

test('it goes with what it belongs to, and comes along with a layer that is read elsewhere', () => {
  const both = set(set(neapRink(), { surface: 'pads' }, deck(2)), { layer: 'stems' }, deck(4));
  expect(usual(removeSurface(both, 'pads').document, 'pad-1')).toBeNull();
  const without = removeHost(both, 'booth').document;
  expect(usualFor(without, pads('pad-1'), 'stems', 'booth')).toBeNull();
  const { document, id } = putLayer(neapRink(), layerAlone(both, 'stems'));
  expect(usualAt(document, { layer: id! }, 'booth')).toEqual(deck(4));
});

test('moved, all that the other has goes to it, nothing else changes, and undo takes it back', () => {
  const cases: readonly [Profile, string, typeof BOOTH][] = [
    [neapRink(), 'booth', BOOTH],
    [nineFerriesMix(), 'studio', STUDIO],
  ];
  let moved = 0;
  for (const [profile, host, model] of cases)
    fc.assert(
      fc.property(
        fc.constantFrom<UsualPlace>(
          ...profile.surfaceOrder.map((surface) => ({ surface })),
          ...profile.layerOrder.map((layer) => ({ layer })),
        ),
        fc.nat(),
        fc.oneof(
          fc.nat(model.strips.length - 1).map((strip): Scope => ({ kind: 'fixed', strip })),
          fc.constant(SELECTED),
        ),
        (place, pick, to) => {
          const inUse = instancesInUse(profile, place, host);
          if (inUse.length === 0) return;
          const { scope: from, count } = inUse[pick % inUse.length];
          const known = inUse.find(({ scope }) => JSON.stringify(scope) === JSON.stringify(to));
          const done = moveInstance(profile, place, host, from, to, model);
          if (JSON.stringify(from) === JSON.stringify(to)) return expect(done.edit).toBeNull();
          const after = instancesInUse(done.document, place, host);
          const countOf = (scope: Scope) =>
            after.find((one) => JSON.stringify(one.scope) === JSON.stringify(scope))?.count ?? 0;
          expect(countOf(from)).toBe(done.stayed);
          expect(countOf(to)).toBe((known?.count ?? 0) + count - done.stayed);
          moved += count - done.stayed;
          expect(done.edit ? undo(done.document, done.edit) : done.document).toEqual(profile);
          // What it is a function of is the same everywhere; only whose it is has changed.
          const what = (p: Profile) =>
            p.bindingOrder.map((key) =>
              p.bindings[key].actions.map((action) =>
                action.do === 'function' ? action.function : targetOf(action),
              ),
            );
          expect(what(done.document)).toEqual(what(profile));
        },
      ),
    );
  expect(moved).toBeGreaterThan(0);
});

test('what the other has not stays where it is: the master cannot be armed', () => {
  const profile = nineFerriesMix();
  const arm = profile.bindingOrder.find((key) => {
    const [action] = profile.bindings[key].actions;
    return action.do === 'function' && action.function === 'arm';
  })!;
  const [action] = profile.bindings[arm].actions;
  const fixed: Profile = {
    ...profile,
    bindings: {
      ...profile.bindings,
      [arm]: {
        ...profile.bindings[arm],
        actions: [{ ...action, scope: { kind: 'fixed', strip: 2 } } as typeof action],
      },
    },
  };
  const { control } = fixed.bindings[arm];
  const place = { surface: control!.surface, controls: [control!.control] };
  const master = STUDIO.strips.findIndex(({ group }) => group === 'master');
  const from: Scope = { kind: 'fixed', strip: 2 };
  const to: Scope = { kind: 'fixed', strip: master };
  const done = moveInstance(fixed, place, 'studio', from, to, STUDIO);
  expect(done).toMatchObject({ stayed: 1, edit: null });
});
