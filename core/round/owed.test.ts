import { jest } from '@jest/globals';
import fc from 'fast-check';
import {
  bind,
  editBindings,
  removeBindings,
  removeLayer,
  type Action,
  type Profile,
} from '@rondo/core/profile';
import { partKey, type Engine } from '@rondo/core/round';
import { expectingId } from '@rondo/core/host';
import { inputsOf, type InputPart } from '@rondo/core/surface';
import { BoxRoom, fn, onward, profileOf, twoLayers } from '../testing/box-room.js';
import { Room } from '../testing/room.js';
import { standing } from '../testing/standing.js';
import { DEMOS, Session, compileCopy, deed, lot, profileBy } from '../testing/random-room.js';

/*
 * What is owed: whatever was begun ends once nobody holds it, by whatever way it was begun, and whatever was edited,
 * switched or unplugged meanwhile.
 */

jest.setTimeout(process.env['RONDO_LAW_RUNS'] ? 3_600_000 : 300_000);
const RUNS = Number(process.env['RONDO_LAW_RUNS'] ?? 60);
const DEMO_NAMES = Object.keys(DEMOS);

/** All that is held down, counted by what the engine remembers. */
function owedOf({ round }: Engine): string[] {
  const { state, plan } = round;
  const some = (name: string, list: ArrayLike<number>, isOwed: (n: number) => boolean) =>
    Array.from(list).flatMap((n, at) => (isOwed(n) ? [`${name} ${at}: ${n}`] : []));
  // What a host's change holds is the host's to let go.
  const byCauses = new Set(
    plan.causes.flatMap(({ binding }) => {
      const { first, count } = plan.bindings[binding];
      return Array.from({ length: count }, (_, n) => first + n);
    }),
  );
  return [
    ...some('action', state.actionHolds, (slot) => slot !== -1).filter(
      (_, at) => !byCauses.has(at),
    ),
    ...some('slot', state.slotHolds, (holds) => holds > 0),
    ...some('note', state.noteHolds, (holds) => holds > 0),
    ...some('running', state.running, (binding) => binding >= 0),
    ...some('finger', state.fingerUntil, (until) => until >= 0),
    ...some('layer', state.layerHolds, (holds) => holds > 0),
  ];
}

/** Notes that sound where they went, by link: the last that was said of them is no end (MIDI 1.0). */
function soundingIn(out: readonly string[], channel: number): string[] {
  const sounding = new Set<string>();
  for (const line of out) {
    const [, link, ...hex] = line.split(' ');
    const bytes = hex.map((one) => parseInt(one, 16));
    for (let at = 0; at + 2 < bytes.length; at++) {
      const kind = bytes[at] & 0xf0;
      if ((kind !== 0x80 && kind !== 0x90) || (bytes[at] & 0x0f) !== channel) continue;
      const note = `${link} ${bytes[at + 1]}`;
      if (kind === 0x90 && bytes[at + 2] > 0) sounding.add(note);
      else sounding.delete(note);
    }
  }
  return [...sounding];
}

const nat = fc.nat({ max: 9_999 });
const edits = fc.record({
  does: fc.constantFrom('edit' as const),
  how: fc.constantFrom('another', 'remove', 'add', 'layer', 'lots', 'bind'),
  what: nat,
});
type Edit = typeof edits extends fc.Arbitrary<infer T> ? T : never;

function edited(profile: Profile, demo: string, { how, what }: Edit): Profile {
  const { bindingOrder, bindings } = profile;
  const pick = <T>(list: readonly T[]): T => list[what % list.length];
  if (bindingOrder.length === 0 || how === 'lots') return DEMOS[demo]();
  const id = pick(bindingOrder);
  switch (how) {
    case 'another':
      return { ...DEMOS[pick(DEMO_NAMES)](), id: what % 2 ? profile.id : 'another' };
    case 'remove':
      return removeBindings(profile, 'Remove', [id]).document;
    case 'layer':
      return profile.layerOrder.length > 1
        ? removeLayer(profile, pick(profile.layerOrder)).document
        : profile;
    case 'bind': {
      const { control } = bindings[id];
      return control ? bind(profile, 'Bind', control, { do: 'bank', by: 1 }).document : profile;
    }
    default:
      return editBindings(profile, 'Add', [id], ({ actions }) => {
        if (actions.length < 8) actions.push({ do: 'bank', by: 1 });
      }).document;
  }
}

test('whatever is edited, switched or unplugged while things are pressed, nothing is owed once no hand is on anything', () => {
  const hands = deed.filter(({ does }) => does !== 'raw' && does !== 'choose');
  const step = fc.oneof({ arbitrary: hands, weight: 6 }, { arbitrary: edits, weight: 1 });
  fc.assert(
    fc.property(
      fc.constantFrom(...DEMO_NAMES),
      fc.array(lot, { maxLength: 12 }),
      fc.array(step, { maxLength: 40 }),
      (demo, lots, steps) => {
        let profile = profileBy(demo, lots);
        const session = new Session(compileCopy(profile));
        const { world } = session;
        for (const one of steps)
          if (one.does === 'edit') {
            profile = edited(profile, demo, one);
            world.load(compileCopy(profile));
          } else session.do(one);
        const { engine } = world;
        engine.plan.links.forEach((_, link) => world.plug(link, true));
        for (const [link, desk] of world.desks)
          for (const control of desk.surface.controls) {
            const inputs = inputsOf(desk.surface, control);
            if (inputs.includes('push')) desk.press(control.id, false);
            // What latches in hardware is let go of by another press.
            const part = engine.plan.parts.findIndex(
              ({ key }) => key === partKey(link.replace('surface:', ''), control.id, 'push'),
            );
            if (control.latching && part >= 0 && engine.round.state.down[part] !== 0) {
              desk.press(control.id, true);
              desk.press(control.id, false);
            }
            if (inputs.includes('touch')) desk.touch(control.id, false);
          }
        world.settle();
        session.wait(3_000_000);
        expect(owedOf(engine)).toEqual([]);
        expect(soundingIn(session.out, 1)).toEqual([]);
      },
    ),
    { numRuns: RUNS },
  );
});

test('with hold off nothing at all reaches a host, whatever hands, hosts and wires do', () => {
  const loud = new Set(['panic', 'unplug', 'choose']);
  fc.assert(
    fc.property(
      fc.constantFrom(...DEMO_NAMES),
      fc.array(lot, { maxLength: 12 }),
      fc.array(
        deed.filter(({ does }) => !loud.has(does)),
        { maxLength: 40 },
      ),
      (demo, lots, deeds) => {
        const session = new Session(compileCopy(profileBy(demo, lots)));
        session.wait(2_000_000);
        session.world.engine.holdOff = true;
        const { length } = session.out;
        for (const one of deeds) session.do(one);
        session.wait(2_000_000);
        expect(session.out.slice(length).filter((line) => / host:/.test(line))).toEqual([]);
      },
    ),
    { numRuns: RUNS },
  );
});

describe('each way in which something was owed for ever', () => {
  test('a message that is sent as it came ends, though an action is added while its key is down', () => {
    const profile = profileOf([{ on: 'key', actions: { do: 'send', to: { host: 'studio' } } }]);
    const room = new BoxRoom(profile).down('key');
    expect(room.sent).toEqual(['host:studio 90017f']);
    room.load(
      editBindings(profile, 'Add', ['b0'], ({ actions }) => {
        actions.push({ do: 'bank', by: 1 });
      }).document,
    );
    room.up('key').run(50_000);
    expect(room.sent).toHaveLength(2);
    expect(room.sent[1]).toMatch(/ (80|90)01(00|40)$/i);
  });

  /** A desk before a program that expects one of twice as many strips, and what of its keys the program holds down. */
  const wide = (...bindings: readonly [string, InputPart, Action][]) => {
    const expected = ['harrow-8', 'harrow-8-side'];
    return new Room({
      surfaces: ['harrow-8'],
      hosts: [expectingId(expected)],
      more: (profile) =>
        bindings.reduce(
          (next, [control, part, action]) =>
            bind(next, 'Bind', { surface: 'surface-1', control, part }, action).document,
          standing('harrow-8', expected)(profile),
        ),
    });
  };
  const of = (fn: string, more: object = {}): Action => ({
    do: 'function',
    host: 'program',
    function: fn,
    scope: { kind: 'window', offset: 0 },
    behaviour: 'follow',
    ...more,
  });
  const heldKeys = (room: Room): unknown[] => {
    const down = new Set<unknown>();
    for (const one of room.program.heard)
      if (one.kind === 'key' && one.on) down.add(one.key);
      else if (one.kind === 'key') down.delete(one.key);
    return [...down];
  };

  test('a key of a program that a fader holds down comes up, though the bank was changed meanwhile', () => {
    const room = wide(
      ['fader-8', 'value', of('mute')],
      ['function-1', 'push', { do: 'bank', by: 1 }],
    );
    room.do(() => room.desk().moveTo('fader-8', 1));
    const [first] = heldKeys(room);
    expect(first).toBeDefined();
    room.press('function-1');
    room.do(() => room.desk().moveTo('fader-8', 0.9));
    expect(heldKeys(room)).not.toContain(first);
    room.do(() => room.desk().moveTo('fader-8', 0));
    expect(heldKeys(room)).toEqual([]);
  });

  test('two fingers on one function: it is let go of with the last, whichever comes first', () => {
    for (const [first, second] of [
      ['fader-7', 'fader-8'],
      ['fader-8', 'fader-7'],
    ]) {
      const room = wide(['fader-7', 'value', of('fader')], ['fader-8', 'value', of('fader')]);
      room
        .do(() => room.desk().touch('fader-7', true))
        .do(() => room.desk().touch('fader-8', true));
      expect(room.program.touched.size).toBe(1);
      room.do(() => room.desk().touch(first, false));
      expect(room.program.touched.size).toBe(1);
      room.do(() => room.desk().touch(second, false));
      expect(room.program.touched.size).toBe(0);
    }
  });

  test('a layer that a host’s change holds is held as long as that is on, and no longer than the host is there', () => {
    const cause = { host: 'studio', function: 'play', scope: { kind: 'host' } };
    const held = () =>
      new BoxRoom(
        profileOf(
          [
            {
              cause: { ...cause, when: 'change' },
              actions: { do: 'layer', layer: 'up', how: 'hold' },
            },
          ],
          twoLayers(),
        ),
      ).host('play', 1);
    const room = held();
    expect(room.isOn('up')).toBe(true);
    expect(room.host('play', 0).isOn('up')).toBe(false);
    expect(room.host('play', 1).isOn('up')).toBe(true);
    const gone = held();
    gone.world.plug(gone.world.engine.linkOf('host:studio'), false);
    expect(gone.run(50_000).isOn('up')).toBe(false);
  });

  test('what came about in hold off ends at its exit: nothing reaches a host, by bindings nor along routes', () => {
    const bound = profileOf([
      { on: 'key', actions: { do: 'send', to: { host: 'studio' } } },
      { on: 'knob', actions: fn('volume') },
    ]);
    const room = new BoxRoom(onward(bound, 'note', 'controller', 'bend', 'sysex'));
    room.down('other').run(50_000);
    room.world.engine.holdOff = true;
    room.sent.length = 0;
    room.tap('key').tap('shift').move('knob', 0.2, 0.8).move('wheel', 0.9, 0.5).turn('turn', 3);
    expect(room.run(50_000).sent).toEqual([]);
    // What sounds ends all the same.
    expect(room.up('other').run(50_000).sent).toEqual(['host:studio 900200']);
  });
});

test('where a host has moved meanwhile, the next tick goes on from there, however soon after the last one that was', () => {
  const STEP = 0.02;
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 400 }),
      fc.integer({ min: 0, max: 1_000 }),
      fc.integer({ min: 1, max: 3 }),
      (ms, there, ticks) => {
        const room = new BoxRoom(
          profileOf([{ on: 'turn', actions: fn('volume', 'follow', { step: STEP }) }]),
        );
        room
          .host('volume/1', 0.5)
          .run(500_000)
          .turn('turn', 1)
          .run(ms * 1_000);
        room
          .host('volume/1', there / 1_000)
          .run(10_000_000)
          .turn('turn', ticks)
          .run(500_000);
        const wanted = Math.min(1, there / 1_000 + ticks * STEP);
        expect(Math.abs(room.value('volume/1') - wanted)).toBeLessThan(0.002);
      },
    ),
    { numRuns: RUNS },
  );
});
