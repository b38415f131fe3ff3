import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { linkHorizontal, scaleLinear } from 'd3';

/** How wide a band is with no traffic and at most, px, and how many messages a second make it that wide. */
const [THIN, WIDE, BUSY] = [1.5, 16, 300];

/** A route as a band: how many messages a second go along it, and where its line stands. */
export interface Band {
  readonly id: string;
  readonly rate: number;
  /** Middle of its line, px from the top. */
  readonly y: number;
}

/** Bands from an input to the lines of its routes, as wide as their traffic. */
@Component({
  selector: 'rondo-route-bands',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg [attr.width]="width" [attr.height]="height()" aria-hidden="true">
      @for (path of paths(); track path.id) {
        <path [attr.d]="path.d" [attr.stroke-width]="path.width" [class.quiet]="path.isQuiet" />
      }
    </svg>
  `,
  styles: `
    svg {
      display: block;
    }
    path {
      fill: none;
      stroke: var(--forward);
      stroke-opacity: 0.75;
      transition: stroke-width 0.3s;
    }
    .quiet {
      stroke: var(--line-strong);
    }
  `,
})
export class RouteBands {
  readonly bands = input.required<readonly Band[]>();
  readonly height = input.required<number>();
  protected readonly width = 96;
  // A square root, so that a clock of 50 a second is seen beside a fader of 500.
  private readonly widthOf = scaleLinear([0, Math.sqrt(BUSY)], [THIN, WIDE]).clamp(true);
  protected readonly paths = computed(() => {
    const bands = this.bands();
    const widths = bands.map(({ rate }) => this.widthOf(Math.sqrt(rate)));
    const all = widths.reduce((sum, width) => sum + width, 0);
    // They leave the input side by side, as one trunk.
    let at = (bands[0]?.y ?? 0) - (widths[0] ?? 0) / 2;
    const trunk = Math.max(all / 2, at);
    at = Math.max(0, Math.min(at, trunk));
    const draw = linkHorizontal<
      unknown,
      { source: [number, number]; target: [number, number] },
      [number, number]
    >();
    return bands.map(({ id, rate, y }, n) => {
      const from: [number, number] = [0, at + widths[n] / 2];
      at += widths[n];
      return {
        id,
        width: widths[n],
        isQuiet: rate === 0,
        d: draw({ source: from, target: [this.width, y] }) ?? '',
      };
    });
  });
}
