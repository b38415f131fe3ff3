import fc from 'fast-check';
import { HOST_MODELS } from '@rondo/core/host';
import { bind, nineFerriesMix, type Profile } from '@rondo/core/profile';
import { compile, REFRESH_EVERY, Shows, WIRE_SLACK } from '@rondo/core/round';
import { HARROW_8, STOCK_SURFACES, surfaceSchema, type Surface } from '@rondo/core/surface';
import { Desk } from './desk.js';
import { Wire } from './wire.js';
import { World } from './world.js';

// MIDI 1.0: 31 250 bit/s, 10 bits a byte.
const MICROS_PER_BYTE = 320;
const DESK = 0;
const TICK = 1_000;
/** What a driver holds back: the longest message, and what timers make up for. */
const BUFFER = 64 + (WIRE_SLACK + TICK) / MICROS_PER_BYTE + 3;

const din = (surface: Surface): Surface => ({
  ...surface,
  device: { ...surface.device, wire: 'din', bytesPerSecond: 1_000_000 / MICROS_PER_BYTE },
});

/** A desk behind a real port with a DIN wire of its own, and the simulated Studio. */
class Room {
  readonly world: World;
  readonly wire: Wire;
  readonly desk: Desk;
  /** Messages as they arrive at the desk. */
  readonly arrived: { t: number; bytes: number[] }[] = [];
  readonly handed: { t: number; bytes: number }[] = [];
  private readonly engineLink = DESK;

  constructor(profile: Profile = nineFerriesMix(), surface: Surface = HARROW_8, buffer = BUFFER) {
    this.wire = new Wire(MICROS_PER_BYTE, buffer);
    const plan = compile(profile, {
      surface: (id) => (id === surface.id ? din(surface) : STOCK_SURFACES.get(id)),
      host: (id) => HOST_MODELS.get(id),
    });
    this.world = new World(plan, (_, bytes, from, to) => {
      const t = this.world.engine.now;
      this.handed.push({ t, bytes: to - from });
      this.wire.push(bytes, from, to, t);
    });
    this.desk = new Desk(surface, (bytes, from, to) =>
      this.world.engine.at(this.world.time).receive(this.engineLink, bytes, from, to),
    );
    this.world.setReal(DESK, true);
    this.plug(true);
  }
  plug(on: boolean): this {
    this.world.engine.setInputOpen(DESK, on, this.world.time);
    this.world.engine.setOutputOpen(DESK, on, this.world.time);
    if (!on) this.wire.pull();
    return this;
  }
  run(micros: number): this {
    const end = this.world.time + micros;
    while (this.world.time < end) {
      this.world.advance(Math.min(end, this.world.time + TICK));
      this.wire.deliver(this.world.time, (bytes, from, to, t) => {
        for (let at = from; at < to;) {
          let next = at + 1;
          while (next < to && bytes[next] < 0x80) next++;
          if (bytes[at] === 0xf0) next++;
          this.arrived.push({ t, bytes: [...bytes.slice(at, next)] });
          at = next;
        }
        this.desk.receive(bytes, from, to);
      });
      this.desk.advance(TICK, this.world.time);
    }
    return this;
  }
  host(address: string, value: number): this {
    const studio = this.world.hosts.get('host:studio')!;
    studio.set(studio.slotOf(address), value);
    this.world.settle();
    return this;
  }
  /** What the desk shows, against the simulated picture beside the wire, which loses nothing. */
  differences(): string[] {
    const picture = this.world.desks.get('surface:desk')!;
    return this.desk.outs.flatMap(({ control, part }, out) => {
      const name = `${control.id} ${part}`;
      if (part === 'meter') return [];
      if (part === 'motor')
        return this.desk.position(control.id) === picture.position(control.id) ? [] : [name];
      const same =
        this.desk.outputs[out] === picture.outputs[out] &&
        this.desk.texts[out] === picture.texts[out];
      return same ? [] : [name];
    });
  }
}

const hostStep = fc.record({
  does: fc.constant('host' as const),
  address: fc.constantFrom(
    'volume/1',
    'volume/2',
    'pan/1',
    'mute/1',
    'solo/3',
    'arm/2',
    'play',
    'select/4',
  ),
  value: fc.integer({ min: 0, max: 127 }).map((n) => n / 127),
});
const step = fc.oneof(
  { weight: 6, arbitrary: hostStep },
  { weight: 1, arbitrary: fc.record({ does: fc.constant('pull' as const) }) },
  {
    weight: 1,
    arbitrary: fc.record({ does: fc.constant('bank' as const), by: fc.constantFrom(-8, 8, 1) }),
  },
  { weight: 1, arbitrary: fc.record({ does: fc.constant('flood' as const) }) },
);

test('whatever hosts and cables do, the desk ends as it should, and nothing overflows a driver’s buffer', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(step, fc.integer({ min: 0, max: 60_000 })), { maxLength: 25 }),
      (steps) => {
        const room = new Room().run(300_000);
        for (const [what, wait] of steps) {
          if (what.does === 'host') room.host(what.address, what.value);
          else if (what.does === 'bank') room.world.engine.moveBank(what.by, room.world.time);
          // In the middle of whatever is under way, a SysEx too.
          else if (what.does === 'pull')
            room
              .run(wait % 7_000)
              .plug(false)
              .run(20_000)
              .plug(true);
          // 10 000 changes a second for a while.
          else
            for (let n = 0; n < 400; n++)
              room.host(`volume/${1 + (n % 8)}`, (n % 100) / 100).run(n % 10 === 0 ? 1_000 : 0);
          room.run(wait);
        }
        // While a song plays its automation moves motors, and a wire is always some ms behind.
        room.host('play', 0).run(1_500_000);
        expect(room.differences()).toEqual([]);
        expect(room.wire.dropped).toBe(0);
      },
    ),
    { numRuns: 25 },
  );
});

test('bytes in any window never exceed rate × window and one message, beyond the slack that timers need', () => {
  const room = new Room().run(200_000);
  room.handed.length = 0;
  for (let n = 0; n < 300; n++) room.host(`volume/${1 + (n % 8)}`, (n % 90) / 90).run(700);
  const longest = 64;
  for (let i = 0; i < room.handed.length; i += 7) {
    let bytes = 0;
    for (let j = i; j < room.handed.length && j < i + 200; j++) {
      bytes += room.handed[j].bytes;
      const window = room.handed[j].t - room.handed[i].t + WIRE_SLACK + TICK;
      expect(bytes).toBeLessThanOrEqual(window / MICROS_PER_BYTE + longest);
    }
  }
});

test('no older value of a fader ever comes after a newer one, however busy the wire', () => {
  const room = new Room().run(300_000);
  room.arrived.length = 0;
  for (let n = 0; n <= 500; n++) {
    room.host('volume/1', n / 500);
    for (let other = 2; other <= 8; other++)
      room.host(`volume/${other}`, ((n * other) % 100) / 100);
    room.run(500);
  }
  room.run(300_000);
  const first = room.arrived
    .filter(({ bytes }) => bytes[0] === 0xe0)
    .map(({ bytes }) => bytes[1] | (bytes[2] << 7));
  expect(first.length).toBeGreaterThan(5);
  expect([...first].sort((a, b) => a - b)).toEqual(first);
  expect(first.at(-1)).toBe(16_368);
});

test('while a motor is live no SysEx longer than 15 bytes goes out between its messages', () => {
  const room = new Room().run(300_000);
  room.arrived.length = 0;
  for (let n = 0; n < 200; n++) {
    room.host('volume/1', (n % 50) / 50);
    // All lower lines have something else to say.
    for (let strip = 1; strip <= 8; strip++) room.host(`pan/${strip}`, (n % 20) / 20);
    room.run(3_000);
  }
  const motor = room.arrived.flatMap(({ bytes }, i) => (bytes[0] === 0xe0 ? [i] : []));
  const between = room.arrived
    .slice(motor[0], motor.at(-1))
    .filter(({ bytes }) => bytes[0] === 0xf0);
  expect(between.length).toBeGreaterThan(0);
  expect(Math.max(...between.map(({ bytes }) => bytes.length))).toBeLessThanOrEqual(15);
});

test('the light under the finger comes before all that a change of bank has to repaint', () => {
  const room = new Room().run(300_000);
  room.arrived.length = 0;
  room.world.engine.moveBank(8, room.world.time);
  room.run(5_000);
  room.desk.press('mute-1', true);
  room.desk.press('mute-1', false);
  room.world.settle();
  const pressed = room.world.time;
  room.run(200_000);
  const light = room.arrived.find(
    ({ bytes, t }) => t >= pressed && bytes[0] === 0x90 && bytes[1] === 0x10,
  );
  // Two messages that are under way, and the motors, which have the same rank.
  expect(light!.t - pressed).toBeLessThanOrEqual((9 + 2) * 3 * MICROS_PER_BYTE + WIRE_SLACK);
});

test('a desk switched off and on behind a live port is lit again, without being told', () => {
  const room = new Room().host('mute/1', 1).host('solo/2', 1).run(500_000);
  expect(room.differences()).toEqual([]);
  // Off and on: it has forgotten everything, and the port has noticed nothing.
  room.desk.outputs.fill(0);
  room.desk.texts.fill('');
  expect(room.differences().length).toBeGreaterThan(10);
  room.run(room.desk.outs.length * REFRESH_EVERY * 1.2);
  expect(room.differences().filter((name) => !name.startsWith('fader'))).toEqual([]);
});

test.each([
  ['layer', (room: Room) => room.world.engine.setLayer('sends', true, room.world.time)],
  ['bank', (room: Room) => room.world.engine.moveBank(1, room.world.time)],
])(
  'a change of %s sends the difference, and all the rest after it as the wire has room',
  (_, change) => {
    const room = new Room().host('mute/1', 1).host('solo/2', 1).run(500_000);
    // The device forgets all, and the port has noticed nothing.
    room.desk.outputs.fill(0);
    room.desk.texts.fill('');
    change(room);
    room.run(1_000_000);
    expect(room.differences().filter((name) => !name.startsWith('fader'))).toEqual([]);
    expect(room.wire.dropped).toBe(0);
  },
);

test('a motor without touch sense keeps off while the hand moves it and for a time after, then settles', () => {
  const plain = surfaceSchema.parse({
    id: 'plain',
    name: 'Plain',
    width: 100,
    height: 100,
    controls: [
      {
        id: 'fader',
        kind: 'fader',
        label: 'Fader',
        x: 0,
        y: 0,
        width: 10,
        height: 80,
        sends: { value: { type: 'controller', channel: 1, number: 7 } },
        takes: { motor: { type: 'controller', channel: 1, number: 7 } },
      },
    ],
  });
  const empty: Profile = {
    ...nineFerriesMix(),
    surfaces: { desk: { id: 'desk', model: 'plain', label: 'Plain' } },
    surfaceOrder: ['desk'],
    bindings: {},
    bindingOrder: [],
  };
  const profile = bind(
    empty,
    'Bind',
    { surface: 'desk', control: 'fader', part: 'value' },
    {
      do: 'function',
      host: 'studio',
      function: 'volume',
      scope: { kind: 'fixed', strip: 0 },
      behaviour: 'follow',
    },
  ).document;
  // Not when the slow refresh is due.
  const room = new Room(profile, plain).run(410_000);
  room.arrived.length = 0;
  for (let n = 0; n <= 40; n++) {
    // The host insists on something else all the while.
    room.desk.moveTo('fader', n / 100);
    room.world.settle();
    room.host('volume/1', 0.9).run(10_000);
  }
  expect(room.arrived).toEqual([]);
  room.run(350_000);
  expect(room.arrived).toEqual([]);
  room.run(900_000);
  expect(room.desk.position('fader')).toBeCloseTo(0.9, 1);
});

test('running status says the same in fewer bytes, and a pause follows each SysEx', () => {
  const paused: Surface = { ...HARROW_8, device: { ...HARROW_8.device, sysexPause: 20 } };
  const plain = new Room().run(400_000);
  const running = new Room();
  running.world.engine.setRunningStatus(DESK, true);
  running.plug(false).plug(true).run(400_000);
  expect(running.differences()).toEqual([]);
  expect(running.handed.reduce((sum, { bytes }) => sum + bytes, 0)).toBeLessThan(
    plain.handed.reduce((sum, { bytes }) => sum + bytes, 0),
  );
  const room = new Room(nineFerriesMix(), paused).run(1_000_000);
  expect(room.differences()).toEqual([]);
  const times = room.arrived.map(({ t }) => t);
  room.arrived.forEach(({ bytes }, i) => {
    if (bytes[0] === 0xf0 && i + 1 < times.length)
      expect(times[i + 1] - times[i]).toBeGreaterThanOrEqual(20_000 - WIRE_SLACK - TICK);
  });
});

test('the plan of a desk has every output that its repaint is measured by', () => {
  const { plan } = new Room().world.engine;
  const of = (shows: Shows) =>
    plan.outs.filter((out) => out.link === DESK && out.shows === shows).length;
  expect([of(Shows.Motor), of(Shows.Ring), of(Shows.Text)]).toEqual([9, 8, 17]);
});
