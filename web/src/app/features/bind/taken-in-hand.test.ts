import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { provideState, provideStore, Store } from '@ngrx/store';
import { nineFerriesMix } from '@rondo/core/profile';
import { compile, plainOf } from '@rondo/core/round';
import fc from 'fast-check';
import { EngineService } from '../../engine/engine.service';
import { Frame, Head, frameLength, stillFrame } from '../../engine/frame';
import { NOTHING_OWN, libraryWith } from '../../engine/library';
import { documentActions, selectionActions } from '../../state/actions';
import { hostFeature, profileFeature, surfaceFeature } from '../../state/document';
import { libraryFeature } from '../../state/library';
import { selectionFeature } from '../../state/selection';
import { SurfacesShown } from './desk/surfaces-shown';
import { LastBinding } from './last-binding';
import { NextTouch } from './next-touch';
import { Readout } from './readout';
import { TakenInHand } from './taken-in-hand';
import { SetUps } from '../../state/set-ups';
import { Workbench } from './workbench';

const PROFILE = nineFerriesMix();
const PLAN = plainOf(compile(PROFILE, libraryWith(NOTHING_OWN)));

function room() {
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
      SurfacesShown,
      Readout,
      TakenInHand,
      { provide: SetUps, useValue: { ids: signal(null) } },
      { provide: EngineService, useValue: { plan: PLAN, ports: { choices: signal({}) } } },
    ],
  });
  const store = TestBed.inject(Store);
  const document = PROFILE;
  store.dispatch(
    documentActions.opened({
      kind: 'profile',
      document,
      revision: 1,
      unsaved: false,
      staleAt: null,
    }),
  );
  return {
    store,
    inHand: TestBed.inject(TakenInHand),
    readout: TestBed.inject(Readout),
    selected: store.selectSignal(selectionFeature.selectControl),
  };
}

function frameOf(touched: number, at: number, time = at): Frame {
  const frame = new Frame(PLAN, new ArrayBuffer(frameLength(PLAN) * 8));
  frame.setHead(Head.InHand, touched);
  frame.setHead(Head.InHandAt, at);
  frame.setHead(Head.Time, Math.max(0, time));
  return frame;
}

const moment = fc.oneof(
  // Another window plays.
  fc.constant('still' as const),
  fc.constant('lock' as const),
  // An engine that was started just now: nothing was touched.
  fc.constant('anew' as const),
  // The one that was touched last is in the profile no more.
  fc.constant('gone' as const),
  fc.nat(PLAN.parts.length - 1),
);
/** Quicker than what stays in hand, or not, µs. */
const pause = fc.constantFrom(1_000, 90_000, 1_000_000);

test('over random moments, of engines that begin and windows that wait too: what is in hand is what was touched, and stays', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(moment, pause), { maxLength: 20 }), (moments) => {
      const { store, inHand, readout, selected } = room();
      let [touched, at, locked, time] = [-1, -1, false, 0];
      // What is in hand once all rest; null where that was not touched so that it could be.
      let last: number | null = null;
      for (const [one, wait] of moments) {
        time += wait;
        if (one !== 'still') last = null;
        if (one === 'lock') {
          locked = !locked;
          store.dispatch(selectionActions.lock({ locked }));
        } else if (one === 'anew') [touched, at] = [-1, -1];
        else if (one === 'gone') touched = -1;
        else if (one !== 'still') {
          [touched, at] = [one, time];
          last = locked ? null : one;
        }
        const before = selected();
        const frame =
          one === 'still' ? stillFrame(PLAN, { layers: [], bank: 0 }) : frameOf(touched, at, time);
        readout.read(frame);
        inHand.read(frame);
        const now = selected();
        if (now === before) continue;
        expect(locked).toBe(false);
        const { control, link } = PLAN.parts[touched];
        expect(now).toMatchObject({ control: control.id, surface: PLAN.links[link].id });
      }
      // However quick the hand was: what it touched last is in hand once it rests.
      inHand.read(frameOf(touched, at, time + 1_000_000));
      inHand.read(frameOf(touched, at, time + 2_000_000));
      const [first] = moments;
      if (last !== null && moments.length > 1 && first[0] !== last)
        expect(selected()?.control).toBe(PLAN.parts[last].control.id);
      // Once it is seen what was touched before, the next touch is always taken.
      const next = PLAN.parts.length - 1;
      inHand.read(frameOf(next, 1e9));
      if (!locked) expect(selected()?.control).toBe(PLAN.parts[next].control.id);
    }),
  );
});
