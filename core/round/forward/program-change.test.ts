import { bind } from '@rondo/core/profile';
import { blankSurface, type Surface } from '@rondo/core/surface';
import { Room } from '../../testing/room.js';

/** A box that sends a program change for each of its songs, as pedal boards and other programs do. */
const SONGS: Surface = {
  ...blankSurface('songs', 'Songs'),
  controls: [3, 9].map((number, at) => ({
    id: `song-${number}`,
    kind: 'button' as const,
    label: `Song ${number}`,
    x: 10 + 30 * at,
    y: 10,
    width: 20,
    height: 20,
    sends: { push: { type: 'program' as const, channel: 2, number } },
    takes: {},
  })),
};

test('a program change goes over to its set-up, each time that it comes; within a second the next one is cut and told', () => {
  const room = new Room({
    surfaces: ['songs'],
    own: { songs: SONGS },
    more: (profile) =>
      [3, 9].reduce(
        (now, number) =>
          bind(
            now,
            'Bind',
            { surface: 'surface-1', control: `song-${number}`, part: 'push' },
            { do: 'setUp', setUp: `song-${number}`, name: `Song ${number}` },
          ).document,
        profile,
      ),
  });
  const { engine } = room.world;
  const asked = () => [engine.setUps.version, engine.setUps.last];
  // Program change on channel 2, with the numbers as they travel (MIDI 1.0, table II).
  room.say('surface:surface-1', 'C1 03');
  expect(asked()).toEqual([1, 'song-3']);
  room.run(1_000_000).say('surface:surface-1', 'C1 03');
  expect(asked()).toEqual([2, 'song-3']);
  room.run(1_000_000).say('surface:surface-1', 'C1 09');
  expect(asked()).toEqual([3, 'song-9']);
  // Another number, and another channel, are nobody's.
  room.run(1_000_000).say('surface:surface-1', 'C1 04', 'C2 03');
  expect(asked()).toEqual([3, 'song-9']);
  room.run(1_000_000).say('surface:surface-1', 'C1 03').say('surface:surface-1', 'C1 09');
  expect(asked()).toEqual([4, 'song-3']);
  expect(room.notices('setUps')).toHaveLength(1);
});
