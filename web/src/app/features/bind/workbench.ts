import { Injectable, computed, inject, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import type { Draft } from 'immer';
import { expectedBy } from '@rondo/core/host';
import {
  bind,
  bindingsOf,
  editBindings,
  proposeStandIn,
  rivalsOf,
  setStandsIn,
  standsInBindings,
  targetOf,
  unbind,
  usualFor,
  type Action,
  type BindWay,
  type Binding,
  type ControlRef,
  type Gesture,
  type OutputRef,
  type Profile,
  type Scope,
} from '@rondo/core/profile';
import type { Edit, Edited } from '@rondo/core/document';
import { inputsOf, type Control, type Surface } from '@rondo/core/surface';
import { EngineService } from '../../engine/engine.service';
import { profileFeature } from '../../state/document';
import { DocumentEditor } from '../../state/documents';
import { LibraryService } from '../../state/library';
import { selectionFeature } from '../../state/selection';
import { choicesFor } from './round/choices';
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

/** What the last binding did to what was there before. */
export interface BindResult {
  readonly control: ControlRef;
  readonly action: Action;
  readonly layer: string;
  readonly gesture: Gesture;
  readonly way: BindWay;
  /** What stood there before, in words; empty where nothing did. */
  readonly before: string;
  /** The layer below, where a layer's own key was bound; empty for the layer that is looked at. */
  readonly below: string;
  /** The control that does the same, in words; empty where none does. */
  readonly rival: string;
}

/** What was pointed at, or found before there was a control for it. */
export interface Pointed {
  readonly action: Action;
  readonly name: string;
}

/** Controls of one surface that are being chosen one by one, in their order. */
export interface Run {
  readonly controls: readonly string[];
  /** Any controls do; else only those that can take what is in hand. */
  readonly any?: boolean;
  /** The surface of the first one. */
  readonly surface?: string;
}

/** What is in hand on the Bind screen, and the edits that belong to it. */
@Injectable()
export class Workbench {
  private readonly store = inject(Store);
  private readonly editor = inject(DocumentEditor);
  private readonly library = inject(LibraryService);
  readonly engine = inject(EngineService);

  readonly profile = this.store.selectSignal(profileFeature.selectDocument);
  private readonly open = this.store.selectSignal(profileFeature.selectProfileState);
  readonly selected = this.store.selectSignal(selectionFeature.selectControl);
  readonly panel = signal<Panel>('none');
  readonly mode = signal<Mode>('hand');
  readonly gesture = signal<Gesture>('press');
  /** Finders that are open: while something is chosen, touches show and do not act. */
  readonly choosing = signal(0);
  /** Binding of a host's change that is in hand in place of a control's; null where none is. */
  readonly causeId = signal<string | null>(null);
  /** Layers that are on now, those that are only held among them. */
  readonly on = signal<ReadonlySet<string>>(new Set());
  /** Layer that is looked at by choice; null to look at the topmost that is on. */
  readonly chosenLayer = signal<string | null>(null);
  /** What the last binding did; gone once anything else has been done or undone. */
  readonly result = computed(() => {
    const bound = this.bound();
    return bound && this.open().past.at(-1) === bound.by ? bound.result : null;
  });
  private readonly bound = signal<{ result: BindResult; by: Edit | undefined } | null>(null);
  /** The function that was pointed at in a host's picture and waits for its control. */
  readonly pointed = signal<Pointed | null>(null);
  /** Why the control that was touched cannot take what was pointed at. */
  readonly misfit = signal('');
  /** The showing whose looks are open in place of a control's; null where none is. */
  readonly showingId = signal<string | null>(null);
  readonly showing = computed(() => {
    const profile = this.profile();
    const id = this.showingId();
    return profile && id !== null && Object.hasOwn(profile.showings, id)
      ? profile.showings[id]
      : null;
  });
  /** Lights that are being gathered to show what is in hand; null while none are. */
  readonly gathered = signal<readonly OutputRef[] | null>(null);
  /** Controls that are being chosen one by one; null while none are. */
  readonly run = signal<Run | null>(null);
  /** The control that was touched last, each touch anew, also that of the one in hand. */
  readonly touched = signal<ControlRef | null>(null, { equal: () => false });
  /** The next touch says which control stands in for another. */
  readonly pairing = signal(false);
  /** The surface of which it is said what it stands in for. */
  readonly standInOf = signal('');
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

  /** The surfaces, unit by unit, that a host's program expects; none where it expects none. */
  expectedOf(host: string): Surface[] {
    const profile = this.profile();
    if (!profile || !Object.hasOwn(profile.hosts, host)) return [];
    return (expectedBy(profile.hosts[host].model) ?? []).flatMap(
      (id) => this.library.surface(id) ?? [],
    );
  }

  /** Lets a surface stand in for what a host's program expects, as Rondo proposes it, and shows it. */
  letStandIn(id: string, host: string): void {
    const surface = this.surfaceOf(id);
    const expected = this.expectedOf(host);
    if (!surface || expected.length === 0) return;
    this.edit((profile) =>
      setStandsIn(profile, id, proposeStandIn(profile, id, surface, host, expected)),
    );
    this.hostShown.set(host);
    this.openStandIn(id);
  }

  openStandIn(id: string): void {
    this.standInOf.set(id);
    this.panel.set('standIn');
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

  /** Binds a control on the layer that is looked at, and says what that has done. */
  bind(
    action: Action,
    ref: ControlRef | null = this.selected(),
    way: BindWay = 'replace',
    gesture: Gesture = ref === this.selected() ? this.gestureHere() : 'press',
  ): void {
    const profile = this.profile();
    if (!ref || !profile) return;
    const layer = this.layerFor(action);
    const here = bindingsOf(profile, ref, { layer, gesture }).at(0);
    const rival = rivalsOf(profile, action, layer).find(
      (other) => other.control && other.id !== here?.id,
    );
    const isNewLayer = action.do === 'layer' && !Object.hasOwn(profile.layers, action.layer);
    const does = isNewLayer ? 'a new layer' : this.namesOf(profile).action(action);
    const name = `Bind ${this.controlName(ref)} to ${does}`;
    this.actionAt.set(way === 'add' && here ? here.actions.length : 0);
    this.edit((now) => bind(now, name, ref, action, { layer, gesture }, way));
    const result: BindResult = {
      control: ref,
      action,
      layer,
      gesture,
      way,
      // What was there already is not in place of itself.
      before: (here?.actions ?? [])
        .filter((one) => targetOf(one) === null || targetOf(one) !== targetOf(action))
        .map((one) => this.namesOf(profile).action(one))
        .join(', '),
      below: layer === this.layer() ? '' : profile.layers[layer].label,
      rival: rival?.control ? this.controlName(rival.control) : '',
    };
    this.bound.set({ result, by: this.open().past.at(-1) });
    // What is bound next is for the layer that was just made.
    if (isNewLayer) this.chosenLayer.set(action.layer);
  }

  /** A layer's own key has to lie below it, or nothing would turn the layer on. */
  private layerFor(action: Action): string {
    const order = this.profile()?.layerOrder ?? [];
    const at = order.indexOf(this.layer());
    const isOwn = action.do === 'layer' && action.layer === this.layer();
    return isOwn && at > 0 ? order[at - 1] : this.layer();
  }

  /** What the last binding did is told no more. */
  closeResult(): void {
    this.bound.set(null);
  }

  /** Does the last binding another way: beside what was there, or in exchange. */
  again(way: BindWay): void {
    const result = this.result();
    if (!result) return;
    this.undo();
    this.bind(result.action, result.control, way, result.gesture);
  }

  /** Binds what was pointed at to the control that is touched; what cannot be is told. */
  bindPointed(ref: ControlRef): void {
    const pointed = this.pointed();
    const surface = this.surfaceOf(ref.surface);
    const control = surface?.controls.find(({ id }) => id === ref.control);
    const profile = this.profile();
    if (!pointed || !profile || !surface || !control) return;
    const target = targetOf(pointed.action);
    const fits = choicesFor(this.namesOf(profile), surface, control, ref.part, (one) =>
      this.controlName(one),
    );
    const action = fits.find((choice) => targetOf(choice.action) === target)?.action;
    if (!action) {
      this.misfit.set(
        `${pointed.name} cannot be driven by ${this.controlName(ref)}. Touch another control.`,
      );
      return;
    }
    this.misfit.set('');
    this.pointed.set(null);
    this.bind(action, ref, 'replace', 'press');
  }

  /** Takes a control into those that are being chosen; it stands there once. */
  takeIntoRun(surface: string, control: string): void {
    const run = this.run();
    if (!run || run.controls.includes(control) || !this.fitsRun(run, surface, control)) return;
    this.run.set({ ...run, surface, controls: [...run.controls, control] });
  }

  private fitsRun(run: Run, surface: string, control: string): boolean {
    if (run.any) return run.surface === undefined || run.surface === surface;
    const first = this.selected();
    const of = this.surface();
    if (!first || !of || surface !== first.surface || control === first.control) return false;
    const found = of.controls.find(({ id }) => id === control);
    return found !== undefined && inputsOf(of, found).includes(first.part);
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

  /** Adds the light of a control to those that are gathered. */
  gather(surface: string, control: string): void {
    const found = this.surfaceOf(surface)?.controls.find(({ id }) => id === control);
    if (!found?.takes.light) return;
    this.gathered.update((list) =>
      list && !list.some((one) => one.surface === surface && one.control === control)
        ? [...list, { surface, control, part: 'light' as const }]
        : list,
    );
  }

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
