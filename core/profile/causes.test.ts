import { causesAround, emptyProfile, type FunctionAction, type Profile } from './index.js';

const at = (host: string, fn: string, scope: FunctionAction['scope']): FunctionAction => ({
  do: 'function',
  host,
  function: fn,
  scope,
  behaviour: 'set',
});
const mute = at('studio', 'mute', { kind: 'fixed', strip: 2 });
const play = at('booth', 'play', { kind: 'fixed', strip: 0 });
const profile: Profile = {
  ...emptyProfile('p', 'P'),
  bindings: {
    one: {
      id: 'one',
      layer: 'base',
      cause: { host: 'studio', function: 'mute', scope: { kind: 'fixed', strip: 2 }, when: 'on' },
      actions: [play],
    },
  },
  bindingOrder: ['one'],
};
const ids = (action: FunctionAction, bank = 0) => {
  const { setsOff, setBy } = causesAround(profile, action, bank);
  return [setsOff.map(({ id }) => id), setBy.map(({ id }) => id)];
};

test('a host’s change is known at the function that changes and at the one that it sets, in either host', () => {
  expect(ids(mute)).toEqual([['one'], []]);
  expect(ids(play)).toEqual([[], ['one']]);
  expect(ids(at('booth', 'mute', { kind: 'fixed', strip: 2 }))).toEqual([[], []]);
});

test('what stands in the bank window is the strip that is there now', () => {
  const inWindow = at('studio', 'mute', { kind: 'window', offset: 1 });
  expect(ids(inWindow, 0)).toEqual([[], []]);
  expect(ids(inWindow, 1)).toEqual([['one'], []]);
});
