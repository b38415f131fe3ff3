import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import { NumberField } from '../../../shared/ui/form';

/** Measures how many ticks one turn of an encoder has, to say how far that shall go. */
@Component({
  selector: 'rondo-turn-measure',
  imports: [NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (from() === null) {
      <button type="button" class="small" (click)="begin()">Measure a turn</button>
    } @else {
      <p role="status">
        Turn it once round, in one direction.
        <b>{{ ticks() }} {{ ticks() === 1 ? 'tick' : 'ticks' }}</b> so far.
      </p>
      <div class="row">
        <span class="pair">
          One turn shall be
          <rondo-number
            label="One turn shall be, per cent of the range"
            unit="% of the range"
            [min]="0.1"
            [max]="10000"
            [digits]="1"
            [value]="wanted()"
            (changed)="wanted.set($event ?? 100)"
          />
        </span>
        <button type="button" class="small" [disabled]="ticks() === 0" (click)="take()">
          Set it so
        </button>
        <button type="button" class="small" (click)="from.set(null)">Cancel</button>
      </div>
    }
  `,
  styleUrl: '../../../shared/ui/panel.css',
  styles: `
    :host {
      display: grid;
      gap: 8px;
      padding: 0;
      background: none;
      border: 0;
    }
  `,
})
export class TurnMeasure {
  /** Ticks that it has been turned in all, clockwise positive. */
  readonly turned = input.required<number>();
  /** The step of a tick, as a share of the range. */
  readonly measured = output<number>();

  protected readonly from = signal<number | null>(null);
  protected readonly wanted = signal(100);
  protected readonly ticks = computed(() => Math.abs(this.turned() - (this.from() ?? 0)));

  protected begin(): void {
    this.from.set(this.turned());
  }

  protected take(): void {
    const step = this.wanted() / 100 / this.ticks();
    this.from.set(null);
    this.measured.emit(Math.min(1, Math.max(0.0001, step)));
  }
}
