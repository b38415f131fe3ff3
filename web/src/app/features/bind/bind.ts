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
  linkedSignal,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { Store } from '@ngrx/store';
import { Button } from 'primeng/button';
import { Popover } from 'primeng/popover';
import { bindingsOf, bracketOf, type ControlRef } from '@rondo/core/profile';
import { EngineService } from '../../engine/engine.service';
import {
  oscStandingOf,
  standingOf,
  type PortStanding,
  type PortsNow,
} from '../../engine/port-standing';
import { Head, PartField, SlotField, type Frame } from '../../engine/frame';
import { InputMode } from '@rondo/core/round';
import { placeText } from '@rondo/core/surface';
import { documentActions, selectionActions } from '../../state/actions';
import { profileFeature } from '../../state/document';
import { DocumentEditor } from '../../state/documents';
import { IncomingFile } from '../../state/incoming-file';
import { rememberUsed } from '../../state/last-used';
import { LibraryService } from '../../state/library';
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

/** Surfaces stand side by side up to this width, in their heights. */
const WIDEST_ROW = 2.6;

/** A control selected by touch stays so for this long, µs, whatever else moves. */
const STAY = 250_000;

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
  providers: [Workbench, OwnCopy],
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
  private readonly store = inject(Store);
  private readonly app = inject(ApplicationRef);
  private readonly editor = inject(DocumentEditor);
  private readonly library = inject(LibraryService);
  protected readonly profile = this.store.selectSignal(profileFeature.selectDocument);
  protected readonly message = this.store.selectSignal(profileFeature.selectMessage);
  protected readonly selected = this.store.selectSignal(selectionFeature.selectControl);
  protected readonly locked = this.store.selectSignal(selectionFeature.selectLocked);
  protected readonly holdOff = this.store.selectSignal(selectionFeature.selectHoldOff);

  protected readonly finderOpen = signal(false);
  private beforeFinder: HTMLElement | SVGElement | null = null;
  /** All bindings as lines, in place of the drawing. */
  protected readonly sheetOpen = signal(false);
  protected readonly onlyBroken = signal(false);
  /** What was touched last, and its value: always in sight. */
  protected readonly readout = signal('');
  /** Chains of causes that were cut, as seen last. */
  protected readonly cut = signal('');
  private cutSeen = 0;
  protected readonly broken = computed(() => {
    this.profile();
    return this.engine.plan?.broken.length ?? 0;
  });
  protected readonly hasFocus = computed(() =>
    this.hosts().some(({ model }) => model.focus !== undefined),
  );
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
  /** Whether all surfaces side by side would be too small to read. */
  protected readonly crowded = computed(() => {
    const widths = this.surfaces().map(({ surface }) => surface.width / surface.height);
    return widths.length > 1 && widths.reduce((sum, width) => sum + width, 0) > WIDEST_ROW;
  });
  /** Where they are crowded, the one that is shown; empty for all. It goes by what is touched. */
  protected readonly shownSurface = linkedSignal<
    { profile: string; order: readonly string[] },
    string
  >({
    source: () => ({
      profile: this.profile()?.id ?? '',
      order: this.surfaces().map(({ id }) => id),
    }),
    computation: ({ profile, order }, before) => {
      const first = order.at(0) ?? '';
      if (!before || before.source.profile !== profile || before.source.order.length === 0)
        return first;
      // One that has just been added is looked at.
      const added = order.find((id) => !before.source.order.includes(id));
      return added ?? (before.value === '' || order.includes(before.value) ? before.value : first);
    },
  });
  protected readonly drawn = computed(() => {
    const all = this.surfaces();
    const one = this.crowded() ? all.filter(({ id }) => id === this.shownSurface()) : [];
    return one.length > 0 ? one : all;
  });
  /** Whether surfaces stand one over the other. */
  protected readonly stacked = computed(() => this.crowded() && this.drawn().length > 1);
  /** Onboard page that each surface is on, from 0. */
  protected readonly pages = signal<Readonly<Record<string, number>>>({});
  protected readonly hosts = computed(() => {
    const profile = this.profile();
    return (profile?.hostOrder ?? []).flatMap((id) => {
      const model = profile && this.library.hostOf(profile, id);
      return model ? [{ id, label: profile.hosts[id].label, model }] : [];
    });
  });
  protected readonly hostChoices = computed(() =>
    this.hosts().map(({ id, label }) => ({ value: id, label })),
  );
  private wasHeldOff: boolean | null = null;
  private readonly portsBox = viewChild<Popover>('ports');
  private readonly portsNow = computed<PortsNow>(() => {
    const { midi } = this.engine;
    return {
      state: midi.state(),
      inputs: midi.inputs(),
      outputs: midi.outputs(),
      trouble: midi.trouble(),
    };
  });
  /** What keeps links from working, each once with all whom it concerns. */
  protected readonly portFaults = computed(() => {
    // Ports are the other window's where that plays.
    if (this.engine.workers.home() === 'elsewhere') return [];
    const faults = new Map<string, { whom: string[]; mend: PortStanding['mend'] }>();
    const links = [
      ...this.surfaces().map(({ id, label }) => ({ link: `surface:${id}`, label })),
      ...this.hosts().map(({ id, label }) => ({ link: `host:${id}`, label })),
    ];
    for (const { link, label } of links) {
      const { fault, mend } = this.standing(link);
      if (fault === '') continue;
      const known = faults.get(fault) ?? { whom: [], mend };
      known.whom.push(label);
      faults.set(fault, known);
    }
    return [...faults].map(([fault, { whom, mend }]) => ({ fault, whom: whom.join(', '), mend }));
  });
  /** Which of several hosts is shown. */
  protected readonly shownHost = computed(
    () => this.hosts().find(({ id }) => id === this.bench.hostShown()) ?? this.hosts().at(0),
  );
  /** Which strips of the host that is shown each surface reaches, by what is bound: also what only sends. */
  protected readonly reaches = computed(() => {
    const profile = this.profile();
    const stack = this.bench.stack();
    const host = this.shownHost();
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
    const strips = this.shownHost()?.model.strips.length ?? 0;
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
    effect(() => this.engine.setHoldOff(this.holdOff()));
    // While something is being chosen, touches show and do not act.
    effect(() =>
      this.engine.setChoosing(
        this.bench.choosing() > 0 ||
          this.bench.mode() === 'pairs' ||
          this.bench.pointed() !== null ||
          this.bench.pairing() ||
          this.bench.gathered() !== null ||
          this.bench.run() !== null,
      ),
    );
    // What the last binding did is told until another control is taken.
    effect(() => {
      const selected = this.selected();
      const result = untracked(this.bench.result);
      if (result && selected && result.control.control !== selected.control)
        this.bench.closeResult();
    });
    inject(DestroyRef).onDestroy(() => this.engine.setChoosing(false));
    const stop = this.engine.frames.paint((frame) => this.read(frame));
    inject(DestroyRef).onDestroy(stop);
  }

  /** A key of a surface may have held touches off, or let them through again. */
  private followHoldOff(frame: Frame): void {
    const on = frame.head(Head.HoldOff) === 1;
    const before = this.wasHeldOff;
    this.wasHeldOff = on;
    if (before !== null && before !== on && on !== this.holdOff()) this.setHoldOff(on);
  }

  private read(frame: Frame): void {
    this.followHoldOff(frame);
    this.bank.set(frame.head(Head.Bank));
    this.motorsFree.set(frame.head(Head.MotorsFree) === 1);
    this.readPages(frame);
    this.readLayers(frame);
    this.readReadout(frame);
    const at = frame.head(Head.InHandAt);
    const before = this.inHandAt;
    this.inHandAt = at;
    if (before === null || at === before) return;
    if (this.bench.pointed()) {
      this.bindPointed(frame);
      return;
    }
    if (this.bench.gathered()) {
      const { link, control } = frame.plan.parts[frame.head(Head.InHand)];
      this.bench.gather(frame.plan.links[link].id, control.id);
      return;
    }
    if (this.bench.run()) {
      const { link, control } = frame.plan.parts[frame.head(Head.InHand)];
      this.bench.takeIntoRun(frame.plan.links[link].id, control.id);
      return;
    }
    if (this.locked() || this.bench.choosing() > 0) return;
    // Where many controls move at once, the selection does not flicker between them.
    if (at - this.pickedAt < STAY && at >= this.pickedAt) return;
    const touched = frame.plan.parts[frame.head(Head.InHand)];
    const { id } = frame.plan.links[touched.link];
    const part = touched.part === 'touch' ? 'value' : touched.part;
    const control = { surface: id, control: touched.control.id, part };
    if (part === 'push' && this.isOnlyClicked(control)) {
      this.bench.touched.set(control);
      return;
    }
    // What is told late of the control in hand, its release too, closes nothing that was opened since.
    if (this.isInHand(control)) this.bench.touched.set(control);
    else if (this.pick(control)) this.pickedAt = at;
  }

  private isInHand({ surface, control, part }: ControlRef): boolean {
    const now = this.selected();
    return now?.surface === surface && now.control === control && now.part === part;
  }

  /**
   * Whether the press of a drawn control was only the click that took it in hand: nothing is bound to the press, and what
   * is taken hold of is the turn. A real one that is pressed is meant so.
   */
  private isOnlyClicked(control: ControlRef): boolean {
    const profile = this.profile();
    return (
      profile !== null &&
      this.isInHand({ ...control, part: 'value' }) &&
      !this.engine.ports.choices()[`surface:${control.surface}`]?.real &&
      bindingsOf(profile, control).length === 0
    );
  }

  /** The control that is touched takes the function that was pointed at. */
  private bindPointed(frame: Frame): void {
    const touched = frame.plan.parts[frame.head(Head.InHand)];
    const pointed = this.bench.pointed();
    if (!pointed) return;
    const ref: ControlRef = {
      surface: frame.plan.links[touched.link].id,
      control: touched.control.id,
      // Who lays a finger on what moves means that.
      part: touched.part === 'touch' ? 'value' : touched.part,
    };
    this.bench.bindPointed(ref);
    this.pick(ref);
  }

  /** The control that was touched last takes it. */
  protected takePointed(): void {
    const selected = this.selected();
    if (selected) this.bench.bindPointed(selected);
  }

  private readLayers(frame: Frame): void {
    const now = this.bench.on();
    const on = frame.plan.layers.filter(({ slot }) => frame.slot(slot, SlotField.Value) >= 0.5);
    if (on.length !== now.size || on.some(({ id }) => !now.has(id)))
      this.bench.on.set(new Set(on.map(({ id }) => id)));
  }

  private readReadout(frame: Frame): void {
    const { plan } = frame;
    const cut = frame.head(Head.Cut);
    if (cut !== this.cutSeen) {
      this.cutSeen = cut;
      const id = plan.bindings[frame.head(Head.LastCut)]?.id;
      const cause = id === undefined ? undefined : this.profile()?.bindings[id]?.cause;
      const profile = this.profile();
      if (cause && profile && cut > 0)
        this.cut.set(
          `A change came round to itself and was stopped: when ${this.bench.namesOf(profile).cause(cause)}. See the sheet.`,
        );
    }
    const part = frame.head(Head.InHand);
    if (part < 0) return;
    const { control, part: what, link, patterns, moves } = plan.parts[part];
    const pattern = patterns.find((one) => one !== undefined);
    // A touch says which control it is, and its value follows.
    if (what === 'touch') return;
    const raw = frame.part(part, PartField.Raw);
    const value =
      moves === InputMode.Absolute && pattern
        ? placeText(pattern, raw)
        : moves === InputMode.Relative
          ? `${raw > 0 ? '+' : '−'}${Math.abs(raw)}`
          : raw > 0
            ? 'down'
            : 'up';
    const gap = frame.part(part, PartField.Gap);
    const away = gap === 0 ? '' : `, ${Math.max(1, Math.round(Math.abs(gap) * 100))} % away`;
    const several = plan.links.filter(({ kind }) => kind === 'surface').length > 1;
    const text = `${control.label}${several ? `, ${plan.links[link].label}` : ''}: ${value}${away}`;
    if (text !== this.readout()) this.readout.set(text);
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
    this.bench.touched.set(control);
    // What is being chosen is for the control that was in hand when that began.
    if (this.bench.choosing() > 0) return false;
    if (this.bench.gathered()) {
      this.bench.gather(control.surface, control.control);
      return false;
    }
    if (this.bench.run()) {
      this.bench.takeIntoRun(control.surface, control.control);
      return false;
    }
    const same = this.isInHand(control);
    if (!same) this.store.dispatch(selectionActions.select({ control }));
    this.bench.causeId.set(null);
    this.bench.showingId.set(null);
    if (this.shownSurface() !== '' && control.surface !== this.shownSurface())
      this.shownSurface.set(control.surface);
    return !same;
  }

  protected isReal(link: string): boolean {
    return this.engine.ports.choices()[link]?.real ?? false;
  }

  /** How a link stands with its ports. */
  protected standing(link: string): PortStanding {
    const choice = this.engine.ports.choiceOf(link);
    return choice.net
      ? oscStandingOf(choice, this.engine.net.standing()[link])
      : standingOf(choice, this.portsNow());
  }

  protected openPorts(event: Event): void {
    this.portsBox()?.show(event, event.currentTarget);
  }

  protected allowPorts(): void {
    void this.engine.midi.ask();
  }

  protected setHoldOff(on: boolean): void {
    this.store.dispatch(selectionActions.holdOff({ on }));
  }

  protected setLocked(locked: boolean): void {
    this.store.dispatch(selectionActions.lock({ locked }));
  }

  protected reopen(): void {
    this.store.dispatch(documentActions.open({ kind: 'profile', id: this.id() }));
  }

  private addKeys(): void {
    inject(Shortcuts).add('Bind', [
      ...undoKeys(
        () => this.editor.undo('profile'),
        () => this.editor.redo('profile'),
      ),
      {
        keys: ['/', 'Shift+/'],
        shown: '/',
        does: 'Find a function for the control in hand, or first the function and then its control',
        run: () => this.openFinder(true),
      },
      {
        keys: ['v'],
        shown: 'V',
        does: 'Versions: name what is saved now, look at what was, bring it back',
        run: () => this.bench.panel.set(this.bench.panel() === 'versions' ? 'none' : 'versions'),
      },
      {
        keys: ['u'],
        shown: 'U',
        does: 'Set-ups: ports, layers, flags and bank for an occasion',
        run: () => this.bench.panel.set(this.bench.panel() === 'setUps' ? 'none' : 'setUps'),
      },
      {
        keys: ['h'],
        shown: 'H',
        does: 'Hold off: touches select and show, nothing reaches the host',
        run: () => this.setHoldOff(!this.holdOff()),
      },
      {
        keys: ['l'],
        shown: 'L',
        does: 'Lock the selection',
        run: () => this.setLocked(!this.locked()),
      },
      {
        keys: ['p'],
        shown: 'P',
        does: 'Point at a function in the host, then touch a control',
        run: () => this.toggleMode('point'),
      },
      {
        keys: ['r'],
        shown: 'R',
        does: 'To the round with the keyboard, and from there back to the drawing',
        when: () => !this.sheetOpen(),
        run: () => this.goAcross(),
      },
      {
        keys: ['s'],
        shown: 'S',
        does: 'The sheet: all bindings as lines',
        run: () => this.sheetOpen.update((open) => !open),
      },
      {
        keys: ['Delete', 'Backspace'],
        shown: 'Delete',
        does: 'Unbind the gesture in hand',
        // Where something else is open, that is what is looked at.
        when: () => !this.sheetOpen() && this.bench.panel() === 'none',
        run: () => this.bench.unbind(),
      },
      { keys: ['Escape'], shown: 'Esc', does: 'Close what is open', run: () => this.escape() },
      {
        keys: [],
        shown: 'Tab',
        does: 'To the drawing, the host’s picture, and what is beside them',
      },
      { keys: [], shown: 'Arrows', does: 'Go between the controls of a drawing' },
      {
        keys: [],
        shown: 'Enter',
        does: 'Take hold of a control: then arrows move it, Shift for one step, and Esc lets go',
      },
      { keys: [], shown: 'Space', does: 'Press the key that has focus' },
      {
        keys: [],
        shown: 'Alt + click',
        does: 'Hold a control while another is moved; a click on it, or Esc, lets go',
      },
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
    else if (this.bench.pointed()) this.bench.pointed.set(null);
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
    this.bench.pointed.set(null);
    this.bench.mode.update((now) => (now === mode ? 'hand' : mode));
    if (this.bench.mode() !== 'hand') {
      this.sheetOpen.set(false);
      this.bench.panel.set('none');
    }
  }
}
