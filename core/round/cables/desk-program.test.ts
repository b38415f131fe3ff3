import { expectingId } from '@rondo/core/host';
import { addSurface, addRoute } from '@rondo/core/profile';
import { Know, compile } from '@rondo/core/round';
import { WHOLE_DESK } from '@rondo/core/surface';
import { decodeDesk, encodeDesk, toHex } from '@rondo/core/wire';
import { Room } from '../../testing/room.js';
import { DESK_PROGRAM, hostId, standing } from '../../testing/standing.js';
import type { PlainHost } from '@rondo/core/standin';

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
