import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  computed,
  inject,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { LAST_STRIP } from '@rondo/core/propose';
import { KIND_NAMES, mainPart, type Control, type Surface } from '@rondo/core/surface';
import { ControlShape } from '../../shared/panel/control-shape';
import { fitName, inLayers, moverAt, unitOf } from '../../shared/panel/geometry';
import { leastLetter } from '../../shared/panel/legible';
import { MoverShape } from '../../shared/panel/mover-shape';

const MARGIN = 8;
const GRID = 5;
const HANDLE = 5;
/** Width of the place for a new strip, and how far strips go beyond their controls, in millimetres. */
const NEW_STRIP = 16;
const GAP = 2;

/** A strip as it is drawn: a column around its controls. */
interface Column {
  readonly at: number;
  readonly isNew: boolean;
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

type Work = 'move' | 'resize' | 'band';
interface Drag {
  readonly work: Work;
  readonly x: number;
  readonly y: number;
  readonly dx: number;
  readonly dy: number;
  /** One of several that are selected: let go in its place it is selected alone. */
  readonly one: string | null;
  /** Strip that the pointer is on, where controls are dragged into strips. */
  readonly onto: number | null;
  /** Selection that a band adds to. */
  readonly before: readonly string[];
}

/** The panel on a millimetre grid: controls are selected, moved and resized on it. */
@Component({
  selector: 'rondo-drawing-board',
  imports: [ControlShape, MoverShape],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './drawing-board.html',
  styleUrl: './drawing-board.css',
})
export class DrawingBoard {
  readonly surface = input.required<Surface>();
  readonly selected = input<readonly string[]>([]);
  /** Controls about which something is to be said. */
  readonly amiss = input<ReadonlySet<string>>(new Set<string>());
  readonly editable = input(true);
  /** Control that is waited for while teaching. */
  readonly waiting = input<string | null>(null);
  readonly taught = input<ReadonlySet<string>>(new Set<string>());
  /** Strip of each control, from 0, where they are shown: controls are dragged into them then and stay where they are. */
  readonly strips = input<ReadonlyMap<string, number> | null>(null);
  readonly stripped = output<number | null>();
  readonly selectedChange = output<readonly string[]>();
  readonly moved = output<{ dx: number; dy: number }>();
  readonly resized = output<{ dx: number; dy: number }>();

  protected readonly grid = GRID;
  protected readonly kinds = KIND_NAMES;
  protected readonly drag = signal<Drag | null>(null);
  protected readonly unit = computed(() => unitOf(this.surface()));
  protected readonly handle = HANDLE;
  private readonly sheet = viewChild.required<ElementRef<SVGSVGElement>>('sheet');
  private readonly host: HTMLElement = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;

  protected readonly controls = computed(() => inLayers(this.surface().controls));
  protected readonly chosen = computed(() => new Set(this.selected()));
  protected readonly selectedControls = computed(() =>
    this.surface().controls.filter(({ id }) => this.chosen().has(id)),
  );
  protected readonly grow = computed(() => {
    const drag = this.drag();
    return drag?.work === 'resize' ? { x: drag.dx, y: drag.dy } : { x: 0, y: 0 };
  });
  protected readonly band = computed(() => {
    const drag = this.drag();
    if (drag?.work !== 'band') return null;
    return {
      x: Math.min(drag.x, drag.x + drag.dx),
      y: Math.min(drag.y, drag.y + drag.dy),
      width: Math.abs(drag.dx),
      height: Math.abs(drag.dy),
    };
  });

  /** The panel and all that stands outside of it. */
  private readonly extent = computed(() => {
    const { width, height, controls } = this.surface();
    const left = Math.min(0, ...controls.map((c) => c.x)) - MARGIN;
    const top = Math.min(0, ...controls.map((c) => c.y)) - MARGIN;
    const news = this.strips() ? NEW_STRIP + GAP : 0;
    const right = Math.max(width, ...controls.map((c) => c.x + c.width)) + MARGIN + news;
    const bottom = Math.max(height, ...controls.map((c) => c.y + c.height)) + MARGIN;
    return { left, top, width: right - left, height: bottom - top };
  });
  protected readonly viewBox = computed(() => {
    const { left, top, width, height } = this.extent();
    return `${left} ${top} ${width} ${height}`;
  });
  private readonly least = leastLetter(() => this.extent());
  /** Letters of names, in millimetres. */
  protected readonly nameLetter = computed(() => Math.max(6.4 * this.unit(), this.least()));

  protected readonly columns = computed((): Column[] => {
    const strips = this.strips();
    if (!strips) return [];
    const { controls, width, height } = this.surface();
    const letter = this.nameLetter();
    const numbers = [...new Set(strips.values())].sort((a, b) => a - b);
    const columns = numbers.map((at) => {
      const own = controls.filter(({ id }) => strips.get(id) === at);
      const [x, y] = [Math.min(...own.map((c) => c.x)), Math.min(...own.map((c) => c.y))];
      const right = Math.max(...own.map((c) => c.x + c.width));
      const bottom = Math.max(...own.map((c) => c.y + c.height + this.nameRoom(c)));
      const top = y - letter * 1.3;
      return {
        at,
        isNew: false,
        x: x - GAP,
        y: top,
        width: right - x + 2 * GAP,
        height: bottom - top + GAP,
      };
    });
    const at = (numbers.at(-1) ?? -1) + 1;
    if (at > LAST_STRIP) return columns;
    return [...columns, { at, isNew: true, x: width + GAP, y: 0, width: NEW_STRIP, height }];
  });

  /** The strip at a place of the panel: the column that it is over, the nearest of those where several are. */
  private stripAt(x: number, y: number): number | null {
    const away = ({ y: top, height }: Column) => Math.max(top - y, y - top - height, 0);
    const over = this.columns().filter((one) => x >= one.x && x <= one.x + one.width);
    return over.sort((a, b) => away(a) - away(b)).at(0)?.at ?? null;
  }

  /** Height of the name under a control, where it has one there, in millimetres. */
  protected nameRoom(control: Control): number {
    return this.slides(control) ? this.nameLetter() * 1.2 : 0;
  }

  protected slides(control: Control): boolean {
    return mainPart(control.kind) === 'value';
  }

  protected legend(control: Control): string {
    if (this.slides(control) || control.kind === 'key') return '';
    const letter = this.letter(control);
    // What would stand out of its key is left to the name beside the drawing.
    if (letter > control.height * 0.95) return '';
    return fitName(control.legend ?? control.label, control.width, letter);
  }

  protected letter(control: Control): number {
    return Math.max(Math.min(7 * this.unit(), control.height * 0.7), this.least());
  }

  protected nameOf(control: Control): string {
    return fitName(control.label, control.width + 12 * this.unit(), this.nameLetter());
  }

  protected offset(control: Control): { x: number; y: number } {
    const drag = this.drag();
    return drag?.work === 'move' && this.chosen().has(control.id)
      ? { x: drag.dx, y: drag.dy }
      : { x: 0, y: 0 };
  }

  protected placeOf(control: Control): string {
    const { x, y } = this.offset(control);
    return `translate(${control.x + x} ${control.y + y})`;
  }

  protected moverOf(control: Control): string {
    const { x, y } = this.offset(control);
    return moverAt({ ...control, x: control.x + x, y: control.y + y }, 0.5, false);
  }

  private point(event: PointerEvent): { x: number; y: number } {
    const matrix = this.sheet().nativeElement.getScreenCTM();
    if (!matrix) return { x: 0, y: 0 };
    const { x, y } = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix.inverse());
    return { x, y };
  }

  protected onFocus(event: FocusEvent, id: string): void {
    if ((event.target as Element).matches(':focus-visible') && !this.drag())
      this.selectedChange.emit([id]);
  }

  protected onDown(event: PointerEvent): void {
    if (event.button !== 0) return;
    const target = event.target as Element;
    const id = target.closest('[data-id]')?.getAttribute('data-id') ?? null;
    const handle = target.getAttribute('data-handle');
    const { x, y } = this.point(event);
    const start = { x, y, dx: 0, dy: 0, one: null, onto: null, before: this.selected() };
    if (!this.editable()) {
      if (id) this.selectedChange.emit([id]);
      return;
    }
    this.sheet().nativeElement.setPointerCapture(event.pointerId);
    if (handle) this.drag.set({ ...start, work: 'resize' });
    else if (id) {
      const more = event.shiftKey || event.ctrlKey || event.metaKey;
      const has = this.chosen().has(id);
      if (more)
        this.selectedChange.emit(
          has ? this.selected().filter((other) => other !== id) : [...this.selected(), id],
        );
      else if (!has) this.selectedChange.emit([id]);
      if (!more || !has) this.drag.set({ ...start, work: 'move', one: !more && has ? id : null });
      this.host.querySelector<SVGGElement>(`[data-id="${id}"]`)?.focus({ preventScroll: true });
    } else {
      const before = event.shiftKey ? this.selected() : [];
      if (before.length === 0) this.selectedChange.emit([]);
      this.drag.set({ ...start, before, work: 'band' });
    }
  }

  protected onMove(event: PointerEvent): void {
    const drag = this.drag();
    if (!drag) return;
    const { x, y } = this.point(event);
    const snap = drag.work === 'band' ? (value: number) => value : Math.round;
    const onto = this.strips() && drag.work === 'move' ? this.stripAt(x, y) : null;
    const next = { ...drag, dx: snap(x - drag.x), dy: snap(y - drag.y), onto };
    this.drag.set(next);
    const band = this.band();
    if (!band) return;
    const inside = this.surface().controls.filter(
      (c) =>
        c.x < band.x + band.width &&
        band.x < c.x + c.width &&
        c.y < band.y + band.height &&
        band.y < c.y + c.height,
    );
    this.selectedChange.emit([...new Set([...drag.before, ...inside.map(({ id }) => id)])]);
  }

  protected onUp(): void {
    const drag = this.drag();
    this.drag.set(null);
    if (!drag) return;
    if (drag.dx === 0 && drag.dy === 0) {
      if (drag.one !== null) this.selectedChange.emit([drag.one]);
      return;
    }
    const by = { dx: drag.dx, dy: drag.dy };
    if (drag.work === 'move' && this.strips()) this.stripped.emit(drag.onto);
    else if (drag.work === 'move') this.moved.emit(by);
    if (drag.work === 'resize') this.resized.emit(by);
  }
}
