import fc from 'fast-check';
import {
  HOST_MODELS,
  SELECTED,
  addressOf,
  blankHost,
  modelOfHost,
  readChart,
} from '@rondo/core/host';
import {
  addHost,
  addSurface,
  bind,
  emptyProfile,
  targetOf,
  type Action,
  type Profile,
} from '@rondo/core/profile';
import { InputMode, compile } from '@rondo/core/round';
import { STOCK_SURFACES, blankSurface, type Control, type Surface } from '@rondo/core/surface';
import { Room } from '../testing/room.js';
import { assign, gainOf } from './assign.js';
import { placesOf } from './places.js';
import { PURPOSES, propose, takeProposal, type Proposal, type Purpose } from './index.js';
import { wishesOf } from './wishes.js';

const surfaceIds = [...STOCK_SURFACES.keys()];
const hostIds = [...HOST_MODELS.keys()];
const surfaceOf = (id: string): Surface => STOCK_SURFACES.get(id)!;

function profileOf(surfaces: readonly string[], hosts: readonly string[]): Profile {
  let profile: Profile = {
    ...emptyProfile('made', 'Made'),
    surfaces: {},
    surfaceOrder: [],
    hosts: {},
    hostOrder: [],
  };
  for (const id of surfaces) profile = addSurface(profile, id, id).document;
  for (const id of hosts) profile = addHost(profile, id, id).document;
  return profile;
}
const library = {
  surface: (id: string) => STOCK_SURFACES.get(id),
  host: (id: string) => HOST_MODELS.get(id),
};
const proposed = (profile: Profile, purposes: readonly Purpose[] = PURPOSES): Proposal =>
  propose(
    profile,
    profile.surfaceOrder.map((id) => ({ id, surface: surfaceOf(profile.surfaces[id].model) })),
    profile.hostOrder.map((id) => ({ id, model: HOST_MODELS.get(profile.hosts[id].model)! })),
    purposes,
  );
const takenWhole = (profile: Profile, proposal: Proposal): Profile =>
  takeProposal(profile, proposal, new Set(PURPOSES)).document;

const all = surfaceIds.flatMap((surface) => hostIds.map((host) => [surface, host] as const));

describe('for every surface, every program and every purpose', () => {
  test.each(all)('%s with %s: it compiles, nothing is broken, nothing stands twice', (s, h) => {
    const profile = profileOf([s], [h]);
    const whole = proposed(profile);
    expect(proposed(profile)).toEqual(whole);
    expect(whole.parts.length + whole.says.length).toBeGreaterThan(0);
    const parts = PURPOSES.map((purpose) => proposed(profile, [purpose]));
    for (const proposal of [whole, ...parts]) {
      const taken = takenWhole(profile, proposal);
      const plan = compile(taken, library);
      expect(plan.broken).toEqual([]);
      const places = Object.values(taken.bindings).map((b) => JSON.stringify([b.layer, b.control]));
      expect(new Set(places).size).toBe(places.length);
      const targets = Object.values(taken.bindings).flatMap((b) => b.actions.map(targetOf));
      expect(new Set(targets).size).toBe(targets.length);
      for (const { reachable } of layersOf(taken)) expect(reachable).toBe(true);
      // What is taken is not proposed again.
      const again = proposed(taken).parts.flatMap((part) =>
        part.bindings.map((b) => targetOf(b.action)),
      );
      expect(again.filter((target) => targets.includes(target))).toEqual([]);
    }
  });
});

/** Whether each layer that was made has its key on the lowest. */
const layersOf = ({ layerOrder, bindings }: Profile) =>
  layerOrder.slice(1).map((layer) => ({
    layer,
    reachable: Object.values(bindings).some(
      (b) =>
        b.layer === layerOrder[0] && b.actions.some((a) => a.do === 'layer' && a.layer === layer),
    ),
  }));

test.each(all)('%s with %s: what is left is proposed again', (s, h) => {
  const profile = profileOf([s], [h]);
  const whole = proposed(profile);
  for (const { purpose } of whole.parts) {
    const rest = PURPOSES.filter((other) => other !== purpose);
    const taken = takeProposal(profile, whole, new Set(rest)).document;
    const again = proposed(taken).parts.map((part) => part.purpose);
    // Its place may go to what had none at first.
    const isNew = again.some((one) => !whole.parts.some((part) => part.purpose === one));
    if (!isNew) expect(again).toContain(purpose);
  }
});

test.each(all)(
  '%s with %s: what belongs to strips stands in one line, from left to right; nothing that springs back holds a place',
  (s, h) => {
    const profile = profileOf([s], [h]);
    const { strips } = HOST_MODELS.get(h)!;
    const whole = proposed(profile).parts.flatMap(({ bindings }) => bindings);
    const controlOf = (id: string) => surfaceOf(s).controls.find((control) => control.id === id)!;
    const rows = new Map<string, { strip: number; control: Control }[]>();
    for (const { ref, action, layer } of whole) {
      const control = controlOf(ref.control);
      expect(control.springs).toBeUndefined();
      if (action.do !== 'function') continue;
      const { scope } = action;
      const strip =
        scope.kind === 'window' ? scope.offset : scope.kind === 'fixed' ? scope.strip : null;
      if (strip === null || strips[strip].group === 'master') continue;
      const key = `${action.function} ${layer ?? ''}`;
      rows.set(key, [...(rows.get(key) ?? []), { strip, control }]);
    }
    const lengths = [...rows.values()].map(({ length }) => length).sort((a, b) => b - a);
    // What is wanted most may have gaps where there are too few controls.
    expect(new Set(lengths.slice(0, -1)).size).toBeLessThanOrEqual(1);
    for (const row of rows.values()) {
      row.sort((a, b) => a.strip - b.strip);
      for (const [at, { control }] of row.entries()) {
        expect(control.kind).toBe(row[0].control.kind);
        const middle = ({ y, height }: Control) => y + height / 2;
        const apart = Math.abs(middle(control) - middle(row[0].control));
        expect(apart).toBeLessThanOrEqual(0.5 * Math.min(control.height, row[0].control.height));
        if (at > 0) expect(control.x).toBeGreaterThan(row[at - 1].control.x);
      }
    }
    const isBank = whole.some(({ action }) => action.do === 'bank');
    const isWindow = whole.some(
      ({ action }) => action.do === 'function' && action.scope.kind === 'window',
    );
    if (isBank) expect(isWindow).toBe(true);
  },
);

/** Whether the program says that an action's function is available. */
function isThere(room: Room, host: string, action: Action): boolean {
  if (action.do !== 'function') return true;
  const { needs } = HOST_MODELS.get(host)!.functions.find(({ id }) => id === action.function)!;
  if (needs === undefined) return true;
  const { scope } = action;
  const strip =
    scope.kind === 'fixed'
      ? scope.strip
      : scope.kind === 'window'
        ? scope.offset
        : scope.kind === 'selected'
          ? SELECTED
          : -1;
  const { per } = HOST_MODELS.get(host)!.functions.find(({ id }) => id === needs)!;
  return room.belief(addressOf(needs, per === 'strip' ? strip : -1)).value >= 0.5;
}

test('every control that is proposed acts, on its layer too: a hand on it reaches the program, and it shows what it did', () => {
  const seen = { onLayers: 0, lit: 0 };
  fc.assert(
    fc.property(
      fc.constantFrom(...surfaceIds.filter((id) => surfaceOf(id).controls.length > 0)),
      fc.constantFrom('studio', 'booth'),
      fc.integer({ min: 0, max: 100_000 }),
      (surface, host, pick) => {
        const bare = profileOf([surface], [host]);
        const profile = takenWhole(bare, proposed(bare));
        const bound = Object.values(profile.bindings).map((one) => ({
          ...one,
          control: one.control!,
        }));
        const does = bound.filter(({ actions: [action] }) => action.do === 'function');
        if (does.length === 0) return;
        const {
          layer,
          control,
          actions: [action],
        } = does[pick % does.length];
        const room = new Room({ profile });
        const { engine } = room.world;
        const counted = (kind: string) => {
          const { key } = engine.plan.links.find((link) => link.kind === kind)!;
          return room.sent.get(key)?.length ?? 0;
        };
        if (layer !== profile.layerOrder[0]) {
          seen.onLayers++;
          const key = bound.find(
            ({ actions: [action] }) => action.do === 'layer' && action.layer === layer,
          )!;
          room.press(key.control.control);
        }
        const part = engine.plan.parts.findIndex(
          (p) => p.control.id === control.control && p.part === control.part,
        );
        const [toProgram, toSurface] = [counted('host'), counted('surface')];
        const desk = room.desk();
        const { moves } = engine.plan.parts[part];
        if (moves === InputMode.Relative) room.do(() => desk.turn(control.control, 3));
        else if (moves === InputMode.Absolute)
          for (const to of [0, 0.2, 0.4, 0.6, 0.8, 1]) room.slide(control.control, to);
        else room.press(control.control);
        // What this record lacks, as its fifth stem, is left alone.
        if (!isThere(room, host, action)) return expect(counted('host')).toBe(toProgram);
        expect(counted('host')).toBeGreaterThan(toProgram);
        const { takes } = surfaceOf(surface).controls.find(({ id }) => id === control.control)!;
        const canShow = surfaceOf(surface).device.takes && (takes.light ?? takes.ring);
        if (!canShow) return;
        seen.lit++;
        expect(counted('surface')).toBeGreaterThan(toSurface);
      },
    ),
    { numRuns: 60 },
  );
  expect(seen.onLayers).toBeGreaterThan(0);
  expect(seen.lit).toBeGreaterThan(0);
}, 240_000);

test('the assignment is the best there is: nothing that brute force finds gains more', () => {
  const profile = profileOf(['crosstie-2'], ['booth']);
  const surface = surfaceOf('crosstie-2');
  const { free, width } = placesOf(profile, [{ id: 'surface-1', surface }]);
  const hosts = [{ id: 'booth', model: HOST_MODELS.get('booth')! }];
  const { wanted: wishes } = wishesOf(profile, hosts, width);
  const some = <T>(list: readonly T[]) =>
    fc.shuffledSubarray([...list], { minLength: 1, maxLength: 5 });
  const nothing: ReadonlySet<string> = new Set();
  const best = (ws: typeof wishes, ps: typeof free): number => {
    if (ws.length === 0) return 0;
    const [first, ...rest] = ws;
    return Math.max(
      best(rest, ps),
      ...ps.map((place) => {
        const gain = gainOf(first, place, nothing);
        return gain <= 0
          ? -Infinity
          : gain +
              best(
                rest,
                ps.filter((other) => other !== place),
              );
      }),
    );
  };
  // Without words on the controls, so that both count alike.
  const plain = free.map((place) => ({
    ...place,
    says: '',
    control: { ...place.control, legend: '' },
  }));
  fc.assert(
    fc.property(some(wishes), some(plain), (ws, ps) => {
      const gained = assign(ws, ps).reduce(
        (sum, { wish, place }) => sum + gainOf(wish, place, nothing),
        0,
      );
      expect(gained).toBeCloseTo(best(ws, ps), 6);
    }),
  );
});

describe('bad input gets a sentence', () => {
  const studio = { id: 'studio', model: HOST_MODELS.get('studio')! };
  const key = (n: number, more: Partial<Control> = {}): Control => ({
    id: `key-${n}`,
    kind: 'button',
    label: `Key ${n}`,
    x: (n % 25) * 20,
    y: Math.floor(n / 25) * 20,
    width: 12,
    height: 12,
    sends: { push: { type: 'note', channel: 1, number: n % 128 } },
    takes: {},
    ...more,
  });
  const withKeys = (count: number, more: Partial<Control> = {}): Surface => ({
    ...blankSurface('made', 'Made'),
    controls: Array.from({ length: count }, (_, n) => key(n, more)),
  });
  const from = (surface: Surface, hosts = [studio]) =>
    propose(
      profileOf(
        ['made'],
        hosts.map(({ id }) => id),
      ),
      [{ id: 'surface-1', surface }],
      hosts,
    );
  const chart = (rows: number) =>
    modelOfHost({
      ...blankHost('chart', 'Chart'),
      rows: [
        ...readChart(Array.from({ length: rows }, (_, n) => `X${n},NRPN ${n}`).join('\n')).rows,
      ],
    });

  test.each([
    ['no surface', () => propose(profileOf([], ['studio']), [], [studio]), /Add one/],
    ['no program', () => from(withKeys(3), []), /Add a host/],
    ['nothing on it', () => from(withKeys(0)), /bound already|suits/],
    [
      'sends nothing',
      () => from({ ...withKeys(4), device: { ...withKeys(0).device, sends: false } }),
      /send nothing/,
    ],
    ['displays only', () => from(withKeys(4, { kind: 'display', sends: {} })), /bound already/],
  ])('%s', (_, make, says) => {
    const proposal = make();
    expect(proposal.parts).toEqual([]);
    expect(proposal.says.join()).toMatch(says);
  });

  test('one control, five hundred, a device that takes nothing: each gets what it can', () => {
    expect(from(withKeys(1)).parts.flatMap(({ bindings }) => bindings)).toHaveLength(1);
    const many = from(withKeys(500));
    expect(many.parts.length).toBeGreaterThan(2);
    const deaf = { ...withKeys(8), device: { ...withKeys(0).device, takes: false } };
    expect(from(deaf).parts.length).toBeGreaterThan(0);
  });

  test('a program of one function, of two thousand, whose names say nothing', () => {
    const faders = surfaceOf('faders-8');
    const one = from(faders, [{ id: 'chart', model: chart(1) }]);
    expect(one.parts.map(({ bindings }) => bindings.length)).toEqual([1]);
    const big = from(faders, [{ id: 'chart', model: chart(2_000) }]);
    expect(big.parts.map(({ bindings }) => bindings.length)).toEqual([8]);
    expect(big.says.join()).toMatch(/more functions have no control/);
  });

  test('a profile whose controls are all bound keeps them', () => {
    let profile = profileOf(['faders-8'], ['studio']);
    for (const { id } of surfaceOf('faders-8').controls)
      profile = bind(
        profile,
        'Bind',
        { surface: 'surface-1', control: id, part: 'value' },
        {
          do: 'function',
          host: 'studio',
          function: 'tempo',
          scope: { kind: 'host' },
          behaviour: 'follow',
        },
      ).document;
    const proposal = proposed(profile);
    expect(proposal.parts).toEqual([]);
    expect(proposal.says.join()).toContain('bound already');
  });
});

test('a part that is left is left, and can be proposed again', () => {
  const profile = profileOf(['harrow-8'], ['studio']);
  const whole = proposed(profile);
  const some = takeProposal(profile, whole, new Set<Purpose>(['mixing']));
  expect(some.edit?.name).toMatch(/^Take a proposal of \d+ bindings$/);
  const rest = proposed(some.document);
  expect(rest.parts.map(({ purpose }) => purpose)).toContain('transport');
  expect(rest.parts.map(({ purpose }) => purpose)).not.toContain('mixing');
});

test('a second surface beside the first takes what the first has left', () => {
  const alone = proposed(profileOf(['faders-8'], ['studio']));
  const both = proposed(profileOf(['faders-8', 'pads-16'], ['studio']));
  const on = (proposal: Proposal, surface: string) =>
    proposal.parts.flatMap(({ bindings }) => bindings).filter(({ ref }) => ref.surface === surface);
  expect(on(both, 'surface-1').length).toBeGreaterThanOrEqual(on(alone, 'surface-1').length);
  expect(on(both, 'surface-2').length).toBeGreaterThan(8);
});

/** Surfaces whose strips are not moved by what a program says, and those that go on from the desk’s. */
const still = surfaceIds.filter((id) => {
  const { controls, device } = surfaceOf(id);
  return device.desk === 'extender' || controls.every(({ takes }) => !takes.motor);
});
test.each(still)('with %s beside it the faders with motors have the volumes', (other) => {
  for (const models of [
    ['harrow-8', other],
    [other, 'harrow-8'],
  ]) {
    const proposal = proposed(profileOf(models, ['studio']));
    const desk = `surface-${models.indexOf('harrow-8') + 1}`;
    const moved = proposal.parts
      .flatMap(({ bindings }) => bindings)
      .filter(
        ({ ref, layer }) =>
          layer === null && ref.surface === desk && /^fader-\d$/.test(ref.control),
      );
    expect(moved.map(({ action }) => targetOf(action).split(' ')[1])).toEqual(
      Array.from({ length: 8 }, () => 'volume'),
    );
  }
});

test.each(surfaceIds)(
  'with %s beside it, before or after, a desk keeps all its rows, and its bank goes by its own strips',
  (other) => {
    const desk = 'harrow-8';
    if (surfaceOf(other).device.desk) return;
    const [alone, after, before] = [[desk], [desk, other], [other, desk]].map((surfaces) => {
      const profile = profileOf(surfaces, ['studio']);
      const id = profile.surfaceOrder[surfaces.indexOf(desk)];
      const bindings = proposed(profile).parts.flatMap((part) => part.bindings);
      const rows = bindings.flatMap(({ ref, action }) =>
        action.do === 'function' && action.scope.kind === 'window'
          ? [`${ref.surface === id ? ref.control : 'beside it'} ${targetOf(action)}`]
          : [],
      );
      const banks = bindings.flatMap(({ action }) => (action.do === 'bank' ? [action.by] : []));
      return { rows, banks };
    });
    for (const both of [after, before]) {
      // A row that the other surface has more room for may stand there, and is whole all the same.
      const functionsOf = (rows: string[]) => rows.map((row) => row.split(' ').slice(-1)[0]).sort();
      expect(functionsOf(both.rows)).toEqual(expect.arrayContaining(functionsOf(alone.rows)));
      expect(both.banks.sort()).toEqual(alone.banks.sort());
    }
    expect(alone.banks.sort()).toEqual([-8, 8]);
  },
);

test('keys in fewer columns than a surface beside them has faders keep their rows', () => {
  const rowsOf = (surfaces: readonly string[]) =>
    proposed(profileOf(surfaces, ['studio'])).parts.flatMap(({ bindings }) =>
      bindings.flatMap(({ action }) =>
        action.do === 'function' && /^(mute|solo|arm|select)$/.test(action.function)
          ? [action.function]
          : [],
      ),
    );
  expect(rowsOf(['cobble-64']).length).toBeGreaterThan(0);
  expect(rowsOf(['cobble-64', 'faders-9-knobs-9']).length).toBeGreaterThanOrEqual(
    rowsOf(['cobble-64']).length,
  );
});

test('one fader, a knob and keys are one strip: it works on what is selected, and goes from track to track', () => {
  const place = (id: string, kind: Control['kind'], x: number, y: number): Control => ({
    id,
    kind,
    label: id,
    x,
    y,
    width: 16,
    height: kind === 'fader' ? 70 : 16,
    sends: {
      [kind === 'button' ? 'push' : 'value']: { type: 'controller', channel: 1, number: x + y },
    },
    takes: {},
  });
  const keys = Array.from({ length: 20 }, (_, n) =>
    place(`key-${n}`, 'button', 20 * (n % 5), 40 + 20 * Math.floor(n / 5)),
  );
  const controls = [place('fader', 'fader', 101, 10), place('knob', 'knob', 3, 10), ...keys];
  const one: Surface = { ...blankSurface('one', 'One strip'), controls };
  const { parts } = propose(
    profileOf([], ['studio']),
    [{ id: 'one', surface: one }],
    [{ id: 'studio', model: HOST_MODELS.get('studio')! }],
    PURPOSES,
  );
  const does = new Map(
    parts
      .flatMap(({ bindings }) => bindings)
      .map(({ ref, action }) => [
        action.do === 'function' ? `${action.function} ${action.scope.kind}` : action.do,
        ref.control,
      ]),
  );
  expect(does.get('volume selected')).toBe('fader');
  expect(does.get('pan selected')).toBe('knob');
  for (const key of ['mute selected', 'solo selected', 'arm selected'])
    expect(does.get(key)).toMatch(/^key/);
  for (const key of ['trackNext host', 'trackPrevious host', 'markerNext host'])
    expect([...does.keys()]).toContain(key);
});
