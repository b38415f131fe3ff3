import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { provideState, provideStore, Store } from '@ngrx/store';
import {
  bind,
  bindingsOf,
  nineFerriesMix,
  targetOf,
  type Action,
  type ControlRef,
  type Profile,
} from '@rondo/core/profile';
import { rename } from '@rondo/core/document';
import { HARROW_8, inputsOf } from '@rondo/core/surface';
import fc from 'fast-check';
import { EngineService } from '../../engine/engine.service';
import { documentActions, selectionActions } from '../../state/actions';
import { hostFeature, profileFeature, surfaceFeature } from '../../state/document';
import { DocumentEditor } from '../../state/documents';
import { libraryFeature } from '../../state/library';
import { selectionFeature } from '../../state/selection';
import { choicesFor } from './round/choices';
import { LastBinding } from './last-binding';
import { NextTouch } from './next-touch';
import { SetUps } from '../../state/set-ups';
import { Workbench } from './workbench';

/** The bench with a profile on it, an editor and a store of its own; nothing plays and nothing is saved. */
function room(document: Profile = nineFerriesMix()) {
  TestBed.resetTestingModule();
  TestBed.configureTestingModule({
    providers: [
      provideStore(),
      provideState(profileFeature),
      provideState(surfaceFeature),
      provideState(hostFeature),
      provideState(libraryFeature),
      provideState(selectionFeature),
      Workbench,
      LastBinding,
      NextTouch,
      { provide: SetUps, useValue: { ids: signal(null) } },
      { provide: EngineService, useValue: { plan: null } },
    ],
  });
  const store = TestBed.inject(Store);
  store.dispatch(
    documentActions.opened({
      kind: 'profile',
      document,
      revision: 1,
      unsaved: false,
      staleAt: null,
    }),
  );
  const bench = TestBed.inject(Workbench);
  return {
    bench,
    last: TestBed.inject(LastBinding),
    next: TestBed.inject(NextTouch),
    editor: TestBed.inject(DocumentEditor),
    now: () => bench.profile() as Profile,
    take: (control: ControlRef) => store.dispatch(selectionActions.select({ control })),
  };
}

const [SURFACE] = nineFerriesMix().surfaceOrder;
const REFS: readonly ControlRef[] = HARROW_8.controls.flatMap((control) =>
  inputsOf(HARROW_8, control).map((part) => ({ surface: SURFACE, control: control.id, part })),
);
const ref = fc.constantFrom(...REFS);
const control = (id: string) => HARROW_8.controls.find((one) => one.id === id)!;
/** What the finder offers for a control. */
const offered = ({ bench, now }: ReturnType<typeof room>, at: ControlRef): readonly Action[] =>
  choicesFor(bench.namesOf(now()), HARROW_8, control(at.control), at.part, (one) => one.control)
    .map(({ action }) => action)
    .filter((action) => action.do === 'function');

test('the offers of the last binding concern it alone: kept beside, exchanged, or gone once anything else is done', () => {
  fc.assert(
    fc.property(ref, fc.nat(), fc.constantFrom('add' as const, 'swap' as const), (at, n, way) => {
      const all = room();
      const { bench, last, editor, now, take } = all;
      take(at);
      const actions = offered(all, at);
      fc.pre(actions.length > 0);
      const action = actions[n % actions.length];
      const before = now();
      last.bind(action);
      expect(bench.binding()?.actions.map(targetOf)).toContain(targetOf(action));
      expect(last.result()?.control).toEqual(at);
      // Done another way it is as if it had been done so at first.
      last.again(way);
      const layer = bench.layer();
      const wanted = bind(before, 'B', at, action, { layer, gesture: 'press' }, way).document;
      expect(now()).toEqual(wanted);
      // One step back and all is as it was; what was said of it is said no more.
      bench.undo();
      expect(now()).toEqual(before);
      expect(last.result()).toBeNull();
      last.bind(action);
      editor.edit('profile', (profile) => rename(profile, 'Another name'));
      expect(last.result()).toBeNull();
      const renamed = now();
      last.again(way);
      expect(now()).toBe(renamed);
    }),
    { numRuns: 40 },
  );
});

test('what is said to have been there before was there, and nothing is said where nothing was', () => {
  fc.assert(
    fc.property(ref, fc.nat(), fc.boolean(), (at, n, again) => {
      const all = room();
      const { bench, last, now, take } = all;
      take(at);
      const actions = offered(all, at);
      fc.pre(actions.length > 0);
      const before = now();
      const here = bindingsOf(before, at, { layer: bench.layer(), gesture: 'press' }).at(0);
      // What is there already may be bound once more.
      const action = (again ? here?.actions.at(0) : undefined) ?? actions[n % actions.length];
      const others = (here?.actions ?? []).filter(
        (one) => targetOf(one) === null || targetOf(one) !== targetOf(action),
      );
      last.bind(action);
      const said = last.result()?.before ?? '';
      expect(said === '').toBe(others.length === 0);
      for (const one of others) expect(said).toContain(bench.namesOf(before).action(one));
    }),
    { numRuns: 40 },
  );
});

test('what is unbound is unbound on its own layer and with its own gesture, and comes back in one step', () => {
  fc.assert(
    fc.property(ref, fc.constantFrom(...nineFerriesMix().layerOrder), (at, looked) => {
      const { bench, now, take } = room();
      take(at);
      // Through a layer that has nothing there the one below is seen.
      bench.chosenLayer.set(looked);
      const binding = bench.binding();
      const before = now();
      bench.unbind();
      if (!binding) {
        expect(now()).toBe(before);
        return;
      }
      const { layer } = binding;
      expect(bindingsOf(now(), at, { layer, gesture: 'press' })).toEqual([]);
      const left = ({ bindings, bindingOrder }: Profile) =>
        bindingOrder.filter((id) => {
          const one = bindings[id];
          const isHere = one.control?.control === at.control && one.control.part === at.part;
          return !(isHere && one.layer === layer);
        });
      expect(left(now())).toEqual(left(before));
      bench.undo();
      expect(now()).toEqual(before);
    }),
    { numRuns: 40 },
  );
});

test('the layer that is looked at is the chosen one, else the topmost that is on, else the lowest', () => {
  const { layerOrder } = nineFerriesMix();
  expect(layerOrder.length).toBeGreaterThan(1);
  fc.assert(
    fc.property(
      fc.subarray([...layerOrder]),
      fc.option(fc.constantFrom(...layerOrder, 'gone')),
      (on, chosen) => {
        const { bench } = room();
        bench.on.set(new Set(on));
        bench.chosenLayer.set(chosen);
        const topmost = layerOrder.filter((id, at) => at === 0 || on.includes(id)).at(-1);
        expect(bench.layer()).toBe(chosen !== null && chosen !== 'gone' ? chosen : topmost);
      },
    ),
    { numRuns: 40 },
  );
});

test('what was pointed at waits for a control that can take it, and says why one cannot', () => {
  fc.assert(
    fc.property(ref, ref, fc.nat(), (from, to, n) => {
      const all = room();
      const { last, next, now } = all;
      const actions = offered(all, from);
      fc.pre(actions.length > 0);
      const action = actions[n % actions.length];
      next.pointed.set({ action, name: 'What was pointed at' });
      const before = now();
      next.bindPointed(to);
      const fits = offered(all, to).some((one) => targetOf(one) === targetOf(action));
      expect(next.pointed() === null).toBe(fits);
      expect(next.misfit() === '').toBe(fits);
      if (!fits) expect(now()).toBe(before);
      else expect(last.result()?.control).toEqual(to);
    }),
    { numRuns: 40 },
  );
});

test('controls that are chosen one by one are of one kind and one surface, each there once', () => {
  fc.assert(
    fc.property(ref, fc.array(ref, { maxLength: 12 }), (first, touched) => {
      const { next, take } = room();
      take(first);
      next.run.set({ controls: [] });
      for (const { control: id } of touched) next.takeIntoRun(SURFACE, id);
      next.takeIntoRun('another', 'fader-1');
      const controls = next.run()?.controls ?? [];
      expect(new Set(controls).size).toBe(controls.length);
      expect(controls).not.toContain(first.control);
      for (const id of controls) expect(inputsOf(HARROW_8, control(id))).toContain(first.part);
      const wanted = touched.filter(
        ({ control: id }) =>
          id !== first.control && inputsOf(HARROW_8, control(id)).includes(first.part),
      );
      expect(controls).toEqual([...new Set(wanted.map(({ control: id }) => id))]);
    }),
    { numRuns: 60 },
  );
});
