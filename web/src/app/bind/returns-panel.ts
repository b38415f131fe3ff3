import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { edit } from '@rondo/core/document';
import { usualReturns } from '@rondo/core/round';
import { lightTarget, outputsOf, type ReturnLevels } from '@rondo/core/surface';
import { ReturnsForm, applyReturns, type ReturnsChange } from '../ui/returns-form';
import { PanelHead } from './panel-head';
import { Workbench } from './workbench';

/** The levels that can be set from here. */
const SETTABLE = ['binding', 'layer', 'profile'] as const;
type Settable = (typeof SETTABLE)[number];

/** What comes back to the control in hand, for its binding, its layer or the whole profile. */
@Component({
  selector: 'rondo-returns-panel',
  imports: [PanelHead, ReturnsForm],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <rondo-panel-head title="What comes back" [about]="about()" />
    <div class="body">
      @if (!bench.control()) {
        <p>Touch a control, or click it in the drawing, to see and change what comes back to it.</p>
      } @else if (outputs().length === 0) {
        <p>Nothing can be shown on this control: it has no light, motor, ring or display.</p>
      } @else {
        <div class="row" role="radiogroup" aria-label="Where changes are kept">
          <small>Changes are for</small>
          @for (l of levelChoices(); track l.level) {
            <button
              type="button"
              class="small"
              role="radio"
              [attr.aria-checked]="level() === l.level"
              [disabled]="l.level === 'binding' && !bench.binding()"
              (click)="chosen.set(l.level)"
            >
              {{ l.label }}
            </button>
          }
        </div>
        <rondo-returns-form
          [levels]="levels()"
          [level]="level()"
          [parts]="outputs()"
          [target]="target()"
          [names]="names()"
          (changed)="write($event)"
        />
        @if (owns()) {
          <section>
            <div class="row">
              <button type="button" class="small" (click)="putBackAll()">
                Put back everything said for {{ names()[level()] }}
              </button>
            </div>
          </section>
        }
      }
    </div>
  `,
  styleUrl: './panel.css',
})
export class ReturnsPanel {
  protected readonly bench = inject(Workbench);
  protected readonly chosen = signal<Settable>('binding');

  /** Where a change is kept: what is bound, where anything is, else its layer. */
  protected readonly level = computed<Settable>(() =>
    this.chosen() === 'binding' && !this.bench.binding() ? 'layer' : this.chosen(),
  );
  private readonly layerId = computed(() => this.bench.binding()?.layer ?? this.bench.layer());
  protected readonly levelChoices = computed(() =>
    SETTABLE.map((level) => ({ level, label: this.wordsOf(level) })),
  );
  protected readonly names = computed(() => ({
    surface: `the surface ${this.bench.surface()?.name ?? ''}`,
    profile: this.wordsOf('profile').toLowerCase(),
    layer: `layer ${this.layerLabel()}`,
    binding: this.wordsOf('binding').toLowerCase(),
  }));

  protected readonly outputs = computed(() => {
    const surface = this.bench.surface();
    const control = this.bench.control();
    if (!surface || !control) return [];
    const own = outputsOf(surface, control);
    // A strip's display shows what its fader and encoder do.
    const shown = surface.controls.filter(
      (c) => c.kind === 'display' && c.strip !== undefined && c.strip === control.strip,
    );
    return [...own, ...shown.flatMap((c) => outputsOf(surface, c))];
  });
  protected readonly target = computed(() => {
    const surface = this.bench.surface();
    const control = this.bench.control();
    const pattern = control?.takes.light;
    return surface && control && pattern ? lightTarget(surface, control, pattern) : null;
  });
  protected readonly about = computed(() => this.bench.control()?.label ?? '');

  /** What each level says. */
  protected readonly levels = computed<ReturnLevels>(() => {
    const profile = this.bench.profile();
    const binding = this.bench.binding();
    const action = binding?.actions.find((a) => a.do === 'function');
    const fn = action
      ? this.bench.hostModel(action.host)?.functions.find(({ id }) => id === action.function)
      : undefined;
    const layer = this.layerId();
    return {
      usual: usualReturns(fn),
      surface: this.bench.surface()?.returns,
      profile: profile?.returns,
      layer:
        profile && Object.hasOwn(profile.layers, layer) ? profile.layers[layer].returns : undefined,
      binding: binding?.returns,
    };
  });
  protected readonly owns = computed(() => this.levels()[this.level()] !== undefined);

  private layerLabel(): string {
    return this.bench.profile()?.layers[this.layerId()]?.label ?? '';
  }

  private wordsOf(level: Settable): string {
    if (level === 'binding') return 'This binding';
    return level === 'profile' ? 'The whole profile' : `Layer ${this.layerLabel()}`;
  }

  protected putBackAll(): void {
    this.write({
      name: 'Put back what comes back',
      change: (returns) => {
        for (const key of Object.keys(returns)) Reflect.deleteProperty(returns, key);
      },
    });
  }

  protected write(change: ReturnsChange): void {
    const level = this.level();
    if (level === 'binding') {
      this.bench.change(change.name, (draft) => {
        applyReturns(draft, change);
      });
      return;
    }
    const layer = this.layerId();
    this.bench.edit((profile) =>
      edit(profile, change.name, (draft) => {
        if (level === 'profile') applyReturns(draft, change);
        else if (Object.hasOwn(draft.layers, layer)) applyReturns(draft.layers[layer], change);
      }),
    );
  }
}
