import fc from 'fast-check';
import { expectingId, hostNamed, lantern } from '@rondo/core/host';
import {
  bind,
  emptyProfile,
  farShore,
  matchControls,
  readProfile,
  setStandsIn,
  type Profile,
} from '@rondo/core/profile';
import { compile } from '@rondo/core/round';
import {
  STOCK_SURFACES,
  lightTarget,
  nearestColour,
  shownColour,
  type Surface,
} from '@rondo/core/surface';
import { toHex } from '@rondo/core/wire';
import { Room } from '../testing/room.js';
import { DESK_PROGRAM, hostId, standing } from '../testing/standing.js';
import type { PlainHost } from '@rondo/core/standin';

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
    room.do(() => program.set(program.slotOf('encoder/4'), 1));
    expect(room.light(knob, 2, 'ring')).toBe(1);
    room.do(() => program.set(program.slotOf('encoder/4'), 0));
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
