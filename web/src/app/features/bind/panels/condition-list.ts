import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  output,
  signal,
} from '@angular/core';
import type { Action, Condition } from '@rondo/core/profile';
import { stateChoices } from '../round/state-choices';
import { Finder } from '../round/finder';
import { Workbench } from '../workbench';
import { ActMenu, NumberField } from '../../../shared/ui/form';

/** Conditions that all must hold: flags, layers, and what a host has now. */
@Component({
  selector: 'rondo-condition-list',
  imports: [ActMenu, Finder, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <ul>
      @for (one of rows(); track $index; let i = $index) {
        <li>
          <button
            type="button"
            class="small"
            [attr.aria-label]="'Invert: ' + one.name"
            title="Turn it round"
            (click)="turn(i)"
          >
            {{ one.name }}
          </button>
          @if (one.share !== null) {
            <rondo-number
              label="Per cent of the range"
              unit="%"
              [min]="0"
              [max]="100"
              [value]="one.share"
              (changed)="setShare(i, $event ?? 0)"
            />
          }
          <button type="button" class="icon" aria-label="Remove the condition" (click)="remove(i)">
            <i class="pi pi-times" aria-hidden="true"></i>
          </button>
        </li>
      }
    </ul>
    <rondo-act-menu label="Add a condition …" [options]="offers()" (chosen)="pick($event)" />
    @if (finding()) {
      <rondo-finder
        [choices]="states()"
        (chosen)="addState($event)"
        (closed)="finding.set(false)"
      />
    }
  `,
  styleUrl: '../../../shared/ui/panel.css',
  styles: `
    :host {
      position: relative;
      display: flex;
      flex-wrap: wrap;
      gap: 6px;
      padding: 0;
      border: 0;
      background: none;
    }
    ul {
      display: contents;
    }
    li {
      display: inline-flex;
      align-items: center;
      gap: 2px;
    }
    rondo-finder {
      flex-basis: 100%;
      max-height: 300px;
    }
  `,
})
export class ConditionList {
  readonly conditions = input.required<readonly Condition[]>();
  readonly changed = output<Condition[]>();
  private readonly bench = inject(Workbench);
  protected readonly finding = signal(false);

  protected readonly rows = computed(() => {
    const profile = this.bench.profile();
    if (!profile) return [];
    return this.conditions().map((condition) => ({
      name: this.bench.namesOf(profile).condition(condition),
      share:
        'host' in condition && (condition.is === 'atLeast' || condition.is === 'below')
          ? Math.round(((condition.value as number | undefined) ?? 0.5) * 100)
          : null,
    }));
  });
  protected readonly offers = computed(() => {
    const profile = this.bench.profile();
    if (!profile) return [];
    return [
      ...profile.flagOrder.map((id) => ({
        value: `flag ${id}`,
        label: `Flag ${profile.flags[id].label}`,
      })),
      ...profile.layerOrder.slice(1).map((id) => ({
        value: `layer ${id}`,
        label: `Layer ${profile.layers[id].label}`,
      })),
      { value: 'host', label: 'What a host has now …' },
    ];
  });
  protected readonly states = computed(() => {
    const profile = this.bench.profile();
    return profile && this.finding() ? stateChoices(this.bench.namesOf(profile)) : [];
  });

  private emit(change: (list: Condition[]) => void): void {
    const list = [...this.conditions()];
    change(list);
    this.changed.emit(list);
  }

  protected remove(at: number): void {
    this.emit((list) => list.splice(at, 1));
  }

  /** The next thing that can be asked of the same: on, off; of what moves also at least and below. */
  protected turn(at: number): void {
    this.emit((list) => {
      const condition = list[at];
      const next = { on: 'off', off: 'on', atLeast: 'below', below: 'atLeast' } as const;
      list[at] = { ...condition, is: next[condition.is] } as Condition;
    });
  }

  protected setShare(at: number, percent: number): void {
    if (!Number.isFinite(percent)) return;
    this.emit((list) => {
      list[at] = { ...list[at], value: Math.max(0, Math.min(100, percent)) / 100 } as Condition;
    });
  }

  protected pick(key: string): void {
    if (key === 'host') this.finding.set(true);
    const [kind, id] = key.split(' ');
    if (kind === 'flag') this.emit((list) => list.push({ flag: id, is: 'on' }));
    else if (kind === 'layer') this.emit((list) => list.push({ layer: id, is: 'on' }));
  }

  protected addState(action: Action): void {
    this.finding.set(false);
    if (action.do !== 'function') return;
    const { host, function: fn, scope } = action;
    const model = this.bench.hostModel(host);
    const moves = model?.functions.find(({ id }) => id === fn)?.kind === 'continuous';
    this.emit((list) =>
      list.push({
        host,
        function: fn,
        scope,
        ...(moves ? { is: 'atLeast' as const, value: 0.5 } : { is: 'on' as const }),
      }),
    );
  }
}
