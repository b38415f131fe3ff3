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
import { unbind, type ControlRef } from '@rondo/core/profile';
import { EngineService } from '../engine/engine.service';
import { Head, type Frame } from '../engine/frame';
import { HOST_MODELS } from '@rondo/core/host';
import { documentActions, selectionActions } from '../state/actions';
import { lastNames, profileFeature } from '../state/document';
import { DocumentEditor } from '../state/documents';
import { LibraryService } from '../state/library';
import { SaveNotices, saveWords } from '../ui/save-notices';
import { selectionFeature } from '../state/selection';
import { isTyping } from '../ui/typing';
import { HostPicture } from './host-picture';
import { Ports } from './ports';
import { Round } from './round';
import { SurfaceDrawing } from './surface-drawing';
import { SurfacePicker } from './surface-picker';

/** Surfaces stand side by side up to this width, in their heights. */
const WIDEST_ROW = 2.6;

/** A control selected by touch stays so for this long, µs, whatever else moves. */
const STAY = 250_000;

/** The desk, the host beside it, and the round of the control in hand. Home of the work. */
@Component({
  selector: 'rondo-bind',
  imports: [
    Button,
    HostPicture,
    Popover,
    Ports,
    Round,
    RouterLink,
    SaveNotices,
    SurfaceDrawing,
    SurfacePicker,
    Tooltip,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './bind.html',
  styleUrl: './bind.css',
})
export class Bind {
  /** Id of the profile, from the address. */
  readonly id = input.required<string>();

  protected readonly engine = inject(EngineService);
  private readonly store = inject(Store);
  private readonly editor = inject(DocumentEditor);
  private readonly library = inject(LibraryService);
  protected readonly profile = this.store.selectSignal(profileFeature.selectDocument);
  protected readonly save = this.store.selectSignal(profileFeature.selectSave);
  protected readonly message = this.store.selectSignal(profileFeature.selectMessage);
  private readonly state = this.store.selectSignal(profileFeature.selectProfileState);
  protected readonly undoName = computed(() => lastNames(this.state()).undo);
  protected readonly redoName = computed(() => lastNames(this.state()).redo);
  protected readonly selected = this.store.selectSignal(selectionFeature.selectControl);
  protected readonly locked = this.store.selectSignal(selectionFeature.selectLocked);
  protected readonly holdOff = this.store.selectSignal(selectionFeature.selectHoldOff);
  protected readonly saveWords = computed(() => saveWords(this.save()));

  protected readonly finderOpen = signal(false);
  protected readonly bank = signal(0);
  protected readonly motorsFree = signal(false);
  /** Time of the last touch seen; null before the first frame, which may tell of touches from before. */
  private inHandAt: number | null = null;
  private pickedAt = -STAY;

  protected readonly surfaces = computed(() => {
    const profile = this.profile();
    return (profile?.surfaceOrder ?? []).flatMap((id) => {
      const surface = profile && this.library.surface(profile.surfaces[id].model);
      return surface
        ? [
            {
              id,
              label: profile.surfaces[id].label,
              surface,
              pages: [surface.firstPage?.label ?? '1', ...surface.pages.map(({ label }) => label)],
            },
          ]
        : [];
    });
  });
  /** Surfaces of the profile whose description is gone. */
  protected readonly missing = computed(() => {
    const profile = this.profile();
    if (!profile || !this.library.has(profile)) return [];
    return profile.surfaceOrder
      .map((id) => profile.surfaces[id])
      .filter(({ model }) => !this.library.surface(model));
  });
  /** Whether surfaces stand one over the other: together they would be too wide. */
  protected readonly stacked = computed(() => {
    const widths = this.surfaces().map(({ surface }) => surface.width / surface.height);
    return widths.reduce((sum, width) => sum + width, 0) > WIDEST_ROW;
  });
  /** Onboard page that each surface is on, from 0. */
  protected readonly pages = signal<Readonly<Record<string, number>>>({});
  protected readonly hosts = computed(() => {
    const profile = this.profile();
    return (profile?.hostOrder ?? []).flatMap((id) => {
      const model = profile && HOST_MODELS.get(profile.hosts[id].model);
      return model ? [{ id, label: profile.hosts[id].label, model }] : [];
    });
  });
  /** Which of several hosts is shown. */
  protected readonly hostId = signal('');
  protected readonly shownHost = computed(
    () => this.hosts().find(({ id }) => id === this.hostId()) ?? this.hosts().at(0),
  );
  protected readonly mark = computed(() =>
    (this.surfaces()[0]?.label ?? '').replace(/[^A-Z0-9]/g, ''),
  );
  protected readonly reach = computed(() => {
    const strips = this.shownHost()?.model.strips.length ?? 0;
    return `${this.bank() + 1}–${Math.min(strips, this.bank() + 8)} of ${strips}`;
  });

  constructor() {
    this.engine.start();
    effect(() => {
      const id = this.id();
      if (untracked(this.profile)?.id !== id)
        this.store.dispatch(documentActions.open({ kind: 'profile', id }));
    });
    effect(() => this.engine.setHoldOff(this.holdOff()));
    const stop = this.engine.paint((frame) => this.read(frame));
    inject(DestroyRef).onDestroy(stop);
  }

  private read(frame: Frame): void {
    this.bank.set(frame.head(Head.Bank));
    this.motorsFree.set(frame.head(Head.MotorsFree) === 1);
    this.readPages(frame);
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

  private readPages(frame: Frame): void {
    const now = this.pages();
    const read = frame.plan.links.flatMap((link, i) =>
      link.surface ? [[link.id, frame.page(i)] as const] : [],
    );
    if (read.some(([id, page]) => now[id] !== page)) this.pages.set(Object.fromEntries(read));
  }

  /** Turns a simulated surface's onboard page; a real one is turned at the device. */
  protected turnPage(id: string, by: number): void {
    const total = this.surfaces().find((s) => s.id === id)?.pages.length ?? 1;
    const value = ((this.pages()[id] ?? 0) + by + total) % total;
    this.engine.hand({ link: `surface:${id}`, control: '', does: 'page', value });
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
    this.editor.undo('profile');
  }

  protected redo(): void {
    this.editor.redo('profile');
  }

  protected rename(name: string): void {
    this.editor.rename('profile', name);
  }

  protected reopen(): void {
    this.store.dispatch(documentActions.open({ kind: 'profile', id: this.id() }));
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
      this.editor.edit('profile', (profile) =>
        unbind(profile, `Unbind ${control.control}`, control),
      );
  }
}
