import fc from 'fast-check';
import { neapRink, nineFerriesMix } from '@rondo/core/profile';
import { number, LitRoom, studio, pads } from '../../testing/lit-room.js';

describe('what hosts do', () => {
  test('change of focus snaps all faders', () => {
    const profile = nineFerriesMix();
    // Eight faders on the parameters of what has focus.
    for (const key of profile.bindingOrder) {
      const binding = profile.bindings[key];
      const [, n] = /^fader-(\d)$/.exec(binding.control?.control ?? '') ?? [];
      if (n === undefined) continue;
      binding.actions = [
        {
          do: 'function',
          host: 'studio',
          function: 'focusInsert',
          scope: { kind: 'focus', slot: Number(n) - 1 },
          behaviour: 'follow',
        },
      ];
    }
    const room = new LitRoom(profile).run(1_000_000);
    const places = () => [1, 2, 3, 4].map((n) => room.desk('desk').position(`fader-${n}`));
    const first = places();
    room.set('focusInsert', 0.5).run(400_000);
    const { host } = room;
    const expected = [1, 2, 3, 4].map((_, n) => {
      const { plan } = room.world.engine;
      const out = plan.outs.findIndex(
        (o) => o.control.id === `fader-${n + 1}` && o.part === 'motor',
      );
      return host.values[plan.slots[room.world.engine.showing[out]].local];
    });
    expect(places()).not.toEqual(first);
    places().forEach((place, n) => expect(place).toBeCloseTo(expected[n], 2));
  });

  test('lights are right after reopening', () => {
    const profile = pads({ 'pad-1': studio('mute', 0), 'pad-2': studio('solo', 1) });
    const room = new LitRoom(profile).set('mute/1', 1);
    const { engine } = room.world;
    const session = engine.session();
    // A new start beside a host that went on meanwhile.
    const again = new LitRoom(profile);
    again.world.engine.restore(session, again.world.time);
    again.set('solo/2', 1);
    engine.setOutputOpen(0, false, room.world.time);
    room.desk('pads').outputs.fill(0);
    room.set('mute/1', 0).set('solo/2', 1);
    engine.setOutputOpen(0, true, room.world.time);
    room.run(300_000);
    expect([room.light('pads', 'pad-1'), room.light('pads', 'pad-2')]).toEqual([
      0,
      number('#facc15'),
    ]);
    expect(again.light('pads', 'pad-2')).toBe(number('#facc15'));
  });

  test('a host that never answers leaves the lights dark, and what was said to it is taken as assumed', () => {
    const room = new LitRoom(
      pads(
        { 'pad-1': studio('mute', 0) },
        { returns: { states: { assumed: { colour: '#0000ff' } } } },
      ),
    );
    const { engine } = room.world;
    const host = engine.linkOf('host:studio');
    room.world.setReal(host, true);
    engine.setInputOpen(host, false, room.world.time);
    engine.setInputOpen(host, true, room.world.time);
    engine.setOutputOpen(host, true, room.world.time);
    expect(room.run(100_000).light('pads', 'pad-1')).toBe(0);
    engine.at(room.world.time).receive(0, Uint8Array.of(0x90, 32, 100, 0x90, 32, 0), 0, 6);
    room.world.settle();
    room.world.settle();
    expect(room.light('pads', 'pad-1')).toBe(number('#f59e0b'));
    expect(room.run(1_000_000).light('pads', 'pad-1')).toBe(number('#0000ff'));
  });
});

test.each([
  ['Nine Ferries – mix', nineFerriesMix()],
  ['Neap Rink', neapRink()],
])('%s lights up fully: every light that is bound shines when its state is on', (_, profile) => {
  const room = new LitRoom(profile);
  const { engine } = room.world;
  const { plan } = engine;
  let bound = 0;
  plan.outs.forEach((out, i) => {
    const slot = engine.showing[i];
    if (out.part !== 'light' || slot < 0 || !plan.slots[slot].reports) return;
    bound++;
    const { needs } = plan.slots[slot];
    if (needs >= 0) engine.playAt(needs, 1, room.world.time);
    // A choice is on at one of its values.
    const { choices } = plan.slots[slot].fn;
    const values = choices ? choices.map((__, n) => n / (choices.length - 1)) : [0, 1];
    const wires = values.map((value) => {
      engine.playAt(slot, value, room.world.time);
      room.run(5_000);
      return engine.shown[i];
    });
    engine.playAt(slot, null, room.world.time);
    if (needs >= 0) engine.playAt(needs, null, room.world.time);
    expect([out.key, Math.max(...wires) > 0]).toEqual([out.key, true]);
  });
  expect(bound).toBeGreaterThan(20);
});

test('a touched motor receives only its own last reported position, whatever hosts and hands do', () => {
  const step = fc.oneof(
    fc.record({ touch: fc.integer({ min: 1, max: 4 }), on: fc.boolean() }),
    fc.record({ move: fc.integer({ min: 1, max: 4 }), to: fc.integer({ min: 0, max: 1_023 }) }),
    fc.record({ host: fc.integer({ min: 1, max: 4 }), to: fc.integer({ min: 0, max: 127 }) }),
    fc.record({ bank: fc.constantFrom(-8, 1, 8) }),
    fc.record({ wait: fc.integer({ min: 1, max: 80 }) }),
  );
  fc.assert(
    fc.property(fc.array(step, { maxLength: 40 }), (steps) => {
      const room = new LitRoom(nineFerriesMix());
      const desk = room.desk('desk');
      const reported = new Map<number, number>();
      const wrong: string[] = [];
      room.world.tap = (link, bytes, from, to) => {
        if (link !== 0) return;
        for (let at = from; at + 2 < to; at++) {
          if ((bytes[at] & 0xf0) !== 0xe0) continue;
          const fader = (bytes[at] & 0x0f) + 1;
          const place = (bytes[at + 1] | (bytes[at + 2] << 7)) >> 4;
          if (fader <= 4 && desk.isTouched(`fader-${fader}`) && place !== reported.get(fader))
            wrong.push(`fader ${fader}: ${place}, reported ${reported.get(fader)}`);
        }
      };
      for (const one of steps) {
        if ('touch' in one) {
          desk.touch(`fader-${one.touch}`, one.on);
          room.world.settle();
        } else if ('move' in one) {
          // A hand that moves a fader touches it.
          desk.touch(`fader-${one.move}`, true);
          room.world.settle();
          reported.set(one.move, one.to);
          desk.moveTo(`fader-${one.move}`, one.to / 1_023);
          room.world.settle();
        } else if ('host' in one) room.set(`volume/${one.host}`, one.to / 127);
        else if ('bank' in one) {
          room.world.engine.moveBank(one.bank, room.world.time);
          room.run(5_000);
        } else room.run(one.wait * 1_000);
      }
      expect(wrong).toEqual([]);
    }),
    { numRuns: 60 },
  );
});
