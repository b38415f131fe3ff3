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

function frameOf(touched: number, at: number): Frame {
  const frame = new Frame(PLAN, new ArrayBuffer(frameLength(PLAN) * 8));
  frame.setHead(Head.InHand, touched);
  frame.setHead(Head.InHandAt, at);
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

test('over random moments, of engines that begin and windows that wait too: what is in hand is what was touched, and stays', () => {
  fc.assert(
    fc.property(fc.array(moment, { maxLength: 20 }), (moments) => {
      const { store, inHand, readout, selected } = room();
      let [touched, at, locked] = [-1, -1, false];
      moments.forEach((one, n) => {
        if (one === 'lock') {
          locked = !locked;
          store.dispatch(selectionActions.lock({ locked }));
        } else if (one === 'anew') [touched, at] = [-1, -1];
        else if (one === 'gone') touched = -1;
        // Further apart than many controls that move at once.
        else if (one !== 'still') [touched, at] = [one, (n + 1) * 1_000_000];
        const before = selected();
        const frame = one === 'still' ? stillFrame(PLAN) : frameOf(touched, at);
        readout.read(frame);
        inHand.read(frame);
        const now = selected();
        if (now === before) return;
        expect(locked).toBe(false);
        const { control, link } = PLAN.parts[touched];
        expect(now).toMatchObject({ control: control.id, surface: PLAN.links[link].id });
      });
      // Once it is seen what was touched before, the next touch is always taken.
      const next = PLAN.parts.length - 1;
      inHand.read(frameOf(touched, at));
      inHand.read(frameOf(next, 1e9));
      if (!locked) expect(selected()?.control).toBe(PLAN.parts[next].control.id);
    }),
  );
});
