import {
  ChangeDetectionStrategy,
  Component,
  computed,
  input,
  linkedSignal,
  output,
  signal,
} from '@angular/core';
import { patternFault, patternText, type Pattern, type PatternType } from '@rondo/core/surface';
import {
  FIELDS,
  TYPE_NAMES,
  asType,
  readField,
  showField,
  typesFor,
  type Field,
} from './pattern-fields';
import { FormsModule } from '@angular/forms';
import { ToggleSwitch } from 'primeng/toggleswitch';
import { Choice, TextField } from '../../shared/ui/form';
import { InputText } from 'primeng/inputtext';

/** One part's message: shown as a line, edited in place. */
@Component({
  selector: 'rondo-pattern',
  imports: [Choice, FormsModule, InputText, ToggleSwitch, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="line">
      <b>{{ name() }}</b>
      @if (pattern(); as p) {
        <span class="text">{{ text() }}</span>
        <button type="button" (click)="open.set(!open())" [attr.aria-expanded]="open()">
          {{ open() ? 'Done' : 'Change' }}
        </button>
        <button type="button" [attr.aria-label]="'Remove ' + name()" (click)="removed.emit()">
          Remove
        </button>
      } @else {
        <span class="text quiet">not the same on all</span>
        <button type="button" (click)="start()">Set all</button>
      }
    </div>
    @if (fault(); as says) {
      <p class="fault" role="alert">{{ says }}</p>
    }
    @if (open() && pattern(); as p) {
      <div class="fields">
        <span class="field">
          Message
          <rondo-choice
            [label]="name() + ' message'"
            [options]="types()"
            [value]="p.type"
            (chosen)="setType($event)"
          />
        </span>
        @for (field of fields(); track field.key) {
          <span class="field" [class.wide]="field.as === 'text' || field.as === 'hex'">
            {{ field.label }}
            @switch (field.as) {
              @case ('choice') {
                <rondo-choice
                  [label]="name() + ' ' + field.label"
                  [options]="field.options ?? []"
                  [value]="chosenOf(field)"
                  (chosen)="set(field, $event)"
                />
              }
              @case ('flag') {
                <p-toggleswitch
                  [ariaLabel]="name() + ' ' + field.label"
                  [ngModel]="isSet(field)"
                  (onChange)="toggle(field)"
                />
              }
              @default {
                <input
                  pInputText
                  pSize="small"
                  #box
                  [attr.aria-label]="name() + ' ' + field.label"
                  [class.wrong]="wrong() === field.key"
                  [rondoText]="show(field)"
                  (change)="type(field, box.value)"
                />
              }
            }
          </span>
        }
        @if (wrongSays(); as says) {
          <p class="fault wide" role="alert">{{ says }}</p>
        }
      </div>
    }
  `,
  styles: `
    :host {
      display: block;
      padding: 2px 0;
    }
    .line {
      display: flex;
      align-items: baseline;
      gap: 8px;
    }
    b {
      min-width: 54px;
    }
    .text {
      flex: 1;
    }
    .quiet {
      color: var(--ink-soft);
    }
    button {
      padding: 2px 4px;
      border: 0;
      background: none;
      font-size: 13px;
      text-decoration: underline;
      cursor: pointer;
    }
    .fields {
      display: flex;
      flex-wrap: wrap;
      gap: 6px 10px;
      padding: 6px 8px;
      margin: 2px 0 4px;
      border-left: 3px solid currentColor;
    }
    .field {
      display: grid;
      gap: 2px;
      color: var(--ink-soft);
      font-size: 12px;
    }
    .wide {
      flex-basis: 100%;
    }
    input:not([type]) {
      min-height: 28px;
      padding: 2px 6px;
      border: 1px solid var(--line-strong);
      border-radius: 4px;
      background: var(--raised);
      color: var(--ink);
      font-size: 13px;
    }
    input:not([type]) {
      width: 68px;
    }
    .wide input:not([type]) {
      width: 100%;
      font-family: var(--mono);
    }
    .wrong {
      border-color: var(--stop);
    }
    .fault {
      padding-left: 8px;
      border-left: 3px solid var(--stop);
      color: var(--ink);
      font-size: 13px;
    }
  `,
})
export class PatternEditor {
  readonly part = input.required<string>();
  readonly name = input.required<string>();
  /** Nothing where several controls are selected and theirs differ. */
  readonly pattern = input<Pattern>();
  readonly hex = input(false);
  readonly changed = output<Pattern>();
  readonly removed = output();

  /** Opened for change from the beginning. */
  readonly startOpen = input(false);
  protected readonly open = linkedSignal(() => this.startOpen());
  protected readonly wrong = signal<string | null>(null);
  protected readonly types = computed(() =>
    typesFor(this.part()).map((value) => ({ value, label: TYPE_NAMES[value] })),
  );
  protected readonly fields = computed(() => FIELDS[this.pattern()?.type ?? 'controller']);
  protected readonly text = computed(() => {
    const pattern = this.pattern();
    return pattern ? patternText(pattern, this.hex()) : '';
  });
  protected readonly fault = computed(() => {
    const pattern = this.pattern();
    return pattern ? patternFault(pattern) : null;
  });
  protected readonly wrongSays = computed(() => {
    const field = this.fields().find(({ key }) => key === this.wrong());
    if (!field) return null;
    return field.as === 'hex'
      ? `${field.label}: hex pairs from 00 to 7F, at most 16.`
      : `${field.label} is a whole number from ${field.min ?? 0} to ${field.max ?? 127}. It stays as it was.`;
  });

  protected start(): void {
    this.open.set(true);
    this.changed.emit(asType(this.types()[0].value, undefined));
  }

  protected setType(type: PatternType): void {
    this.changed.emit(asType(type, this.pattern()));
  }

  protected show(field: Field): string {
    const pattern = this.pattern();
    return pattern ? showField(field, pattern, this.hex()) : '';
  }

  protected isSet(field: Field): boolean {
    return (this.pattern() as Record<string, unknown> | undefined)?.[field.key] === true;
  }

  protected chosenOf(field: Field): string | number | null {
    const value = (this.pattern() as Record<string, unknown> | undefined)?.[field.key];
    return typeof value === 'string' || typeof value === 'number' ? value : null;
  }

  protected toggle(field: Field): void {
    this.set(field, this.isSet(field) ? undefined : true);
  }

  protected type(field: Field, typed: string): void {
    const read = readField(field, typed, this.hex());
    this.wrong.set(read ? null : field.key);
    if (read) this.set(field, read.value);
  }

  protected set(field: Field, value: unknown): void {
    const pattern = this.pattern();
    if (!pattern) return;
    const next: Record<string, unknown> = { ...pattern, [field.key]: value };
    if (value === undefined) Reflect.deleteProperty(next, field.key);
    this.changed.emit(next as Pattern);
  }
}
