import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  computed,
  effect,
  inject,
  signal,
  untracked,
} from '@angular/core';
import { expectedBy } from '@rondo/core/host';
import { setPair, setStandsIn } from '@rondo/core/profile';
import { KIND_NAMES, type Control, type Surface } from '@rondo/core/surface';
import { PanelHead } from './panel-head';
import { NextTouch } from '../next-touch';
import { StandIns } from '../stand-ins';
import { Workbench } from '../workbench';
import { Choice, Switch, type Option } from '../../../shared/ui/form';
import { InputText } from 'primeng/inputtext';

/** An expected control, by its unit. */
interface Expected {
  readonly unit: number;
  readonly control: Control;
}

/** What a surface stands in for before a program that expects another one, control by control. */
@Component({
  selector: 'rondo-stand-in-panel',
  imports: [Choice, InputText, PanelHead, Switch],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <rondo-panel-head [title]="'What ' + label() + ' stands in for'" [about]="about()" />
    <div class="body">
      <div class="row">
        <span class="pair">
          Before
          <rondo-choice
            label="The program"
            [options]="programs()"
            [value]="hostId()"
            (chosen)="choose($event)"
          />
        </span>
        @if (hostId()) {
          <button type="button" class="small" (click)="propose()">Propose anew</button>
        }
      </div>
      @if (hostId()) {
        <p>
          It sends what that surface would send and shows what the program says to it. This lies
          under all layers: what you bind yourself goes first.
        </p>
        <div class="row">
          <input
            pInputText
            pSize="small"
            #find
            type="text"
            placeholder="Find a control …"
            aria-label="Find an expected control"
            [value]="typed()"
            (input)="typed.set(find.value)"
          />
          <rondo-switch [on]="onlyOpen()" (turned)="onlyOpen.set($event)">
            only those without one ({{ openCount() }})
          </rondo-switch>
        </div>
        <ul>
          @for (row of shown(); track row.key) {
            <li [class.armed]="armed() === row.key">
              <span>
                {{ row.label }}
                @if (row.taken) {
                  <small>bound by itself: that goes first</small>
                }
              </span>
              <rondo-choice
                [label]="'What stands in for ' + row.label"
                [options]="row.choices"
                [value]="row.own"
                (chosen)="pair(row, $event)"
              />
              <button
                type="button"
                class="small"
                [attr.aria-pressed]="armed() === row.key"
                [attr.aria-label]="'Touch what stands in for ' + row.label"
                (click)="arm(row.key)"
              >
                {{ armed() === row.key ? 'Touch it now' : 'Touch' }}
              </button>
            </li>
          } @empty {
            <li class="none">
              {{ onlyOpen() ? 'Every control has one.' : 'No such control is expected.' }}
            </li>
          }
        </ul>
      } @else if (hosts().length === 0) {
        <p>
          No host of this profile is a program that expects a surface. Add one under Surfaces,
          above.
        </p>
      }
    </div>
  `,
  styleUrl: '../../../shared/ui/panel.css',
  styles: `
    li {
      display: grid;
      grid-template-columns: minmax(0, 1fr) minmax(0, 150px) 92px;
      align-items: center;
      gap: 8px;
      min-height: 32px;
      border-bottom: 1px solid var(--line);
      font-size: 13px;
    }
    li small {
      display: block;
    }
    li.armed {
      background: var(--forward-soft);
    }
    li.none {
      display: block;
      padding-top: 6px;
      color: var(--ink-soft);
    }
    li rondo-choice {
      max-width: none;
      width: 100%;
    }
    input[type='text'] {
      flex: 1;
    }
  `,
})
export class StandInPanel {
  protected readonly bench = inject(Workbench);
  private readonly next = inject(NextTouch);
  private readonly standIns = inject(StandIns);
  protected readonly typed = signal('');
  protected readonly onlyOpen = signal(false);
  /** The expected control that takes what is touched next. */
  protected readonly armed = signal('');
  private readonly id = computed(() => {
    const profile = this.bench.profile();
    const chosen = this.standIns.of();
    return profile && Object.hasOwn(profile.surfaces, chosen)
      ? chosen
      : (profile?.surfaceOrder[0] ?? '');
  });
  private readonly entry = computed(() => this.bench.profile()?.surfaces[this.id()]);
  protected readonly label = computed(() => this.entry()?.label ?? '');
  protected readonly surface = computed(() => this.bench.surfaceOf(this.id()));
  protected readonly hostId = computed(() => this.entry()?.standsIn?.host ?? '');
  protected readonly hosts = computed(() => {
    const profile = this.bench.profile();
    return (profile?.hostOrder ?? [])
      .map((id) => profile!.hosts[id])
      .filter(({ model }) => expectedBy(model) !== null);
  });
  protected readonly programs = computed(() => [
    { value: '', label: 'no program: it is itself' },
    ...this.hosts().map(({ id, label }) => ({ value: id, label })),
  ]);
  private readonly units = computed(() => this.standIns.expectedOf(this.hostId()));
  protected readonly about = computed(() =>
    this.units()
      .map(({ name }) => name)
      .join(' + '),
  );
  private readonly rows = computed(() => {
    const surface = this.surface();
    const pairs = this.entry()?.standsIn?.pairs ?? [];
    const profile = this.bench.profile();
    if (!surface || !profile) return [];
    const bound = new Set(
      profile.bindingOrder.flatMap((key) => {
        const { control, layer } = profile.bindings[key];
        const here = control?.surface === this.id() && layer === profile.layerOrder[0];
        return here ? [control.control] : [];
      }),
    );
    const several = this.units().length > 1;
    return this.units()
      .flatMap((unit, at) => unit.controls.map((control): Expected => ({ unit: at, control })))
      .map(({ unit, control }) => {
        const own = pairs.find((pair) => pair.for === control.id && pair.unit === unit)?.control;
        return {
          key: `${unit}/${control.id}`,
          unit,
          for: control.id,
          label: several ? `${control.label}, unit ${unit + 1}` : control.label,
          words: `${control.label} ${KIND_NAMES[control.kind]}`.toLowerCase(),
          own: own ?? '',
          taken: own !== undefined && bound.has(own),
          choices: choicesOf(surface, control),
        };
      });
  });
  protected readonly openCount = computed(() => this.rows().filter(({ own }) => own === '').length);
  protected readonly shown = computed(() => {
    const words = this.typed().trim().toLowerCase().split(/\s+/).filter(Boolean);
    return this.rows().filter(
      (row) =>
        words.every((word) => row.words.includes(word)) &&
        (!this.onlyOpen() || row.own === '' || row.key === this.armed()),
    );
  });

  constructor() {
    inject(DestroyRef).onDestroy(() => this.next.pairing.set(false));
    // A touch gives the waiting control its own.
    effect(() => {
      const selected = this.bench.touched();
      const key = untracked(this.armed);
      if (key === '' || selected?.surface !== untracked(this.id)) return;
      const row = untracked(this.rows).find((one) => one.key === key);
      if (!row) return;
      this.arm(key);
      this.pair(row, selected.control);
    });
  }

  protected choose(host: string): void {
    const id = this.id();
    if (host === '') this.bench.edit((profile) => setStandsIn(profile, id, null));
    else this.standIns.letStandIn(id, host);
  }

  protected propose(): void {
    this.standIns.letStandIn(this.id(), this.hostId());
  }

  protected pair(row: { readonly for: string; readonly unit: number }, control: string): void {
    const id = this.id();
    this.bench.edit((profile) => setPair(profile, id, row, control === '' ? null : control));
  }

  protected arm(key: string): void {
    this.armed.update((now) => (now === key ? '' : key));
    this.next.pairing.set(this.armed() !== '');
  }
}

/** Controls of a surface that could stand in for one. */
function choicesOf(surface: Surface, expected: Control): Option<string>[] {
  const isText = expected.kind === 'display';
  const own = surface.controls.filter(
    (control) => (control.kind === 'display') === isText && control.silent !== true,
  );
  return [{ value: '', label: 'nothing' }, ...own.map(({ id, label }) => ({ value: id, label }))];
}
