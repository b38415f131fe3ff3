import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { Button } from 'primeng/button';
import type { Profile } from '@rondo/core/profile';
import { PART_NAMES, searchLamp, type Lamp } from '@rondo/core/surface';
import { EngineService } from '../../engine/engine.service';
import type { PortInfo } from '../../engine/midi';
import { LibraryService } from '../../state/library';

interface Search {
  readonly link: string;
  readonly name: string;
  readonly lamp: Lamp;
  /** Outputs still to be tried; the first is lit now. */
  readonly left: readonly PortInfo[];
}

/** Finds a surface's output by lighting one of its lamps on one output after another: which one woke? */
@Component({
  selector: 'rondo-lamp-search',
  imports: [Button],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <fieldset>
      <legend>Find an output</legend>
      @if (search(); as s) {
        @if (s.left[0]; as port) {
          <p>
            <b>{{ port.name }}</b>: did {{ s.lamp.control.label }} ({{ partName(s.lamp) }}) of
            {{ s.name }} wake?
          </p>
          <div>
            <p-button label="Yes, that one" size="small" (onClick)="found()" />
            <p-button
              label="No, next"
              size="small"
              severity="secondary"
              [outlined]="true"
              (onClick)="next()"
            />
            <p-button
              label="Stop"
              size="small"
              severity="secondary"
              [text]="true"
              (onClick)="stop()"
            />
          </div>
        } @else {
          <p>
            No output woke it. Is the device switched on and in the right preset? Its driver may
            also hide its input.
          </p>
          <p-button label="Close" size="small" [text]="true" (onClick)="search.set(null)" />
        }
      } @else {
        @for (row of rows(); track row.id) {
          <div class="row">
            <span>{{ row.label }}</span>
            @if (row.lamp === null) {
              <small>It takes nothing that could be lit.</small>
            } @else if (row.lamp.isNote) {
              <small>
                Its lamps are lit by notes, which a synth would play. Try only outputs that are
                none:
              </small>
              @for (port of outputs(); track port.id) {
                <p-button
                  [label]="port.name"
                  size="small"
                  severity="secondary"
                  [outlined]="true"
                  (onClick)="start(row.id, [port])"
                />
              }
            } @else {
              <p-button
                label="Light it on each output"
                size="small"
                severity="secondary"
                [outlined]="true"
                [disabled]="outputs().length === 0"
                (onClick)="start(row.id, outputs())"
              />
            }
          </div>
        }
      }
    </fieldset>
  `,
  styles: `
    fieldset {
      display: grid;
      gap: 8px;
      margin: 0;
      padding: 10px 12px;
      border: 1px solid var(--line);
      border-radius: 6px;
    }
    legend {
      font-weight: 600;
    }
    .row {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 6px 10px;
    }
    .row span {
      flex: 1;
    }
    small {
      flex-basis: 100%;
      color: var(--ink-soft);
    }
    p-button {
      margin-right: 6px;
    }
  `,
})
export class LampSearch {
  readonly profile = input.required<Profile>();
  readonly outputs = input.required<readonly PortInfo[]>();
  private readonly engine = inject(EngineService);
  private readonly library = inject(LibraryService);
  protected readonly search = signal<Search | null>(null);

  protected readonly rows = computed(() => {
    const profile = this.profile();
    return profile.surfaceOrder.map((id) => {
      const { label, model } = profile.surfaces[id];
      const surface = this.library.surface(model);
      return { id, label, lamp: surface ? searchLamp(surface) : null };
    });
  });

  protected partName(lamp: Lamp): string {
    return lamp.part === 'upper' ? 'its display' : PART_NAMES[lamp.part];
  }

  protected start(id: string, outputs: readonly PortInfo[]): void {
    const row = this.rows().find((entry) => entry.id === id);
    if (!row?.lamp) return;
    this.search.set({
      link: `surface:${id}`,
      name: row.label,
      lamp: row.lamp,
      left: [...outputs],
    });
    this.light(true);
  }

  private light(on: boolean): void {
    const now = this.search();
    const port = now?.left[0];
    if (now && port) this.engine.midi.send(port.id, on ? now.lamp.on : now.lamp.off);
  }

  protected next(): void {
    this.light(false);
    this.search.update((now) => now && { ...now, left: now.left.slice(1) });
    this.light(true);
  }

  protected stop(): void {
    this.light(false);
    this.search.set(null);
  }

  protected found(): void {
    const now = this.search();
    this.stop();
    const port = now?.left[0];
    if (!now || !port) return;
    const output = { id: port.id, name: port.name };
    this.engine.choosePorts(now.link, {
      ...this.engine.ports.choiceOf(now.link),
      real: true,
      output,
    });
  }
}
