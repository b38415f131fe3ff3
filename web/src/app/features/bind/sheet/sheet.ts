import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  model,
  output,
  signal,
} from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Store } from '@ngrx/store';
import { Button } from 'primeng/button';
import { TableModule } from 'primeng/table';
import {
  BEHAVIOURS,
  addBindingTo,
  copyToLayer,
  editBindings,
  landingOn,
  moveToLayer,
  removeBindings,
  type Action,
  type Behaviour,
  type Cause,
  type Landing,
  type Profile,
} from '@rondo/core/profile';
import { TAKEOVERS, type Takeover } from '@rondo/core/surface';
import { selectionActions } from '../../../state/actions';
import { choicesFor } from '../round/choices';
import { enterChoices, stateChoices } from '../round/state-choices';
import { Finder } from '../round/finder';
import { BEHAVIOUR_WORDS } from '../../../shared/words/behaviour-words';
import { Workbench } from '../workbench';
import { ActMenu, Choice, Switch, type Option } from '../../../shared/ui/form';
import { InputText } from 'primeng/inputtext';
import { OTHER_EDITS, behave, groupAs, onlyWhile, takeOverBy, type BulkEdit } from './bulk-edits';
import { Mends } from './mends';
import { TAKEOVER_WORDS, rowOf, type Row } from './sheet-rows';

/** All bindings as lines: filtered, sorted, edited many at a time; what is broken with its mend. */
@Component({
  selector: 'rondo-sheet',
  imports: [ActMenu, Button, Choice, Finder, FormsModule, InputText, Switch, TableModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './sheet.html',
  styleUrl: './sheet.css',
  providers: [Mends],
})
export class Sheet {
  /** A line's control is to be shown in the drawing. */
  readonly shown = output();
  protected readonly bench = inject(Workbench);
  private readonly store = inject(Store);

  protected readonly typed = signal('');
  protected readonly layer = signal('');
  protected readonly surface = signal('');
  /** Only lines that are broken are shown. */
  readonly onlyBroken = model(false);
  protected readonly chosen = signal<Row[]>([]);
  /** Edits are for the chosen lines that are hidden by filters, too. */
  protected readonly withHidden = signal(false);
  /** Cause that waits for its action, or the word for choosing the cause itself. */
  protected readonly making = signal<'cause' | Cause | null>(null);
  protected readonly mends = inject(Mends);

  private readonly all = computed<Row[]>(() => {
    const profile = this.bench.profile();
    if (!profile) return [];
    const names = this.bench.namesOf(profile);
    const broken = new Map(this.bench.broken().map((one) => [one.binding, one]));
    return profile.bindingOrder.map((id) =>
      rowOf(profile, profile.bindings[id], broken.get(id), names, (ref) =>
        this.bench.controlName(ref),
      ),
    );
  });
  protected readonly rows = computed(() => {
    const words = this.typed().toLowerCase().split(/\s+/).filter(Boolean);
    return this.all().filter(
      (row) =>
        words.every((word) => row.words.includes(word)) &&
        (this.layer() === '' || row.layer === this.layer()) &&
        (this.surface() === '' || row.surface === this.surface()) &&
        (!this.onlyBroken() || this.brokenCount() === 0 || row.broken !== null),
    );
  });
  private readonly inSight = computed(() => new Set(this.rows().map(({ id }) => id)));
  protected readonly hidden = computed(
    () => this.chosen().filter(({ id }) => !this.inSight().has(id)).length,
  );
  /** What edits are for: what is shown of the chosen lines, unless said otherwise. */
  private readonly affected = computed(() =>
    this.chosen()
      .map(({ id }) => id)
      .filter((id) => this.withHidden() || this.inSight().has(id)),
  );
  protected readonly count = computed(() => this.affected().length);
  /** Lines on their way to a layer on which they meet others, until it is said what becomes of these. */
  protected readonly landing = signal<{
    readonly does: 'move' | 'copy';
    readonly layer: string;
    readonly label: string;
    readonly ids: readonly string[];
    readonly count: number;
  } | null>(null);
  /** How the last move or copy ended. */
  protected readonly landed = signal('');
  protected readonly brokenCount = computed(() => this.all().filter(({ broken }) => broken).length);
  /** What is broken of layers, which have no line. */
  protected readonly brokenLayers = computed(() => {
    this.bench.profile();
    return (this.bench.engine.plan?.broken ?? []).filter(({ binding }) => binding === '');
  });
  /** Numbers of the profile outside their range: read, and held at its ends. */
  protected readonly outside = computed(() => {
    this.bench.profile();
    return this.bench.engine.plan?.clamped ?? 0;
  });
  protected readonly layers = computed(() => {
    const profile = this.bench.profile();
    return (profile?.layerOrder ?? []).map((id) => ({
      value: id,
      label: profile?.layers[id].label ?? id,
    }));
  });
  protected readonly layerFilter = computed(() => [
    { value: '', label: 'All layers' },
    ...this.layers().map(({ label }) => ({ value: label, label })),
  ]);
  protected readonly surfaces = computed(() => {
    const profile = this.bench.profile();
    return (profile?.surfaceOrder ?? []).map((id) => profile?.surfaces[id].label ?? id);
  });
  protected readonly surfaceFilter = computed(() => [
    { value: '', label: 'All surfaces' },
    ...this.surfaces().map((label) => ({ value: label, label })),
  ]);
  protected readonly others = computed(() => {
    const profile = this.bench.profile();
    return [
      ...OTHER_EDITS.filter(({ value }) => value !== 'always'),
      ...(profile?.flagOrder ?? []).map((id) => ({
        value: `flag ${id}`,
        label: `Only while ${profile?.flags[id].label ?? id} is on`,
      })),
      ...OTHER_EDITS.filter(({ value }) => value === 'always'),
    ];
  });
  protected readonly behaviours = BEHAVIOURS.map((value) => ({
    value,
    label: BEHAVIOUR_WORDS[value].label,
  }));
  protected readonly takeovers: readonly Option<Takeover | 'inherit'>[] = [
    ...TAKEOVERS.map((value) => ({ value, label: TAKEOVER_WORDS[value] })),
    { value: 'inherit', label: 'As inherited' },
  ];
  protected readonly choices = computed(() => {
    const profile = this.bench.profile();
    const making = this.making();
    if (!profile) return [];
    if (making === 'cause') return stateChoices(this.bench.namesOf(profile));
    if (making) return enterChoices(this.bench.namesOf(profile));
    const ref = profile.bindings[this.mends.lost() ?? '']?.control;
    const surface = ref && this.bench.surfaceOf(ref.surface);
    const control = surface?.controls.find(({ id }) => id === ref?.control);
    return ref && surface && control
      ? choicesFor(this.bench.namesOf(profile), surface, control, ref.part, (other) =>
          this.bench.controlName(other),
        )
      : [];
  });

  /** Puts a line's control in hand. */
  protected show(row: Row): void {
    this.bench.causeId.set(null);
    const binding = this.bench.profile()?.bindings[row.id];
    if (!binding?.control) return;
    this.store.dispatch(selectionActions.select({ control: binding.control }));
    this.bench.gesture.set(binding.gesture ?? 'press');
    this.bench.chosenLayer.set(binding.layer);
    this.shown.emit();
  }

  protected mend(row: Row): void {
    if (row.broken?.what === 'message') {
      this.show(row);
      this.bench.panel.set('actions');
    } else this.mends.mend(row);
  }

  /** Opens what a host's change does. */
  protected openCause(row: Row): void {
    this.bench.causeId.set(row.id);
    this.bench.actionAt.set(0);
    this.bench.panel.set('actions');
    this.shown.emit();
  }

  private many(name: string, change: BulkEdit): void {
    const ids = this.affected();
    this.bench.edit((profile) =>
      editBindings(profile, `${name}, ${ids.length} bindings`, ids, change),
    );
    this.keepChosen();
  }

  /** Lines are new after an edit; the same ones stay chosen. */
  private keepChosen(): void {
    const ids = new Set(this.chosen().map(({ id }) => id));
    queueMicrotask(() => this.chosen.set(this.all().filter(({ id }) => ids.has(id))));
  }

  /** Where lines would land on others it is asked first what becomes of those. */
  protected bring(does: 'move' | 'copy', layer: string): void {
    const profile = this.bench.profile();
    if (!profile) return;
    const ids = this.affected();
    const { label } = profile.layers[layer];
    const count = landingOn(profile, ids, layer);
    this.landed.set('');
    this.landing.set({ does, layer, label, ids, count });
    if (count === 0) this.land('beside');
  }

  protected land(way: Landing): void {
    const landing = this.landing();
    const before = this.bench.profile();
    this.landing.set(null);
    if (!landing || !before) return;
    const { does, layer, label, ids } = landing;
    const on = ({ bindings, bindingOrder }: Profile) =>
      bindingOrder.filter((id) => bindings[id].layer === layer);
    const kept = new Set(on(before));
    const after = this.bench.edit((profile) =>
      does === 'move'
        ? moveToLayer(profile, `Move ${ids.length} to ${label}`, ids, layer, way)
        : copyToLayer(profile, `Copy ${ids.length} to ${label}`, ids, layer, way),
    );
    const arrived = after ? on(after).filter((id) => !kept.has(id)).length : 0;
    const coming = ids.filter((id) => before.bindings[id]?.layer !== layer).length;
    this.landed.set(
      `${arrived} ${does === 'move' ? 'moved' : 'copied'} to ${label}.` +
        (arrived < coming ? ` ${coming - arrived} stay where they are.` : ''),
    );
    this.keepChosen();
  }

  protected setBehaviour(behaviour: Behaviour): void {
    this.many('Behaviour', behave(behaviour));
  }

  protected setTakeover(takeover: Takeover | 'inherit'): void {
    this.many('Takeover', takeOverBy(takeover));
  }

  protected setOther(what: string): void {
    const other = OTHER_EDITS.find(({ value }) => value === what);
    this.many('Edit', other?.edit ?? onlyWhile(what.slice('flag '.length)));
  }

  protected setGroup(text: string): void {
    this.many('Exclusive group', groupAs(text));
  }

  protected remove(): void {
    const ids = this.affected();
    this.bench.edit((profile) => removeBindings(profile, `Remove ${ids.length} bindings`, ids));
    this.keepChosen();
  }

  protected take(action: Action): void {
    const making = this.making();
    if (making === 'cause') {
      if (action.do !== 'function') return;
      const { host, function: fn, scope } = action;
      this.making.set({ host, function: fn, scope, when: 'on' });
    } else if (making) {
      this.bench.edit((profile) =>
        addBindingTo(profile, `When ${this.bench.namesOf(profile).cause(making)}`, {
          layer: profile.layerOrder[0],
          cause: making,
          actions: [action],
        }),
      );
      this.making.set(null);
    } else {
      this.mends.replaceLost(action);
    }
  }

  protected causeWords(): string {
    const profile = this.bench.profile();
    const making = this.making();
    if (making === 'cause') return 'When which function of a host changes?';
    return making && profile
      ? `When ${this.bench.namesOf(profile).cause(making)}, what happens?`
      : '';
  }

  /** The next way in which a host's change counts: on, off, any. */
  protected turnCause(row: Row): void {
    this.bench.edit((profile) =>
      editBindings(profile, 'When it counts', [row.id], ({ cause }) => {
        if (cause) cause.when = ({ on: 'off', off: 'change', change: 'on' } as const)[cause.when];
      }),
    );
  }

  protected stopFinding(): void {
    this.making.set(null);
    this.mends.lost.set(null);
  }
}
