import fc from 'fast-check';
import { MESSAGE_KINDS } from '@rondo/core/profile';
import { PLINTH_32 } from '@rondo/core/surface';
import { clockWords, kindsOf, notesOutside, routeWords, runs, strayNotes } from './route-words';

const roles = (from: number, to: number) => ({
  notes: [{ channel: null, from, to }],
  clock: false,
});

test('a route reads as a sentence', () => {
  const midi = kindsOf(false);
  expect(routeWords({ kinds: [] }, false)).toBe('only what a binding passes on');
  expect(routeWords({ kinds: midi }, false)).toBe('everything');
  expect(routeWords({ kinds: ['osc'] }, true)).toBe('everything');
  expect(routeWords({ kinds: ['note', 'pressure'], channels: [10] }, false)).toBe(
    'only notes and pressure on channel 10',
  );
  expect(
    routeWords(
      {
        kinds: ['note'],
        notes: { from: 36, to: 59 },
        channels: [4, 1, 2, 3, 7, 8],
        transpose: -12,
        channel: 2,
      },
      false,
    ),
  ).toBe('only notes C2–B3 on channels 1–4, 7 and 8; 12 semitones down; all as channel 2');
  expect(routeWords({ kinds: midi, rest: true, transpose: 1 }, false)).toBe(
    'everything that no other line takes; 1 semitone up',
  );
  // Every kind can be said, and OSC and MIDI are never on offer together.
  expect([...midi, ...kindsOf(true)].sort()).toEqual([...MESSAGE_KINDS].sort());
});

test('runs of numbers say each number once, and none besides', () => {
  fc.assert(
    fc.property(fc.uniqueArray(fc.integer({ min: 1, max: 16 }), { minLength: 1 }), (numbers) => {
      const said = runs(numbers)
        .split(/, | and /)
        .flatMap((run) => {
          const [from, to = from] = run.split('–').map(Number);
          return Array.from({ length: to - from + 1 }, (_, n) => from + n);
        });
      expect(said).toEqual([...numbers].sort((a, b) => a - b));
    }),
  );
});

test('a clock is told with its jitter, and only while there is one', () => {
  const route = { id: 'r', passed: 1, cameJitter: 400, wentJitter: 1_250 };
  expect(clockWords({ ...route, tickGap: 0 })).toBe('');
  // 24 ticks a beat (MIDI 1.0): 120 beats a minute are 20.83 ms apart.
  expect(clockWords({ ...route, tickGap: 20_833 })).toBe(
    'Clock 120.0 bpm: comes with 0.4 ms of jitter, goes on with 1.3 ms.',
  );
});

test('pads outside the played notes are named where their notes would sound', () => {
  const notes = PLINTH_32.controls.flatMap(({ kind, label, sends }) =>
    sends.push?.type === 'note' ? [{ kind, label, note: sends.push.number }] : [],
  );
  const keys = notes.filter(({ kind }) => kind === 'key').map(({ note }) => note);
  const played = roles(Math.min(...keys), Math.max(...keys));
  const outside = notes.filter(({ note }) => !keys.includes(note)).map(({ label }) => label);
  expect(outside.length).toBeGreaterThan(0);
  expect(notesOutside(PLINTH_32, played)).toEqual(outside);
  expect(strayNotes(PLINTH_32, played, ['Studio'])).toContain(outside[0]);
  expect(strayNotes(PLINTH_32, played, [])).toBe('');
  expect(strayNotes(PLINTH_32, roles(0, 127), ['Studio'])).toBe('');
  // Where nothing is said to be played nobody means notes to be otherwise.
  expect(strayNotes(PLINTH_32, { notes: [], clock: false }, ['Studio'])).toBe('');
});
