import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import type { Option } from './choice';

/**
 * One of a few, all in sight: a radio group, one stop of Tab, in which arrows choose (see `ArrowGroups`). The library's own
 * group of buttons speaks as buttons that are pressed, each a stop of its own.
 */
@Component({
  selector: 'rondo-one-of',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (option of options(); track option.value) {
      <button
        type="button"
        role="radio"
        [attr.aria-checked]="option.value === value()"
        (click)="option.value === value() || chosen.emit(option.value)"
      >
        {{ option.label }}
      </button>
    }
  `,
  host: { role: 'radiogroup', '[attr.aria-label]': 'label()' },
  styles: `
    :host {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 6px;
    }
    button {
      min-height: 26px;
      padding: 1px 9px;
      border: 1px solid var(--line-strong);
      border-radius: 4px;
      background: none;
      font-size: 12.5px;
      cursor: pointer;
      white-space: nowrap;
    }
    button[aria-checked='true'] {
      border-color: var(--forward);
      background: var(--forward);
      color: var(--raised);
    }
  `,
})
export class OneOf<T extends string | number> {
  readonly label = input.required<string>();
  readonly options = input.required<readonly Option<T>[]>();
  readonly value = input.required<T | null>();
  readonly chosen = output<T>();
}
