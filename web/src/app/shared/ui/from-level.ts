import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';

/** Where a setting comes from. */
export interface FromRow {
  /** It is said at the level that is edited. */
  readonly own: boolean;
  readonly source: string;
  /** What it would be if that level said nothing. */
  readonly otherwise: string;
  /** What it is in the end, where a more special level says otherwise; '' where none does. */
  readonly over?: string;
}

/** Says where a setting comes from, or puts it back to what it would otherwise be. */
@Component({
  selector: 'rondo-from',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (row().own) {
      <button type="button" class="small" (click)="back.emit()">
        Reset to {{ row().otherwise }}
      </button>
    } @else {
      <small>{{ row().source }}</small>
    }
    @if (row().over; as text) {
      <small class="over">{{ text }}</small>
    }
  `,
  styleUrl: './panel.css',
  styles: `
    :host {
      display: inline;
      padding: 0;
      border: 0;
      background: none;
    }
  `,
})
export class FromLevel {
  readonly row = input.required<FromRow>();
  readonly back = output();
}
