import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { removeBindings, type Action, type Behaviour, type Condition } from '@rondo/core/profile';
import { choicesFor } from '../round/choices';
import { enterChoices } from '../round/state-choices';
import { ConditionList } from './condition-list';
import { Finder } from '../round/finder';
import { BEHAVIOUR_WORDS } from '../../../shared/words/behaviour-words';
import { PanelHead } from './panel-head';
import { NotesFields } from './notes-fields';
import { SendFields } from './send-fields';
import { SetUps } from '../../../state/set-ups';
import { LastBinding } from '../last-binding';
import { Workbench } from '../workbench';
import { OneOf, Switch } from '../../../shared/ui/form';

type Notes = Extract<Action, { do: 'notes' }>;

/** All that a binding does, in order. */
@Component({
  selector: 'rondo-actions-panel',
  imports: [ConditionList, Finder, NotesFields, OneOf, PanelHead, SendFields, Switch],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <rondo-panel-head title="What it does" [about]="about()" />
    <div class="body">
      @if (finding()) {
        <rondo-finder [choices]="choices()" (chosen)="add($event)" (closed)="finding.set(false)" />
      }
      <ol>
        @for (row of rows(); track $index; let i = $index; let first = $first; let last = $last) {
          <li [class.broken]="row.why">
            <div class="row">
              <strong>{{ i + 1 }}. {{ row.name }}</strong>
              <span class="space"></span>
              <button
                type="button"
                class="icon"
                aria-label="Earlier"
                [disabled]="first"
                (click)="move(i, -1)"
              >
                <i class="pi pi-arrow-up" aria-hidden="true"></i>
              </button>
              <button
                type="button"
                class="icon"
                aria-label="Later"
                [disabled]="last"
                (click)="move(i, 1)"
              >
                <i class="pi pi-arrow-down" aria-hidden="true"></i>
              </button>
              <button type="button" class="small" (click)="shape(i)">Shape</button>
              <button
                type="button"
                class="icon"
                [attr.aria-label]="'Remove ' + row.name"
                (click)="remove(i)"
              >
                <i class="pi pi-trash" aria-hidden="true"></i>
              </button>
            </div>
            @if (row.why) {
              <p class="why">
                {{ row.why }}
                @if (row.mend; as behaviour) {
                  <button type="button" class="small" (click)="useBehaviour(i, behaviour)">
                    Use “{{ behaviourWords[behaviour].label }}”
                  </button>
                }
              </p>
            }
            @if (row.action.do === 'notes') {
              <rondo-notes-fields [action]="row.action" (changed)="setNotes(i, $event)" />
            }
            @if (row.action.do === 'send' && row.action.message !== undefined) {
              <rondo-send-fields [action]="row.action" (changed)="setSend(i, $event)" />
            }
            @if (row.action.do === 'layer' || row.action.do === 'flag') {
              <rondo-one-of
                label="How"
                [options]="hows"
                [value]="row.action.how"
                (chosen)="setHow(i, $event)"
              />
            }
            @if (row.action.do === 'layerStep' || row.action.do === 'focusPage') {
              <rondo-switch [on]="row.action.wrap" (turned)="setWrap(i, $event)">
                After the last comes the first
              </rondo-switch>
            }
            <div class="row">
              <small>Only while</small>
              <rondo-condition-list
                [conditions]="row.action.when ?? []"
                (changed)="setWhen(i, $event)"
              />
            </div>
          </li>
        } @empty {
          <p>Nothing yet. Choose a function below.</p>
        }
      </ol>
      @if (!finding()) {
        <div class="row">
          <button type="button" class="small" (click)="finding.set(true)">Add an action</button>
          <small>They are done in this order. One that fails stops no other.</small>
        </div>
      }
    </div>
  `,
  styleUrl: '../../../shared/ui/panel.css',
  styles: `
    li {
      display: grid;
      gap: 4px;
      padding: 6px 0 8px;
      border-bottom: 1px solid var(--line);
    }
    .space {
      flex: 1;
    }
    .broken strong {
      text-decoration: underline wavy var(--stop) 1px;
    }
    .why {
      color: var(--stop);
    }
    rondo-finder {
      max-height: 320px;
    }
    input.mono {
      width: 210px;
    }
  `,
})
export class ActionsPanel {
  protected readonly bench = inject(Workbench);
  private readonly last = inject(LastBinding);
  private readonly setUps = inject(SetUps);
  protected readonly finding = signal(false);
  protected readonly hows = [
    { value: 'hold', label: 'While held' },
    { value: 'toggle', label: 'Toggle' },
    { value: 'on', label: 'On' },
    { value: 'off', label: 'Off' },
  ] as const;

  protected readonly about = this.bench.inHand;
  protected readonly choices = computed(() => {
    const profile = this.bench.profile();
    const surface = this.bench.surface();
    const control = this.bench.control();
    const part = this.bench.selected()?.part;
    if (!profile || !this.finding()) return [];
    // A host's change has no control: it sets something, and may turn it over.
    if (this.bench.causeId() !== null) return enterChoices(this.bench.namesOf(profile));
    if (!surface || !control || !part) return [];
    return choicesFor(
      this.bench.namesOf(profile),
      surface,
      control,
      part,
      (ref) => this.bench.controlName(ref),
      this.setUps.all() ?? [],
      this.bench.usual,
    );
  });
  protected readonly rows = computed(() => {
    const profile = this.bench.profile();
    const binding = this.bench.binding();
    if (!profile || !binding) return [];
    const { plan } = this.bench.engine;
    const run = plan?.bindings.find(({ id }) => id === binding.id);
    const told = this.bench.broken().filter((broken) => broken.binding === binding.id);
    const setUps = this.setUps.ids();
    return binding.actions.map((action, n) => {
      const made = run && plan?.actions[run.first + n];
      const isGone = action.do === 'setUp' && setUps !== null && !setUps.has(action.setUp);
      const isBroken = isGone || (made?.broken ?? false);
      return {
        action,
        name: this.bench.namesOf(profile).action(action),
        why: isBroken ? made?.why || (told[0]?.why ?? 'This is not there any more.') : '',
        mend: made?.mend ?? null,
      };
    });
  });

  /** What each behaviour is called. */
  protected readonly behaviourWords = BEHAVIOUR_WORDS;

  /** Takes the behaviour by which an action would work where it is bound. */
  protected useBehaviour(at: number, behaviour: Behaviour): void {
    this.at(at, 'Mend the behaviour', (action) => {
      if (action.do === 'function') action.behaviour = behaviour;
    });
  }

  private at(at: number, name: string, recipe: (action: Action) => void): void {
    this.bench.change(name, (binding) => recipe(binding.actions[at] as Action));
  }

  protected add(action: Action): void {
    this.finding.set(false);
    if (!this.bench.binding()) {
      this.last.bind(action);
      return;
    }
    this.bench.change('Add an action', (binding) => {
      if (binding.actions.length < 16)
        binding.actions.push(action as (typeof binding.actions)[number]);
    });
  }

  protected move(at: number, by: number): void {
    this.bench.change('Order of actions', ({ actions }) => {
      const [moved] = actions.splice(at, 1);
      actions.splice(at + by, 0, moved);
    });
  }

  protected remove(at: number): void {
    const binding = this.bench.binding();
    if (binding?.actions.length === 1) {
      if (binding.cause)
        this.bench.edit((profile) => removeBindings(profile, 'Remove a binding', [binding.id]));
      else this.bench.unbind();
      return;
    }
    this.bench.change('Remove an action', ({ actions }) => actions.splice(at, 1));
    this.bench.actionAt.set(0);
  }

  protected shape(at: number): void {
    this.bench.actionAt.set(at);
    this.bench.panel.set('shape');
  }

  protected setNotes(
    at: number,
    change: Partial<Pick<Notes, 'notes' | 'channel' | 'velocity'>>,
  ): void {
    this.at(at, 'Notes', (action) => {
      if (action.do !== 'notes') return;
      Object.assign(action, change);
      if (action.velocity === undefined) delete action.velocity;
    });
  }

  protected setSend(at: number, change: object): void {
    this.at(at, 'Message', (action) => {
      if (action.do === 'send') Object.assign(action, change);
    });
  }

  protected setHow(at: number, how: 'hold' | 'toggle' | 'on' | 'off'): void {
    this.at(at, 'How', (action) => {
      if (action.do === 'layer' || action.do === 'flag') action.how = how;
    });
  }

  protected setWrap(at: number, wrap: boolean): void {
    this.at(at, wrap ? 'Begin anew after the last' : 'Stop at the last', (action) => {
      if (action.do === 'layerStep' || action.do === 'focusPage') action.wrap = wrap;
    });
  }

  protected setWhen(at: number, when: Condition[]): void {
    this.at(at, 'Conditions', (action) => {
      if (when.length > 0) action.when = when;
      else delete action.when;
    });
  }
}
