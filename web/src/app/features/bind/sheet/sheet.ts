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
import type { Draft } from 'immer';
import { Button } from 'primeng/button';
import { TableModule } from 'primeng/table';
import {
  BEHAVIOURS,
  addBindingTo,
  copyToLayer,
  editBindings,
  editLayer,
  mendReferences,
  removeBindings,
  type Action,
  type Behaviour,
  type Binding,
  type Cause,
  type Profile,
} from '@rondo/core/profile';
import type { Broken } from '@rondo/core/round';
import { TAKEOVERS, type Takeover } from '@rondo/core/surface';
import { selectionActions } from '../../../state/actions';
import { choicesFor } from '../round/choices';
import { enterChoices, stateChoices } from '../round/state-choices';
import { Finder } from '../round/finder';
import { BEHAVIOUR_WORDS } from '../../../shared/words/behaviour-words';
import { GESTURE_WORDS } from '../names';
import { Workbench } from '../workbench';
import { ActMenu, Choice, type Option } from '../../../shared/ui/form';
import { InputText } from 'primeng/inputtext';

/** One binding as a line of the sheet. */
interface Row {
  readonly id: string;
  readonly control: string;
  readonly surface: string;
  readonly gesture: string;
  readonly layer: string;
  readonly does: string;
  readonly how: string;
  readonly when: string;
  readonly more: string;
  readonly words: string;
  readonly broken: Broken | null;
}

const TAKEOVER_WORDS: Readonly<Record<Takeover, string>> = {
  jump: 'Jump',
  pickup: 'Pick up',
  scale: 'Scale',
  rest: 'From rest',
};

/** All bindings as lines: filtered, sorted, edited many at a time; what is broken with its mend. */
@Component({
  selector: 'rondo-sheet',
  imports: [ActMenu, Button, Choice, Finder, FormsModule, InputText, TableModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './sheet.html',
  styleUrl: './sheet.css',
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
  /** Cause that waits for its action, or the word for choosing the cause itself. */
  protected readonly making = signal<'cause' | Cause | null>(null);
  /** Binding whose lost function is to be replaced. */
  protected readonly mending = signal<string | null>(null);

  private readonly all = computed<Row[]>(() => {
    const profile = this.bench.profile();
    if (!profile) return [];
    const plan = this.bench.engine.plan;
    const broken = new Map((plan?.broken ?? []).map((one) => [one.binding, one]));
    return profile.bindingOrder.map((id) =>
      this.row(profile, profile.bindings[id], broken.get(id)),
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
      { value: 'invert', label: 'Invert' },
      { value: 'straight', label: 'Not inverted' },
      { value: 'passOn', label: 'Pass on' },
      { value: 'end', label: 'Consume' },
      { value: 'pin', label: 'Pin' },
      { value: 'unpin', label: 'Unpin' },
      ...(profile?.flagOrder ?? []).map((id) => ({
        value: `flag ${id}`,
        label: `Only while ${profile?.flags[id].label ?? id} is on`,
      })),
      { value: 'always', label: 'Without conditions' },
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
    const ref = profile.bindings[this.mending() ?? '']?.control;
    const surface = ref && this.bench.surfaceOf(ref.surface);
    const control = surface?.controls.find(({ id }) => id === ref?.control);
    return ref && surface && control
      ? choicesFor(this.bench.namesOf(profile), surface, control, ref.part, (other) =>
          this.bench.controlName(other),
        )
      : [];
  });

  private row(profile: Profile, binding: Binding, broken: Broken | undefined): Row {
    const { control, cause, actions } = binding;
    const name = control
      ? this.bench.controlName(control)
      : cause
        ? this.bench.namesOf(profile).cause(cause)
        : '';
    const layer = Object.hasOwn(profile.layers, binding.layer)
      ? profile.layers[binding.layer].label
      : `${binding.layer} (gone)`;
    const does = actions.map((action) => this.bench.namesOf(profile).action(action)).join(', ');
    const [first] = actions;
    const how = first.do === 'function' ? BEHAVIOUR_WORDS[first.behaviour].label : '';
    const when = (binding.when ?? [])
      .map((one) => this.bench.namesOf(profile).condition(one))
      .join(', ');
    const more = [
      binding.feel?.takeover ? TAKEOVER_WORDS[binding.feel.takeover] : '',
      binding.group ? `one of ${binding.group}` : '',
      binding.passOn ? 'goes on' : '',
      binding.pinned ? 'pinned' : '',
      first.do === 'function' && first.shape ? 'shaped' : '',
    ]
      .filter(Boolean)
      .join(', ');
    const moved = control?.part === 'value' || control?.part === 'pressure';
    return {
      id: binding.id,
      control: name,
      surface: control ? (profile.surfaces[control.surface]?.label ?? control.surface) : '',
      gesture: cause
        ? 'A host changes'
        : moved
          ? 'Move'
          : GESTURE_WORDS[binding.gesture ?? 'press'],
      layer,
      does,
      how,
      when,
      more,
      words: [name, layer, does, how, when, more].join(' ').toLowerCase(),
      broken: broken ?? null,
    };
  }

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

  /** Opens what a host's change does. */
  protected openCause(row: Row): void {
    this.bench.causeId.set(row.id);
    this.bench.actionAt.set(0);
    this.bench.panel.set('actions');
    this.shown.emit();
  }

  private many(name: string, change: (binding: Draft<Binding>) => void): void {
    const ids = this.chosen().map(({ id }) => id);
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

  protected moveTo(layer: string): void {
    this.many('Move to another layer', (binding) => {
      binding.layer = layer;
    });
  }

  protected copyTo(layer: string): void {
    const ids = this.chosen().map(({ id }) => id);
    this.bench.edit((profile) =>
      copyToLayer(profile, `Copy ${ids.length} to ${profile.layers[layer].label}`, ids, layer),
    );
  }

  protected setBehaviour(behaviour: Behaviour): void {
    this.many('Behaviour', ({ actions }) => {
      for (const action of actions) if (action.do === 'function') action.behaviour = behaviour;
    });
  }

  protected setTakeover(takeover: Takeover | 'inherit'): void {
    this.many('Takeover', (binding) => {
      const { takeover: _before, ...rest } = binding.feel ?? {};
      const feel = takeover === 'inherit' ? rest : { ...rest, takeover };
      if (Object.keys(feel).length > 0) binding.feel = feel;
      else delete binding.feel;
    });
  }

  protected setOther(what: string): void {
    this.many('Edit', (binding) => {
      if (what === 'invert' || what === 'straight')
        for (const action of binding.actions) {
          if (action.do !== 'function') continue;
          const { invert: _before, ...rest } = action.shape ?? {};
          action.shape = what === 'invert' ? { ...rest, invert: true } : rest;
        }
      else if (what === 'passOn') binding.passOn = true;
      else if (what === 'end') delete binding.passOn;
      else if (what === 'pin') binding.pinned = true;
      else if (what === 'unpin') delete binding.pinned;
      else if (what === 'always') delete binding.when;
      else if (what.startsWith('flag '))
        binding.when = [...(binding.when ?? []), { flag: what.slice(5), is: 'on' }];
    });
  }

  protected setGroup(text: string): void {
    const group = text.trim();
    this.many('Exclusive group', (binding) => {
      if (group) binding.group = group;
      else delete binding.group;
    });
  }

  protected remove(): void {
    const ids = this.chosen().map(({ id }) => id);
    this.bench.edit((profile) => removeBindings(profile, `Remove ${ids.length} bindings`, ids));
    this.chosen.set([]);
  }

  /** What mends a broken line, in a word or two. */
  protected mendWord({ what, mend }: Broken): string {
    switch (what) {
      case 'function':
        return 'Choose another';
      case 'control':
        return this.bench.selected() ? 'Put it on the control in hand' : 'Remove';
      case 'message':
        return 'Edit it';
      case 'behaviour':
        return mend ? `Use “${BEHAVIOUR_WORDS[mend].label}”` : 'Put it on the control in hand';
      default:
        return 'Take that out';
    }
  }

  protected mend(row: Row): void {
    const { what, mend } = row.broken ?? {};
    if (what === 'behaviour' && mend) this.mendBehaviour(row.id);
    else if (what === 'function') this.mending.set(row.id);
    else if (what === 'message') {
      this.show(row);
      this.bench.panel.set('actions');
    } else if (what === 'control' || what === 'behaviour') this.moveToHand(row.id);
    else if (row.layer.endsWith('(gone)'))
      this.bench.edit((profile) =>
        editBindings(profile, 'Put on the lowest layer', [row.id], (binding) => {
          binding.layer = profile.layerOrder[0];
        }),
      );
    else this.bench.edit((profile) => mendReferences(profile, [row.id]));
  }

  /** Gives each action of a binding that cannot work there the behaviour by which it would. */
  private mendBehaviour(id: string): void {
    const { plan } = this.bench.engine;
    const run = plan?.bindings.find((one) => one.id === id);
    if (!plan || !run) return;
    this.bench.edit((profile) =>
      editBindings(profile, 'Mend the behaviour', [id], ({ actions }) =>
        actions.forEach((action, n) => {
          const { mend } = plan.actions[run.first + n];
          if (mend && action.do === 'function') action.behaviour = mend;
        }),
      ),
    );
  }

  private moveToHand(id: string): void {
    const ref = this.bench.selected();
    this.bench.edit((profile) =>
      ref
        ? editBindings(profile, `Put on ${this.bench.controlName(ref)}`, [id], (binding) => {
            binding.control = { ...ref };
          })
        : removeBindings(profile, 'Remove a binding', [id]),
    );
  }

  /** Takes out of a layer what cannot work: circles, and what would turn a state over. */
  protected mendLayer(broken: Broken): void {
    const profile = this.bench.profile();
    const plan = profile && this.bench.engine.planOf(profile);
    const layer = plan?.layers.find(({ id }) => id === broken.layer);
    if (!plan || !layer) return;
    this.bench.edit((profile) =>
      editLayer(profile, `Mend ${layer.label}`, layer.id, (draft) => {
        for (const event of ['enter', 'leave'] as const) {
          const { first } = layer[event];
          draft[event] = draft[event]?.filter((_, n) => !plan.actions[first + n].broken);
        }
        if (broken.what === 'control') delete draft.page;
      }),
    );
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
      const id = this.mending();
      this.mending.set(null);
      if (!id) return;
      this.bench.edit((profile) =>
        editBindings(profile, 'Choose another function', [id], ({ actions }) => {
          const plan = this.bench.engine.planOf(profile);
          const run = plan?.bindings.find((one) => one.id === id);
          const lost = run ? actions.findIndex((_, n) => plan?.actions[run.first + n].broken) : 0;
          actions[Math.max(0, lost)] = action as (typeof actions)[number];
        }),
      );
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
    this.mending.set(null);
  }
}
