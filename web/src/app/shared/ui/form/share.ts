import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { Choice } from './choice';
import { NumberField } from './number-field';

/** A place on a range, 0 to 1: per cent, or by name where the range is a list of choices. */
@Component({
  selector: 'rondo-share',
  imports: [Choice, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (options(); as list) {
      <rondo-choice
        [label]="label()"
        [options]="list"
        [value]="at()"
        [disabled]="disabled()"
        (chosen)="changed.emit($event / (list.length - 1))"
      />
    } @else {
      <rondo-number
        unit="%"
        [label]="label() + ', per cent'"
        [min]="0"
        [max]="most() * 100"
        [digits]="1"
        [value]="value() * 100"
        [disabled]="disabled()"
        (changed)="changed.emit(($event ?? 0) / 100)"
      />
    }
  `,
  styles: `
    :host {
      display: inline-flex;
    }
  `,
})
export class Share {
  readonly label = input.required<string>();
  readonly value = input.required<number>();
  /** The names along the range, the first at 0 and the last at 1. */
  readonly choices = input<readonly string[]>();
  readonly most = input(1);
  readonly disabled = input(false);
  readonly changed = output<number>();

  protected readonly options = computed(() =>
    this.choices()?.map((label, value) => ({ value, label })),
  );
  protected readonly at = computed(() =>
    Math.round(this.value() * ((this.choices()?.length ?? 2) - 1)),
  );
}
