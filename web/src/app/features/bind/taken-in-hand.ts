import { Injectable, inject } from '@angular/core';
import { Store } from '@ngrx/store';
import { bindingsOf, type ControlRef } from '@rondo/core/profile';
import { EngineService } from '../../engine/engine.service';
import { Head, type Frame } from '../../engine/frame';
import { selectionActions } from '../../state/actions';
import { profileFeature } from '../../state/document';
import { selectionFeature } from '../../state/selection';
import { SurfacesShown } from './desk/surfaces-shown';
import { Workbench } from './workbench';

/** A control selected by touch stays so for this long, µs, whatever else moves. */
const STAY = 250_000;

/** Which control is taken in hand by a touch, and what a touch means while something else is waited for. */
@Injectable()
export class TakenInHand {
  private readonly engine = inject(EngineService);
  private readonly bench = inject(Workbench);
  private readonly surfaces = inject(SurfacesShown);
  private readonly store = inject(Store);
  private readonly profile = this.store.selectSignal(profileFeature.selectDocument);
  private readonly selected = this.store.selectSignal(selectionFeature.selectControl);
  private readonly locked = this.store.selectSignal(selectionFeature.selectLocked);
  /** Time of the last touch seen; null before the first frame, which may tell of touches from before. */
  private inHandAt: number | null = null;
  private pickedAt = -STAY;

  /** Follows what is touched. */
  read(frame: Frame): void {
    const at = frame.head(Head.InHandAt);
    const before = this.inHandAt;
    this.inHandAt = at;
    if (before === null || at === before) return;
    if (this.bench.pointed()) {
      this.bindPointed(frame);
      return;
    }
    if (this.bench.gathered()) {
      const { link, control } = frame.plan.parts[frame.head(Head.InHand)];
      this.bench.gather(frame.plan.links[link].id, control.id);
      return;
    }
    if (this.bench.run()) {
      const { link, control } = frame.plan.parts[frame.head(Head.InHand)];
      this.bench.takeIntoRun(frame.plan.links[link].id, control.id);
      return;
    }
    if (this.locked() || this.bench.choosing() > 0) return;
    // Where many controls move at once, the selection does not flicker between them.
    if (at - this.pickedAt < STAY && at >= this.pickedAt) return;
    const touched = frame.plan.parts[frame.head(Head.InHand)];
    const { id } = frame.plan.links[touched.link];
    const part = touched.part === 'touch' ? 'value' : touched.part;
    const control = { surface: id, control: touched.control.id, part };
    if (part === 'push' && this.isOnlyClicked(control)) {
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

  /** The control that is touched takes the function that was pointed at. */
  private bindPointed(frame: Frame): void {
    const touched = frame.plan.parts[frame.head(Head.InHand)];
    const pointed = this.bench.pointed();
    if (!pointed) return;
    const ref: ControlRef = {
      surface: frame.plan.links[touched.link].id,
      control: touched.control.id,
      // Who lays a finger on what moves means that.
      part: touched.part === 'touch' ? 'value' : touched.part,
    };
    this.bench.bindPointed(ref);
    this.pick(ref);
  }

  /** The control that was touched last takes it. */
  takePointed(): void {
    const selected = this.selected();
    if (selected) this.bench.bindPointed(selected);
  }

  /** Selects a control; false where it is selected already. */
  pick(control: ControlRef): boolean {
    this.bench.touched.set(control);
    // What is being chosen is for the control that was in hand when that began.
    if (this.bench.choosing() > 0) return false;
    if (this.bench.gathered()) {
      this.bench.gather(control.surface, control.control);
      return false;
    }
    if (this.bench.run()) {
      this.bench.takeIntoRun(control.surface, control.control);
      return false;
    }
    const same = this.isInHand(control);
    if (!same) this.store.dispatch(selectionActions.select({ control }));
    this.bench.causeId.set(null);
    this.bench.showingId.set(null);
    if (this.surfaces.one() !== '' && control.surface !== this.surfaces.one())
      this.surfaces.one.set(control.surface);
    return !same;
  }
}
