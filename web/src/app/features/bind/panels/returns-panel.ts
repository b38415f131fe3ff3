import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Router } from '@angular/router';
import { edit } from '@rondo/core/document';
import { editShowing, type FunctionAction } from '@rondo/core/profile';
import { usualReturns } from '@rondo/core/round';
import { lightTarget, outputsOf, type OutputPart, type ReturnLevels } from '@rondo/core/surface';
import { ReturnsForm, applyReturns, type ReturnsChange } from '../../../shared/ui/returns-form';
import { PanelHead } from './panel-head';
import { deafName } from '../deaf';
import { OwnCopy } from '../own-copy';
import { Workbench } from '../workbench';
import { OneOf } from '../../../shared/ui/form';

type FunctionTarget = Pick<FunctionAction, 'host' | 'function'>;

/** The levels that can be set from here. */
const SETTABLE = ['binding', 'layer', 'profile'] as const;
type Settable = (typeof SETTABLE)[number];

/** What comes back to the control in hand, for its binding, its layer or the whole profile. */
@Component({
  selector: 'rondo-returns-panel',
  imports: [OneOf, PanelHead, ReturnsForm],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <rondo-panel-head title="What comes back" [about]="about()" />
    <div class="body">
      @if (deaf(); as name) {
        <p>
          Nothing comes back to {{ name }}: no messages are taken there, so no light, motor, ring or
          display can be driven.
        </p>
      } @else if (!bench.control() && !bench.showing()) {
        <p>Touch a control, or click it in the drawing, to see and change what comes back to it.</p>
      } @else if (outputs().length === 0) {
        <p>Nothing can be shown on this control: it has no light, motor, ring or display.</p>
      } @else {
        <div class="row">
          <small>Changes are for</small>
          <rondo-one-of
            label="Where changes are kept"
            [options]="levelChoices()"
            [value]="level()"
            (chosen)="chosen.set($event)"
          />
          @if (deviceId(); as id) {
            <button
              type="button"
              class="small"
              title="What comes back to it in every profile, where a profile does not say otherwise"
              (click)="openDevice(id)"
            >
              The device itself ▸
            </button>
          }
        </div>
        @if (copies.trouble(); as text) {
          <p role="alert">{{ text }}</p>
        }
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
                Reset everything said for {{ names()[level()] }}
              </button>
            </div>
          </section>
        }
      }
    </div>
  `,
  styleUrl: '../../../shared/ui/panel.css',
})
export class ReturnsPanel {
  protected readonly bench = inject(Workbench);
  protected readonly chosen = signal<Settable>('binding');

  protected readonly copies = inject(OwnCopy);
  private readonly router = inject(Router);
  /** The surface of the control in hand, within the profile. */
  protected readonly deviceId = computed(() => this.bench.selected()?.surface ?? null);

  /** To where is said what comes back to the device in every profile; one that comes with Rondo is copied for that. */
  protected async openDevice(id: string): Promise<void> {
    const model = await this.copies.of(id);
    if (model !== null)
      void this.router.navigate(['/surfaces', model], { queryParams: { part: 'device' } });
  }

  /** What is looked at: a showing where one is open, else what is bound. */
  protected readonly owner = computed(() => this.bench.showing() ?? this.bench.binding());
  /** Where a change is kept: what is looked at, where there is anything, else its layer. */
  protected readonly level = computed<Settable>(() =>
    this.chosen() === 'binding' && !this.owner() ? 'layer' : this.chosen(),
  );
  private readonly layerId = computed(() => this.owner()?.layer ?? this.bench.layer());
  protected readonly levelChoices = computed(() =>
    SETTABLE.filter((level) => level !== 'binding' || this.owner() !== null).map((value) => ({
      value,
      label: this.wordsOf(value),
    })),
  );
  protected readonly names = computed(() => ({
    surface: `the surface ${this.bench.surface()?.name ?? ''}`,
    profile: this.wordsOf('profile').toLowerCase(),
    layer: `layer ${this.layerLabel()}`,
    binding: this.wordsOf('binding').toLowerCase(),
  }));

  protected readonly deaf = computed(() => (this.bench.showing() ? null : deafName(this.bench)));
  protected readonly outputs = computed<readonly OutputPart[]>(() => {
    const showing = this.bench.showing();
    if (showing) return [...new Set(showing.on.map(({ part }) => part))];
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
    const [first] = this.bench.showing()?.on ?? [];
    const surface = first ? this.bench.surfaceOf(first.surface) : this.bench.surface();
    const control = first
      ? surface?.controls.find(({ id }) => id === first.control)
      : this.bench.control();
    const pattern = control?.takes.light;
    return surface && control && pattern ? lightTarget(surface, control, pattern) : null;
  });
  protected readonly about = computed(() => {
    const showing = this.bench.showing();
    if (!showing) return this.bench.control()?.label ?? '';
    return showing.on.length === 1
      ? 'shown on another light'
      : `shown on ${showing.on.length} lights`;
  });

  /** What each level says. */
  protected readonly levels = computed<ReturnLevels>(() => {
    const profile = this.bench.profile();
    const owner = this.owner();
    const shown = this.bench.showing()?.shows;
    const action = this.bench.binding()?.actions.find((a) => a.do === 'function');
    const of = shown ? ('host' in shown ? (shown as FunctionTarget) : undefined) : action;
    const fn = of
      ? this.bench.hostModel(of.host)?.functions.find(({ id }) => id === of.function)
      : undefined;
    const layer = this.layerId();
    return {
      usual: usualReturns(fn),
      surface: this.bench.surface()?.returns,
      profile: profile?.returns,
      layer:
        profile && Object.hasOwn(profile.layers, layer) ? profile.layers[layer].returns : undefined,
      binding: owner?.returns,
    };
  });
  protected readonly owns = computed(() => this.levels()[this.level()] !== undefined);

  private layerLabel(): string {
    return this.bench.profile()?.layers[this.layerId()]?.label ?? '';
  }

  private wordsOf(level: Settable): string {
    if (level === 'binding') return this.bench.showing() ? 'This showing' : 'This binding';
    return level === 'profile' ? 'The whole profile' : `Layer ${this.layerLabel()}`;
  }

  protected putBackAll(): void {
    this.write({
      name: 'Reset what comes back',
      change: (returns) => {
        for (const key of Object.keys(returns)) Reflect.deleteProperty(returns, key);
      },
    });
  }

  protected write(change: ReturnsChange): void {
    const level = this.level();
    const showing = this.bench.showing();
    if (level === 'binding' && showing) {
      this.bench.edit((profile) =>
        editShowing(profile, change.name, showing.id, (draft) => {
          applyReturns(draft, change);
        }),
      );
      return;
    }
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
