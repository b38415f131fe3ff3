import fc from 'fast-check';
import { redo, rename, undo, type Edit, type Edited } from '@rondo/core/document';
import { STOCK_SURFACES, mainPart } from '@rondo/core/surface';
import { bind, bindingsOf, neapRink, nineFerriesMix, readProfile, unbind } from './index.js';
import type { Action, ControlRef, Profile } from './index.js';

const volume = (strip: number): Action => ({
  do: 'function',
  host: 'studio',
  function: 'volume',
  scope: { kind: 'fixed', strip },
  behaviour: 'follow',
});
const on = (control: string): ControlRef => ({ surface: 'desk', control, part: 'value' });

test.each([nineFerriesMix(), neapRink()])(
  'the demo $name is sound and binds every control of its surfaces',
  (profile) => {
    expect(readProfile(profile)).toEqual({ ok: true, document: profile });
    for (const id of profile.surfaceOrder) {
      const surface = STOCK_SURFACES.get(profile.surfaces[id].model)!;
      for (const control of surface.controls) {
        const part = mainPart(control.kind);
        if (part === null || control.silent) continue;
        const bound = bindingsOf(profile, { surface: id, control: control.id, part });
        expect([control.id, bound.filter(({ layer }) => layer === 'base').length > 0]).toEqual([
          control.id,
          true,
        ]);
      }
    }
  },
);

describe('edits', () => {
  const step = fc.oneof(
    fc.record({
      does: fc.constant('bind' as const),
      fader: fc.integer({ min: 1, max: 8 }),
      strip: fc.nat({ max: 19 }),
    }),
    fc.record({
      does: fc.constant('unbind' as const),
      fader: fc.integer({ min: 1, max: 8 }),
      strip: fc.constant(0),
    }),
    fc.record({
      does: fc.constant('rename' as const),
      fader: fc.constant(0),
      strip: fc.nat({ max: 3 }),
    }),
  );
  const take = (
    profile: Profile,
    { does, fader, strip }: { does: string; fader: number; strip: number },
  ): Edited<Profile> =>
    does === 'bind'
      ? bind(profile, 'Bind', on(`fader-${fader}`), volume(strip))
      : does === 'unbind'
        ? unbind(profile, 'Unbind', on(`fader-${fader}`))
        : rename(profile, `Name ${strip}`);

  test('any run of edits, undone, is where it began; redone, where it ended; and always sound', () => {
    fc.assert(
      fc.property(fc.array(step, { maxLength: 12 }), (steps) => {
        const start = nineFerriesMix();
        let profile: Profile = start;
        const done: Edit[] = [];
        for (const s of steps) {
          const edited = take(profile, s);
          profile = edited.document;
          if (edited.edit) done.push(edited.edit);
          expect(readProfile(profile).ok).toBe(true);
        }
        const end = profile;
        for (const edit of [...done].reverse()) profile = undo(profile, edit)!;
        expect(profile).toEqual(start);
        for (const edit of done) profile = redo(profile, edit)!;
        expect(profile).toEqual(end);
      }),
    );
  });

  test('an edit is not taken back where something else has written since', () => {
    const first = rename(nineFerriesMix(), 'One');
    const second = rename(first.document, 'Two');
    expect(undo(second.document, first.edit!)).toBeNull();
    expect(undo(second.document, second.edit!)?.name).toBe('One');
  });

  test('the document itself is never changed', () => {
    const profile = nineFerriesMix();
    const before = JSON.stringify(profile);
    bind(profile, 'Bind', on('fader-1'), volume(3));
    expect(JSON.stringify(profile)).toBe(before);
  });
});

describe('reading', () => {
  const broken = (change: (draft: Record<string, unknown>) => void) => {
    const draft = JSON.parse(JSON.stringify(nineFerriesMix())) as Record<string, unknown>;
    change(draft);
    const result = readProfile(draft);
    return result.ok ? [] : result.faults;
  };

  test('unknown fields are kept', () => {
    const later = { ...nineFerriesMix(), mood: 'stormy' };
    const result = readProfile(later);
    expect(result.ok && result.document).toMatchObject({ mood: 'stormy' });
  });
  test('each fault is told with its path', () => {
    const faults = broken((draft) => {
      draft['name'] = '';
      (draft['bindings'] as Record<string, { actions: unknown }>)[
        'base.desk.fader-1.value'
      ].actions = [];
    });
    expect(faults.map((fault) => fault.path)).toEqual([
      'name',
      'bindings › base.desk.fader-1.value › actions',
    ]);
  });
  test('an order that names what is not there is refused', () => {
    const faults = broken((draft) => (draft['layerOrder'] as string[]).push('ghost'));
    expect(faults).toMatchObject([
      { path: 'layerOrder › 4', message: '“ghost” is not among the layers' },
    ]);
  });
  test('names from every object are not taken for entries', () => {
    expect(broken((draft) => (draft['layerOrder'] as string[]).push('constructor'))).toHaveLength(
      1,
    );
  });
  test('a newer format says what to do', () => {
    expect(broken((draft) => (draft['version'] = 9))[0].message).toContain('Update Rondo');
  });
  test('anything at all is answered, never thrown at', () => {
    fc.assert(fc.property(fc.jsonValue(), (value) => void readProfile(value)));
  });
});
