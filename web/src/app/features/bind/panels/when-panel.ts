import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import {
  GESTURES,
  copyToLayer,
  endLabel,
  routesFrom,
  type Condition,
  type Gesture,
} from '@rondo/core/profile';
import { ConditionList } from './condition-list';
import { GESTURE_WORDS } from '../names';
import { PanelHead } from './panel-head';
import { Workbench } from '../workbench';
import { OneOf, Switch, TextField } from '../../../shared/ui/form';
import { InputText } from 'primeng/inputtext';

/** When a binding counts: its gesture, layer, conditions, and what becomes of the message. */
@Component({
  selector: 'rondo-when-panel',
  imports: [ConditionList, InputText, OneOf, PanelHead, Switch, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <rondo-panel-head title="When it counts" [about]="about()" />
    <div class="body">
      @if (bench.isPress()) {
        <section>
          <h3>Gesture</h3>
          <rondo-one-of
            label="Gesture"
            [options]="gestures()"
            [value]="bench.gesture()"
            (chosen)="bench.gesture.set($event)"
          />
          <p>
            Each gesture has a binding of its own. A plain press waits only where a long press or a
            double tap is bound too.
          </p>
        </section>
      }
      @if (bench.binding(); as b) {
        <section>
          <h3>Layer</h3>
          <div class="row">
            <span>On {{ layerOf(b.layer) }}.</span>
            @if (b.layer !== bench.layer()) {
              <button type="button" class="small" (click)="rebind(b.id)">
                Copy it to {{ bench.layerLabel() }}
              </button>
            }
          </div>
        </section>
        @if (bench.variants().length > 1) {
          <section>
            <h3>
              Bound here {{ bench.variants().length }} times; the first whose conditions hold counts
            </h3>
          </section>
        }
        <section>
          <h3>Only while</h3>
          <rondo-condition-list [conditions]="b.when ?? []" (changed)="setWhen($event)" />
          <p>What does not hold leaves the control to the binding below.</p>
        </section>
        <section>
          <h3>The message</h3>
          <div class="row">
            <rondo-one-of
              label="The message"
              [options]="onwards"
              [value]="b.passOn ? 'on' : 'end'"
              (chosen)="setPassOn($event === 'on')"
            />
            <small>{{ onward() }}</small>
          </div>
        </section>
        <section>
          <h3>Of several only one on</h3>
          <div class="row">
            <input
              pInputText
              pSize="small"
              #group
              type="text"
              list="groups"
              maxlength="40"
              placeholder="Name of the group"
              aria-label="Exclusive group"
              [rondoText]="b.group ?? ''"
              (change)="setGroup(group.value)"
            />
            <datalist id="groups">
              @for (name of groups(); track name) {
                <option [value]="name"></option>
              }
            </datalist>
            <small>All bindings with this name let go when one comes on.</small>
          </div>
        </section>
        <section>
          <rondo-switch [on]="b.pinned ?? false" (turned)="setPinned($event)">
            Pinned: what has focus in the host never takes this control
          </rondo-switch>
        </section>
      } @else {
        <p>
          Nothing is bound to this gesture yet. Choose a function in the round, or press
          <kbd>/</kbd>.
        </p>
      }
      @if (causes().length > 0) {
        <section>
          <h3>Changes of hosts that do something too</h3>
          <ul>
            @for (text of causes(); track text) {
              <li>{{ text }}</li>
            }
          </ul>
        </section>
      }
    </div>
  `,
  styleUrl: '../../../shared/ui/panel.css',
})
export class WhenPanel {
  protected readonly bench = inject(Workbench);

  protected readonly about = this.bench.inHand;
  protected readonly gestures = computed(() => {
    const selected = this.bench.selected();
    return GESTURES.map((gesture: Gesture) => ({
      value: gesture,
      label:
        GESTURE_WORDS[gesture] +
        (selected !== null && this.bench.stack()?.of(selected, gesture) ? ' •' : ''),
    }));
  });
  protected readonly onwards = [
    { value: 'end', label: 'Consume' },
    { value: 'on', label: 'Pass on' },
  ] as const;
  protected readonly groups = computed(() => {
    const profile = this.bench.profile();
    const names = profile?.bindingOrder.flatMap((key) => profile.bindings[key].group ?? []) ?? [];
    return [...new Set(names)];
  });
  protected readonly onward = computed(() => {
    const surface = this.bench.selected()?.surface ?? '';
    const profile = this.bench.profile();
    const to = profile ? routesFrom(profile, { surface }) : [];
    return to.length > 0 && profile
      ? `Goes on to ${to.map((route) => endLabel(profile, route.to)).join(', ')}.`
      : 'Say under Ports, Routes, where messages of this surface go on to.';
  });
  protected readonly causes = computed(() => {
    const profile = this.bench.profile();
    if (!profile) return [];
    return profile.bindingOrder.flatMap((key) => {
      const { cause } = profile.bindings[key];
      return cause ? [this.bench.namesOf(profile).cause(cause)] : [];
    });
  });

  protected layerOf(id: string): string {
    return this.bench.profile()?.layers[id]?.label ?? id;
  }

  protected rebind(id: string): void {
    const to = this.bench.layer();
    this.bench.edit((profile) =>
      copyToLayer(profile, `Copy to ${profile.layers[to].label}`, [id], to, 'replace'),
    );
  }

  protected setWhen(when: Condition[]): void {
    this.bench.change('Conditions', (binding) => {
      if (when.length > 0) binding.when = when;
      else delete binding.when;
    });
  }

  protected setPassOn(on: boolean): void {
    this.bench.change(on ? 'Pass the message on' : 'End the message', (binding) => {
      if (on) binding.passOn = true;
      else delete binding.passOn;
    });
  }

  protected setGroup(text: string): void {
    const group = text.trim();
    this.bench.change('Exclusive group', (binding) => {
      if (group) binding.group = group;
      else delete binding.group;
    });
  }

  protected setPinned(on: boolean): void {
    this.bench.change(on ? 'Pin' : 'Unpin', (binding) => {
      if (on) binding.pinned = true;
      else delete binding.pinned;
    });
  }
}
