import {
  addHost,
  addSurface,
  emptyProfile,
  neapRink,
  nineFerriesMix,
  type Scope,
  type Profile,
} from '@rondo/core/profile';
import { HARROW_8, STOCK_SURFACES, type InputPart, type Surface } from '@rondo/core/surface';
import { NOTHING_OWN, libraryWith } from '../../../engine/library';
import { Names } from '../names';
import { windowOf } from './bank-window';
import { choiceKey } from './choice';
import { search, searchWithValues } from './choice-search';
import { choicesFor } from './choices';
import { enterChoices, stateChoices } from './state-choices';

const named = (profile: Profile) => new Names(profile, libraryWith(NOTHING_OWN));
const control = (id: string) => HARROW_8.controls.find((c) => c.id === id)!;
const choices = (id: string, part: InputPart) =>
  choicesFor(named(nineFerriesMix()), HARROW_8, control(id), part, (ref) => ref.control);
const labels = (id: string, part: InputPart, typed: string) =>
  search(choices(id, part), typed).map((choice) => choice.label);

test('finds by words in any order, by synonyms and by track name', () => {
  expect(labels('fader-1', 'value', 'narrator vol')[0]).toBe('Volume, Narrator');
  expect(labels('fader-1', 'value', 'loudness cello')[0]).toBe('Volume, Cello');
  expect(labels('fader-1', 'value', 'eq low gain cello')[0]).toBe('Equaliser low gain, Cello');
  expect(labels('mute-1', 'push', 'metronome')).toEqual(['Click']);
  expect(labels('mute-1', 'push', 'no such words')).toEqual([]);
});

test('the control’s own strip of the bank comes first', () => {
  expect(labels('fader-3', 'value', 'vol')[0]).toBe('Volume, strip 3 of the bank');
});

test('says what a function is bound to already', () => {
  expect(search(choices('fader-1', 'value'), 'volume strip 2')[0].boundTo).toBe('fader-2');
});

test('a function stands there once, until an instance is named or a scope is chosen', () => {
  const all = choices('fader-3', 'value');
  const volumes = (typed: string, scope?: 'selected' | 'fixed') =>
    search(all, typed, scope)
      .map(({ label }) => label)
      .filter((label) => label.startsWith('Volume'));
  expect(volumes('volume')).toEqual(['Volume, strip 3 of the bank']);
  expect(volumes('volume selected')).toEqual(['Volume, the selected track']);
  expect(volumes('volume', 'selected')).toEqual(['Volume, the selected track']);
  expect(volumes('volume', 'fixed')).toHaveLength(20);
});

test('abbreviations find: first letters of a label', () => {
  expect(labels('fader-1', 'value', 'elmf')[0]).toMatch('Equaliser low-mid frequency');
});

test('what was used lately comes first, where it fits', () => {
  const all = choices('fader-1', 'value');
  const tempo = all.find(({ label }) => label === 'Tempo')!;
  const recent = [choiceKey(tempo)];
  expect(search(all, '', 'any', recent)[0].label).toBe('Tempo');
  expect(search(all, 'pan', 'any', recent)[0].label).not.toBe('Tempo');
});

test('offers only what a part can drive, and never what the host only tells', () => {
  const offered = (id: string, part: InputPart) =>
    new Set(
      choices(id, part).map(({ action }) =>
        action.do === 'function' ? action.function : action.do,
      ),
    );
  for (const id of ['volume', 'pan', 'tempo', 'insert1Parameter3', 'send2'])
    expect(offered('fader-1', 'value').has(id)).toBe(true);
  for (const id of ['scrub', 'mute', 'play', 'meter', 'name', 'bank'])
    expect(offered('fader-1', 'value').has(id)).toBe(false);
  expect(offered('jog', 'value').has('scrub')).toBe(true);
  // A press is one tick, on or back.
  expect(labels('mute-1', 'push', 'scrub').slice(0, 2)).toEqual(['Scrub', 'Scrub, back']);
  expect(offered('mute-1', 'push').has('bank')).toBe(true);
  expect(offered('mute-1', 'push').has('focusHas1')).toBe(false);
});

test('a parameter of the plug-in in focus stands once, in the order that is set', () => {
  const line = 'Parameter 1 of the plug-in in focus';
  const found = choices('fader-1', 'value').filter(({ label }) => label === line);
  expect(found.map(({ scope }) => scope)).toEqual(['focus']);
});

test('a bus has no arm to offer', () => {
  expect(labels('arm-1', 'push', 'arm dialogue')).toEqual([]);
});

test('an extender makes the window wider, and what stands beside it as a desk of its own does not', () => {
  const mix = nineFerriesMix();
  expect(windowOf(named(mix))).toBe(8);
  expect(windowOf(named(addSurface(mix, 'harrow-8-side', 'Side').document))).toBe(16);
  expect(windowOf(named(addSurface(mix, 'harrow-8', 'Another').document))).toBe(8);
});

test('with several hosts each function says whose it is, and is found by that', () => {
  const alone = choices('fader-1', 'value');
  expect(alone.filter(({ host }) => host)).toEqual([]);
  const two = addHost(nineFerriesMix(), 'booth', 'Booth').document;
  const all = choicesFor(named(two), HARROW_8, control('fader-1'), 'value', (ref) => ref.control);
  const functions = all.filter(({ action }) => action.do === 'function');
  expect(new Set(functions.map(({ host }) => host))).toEqual(new Set(['Studio', 'Booth']));
  // No two lines read the same.
  const lines = functions.map(({ label, host, category }) => `${label} ${host} ${category}`);
  expect(lines.filter((line, at) => lines.indexOf(line) !== at)).toEqual([]);
  expect(search(all, 'booth volume')[0].host).toBe('Booth');
});

test('of several hosts, two of one kind among them, no two lines read the same wherever one is chosen', () => {
  const two = addHost(nineFerriesMix(), 'booth', 'Booth').document;
  const three = addHost(two, 'studio', 'Second Studio').document;
  const push = choicesFor(named(three), HARROW_8, control('function-1'), 'push', () => '');
  for (const list of [
    push,
    stateChoices(named(three)),
    stateChoices(named(three), 'set'),
    enterChoices(named(three)),
  ]) {
    const lines = list.map(({ label, host }) => `${label} / ${host}`);
    expect(lines.filter((line, at) => lines.indexOf(line) !== at)).toEqual([]);
  }
});

test('a box that says nothing of strips has as many as stand side by side', () => {
  const alone = (model: string) => {
    const { document } = addSurface(emptyProfile('p', 'P'), model, 'It');
    return windowOf(named({ ...document, surfaceOrder: document.surfaceOrder.slice(-1) }));
  };
  // Five knobs in a row; five faders; eight columns of pads; pedals in an arc are no strips.
  expect(['plinth-32', 'burrow-14', 'cobble-64', 'treadle'].map(alone)).toEqual([5, 5, 8, 8]);
});

test('a desk of four strips has a window of four, and its keys move the bank by four', () => {
  const small: Surface = {
    ...HARROW_8,
    id: 'small',
    controls: HARROW_8.controls.filter(({ strip = 0 }) => strip < 4),
  };
  const own = libraryWith({ surfaces: { small }, hosts: {} });
  const { document } = addSurface(emptyProfile('p', 'P'), 'small', 'Small');
  const profile = { ...document, surfaceOrder: document.surfaceOrder.slice(-1) };
  expect(windowOf(new Names(profile, own))).toBe(4);
  const found = choicesFor(new Names(profile, own), small, control('function-1'), 'push', () => '');
  expect(found.flatMap(({ action }) => (action.do === 'bank' ? [action.by] : []))).toEqual([
    -4, 4, -1, 1,
  ]);
});

test('where one deck is usual, a function stands for that deck; what it has not goes where the control suggests', () => {
  const grid = STOCK_SURFACES.get('cobble-64')!;
  const pad = grid.controls.find(({ id }) => id === 'pad-1')!;
  const first = (typed: string, usual: Scope | null) =>
    search(
      choicesFor(
        named(neapRink()),
        grid,
        pad,
        'push',
        () => '',
        [],
        () => usual,
      ),
      typed,
    )[0].label;
  expect(first('sync', null)).toBe('Sync, the deck in focus');
  expect(first('sync', { kind: 'fixed', strip: 1 })).toBe('Sync, Deck 2');
  expect(first('sync', { kind: 'selected' })).toBe('Sync, the deck in focus');
  // Who asks for another by its name gets that.
  expect(first('sync deck 4', { kind: 'fixed', strip: 1 })).toBe('Sync, Deck 4');
  expect(first('record', { kind: 'fixed', strip: 1 })).toBe('Record');
  expect(first('sync', { kind: 'fixed', strip: 99 })).toBe('Sync, the deck in focus');
});

test('a value behind the function sets it: every value of every choice is found by its own name', () => {
  const grid = STOCK_SURFACES.get('cobble-64')!;
  const pad = grid.controls.find(({ id }) => id === 'pad-1')!;
  const all = choicesFor(named(neapRink()), grid, pad, 'push', () => '');
  const first = (typed: string) => {
    const [{ label, action }] = searchWithValues(all, typed);
    return [label, action.do === 'function' ? [action.behaviour, action.to] : null];
  };
  expect(first('key shift -9')).toEqual([
    'Key shift, the deck in focus: −9 semitones',
    ['set', 3 / 24],
  ]);
  expect(first('key shift +9')[0]).toBe('Key shift, the deck in focus: +9 semitones');
  expect(first('key shift deck 3 -1')[0]).toBe('Key shift, Deck 3: −1 semitone');
  expect(first('loop length 8 beats')[0]).toBe('Loop length, the deck in focus: 8 beats');
  expect(first('loop length 1/4')[0]).toBe('Loop length, the deck in focus: 1/4 beat');
  // What has all the words is that, and no value.
  expect(first('hot cue 3')[0]).toBe('Hot cue 3, the deck in focus');
  expect(searchWithValues(all, 'key shift never')).toEqual([]);
});
