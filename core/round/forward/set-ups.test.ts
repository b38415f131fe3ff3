import { bind, readSetUp, type Action, type SetUp } from '@rondo/core/profile';
import { Room } from '../../testing/room.js';

const room = () =>
  new Room({
    surfaces: ['burrow-14'],
    hosts: ['studio'],
    more: (profile) => {
      const key = (n: number) =>
        ({ surface: 'surface-1', control: `button-${n}`, part: 'push' }) as const;
      const goTo = (name: string): Action => ({ do: 'setUp', setUp: name.toLowerCase(), name });
      const one = bind(profile, 'Bind', key(1), goTo('Saturday')).document;
      const two = bind(one, 'Bind', key(2), goTo('Sunday')).document;
      const knob = { surface: 'surface-1', control: 'knob-1', part: 'value' } as const;
      return bind(two, 'Bind', knob, goTo('Sunday')).document;
    },
  });

test('a key asks for a set-up; a second one within a second is cut, and told', () => {
  const made = room();
  const { engine } = made.world;
  made.press('button-1');
  expect([engine.setUps.last, engine.setUps.version]).toEqual(['saturday', 1]);
  made.press('button-2');
  expect([engine.setUps.last, engine.setUps.version]).toEqual(['saturday', 1]);
  expect(made.notices('setUps')).toEqual([
    expect.stringContaining('“Sunday” was asked for less than a second after another set-up'),
  ]);
  made.run(1_000_000).press('button-2');
  expect([engine.setUps.last, engine.setUps.version]).toEqual(['sunday', 2]);
  // What is moved would ask at every message.
  expect(engine.plan.broken.map(({ why }) => why)).toEqual([
    'It needs something that is pressed: bind it to a key, a pad or a pedal.',
  ]);
});

test('a set-up is read whole or not at all', () => {
  const setUp: SetUp = {
    format: 'rondo-setup',
    version: 1,
    id: 'u-1',
    name: 'Saturday',
    profile: 'nine-ferries-mix',
    ports: {
      'surface:desk': { real: true, input: { id: 'a', name: 'Desk' }, output: null },
      'host:lamproom': {
        real: true,
        input: null,
        output: null,
        net: { listen: 8000, to: { host: '127.0.0.1', port: 9000 }, from: [] },
      },
    },
    layers: ['shift'],
    flags: { take: true },
    bank: 8,
  };
  expect(readSetUp(JSON.parse(JSON.stringify(setUp)))).toEqual({ ok: true, document: setUp });
  for (const wrong of [{ bank: -1 }, { name: '' }, { ports: { a: { real: 1 } } }, { version: 2 }])
    expect(readSetUp({ ...setUp, ...wrong }).ok).toBe(false);
});
