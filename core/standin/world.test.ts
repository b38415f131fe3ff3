import { Studio } from '@rondo/core/standin';
import { Room } from '../testing/room.js';

test('a host in whose place there is a real program stands still and says nothing; put back, it goes on', () => {
  const room = new Room({ surfaces: ['harrow-8'], hosts: ['studio'] });
  const { world } = room;
  const link = world.engine.plan.links.findIndex(({ kind }) => kind === 'host');
  const { key } = world.engine.plan.links[link];
  const studio = world.hosts.get(key) as Studio;
  const place = () => studio.transport.position;
  studio.set(studio.slotOf('play'), 1);
  room.run(1_000_000);
  const before = place();
  room.run(1_000_000);
  expect(place()).toBeGreaterThan(before);

  world.setReal(link, true);
  const stood = place();
  const known = [...world.engine.beliefs.value];
  room.run(2_000_000);
  expect(place()).toBe(stood);
  expect([...world.engine.beliefs.value]).toEqual(known);

  world.setReal(link, false);
  room.run(1_000_000);
  expect(place()).toBeGreaterThan(stood);
});
