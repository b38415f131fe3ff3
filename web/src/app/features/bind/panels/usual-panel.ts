import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  computed,
  inject,
  linkedSignal,
  signal,
} from '@angular/core';
import {
  instancesInUse,
  moveInstance,
  setUsual,
  usualAt,
  type Scope,
  type UsualPlace,
} from '@rondo/core/profile';
import { Choice, type Option } from '../../../shared/ui/form';
import { instanceName } from '../names';
import { NextTouch } from '../next-touch';
import { Workbench } from '../workbench';
import { PanelHead } from './panel-head';

/** As many instances as bindings can be moved from are offered. */
const MOST_OFFERED = 4;

interface Offer {
  readonly from: Scope;
  readonly words: string;
}

interface Row {
  readonly key: string;
  readonly place: UsualPlace;
  readonly label: string;
  readonly value: string;
  readonly offers: readonly Offer[];
  /** It is a part that was made here, and can be taken away. */
  readonly isPart: boolean;
}

const NONE = '';
const keyOf = (scope: Scope | null): string => (scope ? JSON.stringify(scope) : NONE);

/** What new bindings go to, on a surface, a part of one, or a layer: one deck, one track, or the one that is selected. */
@Component({
  selector: 'rondo-usual-panel',
  imports: [Choice, PanelHead],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <rondo-panel-head
      title="What new bindings go to"
      about="unless another is asked for by its name"
    />
    <div class="body">
      @if (hosts().length > 1) {
        <div class="row">
          <rondo-choice
            label="Host"
            [options]="hosts()"
            [value]="host()"
            (chosen)="host.set($event)"
          />
        </div>
      }
      @if (instances().length < 2) {
        <p>
          Every function of this host is there once: there is nothing to choose. Decks and tracks
          are what bindings can go to.
        </p>
      } @else {
        @for (group of groups(); track group.title) {
          <section>
            <h3>{{ group.title }}</h3>
            @for (row of group.rows; track row.key) {
              <div class="row">
                <span class="whose">{{ row.label }}</span>
                <rondo-choice
                  [label]="'New bindings of ' + row.label"
                  [options]="instances()"
                  [value]="row.value"
                  (chosen)="set(row.place, $event)"
                />
                @if (row.isPart) {
                  <button
                    type="button"
                    class="small"
                    [attr.aria-label]="'Take away what is said of ' + row.label"
                    (click)="set(row.place, '')"
                  >
                    ×
                  </button>
                }
                @for (offer of row.offers; track offer.words) {
                  <button type="button" class="small" (click)="move(row, offer)">
                    {{ offer.words }}
                  </button>
                }
              </div>
            }
            @if (group.title === 'Surfaces') {
              @if (next.run(); as run) {
                <div class="row">
                  <span role="status">
                    {{
                      run.controls.length === 0
                        ? 'Touch the controls of one surface that belong together.'
                        : run.controls.length + ' controls touched.'
                    }}
                  </span>
                  @if (run.controls.length > 0) {
                    <rondo-choice
                      label="New bindings of these controls"
                      placeholder="They go to …"
                      [options]="some()"
                      [value]="null"
                      (chosen)="setRun($event)"
                    />
                  }
                  <button type="button" class="small" (click)="next.run.set(null)">Cancel</button>
                </div>
              } @else {
                <div class="row">
                  <button type="button" class="small" (click)="begin()">
                    For some of the controls …
                  </button>
                </div>
              }
            }
          </section>
        }
        @if (said(); as text) {
          <p role="status">{{ text }}</p>
        }
      }
    </div>
  `,
  styleUrl: '../../../shared/ui/panel.css',
  styles: `
    .whose {
      min-width: 120px;
    }
  `,
})
export class UsualPanel {
  protected readonly bench = inject(Workbench);
  protected readonly next = inject(NextTouch);
  protected readonly hosts = computed<Option<string>[]>(() => {
    const profile = this.bench.profile();
    return (profile?.hostOrder ?? []).map((value) => ({
      value,
      label: profile?.hosts[value].label ?? value,
    }));
  });
  protected readonly host = linkedSignal<string, string>({
    source: () => this.hosts().at(0)?.value ?? '',
    computation: (first, before) =>
      this.hosts().some(({ value }) => value === before?.value) ? (before?.value ?? first) : first,
  });
  private readonly model = computed(() => this.bench.hostModel(this.host()));
  /** All that bindings can go to. */
  protected readonly some = computed<Option<string>[]>(() => {
    const model = this.model();
    if (!model) return [];
    const scopes: Scope[] = model.strips.map((_, strip) => ({ kind: 'fixed', strip }));
    const hasSelected = model.functions.some(
      ({ per, messages }) => per === 'strip' && messages.length > model.strips.length,
    );
    if (hasSelected) scopes.unshift({ kind: 'selected' });
    return scopes.map((scope) => ({ value: keyOf(scope), label: instanceName(model, scope) }));
  });
  protected readonly instances = computed<Option<string>[]>(() => [
    { value: NONE, label: 'What the control suggests' },
    ...this.some(),
  ]);
  protected readonly said = signal('');

  protected readonly groups = computed(() => {
    const profile = this.bench.profile();
    if (!profile) return [];
    const surfaces = profile.surfaceOrder.flatMap((surface) => {
      const { label, usual = [] } = profile.surfaces[surface];
      const parts = usual
        .filter(({ host, controls }) => host === this.host() && controls !== undefined)
        .map(({ controls = [] }) => {
          const [first] = controls;
          const name = this.bench.controlName({ surface, control: first, part: 'value' });
          const more = controls.length > 1 ? ` and ${controls.length - 1} more` : '';
          return this.row({ surface, controls }, name + more, true);
        });
      return [this.row({ surface }, label, false), ...parts];
    });
    const layers = profile.layerOrder.map((layer) =>
      this.row({ layer }, profile.layers[layer].label, false),
    );
    return [
      { title: 'Surfaces', rows: surfaces },
      { title: 'Layers', rows: layers },
    ];
  });

  constructor() {
    inject(DestroyRef).onDestroy(() => this.next.run.set(null));
  }

  private row(place: UsualPlace, label: string, isPart: boolean): Row {
    const profile = this.bench.profile();
    const scope = profile ? usualAt(profile, place, this.host()) : null;
    const others =
      profile && scope
        ? instancesInUse(profile, place, this.host()).filter(
            (one) => keyOf(one.scope) !== keyOf(scope),
          )
        : [];
    return {
      key: JSON.stringify(place),
      place,
      label,
      value: keyOf(scope),
      isPart,
      offers: others.slice(0, MOST_OFFERED).map(({ scope: from, count }) => ({
        from,
        words: `Move ${count} from ${instanceName(this.model(), from)}`,
      })),
    };
  }

  protected set(place: UsualPlace, value: string): void {
    const scope = value === NONE ? null : (JSON.parse(value) as Scope);
    this.said.set('');
    this.bench.edit((profile) => setUsual(profile, place, this.host(), scope));
  }

  /** The bindings that are there already go to what new ones go to. */
  protected move({ place, value }: Row, { from }: Offer): void {
    const model = this.model();
    if (!model || value === NONE) return;
    const to = JSON.parse(value) as Scope;
    let stayed = 0;
    this.bench.edit((profile) => {
      const moved = moveInstance(profile, place, this.host(), from, to, model);
      ({ stayed } = moved);
      return moved;
    });
    this.said.set(
      stayed === 0
        ? 'Moved. Undo takes it back.'
        : `Moved but for ${stayed}: ${instanceName(model, to)} has no such function.`,
    );
  }

  protected begin(): void {
    this.next.run.set({ controls: [], any: true });
  }

  protected setRun(value: string): void {
    const { surface = '', controls = [] } = this.next.run() ?? {};
    this.next.run.set(null);
    if (controls.length > 0) this.set({ surface, controls }, value);
  }
}
