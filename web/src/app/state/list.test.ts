import '@angular/compiler';
import { nineFerriesMix } from '@rondo/core/profile';
import fc from 'fast-check';
import { documentActions, listActions } from './actions';
import type { Summary } from './api';
import { listFeature, selectListOf, type ListState } from './list';

const KINDS = ['profile', 'surface', 'host'] as const;
const ids = ['a', 'b', 'c', 'd', 'e'];
const summaryOf = (id: string, revision: number) =>
  ({ id, name: `${id} ${revision}`, revision }) as Summary;
const kind = fc.constantFrom(...KINDS);
const revision = fc.integer({ min: 1, max: 99 });

const step = fc.oneof(
  fc.record({
    does: fc.constant('loaded' as const),
    kind,
    of: fc.shuffledSubarray(ids),
    revision,
  }),
  fc.record({ does: fc.constant('saved' as const), kind, id: fc.constantFrom(...ids), revision }),
  fc.record({ does: fc.constant('failed' as const), kind }),
);

test('each list is as the server told it last, in its order, with what was saved here since', () => {
  fc.assert(
    fc.property(fc.array(step, { maxLength: 12 }), (steps) => {
      const model: Record<string, ListState> = {};
      let state = listFeature.reducer(undefined, { type: 'begin' });
      for (const kind of KINDS) model[kind] = { documents: null, message: null };
      for (const one of steps) {
        const { kind } = one;
        const now = model[kind];
        if (one.does === 'loaded') {
          const documents = one.of.map((id) => summaryOf(id, one.revision));
          state = listFeature.reducer(state, listActions.loaded({ kind, documents }));
          model[kind] = { documents, message: null };
        } else if (one.does === 'saved') {
          const { id, revision } = one;
          const document = { ...nineFerriesMix(id), name: 'Renamed' };
          state = listFeature.reducer(
            state,
            documentActions.saved({ kind, document, revision } as never),
          );
          model[kind] = {
            ...now,
            documents:
              now.documents?.map((entry) =>
                entry.id === id ? { ...entry, name: 'Renamed', revision } : entry,
              ) ?? null,
          };
        } else {
          state = listFeature.reducer(state, listActions.failed({ kind, message: 'away' }));
          model[kind] = { ...now, message: 'away' };
        }
        for (const kind of KINDS) expect(selectListOf[kind]({ list: state })).toEqual(model[kind]);
      }
    }),
  );
});
