import { Injectable, computed, inject, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import type { Edit } from '@rondo/core/document';
import {
  bind,
  bindingsOf,
  rivalsOf,
  targetOf,
  type Action,
  type BindWay,
  type ControlRef,
  type Gesture,
} from '@rondo/core/profile';
import { profileFeature } from '../../state/document';
import { Workbench } from './workbench';

/** What the last binding did to what was there before. */
export interface BindResult {
  readonly control: ControlRef;
  readonly action: Action;
  readonly layer: string;
  readonly gesture: Gesture;
  readonly way: BindWay;
  /** What stood there before, in words; empty where nothing did. */
  readonly before: string;
  /** The layer below, where a layer's own key was bound; empty for the layer that is looked at. */
  readonly below: string;
  /** The control that does the same, in words; empty where none does. */
  readonly rival: string;
}

/** Binds, tells what that has done, and does it another way as long as nothing else was done since. */
@Injectable()
export class LastBinding {
  private readonly bench = inject(Workbench);
  private readonly open = inject(Store).selectSignal(profileFeature.selectProfileState);

  /** What the last binding did; gone once anything else has been done or undone. */
  readonly result = computed(() => {
    const bound = this.bound();
    return bound && this.open().past.at(-1) === bound.by ? bound.result : null;
  });
  private readonly bound = signal<{ result: BindResult; by: Edit | undefined } | null>(null);

  /** Binds a control on the layer that is looked at, and says what that has done. */
  bind(
    action: Action,
    ref: ControlRef | null = this.bench.selected(),
    way: BindWay = 'replace',
    gesture: Gesture = ref === this.bench.selected() ? this.bench.gestureHere() : 'press',
  ): void {
    const profile = this.bench.profile();
    if (!ref || !profile) return;
    const layer = this.layerFor(action);
    const here = bindingsOf(profile, ref, { layer, gesture }).at(0);
    const rival = rivalsOf(profile, action, layer).find(
      (other) => other.control && other.id !== here?.id,
    );
    const isNewLayer = action.do === 'layer' && !Object.hasOwn(profile.layers, action.layer);
    const does = isNewLayer ? 'a new layer' : this.bench.namesOf(profile).action(action);
    const name = `Bind ${this.bench.controlName(ref)} to ${does}`;
    this.bench.actionAt.set(way === 'add' && here ? here.actions.length : 0);
    this.bench.edit((now) => bind(now, name, ref, action, { layer, gesture }, way));
    const result: BindResult = {
      control: ref,
      action,
      layer,
      gesture,
      way,
      // What was there already is not in place of itself.
      before: (here?.actions ?? [])
        .filter((one) => targetOf(one) === null || targetOf(one) !== targetOf(action))
        .map((one) => this.bench.namesOf(profile).action(one))
        .join(', '),
      below: layer === this.bench.layer() ? '' : profile.layers[layer].label,
      rival: rival?.control ? this.bench.controlName(rival.control) : '',
    };
    this.bound.set({ result, by: this.open().past.at(-1) });
    // What is bound next is for the layer that was just made.
    if (isNewLayer) this.bench.chosenLayer.set(action.layer);
  }

  /** A layer's own key has to lie below it, or nothing would turn the layer on. */
  private layerFor(action: Action): string {
    const order = this.bench.profile()?.layerOrder ?? [];
    const at = order.indexOf(this.bench.layer());
    const isOwn = action.do === 'layer' && action.layer === this.bench.layer();
    return isOwn && at > 0 ? order[at - 1] : this.bench.layer();
  }

  /** What the last binding did is told no more. */
  close(): void {
    this.bound.set(null);
  }

  /** Does the last binding another way: beside what was there, or in exchange. */
  again(way: BindWay): void {
    const result = this.result();
    if (!result) return;
    this.bench.undo();
    this.bind(result.action, result.control, way, result.gesture);
  }
}
