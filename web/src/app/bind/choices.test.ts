import { nineFerriesMix } from '@rondo/core/profile';
import { HARROW_8, type InputPart } from '@rondo/core/surface';
import { choicesFor, search } from './choices';

const control = (id: string) => HARROW_8.controls.find((c) => c.id === id)!;
const choices = (id: string, part: InputPart) =>
  choicesFor(nineFerriesMix(), HARROW_8, control(id), part, (ref) => ref.control);
const labels = (id: string, part: InputPart, typed: string) =>
  search(choices(id, part), typed).map((choice) => choice.label);

test('finds by words in any order, by synonyms and by track name', () => {
  expect(labels('fader-1', 'value', 'narrator vol')).toEqual(['Volume, Narrator']);
  expect(labels('fader-1', 'value', 'gain cello')[0]).toBe('Volume, Cello');
  expect(labels('mute-1', 'push', 'metronome')).toEqual(['Click']);
  expect(labels('mute-1', 'push', 'no such words')).toEqual([]);
});

test('the control’s own strip of the bank comes first', () => {
  expect(labels('fader-3', 'value', 'vol')[0]).toBe('Volume, strip 3 of the bank');
});

test('says what a function is bound to already', () => {
  expect(search(choices('fader-1', 'value'), 'volume strip 2')[0].boundTo).toBe('fader-2');
});

test('offers only what a part can drive', () => {
  const offered = (id: string, part: InputPart) =>
    new Set(
      choices(id, part).map(({ action }) => (action.do === 'function' ? action.function : 'bank')),
    );
  expect(offered('fader-1', 'value')).toEqual(new Set(['volume', 'pan', 'tempo']));
  expect(offered('jog', 'value')).toEqual(new Set(['volume', 'pan', 'tempo', 'scrub']));
  expect(offered('mute-1', 'push').has('scrub')).toBe(false);
  expect(offered('mute-1', 'push').has('bank')).toBe(true);
});

test('a bus has no arm to offer', () => {
  expect(labels('arm-1', 'push', 'arm dialogue')).toEqual([]);
});
