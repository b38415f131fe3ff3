import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { line, range, scaleLinear } from 'd3';
import type { Shape } from '@rondo/core/profile';
import { shaperOf } from '@rondo/core/round';

const WIDTH = 84;
const HEIGHT = 50;

/** Control in, function out, with the live point. */
@Component({
  selector: 'rondo-shape-curve',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg [attr.viewBox]="'0 0 ' + width + ' ' + height" aria-hidden="true">
      <rect x="0.5" y="0.5" [attr.width]="width - 1" [attr.height]="height - 1" />
      <path [attr.d]="path()" />
      @if (point(); as p) {
        <line [attr.x1]="p.x" [attr.x2]="p.x" [attr.y1]="height" [attr.y2]="p.y" />
        <line x1="0" [attr.x2]="p.x" [attr.y1]="p.y" [attr.y2]="p.y" />
        <circle [attr.cx]="p.x" [attr.cy]="p.y" r="3.2" />
      }
    </svg>
  `,
  styles: `
    svg {
      display: block;
      width: 84px;
      height: 50px;
    }
    rect {
      fill: none;
      stroke: var(--line);
    }
    path {
      fill: none;
      stroke: var(--ink-soft);
      stroke-width: 1.4;
    }
    line {
      stroke: var(--forward);
      stroke-width: 0.8;
      stroke-dasharray: 2 2;
    }
    circle {
      fill: var(--forward);
    }
  `,
})
export class ShapeCurve {
  /** Control position, 0…1; null where there is no live point. */
  readonly value = input<number | null>(null);
  readonly shape = input<Shape>({});
  protected readonly width = WIDTH;
  protected readonly height = HEIGHT;
  private readonly x = scaleLinear([0, 1], [4, WIDTH - 4]);
  private readonly y = scaleLinear([0, 1], [HEIGHT - 4, 4]);
  private readonly shaper = computed(() => shaperOf(this.shape()));
  protected readonly path = computed(
    () =>
      line<number>(
        (share) => this.x(share),
        (share) => this.y(Math.max(0, this.shaper().at(share))),
      )(range(0, 1.001, 0.025)) ?? '',
  );
  protected readonly point = computed(() => {
    const value = this.value();
    if (value === null) return null;
    return { x: this.x(value), y: this.y(Math.max(0, this.shaper().at(value))) };
  });
}
