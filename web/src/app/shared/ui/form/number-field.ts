import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  Injector,
  afterNextRender,
  computed,
  afterRenderEffect,
  inject,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { InputNumber } from 'primeng/inputnumber';
import { settled } from './settled';

/**
 * A number. What is out of range is brought to its limit, shown so, and said beside the field; what is no number leaves it as
 * it was. It shows what it was given: what was typed is told, and stays once whoever owns the value has taken it.
 */
@Component({
  selector: 'rondo-number',
  imports: [InputNumber],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p-inputnumber
      size="small"
      [min]="min()"
      [max]="max()"
      [step]="step()"
      [minFractionDigits]="0"
      [maxFractionDigits]="digits()"
      [useGrouping]="false"
      [ariaLabel]="label()"
      [placeholder]="placeholder()"
      [disabled]="disabled()"
      [invalid]="said() !== ''"
    />
    @if (unit()) {
      <span>{{ unit() }}</span>
    }
    @if (said()) {
      <small role="status">{{ said() }}</small>
    }
  `,
  host: { '(keydown)': 'onKey($event)', '(focusout)': 'settle()' },
  styles: `
    :host {
      display: inline-flex;
      align-items: center;
      gap: 5px;
    }
    small {
      color: var(--return);
      font-size: 12px;
    }
    :host ::ng-deep input {
      width: var(--number-width, 66px);
    }
  `,
})
export class NumberField {
  /** What the number is, for those who do not see what stands beside it. */
  readonly label = input.required<string>();
  /** null where there is none. */
  readonly value = input.required<number | null>();
  readonly min = input<number>();
  readonly max = input<number>();
  /** What an arrow key adds. */
  readonly step = input(1);
  /** How many digits after the point. */
  readonly digits = input(0);
  readonly unit = input('');
  /** Stands in an empty field; where there is one, the field may be emptied. */
  readonly placeholder = input('');
  readonly disabled = input(false);
  /** What was typed, within its limits; null where it was emptied. */
  readonly changed = output<number | null>();

  protected readonly said = signal('');
  private readonly field = viewChild.required(InputNumber);
  private readonly injector = inject(Injector);
  /** As the field shows it. */
  private readonly shown = computed(() => {
    const value = this.value();
    return value === null ? null : Number(value.toFixed(this.digits()));
  });
  /** What stood in the field before its limits were put upon it. */
  private typed = '';
  private isTouched = false;

  constructor() {
    afterRenderEffect({ write: () => this.show() });
    const host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
    // Before the field's own listeners: they bring it to its limit without a word.
    host.addEventListener('blur', () => this.read(), true);
    host.addEventListener('keydown', () => this.read(), true);
    host.addEventListener('input', () => this.touch(), true);
  }

  protected onKey(event: KeyboardEvent): void {
    if (event.isComposing) return;
    // The field puts the limits upon it at these, too, and has done so by now.
    if (event.key === 'Enter' || event.key === 'Tab') this.settle();
    else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') this.settle(true);
    else if (event.key.length === 1 || event.key === 'Backspace' || event.key === 'Delete')
      this.touch();
  }

  /** Tells what was typed, once. */
  protected settle(isTurned = false): void {
    if (!this.isTouched && !isTurned) return;
    this.isTouched = false;
    const { value, said } = settled(isTurned ? String(this.field().value ?? '') : this.typed, {
      min: this.min(),
      max: this.max(),
      mayBeEmpty: this.placeholder() !== '',
    });
    this.said.set(said);
    if (value !== undefined && value !== this.shown()) this.changed.emit(value);
    afterNextRender({ write: () => this.show() }, { injector: this.injector });
  }

  private touch(): void {
    this.isTouched = true;
    this.said.set('');
  }

  private read(): void {
    this.typed = this.input().value;
  }

  private show(): void {
    const value = this.shown();
    this.field().writeValue(value);
    this.input().value = value === null ? '' : this.field().formatValue(value);
  }

  private input(): HTMLInputElement {
    return this.field().input.nativeElement as HTMLInputElement;
  }
}
