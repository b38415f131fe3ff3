import { HOST_MODELS } from '@rondo/core/host';
import { bind, emptyProfile, type Action, type Profile } from '@rondo/core/profile';
import { Stop, compile, partKey } from '@rondo/core/round';
import {
  STOCK_SURFACES,
  inputsOf,
  mainPart,
  turns,
  type Control,
  type InputPart,
  type Surface,
} from '@rondo/core/surface';
import type { Desk } from './index.js';
import { World } from './world.js';

const STRIPS = 16;
const action = (n: number, behaviour: 'follow' | 'momentary'): Action => ({
  do: 'function',
  host: 'studio',
  function: behaviour === 'follow' ? 'volume' : 'mute',
  scope: { kind: 'fixed', strip: n % STRIPS },
  behaviour,
});

/** A profile in which every part of a surface drives something, and the world to play it in. */
class Room {
  readonly world: World;
  readonly desk: Desk;

  constructor(
    readonly surface: Surface,
    change: (profile: Profile) => Profile = (same) => same,
  ) {
    let profile: Profile = {
      ...emptyProfile('p', 'P'),
      surfaces: { box: { id: 'box', model: surface.id, label: surface.name } },
      surfaceOrder: ['box'],
    };
    surface.controls.forEach((control, n) => {
      for (const part of inputsOf(surface, control))
        profile = bind(
          profile,
          'Bind',
          { surface: 'box', control: control.id, part },
          action(n, part === 'push' ? 'momentary' : 'follow'),
        ).document;
    });
    const library = {
      surface: (id: string) => (id === surface.id ? surface : undefined),
      host: (id: string) => HOST_MODELS.get(id),
    };
    this.world = new World(compile(change(profile), library));
    this.desk = this.world.desks.get('surface:box')!;
    this.world.advance(1_000_000);
  }
  part(control: string, part: InputPart): number {
    const key = partKey('box', control, part);
    return this.world.engine.plan.parts.findIndex((plan) => plan.key === key);
  }
  do(hand: () => void): this {
    hand();
    this.world.advance(this.world.time + 200_000);
    return this;
  }
  play(control: Control): this {
    const part = mainPart(control.kind);
    return this.do(() => {
      if (part === 'push') this.desk.press(control.id, true);
      else if (turns(this.surface, control, 'value')) this.desk.turn(control.id, 3);
      // To and fro, so that it meets its function wherever that is.
      else for (const position of [1, 0, 1]) this.desk.moveTo(control.id, position);
    });
  }
  stopOf(control: string, part: InputPart): Stop {
    return this.world.engine.log!.stop[this.part(control, part)] as Stop;
  }
}

const sending = (control: Control, surface: Surface) =>
  Object.values(control.sends).some((pattern) => pattern.type !== 'osc') &&
  inputsOf(surface, control).length > 0;

test.each([...STOCK_SURFACES.values()].map((surface) => [surface.id, surface] as const))(
  'every control of %s, played by its stand-in, reaches its host',
  (_, surface) => {
    const room = new Room(surface);
    for (const control of surface.controls.filter((c) => sending(c, surface))) {
      const part = mainPart(control.kind)!;
      room.play(control);
      const { log } = room.world.engine;
      expect([control.id, log!.at[room.part(control.id, part)] > 0]).toEqual([control.id, true]);
      expect([control.id, room.stopOf(control.id, part)]).toEqual([control.id, Stop.None]);
    }
  },
);

test('what sends nothing, or cannot be told anything, has no such parts', () => {
  const { plan } = new Room(STOCK_SURFACES.get('crosstie-2')!).world.engine;
  expect(plan.parts.some((part) => part.control.id === 'booth')).toBe(false);
  expect(plan.outs).toEqual([]);
});

test('a self-latching key changes once a press; a wheel springs back to its rest', () => {
  const club = new Room(STOCK_SURFACES.get('crosstie-2')!);
  const cue = () => club.world.engine.down[club.part('left-cue', 'push')];
  const press = () =>
    club.do(() => {
      club.desk.press('left-cue', true);
      club.desk.press('left-cue', false);
    });
  press();
  expect(cue()).toBe(1);
  press();
  expect(cue()).toBe(0);
  club.do(() => club.desk.moveTo('curve', 0.4));
  expect(club.world.engine.hand[club.part('curve', 'value')]).toBeCloseTo(64 / 127, 6);

  const keys = new Room(STOCK_SURFACES.get('plinth-32')!);
  keys.do(() => keys.desk.touch('pitch', true)).do(() => keys.desk.moveTo('pitch', 1));
  expect(keys.desk.position('pitch')).toBe(1);
  keys.do(() => keys.desk.touch('pitch', false));
  expect(keys.world.engine.hand[keys.part('pitch', 'value')]).toBeCloseTo(0.5, 3);
});

test('a control stays the same control on every onboard page, and the page is known', () => {
  const room = new Room(STOCK_SURFACES.get('plinth-32')!);
  const link = room.world.engine.linkOf('surface:box');
  room.do(() => room.desk.turnPage(2));
  expect(room.world.engine.pages[link]).toBe(2);
  room.do(() => room.desk.moveTo('knob-3', 0.5));
  expect(room.world.engine.hand[room.part('knob-3', 'value')]).toBeCloseTo(0.5, 2);
});

test('a note whose role is to be played fires no command, and the round says so', () => {
  const room = new Room(STOCK_SURFACES.get('plinth-32')!, (profile) => ({
    ...profile,
    surfaces: {
      box: {
        ...profile.surfaces['box'],
        roles: { notes: [{ channel: 1, from: 48, to: 59 }], clock: false },
      },
    },
  }));
  const sent: number[] = [];
  const studio = room.world.hosts.get('host:studio')!;
  const receive = studio.receive.bind(studio);
  studio.receive = (bytes, from, to, t) => {
    sent.push(to - from);
    receive(bytes, from, to, t);
  };
  const key = (n: number) => room.surface.controls.find((c) => c.id === `key-${n}`)!;
  room.play(key(3));
  expect(room.stopOf('key-3', 'push')).toBe(Stop.Music);
  expect(sent).toEqual([]);
  room.play(key(13));
  expect(room.stopOf('key-13', 'push')).toBe(Stop.None);
  // The pads sit on another channel.
  room.play(room.surface.controls.find((c) => c.id === 'pad-1')!);
  expect(room.stopOf('pad-1', 'push')).toBe(Stop.None);
});

test('an edited surface keeps what is on it and shows it again', () => {
  const cobble = STOCK_SURFACES.get('cobble-64')!;
  const room = new Room(cobble);
  room.do(() => room.desk.press('pad-1', true));
  const light = room.world.engine.plan.outs.findIndex((out) => out.control.id === 'pad-1');
  // The lightest of its own colours, not 127, which its table does not have.
  const on = room.desk.outputs[light];
  expect(cobble.device.palette.some(({ value }) => value === Math.round(on * 127))).toBe(true);
  expect(on).toBeGreaterThan(0);
  const moved = {
    ...cobble,
    controls: cobble.controls.map((c) =>
      c.id === 'pad-1'
        ? { ...c, takes: { light: { type: 'note' as const, channel: 2, number: 5 } } }
        : c,
    ),
  };
  const { plan } = new Room(moved).world.engine;
  room.world.load(plan);
  room.do(() => undefined);
  const desk = room.world.desks.get('surface:box')!;
  expect(desk).not.toBe(room.desk);
  expect(desk.outputs[light]).toBe(on);
});
