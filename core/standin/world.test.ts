import { HOST_MODELS } from '@rondo/core/host';
import { nineFerriesMix } from '@rondo/core/profile';
import { compile } from '@rondo/core/round';
import { Studio, World } from '@rondo/core/standin';
import { HARROW_8, STOCK_SURFACES, type Surface } from '@rondo/core/surface';
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
  expect(studio.clock[0]).toBe(world.time);
  room.run(1_000_000);
  expect(place()).toBeGreaterThan(stood);
});

test('a surface that is edited while it plays knows what time it is: a level that comes at once does not fall at once', () => {
  const compiled = (surface: Surface) =>
    compile(nineFerriesMix(), {
      surface: (id) => (id === surface.id ? surface : STOCK_SURFACES.get(id)),
      host: (id) => HOST_MODELS.get(id),
    });
  const world = new World(compiled(HARROW_8));
  world.advance(5_000_000);
  world.load(compiled(structuredClone(HARROW_8)));
  const desk = world.desks.get('surface:desk')!;
  // The first strip's meter at its top (Mackie-style, common practice, no source).
  desk.receive(Uint8Array.of(0xd0, 0x0c), 0, 2);
  world.advance(5_005_000);
  expect(
    Math.max(...desk.outs.map(({ part }, i) => (part === 'meter' ? desk.outputs[i] : 0))),
  ).toBe(1);
});
