import fc from 'fast-check';
import { expectingId, hostNamed, lantern } from '@rondo/core/host';
import {
  addSurface,
  bind,
  emptyProfile,
  farShore,
  addRoute,
  matchControls,
  proposeStandIn,
  readProfile,
  setStandsIn,
  type Profile,
} from '@rondo/core/profile';
import { Know, compile } from '@rondo/core/round';
import {
  STOCK_SURFACES,
  WHOLE_DESK,
  lightTarget,
  nearestColour,
  shownColour,
  type Surface,
} from '@rondo/core/surface';
import { decodeDesk, encodeDesk, toHex } from '@rondo/core/wire';
import { Room, TICK } from '../testing/room.js';
import type { PlainHost } from './index.js';

const DESK_PROGRAM = expectingId(['whole-desk']);
const hostId = (profile: Profile) => profile.hostOrder[0];

/** A surface stands in for all that a program expects, as Rondo proposes it. */
const standing =
  (
    surface: string,
    expected: readonly string[],
    n = 1,
    made: Readonly<Record<string, Surface>> = {},
  ) =>
  (profile: Profile): Profile => {
    const id = `surface-${n}`;
    const units = expected.map((one) => STOCK_SURFACES.get(one)!);
    const own = made[surface] ?? STOCK_SURFACES.get(surface)!;
    const standsIn = proposeStandIn(profile, id, own, hostId(profile), units);
    return setStandsIn(profile, id, standsIn).document;
  };

describe('Rondo as the host of a desk', () => {
  const sixteen = () =>
    new Room({
      surfaces: ['harrow-8', 'harrow-8-side'],
      hosts: ['studio'],
      more: (profile) => {
        let next = profile;
        for (let strip = 0; strip < 16; strip++)
          for (const [control, fn, part] of [
            [`fader-${(strip % 8) + 1}`, 'volume', 'value'],
            [`mute-${(strip % 8) + 1}`, 'mute', 'push'],
          ] as const)
            next = bind(
              next,
              'Bind',
              { surface: `surface-${strip < 8 ? 1 : 2}`, control, part },
              {
                do: 'function',
                host: 'studio',
                function: fn,
                scope: { kind: 'window', offset: strip },
                behaviour: fn === 'mute' ? 'toggle' : 'follow',
              },
            ).document;
        return next;
      },
    });

  test('a main unit and an extender make sixteen strips, each on its own cable', () => {
    const room = sixteen();
    const studio = room.world.hosts.get('host:studio')!;
    room.slide('fader-3', 0.25, 2);
    expect(studio.values![studio.slotOf('volume/11')]).toBeCloseTo(0.25, 3);
    room.press('mute-8', 2);
    expect(studio.values![studio.slotOf('mute/16')]).toBe(1);
    expect(room.light('mute-8', 2)).toBe(1);
    expect(room.light('mute-8', 1)).toBe(0);
    // The texts of the extender go out under its own unit.
    const texts = room.sent.get('surface:surface-2')!.filter(([status]) => status === 0xf0);
    expect(new Set(texts.map((bytes) => bytes[4]))).toEqual(new Set([0x15]));
    expect(room.text('display-2', 'upper', 2).trim()).toBe('Bwd Sw');
  });

  test('it greets both, each is told apart by its serial number, and it knows their version', () => {
    const room = sixteen();
    expect(room.notices('greeting')).toHaveLength(2);
    for (const says of room.notices('greeting')) expect(says).toContain('its version is 1.02');
    expect(room.notices('twins')).toEqual([]);
  });

  test('a greeting answered in any way, or not at all, is told, and the faders work', () => {
    for (const [answer, told] of [
      ['f0 00 00 66 14 04 f7', 'refused the greeting'],
      ['f0 00 00 66 14 01 05 f7', 'that Rondo does not know (01 05)'],
      ['f0 00 00 66 14 03 f7', 'took the greeting'],
      ['', 'gave no answer'],
    ] as const) {
      const room = new Room({ surfaces: ['harrow-8'], hosts: ['studio'] });
      const { engine } = room.world;
      const link = engine.linkOf('surface:surface-1');
      // In the place of the simulated desk something that answers so.
      room.world.setReal(link, true);
      engine.setInputOpen(link, true, room.world.time);
      engine.setOutputOpen(link, true, room.world.time);
      room.run(100_000);
      expect(
        room.sent
          .get('surface:surface-1')!
          .some((m) => toHex(Uint8Array.from(m)) === 'f0 00 00 66 14 00 f7'),
      ).toBe(true);
      if (answer) room.say('surface:surface-1', answer);
      room.run(3_000_000);
      expect(room.notices('greeting').join()).toContain(told);
      room.say('surface:surface-1', '90 68 7f', 'e0 00 20');
      expect(
        engine.hand[engine.plan.parts.findIndex((p) => p.key === 'surface-1/fader-1/value')],
      ).toBeGreaterThan(0.2);
    }
  });

  test('two desks with one identity are told, and both go on', () => {
    const room = new Room({ surfaces: ['harrow-8', 'harrow-8'], hosts: ['studio'] });
    const serial = '41 42 43 44 45 46 47 01 02 03 04';
    room.say('surface:surface-1', `f0 00 00 66 14 01 ${serial} f7`);
    room.say('surface:surface-2', `f0 00 00 66 14 01 ${serial} f7`);
    expect(room.notices('twins')[0]).toMatch(/say they are the same desk/);
    room.do(() => room.desk(2).press('play', true));
    expect(room.world.engine.log!.inHand).toBeGreaterThan(0);
  });
});

describe('Rondo as the desk of a program', () => {
  const chained = () =>
    new Room({
      surfaces: ['harrow-8'],
      hosts: [DESK_PROGRAM],
      more: standing('harrow-8', ['whole-desk']),
    });

  test('it answers the greeting, takes faders, lamps, rings, texts and time, and shows them on a desk', () => {
    const room = chained();
    const { program } = room;
    expect(program.heard.map(({ kind }) => kind)).toEqual(
      expect.arrayContaining(['introduce', 'accept', 'version']),
    );
    expect(room.desk().position('fader-2')).toBeCloseTo(program.channels[1].place / 1023, 3);
    expect(room.text('display-3', 'upper').trim()).toBe('Foghor');
    expect(room.text('display-3', 'lower').trim()).toBe('C');
    expect(room.text('counter', 'upper')).toMatch(/1\.0?1/);
    expect(room.light('encoder-1', 1, 'ring')).toBe(0.5);
    expect(room.light('select-1')).toBe(1);
  });

  test('desk to program and back: a fader, a turn, a key, the bank', () => {
    const room = chained();
    const { program } = room;
    room.slide('fader-2', 0.75);
    expect(program.channels[1].place).toBe(Math.round(0.75 * 1023));
    expect(room.desk().position('fader-2')).toBeCloseTo(0.75, 3);
    expect(program.touched.size).toBe(0);
    room.do(() => room.desk().turn('encoder-4', 16));
    expect(program.channels[3].pan).toBeCloseTo(0.75);
    expect(room.text('display-4', 'lower').trim()).toBe('R50');
    expect(room.light('encoder-4', 1, 'ring')).toBeCloseTo(0.8);
    room.press('mute-5');
    expect(program.channels[4].mute).toBe(true);
    expect(room.light('mute-5')).toBe(1);
    room.press('arm-1');
    // What is armed blinks by the device's own number until it records.
    expect(room.light('arm-1')).toBeCloseTo(1 / 127);
    room.press('bank-right');
    expect(program.bank).toBe(8);
    expect(room.text('display-1', 'upper').trim()).toBe('BassCl');
    expect(room.desk().position('fader-1')).toBeCloseTo(program.channels[8].place / 1023, 3);
  });

  test('a finger on a fader is told as long as it lies there, also where it does not move', () => {
    const room = chained();
    room.do(() => room.desk().touch('fader-6', true), 2_000_000);
    expect([...room.program.touched]).toEqual([5]);
    room.do(() => room.desk().touch('fader-6', false));
    expect(room.program.touched.size).toBe(0);
  });

  test('a finger is told once, also where notes that nothing is bound to go on to the program', () => {
    const room = new Room({
      surfaces: ['harrow-8'],
      hosts: [DESK_PROGRAM],
      more: (profile) => {
        const next = standing('harrow-8', ['whole-desk'])(profile);
        const to = { host: hostId(next) };
        return addRoute(next, { surface: 'surface-1' }, to, { kinds: ['note'] }).document;
      },
    });
    const before = room.program.heard.length;
    room.do(() => room.desk().touch('fader-6', true)).do(() => room.desk().touch('fader-6', false));
    expect(room.program.heard.slice(before)).toEqual([
      { kind: 'touch', fader: 5, on: true },
      { kind: 'touch', fader: 5, on: false },
    ]);
  });

  test('what cannot feel a finger is touched while it moves', () => {
    const room = new Room({
      surfaces: ['burrow-14'],
      hosts: [DESK_PROGRAM],
      more: standing('burrow-14', ['whole-desk']),
    });
    // It has no motor, so that it has to come past where the program stands.
    for (let place = 0; place <= 1; place += 0.02)
      room.do(() => room.desk().moveTo('fader-3', place), 20_000);
    expect(room.program.touched.size).toBe(1);
    room.run(600_000);
    expect(room.program.touched.size).toBe(0);
  });

  test('two units make sixteen strips of the program on two cables', () => {
    const room = new Room({
      surfaces: ['harrow-8', 'harrow-8-side'],
      hosts: [expectingId(['harrow-8', 'harrow-8-side'])],
      // Whichever is asked first.
      more: (profile) => {
        const expected = ['harrow-8', 'harrow-8-side'];
        return standing('harrow-8', expected)(standing('harrow-8-side', expected, 2)(profile));
      },
    });
    const { program } = room;
    room.slide('fader-5', 0.1, 2);
    expect(program.channels[12].place).toBe(Math.round(0.1 * 1023));
    room.press('solo-1', 2);
    expect(program.channels[8].solo).toBe(true);
    expect(room.light('solo-1', 2)).toBe(1);
    expect(room.text('display-8', 'upper', 2).trim()).toBe('SlackT');
    expect([...room.sent.keys()]).toContain(`host:${hostId(room.profile)}~2`);
  });

  test('what is waited for stays with its cable where an edit moves it to another place', () => {
    const room = chained();
    const { engine } = room.world;
    const key = `host:${hostId(room.profile)}`;
    const desk = engine.linkOf('surface:surface-1');
    room.world.setReal(desk, true);
    engine.setInputOpen(desk, true, room.world.time);
    engine.setOutputOpen(desk, true, room.world.time);
    engine.checkTwice(engine.linkOf(key), room.world.time);
    const two = addSurface(room.profile, 'cobble-64', 'Pads').document;
    const order = [...two.surfaceOrder].reverse();
    room.world.load(compile({ ...two, surfaceOrder: order }, room.library));
    expect(engine.linkOf('surface:surface-1')).not.toBe(desk);
    room.run(10_500_000);
    expect(room.notices('greeting').join()).toMatch(/^harrow-8 gave no answer/);
    expect(room.notices('twice')[0]).toMatch(/Nothing was moved/);
  });

  test('one that does not speak is told of until it does, however it begins', () => {
    const room = chained();
    const { engine } = room.world;
    const key = `host:${hostId(room.profile)}`;
    expect(room.notices('silent')).toEqual([]);
    room.world.setReal(engine.linkOf(key), true);
    engine.setInputOpen(engine.linkOf(key), true, room.world.time);
    engine.setOutputOpen(engine.linkOf(key), true, room.world.time);
    room.run(5_000_000);
    expect(room.notices('silent')).toEqual([expect.stringContaining('has not spoken yet')]);
    room.say(key, '90 10 7f').run(3_000_000);
    expect(room.notices('silent')).toEqual([]);
  });

  test('all faders down, all lights off, and a reset are obeyed', () => {
    const room = chained();
    const key = `host:${hostId(room.profile)}`;
    room.press('mute-1');
    room.say(key, 'f0 00 00 66 14 61 f7').run(1_000_000);
    expect(room.desk().position('fader-1')).toBe(0);
    expect(room.light('mute-1')).toBe(1);
    room.say(key, 'f0 00 00 66 14 62 f7').run(500_000);
    expect(room.light('mute-1')).toBe(0);
    room.say(key, 'f0 00 00 66 14 63 f7').run(500_000);
    expect(room.text('display-1', 'upper').trim()).toBe('');
  });

  test('how meters are shown is for the desk alone, and goes on to it under its own unit', () => {
    const expected = ['harrow-8', 'harrow-8-side'];
    const room = new Room({
      surfaces: expected,
      hosts: [expectingId(expected)],
      more: (profile) =>
        standing('harrow-8-side', expected, 2)(standing('harrow-8', expected)(profile)),
    });
    const key = `host:${hostId(room.profile)}`;
    room.say(key, 'f0 00 00 66 14 20 03 05 f7').say(`${key}~2`, 'f0 00 00 66 15 21 01 f7');
    const modes = (n: number) =>
      room.sent
        .get(`surface:surface-${n}`)!
        .filter((bytes) => bytes[5] === 0x20 || bytes[5] === 0x21)
        .map((bytes) => toHex(Uint8Array.from(bytes)));
    expect(modes(1)).toEqual(['f0 00 00 66 14 20 03 05 f7']);
    expect(modes(2)).toEqual(['f0 00 00 66 15 21 01 f7']);
  });

  test('half a display, a text across its fields, one beyond its end: what came is shown', () => {
    const room = chained();
    const key = `host:${hostId(room.profile)}`;
    const display = (offset: number, text: string) =>
      toHex(encodeDesk({ kind: 'display', unit: 'main', offset, text }));
    room.say(key, display(4, 'abcdef'));
    expect(room.text('display-1', 'upper')).toBe('Narrab ');
    expect(room.text('display-2', 'upper').trim()).toBe('defrym');
    room.say(key, display(0x38 + 52, 'too long for it'));
    expect(room.notices('textSpills')[0]).toMatch(/beyond the end/);
    room.say(key, 'f0 00 00 66 14 12 00 48 90 10 7f');
    expect(room.notices('brokenText')[0]).toMatch(/broke off/);
    expect(room.light('mute-1')).toBe(1);
  });

  test('lamps for keys that the controller lacks are told by name, once each', () => {
    const room = chained();
    const key = `host:${hostId(room.profile)}`;
    room.say(key, '90 4a 7f', '90 4b 7f', '90 4b 7f');
    expect(room.notices('noLamp')[0]).toMatch(/lights Read, Write, which no control/);
  });

  test('a program that speaks to the other unit is told so', () => {
    const room = chained();
    const key = `host:${hostId(room.profile)}`;
    room.say(key, 'f0 00 00 66 15 12 00 48 49 f7');
    expect(room.notices('wrongUnit')[0]).toMatch(/Exchange the two cables/);
  });

  test('meters and their overload lamps reach the desk', () => {
    const room = chained();
    const key = `host:${hostId(room.profile)}`;
    const desk = room.desk();
    const meter = desk.outs.findIndex((o) => o.control.id === 'display-2' && o.part === 'meter');
    room.say(key, 'd0 19');
    expect(desk.outputs[meter]).toBeCloseTo(9 / 12, 1);
    room.say(key, 'd0 1e');
    expect(desk.overloads[meter]).toBe(1);
    room.run(5_000_000);
    expect(desk.overloads[meter]).toBe(1);
    room.say(key, 'd0 1f');
    expect(desk.overloads[meter]).toBe(0);
  });
});

/** The same surface with a lamp at each key, by the message that the key sends. */
const withLamps = (surface: Surface): Surface => ({
  ...surface,
  controls: surface.controls.map((control) =>
    control.sends.push ? { ...control, takes: { light: control.sends.push } } : control,
  ),
});

describe('standing in', () => {
  test('a pad grid stands in for a desk’s key rows with right colours', () => {
    const room = new Room({
      surfaces: ['cobble-64'],
      hosts: [DESK_PROGRAM],
      more: standing('cobble-64', ['whole-desk']),
    });
    const cobble = STOCK_SURFACES.get('cobble-64')!;
    const { pairs } = room.profile.surfaces['surface-1'].standsIn!;
    const padOf = (control: string) => pairs.find((pair) => pair.for === control)!.control;
    const wire = (pad: string) => Math.round(room.light(pad) * 127);
    const nearest = (colour: string) => nearestColour(cobble.device.palette, colour)!.value;
    room.press(padOf('mute-2'));
    expect(room.program.channels[1].mute).toBe(true);
    expect(wire(padOf('mute-2'))).toBe(nearest('#f59e0b'));
    room.press(padOf('solo-7'));
    expect(wire(padOf('solo-7'))).toBe(nearest('#facc15'));
    room.press(padOf('mute-2'));
    expect(wire(padOf('mute-2'))).toBe(0);
    // Rows of the desk are rows of the grid.
    const y = (pad: string) => cobble.controls.find(({ id }) => id === pad)!.y;
    for (const row of ['mute', 'solo', 'arm', 'select']) {
      const places = [1, 2, 3, 4, 5, 6, 7, 8].map((n) => y(padOf(`${row}-${n}`)));
      expect(new Set(places).size).toBe(1);
    }
  });

  test('a knob box stands in for a desk’s encoders', () => {
    const room = new Room({
      surfaces: ['burrow-14'],
      hosts: [DESK_PROGRAM],
      more: standing('burrow-14', ['whole-desk']),
    });
    const { pairs } = room.profile.surfaces['surface-1'].standsIn!;
    const knob = pairs.find((pair) => pair.for === 'encoder-2')!.control;
    expect(knob).toMatch(/^knob|^rotary/);
    const { channels } = room.program;
    room.do(() => room.desk().moveTo(knob, 0.25), 50_000);
    const before = channels[1].pan;
    // A knob's way is the ticks between two of its places, a hundred for all of it; and back again the same.
    room.do(() => room.desk().moveTo(knob, 0.25 + 16 / 127), 50_000);
    expect(Math.abs((channels[1].pan - before) * 64 - (16 / 127) * 100)).toBeLessThan(1);
    room.do(() => room.desk().moveTo(knob, 0.25), 50_000);
    expect(channels[1].pan).toBeCloseTo(before, 2);
  });

  test('several make one desk together: a knob box its faders and encoders, a pad grid its keys', () => {
    const room = new Room({
      surfaces: ['burrow-14', 'cobble-64'],
      hosts: [DESK_PROGRAM],
      more: (profile) => {
        const first = standing('burrow-14', ['whole-desk'])(profile);
        return standing('cobble-64', ['whole-desk'], 2)(first);
      },
    });
    const [knobs, pads] = ['surface-1', 'surface-2'].map(
      (id) => room.profile.surfaces[id].standsIn!.pairs,
    );
    const wanted = [...knobs, ...pads].map((pair) => pair.for);
    expect(new Set(wanted).size).toBe(wanted.length);
    for (const place of [1, 0, 1])
      room.do(() => room.desk(1).moveTo(knobs.find((p) => p.for === 'fader-2')!.control, place));
    expect(room.program.channels[1].place).toBe(1_023);
    const solo = pads.find((pair) => pair.for === 'solo-2')!.control;
    room.press(solo, 2);
    expect(room.program.channels[1].solo).toBe(true);
    expect(room.light(solo, 2)).toBeGreaterThan(0);
  });

  test('motors of another kind stand in for a desk’s faders, by their own bends; knobs with a light show its rings as plain controllers', () => {
    const faders = STOCK_SURFACES.get('faders-8')!;
    const burrow = STOCK_SURFACES.get('burrow-14')!;
    const own: Record<string, Surface> = {
      motors: {
        ...faders,
        id: 'motors',
        controls: faders.controls.map((control, i) => {
          const bend = { type: 'pitchBend' as const, channel: 9 + (i % 8), bits: 14 };
          return { ...control, sends: { value: bend }, takes: { motor: bend } };
        }),
      },
      knobs: {
        ...burrow,
        id: 'knobs',
        device: { ...burrow.device, takes: true },
        controls: burrow.controls
          .filter(({ kind }) => kind === 'knob')
          .map((control) => ({ ...control, takes: { ring: control.sends.value! } })),
      },
    };
    const room = new Room({
      surfaces: ['motors', 'knobs'],
      hosts: [DESK_PROGRAM],
      own,
      more: (profile) =>
        standing(
          'knobs',
          ['whole-desk'],
          2,
          own,
        )(standing('motors', ['whole-desk'], 1, own)(profile)),
    });
    const { program } = room;
    const pairs = (n: number) => room.profile.surfaces[`surface-${n}`].standsIn!.pairs;
    const motor = pairs(1).find((pair) => pair.for === 'fader-3')!.control;
    const knob = pairs(2).find((pair) => pair.for === 'encoder-4')!.control;
    // Where the program has it, to a step of its own ten bits.
    // It stays where the hand left it: the program has it as finely as it tells.
    expect(Math.round(room.desk(1).position(motor) * 1_023)).toBe(program.channels[2].place);
    room.do(() => room.desk(1).moveTo(motor, 0.4), 2_000_000);
    expect(program.channels[2].place).toBe(Math.round(0.4 * 1_023));
    // It stays where the hand left it: the program has it as finely as it tells.
    expect(Math.round(room.desk(1).position(motor) * 1_023)).toBe(program.channels[2].place);
    // Its rings have eleven places, of which the sixth is the middle.
    expect(room.light(knob, 2, 'ring')).toBeCloseTo(0.5, 2);
    room.do(() => program.set(program.slotOf('encoder/4'), 1, room.world.time));
    expect(room.light(knob, 2, 'ring')).toBe(1);
    room.do(() => program.set(program.slotOf('encoder/4'), 0, room.world.time));
    expect(room.light(knob, 2, 'ring')).toBe(0);
  });

  test('keys that send controllers stand in for keys that send notes, and their lamps come back as controllers', () => {
    const room = new Room({
      surfaces: ['pedals-8'],
      hosts: [DESK_PROGRAM],
      own: { 'pedals-8': withLamps(STOCK_SURFACES.get('pedals-8')!) },
      more: (profile) =>
        setStandsIn(profile, 'surface-1', {
          host: hostId(profile),
          pairs: [{ control: 'pedal-3', for: 'mute-5', unit: 0 }],
        }).document,
    });
    for (const on of [true, false]) {
      const before = room.sent.get('surface:surface-1')!.length;
      room.press('pedal-3');
      expect(room.program.channels[4].mute).toBe(on);
      expect(room.light('pedal-3')).toBe(on ? 1 : 0);
      const lamp = room.sent.get('surface:surface-1')!.slice(before);
      expect(lamp.map((bytes) => toHex(Uint8Array.from(bytes)))).toContain(
        `b0 68 ${on ? '7f' : '00'}`,
      );
    }
  });

  test('note ↔ controller, both ways: pads with notes before a program that expects controllers', () => {
    const room = new Room({
      surfaces: ['pads-16'],
      hosts: [expectingId(['pedals-8'])],
      more: (profile) =>
        setStandsIn(profile, 'surface-1', {
          host: hostId(profile),
          pairs: [{ control: 'pad-3', for: 'pedal-5', unit: 0 }],
        }).document,
    });
    const key = `host:${hostId(room.profile)}`;
    room.press('pad-3');
    const sent = room.sent.get(key)!.map((bytes) => toHex(Uint8Array.from(bytes)));
    expect(sent).toEqual(['b0 6a 7f', 'b0 6a 00']);
  });

  test('lights go through both tables of colours: what one device calls red is the other’s nearest red', () => {
    const other: Surface = {
      ...STOCK_SURFACES.get('pads-16')!,
      id: 'other-pads',
      name: 'Other pads',
      device: {
        ...STOCK_SURFACES.get('pads-16')!.device,
        palette: [
          { value: 0, colour: '#000000' },
          { value: 9, colour: '#e02020' },
          { value: 30, colour: '#2040f0' },
        ],
      },
    };
    const room = new Room({
      surfaces: ['cobble-64'],
      hosts: [expectingId(['other-pads'])],
      own: { 'other-pads': other },
      more: (profile) =>
        setStandsIn(profile, 'surface-1', {
          host: hostId(profile),
          pairs: [{ control: 'pad-1', for: 'pad-1', unit: 0 }],
        }).document,
    });
    const cobble = STOCK_SURFACES.get('cobble-64')!;
    const pad = cobble.controls.find(({ id }) => id === 'pad-1')!;
    const target = lightTarget(cobble, pad, pad.takes.light!);
    const colour = () => shownColour(target, Math.round(room.light('pad-1') * 127));
    const key = `host:${hostId(room.profile)}`;
    for (const [number, wanted] of [
      ['09', '#e02020'],
      ['1e', '#2040f0'],
    ] as const) {
      room.say(key, `90 24 ${number}`);
      expect(colour()).toBe(nearestColour(cobble.device.palette, wanted)!.colour);
    }
    room.say(key, '90 24 00');
    expect(colour()).toBeNull();
  });

  test('it is a live base layer: what is bound by itself, and other layers, lie over it', () => {
    const own = (profile: Profile): Profile => {
      const stands = standing('harrow-8', ['whole-desk'])(profile);
      const note = {
        do: 'notes',
        to: { host: hostId(profile) },
        channel: 16,
        notes: [60],
      } as const;
      const ref = { surface: 'surface-1', control: 'mute-1', part: 'push' } as const;
      return bind(stands, 'Bind', ref, { ...note, notes: [60] }).document;
    };
    const room = new Room({ surfaces: ['harrow-8'], hosts: [DESK_PROGRAM], more: own });
    room.press('mute-1');
    expect(room.program.channels[0].mute).toBe(false);
    room.press('mute-2');
    expect(room.program.channels[1].mute).toBe(true);
    // Taken away, the base is there again at once.
    const { bindings: _gone, ...rest } = room.profile;
    room.world.load(compile({ ...rest, bindings: {}, bindingOrder: [] }, room.library));
    room.press('mute-1');
    expect(room.program.channels[0].mute).toBe(true);
  });

  test('any proposal is one to one, and compiles without a fault', () => {
    const ids = [...STOCK_SURFACES.values()].filter(({ controls }) => controls.length > 0);
    fc.assert(
      fc.property(fc.constantFrom(...ids), fc.constantFrom(...ids), (surface, expected) => {
        const pairs = matchControls(surface, [expected]);
        expect(new Set(pairs.map(({ control }) => control)).size).toBe(pairs.length);
        expect(new Set(pairs.map((pair) => pair.for)).size).toBe(pairs.length);
        const room = { ...emptyProfile('p', 'P') };
        room.hosts = { h: { id: 'h', model: expectingId([expected.id]), label: 'H' } };
        room.hostOrder = ['h'];
        room.surfaces = {
          desk: { id: 'desk', model: surface.id, label: 'S', standsIn: { host: 'h', pairs } },
        };
        const library = {
          surface: (id: string) => STOCK_SURFACES.get(id),
          host: (id: string) =>
            hostNamed(
              id,
              () => undefined,
              (s) => STOCK_SURFACES.get(s),
            ),
        };
        expect(compile(room, library).broken).toEqual([]);
      }),
      { numRuns: 60 },
    );
  });
});

describe('cables', () => {
  const real = (kind: 'surface' | 'host') => {
    const room = new Room({
      surfaces: ['harrow-8'],
      hosts: [DESK_PROGRAM],
      more: standing('harrow-8', ['whole-desk']),
    });
    const { engine } = room.world;
    const link = engine.plan.links.findIndex((one) => one.kind === kind);
    room.world.setReal(link, true);
    engine.setInputOpen(link, true, room.world.time);
    engine.setOutputOpen(link, true, room.world.time);
    room.run(1_000_000);
    return { room, engine, link, key: engine.plan.links[link].key };
  };
  /** Everything that goes out on a link comes straight back on its input. */
  const looped = ({ room, engine, link }: ReturnType<typeof real>, late = 1_000) => {
    const pending: { bytes: Uint8Array; at: number }[] = [];
    room.world.tap = (to, bytes, from, end, t) => {
      if (to === link) pending.push({ bytes: bytes.slice(from, end), at: t + late });
    };
    return (micros: number) => {
      const end = room.world.time + micros;
      while (room.world.time < end) {
        room.run(TICK);
        for (const { bytes } of pending.splice(0))
          engine.receive(link, bytes, 0, bytes.length, room.world.time);
      }
    };
  };

  test.each(['surface', 'host'] as const)(
    'one to a %s that hears itself is shut, said, and the rest works',
    (kind) => {
      const at = real(kind);
      const run = looped(at);
      at.engine.repaint(at.room.world.time);
      if (kind === 'host')
        for (let n = 0; n < 6; n++) {
          at.room.desk().turn('encoder-1', 1);
          run(20_000);
        }
      run(500_000);
      expect(at.room.notices('hearsItself')[0]).toMatch(/hears itself/);
      // Nothing goes round any more.
      const before = JSON.stringify(at.engine.beliefs.value);
      run(500_000);
      expect(JSON.stringify(at.engine.beliefs.value)).toBe(before);
    },
  );

  test('the check finds a cable that hears itself, and a sound one', () => {
    const at = real('host');
    const run = looped(at);
    at.engine.checkCable(at.link, at.room.world.time);
    run(1_500_000);
    expect(at.room.notices('hearsItself')).toHaveLength(1);
    const sound = real('host');
    sound.engine.checkCable(sound.link, sound.room.world.time);
    sound.room.run(1_500_000);
    expect(sound.room.notices('hearsItself')).toEqual([]);
    expect(sound.room.notices('cable')[0]).toMatch(/the cable is sound/);
  });

  test('a program that sends places back, and a motor that is held, are never taken for a cycle', () => {
    const room = new Room({
      surfaces: ['harrow-8'],
      hosts: [DESK_PROGRAM],
      more: standing('harrow-8', ['whole-desk']),
    });
    for (let n = 1; n <= 8; n++) room.slide(`fader-${n}`, n / 10);
    for (let n = 0; n < 20; n++) room.slide('fader-1', n / 20);
    expect(room.notices('hearsItself')).toEqual([]);
    expect(room.notices('cycle')).toEqual([]);
  });

  test('quick hands on one key are never taken for a cycle, what goes round is cut', () => {
    const room = new Room({
      surfaces: ['harrow-8'],
      hosts: ['studio'],
      more: (profile) =>
        bind(
          profile,
          'Bind',
          { surface: 'surface-1', control: 'mute-1', part: 'push' },
          {
            do: 'function',
            host: 'studio',
            function: 'mute',
            scope: { kind: 'fixed', strip: 0 },
            behaviour: 'toggle',
          },
        ).document,
    });
    // 16 presses a second for four seconds: faster than most drummers.
    for (let n = 0; n < 64; n++) {
      room.do(() => room.desk().press('mute-1', true), 30_000);
      room.do(() => room.desk().press('mute-1', false), 32_000);
    }
    expect(room.notices()).toEqual(room.notices('greeting'));
    const studio = room.world.hosts.get('host:studio')!;
    let flips = 0;
    let was = studio.values![studio.slotOf('mute/1')];
    for (let n = 0; n < 200; n++) {
      room.do(() => room.desk().press('mute-1', true), 2_000);
      room.do(() => room.desk().press('mute-1', false), 2_000);
      const is = studio.values![studio.slotOf('mute/1')];
      if (is !== was) flips++;
      was = is;
    }
    expect(flips).toBeLessThanOrEqual(16);
    expect(room.notices('cycle')[0]).toMatch(/something sends it round/);
    room.run(1_000_000).press('mute-1');
    expect(studio.values![studio.slotOf('mute/1')]).not.toBe(was);
  });

  test('moves that act twice: a program that follows the device itself is found out, one that does not is cleared', () => {
    for (const follows of [true, false]) {
      const room = new Room({
        surfaces: ['harrow-8'],
        hosts: [DESK_PROGRAM],
        more: standing('harrow-8', ['whole-desk']),
      });
      const key = `host:${hostId(room.profile)}`;
      const { engine } = room.world;
      engine.checkTwice(engine.linkOf(key), room.world.time);
      const heard = room.program.heard.length;
      for (const place of [0.2, 0.4]) {
        room.do(() => room.desk().touch('fader-1', true), 20_000);
        room.do(() => {
          room.desk().moveTo('fader-1', place);
          if (follows) room.program.set(room.program.slotOf('fader/1'), place, 0);
        }, 100_000);
        room.do(() => room.desk().touch('fader-1', false));
      }
      expect(room.program.heard.length).toBe(heard);
      room.run(10_500_000);
      expect(room.notices('twice')[0]).toMatch(
        follows ? /every move acts twice/ : /hears Rondo only/,
      );
    }
  });
});

test('a program that also hears the device itself is noticed in passing, and no quick hand or momentary key is', () => {
  const room = new Room({
    surfaces: ['harrow-8'],
    hosts: [DESK_PROGRAM],
    more: standing('harrow-8', ['whole-desk']),
  });
  const { program } = room;
  const lamp = (on: boolean) =>
    room.say(`host:${hostId(room.profile)}`, `90 36 ${on ? '7f' : '00'}`);
  for (let n = 0; n < 12; n++) {
    room.do(() => room.desk().press('mute-1', true), 30_000);
    room.do(() => room.desk().press('mute-1', false), 60_000);
  }
  // A key whose lamp is lit only while it is held.
  for (let n = 0; n < 4; n++) {
    room.do(() => room.desk().press('function-1', true), 10_000);
    lamp(true);
    room.do(() => room.desk().press('function-1', false), 10_000);
    lamp(false);
  }
  expect(room.notices('twice')).toEqual([]);
  for (let n = 1; n <= 3; n++) {
    expect(room.notices('twice')).toEqual([]);
    // The program hears the press from the desk, tells of it, and hears it from Rondo.
    program.hear(0, { kind: 'key', key: 0x10 + n, on: true });
    room.run(5_000).press(`mute-${n + 1}`);
    expect(program.channels[n].mute).toBe(false);
  }
  expect(room.notices('twice')[0]).toMatch(/lamp of Mute over and back.*acts twice/);
});

test('the demo across the water: read back as written, nothing broken, a layer over the base for the synth', () => {
  const demo = farShore();
  expect(readProfile(JSON.parse(JSON.stringify(demo)))).toEqual({ ok: true, document: demo });
  const room = new Room({ profile: demo, charts: { lantern: lantern() } });
  expect(room.world.engine.plan.broken).toEqual([]);
  const desk = room.world.desks.get('surface:desk')!;
  const synth = room.world.hosts.get('host:lantern') as PlainHost;
  const slide = (control: string, to: number) => {
    room.do(() => desk.touch(control, true), 20_000);
    room.do(() => desk.moveTo(control, to), 100_000);
    room.do(() => desk.touch(control, false));
  };
  slide('fader-2', 0.25);
  expect(room.program.channels[1].place).toBe(Math.round(0.25 * 1023));
  for (const down of [true, false]) room.do(() => desk.press('layer-4', down));
  slide('fader-2', 0.75);
  expect(synth.values[synth.slotOf('cutoff')]).toBeCloseTo(Math.round(0.75 * 127) / 127, 3);
  expect(room.program.channels[1].place).toBe(Math.round(0.25 * 1023));
  // Off again, the motor goes back to where the program has it.
  for (const down of [true, false]) room.do(() => desk.press('layer-4', down));
  room.run(1_000_000);
  expect(desk.position('fader-2')).toBeCloseTo(0.25, 2);
});

test('what is said to a desk is what the codec says: patterns and protocol agree', () => {
  const room = new Room({
    surfaces: ['harrow-8'],
    hosts: [DESK_PROGRAM],
    more: standing('harrow-8', ['whole-desk']),
  });
  room.press('play').slide('fader-1', 0.3).press('arm-3');
  room.do(() => room.desk().turn('jog', -5));
  for (const [key, from] of [
    ['surface:surface-1', 'host'],
    [`host:${hostId(room.profile)}`, 'desk'],
  ] as const)
    for (const bytes of room.sent.get(key)!) {
      const message = decodeDesk(Uint8Array.from(bytes), from);
      expect(message).not.toBeNull();
      expect([...encodeDesk(message!)]).toEqual(bytes);
    }
  expect(WHOLE_DESK.controls.length).toBeGreaterThan(100);
  expect(room.belief('play').know).toBe(Know.Known);
  expect(
    (room.world.hosts.get(`host:${hostId(room.profile)}`) as unknown as PlainHost).model.desk,
  ).toBe(true);
});
