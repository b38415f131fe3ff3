import { Injectable, computed, inject, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import type { Draft } from 'immer';
import {
  bindingsOf,
  editBindings,
  standsInBindings,
  unbind,
  usualFor,
  type Action,
  type Binding,
  type ControlRef,
  type Gesture,
  type Profile,
  type Scope,
} from '@rondo/core/profile';
import type { Edited } from '@rondo/core/document';
import type { Broken } from '@rondo/core/round';
import type { Control, Surface } from '@rondo/core/surface';
import { EngineService } from '../../engine/engine.service';
import { profileFeature } from '../../state/document';
import { DocumentEditor } from '../../state/documents';
import { LibraryService } from '../../state/library';
import { SetUps } from '../../state/set-ups';
import { selectionFeature } from '../../state/selection';
import { GESTURE_WORDS, Names, instanceName } from './names';
import { Stack } from './round/stack';

/** What is open for editing beside the drawing. */
export type Panel =
  | 'none'
  | 'propose'
  | 'versions'
  | 'setUps'
  | 'when'
  | 'shape'
  | 'actions'
  | 'repeat'
  | 'focus'
  | 'layers'
  | 'returns'
  | 'usual'
  | 'standIn';

/** How functions and controls are brought together. */
export type Mode = 'hand' | 'point' | 'pairs';

/** What is in hand on the Bind screen, and the edits that belong to it. */
@Injectable()
export class Workbench {
  private readonly store = inject(Store);
  private readonly editor = inject(DocumentEditor);
  private readonly library = inject(LibraryService);
  readonly engine = inject(EngineService);
  private readonly setUps = inject(SetUps);

  readonly profile = this.store.selectSignal(profileFeature.selectDocument);
  readonly selected = this.store.selectSignal(selectionFeature.selectControl);
  readonly panel = signal<Panel>('none');
  readonly mode = signal<Mode>('hand');
  readonly gesture = signal<Gesture>('press');
  /** Binding of a host's change that is in hand in place of a control's; null where none is. */
  readonly causeId = signal<string | null>(null);
  /** What of the profile points at nothing: by its plan, and set-ups that were deleted. */
  readonly broken = computed<readonly Broken[]>(() => {
    const profile = this.profile();
    const ids = this.setUps.ids();
    const told = this.engine.plan?.broken ?? [];
    if (!profile || !ids) return told;
    const gone = profile.bindingOrder.flatMap((id): Broken[] => {
      const { actions, layer } = profile.bindings[id];
      const lost = actions.find((action) => action.do === 'setUp' && !ids.has(action.setUp));
      return lost?.do === 'setUp'
        ? [
            {
              binding: id,
              layer,
              what: 'setUp',
              why: `The set-up “${lost.name}” is not there any more.`,
            },
          ]
        : [];
    });
    return [...told, ...gone];
  });
  /** Layers that are on now, those that are only held among them. */
  readonly on = signal<ReadonlySet<string>>(new Set());
  /** Layer that is looked at by choice; null to look at the topmost that is on. */
  readonly chosenLayer = signal<string | null>(null);
  /** The showing whose looks are open in place of a control's; null where none is. */
  readonly showingId = signal<string | null>(null);
  readonly showing = computed(() => {
    const profile = this.profile();
    const id = this.showingId();
    return profile && id !== null && Object.hasOwn(profile.showings, id)
      ? profile.showings[id]
      : null;
  });
  /** The control that was touched last, each touch anew, also that of the one in hand. */
  readonly touched = signal<ControlRef | null>(null, { equal: () => false });
  /** The host whose picture is shown; the first where it is none. */
  readonly hostShown = signal('');
  /** Which of several actions is looked at. */
  readonly actionAt = signal(0);

  /** The words of a profile: of the one that is open, or of what it would become. */
  namesOf(profile: Profile): Names {
    return new Names(profile, this.library.library());
  }

  readonly layer = computed(() => {
    const profile = this.profile();
    if (!profile) return '';
    const chosen = this.chosenLayer();
    if (chosen !== null && Object.hasOwn(profile.layers, chosen)) return chosen;
    const on = this.on();
    return profile.layerOrder.findLast((id, at) => at === 0 || on.has(id)) ?? '';
  });
  readonly layerLabel = computed(() => this.profile()?.layers[this.layer()]?.label ?? '');
  readonly stack = computed(() => {
    const profile = this.profile();
    return profile ? new Stack(profile, this.layer(), this.on(), this.standing()) : null;
  });
  /** What a proposal would make of the profile, and the layer of it that is looked at; null while none is open. */
  readonly preview = signal<{
    readonly profile: Profile;
    readonly layer: string;
    /** Controls that are marked, as `surface control`. */
    readonly marks?: ReadonlySet<string>;
  } | null>(null);
  /** What the drawings show: the profile as it is, or as a proposal would have it. */
  readonly drawn = computed(() => {
    const preview = this.preview();
    if (!preview) return { profile: this.profile(), stack: this.stack() };
    const { profile, layer } = preview;
    return { profile, stack: new Stack(profile, layer, new Set([layer]), this.standing()) };
  });
  /** What surfaces do by standing in for others. */
  private readonly standing = computed<readonly Binding[]>(() => {
    const profile = this.profile();
    if (!profile) return [];
    return standsInBindings(
      profile,
      (id) => this.surfaceOf(id),
      (model) => this.library.host(model),
    ).bindings;
  });
  readonly surface = computed<Surface | undefined>(() => {
    const selected = this.selected();
    return selected ? this.surfaceOf(selected.surface) : undefined;
  });
  readonly control = computed<Control | null>(() => {
    const selected = this.selected();
    return this.surface()?.controls.find((c) => c.id === selected?.control) ?? null;
  });
  readonly isPress = computed(() => {
    const part = this.selected()?.part;
    return part === 'push' || part === 'touch';
  });
  /** The gesture that counts: what is moved has one only. */
  readonly gestureHere = computed<Gesture>(() => (this.isPress() ? this.gesture() : 'press'));
  readonly seen = computed(() => {
    const selected = this.selected();
    return selected ? this.stack()?.of(selected, this.gestureHere()) : undefined;
  });
  readonly binding = computed<Binding | null>(() => {
    const cause = this.causeId();
    const profile = this.profile();
    if (cause !== null && profile && Object.hasOwn(profile.bindings, cause))
      return profile.bindings[cause];
    const seen = this.seen();
    return seen && !seen.standsIn ? seen.binding : null;
  });
  /** What is in hand, in words. */
  readonly inHand = computed(() => {
    const profile = this.profile();
    const cause = this.binding()?.cause;
    if (profile && cause) return `When ${this.namesOf(profile).cause(cause)}`;
    const selected = this.selected();
    return selected ? this.controlName(selected) : '';
  });
  /** All bindings of the same place, where conditions choose among them. */
  readonly variants = computed<readonly Binding[]>(() => {
    const profile = this.profile();
    const selected = this.selected();
    const binding = this.binding();
    return profile && selected && binding
      ? bindingsOf(profile, selected, { layer: binding.layer, gesture: this.gestureHere() })
      : [];
  });
  readonly action = computed<Action | null>(
    () => this.binding()?.actions.at(this.actionAt()) ?? this.binding()?.actions[0] ?? null,
  );

  /** How far one tick goes by what the binding in hand inherits. */
  readonly feelStep = computed(() => {
    const { plan } = this.engine;
    const run = plan?.bindings.find(({ id }) => id === this.binding()?.id);
    return (run && plan?.actions[run.first]?.feel.step) ?? null;
  });

  surfaceOf(id: string): Surface | undefined {
    const profile = this.profile();
    return profile && Object.hasOwn(profile.surfaces, id)
      ? this.library.surface(profile.surfaces[id].model)
      : undefined;
  }

  hostModel(id: string) {
    const profile = this.profile();
    return profile ? this.library.hostOf(profile, id) : undefined;
  }

  /** A control's name, with its surface's where there are several. */
  controlName(ref: ControlRef): string {
    const profile = this.profile();
    const label =
      this.surfaceOf(ref.surface)?.controls.find(({ id }) => id === ref.control)?.label ??
      ref.control;
    const several = (profile?.surfaceOrder.length ?? 0) > 1;
    const surface = profile?.surfaces[ref.surface]?.label ?? ref.surface;
    return several ? `${label}, ${surface}` : label;
  }

  edit(change: (profile: Profile) => Edited<Profile>): Profile | null {
    return this.editor.edit('profile', change);
  }

  undo(): void {
    this.editor.undo('profile');
  }

  /** Changes the binding in hand, on the layer where it is. */
  change(name: string, recipe: (binding: Draft<Binding>) => void): void {
    const binding = this.binding();
    if (binding) this.edit((profile) => editBindings(profile, name, [binding.id], recipe));
  }

  /** Changes the action in hand. */
  changeAction(name: string, recipe: (action: Draft<Action>) => void): void {
    const at = Math.min(this.actionAt(), (this.binding()?.actions.length ?? 1) - 1);
    this.change(name, (binding) => recipe(binding.actions[at]));
  }

  /** What a new binding of what is in hand goes to, where that is set; null where the control suggests it. */
  readonly usual = (host: string): Scope | null => {
    const profile = this.profile();
    return profile ? usualFor(profile, this.selected(), this.layer(), host) : null;
  };
  /** The same in words, for every host where it is set. */
  readonly usualWords = computed(() =>
    (this.profile()?.hostOrder ?? [])
      .flatMap((host) => {
        const scope = this.usual(host);
        return scope ? [instanceName(this.hostModel(host), scope)] : [];
      })
      .join(', '),
  );

  unbind(): void {
    const selected = this.selected();
    const binding = this.binding();
    if (!selected || !binding) return;
    const gesture = this.gestureHere();
    const what = gesture === 'press' ? '' : `, ${GESTURE_WORDS[gesture].toLowerCase()}`;
    const name = `Unbind ${this.controlName(selected)}${what}`;
    this.edit((profile) => unbind(profile, name, selected, { layer: binding.layer, gesture }));
  }
}
