import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import {
  KIND_NAMES,
  TAKEOVERS,
  changeSurface,
  feelKindName,
  feelKindOf,
  usualFeel,
  type FeelField,
  type FeelKind,
  type Surface,
} from '@rondo/core/surface';
import { DocumentEditor } from '../../state/documents';
import { FEEL_WORDS, TAKEOVER_WORDS, feelFieldsOf } from '../../shared/words/feel-words';
import { Choice, NumberField } from '../../shared/ui/form';

/** How the controls of a surface feel, by kind: what every profile that uses it inherits. */
@Component({
  selector: 'rondo-feel-form',
  imports: [Choice, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>Feel</h2>
    <p>What profiles inherit from this surface, by kind of control. Empty is as usual.</p>
    @for (row of rows(); track row.kind) {
      <div class="row">
        <strong>{{ row.name }}</strong>
        @for (cell of row.cells; track cell.field) {
          <span class="cell">
            {{ cell.label }}
            @if (cell.field === 'takeover') {
              <rondo-choice
                [label]="cell.label + ', ' + row.name"
                [options]="cell.choices"
                [value]="cell.choice"
                (chosen)="set(row.kind, cell.field, $event)"
              />
            } @else {
              <rondo-number
                [label]="cell.label + ', ' + row.name"
                [unit]="cell.unit"
                [min]="cell.min"
                [max]="cell.max"
                [digits]="3"
                [placeholder]="cell.usual"
                [value]="cell.number"
                (changed)="setNumber(row.kind, cell.field, $event)"
              />
            }
          </span>
        }
      </div>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 8px;
    }
    h2 {
      font-size: 15px;
    }
    p {
      color: var(--ink-soft);
      font-size: 13px;
    }
    .row {
      display: flex;
      flex-wrap: wrap;
      align-items: end;
      gap: 6px 14px;
      padding-top: 6px;
      border-top: 1px solid var(--line);
    }
    strong {
      width: 110px;
      padding-bottom: 6px;
    }
    strong::first-letter {
      text-transform: uppercase;
    }
    .cell {
      display: grid;
      gap: 2px;
      color: var(--ink-soft);
      font-size: 12px;
    }
    .number {
      display: flex;
      align-items: center;
      gap: 5px;
    }
    input {
      min-height: 30px;
      padding: 2px 6px;
      border: 1px solid var(--line-strong);
      border-radius: 4px;
      background: var(--raised);
      color: var(--ink);
      font-size: 13px;
    }
    input {
      width: 70px;
    }
  `,
})
export class FeelForm {
  readonly surface = input.required<Surface>();
  private readonly editor = inject(DocumentEditor);

  protected readonly rows = computed(() => {
    const { controls, device, feel } = this.surface();
    const kinds = new Set(controls.map((control) => feelKindOf(control, device.takes)));
    return [...kinds]
      .filter((kind) => feelFieldsOf(kind).length > 0)
      .map((kind) => ({
        kind,
        name: feelKindName(kind, KIND_NAMES),
        cells: feelFieldsOf(kind).map((field) => {
          const { label, unit, factor, limits } = FEEL_WORDS[field];
          const usual = usualFeel(kind)[field];
          const own = feel?.[kind]?.[field];
          return {
            field,
            label,
            unit,
            min: limits[0] * factor,
            max: limits[1] * factor,
            usual:
              typeof usual === 'number'
                ? String(usual * factor)
                : TAKEOVER_WORDS[usual].toLowerCase(),
            choices:
              typeof usual === 'number'
                ? []
                : [
                    { value: '', label: `as usual (${TAKEOVER_WORDS[usual].toLowerCase()})` },
                    ...TAKEOVERS.map((value) => ({ value, label: TAKEOVER_WORDS[value] })),
                  ],
            number: typeof own === 'number' ? Number((own * factor).toPrecision(4)) : null,
            choice: typeof own === 'string' ? own : '',
          };
        }),
      }));
  });

  protected setNumber(kind: FeelKind, field: FeelField, shown: number | null): void {
    this.set(kind, field, shown === null ? '' : shown / FEEL_WORDS[field].factor);
  }

  /** Says a setting for a kind; an empty one is as usual again. */
  protected set(kind: FeelKind, field: FeelField, value: string | number): void {
    this.editor.edit('surface', (surface) =>
      changeSurface(surface, `Feel of ${feelKindName(kind, KIND_NAMES)}`, (draft) => {
        const { [field]: _before, ...rest } = draft.feel?.[kind] ?? {};
        const settings = value === '' ? rest : { ...rest, [field]: value };
        const { [kind]: _all, ...others } = draft.feel ?? {};
        const feel = Object.keys(settings).length > 0 ? { ...others, [kind]: settings } : others;
        if (Object.keys(feel).length > 0) draft.feel = feel;
        else delete draft.feel;
      }),
    );
  }
}
