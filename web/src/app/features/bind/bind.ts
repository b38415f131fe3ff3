import {
  ApplicationRef,
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  computed,
  effect,
  inject,
  input,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { Store } from '@ngrx/store';
import { Button } from 'primeng/button';
import { Popover } from 'primeng/popover';
import { bracketOf } from '@rondo/core/profile';
import { EngineService } from '../../engine/engine.service';
import { Head, SlotField, type Frame } from '../../engine/frame';
import { documentActions, selectionActions } from '../../state/actions';
import { profileFeature } from '../../state/document';
import { DocumentEditor } from '../../state/documents';
import { IncomingFile } from '../../state/incoming-file';
import { rememberUsed } from '../../state/last-used';
import { DocumentHead } from '../../shared/ui/document-head';
import { SaveNotices } from '../../shared/ui/save-notices';
import { selectionFeature } from '../../state/selection';
import { GoTo } from '../../shared/ui/go-to';
import { Shortcuts, undoKeys } from '../../shared/ui/shortcuts';
import { ActionsPanel } from './panels/actions-panel';
import { FocusPanel } from './panels/focus-panel';
import { HostPicture } from './pictures/host-picture';
import { LayerBar } from './panels/layer-bar';
import { LayersPanel } from './panels/layers-panel';
import { Pairs } from './round/pairs';
import { Ports } from '../../shared/ui/port-choices';
import { LightsStrip } from './lights/lights-strip';
import { ProposePanel } from './propose/propose-panel';
import { RepeatPanel } from './panels/repeat-panel';
import { ReturnsPanel } from './panels/returns-panel';
import { Round } from './round/round';
import { ShapePanel } from './panels/shape-panel';
import { Sheet } from './sheet/sheet';
import { SurfaceDrawing } from './desk/surface-drawing';
import { StandInPanel } from './panels/stand-in-panel';
import { SurfacePicker } from './desk/surface-picker';
import { SetUps } from '../../state/set-ups';
import { SetUpsPanel } from './panels/set-ups-panel';
import { TourCard } from './tour-card';
import { UsualPanel } from './panels/usual-panel';
import { VersionsPanel } from './panels/versions-panel';
import { WhenPanel } from './panels/when-panel';
import { Over } from '../../shared/ui/over';
import { Zoom, ZoomKeys } from '../../shared/ui/zoom';
import { windowOf } from './round/bank-window';
import { OwnCopy } from './own-copy';
import { bindKeys } from './bind-keys';
import { HostsShown } from './pictures/hosts-shown';
import { LinkStandings } from './link-standings';
import { Readout } from './readout';
import { SurfacesShown } from './desk/surfaces-shown';
import { TakenInHand } from './taken-in-hand';
import { NextTouch } from './next-touch';
import { LastBinding } from './last-binding';
import { StandIns } from './stand-ins';
import { Workbench, type Mode } from './workbench';
import { Choice } from '../../shared/ui/form';

/** What has the keyboard, where it came there by keyboard. */
function keyboardPlace(): HTMLElement | SVGElement | null {
  const { activeElement: at } = document;
  const isPlace = at instanceof HTMLElement || at instanceof SVGElement;
  return isPlace && at !== document.body && at.matches(':focus-visible') ? at : null;
}

/** What Tab stops at. */
const STOPS = 'button:not([disabled]), a[href], input, [tabindex="0"]';

/** The desk, the host beside it, and the round of the control in hand. Home of the work. */
@Component({
  selector: 'rondo-bind',
  imports: [
    ActionsPanel,
    Button,
    Choice,
    DocumentHead,
    FocusPanel,
    GoTo,
    HostPicture,
    LayerBar,
    LayersPanel,
    LightsStrip,
    Over,
    Pairs,
    Popover,
    Ports,
    ProposePanel,
    RepeatPanel,
    ReturnsPanel,
    Round,
    SaveNotices,
    ShapePanel,
    Sheet,
    StandInPanel,
    SurfaceDrawing,
    SurfacePicker,
    SetUpsPanel,
    TourCard,
    UsualPanel,
    VersionsPanel,
    WhenPanel,
    Zoom,
    ZoomKeys,
  ],
  providers: [
    Workbench,
    LastBinding,
    NextTouch,
    StandIns,
    OwnCopy,
    Readout,
    SurfacesShown,
    HostsShown,
    LinkStandings,
    TakenInHand,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './bind.html',
  styleUrl: './bind.css',
})
export class Bind {
  /** Id of the profile, from the address. */
  readonly id = input.required<string>();
  /** Opened anew with surfaces and hosts: a proposal is shown at once. */
  readonly propose = input<string>();
  /** Which half is worked on: what goes out, or what comes back. */
  readonly half = input<'forward' | 'return'>('forward');

  private readonly screen = inject<ElementRef<HTMLElement>>(ElementRef);
  protected readonly engine = inject(EngineService);
  protected readonly bench = inject(Workbench);
  protected readonly next = inject(NextTouch);
  private readonly last = inject(LastBinding);
  private readonly store = inject(Store);
  private readonly app = inject(ApplicationRef);
  private readonly editor = inject(DocumentEditor);
  protected readonly profile = this.store.selectSignal(profileFeature.selectDocument);
  protected readonly message = this.store.selectSignal(profileFeature.selectMessage);
  protected readonly selected = this.store.selectSignal(selectionFeature.selectControl);
  protected readonly locked = this.store.selectSignal(selectionFeature.selectLocked);
  protected readonly holdOff = this.engine.holdOff;

  protected readonly finderOpen = signal(false);
  private beforeFinder: HTMLElement | SVGElement | null = null;
  /** All bindings as lines, in place of the drawing. */
  protected readonly sheetOpen = signal(false);
  protected readonly onlyBroken = signal(false);
  private readonly portsBox = viewChild<Popover>('ports');
  protected readonly readout = inject(Readout);
  protected readonly surfaces = inject(SurfacesShown);
  protected readonly hosts = inject(HostsShown);
  protected readonly standings = inject(LinkStandings);
  protected readonly inHand = inject(TakenInHand);
  protected readonly broken = computed(() => {
    return this.bench.broken().length;
  });
  /** What is so where another window plays. */
  protected readonly playsElsewhere = computed(() => this.engine.workers.home() === 'elsewhere');
  protected readonly elsewhere = computed(() => {
    const there = this.engine.otherProfile();
    return there
      ? `Rondo plays “${there.name}” in another window. What you edit here is kept; open this profile there to play it, or close the other window.`
      : 'Rondo plays in another window. What you edit, hold off, turn on or choose here is done there; what is drawn here stands still and cannot be played. Close the other window to play here.';
  });
  protected readonly hasFocus = computed(() =>
    this.hosts.all().some(({ model }) => model.focus !== undefined),
  );
  protected readonly bank = signal(0);
  protected readonly motorsFree = signal(false);
  /** Which strips of the host that is shown each surface reaches, by what is bound: also what only sends. */
  protected readonly reaches = computed(() => {
    const profile = this.profile();
    const stack = this.bench.stack();
    const host = this.hosts.shown();
    if (!profile || !stack || !host) return [];
    return profile.surfaceOrder.map((id) => ({
      ...bracketOf(profile, id),
      label: profile.surfaces[id].label,
      strips: stack.reach(id, host.id, this.bank()),
    }));
  });
  /** What links do that is in the way. */
  protected readonly bad = computed(() => this.engine.notices().filter(({ bad }) => bad));
  /** The strips within reach; nothing to tell of a host that has none. */
  protected readonly reach = computed(() => {
    const strips = this.hosts.shown()?.model.strips.length ?? 0;
    if (strips === 0) return '';
    return `${this.bank() + 1}–${Math.min(strips, this.bank() + this.width())} of ${strips}`;
  });
  /** Strips of the window, wider with an extender. */
  protected readonly width = computed(() => {
    const profile = this.profile();
    return profile ? windowOf(this.bench.namesOf(profile)) : 0;
  });

  /** A control may ask for one, and the finder offers them. */
  protected readonly setUps = inject(SetUps);

  private readonly incoming = inject(IncomingFile);

  constructor() {
    this.addKeys();
    void this.setUps.load();
    this.engine.start();
    effect(() => {
      const id = this.id();
      rememberUsed(id);
      if (untracked(this.profile)?.id !== id)
        this.store.dispatch(documentActions.open({ kind: 'profile', id }));
    });
    effect(() => {
      const part = untracked(this.incoming.part);
      const isLayer = part?.kind === 'layer' && part.into === this.id();
      const first = this.propose() ? 'propose' : isLayer ? 'layers' : 'none';
      this.bench.panel.set(this.half() === 'return' ? 'returns' : first);
    });
    // While something is being chosen, touches show and do not act.
    let isChoosing = false;
    effect(() => {
      const isAwaited = this.next.isAwaited();
      if (isAwaited !== isChoosing) untracked(() => this.engine.setChoosing(isAwaited));
      isChoosing = isAwaited;
    });
    // What the last binding did is told until another control is taken.
    effect(() => {
      const selected = this.selected();
      const result = untracked(this.last.result);
      if (result && selected && result.control.control !== selected.control) this.last.close();
    });
    inject(DestroyRef).onDestroy(() => {
      if (isChoosing) this.engine.setChoosing(false);
    });
    const stop = this.engine.frames.paint((frame) => this.read(frame));
    inject(DestroyRef).onDestroy(stop);
  }

  private read(frame: Frame): void {
    this.bank.set(frame.head(Head.Bank));
    this.motorsFree.set(frame.head(Head.MotorsFree) === 1);
    this.surfaces.read(frame);
    this.readLayers(frame);
    this.readout.read(frame);
    this.inHand.read(frame);
  }

  private readLayers(frame: Frame): void {
    const now = this.bench.on();
    const on = frame.plan.layers.filter(({ slot }) => frame.slot(slot, SlotField.Value) >= 0.5);
    if (on.length !== now.size || on.some(({ id }) => !now.has(id)))
      this.bench.on.set(new Set(on.map(({ id }) => id)));
  }

  protected openPorts(event: Event): void {
    this.portsBox()?.show(event, event.currentTarget);
  }

  protected allowPorts(): void {
    void this.engine.midi.ask();
  }

  protected setHoldOff(on: boolean): void {
    this.engine.setHoldOff(on);
  }

  protected setLocked(locked: boolean): void {
    this.store.dispatch(selectionActions.lock({ locked }));
  }

  protected reopen(): void {
    this.store.dispatch(documentActions.open({ kind: 'profile', id: this.id() }));
  }

  private addKeys(): void {
    const { editor, bench } = this;
    inject(Shortcuts).add('Bind', [
      ...undoKeys(
        () => editor.undo('profile'),
        () => editor.redo('profile'),
      ),
      ...bindKeys({
        find: () => this.openFinder(true),
        toggle: (panel) => bench.panel.update((open) => (open === panel ? 'none' : panel)),
        holdOff: () => this.setHoldOff(!this.holdOff()),
        lock: () => this.setLocked(!this.locked()),
        point: () => this.toggleMode('point'),
        goAcross: () => this.goAcross(),
        sheet: () => this.sheetOpen.update((open) => !open),
        unbind: () => bench.unbind(),
        escape: () => this.escape(),
        isDrawn: () => !this.sheetOpen(),
        isBare: () => !this.sheetOpen() && bench.panel() === 'none',
      }),
    ]);
  }

  /** The keyboard goes from wherever it is to the round, past the host's picture, and from the round to the drawing. */
  private goAcross(): void {
    const screen = this.screen.nativeElement;
    const round = screen.querySelector('section.round');
    const to = round?.contains(document.activeElement)
      ? screen.querySelector<SVGElement>('rondo-surface-drawing [tabindex="0"]')
      : round?.querySelector<HTMLElement>(STOPS);
    to?.focus();
  }

  /** Opens or closes the finder at once: what is typed next is never taken for keys of the page. */
  protected openFinder(open: boolean): void {
    if (open) this.beforeFinder = keyboardPlace();
    this.finderOpen.set(open);
    this.app.tick();
    // Who works by keyboard goes on where they were; hands that came by mouse or touch have no place to go back to.
    if (!open && document.activeElement === document.body) this.beforeFinder?.focus();
  }

  /** Closes what is open, the innermost first. */
  private escape(): void {
    if (this.finderOpen()) this.openFinder(false);
    else if (this.next.pointed()) this.next.pointed.set(null);
    else if (this.bench.mode() !== 'hand') this.bench.mode.set('hand');
    else if (this.bench.panel() !== 'none') this.bench.panel.set('none');
    else this.bench.chosenLayer.set(null);
  }

  /** What is broken, and nothing else, until somebody asks for more. */
  protected showBroken(): void {
    this.onlyBroken.set(true);
    this.sheetOpen.set(true);
  }

  protected toggleMode(mode: Mode): void {
    this.next.pointed.set(null);
    this.bench.mode.update((now) => (now === mode ? 'hand' : mode));
    if (this.bench.mode() !== 'hand') {
      this.sheetOpen.set(false);
      this.bench.panel.set('none');
    }
  }
}
