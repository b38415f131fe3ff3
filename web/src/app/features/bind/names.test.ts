import { BOOTH, STUDIO, choicesOf, valueOfChoice } from '@rondo/core/host';
import {
  addHost,
  neapRink,
  nineFerriesMix,
  usualBehaviour,
  type FunctionAction,
  type Profile,
} from '@rondo/core/profile';
import fc from 'fast-check';
import { NOTHING_OWN, libraryWith } from '../../engine/library';
import { Names } from './names';

const named = (profile: Profile) => new Names(profile, libraryWith(NOTHING_OWN));

const both = addHost(nineFerriesMix(), 'booth', 'Booth').document;
/** How a press would do a function of a host, wherever it can. */
const pressed = (host: 'studio' | 'booth') =>
  (host === 'studio' ? STUDIO : BOOTH).functions.flatMap((fn) => {
    const behaviour = usualBehaviour(fn, 'push', false);
    if (!behaviour) return [];
    const scope =
      fn.per === 'host' ? { kind: 'host' as const } : { kind: 'fixed' as const, strip: 0 };
    return [
      {
        fn,
        action: { do: 'function', host, function: fn.id, scope, ...behaviour } as FunctionAction,
      },
    ];
  });

test('what a key starts is called by its name, never by a state that only the host gives it', () => {
  const clip = pressed('studio').find(({ fn }) => fn.id === 'clip1')!;
  expect(named(both).tape(clip.action, 0)).toBe('Clip 1');
  for (const { fn, action } of [...pressed('studio'), ...pressed('booth')]) {
    if (fn.waits === undefined) continue;
    expect(choicesOf(fn)).not.toContain(named(both).tape(action, 0));
  }
});

test('a key that sets one of several is called after that one', () => {
  const settable = pressed('booth').filter(
    ({ fn }) => fn.kind === 'choice' && fn.waits === undefined && (fn.choices?.length ?? 0) > 1,
  );
  fc.assert(
    fc.property(fc.constantFrom(...settable), fc.nat(200), ({ fn, action }, which) => {
      const choices = choicesOf(fn)!;
      const at = which % choices.length;
      const to = valueOfChoice(choices.length, at);
      const { by: _by, wrap: _wrap, ...rest } = action;
      const set = { ...rest, behaviour: 'set' as const, to };
      expect(named(both).tape(set, 0)).toBe(choices[at]);
    }),
  );
});

test('every binding of the demo has a name and a tape, and none says undefined', () => {
  for (const profile of [nineFerriesMix(), neapRink()])
    for (const key of profile.bindingOrder)
      for (const action of profile.bindings[key].actions)
        for (const text of [named(profile).action(action), named(profile).tape(action, 0)])
          expect(text).toMatch(/^(?!.*(undefined|null|NaN)).+/);
});
