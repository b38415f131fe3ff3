import fc from 'fast-check';
import { blankHost, lantern } from '@rondo/core/host';
import {
  bind,
  editLayer,
  farShore,
  layerAlone,
  nineFerriesMix,
  neapRink,
  unbind,
  type Profile,
} from '@rondo/core/profile';
import { compile } from '@rondo/core/round';
import { COBBLE_64, STOCK_SURFACES, type Surface } from '@rondo/core/surface';
import { HOST_MODELS, modelOfHost } from '@rondo/core/host';
import {
  DEEPEST,
  applyDifferences,
  changeSummary,
  documentsOf,
  fileDifferences,
  fileOf,
  fileText,
  isFlat,
  pathOf,
  pointerOf,
  profileDifferences,
  readFileText,
  type RondoFile,
} from './index';

const demos = [nineFerriesMix(), neapRink(), farShore()];
const own: Surface = { ...COBBLE_64, id: 'my-grid', name: 'My grid' };
const shelf = {
  surface: (id: string) => (id === own.id ? own : null),
  host: (id: string) => (id === 'lantern' ? lantern() : null),
};
const withOwn = (profile: Profile): Profile => ({
  ...profile,
  surfaces: { ...profile.surfaces, grid: { id: 'grid', model: own.id, label: 'Grid' } },
  surfaceOrder: [...profile.surfaceOrder, 'grid'],
});

/** A profile after some edits at random. */
const edited = (start: Profile): fc.Arbitrary<Profile> =>
  fc
    .array(fc.tuple(fc.integer({ min: 0, max: 3 }), fc.nat(1_000), fc.string({ maxLength: 8 })), {
      maxLength: 12,
    })
    .map((steps) =>
      steps.reduce((profile, [what, pick, text]) => {
        const ids = profile.bindingOrder;
        const some = profile.bindings[ids[pick % Math.max(1, ids.length)]];
        const layer = profile.layerOrder[pick % profile.layerOrder.length];
        if (what === 0 && some?.control) return unbind(profile, 'x', some.control).document;
        if (what === 1)
          return editLayer(profile, 'x', layer, (draft) => {
            draft.label = text.trim() || 'Layer';
          }).document;
        if (what === 2 && some?.control)
          return bind(
            profile,
            'x',
            some.control,
            { do: 'bank', by: (pick % 9) + 1 },
            { layer },
            'add',
          ).document;
        return { ...profile, name: text.trim() || 'Name' };
      }, start),
    );
const anyProfile = fc.constantFrom(...demos, withOwn(demos[0])).chain(edited);

const read = (text: string): RondoFile => {
  const found = readFileText(text);
  if (!found.ok)
    throw new Error(found.faults.map(({ path, message }) => `${path}: ${message}`).join());
  return found.file;
};

test('a file that is written and read gives the same documents, the same plan, and the same lines again', () => {
  fc.assert(
    fc.property(fc.array(anyProfile, { maxLength: 2 }), (profiles) => {
      const mine = profiles.map((profile, n) => ({ ...profile, id: `${profile.id}-${n}` }));
      const text = fileText(fileOf(mine, shelf));
      const file = read(text);
      expect([...file.profiles].sort((a, b) => (a.id < b.id ? -1 : 1))).toEqual(
        [...mine].sort((a, b) => (a.id < b.id ? -1 : 1)),
      );
      expect(fileText(file)).toBe(text);
      const library = {
        surface: (id: string) =>
          STOCK_SURFACES.get(id) ?? file.surfaces.find((one) => one.id === id),
        host: (id: string) => {
          const chart = file.hosts.find((one) => one.id === id);
          return HOST_MODELS.get(id) ?? (chart && modelOfHost(chart));
        },
      };
      const before = {
        surface: (id: string) => STOCK_SURFACES.get(id) ?? shelf.surface(id) ?? undefined,
        host: (id: string) =>
          HOST_MODELS.get(id) ?? (shelf.host(id) ? modelOfHost(lantern()) : undefined),
      };
      for (const profile of mine) {
        const again = file.profiles.find(({ id }) => id === profile.id)!;
        expect(compile(again, library).bindings).toEqual(compile(profile, before).bindings);
      }
    }),
    { numRuns: 40 },
  );
});

test('what one needs comes before what needs it, once', () => {
  const file = fileOf([withOwn(demos[0]), farShore()], shelf);
  expect([...documentsOf(file)].map(({ kind, document }) => `${kind} ${document.id}`)).toEqual([
    'surface my-grid',
    'host lantern',
    'profile far-shore',
    'profile nine-ferries-mix',
  ]);
});

test('of any two profiles: the differences applied to the first give the second', () => {
  fc.assert(
    fc.property(anyProfile, anyProfile, (a, b) => {
      const found = profileDifferences(a, b);
      expect(applyDifferences(a, found)).toEqual(b);
      expect(profileDifferences(a, a)).toEqual([]);
      for (const one of found) expect(one.says).not.toBe('');
    }),
    { numRuns: 60 },
  );
});

test('of any two files: each difference leads to its place in the file that it is about (RFC 6901), layers of one profile among them', () => {
  const layers = (profile: Profile) => profile.layerOrder.map((id) => layerAlone(profile, id));
  const anyFile = fc
    .tuple(fc.array(anyProfile, { maxLength: 3 }), anyProfile, fc.boolean())
    .map(([profiles, from, isTurned]): RondoFile => {
      const different = [...new Map(profiles.map((one) => [one.id, one])).values()];
      const file = fileOf(isTurned ? different.reverse() : different, shelf);
      return { ...file, layers: layers(from) };
    });
  const at = (file: RondoFile, pointer: string): unknown =>
    pathOf(pointer).reduce<unknown>(
      (value, part) => (value as Record<string, unknown> | undefined)?.[part],
      file,
    );
  fc.assert(
    fc.property(anyFile, anyFile, (a, b) => {
      const found = fileDifferences(a, b);
      for (const one of found)
        if ('after' in one) expect(at(b, one.path)).toEqual(one.after);
        else expect(at(a, one.path)).toEqual(one.before);
      expect(fileDifferences(a, a)).toEqual([]);
      // What is nowhere told is alike: each layer that both have.
      const same = (b.layers ?? []).filter(
        (_, n) => !found.some(({ path }) => path.startsWith(`/layers/${n}`)),
      );
      for (const one of same) expect(a.layers).toContainEqual(one);
    }),
    { numRuns: 60 },
  );
});

test('of any two values of JSON, too', () => {
  const json = fc.dictionary(fc.string(), fc.jsonValue({ maxDepth: 3 }));
  fc.assert(
    fc.property(json, json, (a, b) => {
      const plain = (value: unknown): unknown => JSON.parse(JSON.stringify(value));
      const [from, to] = [plain(a) as object, plain(b) as object];
      const list = profileDifferences(
        { ...demos[0], extra: from } as Profile,
        { ...demos[0], extra: to } as Profile,
      );
      expect(applyDifferences({ ...demos[0], extra: from }, list)).toEqual({
        ...demos[0],
        extra: to,
      });
    }),
  );
});

test('differences are told in words of the controls, by RFC 6901', () => {
  const start = nineFerriesMix();
  const fader =
    start.bindings[
      start.bindingOrder.find((id) => start.bindings[id].control?.control === 'fader-3')!
    ];
  const next = bind(start, 'x', fader.control!, {
    do: 'function',
    host: 'studio',
    function: 'send2',
    scope: { kind: 'window', offset: 2 },
    behaviour: 'follow',
  }).document;
  const found = profileDifferences(start, next);
  expect(found).toEqual([
    {
      path: `/bindings/${fader.id}/actions/0/function`,
      before: 'volume',
      after: 'send2',
      says: 'Fader 3 › actions › 0 › function: volume → send2',
    },
  ]);
  // The examples of RFC 6901, section 5.
  for (const [pointer, path] of [
    ['', []],
    ['/foo/0', ['foo', '0']],
    ['/', ['']],
    ['/a~1b', ['a/b']],
    ['/m~0n', ['m~n']],
  ] as const) {
    expect(pathOf(pointer)).toEqual(path);
    expect(pointerOf(path)).toBe(pointer);
  }
});

test('a binding that is taken off is told as such, and its place in the order apart', () => {
  const start = nineFerriesMix();
  const control = { surface: 'desk', control: 'mute-3', part: 'push' } as const;
  const found = profileDifferences(start, unbind(start, 'x', control).document);
  const says = found.map(({ path, says: words }) => [path.split('/')[1], words].join(': '));
  expect(says).toContain('bindings: Mute 3: mute taken off');
  expect(new Set(says.filter((line) => line.startsWith('bindingOrder')))).toEqual(
    new Set(['bindingOrder: the order of bindings']),
  );
});

test('two files: documents that came, went, and changed', () => {
  const a = fileOf([demos[0], demos[1]], shelf);
  const b = fileOf([{ ...demos[0], name: 'Renamed' }, demos[2]], shelf);
  expect(fileDifferences(a, b).map(({ path, says }) => `${path} ${says}`)).toEqual([
    '/profiles/0 Far Shore: added',
    '/profiles/0 Neap Rink: taken out',
    '/profiles/1/name name: Nine Ferries – mix → Renamed',
    '/hosts/0 Lantern: added',
  ]);
});

describe('bad files get a sentence', () => {
  const deep = (levels: number) => `${'['.repeat(levels)}${']'.repeat(levels)}`;
  test.each([
    ['nothing', '', /not JSON/],
    ['cut in the middle', fileText(fileOf(demos, shelf)).slice(0, 5_000), /not JSON/],
    ['another program’s', '{"name":"x"}', /no format that Rondo knows/],
    ['a newer Rondo’s', '{"format":"rondo-file","version":2}', /newer Rondo/],
    ['too deep', `{"format":"rondo-file","version":1,"x":${deep(5_000)}}`, /64 levels/],
    [
      'one profile twice',
      fileText({ ...fileOf([demos[0]], shelf), profiles: [demos[0], demos[0]] }),
      /there twice/,
    ],
    ['a list', '[]', /no format/],
    [
      'a fault within',
      fileText({ ...fileOf([], shelf), hosts: [{ ...blankHost('a', 'A'), rows: 3 }] }),
      /hosts › 0 › rows/,
    ],
  ])('%s', (_, text, says) => {
    const found = readFileText(text);
    expect(found.ok).toBe(false);
    if (!found.ok)
      expect(found.faults.map(({ path, message }) => `${path} ${message}`).join()).toMatch(says);
  });

  test('a single profile, surface or host is a file, too; fields that nobody knows are kept', () => {
    expect(read(JSON.stringify(own)).surfaces).toEqual([own]);
    expect(read(JSON.stringify(lantern())).hosts).toEqual([lantern()]);
    const more = { ...demos[0], later: { kept: true } };
    expect(read(`\uFEFF${JSON.stringify(more)}`).profiles[0]).toEqual(more);
    const file = { ...fileOf([], shelf), author: 'Ada Tern', madeWith: 'tape' };
    expect(JSON.parse(fileText(read(fileText(file))))).toEqual(file);
  });

  test('whatever bytes come, a sentence or documents, and never a throw', () => {
    const good = fileText(fileOf([demos[1]], shelf));
    fc.assert(
      fc.property(
        fc.nat(good.length - 1),
        fc.nat(200),
        fc.string({ maxLength: 20 }),
        (at, cut, put) => {
          const found = readFileText(good.slice(0, at) + put + good.slice(at + cut));
          expect(found.ok || found.faults.length > 0).toBe(true);
        },
      ),
      { numRuns: Number(process.env['RONDO_FUZZ_RUNS'] ?? 300) },
    );
    expect([isFlat(JSON.parse(deep(DEEPEST))), isFlat(JSON.parse(deep(DEEPEST + 2)))]).toEqual([
      true,
      false,
    ]);
  });
});

test('the law: a line says something of every change, and nothing of none; it is short', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...demos).chain((demo) => fc.tuple(edited(demo), edited(demo))),
      ([a, b]) => {
        const says = changeSummary(a, b);
        expect(says === '').toBe(
          JSON.stringify(a) === JSON.stringify(b) || fileText(a) === fileText(b),
        );
        expect(says.split('; ').length).toBeLessThanOrEqual(8);
      },
    ),
  );
});

test('a line in the words of the controls', () => {
  const mix = nineFerriesMix();
  const id = mix.bindingOrder.find((key) => mix.bindings[key].control?.control === 'fader-3')!;
  const { actions } = mix.bindings[id];
  const send = { ...actions[0], function: 'send2' };
  const [, layer] = mix.layerOrder;
  const after = {
    ...mix,
    bindings: { ...mix.bindings, [id]: { ...mix.bindings[id], actions: [send] } },
    layers: { ...mix.layers, [layer]: { ...mix.layers[layer], label: 'Shift' } },
  } as Profile;
  expect(changeSummary(mix, after)).toBe(
    `Fader 3: volume → send 2; layer ${mix.layers[layer].label} renamed Shift`,
  );
  expect(changeSummary(mix, { ...mix, layerOrder: [...mix.layerOrder].reverse() })).toBe(
    'the order',
  );
});
