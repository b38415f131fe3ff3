import { emptyProfile, editBindings, type Action, type Profile } from '@rondo/core/profile';
import { Engine, RoundLog, compile, type Plan } from '@rondo/core/round';
import type { Control, Pattern, Surface } from '@rondo/core/surface';
import { GENERIC_SURFACE, cc, control, note } from '../testing/bare-surface.js';
import { stockLibrary } from '../testing/random-room.js';
import { Room } from '../testing/room.js';

const pair: Pattern = { type: 'controllerPair', channel: 1, number: 7, lsb: 39 };
const fn = (
  name: string,
  behaviour: 'follow' | 'toggle' | 'momentary' | 'set' | 'step',
  more = {},
): Action => ({
  do: 'function',
  host: 'studio',
  function: name,
  scope: { kind: 'fixed', strip: 0 },
  behaviour,
  ...more,
});

/** A bare surface with bindings on its controls, before a Studio that the test plays by bytes. */
class Bare {
  readonly engine: Engine;
  readonly out: { link: string; bytes: number[] }[] = [];
  profile: Profile;
  t = 0;
  private readonly surface: Surface;

  constructor(
    controls: readonly Control[],
    bindings: readonly {
      on: string;
      part?: 'value' | 'push';
      gesture?: 'longPress' | 'release' | 'doubleTap';
      does: Action[];
      takeover?: 'jump' | 'pickup' | 'scale';
    }[],
  ) {
    this.surface = { ...GENERIC_SURFACE, controls: [...controls] };
    const profile: Profile = {
      ...emptyProfile('bare', 'Bare'),
      surfaces: {},
      surfaceOrder: ['s'],
      bindings: {},
      bindingOrder: [],
    };
    profile.surfaces = { s: { id: 's', model: 'bare', label: 'Bare' } };
    bindings.forEach(({ on, part = 'value', gesture, does, takeover = 'jump' }, n) => {
      const id = `b${n}`;
      profile.bindings[id] = {
        id,
        layer: profile.layerOrder[0],
        control: { surface: 's', control: on, part },
        ...(gesture ? { gesture } : {}),
        feel: { takeover, tolerance: 0 },
        actions: does,
      };
      profile.bindingOrder.push(id);
    });
    this.profile = profile;
    this.engine = new Engine(this.compile(), (link, bytes, from, to) => {
      this.out.push({
        link: this.engine.plan.links[link].key,
        bytes: [...bytes.subarray(from, to)],
      });
    });
    this.engine.log = RoundLog.for(this.engine.plan);
    this.engine.plan.links.forEach((_, link) => {
      this.engine.setInputOpen(link, true, 0);
      this.engine.setOutputOpen(link, true, 0);
    });
    this.sent();
  }
  compile(): Plan {
    return compile(JSON.parse(JSON.stringify(this.profile)) as Profile, {
      ...stockLibrary,
      surface: () => this.surface,
    });
  }
  reload(): this {
    this.engine.load(this.compile(), this.t);
    return this;
  }
  say(...bytes: number[]): this {
    this.engine.at(this.t).receive(0, Uint8Array.from(bytes), 0, bytes.length);
    return this;
  }
  host(...bytes: number[]): this {
    this.engine.at(this.t).receive(1, Uint8Array.from(bytes), 0, bytes.length);
    return this;
  }
  wait(micros: number): this {
    this.t += micros;
    this.engine.advance(this.t);
    return this;
  }
  /** What has gone to the host since the last time. */
  sent(link = 'host:studio'): number[] {
    this.wait(20_000);
    const list = this.out.splice(0).filter((one) => one.link === link);
    return list.flatMap(({ bytes }) => bytes);
  }
  value(address: string): number {
    const { plan, beliefs } = this.engine;
    return beliefs.value[plan.slots.findIndex((slot) => slot.address === address)];
  }
}

const fader = control('fader', 'fader', { value: pair });
const key = control('key', 'button', { push: note(60) });
const knob = control('knob', 'knob', { value: cc(99) });

describe('edits while playing', () => {
  test('a 14-bit fader whose low half alone follows an edit stays where it is', () => {
    const room = new Bare([fader], [{ on: 'fader', does: [fn('volume', 'follow')] }]);
    room.say(0xb0, 7, 100, 0xb0, 39, 17);
    expect(room.value('volume/1')).toBeCloseTo((100 * 128 + 17) / 16_383, 6);
    room.reload().say(0xb0, 39, 20);
    expect(room.value('volume/1')).toBeCloseTo((100 * 128 + 20) / 16_383, 6);
  });

  test('a SysEx and a short message that an edit cuts in two arrive whole', () => {
    const sysex = control('sysex', 'button', {
      push: { type: 'sysex', template: 'F0 7D 01 value F7' },
    });
    const room = new Bare(
      [sysex, knob],
      [
        { on: 'sysex', part: 'push', does: [fn('mute', 'set', { to: 1 })] },
        { on: 'knob', does: [fn('volume', 'follow')] },
      ],
    );
    room.say(0xf0, 0x7d, 1).reload().say(127, 0xf7);
    expect(room.value('mute/1')).toBe(1);
    room.say(0xb0, 99).reload().say(127);
    expect(room.value('volume/1')).toBe(1);
    // Running status goes on too.
    room.reload().say(99, 0);
    expect(room.value('volume/1')).toBe(0);
  });

  test('what waits to go out goes out, also where the surface is edited', () => {
    const room = new Bare([fader], [{ on: 'fader', does: [fn('volume', 'follow')] }]);
    room.engine.setOutputOpen(1, false, room.t);
    room.engine.setOutputOpen(1, true, room.t, 0);
    room.sent();
    const taken = () => room.engine.acknowledge(1, 1_000, room.t);
    taken();
    room.say(0xb0, 7, 64, 0xb0, 39, 0);
    expect(room.sent()).toEqual([0xb0, 7, 64, 0xb0, 39, 0]);
    room.say(0xb0, 7, 65, 0xb0, 39, 0);
    expect(room.sent()).toEqual([]);
    room.reload();
    taken();
    expect(room.sent()).toEqual([0xb0, 7, 65, 0xb0, 39, 0]);
  });

  test('a control that is held when something else is bound to it drives that at once', () => {
    const touched = control('touched', 'fader', { value: cc(20), touch: note(1) });
    const room = new Bare([touched], []);
    room.say(0x90, 1, 127, 0xb0, 20, 64);
    expect(room.sent()).toEqual([]);
    room.profile.bindings['b9'] = {
      id: 'b9',
      layer: room.profile.layerOrder[0],
      control: { surface: 's', control: 'touched', part: 'value' },
      feel: { takeover: 'jump' },
      actions: [fn('volume', 'follow')],
    };
    room.profile.bindingOrder.push('b9');
    room.reload().say(0xb0, 20, 127);
    expect(room.value('volume/1')).toBe(1);
  });

  test('a binding that is edited while its key is held lets go once, and the key still works', () => {
    const room = new Bare([key], [{ on: 'key', part: 'push', does: [fn('mute', 'momentary')] }]);
    room.say(0x90, 60, 127);
    expect(room.value('mute/1')).toBe(1);
    room.profile = editBindings(room.profile, 'Solo', ['b0'], (binding) => {
      binding.actions = [fn('solo', 'momentary')];
    }).document;
    room.reload();
    expect(room.value('mute/1')).toBe(0);
    room.sent();
    room.say(0x90, 60, 0);
    expect(room.sent()).toEqual([]);
    room.say(0x90, 60, 127);
    expect(room.value('solo/1')).toBe(1);
  });
});

describe('a gesture owns its press', () => {
  const asItCame: Action = { do: 'send', to: { host: 'studio' } };
  const long = () =>
    new Bare(
      [key, knob],
      [
        { on: 'key', part: 'push', gesture: 'longPress', does: [asItCame] },
        {
          on: 'key',
          part: 'push',
          does: [{ do: 'notes', to: { host: 'studio' }, channel: 2, notes: [72] }],
        },
      ],
    );

  test('a long press sends its own message, whatever came meanwhile, and ends it once', () => {
    const room = long().say(0x90, 60, 101).say(0xb0, 99, 10).wait(600_000);
    expect(room.sent()).toEqual([0x90, 60, 101]);
    room.say(0xb0, 99, 12).say(0x80, 60, 64);
    expect(room.sent()).toEqual([0x80, 60, 64]);
  });

  test('a short press plays as hard as it was pressed, not as the knob beside it stands', () => {
    const room = long().say(0x90, 60, 127).say(0xb0, 99, 10).say(0x90, 60, 0);
    expect(room.sent()).toEqual([0x91, 72, 127, 0x91, 72, 0]);
  });

  test.each([
    ['panic', (room: Bare) => room.engine.panic(room.t)],
    ['unplugging', (room: Bare) => room.engine.setInputOpen(0, false, room.t)],
  ])('%s ends what a key sent on, and sends nothing that came last', (_, ends) => {
    const room = new Bare([key, knob], [{ on: 'key', part: 'push', does: [asItCame] }]);
    room.say(0x90, 60, 100).say(0xb0, 99, 33);
    expect(room.sent()).toEqual([0x90, 60, 100]);
    ends(room);
    expect(room.sent()).toEqual([0x90, 60, 0]);
    // The release that comes after it has nothing to end.
    room.engine.setInputOpen(0, true, room.t);
    room.say(0x90, 60, 0);
    expect(room.sent()).toEqual([]);
  });

  test('a SysEx that is pressed long is sent as it came', () => {
    const sysex = control('sysex', 'button', {
      push: { type: 'sysex', template: 'F0 7D value F7' },
    });
    const room = new Bare(
      [sysex],
      [{ on: 'sysex', part: 'push', gesture: 'longPress', does: [asItCame] }],
    );
    room.say(0xf0, 0x7d, 90, 0xf7).say(0xf0, 0x7e, 0, 6, 1, 0xf7).wait(600_000);
    expect(room.sent()).toEqual([0xf0, 0x7d, 90, 0xf7]);
  });

  test('what is pressed while choosing does nothing when it is let go, nor what was pressed before', () => {
    const room = new Bare(
      [key],
      [{ on: 'key', part: 'push', gesture: 'release', does: [fn('mute', 'set', { to: 1 })] }],
    );
    room.say(0x90, 60, 127).say(0x90, 60, 0);
    expect(room.value('mute/1')).toBe(1);
    room.host(0xb0, 0, 0);
    room.sent();
    room.engine.choosing = true;
    room.say(0x90, 60, 127);
    room.engine.choosing = false;
    room.say(0x90, 60, 0);
    expect(room.sent()).toEqual([]);
  });

  test('a latching key that sends on what comes sends each once', () => {
    const latch: Control = { ...key, id: 'latch', latching: true };
    const room = new Bare([latch], [{ on: 'latch', part: 'push', does: [asItCame] }]);
    expect(room.say(0x90, 60, 127).sent()).toEqual([0x90, 60, 127]);
    expect(room.say(0x90, 60, 0).sent()).toEqual([0x90, 60, 0]);
  });
});

test('a turn by nothing does nothing at all', () => {
  const jog = control('jog', 'encoder', {
    value: { type: 'relative', channel: 1, number: 60, encoding: 'twosComplement' },
  });
  const room = new Bare([jog], [{ on: 'jog', does: [{ do: 'bank', by: 1 }] }]);
  room.say(0xb0, 60, 0);
  expect(room.engine.bank.start).toBe(0);
  room.say(0xb0, 60, 1);
  expect(room.engine.bank.start).toBe(1);
});

describe('what Rondo itself is told from a surface', () => {
  const other = control('other', 'button', { push: note(61) });
  const told = (
    command: 'repaint' | 'panic' | 'holdOff' | 'askHosts',
    more: Action = fn('mute', 'toggle'),
  ) =>
    new Bare(
      [key, other],
      [
        { on: 'key', part: 'push', does: [{ do: 'rondo', command }] },
        { on: 'other', part: 'push', does: [more] },
      ],
    );
  const press = (room: Bare) => room.say(0x90, 60, 127).say(0x90, 60, 0);

  test('panic lets go of what another key holds, once', () => {
    const room = told('panic', fn('mute', 'momentary'));
    room.say(0x90, 61, 127);
    expect(room.value('mute/1')).toBe(1);
    press(room);
    expect(room.value('mute/1')).toBe(0);
    room.sent();
    room.say(0x90, 61, 0);
    expect(room.sent()).toEqual([]);
    expect(room.engine.motorsFree).toBe(true);
  });

  test('hold off keeps touches from hosts until it is pressed again', () => {
    const room = press(told('holdOff'));
    room.say(0x90, 61, 127).say(0x90, 61, 0);
    expect([room.engine.holdOff, room.sent()]).toEqual([true, []]);
    press(room).say(0x90, 61, 127).say(0x90, 61, 0);
    expect(room.engine.holdOff).toBe(false);
    expect(room.sent()).not.toEqual([]);
  });

  test('every host is asked for its full state', () => {
    const room = told('askHosts');
    room.sent();
    // The Studio's own question, as its catalogue has it.
    expect(press(room).sent()).toEqual([0xf0, 0x7d, 0x3f, 0xf7]);
  });

  test('what is turned cannot panic: it would at every tick', () => {
    const room = new Bare([knob], [{ on: 'knob', does: [{ do: 'rondo', command: 'panic' }] }]);
    expect(room.engine.plan.actions[0].broken).toBe(true);
    room.say(0xb0, 99, 1);
    expect(room.engine.motorsFree).toBe(false);
  });

  test('a long press does it too, at its own time', () => {
    const room = new Bare(
      [key],
      [
        {
          on: 'key',
          part: 'push',
          gesture: 'longPress',
          does: [{ do: 'rondo', command: 'holdOff' }],
        },
      ],
    );
    room.say(0x90, 60, 127).wait(100_000);
    expect(room.engine.holdOff).toBe(false);
    room.wait(600_000);
    expect(room.engine.holdOff).toBe(true);
  });
});

test('what was touched last is kept over an edit, and is nothing of another profile', () => {
  const room = new Room({ surfaces: ['faders-8'], hosts: ['studio'] }).slide('fader-1', 0.6);
  const { engine } = room.world;
  const at = engine.log!.inHandAt;
  expect(at).toBeGreaterThan(0);
  const load = (profile: Profile) => room.world.load(compile(profile, room.library));
  load({ ...room.profile, name: 'Edited' });
  expect(engine.log!.inHandAt).toBe(at);
  load({ ...room.profile, id: 'another' });
  expect([engine.log!.inHand, engine.log!.inHandAt]).toEqual([-1, -1]);
});
