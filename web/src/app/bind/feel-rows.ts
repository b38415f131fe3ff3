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
import { FEEL_WORDS, TAKEOVER_WORDS, feelFieldsOf } from '../ui/feel-words';
import { Workbench } from './workbench';

/** The levels that a setting can be made at on this screen. */
type Settable = Exclude<Level, 'usual' | 'surface'>;

/** How a control feels: each setting as it holds, the level that it comes from, and what it would be without that. */
@Component({
  selector: 'rondo-feel-rows',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (row of rows(); track row.field) {
      <div class="row">
        <span class="setting">
          {{ row.label }}
          @if (row.field === 'takeover') {
            <select
              #takeover
              [attr.aria-label]="row.label"
              (change)="set(row.field, row.level, takeover.value)"
            >
              @for (option of takeovers; track option.value) {
                <option [value]="option.value" [selected]="option.value === row.value">
                  {{ option.label }}
                </option>
              }
            </select>
          } @else {
            <input
              #number
              type="number"
              step="any"
              [attr.aria-label]="row.label"
              [value]="row.shown"
              (change)="setNumber(row.field, row.level, number)"
            />
            {{ row.unit }}
          }
        </span>
        <select
          #level
          aria-label="Where it is set"
          (change)="move(row.field, row.from, level.value)"
        >
          @for (option of levels(); track option.level) {
            <option [value]="option.level" [selected]="option.level === row.level">
              {{ option.label }}
            </option>
          }
        </select>
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
  styleUrl: './panel.css',
  styles: `
    :host {
      display: grid;
      gap: 6px;
      padding: 0;
      border: 0;
      background: none;
    }
    .setting select {
      max-width: 168px;
    }
    .row > select {
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
  protected readonly levels = computed<{ level: Settable; label: string }[]>(() => {
    const binding = this.bench.binding();
    const layer = binding ? this.bench.profile()?.layers[binding.layer]?.label : '';
    return [
      { level: 'binding', label: 'here' },
      { level: 'layer', label: `each ${this.kindName()} on ${layer ?? ''}` },
      { level: 'profile', label: `each ${this.kindName()} of the profile` },
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
      const { label, unit, factor } = FEEL_WORDS[field];
      const level: Settable = from === 'usual' || from === 'surface' ? 'binding' : from;
      const without = inherit(field, kind, { ...levels, [from]: undefined });
      return {
        field,
        label,
        unit,
        value,
        from,
        level,
        shown: typeof value === 'number' ? Number((value * factor).toPrecision(4)) : value,
        set: from !== 'usual' && from !== 'surface',
        otherwise: words(field, without.value),
        source:
          from === 'usual'
            ? `usual: ${this.kindName()}`
            : `from the surface ${this.bench.surface()?.name ?? ''}`,
      };
    });
  });

  protected setNumber(field: FeelField, level: Settable, input: HTMLInputElement): void {
    const value = input.valueAsNumber / FEEL_WORDS[field].factor;
    const [low, high] = FEEL_WORDS[field].limits;
    if (Number.isFinite(value)) this.set(field, level, Math.max(low, Math.min(high, value)));
    else input.value = String(this.rows().find((row) => row.field === field)?.shown ?? '');
  }

  /** Says a setting at a level. */
  protected set(field: FeelField, level: Settable, value: string | number): void {
    this.write(level, `Feel: ${FEEL_WORDS[field].label.toLowerCase()}`, (feel) => {
      (feel as Record<string, unknown>)[field] = value;
    });
  }

  /** The same setting, at another level. */
  protected move(field: FeelField, from: Level, to: string): void {
    const row = this.rows().find((one) => one.field === field);
    if (!row) return;
    if (row.set && from !== to) this.putBack(field, from as Settable);
    this.set(field, to as Settable, row.value);
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
