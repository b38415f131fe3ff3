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
  partOfTravel,
  type Behaviour,
  type Curve,
  type FunctionAction,
  type Shape,
  type Zone,
} from '@rondo/core/profile';
import { partKey } from '@rondo/core/round';
import { turns } from '@rondo/core/surface';
import { EngineService } from '../../../engine/engine.service';
import { Head, PartField, SlotField, type Frame } from '../../../engine/frame';
import { CurveEditor } from './curve-editor';
import { FeelRows } from './feel-rows';
import { BEHAVIOUR_WORDS } from '../../../shared/words/behaviour-words';
import { NumberField, OneOf, Share, Switch, type Option } from '../../../shared/ui/form';
import { PanelHead } from './panel-head';
import { TurnMeasure } from './turn-measure';
import { Workbench } from '../workbench';
import { ZoneRows } from './zone-rows';

const CURVES: readonly Option<Curve['kind']>[] = [
  { value: 'linear', label: 'Linear' },
  { value: 'exponential', label: 'Exponential' },
  { value: 's', label: 'S' },
  { value: 'drawn', label: 'Drawn' },
];

const FIRST_BEND = 3;
const RHYTHM = { every: 2, turn: 1 };

/** How a control's travel becomes the function's value, and how that feels. */
@Component({
  selector: 'rondo-shape-panel',
  imports: [
    CurveEditor,
    FeelRows,
    NumberField,
    OneOf,
    PanelHead,
    Share,
    Switch,
    TurnMeasure,
    ZoneRows,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './shape-panel.html',
  styleUrl: '../../../shared/ui/panel.css',
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
  /** Ticks that an encoder has been turned in all. */
  protected readonly turned = signal(0);
  /** Turns and steps that ended at an end of their range, so far. */
  protected readonly clamped = signal(0);

  protected readonly about = computed(() => {
    const selected = this.bench.selected();
    return selected ? this.bench.controlName(selected) : '';
  });
  protected readonly names = computed(() => {
    const profile = this.bench.profile();
    return profile
      ? (this.bench.binding()?.actions ?? []).map((one, value) => ({
          value,
          label: this.bench.namesOf(profile).action(one),
        }))
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
  /** Which of what the control does goes by its travel. */
  protected readonly followers = computed(() =>
    (this.bench.binding()?.actions ?? []).flatMap((action, at) =>
      action.do === 'function' && action.behaviour === 'follow' ? [at] : [],
    ),
  );
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
  /** Whether ends of a range mean anything here. */
  protected readonly hasRange = computed(
    () =>
      !this.bench.isPress() ||
      ['follow', 'toggle', 'momentary'].includes(this.action()?.behaviour ?? ''),
  );

  constructor() {
    const stop = inject(EngineService).frames.paint((frame) => this.read(frame), RHYTHM);
    inject(DestroyRef).onDestroy(stop);
  }

  private read(frame: Frame): void {
    const selected = this.bench.selected();
    if (!selected) return;
    const key = partKey(selected.surface, selected.control, selected.part);
    const part = frame.plan.parts.findIndex((p) => p.key === key);
    if (part < 0) return;
    this.turned.set(frame.part(part, PartField.Position));
    this.position.set(selected.part === 'value' ? frame.part(part, PartField.Position) : null);
    const slot = frame.part(part, PartField.Slot);
    const known = slot >= 0 && frame.slot(slot, SlotField.Know) > 0;
    this.value.set(known ? frame.slot(slot, SlotField.Value) : null);
    this.clamped.set(frame.head(Head.Clamped));
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
    this.change('Value that is set', (action) => {
      action.to = share;
    });
  }

  protected setBy(by: number): void {
    if (by !== 0)
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
    this.change('One tick', (action) => {
      action.step = step;
    });
  }

  protected setShape(shape: Shape): void {
    this.change('Shape', (action) => {
      action.shape = shape;
    });
  }

  protected patch(patch: Partial<Shape>): void {
    this.setShape({ ...this.shape(), ...patch });
  }

  protected setSteps(steps: number): void {
    const { steps: _before, ...rest } = this.shape();
    this.setShape(steps >= 2 ? { ...rest, steps } : rest);
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

  protected partTravel(): void {
    const followers = this.followers();
    this.bench.change('A part of the travel for each', ({ actions }) => {
      followers.forEach((one, part) => {
        const action = actions[one];
        if (action.do === 'function')
          action.shape = { ...action.shape, zones: partOfTravel(part, followers.length) };
      });
    });
  }

  protected setZones(zones: Zone[] | null): void {
    const { zones: _before, ...rest } = this.shape();
    this.setShape(zones ? { ...rest, zones } : rest);
  }
}
