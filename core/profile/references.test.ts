import * as z from 'zod';
import { undo } from '@rondo/core/document';
import { nineFerriesMix } from './demo/index.js';
import { copyLayer, mendReferences, removeFlag, removeLayer } from './layers.js';
import { profileSchema, type Profile } from './profile.js';
import { NAMED, referencesIn, renamed, type Named, type Reference } from './references.js';
import { removeHost, removeSurface } from './surfaces.js';

/** Ids of things that are no entries of a profile: models, controls, onboard pages, set-ups, and what each thing is itself. */
const OF_NO_ENTRY = ['id', 'model', 'control', 'page', 'for', 'controls', 'setUp'];

test('what the schema lets name an entry is what the walker knows', () => {
  const schema = z.toJSONSchema(profileSchema, { unrepresentable: 'any', io: 'input' });
  const ids = new Set<string>();
  const isId = (one: unknown) =>
    /^\^\[a-zA-Z0-9\]\[/.test((one as { pattern?: string })?.pattern ?? '');
  const walk = (one: unknown): void => {
    if (typeof one !== 'object' || one === null) return;
    for (const [key, inner] of Object.entries(one)) {
      if (key === 'properties')
        for (const [name, property] of Object.entries(inner as object)) {
          const { items } = property as { items?: unknown };
          if (isId(property) || (isId(items) && !name.endsWith('Order'))) ids.add(name);
        }
      walk(inner);
    }
  };
  walk(schema);
  expect([...ids].filter((name) => !OF_NO_ENTRY.includes(name)).sort()).toEqual([...NAMED].sort());
});

/** A profile in which every kind of entry is named at every place where it can be. */
function everywhere(): Profile {
  const profile = nineFerriesMix();
  const on = { surface: 'feet', control: 'pedal-1', part: 'push' } as const;
  const asks = [
    { flag: 'take', is: 'on' as const },
    { layer: 'shift', is: 'off' as const },
    { host: 'studio', function: 'record', scope: { kind: 'host' as const }, is: 'on' as const },
  ];
  const does = [
    { do: 'flag', flag: 'take', how: 'on' },
    { do: 'layer', layer: 'shift', how: 'hold' },
    { do: 'send', to: { surface: 'feet' }, message: '90 00 00' },
    { do: 'notes', to: { host: 'studio' }, channel: 1, notes: [60] },
    { do: 'focusPage', host: 'studio', by: 1, wrap: false },
    { do: 'bank', by: 1, when: asks },
  ] as const;
  const full = {
    ...profile,
    layers: {
      ...profile.layers,
      sends: {
        ...profile.layers['sends'],
        page: { surface: 'feet', page: 'a' },
        enter: does,
        leave: does,
        usual: [{ host: 'studio', scope: { kind: 'selected' } }],
      },
    },
    surfaces: {
      ...profile.surfaces,
      feet: {
        ...profile.surfaces['feet'],
        standsIn: { host: 'studio', pairs: [] },
        usual: [{ host: 'studio', scope: { kind: 'selected' } }],
      },
    },
    routes: {
      r1: { id: 'r1', from: { surface: 'feet' }, to: { host: 'studio' }, kinds: [] },
      r2: { id: 'r2', from: { host: 'studio' }, to: { surface: 'desk' }, kinds: [] },
    },
    routeOrder: ['r1', 'r2'],
    focusOrders: { studio: { x: ['y'] } },
    bindings: {
      ...profile.bindings,
      full: { id: 'full', layer: 'shift', control: on, when: asks, actions: does },
      caused: {
        id: 'caused',
        layer: 'sends',
        cause: { ...asks[2], when: 'on', is: undefined },
        actions: [does[0], does[5]],
      },
      both: { id: 'both', layer: 'base', control: on, actions: [does[5], does[2]] },
    },
    bindingOrder: [...profile.bindingOrder, 'full', 'caused', 'both'],
    showings: {
      ...profile.showings,
      s1: {
        id: 's1',
        layer: 'sends',
        shows: { flag: 'take' },
        on: [
          { surface: 'feet', control: 'pedal-1', part: 'light' },
          { surface: 'desk', control: 'mute-1', part: 'light' },
        ],
        spread: 'same',
        when: asks,
      },
      s2: {
        id: 's2',
        layer: 'shift',
        shows: { host: 'studio', function: 'mute', scope: { kind: 'selected' } },
        on: [{ surface: 'feet', control: 'pedal-1', part: 'light' }],
        spread: 'same',
      },
      s3: {
        id: 's3',
        layer: 'base',
        shows: { layer: 'shift' },
        on: [{ surface: 'desk', control: 'mute-2', part: 'light' }],
        spread: 'same',
      },
    },
    showingOrder: [...profile.showingOrder, 's1', 's2', 's3'],
  };
  return profileSchema.parse(JSON.parse(JSON.stringify(full)));
}

const FAMILY = { surface: 'surfaces', host: 'hosts', flag: 'flags', layer: 'layers' } as const;
const entries = (profile: Profile): [Named, string][] =>
  NAMED.flatMap((kind) => profile[`${kind}Order`].map((id): [Named, string] => [kind, id]));
const REMOVE = { surface: removeSurface, host: removeHost, flag: removeFlag, layer: removeLayer };
const naming = (value: unknown, kind: Named, id: string): Reference[] =>
  referencesIn(value).filter((one) => one.kind === kind && one.id === id);

test('under other names a profile names none of the old', () => {
  const start = everywhere();
  const other = renamed(start, (_, id) => `other-${id}`)!;
  const known = new Set(entries(start).map(([kind, id]) => `${kind} ${id}`));
  for (const { kind, id, path } of referencesIn(start))
    expect([path, known.has(`${kind} ${id}`)]).toEqual([path, true]);
  const left = referencesIn(other).filter(({ kind, id }) => known.has(`${kind} ${id}`));
  expect(left.filter(({ path }) => !path.includes('focusOrders'))).toEqual([]);
  expect(renamed(start, (kind, id) => (kind === 'host' ? undefined : id))).toBeUndefined();
});

test('whatever is taken out: only conditions, and what turns a layer or a flag on, still name it; all else stays as it was', () => {
  const start = everywhere();
  for (const [kind, id] of entries(start)) {
    const { document, edit } = REMOVE[kind](start, id);
    // The lowest layer stays.
    if (!edit) {
      expect([kind, id]).toEqual(['layer', start.layerOrder[0]]);
      continue;
    }
    for (const { path } of naming(document, kind, id)) {
      const isKept = path.includes('when') || (/layer|flag/.test(kind) && path.length > 2);
      expect([path, isKept]).toEqual([path, true]);
    }
    expect(profileSchema.safeParse(document).success).toBe(true);
    for (const family of ['bindings', 'showings', 'routes', 'layers', 'surfaces'] as const)
      for (const [key, one] of Object.entries(start[family]))
        if (naming(one, kind, id).length === 0 && !(FAMILY[kind] === family && key === id))
          expect(document[family][key]).toEqual(one);
    expect(undo(document, edit)).toEqual(start);
  }
});

test('what names a layer or a flag that is gone is mended: nothing names it then', () => {
  const start = everywhere();
  for (const [kind, id] of entries(start).filter(([one]) => one === 'flag' || one === 'layer')) {
    const gone = REMOVE[kind](start, id).document;
    const broken = gone.bindingOrder.filter(
      (key) => naming(gone.bindings[key], kind, id).length > 0,
    );
    const { document } = mendReferences(gone, broken);
    if (id !== start.layerOrder[0]) expect(naming(document.bindings, kind, id)).toEqual([]);
    for (const key of gone.bindingOrder.filter((one) => !broken.includes(one)))
      expect(document.bindings[key]).toEqual(gone.bindings[key]);
  }
});

test('a copy of a layer does to itself what its original does to itself', () => {
  const start = everywhere();
  const { document, id } = copyLayer(start, 'shift');
  const own = (profile: Profile, layer: string) =>
    profile.bindingOrder
      .map((key) => profile.bindings[key])
      .filter((one) => one.layer === layer)
      .reduce((count, one) => count + naming(one, 'layer', layer).length, 0);
  expect(own(document, id)).toBe(own(start, 'shift'));
  expect(own(document, id)).toBeGreaterThan(1);
  expect(document.bindings).toMatchObject(start.bindings);
});
