import fc from 'fast-check';
import { nineFerriesMix } from '@rondo/core/profile';
import { LitRoom } from '../../testing/lit-room.js';

/* Levels on a desk's meters: the overload lamp and the highest place have times of their own, and are one strip's. */

const OVERLOAD_STAYS = 2_000_000;

/** The demo with peaks that stay so long, ms, before a program whose levels come by bytes; what the first meter shows. */
function metered(peak: number) {
  const room = new LitRoom({ ...nineFerriesMix(), returns: { peak } });
  const { engine } = room.world;
  const desk = room.desk('desk');
  const out = desk.outs.findIndex((o) => o.control.id === 'display-1' && o.part === 'meter');
  const level = (strip: number, value: number) => {
    const { report } = engine.plan.slots.find(({ address }) => address === `meter/${strip}`)!;
    if (report?.type !== 'controller')
      throw new Error('The levels of the program are controllers.');
    const bytes = Uint8Array.of(
      0xb0 | (report.channel - 1),
      report.number,
      Math.round(value * 127),
    );
    engine.at(room.world.time).receive(engine.linkOf('host:studio'), bytes, 0, bytes.length);
    room.world.settle();
    return room.run(20_000);
  };
  return { room, engine, level, shown: () => [desk.outputs[out], desk.overloads[out]] as const };
}

test('an overload lamp goes out by itself after its time, whatever peak stays beside it', () => {
  fc.assert(
    fc.property(fc.constantFrom(0, 200, 1_500, 3_000), fc.nat(99), (peak, rest) => {
      const { room, level, shown } = metered(peak);
      level(1, 1);
      expect(shown()[1]).toBe(1);
      level(1, rest / 127);
      room.run(OVERLOAD_STAYS - 200_000);
      expect(shown()[1]).toBe(1);
      room.run(300_000);
      expect(shown()[1]).toBe(0);
    }),
    { numRuns: 20 },
  );
});

test('neither comes along when another strip is shown', () => {
  const { room, engine, level, shown } = metered(3_000);
  level(2, 0.2);
  level(1, 1);
  expect(shown()).toEqual([1, 1]);
  engine.moveBank(1, room.world.time);
  room.run(50_000);
  expect(shown()[1]).toBe(0);
  // The desk lets it fall by itself, a step about every 300 ms: while a peak of the other strip would stay it is down.
  room.run(2_800_000);
  expect(shown()[0]).toBeLessThan(0.4);
});
