import fc from 'fast-check';
import {
  BOOTH,
  HOST_MODELS,
  blankHost,
  STUDIO,
  modelOfHost,
  readChart,
  type HostModel,
} from '@rondo/core/host';
import { readMessage, type Template } from '@rondo/core/wire';
import { undo } from '@rondo/core/document';
import { CROSSTIE_2, HARROW_8, PLINTH_32 } from '@rondo/core/surface';
import {
  addLayer,
  addShowing,
  alongsOf,
  applySeries,
  bind,
  bindingsOf,
  copyLayer,
  counted,
  emptyProfile,
  mirror,
  mirrorPairs,
  mirrorPreview,
  type MirrorOrder,
  type MirrorSpec,
  type Side,
  neapRink,
  nineFerriesMix,
  removeFlag,
  removeHost,
  removeLayer,
  mendReferences,
  seriesOf,
  swapControls,
  swapLayers,
  type Action,
  type Along,
  type ControlRef,
  type FunctionAction,
  type Profile,
} from './index.js';

const fn = (
  name: string,
  scope: FunctionAction['scope'],
  more: Partial<FunctionAction> = {},
): FunctionAction => ({
  do: 'function',
  host: 'studio',
  function: name,
  scope,
  behaviour: 'follow',
  ...more,
});
const modelOf = (host: string) => HOST_MODELS.get(host);
const on = (control: string, part: ControlRef['part'] = 'value', surface = 'desk'): ControlRef => ({
  surface,
  control,
  part,
});
const actionsOn = (profile: Profile, ref: ControlRef) =>
  bindingsOf(profile, ref).flatMap(({ actions }) => actions);

/** A series from one binding along the controls of a surface. */
function series(
  profile: Profile,
  surface: typeof HARROW_8,
  ref: ControlRef,
  count: number,
  along: Along,
  by = 1,
  controlStep = 1,
) {
  const [binding] = bindingsOf(profile, ref);
  const entries = seriesOf(
    profile,
    surface,
    { binding: binding.id, count, along, by, controlStep },
    modelOf,
  );
  return { entries, made: applySeries(profile, 'Series', binding.id, entries) };
}

describe('series', () => {
  test('fader 1 → track 1, fader 2 → track 2 …, shown before it is made, taken back in one step', () => {
    const start = bind(
      emptyProfile('p', 'P'),
      'Bind',
      on('fader-1'),
      fn('volume', { kind: 'fixed', strip: 0 }),
    ).document;
    const { entries, made } = series(start, HARROW_8, on('fader-1'), 8, 'strip');
    expect(entries.map(({ control }) => control.control)).toEqual(
      [1, 2, 3, 4, 5, 6, 7, 8].map((n) => `fader-${n}`),
    );
    for (let n = 1; n <= 8; n++)
      expect(actionsOn(made.document, on(`fader-${n}`))).toEqual([
        fn('volume', { kind: 'fixed', strip: n - 1 }),
      ]);
    expect(undo(made.document, made.edit!)).toEqual(start);
    // Once more it replaces nothing; with other functions it replaces all but its own.
    const taken = (along: Along) =>
      series(made.document, HARROW_8, on('fader-1'), 8, along).entries.map((one) => one.taken);
    expect(taken('strip')).toEqual(Array(8).fill(false));
    expect(taken('nothing')).toEqual([false, ...Array<boolean>(7).fill(true)]);
  });

  test('keys as semitones: the middle key 0, the next +1, down to −12 and up to +12', () => {
    const middle = BOOTH.functions
      .find(({ id }) => id === 'keyShift')!
      .choices!.indexOf('0 semitones');
    const shift: Action = fn(
      'keyShift',
      { kind: 'selected' },
      { host: 'booth', behaviour: 'set', to: 0 },
    );
    const start = bind(neapRink(), 'Bind', on('key-5', 'push', 'keys'), shift).document;
    const { entries } = series(start, PLINTH_32, on('key-5', 'push', 'keys'), 25, 'value');
    const values = entries.map(
      ({ actions }) => Math.round((actions![0] as FunctionAction).to! * 24) - middle,
    );
    expect(values).toEqual(Array.from({ length: 25 }, (_, n) => n - 12));
  });

  test('functions that end are not bound, and steps skip controls', () => {
    const start = bind(
      emptyProfile('p', 'P'),
      'Bind',
      on('function-1', 'push'),
      fn('marker7', { kind: 'host' }, { behaviour: 'set', to: 1 }),
    ).document;
    const { entries, made } = series(start, HARROW_8, on('function-1', 'push'), 4, 'number', 1, 2);
    expect(
      entries.map(({ control, actions }) => [
        control.control,
        (actions?.[0] as FunctionAction | undefined)?.function,
      ]),
    ).toEqual([
      ['function-1', 'marker7'],
      ['function-3', 'marker8'],
      ['function-5', undefined],
      ['function-7', undefined],
    ]);
    expect(actionsOn(made.document, on('function-5', 'push'))).toEqual([]);
  });

  test('functions of one name go on over the numbers that are left out between', () => {
    const chart = modelOfHost({
      ...blankHost('chart', 'Chart'),
      rows: [
        ...readChart('name;message\nMacro 1;CC 20\nMacro 2;CC 21\nMacro 5;CC 24\nTone;CC 30').rows,
      ],
    });
    const action = fn(chart.functions[0].id, { kind: 'host' }, { host: 'chart' });
    const names = (along: Along, by: number) =>
      [0, 1, 2, 3, 4].map((n) => {
        const next = counted(action, along, n * by, chart) as FunctionAction | null;
        return next && chart.functions.find(({ id }) => id === next.function)!.label;
      });
    expect(alongsOf(action, chart)).toEqual(['number', 'row', 'nothing']);
    expect(names('number', 1)).toEqual(['Macro 1', 'Macro 2', 'Macro 5', null, null]);
    expect(names('row', 1)).toEqual(['Macro 1', 'Macro 2', 'Macro 5', 'Tone', null]);
    expect(names('row', 2)).toEqual(['Macro 1', 'Macro 5', null, null, null]);
  });

  test('hot cues, markers, loop lengths and the parameters of what has focus go on along their own list', () => {
    const along = (action: FunctionAction, host: HostModel) => alongsOf(action, host)[0];
    const booth = { host: 'booth', behaviour: 'set', to: 0 } as const;
    expect(along(fn('hotCue3', { kind: 'selected' }, booth), BOOTH)).toBe('number');
    expect(along(fn('loopLength', { kind: 'selected' }, booth), BOOTH)).toBe('value');
    expect(along(fn('marker1', { kind: 'host' }), STUDIO)).toBe('number');
    expect(along(fn('focus', { kind: 'focus', slot: 0 }), STUDIO)).toBe('strip');
  });

  test('a message goes on by its note, controller or program number, and ends with the numbers (MIDI 1.0)', () => {
    const send = (message: string): Action => ({ do: 'send', to: { host: 'synth' }, message });
    const on10 = (action: Action, by: number) => counted(action, 'message', by, undefined);
    fc.assert(
      fc.property(
        fc.integer({ min: 0x80, max: 0xcf }),
        fc.nat(127),
        fc.integer({ min: -130, max: 130 }),
        (status, number, by) => {
          const hex = (byte: number) => byte.toString(16).padStart(2, '0');
          const rest = status >= 0xc0 ? '' : ' value';
          const action = send(`${hex(status)} ${hex(number)}${rest}`);
          expect(alongsOf(action, undefined)).toEqual(['message', 'nothing']);
          const next = on10(action, by);
          if (number + by < 0 || number + by > 127) return expect(next).toBeNull();
          const read = readMessage((next as { message: string }).message);
          expect([...(read as Template).bytes].slice(0, 2)).toEqual([status, number + by]);
        },
      ),
    );
    for (const none of ['F0 7D 01 F7', 'E0 00 40', 'D0 10', 'F8', ''])
      expect(alongsOf(send(none), undefined)).toEqual(['nothing']);
  });

  test('the controls that are chosen one by one take it in that order; what has not the part is passed over', () => {
    const start = bind(
      emptyProfile('p', 'P'),
      'Bind',
      on('mute-1', 'push'),
      fn('mute', { kind: 'fixed', strip: 0 }, { behaviour: 'toggle' }),
    ).document;
    const [binding] = bindingsOf(start, on('mute-1', 'push'));
    const spec = { binding: binding.id, count: 2, controlStep: 1, along: 'strip', by: 1 } as const;
    const controls = ['solo-4', 'fader-2', 'play', 'gone'];
    const entries = seriesOf(start, HARROW_8, { ...spec, controls }, modelOf);
    expect(
      entries.map(({ control, actions }) => [
        control.control,
        (actions![0] as FunctionAction).scope,
      ]),
    ).toEqual([
      ['mute-1', { kind: 'fixed', strip: 0 }],
      ['solo-4', { kind: 'fixed', strip: 1 }],
      ['play', { kind: 'fixed', strip: 2 }],
    ]);
  });

  test('what a strip has not is left out: the master cannot be armed', () => {
    const arm = fn('arm', { kind: 'fixed', strip: 15 }, { behaviour: 'toggle' });
    const start = bind(emptyProfile('p', 'P'), 'Bind', on('arm-1', 'push'), arm).document;
    const { entries } = series(start, HARROW_8, on('arm-1', 'push'), 3, 'strip');
    expect(STUDIO.strips[16].group).toBe('bus');
    expect(entries.map(({ actions }) => actions !== null)).toEqual([true, false, false]);
  });
});

test('the left half copied to the right: deck 1 becomes deck 2, control by control', () => {
  const pairs = mirrorPairs(CROSSTIE_2, 'left');
  for (const { from, to } of pairs.filter(({ from: f }) => f.id.startsWith('left-')))
    expect(to.id).toBe(from.id.replace('left', 'right'));
  let profile = neapRink();
  profile = bind(
    profile,
    'Bind',
    on('left-high', 'value', 'mixer'),
    fn('stem1', { kind: 'fixed', strip: 0 }, { host: 'booth' }),
  ).document;
  const { document } = mirror(profile, 'Copy', CROSSTIE_2, {
    surface: 'mixer',
    from: 'left',
    strips: { from: 0, to: 1 },
  });
  expect(actionsOn(document, on('right-high', 'value', 'mixer'))).toEqual([
    fn('stem1', { kind: 'fixed', strip: 1 }, { host: 'booth' }),
  ]);
  expect(actionsOn(document, on('left-high', 'value', 'mixer'))).toEqual(
    actionsOn(profile, on('left-high', 'value', 'mixer')),
  );
});

test('a panel that repeats itself is matched by place, with no name to go by', () => {
  const controls = [0, 1, 2, 3].map((n) => ({
    ...HARROW_8.controls.find(({ id }) => id === 'fader-1')!,
    id: `f${n}`,
    x: 10 + n * 50,
  }));
  const surface = { ...HARROW_8, width: 200, controls };
  expect(mirrorPairs(surface, 'left').map(({ from, to }) => `${from.id}-${to.id}`)).toEqual([
    'f0-f2',
    'f1-f3',
  ]);
});

test('an even row that is not in the middle of its panel is folded in its own middle', () => {
  const fader = HARROW_8.controls.find(({ id }) => id === 'fader-1')!;
  fc.assert(
    fc.property(
      fc.integer({ min: 3, max: 16 }),
      fc.integer({ min: 0, max: 100 }),
      fc.integer({ min: 20, max: 40 }),
      (count, left, pitch) => {
        const controls = Array.from({ length: count }, (_, n) => ({
          ...fader,
          id: `f${n}`,
          x: left + n * pitch,
          width: 15,
        }));
        // The panel's middle is somewhere between the first and the last of the row.
        const width = 2 * (left + 7.5 + (pitch * (count - 1)) / 3);
        const pairs = (from: Side, order: MirrorOrder) =>
          mirrorPairs({ ...HARROW_8, width, controls }, from, order).map(
            (pair) => `${pair.from.id}-${pair.to.id}`,
          );
        const [half, shift] = [Math.floor(count / 2), Math.ceil(count / 2)];
        const of = (to: (n: number) => number) =>
          Array.from({ length: half }, (_, n) => `f${n}-f${to(n)}`);
        expect(pairs('left', 'same')).toEqual(of((n) => n + shift));
        expect(pairs('left', 'mirrored')).toEqual(of((n) => count - 1 - n));
      },
    ),
  );
});

test('a half is mirrored by place, left and right or top and bottom, as in a mirror or in the same order', () => {
  const fader = HARROW_8.controls.find(({ id }) => id === 'fader-1')!;
  const at = (id: string, x: number, y: number) => ({ ...fader, id, x, y, width: 20, height: 20 });
  const controls = [at('a', 10, 10), at('b', 60, 10), at('c', 110, 10), at('d', 160, 10)].flatMap(
    (one) => [one, { ...one, id: `${one.id}2`, y: 80 }],
  );
  const surface = { ...HARROW_8, width: 190, height: 110, controls };
  const pairs = (from: Side, order: MirrorOrder) =>
    mirrorPairs(surface, from, order).map((pair) => `${pair.from.id}-${pair.to.id}`);
  expect(pairs('left', 'same').sort()).toEqual(['a-c', 'a2-c2', 'b-d', 'b2-d2']);
  expect(pairs('left', 'mirrored').sort()).toEqual(['a-d', 'a2-d2', 'b-c', 'b2-c2']);
  expect(pairs('top', 'mirrored').sort()).toEqual(['a-a2', 'b-b2', 'c-c2', 'd-d2']);
  expect(pairs('bottom', 'same').sort()).toEqual(['a2-a', 'b2-b', 'c2-c', 'd2-d']);
});

test('copying a half does what was said of it before: replaces that, leaves that out, keeps what is to be kept', () => {
  const ids = HARROW_8.controls.filter(({ kind }) => kind === 'fader').map(({ id }) => id);
  fc.assert(
    fc.property(
      fc.subarray(ids),
      fc.constantFrom<Side>('left', 'right', 'top', 'bottom'),
      fc.constantFrom<MirrorOrder>('same', 'mirrored'),
      fc.boolean(),
      (bound, from, order, keep) => {
        const profile = bound.reduce(
          (now, id, strip) =>
            bind(now, 'B', on(id), fn('volume', { kind: 'fixed', strip })).document,
          emptyProfile('p', 'P'),
        );
        const spec: MirrorSpec = { surface: 'desk', from, order, keep, strips: null };
        const { pairs, replaces } = mirrorPreview(profile, HARROW_8, spec);
        const { document } = mirror(profile, 'Copy', HARROW_8, spec);
        const kept = new Set(keep ? replaces.map(({ id }) => id) : []);
        for (const id of ids) {
          const pair = pairs.find(({ to }) => to.id === id);
          const source = pair && !kept.has(id) ? pair.from.id : id;
          expect(actionsOn(document, on(id))).toEqual(actionsOn(profile, on(source)));
        }
      },
    ),
  );
});

test('replace, add and swap: what was there goes, stays beside it, or takes the other’s place', () => {
  const profile = nineFerriesMix();
  const target = fn('volume', { kind: 'window', offset: 1 });
  const before = actionsOn(profile, on('fader-1'));
  expect(actionsOn(bind(profile, 'B', on('fader-1'), target).document, on('fader-1'))).toEqual([
    target,
  ]);
  const added = bind(profile, 'B', on('fader-1'), target, {}, 'add').document;
  expect(actionsOn(added, on('fader-1'))).toEqual([...before, target]);
  const swapped = bind(profile, 'B', on('fader-1'), target, {}, 'swap').document;
  expect([actionsOn(swapped, on('fader-1')), actionsOn(swapped, on('fader-2'))]).toEqual([
    [target],
    before,
  ]);
});

test('layers are added, copied with all they do, swapped and removed; two controls are exchanged', () => {
  const start = nineFerriesMix();
  const added = addLayer(start);
  expect(added.document.layerOrder.at(-1)).toBe(added.id);
  const copied = copyLayer(start, 'shift');
  const of = (profile: Profile, layer: string) =>
    profile.bindingOrder.filter((key) => profile.bindings[key].layer === layer).length;
  expect(of(copied.document, copied.id)).toBe(of(start, 'shift'));
  // What it shows on other lights goes along.
  const shown = addShowing(start, 'Shown', {
    layer: 'shift',
    shows: { layer: 'shift' },
    on: [{ surface: 'desk', control: 'mute-1', part: 'light' }],
    spread: 'same',
  }).document;
  const copy = copyLayer(shown, 'shift');
  const showings = (layer: string) =>
    copy.document.showingOrder
      .map((key) => copy.document.showings[key])
      .filter((one) => one.layer === layer)
      .map(({ shows, on: lights, spread }) => ({ shows, lights, spread }));
  expect(showings(copy.id)).toHaveLength(1);
  // What shows whether its own layer is on shows that of the copy.
  const [original] = showings('shift');
  expect(showings(copy.id)).toEqual([{ ...original, shows: { layer: copy.id } }]);
  const swapped = swapLayers(start, 'sends', 'shift').document;
  expect([of(swapped, 'sends'), of(swapped, 'shift')]).toEqual([
    of(start, 'shift'),
    of(start, 'sends'),
  ]);
  const removed = removeLayer(start, 'shift');
  expect([of(removed.document, 'shift'), removed.document.layerOrder.includes('shift')]).toEqual([
    0,
    false,
  ]);
  expect(undo(removed.document, removed.edit!)).toEqual(start);
  expect(removeLayer(start, 'base').edit).toBeNull();
  const both = swapControls(start, 'Swap', on('play', 'push'), on('stop', 'push'), 'base').document;
  expect(actionsOn(both, on('play', 'push')).map((a) => (a as FunctionAction).function)).toContain(
    'stop',
  );
});

test('what names a flag that is gone is mended in one step, and the binding works again', () => {
  const gone = removeFlag(nineFerriesMix(), 'foot-record').document;
  const asks = (profile: Profile) =>
    profile.bindingOrder.filter((key) =>
      JSON.stringify(profile.bindings[key]).includes('foot-record'),
    );
  expect(asks(gone).length).toBe(2);
  const mended = mendReferences(gone, asks(gone)).document;
  expect(asks(mended)).toEqual([]);
  expect(actionsOn(mended, on('pedal-2', 'push', 'feet'))).toHaveLength(1);
});

test('a series that counts its controls backwards ends at the first, and binds what it shows', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 7 }),
      fc.integer({ min: -4, max: -1 }),
      fc.integer({ min: 1, max: 12 }),
      (from, step, count) => {
        let profile = emptyProfile('p', 'P');
        profile = bind(
          profile,
          'Bind',
          { surface: 'desk', control: `fader-${from + 1}`, part: 'value' },
          fn('volume', { kind: 'fixed', strip: 10 }),
        ).document;
        const binding = profile.bindingOrder.at(-1)!;
        const entries = seriesOf(
          profile,
          HARROW_8,
          { binding, count, controlStep: step, along: 'strip', by: 1 },
          (id) => HOST_MODELS.get(id),
        );
        const meant = Array.from({ length: count }, (_, n) => from + n * step).filter(
          (n) => n >= 0,
        );
        expect(entries.map(({ control }) => control.control)).toEqual(
          meant.map((n) => `fader-${n + 1}`),
        );
        const made = applySeries(profile, 'Series', binding, entries).document;
        for (const { control, actions } of entries)
          if (actions)
            expect(bindingsOf(made, control).map((one) => one.actions)).toEqual([actions]);
      },
    ),
  );
});

test('a host that is taken out takes along all that goes to it or comes of it, and an undo brings all of it back', () => {
  let profile: Profile = { ...neapRink() };
  const [host] = profile.hostOrder;
  const key: ControlRef = { surface: profile.surfaceOrder[0], control: 'x', part: 'push' };
  const scope = { kind: 'fixed' as const, strip: 0 };
  const layer = profile.layerOrder[0];
  const add = (id: string, binding: object) => {
    profile = {
      ...profile,
      bindings: {
        ...profile.bindings,
        [id]: { id, layer, control: key, actions: [], ...binding } as never,
      },
      bindingOrder: [...profile.bindingOrder, id],
    };
  };
  add('send', { actions: [{ do: 'send', to: { host } }] });
  add('notes', { actions: [{ do: 'notes', to: { host }, channel: 1, notes: [60] }] });
  add('page', { actions: [{ do: 'focusPage', host, by: 1, wrap: false }] });
  add('cause', {
    control: undefined,
    cause: { host, function: 'play', scope, when: 'on' },
    actions: [{ do: 'bank', by: 1 }],
  });
  add('kept', {
    actions: [
      { do: 'send', to: { host } },
      { do: 'bank', by: 1 },
    ],
  });
  const { document, edit } = removeHost(profile, host);
  const mentions = JSON.stringify([
    document.bindings,
    document.showings,
    document.focusOrders ?? {},
    document.layers,
  ]);
  expect(mentions).not.toContain(`"host":"${host}"`);
  expect(document.bindings['kept'].actions).toEqual([{ do: 'bank', by: 1 }]);
  for (const id of ['send', 'notes', 'page', 'cause'])
    expect(document.bindings).not.toHaveProperty(id);
  expect(undo(document, edit!)).toEqual(profile);
});
