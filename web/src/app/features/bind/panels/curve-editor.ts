import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  computed,
  inject,
  input,
  output,
  signal,
} from '@angular/core';
import { line, range, scaleLinear } from 'd3';
import type { Shape } from '@rondo/core/profile';
import { NOTHING, shaperOf } from '@rondo/core/round';
import { pointFor, pointsOf } from './curve-points';

const WIDTH = 300;
const HEIGHT = 190;
const EDGE = { left: 46, right: 12, top: 10, bottom: 22 };
const SAMPLES = 200;
const KEY_STEP = 0.02;
/** How far a drag over the whole height bends a curve. */
const BEND = 8;

type Handle = { readonly kind: 'low' | 'high' } | { readonly kind: 'point'; readonly at: number };

/** Control in, function out: a curve with handles for its range, its bend and its drawn points, and the live point. */
@Component({
  selector: 'rondo-curve-editor',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg
      [attr.viewBox]="'0 0 ' + width + ' ' + height"
      role="group"
      aria-label="Curve: control in, function out"
      (pointermove)="onMove($event)"
      (pointerup)="onUp()"
      (pointercancel)="onUp()"
      (dblclick)="onDouble($event)"
    >
      <rect
        class="field"
        [attr.x]="x(0)"
        [attr.y]="y(1)"
        [attr.width]="x(1) - x(0)"
        [attr.height]="y(0) - y(1)"
        (pointerdown)="onField($event)"
      />
      @for (share of grid; track share) {
        <line
          class="grid"
          [attr.x1]="x(share)"
          [attr.x2]="x(share)"
          [attr.y1]="y(0)"
          [attr.y2]="y(1)"
        />
        <line
          class="grid"
          [attr.x1]="x(0)"
          [attr.x2]="x(1)"
          [attr.y1]="y(share)"
          [attr.y2]="y(share)"
        />
      }
      <text [attr.x]="x(0)" [attr.y]="height - 7">control in</text>
      <text class="end" [attr.x]="x(1)" [attr.y]="height - 7">{{ inText() }}</text>
      @for (mark of marks(); track $index) {
        <text class="mark" [attr.x]="x(0) - 4" [attr.y]="mark.y">{{ mark.text }}</text>
      }
      @for (piece of pieces(); track $index) {
        <path class="curve" [attr.d]="piece" />
      }
      @if (live(); as p) {
        <line class="live" [attr.x1]="p.x" [attr.x2]="p.x" [attr.y1]="y(0)" [attr.y2]="p.y" />
        <line class="live" [attr.x1]="x(0)" [attr.x2]="p.x" [attr.y1]="p.y" [attr.y2]="p.y" />
        <circle class="live" [attr.cx]="p.x" [attr.cy]="p.y" r="5" />
      }
      @if (has(); as there) {
        <line
          class="there"
          [attr.x1]="x(0)"
          [attr.x2]="x(1)"
          [attr.y1]="there.y"
          [attr.y2]="there.y"
        />
      }
      @for (h of handles(); track $index) {
        <circle
          class="handle"
          tabindex="0"
          role="slider"
          aria-valuemin="0"
          aria-valuemax="100"
          [attr.aria-label]="h.label"
          [attr.aria-valuenow]="h.percent"
          [attr.cx]="h.x"
          [attr.cy]="h.y"
          r="6.5"
          (pointerdown)="onHandle($event, h.handle)"
          (keydown)="onKey($event, h.handle)"
        />
      }
    </svg>
  `,
  styles: `
    :host {
      display: block;
    }
    svg {
      display: block;
      width: 100%;
      max-width: 390px;
      touch-action: none;
      user-select: none;
    }
    .field {
      fill: var(--sheet);
      stroke: var(--line-strong);
      cursor: crosshair;
    }
    .grid {
      stroke: var(--line);
      stroke-width: 0.6;
      pointer-events: none;
    }
    .curve {
      fill: none;
      stroke: var(--forward);
      stroke-width: 2.2;
      pointer-events: none;
    }
    .live {
      stroke: var(--ink);
      stroke-width: 1;
      stroke-dasharray: 3 3;
      pointer-events: none;
    }
    circle.live {
      fill: var(--ink);
      stroke: none;
    }
    .there {
      stroke: var(--return-line);
      stroke-width: 1.6;
      stroke-dasharray: 6 3;
      pointer-events: none;
    }
    .handle {
      fill: var(--raised);
      stroke: var(--forward);
      stroke-width: 2.4;
      cursor: grab;
    }
    text {
      font-size: 9.5px;
      fill: var(--ink-soft);
    }
    .end,
    .mark {
      text-anchor: end;
    }
  `,
})
export class CurveEditor {
  readonly shape = input.required<Shape>();
  /** Where the control stands, 0…1; null where it has no place. */
  readonly position = input<number | null>(null);
  /** What the function has now, 0…1; null where that is not known. */
  readonly value = input<number | null>(null);
  /** How a value of the function reads. */
  readonly format = input<(value: number) => string>((value) => `${Math.round(value * 100)} %`);
  readonly changed = output<Shape>();

  protected readonly width = WIDTH;
  protected readonly height = HEIGHT;
  protected readonly grid = [0.25, 0.5, 0.75];
  protected readonly x = scaleLinear([0, 1], [EDGE.left, WIDTH - EDGE.right]);
  protected readonly y = scaleLinear([0, 1], [HEIGHT - EDGE.bottom, EDGE.top]);
  private readonly host: HTMLElement = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly draft = signal<Shape | null>(null);
  private handle: Handle | null = null;
  private bendFrom: { y: number; bend: number } | null = null;

  protected readonly now = computed(() => this.draft() ?? this.shape());
  private readonly shaper = computed(() => shaperOf(this.now()));
  protected readonly pieces = computed(() => {
    const shaper = this.shaper();
    const path = line<number>(
      (share) => this.x(share),
      (share) => this.y(shaper.at(share)),
    ).defined((share) => shaper.at(share) !== NOTHING);
    const pieces: string[] = [];
    // A jump between zones is no part of the curve.
    let piece: number[] = [];
    for (const share of range(SAMPLES + 1).map((n) => n / SAMPLES)) {
      const before = piece.at(-1);
      const jumps =
        before !== undefined &&
        Math.abs(shaper.at(share) - shaper.at(before)) > 0.12 &&
        shaper.hasZones;
      if (jumps) {
        pieces.push(path(piece) ?? '');
        piece = [];
      }
      piece.push(share);
    }
    return [...pieces, path(piece) ?? ''];
  });
  protected readonly live = computed(() => {
    const position = this.position();
    if (position === null) return null;
    const y = this.shaper().at(position);
    return { x: this.x(position), y: this.y(y === NOTHING ? 0 : y) };
  });
  protected readonly has = computed(() => {
    const value = this.value();
    return value === null ? null : { y: this.y(value) };
  });
  protected readonly inText = computed(() => {
    const position = this.position();
    return position === null ? '' : `${Math.round(position * 100)} %`;
  });
  protected readonly marks = computed(() => {
    const format = this.format();
    return [0, 1].map((value) => ({
      y: this.y(value) + 4,
      text: format(value).replace(/ /g, '\u202f'),
    }));
  });
  protected readonly handles = computed(() => {
    const shape = this.now();
    if (shape.zones) return [];
    const { low, high, invert } = this.shaper();
    const at = (handle: Handle, x: number, y: number, label: string) => ({
      handle,
      x: this.x(x),
      y: this.y(y),
      label,
      percent: Math.round(y * 100),
    });
    return [
      at({ kind: 'low' }, invert ? 1 : 0, low, 'Low end of the range'),
      at({ kind: 'high' }, invert ? 0 : 1, high, 'High end of the range'),
      ...pointsOf(shape).map(({ x, y }, n) => at({ kind: 'point', at: n }, x, y, `Point ${n + 1}`)),
    ];
  });

  private place(event: MouseEvent): { x: number; y: number } {
    const box = this.host.querySelector('svg')?.getBoundingClientRect();
    if (!box) return { x: 0, y: 0 };
    const clamp = (value: number) => Math.max(0, Math.min(1, value));
    return {
      x: clamp(this.x.invert(((event.clientX - box.left) / box.width) * WIDTH)),
      y: clamp(this.y.invert(((event.clientY - box.top) / box.height) * HEIGHT)),
    };
  }

  protected onHandle(event: PointerEvent, handle: Handle): void {
    event.stopPropagation();
    (event.target as Element).setPointerCapture(event.pointerId);
    this.handle = handle;
  }

  /** The field bends the curve: up and down. */
  protected onField(event: PointerEvent): void {
    const { curve } = this.shape();
    if (curve?.kind !== 'exponential' && curve?.kind !== 's') return;
    (event.target as Element).setPointerCapture(event.pointerId);
    this.bendFrom = { y: this.place(event).y, bend: curve.bend };
  }

  protected onMove(event: PointerEvent): void {
    const { x, y } = this.place(event);
    if (this.handle) this.draft.set(this.moved(this.handle, x, y));
    else if (this.bendFrom) {
      const { curve } = this.shape();
      if (curve?.kind !== 'exponential' && curve?.kind !== 's') return;
      const by = (this.bendFrom.y - y) * BEND * 2;
      const bend = Math.round(Math.max(-BEND, Math.min(BEND, this.bendFrom.bend + by)) * 10) / 10;
      this.draft.set({ ...this.shape(), curve: { ...curve, bend } });
    }
  }

  private moved(handle: Handle, x: number, y: number): Shape {
    const shape = this.shape();
    const share = Math.round(y * 1_000) / 1_000;
    if (handle.kind !== 'point') return { ...shape, [handle.kind]: share };
    if (shape.curve?.kind !== 'drawn') return shape;
    const points = shape.curve.points.map((point, n) =>
      n === handle.at ? { ...point, ...pointFor(shape, { x, y }) } : point,
    );
    return { ...shape, curve: { kind: 'drawn', points } };
  }

  protected onUp(): void {
    const draft = this.draft();
    this.handle = null;
    this.bendFrom = null;
    this.draft.set(null);
    if (draft) this.changed.emit(draft);
  }

  /** A double click on a drawn curve adds a point; on a point it takes it out. */
  protected onDouble(event: MouseEvent): void {
    const shape = this.shape();
    if (shape.curve?.kind !== 'drawn') return;
    const { x } = this.place(event);
    const { points } = shape.curve;
    const near = pointsOf(shape).findIndex((point) => Math.abs(point.x - x) < 0.03);
    const added = pointFor(shape, { x, y: this.shaper().at(x) });
    const next =
      near >= 0
        ? points.filter((_, n) => n !== near)
        : [...points, { ...added }].sort((a, b) => a.x - b.x);
    if (next.length >= 2) this.changed.emit({ ...shape, curve: { kind: 'drawn', points: next } });
  }

  protected onKey(event: KeyboardEvent, handle: Handle): void {
    const up = { ArrowUp: 1, ArrowDown: -1 }[event.key] ?? 0;
    const right = { ArrowRight: 1, ArrowLeft: -1 }[event.key] ?? 0;
    if (up === 0 && (right === 0 || handle.kind !== 'point')) return;
    event.preventDefault();
    const found = this.handles().find((h) => JSON.stringify(h.handle) === JSON.stringify(handle));
    if (!found) return;
    const clamp = (value: number) => Math.max(0, Math.min(1, value));
    const x = clamp(this.x.invert(found.x) + right * KEY_STEP);
    const y = clamp(this.y.invert(found.y) + up * KEY_STEP);
    this.changed.emit(this.moved(handle, x, y));
  }
}
