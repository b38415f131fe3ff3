import '@angular/compiler';
import { nineFerriesMix, type Action } from '@rondo/core/profile';
import { documentActions as does } from './actions';
import { documentFeature, emptyDocument, type DocumentState } from './document';

const run = (...actions: Parameters<typeof documentFeature.reducer>[1][]): DocumentState =>
  actions.reduce(documentFeature.reducer, emptyDocument);
const profile = nineFerriesMix();
const opened = does.opened({ profile, revision: 4, unsaved: false, staleAt: null });
const control = { surface: 'desk', control: 'fader-1', part: 'value' } as const;
const action: Action = { do: 'bank', by: 1 };
const bind = does.bind({ name: 'Bind', control, action });

test('an edit is unsaved until exactly it has been saved', () => {
  const edited = run(opened, bind);
  expect(edited.save).toBe('unsaved');
  const later = documentFeature.reducer(edited, does.rename({ name: 'Other' }));
  const savedOld = documentFeature.reducer(
    later,
    does.saved({ profile: edited.profile!, revision: 5 }),
  );
  expect([savedOld.save, savedOld.revision]).toEqual(['unsaved', 5]);
  const savedNew = documentFeature.reducer(
    savedOld,
    does.saved({ profile: later.profile!, revision: 6 }),
  );
  expect(savedNew.save).toBe('saved');
});

test('undo and redo walk the edits and name them', () => {
  const back = run(opened, bind, does.undo());
  expect(back.profile).toEqual(profile);
  expect([back.past.length, back.future.length]).toEqual([0, 1]);
  expect(run(opened, bind, does.undo(), does.redo()).profile).toEqual(run(opened, bind).profile);
  expect(run(opened, bind, does.undo(), does.rename({ name: 'x' })).future).toEqual([]);
});

test('a stale save stays stale through further edits until the user chooses', () => {
  const stale = run(
    opened,
    bind,
    does.saveFailed({ kind: 'stale', message: '', revision: 9 }),
    does.rename({ name: 'Mine' }),
  );
  expect(stale.save).toBe('stale');
  const kept = documentFeature.reducer(stale, does.keepMine());
  expect([kept.save, kept.revision, kept.profile?.name]).toEqual(['unsaved', 9, 'Mine']);
});

test('an answer for a profile that is no longer open changes nothing', () => {
  const state = run(opened, bind);
  const other = { ...profile, id: 'other' };
  expect(documentFeature.reducer(state, does.saved({ profile: other, revision: 1 }))).toBe(state);
});
