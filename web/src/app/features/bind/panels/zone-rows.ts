import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { partOfTravel, zonesOf, type Zone } from '@rondo/core/profile';
import { Choice, Share, type Option } from '../../../shared/ui/form';

const DOES: readonly Option<Zone['does']>[] = [
  { value: 'value', label: 'always' },
  { value: 'range', label: 'from … to' },
  { value: 'nothing', label: 'nothing' },
];

/** The parts that a control's travel is cut into, each with a value or a range of its own. */
@Component({
  selector: 'rondo-zone-rows',
  imports: [Choice, Share],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="row">
      <h3>Zones</h3>
      @if (!zones()) {
        <button type="button" class="small" (click)="changed.emit(threePositions())">
          Three positions
        </button>
        @if (sharing() > 1) {
          <button type="button" class="small" (click)="parted.emit()">
            {{ sharing() === 2 ? 'A half' : 'A part' }} for each function
          </button>
        } @else {
          <button type="button" class="small" (click)="changed.emit(half())">Two halves</button>
        }
        <small>Each part of the travel with a value or a range of its own.</small>
      } @else {
        <button type="button" class="small" (click)="split()">Split the last</button>
        <button type="button" class="small" (click)="changed.emit(null)">No zones</button>
      }
    </div>
    <ol>
      @for (zone of zones() ?? []; track $index; let i = $index; let last = $last) {
        <li class="row">
          <span class="pair">
            Up to
            <rondo-share
              label="Zone ends at"
              [disabled]="last"
              [value]="last ? 1 : zone.upTo"
              (changed)="set(i, { upTo: $event })"
            />
          </span>
          <rondo-choice
            label="What the zone does"
            [options]="does"
            [value]="zone.does"
            (chosen)="setDoes(i, $event)"
          />
          @if (zone.does === 'value') {
            <rondo-share
              label="Value of the zone"
              [choices]="choices()"
              [value]="zone.value"
              (changed)="set(i, { value: $event })"
            />
            @if (!choices()) {
              <small>{{ format()(zone.value) }}</small>
            }
          }
          @if (zone.does === 'range') {
            <rondo-share
              label="Low end of the zone"
              [value]="zone.low"
              (changed)="set(i, { low: $event })"
            />
            …
            <rondo-share
              label="High end of the zone"
              [value]="zone.high"
              (changed)="set(i, { high: $event })"
            />
          }
          <button type="button" class="icon" aria-label="Remove the zone" (click)="remove(i)">
            <i class="pi pi-times" aria-hidden="true"></i>
          </button>
        </li>
      }
    </ol>
  `,
  styleUrl: '../../../shared/ui/panel.css',
  styles: `
    :host {
      grid-template-rows: none;
      gap: 6px;
      min-height: auto;
      padding: 10px 0 0;
      border: 0;
      border-top: 1px solid var(--line);
      border-radius: 0;
    }
  `,
})
export class ZoneRows {
  /** Absent where the travel is one piece. */
  readonly zones = input<readonly Zone[]>();
  /** The names of the host's choices, where it has some. */
  readonly choices = input<readonly string[]>();
  readonly format = input.required<(value: number) => string>();
  /** How many functions go by the travel. */
  readonly sharing = input(1);
  readonly changed = output<Zone[] | null>();
  /** Each of several functions is to take a part of the travel. */
  readonly parted = output();

  protected readonly does = DOES;

  protected threePositions(): Zone[] {
    const last = (this.choices()?.length ?? 3) - 1;
    const middle = Math.round(last / 2) / last;
    return zonesOf([0, middle, 1]);
  }

  protected half(): Zone[] {
    return partOfTravel(0, 2);
  }

  protected split(): void {
    const zones = [...(this.zones() ?? [])];
    const last = zones.pop();
    if (!last) return;
    const from = zones.at(-1)?.upTo ?? 0;
    this.changed.emit([...zones, { ...last, upTo: (from + 1) / 2 }, { ...last, upTo: 1 }]);
  }

  protected remove(at: number): void {
    const zones = (this.zones() ?? []).filter((_, n) => n !== at);
    this.changed.emit(zones.length > 0 ? zones : null);
  }

  protected set(at: number, patch: Record<string, number>): void {
    this.put(at, (zone) => ({ ...zone, ...patch }) as Zone);
  }

  protected setDoes(at: number, does: Zone['does']): void {
    this.put(at, ({ upTo }): Zone => {
      if (does === 'value') return { does, upTo, value: 1 };
      return does === 'range' ? { does, upTo, low: 0, high: 1 } : { does, upTo };
    });
  }

  private put(at: number, change: (zone: Zone) => Zone): void {
    this.changed.emit((this.zones() ?? []).map((zone, n) => (n === at ? change(zone) : zone)));
  }
}
