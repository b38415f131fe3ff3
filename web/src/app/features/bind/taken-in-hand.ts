import { Injectable, inject } from '@angular/core';
import { Store } from '@ngrx/store';
import { bindingsOf, type ControlRef } from '@rondo/core/profile';
import { EngineService } from '../../engine/engine.service';
import { Head, type Frame } from '../../engine/frame';
import { selectionActions } from '../../state/actions';
import { profileFeature } from '../../state/document';
import { selectionFeature } from '../../state/selection';
import { SurfacesShown } from './desk/surfaces-shown';
import { NextTouch } from './next-touch';
import { Workbench } from './workbench';

/** A control selected by touch stays so for this long, µs, whatever else moves. */
const STAY = 250_000;

/** Which control is taken in hand by a touch, and what a touch means while something else is waited for. */
@Injectable()
export class TakenInHand {
  private readonly engine = inject(EngineService);
  private readonly bench = inject(Workbench);
  private readonly next = inject(NextTouch);
  private readonly surfaces = inject(SurfacesShown);
  private readonly store = inject(Store);
  private readonly profile = this.store.selectSignal(profileFeature.selectDocument);
  private readonly selected = this.store.selectSignal(selectionFeature.selectControl);
  private readonly locked = this.store.selectSignal(selectionFeature.selectLocked);
  /** Time of the last touch seen; null before the first frame, which may tell of touches from before. */
  private inHandAt: number | null = null;
  private pickedAt = -STAY;
  /** Another was touched while the one before stayed: it is taken then, unless yet another is. */
  private waits = false;

  /** Follows what is touched. */
  read(frame: Frame): void {
    const at = frame.head(Head.InHandAt);
    const before = this.inHandAt;
    this.inHandAt = at;
    if (before === null) return;
    if (at !== before) this.touched(frame, at);
    else if (this.waits && frame.head(Head.Time) - this.pickedAt >= STAY) this.takeLate(frame);
  }

  /** What a quick hand touched last is in hand once it rests. */
  private takeLate(frame: Frame): void {
    this.waits = false;
    const control = touchedIn(frame);
    if (!control || this.locked() || this.next.isAwaited()) return;
    if (!this.isInHand(control) && this.pick(control)) this.pickedAt = frame.head(Head.Time);
  }

  private touched(frame: Frame, at: number): void {
    this.waits = false;
    const control = touchedIn(frame);
    // The one that was touched may be gone, or another profile plays by now.
    if (!control) return;
    if (this.next.pointed()) {
      this.next.bindPointed(control);
      this.pick(control);
      return;
    }
    if (this.isGathered(control)) return;
    if (this.locked() || this.next.choosing() > 0) return;
    // Where many controls move at once, the selection does not flicker between them.
    if (at - this.pickedAt < STAY && at >= this.pickedAt) {
      this.waits = true;
      return;
    }
    if (control.part === 'push' && this.isOnlyClicked(control)) {
      this.bench.touched.set(control);
      return;
    }
    // What is told late of the control in hand, its release too, closes nothing that was opened since.
    if (this.isInHand(control)) this.bench.touched.set(control);
    else if (this.pick(control)) this.pickedAt = at;
  }

  private isInHand({ surface, control, part }: ControlRef): boolean {
    const now = this.selected();
    return now?.surface === surface && now.control === control && now.part === part;
  }

  /**
   * Whether the press of a drawn control was only the click that took it in hand: nothing is bound to the press, and what
   * is taken hold of is the turn. A real one that is pressed is meant so.
   */
  private isOnlyClicked(control: ControlRef): boolean {
    const profile = this.profile();
    return (
      profile !== null &&
      this.isInHand({ ...control, part: 'value' }) &&
      !this.engine.ports.choices()[`surface:${control.surface}`]?.real &&
      bindingsOf(profile, control).length === 0
    );
  }

  /** Whether it is taken into what is being gathered control by control, and so not in hand. */
  private isGathered({ surface, control }: ControlRef): boolean {
    if (this.next.gathered()) this.next.gather(surface, control);
    else if (this.next.run()) this.next.takeIntoRun(surface, control);
    else return false;
    return true;
  }

  /**
   * A drawn control was taken hold of. Where the profile plays the engine tells of the touch; in a window where nothing
   * plays nobody does, and what waits for its control gets it by this.
   */
  grasped(control: ControlRef): void {
    if (this.engine.workers.home() === 'elsewhere' && this.next.pointed())
      this.next.bindPointed(control);
  }

  /** The control that was touched last takes it. */
  takePointed(): void {
    const selected = this.selected();
    if (selected) this.next.bindPointed(selected);
  }

  /** Selects a control; false where it is selected already. */
  pick(control: ControlRef): boolean {
    this.bench.touched.set(control);
    // What is being chosen is for the control that was in hand when that began.
    if (this.next.choosing() > 0) return false;
    if (this.isGathered(control)) return false;
    const same = this.isInHand(control);
    if (!same) this.store.dispatch(selectionActions.select({ control }));
    this.bench.causeId.set(null);
    this.bench.showingId.set(null);
    if (this.surfaces.one() !== '' && control.surface !== this.surfaces.one())
      this.surfaces.one.set(control.surface);
    return !same;
  }
}

/** The control that was touched last; null where none was. Who lays a finger on what moves means that. */
function touchedIn(frame: Frame): ControlRef | null {
  const touched = frame.head(Head.InHand);
  if (touched < 0) return null;
  const { link, control, part } = frame.plan.parts[touched];
  return {
    surface: frame.plan.links[link].id,
    control: control.id,
    part: part === 'touch' ? 'value' : part,
  };
}
