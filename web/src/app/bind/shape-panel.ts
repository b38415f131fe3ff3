import { choicesOf } from '@rondo/core/host';
import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  computed,
  inject,
  signal,
} from '@angular/core';
import { valueText } from '@rondo/core/host';
import {
  zonesOf,
  type Behaviour,
  type Curve,
  type FunctionAction,
  type Shape,
  type Zone,
} from '@rondo/core/profile';
import { partKey } from '@rondo/core/round';
import { turns } from '@rondo/core/surface';
import { EngineService } from '../engine/engine.service';
import { Head, PartField, SlotField, type Frame } from '../engine/frame';
import { CurveEditor } from './curve-editor';
import { FeelRows } from './feel-rows';
import { actionName } from './names';
import { BEHAVIOUR_WORDS } from '../ui/behaviour-words';
import { PanelHead } from './panel-head';
import { Workbench } from './workbench';

const CURVES: readonly { kind: Curve['kind']; label: string }[] = [
  { kind: 'linear', label: 'Linear' },
  { kind: 'exponential', label: 'Exponential' },
  { kind: 's', label: 'S' },
  { kind: 'drawn', label: 'Drawn' },
];

const FIRST_BEND = 3;
const RHYTHM = { every: 2, turn: 1 };

/** How a control's travel becomes the function's value, and how that feels. */
@Component({
  selector: 'rondo-shape-panel',
  imports: [CurveEditor, FeelRows, PanelHead],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <rondo-panel-head title="Shape and feel" [about]="about()" />
    <div class="body">
      @if (names().length > 1) {
        <div class="row" role="radiogroup" aria-label="Action">
          @for (name of names(); track $index) {
            <button
              type="button"
              class="small"
              role="radio"
              [attr.aria-checked]="bench.actionAt() === $index"
              (click)="bench.actionAt.set($index)"
            >
              {{ name }}
            </button>
          }
        </div>
      }
      @if (action(); as a) {
        @if (bench.isPress()) {
          <section>
            <h3>A press</h3>
            <div class="row" role="radiogroup" aria-label="Behaviour">
              @for (b of behaviours(); track b.value) {
                <button
                  type="button"
                  class="small"
                  role="radio"
                  [attr.aria-checked]="a.behaviour === b.value"
                  (click)="setBehaviour(b.value)"
                >
                  {{ b.label }}
                </button>
              }
            </div>
            <p>{{ behaviourAbout() }}</p>
            @if (a.behaviour === 'set') {
              <span class="row">
                To
                @if (choices(); as list) {
                  <select
                    #to
                    aria-label="Value that is set"
                    (change)="setTo(+to.value / (list.length - 1))"
                  >
                    @for (name of list; track $index) {
                      <option [value]="$index" [selected]="$index === toIndex()">{{ name }}</option>
                    }
                  </select>
                } @else {
                  <input
                    #percent
                    type="number"
                    min="0"
                    max="100"
                    step="any"
                    aria-label="Value that is set"
                    [value]="toPercent()"
                    (change)="setTo(percent.valueAsNumber / 100)"
                  />
                  % <small>{{ format()(a.to ?? 1) }}</small>
                }
              </span>
            }
            @if (a.behaviour === 'step') {
              <div class="row">
                <label>
                  By
                  <input
                    #by
                    type="number"
                    step="1"
                    min="-128"
                    max="128"
                    aria-label="Steps"
                    [value]="a.by ?? 1"
                    (change)="setBy(by.valueAsNumber)"
                  />
                </label>
                <label>
                  <input type="checkbox" [checked]="a.wrap ?? false" (change)="setWrap(!a.wrap)" />
                  After the last comes the first
                </label>
              </div>
            }
          </section>
        }
        @if (!relative() && (!bench.isPress() || a.behaviour === 'follow')) {
          <section>
            <rondo-curve-editor
              [shape]="shape()"
              [position]="position()"
              [value]="value()"
              [format]="format()"
              (changed)="setShape($event)"
            />
            @if (!shape().zones) {
              <div class="row" role="radiogroup" aria-label="Curve">
                @for (c of curves; track c.kind) {
                  <button
                    type="button"
                    class="small"
                    role="radio"
                    [attr.aria-checked]="curveKind() === c.kind"
                    (click)="setCurve(c.kind)"
                  >
                    {{ c.label }}
                  </button>
                }
                <small>{{ curveAbout() }}</small>
              </div>
            }
          </section>
        }
        @if (
          !bench.isPress() ||
          a.behaviour === 'follow' ||
          a.behaviour === 'toggle' ||
          a.behaviour === 'momentary'
        ) {
          <section>
            <div class="row">
              <label>
                From
                <input
                  #low
                  type="number"
                  step="any"
                  aria-label="Low end of the range, per cent"
                  [value]="percent(shape().low ?? 0)"
                  (change)="patch({ low: low.valueAsNumber / 100 })"
                />
                %
              </label>
              <label>
                to
                <input
                  #high
                  type="number"
                  step="any"
                  aria-label="High end of the range, per cent"
                  [value]="percent(shape().high ?? 1)"
                  (change)="patch({ high: high.valueAsNumber / 100 })"
                />
                %
              </label>
              <small>{{ format()(shape().low ?? 0) }} … {{ format()(shape().high ?? 1) }}</small>
              <label>
                <input
                  type="checkbox"
                  [checked]="shape().invert ?? false"
                  (change)="patch({ invert: !shape().invert })"
                />
                Invert
              </label>
            </div>
            @if (!bench.isPress() && !relative()) {
              <div class="row">
                <label>
                  Centre dead zone
                  <input
                    #middle
                    type="number"
                    min="0"
                    max="50"
                    step="any"
                    aria-label="Centre dead zone, per cent"
                    [value]="percent(shape().deadMiddle ?? 0)"
                    (change)="patch({ deadMiddle: limit(middle.valueAsNumber / 100, 0.5) })"
                  />
                  %
                </label>
                <label>
                  End dead zone
                  <input
                    #ends
                    type="number"
                    min="0"
                    max="25"
                    step="any"
                    aria-label="End dead zone, per cent"
                    [value]="percent(shape().deadEnds ?? 0)"
                    (change)="patch({ deadEnds: limit(ends.valueAsNumber / 100, 0.25) })"
                  />
                  %
                </label>
                <label>
                  Steps
                  <input
                    #steps
                    type="number"
                    min="0"
                    max="128"
                    step="1"
                    aria-label="Steps, none for 0"
                    [value]="shape().steps ?? 0"
                    (change)="setSteps(steps.valueAsNumber)"
                  />
                </label>
              </div>
            }
          </section>
        }
        @if (!bench.isPress() && !relative()) {
          <section>
            <div class="row">
              <h3>Zones</h3>
              @if (!shape().zones) {
                <button type="button" class="small" (click)="setZones(threePositions())">
                  Three positions
                </button>
                <button type="button" class="small" (click)="setZones(halves())">Two halves</button>
                <small>Each part of the travel with a value or a range of its own.</small>
              } @else {
                <button type="button" class="small" (click)="addZone()">Split the last</button>
                <button type="button" class="small" (click)="setZones(null)">No zones</button>
              }
            </div>
            <ol>
              @for (zone of shape().zones ?? []; track $index; let i = $index; let last = $last) {
                <li class="row">
                  <label>
                    Up to
                    <input
                      #upTo
                      type="number"
                      step="any"
                      aria-label="Zone ends at, per cent"
                      [disabled]="last"
                      [value]="last ? 100 : percent(zone.upTo)"
                      (change)="setZone(i, { upTo: upTo.valueAsNumber / 100 })"
                    />
                    %
                  </label>
                  <select
                    #does
                    aria-label="What the zone does"
                    (change)="setZoneDoes(i, does.value)"
                  >
                    <option value="value" [selected]="zone.does === 'value'">always</option>
                    <option value="range" [selected]="zone.does === 'range'">from … to</option>
                    <option value="nothing" [selected]="zone.does === 'nothing'">nothing</option>
                  </select>
                  @if (zone.does === 'value') {
                    @if (choices(); as list) {
                      <select
                        #pick
                        aria-label="Value of the zone"
                        (change)="setZone(i, { value: +pick.value / (list.length - 1) })"
                      >
                        @for (name of list; track $index) {
                          <option [value]="$index" [selected]="$index === indexOf(zone.value)">
                            {{ name }}
                          </option>
                        }
                      </select>
                    } @else {
                      <input
                        #v
                        type="number"
                        step="any"
                        aria-label="Value of the zone, per cent"
                        [value]="percent(zone.value)"
                        (change)="setZone(i, { value: v.valueAsNumber / 100 })"
                      />
                      % <small>{{ format()(zone.value) }}</small>
                    }
                  }
                  @if (zone.does === 'range') {
                    <input
                      #zl
                      type="number"
                      step="any"
                      aria-label="Low end of the zone, per cent"
                      [value]="percent(zone.low)"
                      (change)="setZone(i, { low: zl.valueAsNumber / 100 })"
                    />
                    …
                    <input
                      #zh
                      type="number"
                      step="any"
                      aria-label="High end of the zone, per cent"
                      [value]="percent(zone.high)"
                      (change)="setZone(i, { high: zh.valueAsNumber / 100 })"
                    />
                    %
                  }
                  <button
                    type="button"
                    class="icon"
                    aria-label="Remove the zone"
                    (click)="removeZone(i)"
                  >
                    <i class="pi pi-times" aria-hidden="true"></i>
                  </button>
                </li>
              }
            </ol>
          </section>
        }
        @if (relative()) {
          <section>
            <div class="row">
              <label>
                One tick
                <input
                  #tick
                  type="number"
                  step="any"
                  min="0.01"
                  max="100"
                  aria-label="Step per tick, per cent of the range"
                  [value]="percent(a.step ?? bench.feelStep() ?? 0)"
                  (change)="setStep(tick.valueAsNumber / 100)"
                />
                % of the range
              </label>
              @for (s of ticks; track s.label) {
                <button
                  type="button"
                  class="small"
                  [attr.aria-pressed]="a.step === s.value"
                  (click)="setStep(s.value)"
                >
                  {{ s.label }}
                </button>
              }
            </div>
            @if (clamped() > 0) {
              <small>
                {{ clamped() }} turns and steps were held at an end of their range since the start.
              </small>
            }
          </section>
        }
      } @else {
        <p>
          {{
            bench.action()
              ? 'This does the same at every press: there is no value to shape.'
              : 'Bind a function first: press /.'
          }}
        </p>
      }
      @if (bench.binding()) {
        <section>
          <h3>Feel</h3>
          <rondo-feel-rows />
        </section>
      }
    </div>
  `,
  styleUrl: './panel.css',
})
export class ShapePanel {
  protected readonly bench = inject(Workbench);
  protected readonly curves = CURVES;
  protected readonly ticks = [
    { label: 'Fine', value: 1 / 200 },
    { label: 'Middle', value: 1 / 50 },
    { label: 'Coarse', value: 1 / 16 },
  ] as const;
  protected readonly position = signal<number | null>(null);
  protected readonly value = signal<number | null>(null);
  /** Turns and steps that ended at an end of their range, so far. */
  protected readonly clamped = signal(0);

  protected readonly about = computed(() => {
    const selected = this.bench.selected();
    return selected ? this.bench.controlName(selected) : '';
  });
  protected readonly names = computed(() => {
    const profile = this.bench.profile();
    return profile
      ? (this.bench.binding()?.actions ?? []).map((one) => actionName(profile, one))
      : [];
  });
  protected readonly action = computed<FunctionAction | null>(() => {
    const action = this.bench.action();
    return action?.do === 'function' ? action : null;
  });
  private readonly fn = computed(() => {
    const action = this.action();
    const model = action ? this.bench.hostModel(action.host) : undefined;
    return model?.functions.find(({ id }) => id === action?.function);
  });
  protected readonly choices = computed(() => {
    const action = this.action();
    return action?.scope.kind === 'focus' ? undefined : choicesOf(this.fn());
  });
  protected readonly format = computed(() => {
    const fn = this.fn();
    const focus = this.action()?.scope.kind === 'focus';
    return (value: number) =>
      fn && !focus && value >= 0 ? valueText(fn, value) : `${Math.round(value * 100)} %`;
  });
  protected readonly relative = computed(() => {
    const surface = this.bench.surface();
    const control = this.bench.control();
    const part = this.bench.selected()?.part;
    return surface && control && part ? turns(surface, control, part) : false;
  });
  protected readonly shape = computed<Shape>(() => this.action()?.shape ?? {});
  protected readonly curveKind = computed(() => this.shape().curve?.kind ?? 'linear');
  protected readonly curveAbout = computed(
    () =>
      ({
        linear: 'Drag the ends for a range.',
        exponential: 'Drag up or down in the field to bend it.',
        s: 'Drag up or down in the field to bend it.',
        drawn: 'Double-click adds a point, or takes one out.',
      })[this.curveKind()],
  );
  protected readonly behaviours = computed(() => {
    const kind = this.fn()?.kind;
    const fits: readonly Behaviour[] =
      kind === 'toggle'
        ? ['toggle', 'momentary', 'set']
        : kind === 'choice'
          ? ['set', 'step']
          : kind === 'trigger'
            ? ['set']
            : ['set', 'step', 'toggle', 'momentary', 'follow'];
    return fits.map((value) => ({
      value,
      label: kind === 'trigger' ? 'Trigger' : BEHAVIOUR_WORDS[value].label,
    }));
  });
  protected readonly behaviourAbout = computed(() => {
    const action = this.action();
    if (!action) return '';
    if (this.fn()?.kind === 'trigger') return 'Each press does it once.';
    return BEHAVIOUR_WORDS[action.behaviour].about;
  });
  protected readonly toIndex = computed(() => this.indexOf(this.action()?.to ?? 1));
  protected readonly toPercent = computed(() => this.percent(this.action()?.to ?? 1));

  constructor() {
    const stop = inject(EngineService).paint((frame) => this.read(frame), RHYTHM);
    inject(DestroyRef).onDestroy(stop);
  }

  private read(frame: Frame): void {
    const selected = this.bench.selected();
    if (!selected) return;
    const key = partKey(selected.surface, selected.control, selected.part);
    const part = frame.plan.parts.findIndex((p) => p.key === key);
    if (part < 0) return;
    this.position.set(selected.part === 'value' ? frame.part(part, PartField.Position) : null);
    const slot = frame.part(part, PartField.Slot);
    const known = slot >= 0 && frame.slot(slot, SlotField.Know) > 0;
    this.value.set(known ? frame.slot(slot, SlotField.Value) : null);
    this.clamped.set(frame.head(Head.Clamped));
  }

  protected percent(share: number): number {
    return Math.round(share * 1_000) / 10;
  }

  protected limit(share: number, most: number): number {
    return Math.max(0, Math.min(most, share));
  }

  protected indexOf(share: number): number {
    return Math.round(share * ((this.choices()?.length ?? 2) - 1));
  }

  private change(name: string, recipe: (action: FunctionAction) => void): void {
    this.bench.changeAction(name, (action) => {
      if (action.do === 'function') recipe(action as FunctionAction);
    });
  }

  protected setBehaviour(behaviour: Behaviour): void {
    this.change(`Behaviour: ${BEHAVIOUR_WORDS[behaviour].label.toLowerCase()}`, (action) => {
      action.behaviour = behaviour;
      if (behaviour === 'set') action.to ??= 1;
    });
  }

  protected setTo(share: number): void {
    if (Number.isFinite(share))
      this.change('Value that is set', (action) => {
        action.to = this.limit(share, 1);
      });
  }

  protected setBy(by: number): void {
    if (Number.isInteger(by) && by !== 0 && Math.abs(by) <= 128)
      this.change('Steps', (action) => {
        action.by = by;
      });
  }

  protected setWrap(wrap: boolean): void {
    this.change(wrap ? 'Begin anew after the last' : 'Stop at the last', (action) => {
      action.wrap = wrap;
    });
  }

  protected setStep(step: number): void {
    if (Number.isFinite(step))
      this.change('One tick', (action) => {
        action.step = Math.max(0.0001, Math.min(1, step));
      });
  }

  protected setShape(shape: Shape): void {
    this.change('Shape', (action) => {
      action.shape = shape;
    });
  }

  protected patch(patch: Partial<Shape>): void {
    const bad = Object.values(patch).some(
      (value) => typeof value === 'number' && !Number.isFinite(value),
    );
    if (bad) return;
    const held = Object.fromEntries(
      Object.entries(patch).map(([key, value]) => [
        key,
        typeof value === 'number' ? this.limit(value, 1) : value,
      ]),
    );
    this.setShape({ ...this.shape(), ...held });
  }

  protected setSteps(steps: number): void {
    const { steps: _before, ...rest } = this.shape();
    const whole = Math.round(steps);
    this.setShape(whole >= 2 ? { ...rest, steps: Math.min(128, whole) } : rest);
  }

  protected setCurve(kind: Curve['kind']): void {
    const curve: Curve =
      kind === 'drawn'
        ? {
            kind,
            points: [
              { x: 0, y: 0 },
              { x: 0.5, y: 0.5 },
              { x: 1, y: 1 },
            ],
          }
        : kind === 'linear'
          ? { kind }
          : { kind, bend: FIRST_BEND };
    this.setShape({ ...this.shape(), curve });
  }

  protected threePositions(): Zone[] {
    const last = (this.choices()?.length ?? 3) - 1;
    const middle = Math.round(last / 2) / last;
    return zonesOf([0, middle, 1]);
  }

  protected halves(): Zone[] {
    return [
      { does: 'range', upTo: 0.5, low: 0, high: 1 },
      { does: 'value', upTo: 1, value: 1 },
    ];
  }

  protected setZones(zones: Zone[] | null): void {
    const { zones: _before, ...rest } = this.shape();
    this.setShape(zones ? { ...rest, zones } : rest);
  }

  protected addZone(): void {
    const zones = [...(this.shape().zones ?? [])];
    const last = zones.pop();
    if (!last) return;
    const from = zones.at(-1)?.upTo ?? 0;
    this.setZones([...zones, { ...last, upTo: (from + 1) / 2 }, { ...last, upTo: 1 }]);
  }

  protected removeZone(at: number): void {
    const zones = (this.shape().zones ?? []).filter((_, n) => n !== at);
    this.setZones(zones.length > 0 ? zones : null);
  }

  protected setZone(at: number, patch: Record<string, number>): void {
    if (Object.values(patch).some((value) => !Number.isFinite(value))) return;
    const zones = (this.shape().zones ?? []).map((zone, n) =>
      n === at ? ({ ...zone, ...patch } as Zone) : zone,
    );
    this.setZones(zones);
  }

  protected setZoneDoes(at: number, does: string): void {
    const zones = (this.shape().zones ?? []).map((zone, n): Zone => {
      if (n !== at) return zone;
      const { upTo } = zone;
      if (does === 'value') return { does: 'value', upTo, value: 1 };
      return does === 'range'
        ? { does: 'range', upTo, low: 0, high: 1 }
        : { does: 'nothing', upTo };
    });
    this.setZones(zones);
  }
}
