import '@angular/compiler';
import { rename, type Edited } from '@rondo/core/document';
import { bind, nineFerriesMix, type Action, type Profile } from '@rondo/core/profile';
import { documentActions as does } from './actions';
import { nothingOpen, reducerOf, type DocumentState } from './document';

type State = DocumentState<Profile>;
const reduce = reducerOf('profile');
const run = (from: State, ...actions: Parameters<typeof reduce>[1][]): State =>
  actions.reduce(reduce, from);
const kind = 'profile';
const profile = nineFerriesMix();
const opened = run(
  nothingOpen(),
  does.opened({ kind, document: profile, revision: 4, unsaved: false, staleAt: null }),
);
const change = (state: State, edit: (now: Profile) => Edited<Profile>): State =>
  run(state, does.edit({ kind, edit: edit(state.document!).edit! }));
const action: Action = { do: 'bank', by: 1 };
const control = { surface: 'desk', control: 'fader-1', part: 'value' } as const;
const bound = change(opened, (now) => bind(now, 'Bind', control, action));

test('an edit is unsaved until exactly it has been saved', () => {
  expect(bound.save).toBe('unsaved');
  const later = change(bound, (now) => rename(now, 'Other'));
  const savedOld = run(later, does.saved({ kind, document: bound.document!, revision: 5 }));
  expect([savedOld.save, savedOld.revision]).toEqual(['unsaved', 5]);
  const savedNew = run(savedOld, does.saved({ kind, document: later.document!, revision: 6 }));
  expect(savedNew.save).toBe('saved');
});

test('undo and redo walk the edits and name them', () => {
  const back = run(bound, does.undo({ kind }));
  expect(back.document).toEqual(profile);
  expect([back.past.length, back.future.length]).toEqual([0, 1]);
  expect(run(back, does.redo({ kind })).document).toEqual(bound.document);
  expect(change(back, (now) => rename(now, 'x')).future).toEqual([]);
});

test('a stale save stays stale through further edits until the user chooses', () => {
  const stale = change(
    run(
      bound,
      does.saveFailed({ kind, id: profile.id, failure: 'stale', message: '', revision: 9 }),
    ),
    (now) => rename(now, 'Mine'),
  );
  expect(stale.save).toBe('stale');
  const kept = run(stale, does.keepMine({ kind }));
  expect([kept.save, kept.revision, kept.document?.name]).toEqual(['unsaved', 9, 'Mine']);
});

test('an answer for a profile that is no longer open, or an edit of another kind, changes nothing', () => {
  const other = { ...profile, id: 'other' };
  expect(run(bound, does.saved({ kind, document: other, revision: 1 }))).toBe(bound);
  const failed = { kind, id: other.id, failure: 'refused', message: 'no', revision: null } as const;
  expect(run(bound, does.saveFailed(failed))).toBe(bound);
  expect(run(bound, does.saving({ kind, id: other.id }))).toBe(bound);
  const edit = bound.past[0];
  expect(run(bound, does.edit({ kind: 'surface', edit }))).toBe(bound);
});
