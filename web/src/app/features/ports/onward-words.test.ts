import { PLINTH_32 } from '@rondo/core/surface';
import { notesOutside, onwardWords } from './onward-words';

const roles = (from: number, to: number) => ({
  notes: [{ channel: null, from, to }],
  clock: false,
});

test('that a kind has to be chosen is said, and pads outside the played notes are named', () => {
  expect(onwardWords(PLINTH_32, roles(0, 127), [], 'Studio')).toEqual([
    expect.stringContaining('Switch on the kinds'),
  ]);
  expect(onwardWords(PLINTH_32, roles(0, 127), ['note'], 'Studio')).toHaveLength(1);
  const notes = PLINTH_32.controls.flatMap(({ kind, label, sends }) =>
    sends.push?.type === 'note' ? [{ kind, label, note: sends.push.number }] : [],
  );
  const keys = notes.filter(({ kind }) => kind === 'key').map(({ note }) => note);
  const played = roles(Math.min(...keys), Math.max(...keys));
  const outside = notes.filter(({ note }) => !keys.includes(note)).map(({ label }) => label);
  expect(notesOutside(PLINTH_32, played)).toEqual(outside);
  expect(onwardWords(PLINTH_32, played, ['note'], 'Studio').length).toBe(outside.length ? 2 : 1);
  // Where nothing is said to be played nobody means notes to be otherwise.
  expect(onwardWords(PLINTH_32, { notes: [], clock: false }, ['note'], 'Studio')).toHaveLength(1);
});
