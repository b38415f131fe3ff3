import fc from 'fast-check';
import {
  PLINTH_32,
  blankSurface,
  notesOfKeys,
  playedWithKeys,
  type Control,
} from '@rondo/core/surface';

const control = (kind: Control['kind'], at: number, channel: number, number: number): Control => ({
  id: `${kind}-${at}`,
  kind,
  label: `${kind} ${at}`,
  x: 0,
  y: 0,
  width: 10,
  height: 10,
  sends: { push: { type: 'note', channel, number } },
  takes: {},
});

test('the keys of a keyboard are one range; its pads, on a channel of their own, are none of it', () => {
  // 32 keys up from note 48.
  expect(notesOfKeys(PLINTH_32)).toEqual([{ channel: 1, from: 48, to: 79 }]);
  expect(playedWithKeys(PLINTH_32, notesOfKeys(PLINTH_32))).toEqual([]);
});

test('every key is played, and nothing else, however keys and buttons share channels and notes', () => {
  const place = fc.record({ channel: fc.integer({ min: 1, max: 3 }), number: fc.nat(30) });
  fc.assert(
    fc.property(
      fc.uniqueArray(place, { selector: (p) => `${p.channel} ${p.number}` }),
      (places) => {
        // Every third is a button among the keys.
        const controls = places.map(({ channel, number }, at) =>
          control(at % 3 === 2 ? 'button' : 'key', at, channel, number),
        );
        const surface = { ...blankSurface('s', 'S'), controls };
        const ranges = notesOfKeys(surface);
        expect(playedWithKeys(surface, ranges)).toEqual([]);
        for (const { kind, sends } of controls) {
          const push = sends.push as { channel: number; number: number };
          const isIn = ranges.some(
            ({ channel, from, to }) =>
              channel === push.channel && from <= push.number && push.number <= to,
          );
          expect(isIn).toBe(kind === 'key');
        }
        // A range of everything plays the buttons too, and says which.
        const all = playedWithKeys(surface, [{ channel: null, from: 0, to: 127 }]);
        expect(all).toEqual(controls.filter(({ kind }) => kind === 'button'));
      },
    ),
  );
});
