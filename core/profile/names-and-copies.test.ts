import fc from 'fast-check';
import { redo } from '@rondo/core/document';
import { HOST_MODELS } from '@rondo/core/host';
import { HARROW_8, PLINTH_32, surfaceSchema } from '@rondo/core/surface';
import {
  addBindingTo,
  addFlag,
  addHost,
  addLayer,
  addSurface,
  applySeries,
  bind,
  bindingsOf,
  controlsLike,
  mirror,
  mirrorPreview,
  nineFerriesMix,
  removeFlag,
  removeHost,
  removeLayer,
  removeSurface,
  seriesOf,
  takeIdsFrom,
  type Action,
  type Binding,
  type Condition,
  type ControlRef,
  type Profile,
} from './index.js';

/*
 * A name means one thing for ever, and a copy has all that its original has. By meaning, on profiles whose controls have
 * several bindings at once, told apart by conditions.
 */

beforeEach(() => takeIdsFrom());

const modelOf = (host: string) => HOST_MODELS.get(host);
const on = (control: string, part: ControlRef['part'] = 'push'): ControlRef => ({
  surface: 'desk',
  control,
  part,
});
const mute = (offset: number): Action => ({
  do: 'function',
  host: 'studio',
  function: 'mute',
  scope: { kind: 'window', offset },
  behaviour: 'toggle',
});
const flagIs = (is: 'on' | 'off'): Condition => ({ flag: 'take', is });
const soloIs = (offset: number): Condition => ({
  host: 'studio',
  function: 'solo',
  scope: { kind: 'window', offset },
  is: 'on',
});
/** A control with two bindings of one gesture, by whether a take is running. */
const twice = (profile: Profile, control: string, ...actions: [Action, Action]): Profile =>
  actions.reduce<Profile>(
    (before, action, n) =>
      addBindingTo(before, 'Add', {
        layer: 'base',
        control: on(control),
        when: [flagIs(n === 0 ? 'on' : 'off')],
        actions: [action],
      }).document,
    profile,
  );
/** What a control does, apart from where it is. */
const does = (profile: Profile, control: string) =>
  bindingsOf(profile, on(control), { layer: 'base' }).map(({ when, actions, gesture }) => ({
    when: when ?? [],
    actions,
    gesture,
  }));

test('two windows that each make something at once keep both', () => {
  const start = nineFerriesMix();
  const makers: readonly ((profile: Profile) => ReturnType<typeof addSurface>)[] = [
    addFlag,
    addLayer,
    (profile) => addSurface(profile, 'treadle', 'Treadle'),
    (profile) => addHost(profile, 'studio', 'Studio'),
    (profile) =>
      addBindingTo(profile, 'Add', { layer: 'shift', control: on('mute-1'), actions: [mute(1)] }),
  ];
  for (const make of makers) {
    const [mine, theirs] = [make(start), make(start)];
    const both = redo(mine.document, theirs.edit!);
    const count = (profile: Profile) =>
      profile.flagOrder.length +
      profile.layerOrder.length +
      profile.surfaceOrder.length +
      profile.hostOrder.length +
      profile.bindingOrder.length;
    expect(count(both!)).toBe(2 * count(mine.document) - count(start));
  }
});

test('no edit makes a broken reference mean another thing: what is made anew has a name that nothing had', () => {
  const kinds = [
    [(p: Profile) => removeFlag(p, 'take'), addFlag],
    [(p: Profile) => removeLayer(p, 'shift'), addLayer],
    [(p: Profile) => removeSurface(p, 'feet'), (p: Profile) => addSurface(p, 'treadle', 'Treadle')],
    [(p: Profile) => removeHost(p, 'studio'), (p: Profile) => addHost(p, 'studio', 'Studio')],
  ] as const;
  const texts = (value: unknown): Set<string> =>
    new Set(JSON.stringify(value).match(/"[^"]*"/g) ?? []);
  fc.assert(
    fc.property(fc.constantFrom(...kinds), fc.nat(3), ([remove, add], times) => {
      let profile = twice(nineFerriesMix(), 'function-1', mute(0), mute(1));
      const named = texts(profile);
      profile = remove(profile).document;
      for (let n = 0; n <= times; n++) {
        const before = profile;
        profile = add(profile).document;
        for (const order of ['flagOrder', 'layerOrder', 'surfaceOrder', 'hostOrder'] as const)
          for (const id of profile[order].filter((one) => !before[order].includes(one)))
            expect(named).not.toContain(JSON.stringify(id));
      }
    }),
  );
});

test('a half that is copied has as many bindings as its original, with all they have', () => {
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.integer({ min: 1, max: 8 }), { minLength: 1, maxLength: 5 }),
      fc.boolean(),
      (numbers, keep) => {
        const profile = numbers.reduce(
          (before, n) => twice(before, `mute-${n}`, mute(n - 1), mute(8 - n)),
          nineFerriesMix(),
        );
        const spec = {
          surface: 'desk',
          from: 'left',
          order: 'same',
          strips: null,
          keep,
        } as const;
        const { pairs, replaces } = mirrorPreview(profile, HARROW_8, spec);
        const after = mirror(profile, 'Half', HARROW_8, spec).document;
        for (const { from, to } of pairs)
          if (!keep || !replaces.includes(to))
            for (const gesture of new Set(does(profile, from.id).map((one) => one.gesture))) {
              const of = (in_: Profile, control: string) =>
                does(in_, control).filter((one) => one.gesture === gesture);
              expect(of(after, to.id)).toEqual(of(profile, from.id));
            }
      },
    ),
    { numRuns: 40 },
  );
});

test('an exchange by binding loses nothing: what was here is there, what was there is here, conditions and all', () => {
  const profile = twice(nineFerriesMix(), 'function-1', mute(2), mute(3));
  const [was, theirs] = [does(profile, 'function-1'), does(profile, 'mute-1')];
  expect(was).toHaveLength(3);
  const after = bind(profile, 'Bind', on('function-1'), mute(0), {}, 'swap').document;
  expect(does(after, 'function-1')).toEqual(theirs);
  expect(does(after, 'mute-1')).toEqual(was);
  expect(after.bindingOrder).toEqual(profile.bindingOrder);
});

test('a series counts on its conditions on functions, too, of the binding and of its actions', () => {
  const action = { ...mute(0), when: [soloIs(0), flagIs('on')] };
  const { document: profile } = addBindingTo(nineFerriesMix(), 'Add', {
    layer: 'base',
    control: on('function-1'),
    gesture: 'longPress',
    when: [soloIs(0), flagIs('off')],
    actions: [action],
  });
  const binding = profile.bindingOrder.at(-1)!;
  const spec = { binding, count: 5, controlStep: 1, along: 'strip', by: 1 } as const;
  const entries = seriesOf(profile, HARROW_8, spec, modelOf);
  const after = applySeries(profile, 'Series', binding, entries).document;
  for (let n = 1; n < 5; n++) {
    const [copy]: Binding[] = bindingsOf(after, on(`function-${n + 1}`), {
      layer: 'base',
      gesture: 'longPress',
    });
    expect(copy.when).toEqual([soloIs(n), flagIs('off')]);
    expect(copy.actions).toEqual([{ ...mute(n), when: [soloIs(n), flagIs('on')] }]);
  }
});

test('a series goes along as controls stand, in whatever order they were drawn', () => {
  const key = (n: number, x: number, y: number) => ({
    id: `key-${n}`,
    kind: 'button',
    label: `Key ${n}`,
    x: x * 12,
    y: y * 12,
    width: 10,
    height: 10,
    sends: { push: { type: 'note', channel: 1, number: n } },
  });
  fc.assert(
    fc.property(
      fc.boolean(),
      fc.shuffledSubarray([...Array(12).keys()], { minLength: 12 }),
      (isUpwards, drawn) => {
        const keys = [...Array(12).keys()].map((n) => {
          const row = Math.floor(n / 4);
          return key(n + 1, n % 4, isUpwards ? 2 - row : row);
        });
        const surface = surfaceSchema.parse({
          id: 'keys',
          name: 'Keys',
          width: 100,
          height: 100,
          controls: drawn.map((n) => keys[n]),
        });
        const like = controlsLike(surface, surface.controls[0], 'push');
        expect(like.map(({ id }) => id)).toEqual(keys.map(({ id }) => id));
      },
    ),
  );
  // What ships stands as it is numbered.
  const pads = PLINTH_32.controls.filter(({ kind }) => kind === 'pad');
  expect(controlsLike(PLINTH_32, pads[0], 'push').map(({ id }) => id)).toEqual(
    pads.map(({ id }) => id),
  );
});
