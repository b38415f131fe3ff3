import { STUDIO } from '@rondo/core/host';
import {
  BEHAVIOURS,
  emptyProfile,
  nineFerriesMix,
  neapRink,
  farShore,
  type Action,
  type Profile,
} from '@rondo/core/profile';
import { GENERIC_SURFACE, cc, control, note } from '../../testing/bare-surface.js';
import { stockLibrary } from '../../testing/random-room.js';
import { compile, mismatchOf } from '../index.js';
import { InputMode } from './part-plan.js';

const fn = (kind: string) => STUDIO.functions.find((one) => one.kind === kind)!;
const action = (behaviour: (typeof BEHAVIOURS)[number], name: string): Action => ({
  do: 'function',
  host: 'studio',
  function: name,
  scope: { kind: 'host' },
  behaviour,
});
const works = (mode: InputMode, kind: string) =>
  BEHAVIOURS.filter((behaviour) => !mismatchOf(action(behaviour, fn(kind).id), mode, fn(kind)));

test('what each way of telling can do with each kind of function', () => {
  for (const kind of ['continuous', 'toggle', 'choice']) {
    expect(works(InputMode.Absolute, kind)).toEqual(['follow']);
    expect(works(InputMode.Relative, kind)).toEqual(['follow', 'set', 'step']);
  }
  for (const mode of [InputMode.Press, InputMode.Touch]) {
    expect(works(mode, 'continuous')).toEqual([...BEHAVIOURS]);
    expect(works(mode, 'toggle')).toEqual(['toggle', 'momentary', 'set', 'step']);
    expect(works(mode, 'choice')).toEqual(['toggle', 'momentary', 'set', 'step']);
  }
});

test('every mismatch has a reason, and its mend works', () => {
  for (const mode of [InputMode.Absolute, InputMode.Relative, InputMode.Press])
    for (const kind of ['continuous', 'toggle', 'choice', 'trigger'])
      for (const behaviour of BEHAVIOURS) {
        const found = mismatchOf(action(behaviour, fn(kind).id), mode, fn(kind));
        if (!found) continue;
        expect(found.why).toMatch(/\.$/);
        expect(found.mend).not.toBeNull();
        expect(mismatchOf(action(found.mend!, fn(kind).id), mode, fn(kind))).toBeNull();
      }
});

test('what is to be held, and layers, need a press', () => {
  const to = { host: 'studio' };
  const hold: Action = { do: 'layer', layer: 'base', how: 'hold' };
  const notes: Action = { do: 'notes', to, channel: 1, notes: [60] };
  for (const one of [hold, notes]) {
    expect(mismatchOf(one, InputMode.Press, undefined)).toBeNull();
    expect(mismatchOf(one, InputMode.Relative, undefined)?.mend).toBeNull();
    expect(mismatchOf(one, InputMode.Absolute, undefined)?.mend).toBeNull();
  }
  expect(mismatchOf({ do: 'bank', by: 1 }, InputMode.Relative, undefined)).toBeNull();
  expect(mismatchOf({ do: 'bank', by: 1 }, InputMode.Absolute, undefined)).not.toBeNull();
  expect(mismatchOf({ do: 'send', to }, InputMode.Absolute, undefined)).toBeNull();
});

test('what cannot work is listed with its mend and does nothing, and the rest of its binding works', () => {
  const surface = {
    ...GENERIC_SURFACE,
    controls: [
      control('knob', 'knob', { value: cc(20) }),
      control('key', 'button', { push: note(1) }),
    ],
  };
  const profile: Profile = {
    ...emptyProfile('p', 'P'),
    surfaces: { s: { id: 's', model: 'bare', label: 'Bare' } },
    surfaceOrder: ['s'],
  };
  const [layer] = profile.layerOrder;
  profile.bindings = {
    a: {
      id: 'a',
      layer,
      control: { surface: 's', control: 'knob', part: 'value' },
      actions: [
        { ...action('toggle', 'mute'), scope: { kind: 'fixed', strip: 0 } } as Action,
        { ...action('follow', 'volume'), scope: { kind: 'fixed', strip: 0 } } as Action,
      ],
    },
  };
  profile.bindingOrder = ['a'];
  const plan = compile(profile, { ...stockLibrary, surface: () => surface });
  expect(plan.broken).toMatchObject([{ binding: 'a', what: 'behaviour', mend: 'follow' }]);
  expect(plan.actions.map(({ broken, mend }) => [broken, mend])).toEqual([
    [true, 'follow'],
    [false, null],
  ]);
});

test.each([nineFerriesMix, neapRink, farShore])(
  'the demo %p has nothing that cannot work',
  (demo) => {
    const { broken } = compile(demo(), stockLibrary);
    expect(broken.filter(({ what }) => what === 'behaviour')).toEqual([]);
  },
);
