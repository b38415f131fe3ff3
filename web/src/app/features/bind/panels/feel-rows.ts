import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { edit } from '@rondo/core/document';
import type { Draft } from 'immer';
import {
  KIND_NAMES,
  TAKEOVERS,
  feelKindName,
  feelKindOf,
  inherit,
  type FeelField,
  type FeelLevels,
  type FeelSettings,
  type Level,
  type Takeover,
} from '@rondo/core/surface';
import { FEEL_WORDS, TAKEOVER_WORDS, feelFieldsOf } from '../../../shared/words/feel-words';
import { Workbench } from '../workbench';
import { Choice, NumberField, type Option } from '../../../shared/ui/form';

/** The levels that a setting can be made at on this screen. */
type Settable = Exclude<Level, 'usual' | 'surface'>;

/** How a control feels: each setting as it holds, the level that it comes from, and what it would be without that. */
@Component({
  selector: 'rondo-feel-rows',
  imports: [Choice, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (row of rows(); track row.field) {
      <div class="row">
        <span class="setting">
          {{ row.label }}
          @if (row.field === 'takeover') {
            <rondo-choice
              [label]="row.label"
              [options]="takeovers"
              [value]="row.choice"
              (chosen)="set(row.field, row.level, $event)"
            />
          } @else {
            <rondo-number
              [label]="row.label"
              [unit]="row.unit"
              [min]="row.min"
              [max]="row.max"
              [digits]="3"
              [value]="row.number"
              (changed)="setNumber(row.field, row.level, $event)"
            />
          }
        </span>
        <rondo-choice
          label="Where it is set"
          [options]="levels()"
          [value]="row.level"
          (chosen)="move(row.field, row.from, $event)"
        />
        @if (row.set) {
          <button type="button" class="small" (click)="putBack(row.field, row.level)">
            Reset to {{ row.otherwise }}
          </button>
        } @else {
          <small>{{ row.source }}</small>
        }
      </div>
    }
  `,
  styleUrl: '../../../shared/ui/panel.css',
  styles: `
    :host {
      display: grid;
      gap: 6px;
      padding: 0;
      border: 0;
      background: none;
    }
    .setting rondo-choice {
      max-width: 168px;
    }
    .row > rondo-choice {
      max-width: 138px;
    }
    .setting {
      display: inline-flex;
      align-items: center;
      gap: 5px;
      font-size: 13px;
    }
  `,
})
export class FeelRows {
  private readonly bench = inject(Workbench);
  protected readonly takeovers = TAKEOVERS.map((value) => ({
    value,
    label: TAKEOVER_WORDS[value],
  }));

  private readonly kind = computed(() => {
    const control = this.bench.control();
    const takes = this.bench.surface()?.device.takes ?? true;
    return control ? feelKindOf(control, takes) : null;
  });
  private readonly given = computed<FeelLevels>(() => {
    const profile = this.bench.profile();
    const binding = this.bench.binding();
    const kind = this.kind();
    if (!profile || !kind) return {};
    return {
      surface: this.bench.surface()?.feel?.[kind],
      profile: profile.feel?.[kind],
      layer: binding ? profile.layers[binding.layer]?.feel?.[kind] : undefined,
      binding: binding?.feel,
    };
  });
  private readonly kindName = computed(() => {
    const kind = this.kind();
    return kind ? feelKindName(kind, KIND_NAMES) : '';
  });
  protected readonly levels = computed<Option<Settable>[]>(() => {
    const binding = this.bench.binding();
    const layer = binding ? this.bench.profile()?.layers[binding.layer]?.label : '';
    return [
      { value: 'binding', label: 'here' },
      { value: 'layer', label: `each ${this.kindName()} on ${layer ?? ''}` },
      { value: 'profile', label: `each ${this.kindName()} of the profile` },
    ];
  });
  protected readonly rows = computed(() => {
    const kind = this.kind();
    const binding = this.bench.binding();
    const action = this.bench.action();
    if (!kind || !binding) return [];
    const own = action?.do === 'function' && action.step !== undefined;
    const fields = this.bench.isPress()
      ? feelFieldsOf('button')
      : feelFieldsOf(kind).filter((field) => !(field === 'step' && own));
    const levels = this.given();
    return fields.map((field) => {
      const { value, from } = inherit(field, kind, levels);
      const { label, unit, factor, limits } = FEEL_WORDS[field];
      const level: Settable = from === 'usual' || from === 'surface' ? 'binding' : from;
      const without = inherit(field, kind, { ...levels, [from]: undefined });
      return {
        field,
        label,
        unit,
        min: limits[0] * factor,
        max: limits[1] * factor,
        value,
        from,
        level,
        number: typeof value === 'number' ? Number((value * factor).toPrecision(4)) : null,
        choice: typeof value === 'string' ? value : null,
        set: from !== 'usual' && from !== 'surface',
        otherwise: words(field, without.value),
        source:
          from === 'usual'
            ? `usual: ${this.kindName()}`
            : `from the surface ${this.bench.surface()?.name ?? ''}`,
      };
    });
  });

  protected setNumber(field: FeelField, level: Settable, shown: number | null): void {
    if (shown !== null) this.set(field, level, shown / FEEL_WORDS[field].factor);
  }

  /** Says a setting at a level. */
  protected set(field: FeelField, level: Settable, value: string | number): void {
    this.write(level, `Feel: ${FEEL_WORDS[field].label.toLowerCase()}`, (feel) => {
      (feel as Record<string, unknown>)[field] = value;
    });
  }

  /** The same setting, at another level. */
  protected move(field: FeelField, from: Level, to: Settable): void {
    const row = this.rows().find((one) => one.field === field);
    if (!row) return;
    if (row.set && from !== to) this.putBack(field, from as Settable);
    this.set(field, to, row.value);
  }

  protected putBack(field: FeelField, level: Settable): void {
    this.write(level, `Reset: ${FEEL_WORDS[field].label.toLowerCase()}`, (feel) => {
      Reflect.deleteProperty(feel, field);
    });
  }

  private write(level: Settable, name: string, change: (feel: Draft<FeelSettings>) => void): void {
    const kind = this.kind();
    const binding = this.bench.binding();
    if (!kind || !binding) return;
    if (level === 'binding') {
      this.bench.change(name, (draft) => {
        const feel = draft.feel ?? {};
        change(feel);
        if (Object.keys(feel).length > 0) draft.feel = feel;
        else delete draft.feel;
      });
      return;
    }
    this.bench.edit((profile) =>
      edit(profile, name, (draft) => {
        const owner = level === 'profile' ? draft : draft.layers[binding.layer];
        const byKind = owner.feel ?? {};
        const feel = byKind[kind] ?? {};
        change(feel);
        if (Object.keys(feel).length > 0) byKind[kind] = feel;
        else Reflect.deleteProperty(byKind, kind);
        if (Object.keys(byKind).length > 0) owner.feel = byKind;
        else delete owner.feel;
      }),
    );
  }
}

function words(field: FeelField, value: string | number): string {
  if (typeof value === 'string') return TAKEOVER_WORDS[value as Takeover].toLowerCase();
  const { unit, factor } = FEEL_WORDS[field];
  return `${Number((value * factor).toPrecision(4))} ${unit.split(' ')[0]}`;
}
