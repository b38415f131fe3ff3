import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  linkedSignal,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Router } from '@angular/router';
import { Store } from '@ngrx/store';
import { Button } from 'primeng/button';
import { SelectButton } from 'primeng/selectbutton';
import {
  KIND_NAMES,
  CONTROL_KINDS,
  dropUntouched,
  findingsOf,
  moveBy,
  place,
  remove,
  resizeBy,
  type ControlKind,
} from '@rondo/core/surface';
import { inStrip, stripsOf } from '@rondo/core/propose';
import { EngineService } from '../../engine/engine.service';
import { documentActions } from '../../state/actions';
import { surfaceFeature } from '../../state/document';
import { DocumentEditor } from '../../state/documents';
import { IncomingFile } from '../../state/incoming-file';
import { keep, kept } from '../../state/kept';
import { GoTo } from '../../shared/ui/go-to';
import { DocumentHead } from '../../shared/ui/document-head';
import { SaveNotices } from '../../shared/ui/save-notices';
import { Shortcuts, undoKeys } from '../../shared/ui/shortcuts';
import { DeviceForm } from './device-form';
import { DrawingBoard } from './drawing-board';
import { SelectionPanel } from './selection-panel';
import { Sheets } from './sheets';
import { TeachStrip } from './teach-strip';
import { Choice, Switch } from '../../shared/ui/form';

const TABS = [
  { label: 'Draw', value: 'draw' },
  { label: 'Teach', value: 'teach' },
  { label: 'Sheets', value: 'sheets' },
  { label: 'Device', value: 'device' },
] as const;
type Tab = (typeof TABS)[number]['value'];

const NUDGE = 1;
const FAR_NUDGE = 10;
const HEX_KEY = 'rondo.hex';

/** One surface: drawn, taught by touch, its device described, its sheets printed. */
const ARROWS = ['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown'] as const;

/** Where an arrow key goes, in millimetres. */
function wayOf({ key, shiftKey }: KeyboardEvent): { dx: number; dy: number } {
  const far = shiftKey ? FAR_NUDGE : NUDGE;
  const dx = { ArrowLeft: -far, ArrowRight: far }[key] ?? 0;
  const dy = { ArrowUp: -far, ArrowDown: far }[key] ?? 0;
  return { dx, dy };
}

@Component({
  selector: 'rondo-workshop',
  imports: [
    GoTo,
    Button,
    Choice,
    DeviceForm,
    DocumentHead,
    DrawingBoard,
    FormsModule,
    SaveNotices,
    SelectButton,
    SelectionPanel,
    Sheets,
    Switch,
    TeachStrip,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './workshop.html',
  styleUrl: './workshop.css',
})
export class Workshop {
  /** Id of the surface, from the address. */
  readonly id = input.required<string>();
  /** Where it is wanted, from the address: `profile` for one that is being made. */
  readonly for = input<string>();

  /** What is to be seen of it first, from the address: `device`. */
  readonly part = input<string>();

  private readonly store = inject(Store);
  private readonly editor = inject(DocumentEditor);
  private readonly state = this.store.selectSignal(surfaceFeature.selectSurfaceState);
  protected readonly surface = computed(() => this.state().document);
  protected readonly message = computed(() => this.state().message);
  protected readonly tabs = [...TABS];
  protected readonly kinds = CONTROL_KINDS.map((kind) => ({ kind, name: KIND_NAMES[kind] }));
  private readonly incoming = inject(IncomingFile);
  protected readonly tab = linkedSignal<Tab>(() => {
    const part = untracked(this.incoming.part);
    if (part?.kind === 'palette' && part.into === this.id()) return 'device';
    if (this.part() === 'device') return 'device';
    return this.for() === 'profile' ? 'teach' : 'draw';
  });
  protected readonly selected = signal<readonly string[]>([]);
  protected readonly page = signal(0);
  protected readonly hex = signal(kept(HEX_KEY) === 'yes');
  protected readonly showsStrips = signal(false);
  protected readonly strips = computed((): ReadonlyMap<string, number> => {
    const surface = this.surface();
    return surface ? stripsOf(surface) : new Map<string, number>();
  });
  protected readonly stripCount = computed(() => new Set(this.strips().values()).size);
  protected readonly waiting = signal<string | null>(null);
  protected readonly taught = signal<ReadonlySet<string>>(new Set());
  protected readonly none: ReadonlySet<string> = new Set();
  protected readonly pickedToTeach = signal<string | null>(null);
  private readonly panel = viewChild(SelectionPanel);

  protected readonly pageChoices = computed(() =>
    this.pages().map((label, value) => ({ value, label })),
  );
  protected readonly pages = computed(() => {
    const surface = this.surface();
    return [
      surface?.firstPage?.label ?? 'First page',
      ...(surface?.pages ?? []).map((p) => p.label),
    ];
  });
  protected readonly findings = computed(() => {
    const surface = this.surface();
    return surface ? findingsOf(surface) : [];
  });
  protected readonly amiss = computed(
    () =>
      new Set(
        this.findings()
          .filter(({ kind }) => kind !== 'noMessage')
          .flatMap(({ controls }) => controls),
      ),
  );

  private readonly router = inject(Router);

  /** To the profile that is being made; what was not touched of an unknown device is left out. */
  protected backToProfile(): void {
    this.editor.edit('surface', dropUntouched);
    void this.router.navigate(['/profiles/new'], { queryParams: { taught: this.id() } });
  }

  constructor() {
    this.addKeys();
    inject(EngineService).start();
    effect(() => {
      const id = this.id();
      if (untracked(this.surface)?.id !== id)
        this.store.dispatch(documentActions.open({ kind: 'surface', id }));
    });
    effect(() => {
      // What is no longer there cannot stay selected.
      const ids = new Set(this.surface()?.controls.map(({ id }) => id));
      const selected = untracked(this.selected);
      const left = selected.filter((id) => ids.has(id));
      if (left.length !== selected.length) this.selected.set(left);
      const last = this.surface()?.pages.length ?? 0;
      if (untracked(this.page) > last) this.page.set(last);
    });
  }

  protected reopen(): void {
    this.store.dispatch(documentActions.open({ kind: 'surface', id: this.id() }));
  }

  protected undo(): void {
    this.editor.undo('surface');
  }

  protected redo(): void {
    this.editor.redo('surface');
  }

  protected setHex(on: boolean): void {
    this.hex.set(on);
    keep(HEX_KEY, on ? 'yes' : 'no');
  }

  /** Places a control where there is room: right of the last one, else at the top left. */
  protected place(kind: ControlKind): void {
    const surface = this.surface();
    if (!surface) return;
    const last = surface.controls.at(-1);
    const beside = last ? last.x + last.width + 6 : 10;
    const fits = last !== undefined && beside + last.width <= surface.width;
    const [x, y] = fits ? [beside, last.y] : [10, last ? last.y + last.height + 12 : 10];
    const next = this.editor.edit('surface', (now) => place(now, kind, KIND_NAMES[kind], x, y));
    const placed = next?.controls.at(-1);
    if (placed) this.selected.set([placed.id]);
  }

  protected move({ dx, dy }: { dx: number; dy: number }): void {
    this.editor.edit('surface', (surface) => moveBy(surface, this.selected(), dx, dy));
  }

  protected resize({ dx, dy }: { dx: number; dy: number }): void {
    this.editor.edit('surface', (surface) => resizeBy(surface, this.selected(), dx, dy));
  }

  protected intoStrip(strip: number | null): void {
    this.editor.edit('surface', (surface) => inStrip(surface, this.selected(), strip));
  }

  protected pick(ids: readonly string[]): void {
    this.selected.set(ids);
    if (this.tab() === 'teach') this.pickedToTeach.set(ids[0] ?? null);
  }

  private addKeys(): void {
    const draws = () => this.tab() === 'draw';
    const hasSome = () => draws() && this.selected().length > 0;
    inject(Shortcuts).add('Surfaces', [
      ...undoKeys(
        () => this.undo(),
        () => this.redo(),
      ),
      {
        keys: ARROWS.flatMap((key) => [key, `Shift+${key}`]),
        shown: 'Arrows',
        does: 'Nudge what is selected; Shift further',
        when: hasSome,
        run: (event) => this.move(wayOf(event)),
      },
      {
        keys: ARROWS.flatMap((key) => [`Alt+${key}`, `Alt+Shift+${key}`]),
        shown: 'Alt Arrows',
        does: 'Resize what is selected; Shift further',
        when: hasSome,
        run: (event) => this.resize(wayOf(event)),
      },
      {
        keys: ['$mod+a'],
        shown: 'Ctrl A',
        does: 'Select all',
        when: draws,
        run: () => this.selected.set((this.surface()?.controls ?? []).map(({ id }) => id)),
      },
      {
        keys: ['n'],
        shown: 'N',
        does: 'Duplicate as a numbered run',
        when: hasSome,
        run: () => this.panel()?.startRun(),
      },
      {
        keys: ['Escape'],
        shown: 'Esc',
        does: 'Select nothing',
        when: hasSome,
        run: () => this.selected.set([]),
      },
      {
        keys: ['Delete', 'Backspace'],
        shown: 'Delete',
        does: 'Delete what is selected',
        when: hasSome,
        run: () => this.remove(),
      },
    ]);
  }

  protected remove(): void {
    if (this.selected().length > 0)
      this.editor.edit('surface', (surface) => remove(surface, this.selected()));
  }
}
