import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  HostListener,
  computed,
  effect,
  inject,
  input,
  signal,
  untracked,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { Button } from 'primeng/button';
import { Popover } from 'primeng/popover';
import { Tooltip } from 'primeng/tooltip';
import type { ControlRef } from '@rondo/core/profile';
import { EngineService } from '../engine/engine.service';
import { Head, type Frame } from '../engine/frame';
import { LIBRARY } from '../engine/library';
import { documentActions, listActions, selectionActions } from '../state/actions';
import { freshId } from '../state/api';
import { documentFeature, type SaveState } from '../state/document';
import { selectionFeature } from '../state/selection';
import { isTyping } from '../ui/typing';
import { HostPicture } from './host-picture';
import { Ports } from './ports';
import { Round } from './round';
import { SurfaceDrawing } from './surface-drawing';

const SAVE_WORDS: Readonly<Record<SaveState, string>> = {
  saved: 'Saved',
  unsaved: 'Not saved yet',
  saving: 'Saving …',
  away: 'Not saved: the server is away',
  stale: 'Not saved: saved elsewhere meanwhile',
  refused: 'Not saved: refused',
};

/** A control selected by touch stays so for this long, µs, whatever else moves. */
const STAY = 250_000;

/** The desk, the host beside it, and the round of the control in hand. Home of the work. */
@Component({
  selector: 'rondo-bind',
  imports: [Button, HostPicture, Popover, Ports, Round, RouterLink, SurfaceDrawing, Tooltip],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './bind.html',
  styleUrl: './bind.css',
})
export class Bind {
  /** Id of the profile, from the address. */
  readonly id = input.required<string>();

  protected readonly engine = inject(EngineService);
  private readonly store = inject(Store);
  protected readonly profile = this.store.selectSignal(documentFeature.selectProfile);
  protected readonly save = this.store.selectSignal(documentFeature.selectSave);
  protected readonly message = this.store.selectSignal(documentFeature.selectMessage);
  protected readonly undoName = this.store.selectSignal(documentFeature.selectUndoName);
  protected readonly redoName = this.store.selectSignal(documentFeature.selectRedoName);
  protected readonly selected = this.store.selectSignal(selectionFeature.selectControl);
  protected readonly locked = this.store.selectSignal(selectionFeature.selectLocked);
  protected readonly holdOff = this.store.selectSignal(selectionFeature.selectHoldOff);
  protected readonly saveWords = computed(() => SAVE_WORDS[this.save()]);

  protected readonly finderOpen = signal(false);
  protected readonly bank = signal(0);
  protected readonly motorsFree = signal(false);
  /** Time of the last touch seen; null before the first frame, which may tell of touches from before. */
  private inHandAt: number | null = null;
  private pickedAt = -STAY;

  protected readonly surfaces = computed(() => {
    const profile = this.profile();
    return (profile?.surfaceOrder ?? []).flatMap((id) => {
      const surface = profile && LIBRARY.surface(profile.surfaces[id].stock);
      return surface ? [{ id, label: profile.surfaces[id].label, surface }] : [];
    });
  });
  protected readonly hosts = computed(() => {
    const profile = this.profile();
    return (profile?.hostOrder ?? []).flatMap((id) => {
      const model = profile && LIBRARY.host(profile.hosts[id].model);
      return model ? [{ id, label: profile.hosts[id].label, model }] : [];
    });
  });
  protected readonly mark = computed(() =>
    (this.surfaces()[0]?.label ?? '').replace(/[^A-Z0-9]/g, ''),
  );
  protected readonly reach = computed(() => {
    const strips = this.hosts()[0]?.model.strips.length ?? 0;
    return `${this.bank() + 1}–${Math.min(strips, this.bank() + 8)} of ${strips}`;
  });

  constructor() {
    this.engine.start();
    effect(() => {
      const id = this.id();
      if (untracked(this.profile)?.id !== id) this.store.dispatch(documentActions.open({ id }));
    });
    effect(() => {
      const profile = this.profile();
      if (profile) this.engine.setProfile(profile);
    });
    effect(() => this.engine.setHoldOff(this.holdOff()));
    const stop = this.engine.paint((frame) => this.read(frame));
    inject(DestroyRef).onDestroy(stop);
  }

  private read(frame: Frame): void {
    this.bank.set(frame.head(Head.Bank));
    this.motorsFree.set(frame.head(Head.MotorsFree) === 1);
    const at = frame.head(Head.InHandAt);
    const before = this.inHandAt;
    this.inHandAt = at;
    if (before === null || at === before || this.locked() || this.finderOpen()) return;
    // Where many controls move at once, the selection does not flicker between them.
    if (at - this.pickedAt < STAY && at >= this.pickedAt) return;
    const touched = frame.plan.parts[frame.head(Head.InHand)];
    const { id } = frame.plan.links[touched.link];
    const part = touched.part === 'touch' ? 'value' : touched.part;
    const control = { surface: id, control: touched.control.id, part };
    if (this.pick(control)) this.pickedAt = at;
  }

  /** Selects a control; false where it is selected already. */
  protected pick(control: ControlRef): boolean {
    const now = this.selected();
    const same =
      now?.surface === control.surface &&
      now.control === control.control &&
      now.part === control.part;
    if (!same) this.store.dispatch(selectionActions.select({ control }));
    return !same;
  }

  protected isReal(link: string): boolean {
    return this.engine.choices()[link]?.real ?? false;
  }

  protected setHoldOff(on: boolean): void {
    this.store.dispatch(selectionActions.holdOff({ on }));
  }

  protected setLocked(locked: boolean): void {
    this.store.dispatch(selectionActions.lock({ locked }));
  }

  protected undo(): void {
    this.store.dispatch(documentActions.undo());
  }

  protected redo(): void {
    this.store.dispatch(documentActions.redo());
  }

  protected rename(name: string): void {
    this.store.dispatch(documentActions.rename({ name }));
  }

  protected retry(): void {
    this.store.dispatch(documentActions.retry());
  }

  protected reopen(): void {
    this.store.dispatch(documentActions.open({ id: this.id() }));
  }

  protected keepMine(): void {
    this.store.dispatch(documentActions.keepMine());
  }

  protected takeTheirs(): void {
    this.store.dispatch(documentActions.takeTheirs());
  }

  protected keepBoth(): void {
    const profile = this.profile();
    if (!profile) return;
    const copy = { ...profile, id: freshId(), name: `${profile.name} (mine)`.slice(0, 80) };
    this.store.dispatch(listActions.create({ profile: copy, open: true }));
  }

  @HostListener('document:keydown', ['$event'])
  protected onKey(event: KeyboardEvent): void {
    if (isTyping(event)) return;
    const command = event.ctrlKey || event.metaKey;
    const key = event.key.toLowerCase();
    if (command && key === 'z') {
      event.preventDefault();
      if (event.shiftKey) this.redo();
      else this.undo();
    } else if (command || event.altKey) return;
    else if (key === '/' && this.selected()) {
      event.preventDefault();
      this.finderOpen.set(true);
    } else if (key === 'h') this.setHoldOff(!this.holdOff());
    else if (key === 'l') this.setLocked(!this.locked());
    else if (key === 'escape') this.finderOpen.set(false);
    else if (key === 'delete' || key === 'backspace') this.unbindSelected();
  }

  private unbindSelected(): void {
    const control = this.selected();
    if (control)
      this.store.dispatch(documentActions.unbind({ name: `Unbind ${control.control}`, control }));
  }
}
