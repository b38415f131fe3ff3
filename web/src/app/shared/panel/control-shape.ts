import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { scaleLinear } from 'd3';
import type { Control } from '@rondo/core/surface';
import { LINE, capOf, isLying } from './geometry';

const RING_DOTS = 11;
const SHARES = [0, 0.25, 0.5, 0.75, 1];
const angle = scaleLinear([0, 1], [-135, 135]);

/** The part of a control that stands still, drawn from its data. */
@Component({
  selector: 'g[rondoControl]',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @let c = control();
    @switch (c.kind) {
      @case ('fader') {
        <svg:rect class="hit" [attr.width]="c.width" [attr.height]="c.height" />
        @for (tick of ticks(); track $index) {
          <svg:line
            class="tick"
            [attr.x1]="tick.x1"
            [attr.x2]="tick.x2"
            [attr.y1]="tick.y1"
            [attr.y2]="tick.y2"
          />
        }
        <svg:rect
          class="slot"
          [attr.x]="lying() ? 2 : c.width / 2 - 1.5"
          [attr.y]="lying() ? c.height / 2 - 1.5 : 2"
          [attr.width]="lying() ? c.width - 4 : 3"
          [attr.height]="lying() ? 3 : c.height - 4"
          rx="1.5"
        />
      }
      @case ('wheel') {
        <svg:rect class="well" [attr.width]="c.width" [attr.height]="c.height" rx="4" />
      }
      @case ('xyPad') {
        <svg:rect class="well" [attr.width]="c.width" [attr.height]="c.height" rx="4" />
      }
      @case ('touchStrip') {
        <svg:rect class="glass" [attr.width]="c.width" [attr.height]="c.height" rx="3" />
      }
      @case ('expression') {
        <svg:path class="key" [attr.d]="treadle()" />
      }
      @case ('list') {
        <svg:rect class="well" [attr.width]="c.width" [attr.height]="c.height" rx="3" />
        @for (notch of notches(); track $index) {
          <svg:circle class="notch" [attr.cx]="notch.x" [attr.cy]="notch.y" r="1.2" />
        }
      }
      @case ('switch') {
        <svg:rect class="well" [attr.width]="c.width" [attr.height]="c.height" rx="3" />
        @for (notch of notches(); track $index) {
          <svg:circle class="notch" [attr.cx]="notch.x" [attr.cy]="notch.y" r="1.2" />
        }
      }
      @case ('knob') {
        <svg:rect class="hit" [attr.width]="c.width" [attr.height]="c.height" />
        @for (mark of marks(); track $index) {
          <svg:line
            class="tick"
            [attr.x1]="mark.x1"
            [attr.x2]="mark.x2"
            [attr.y1]="mark.y1"
            [attr.y2]="mark.y2"
          />
        }
        <svg:circle
          class="knob"
          [attr.cx]="c.width / 2"
          [attr.cy]="c.height / 2"
          [attr.r]="radius() * 0.76"
        />
      }
      @case ('encoder') {
        <svg:rect class="hit" [attr.width]="c.width" [attr.height]="c.height" />
        @if (c.takes.ring) {
          @for (dot of dots(); track $index) {
            <svg:circle class="dot" [attr.cx]="dot.x" [attr.cy]="dot.y" [attr.r]="radius() / 10" />
          }
          <svg:circle class="dot centre" [attr.cx]="c.width / 2" cy="-3.4" r="1" />
        } @else {
          <svg:circle
            class="rim"
            [attr.cx]="c.width / 2"
            [attr.cy]="c.height / 2"
            [attr.r]="radius() * 0.92"
          />
        }
        <svg:circle
          class="knob"
          [attr.cx]="c.width / 2"
          [attr.cy]="c.height / 2"
          [attr.r]="radius() * 0.67"
        />
      }
      @case ('jog') {
        <svg:circle
          class="knob"
          [attr.cx]="c.width / 2"
          [attr.cy]="c.height / 2"
          [attr.r]="radius()"
        />
        <svg:circle
          class="jog-face"
          [attr.cx]="c.width / 2"
          [attr.cy]="c.height / 2"
          [attr.r]="radius() * 0.81"
        />
      }
      @case ('label') {
        <svg:rect class="hit" [attr.width]="c.width" [attr.height]="c.height" />
      }
      @case ('display') {
        <svg:rect class="hit" [attr.width]="c.width" [attr.height]="c.height" />
      }
      @default {
        <svg:rect
          class="key"
          [attr.width]="c.width"
          [attr.height]="c.height"
          [attr.rx]="c.round ? radius() : c.kind === 'key' ? 1.5 : 3"
        />
        @if (legend()) {
          <svg:text
            class="legend"
            aria-hidden="true"
            [attr.font-size]="size()"
            [attr.x]="c.width / 2"
            [attr.y]="c.kind === 'key' ? c.height - size() : c.height / 2"
            dominant-baseline="central"
          >
            @for (line of lines(); track $index) {
              <svg:tspan [attr.x]="c.width / 2" [attr.dy]="line.down">{{ line.text }}</svg:tspan>
            }
          </svg:text>
        }
      }
    }
  `,
  styles: `
    .hit {
      fill: transparent;
    }
    .tick {
      stroke: var(--line-strong);
      stroke-width: 0.6;
    }
    .slot {
      fill: color-mix(in srgb, var(--ink) 55%, var(--desk));
    }
    .well {
      fill: color-mix(in srgb, var(--ink) 30%, var(--desk));
      stroke: var(--ink);
      stroke-width: 0.6;
    }
    .glass {
      fill: var(--glass);
    }
    .notch {
      fill: var(--desk);
    }
    .knob,
    .key {
      fill: var(--key);
      stroke: var(--ink);
      stroke-width: 0.8;
    }
    .rim,
    .jog-face {
      fill: none;
      stroke: var(--line-strong);
      stroke-width: 0.8;
    }
    /* Mixed colours, not opacity: each see-through shape would be a layer of its own to the browser. */
    .dot {
      fill: color-mix(in srgb, var(--line-strong) 55%, var(--desk));
    }
    .dot.lit {
      fill: var(--light-on);
      stroke: var(--return);
      stroke-width: 0.4;
    }
    .dot.centre:not(.lit) {
      fill: none;
    }
    .legend {
      font-weight: 600;
      text-anchor: middle;
      fill: var(--ink);
      pointer-events: none;
    }
    :host(.dark) .key {
      fill: color-mix(in srgb, var(--ink) 78%, var(--desk));
    }
    :host(.dark) .legend {
      fill: var(--paper);
    }
    :host(:not(.bound)) .legend {
      fill: color-mix(in srgb, var(--ink) 62%, var(--key));
    }
    :host(.dark:not(.bound)) .legend {
      fill: color-mix(in srgb, var(--paper) 62%, var(--ink));
    }
    :host(:not(.bound)) .key,
    :host(:not(.bound)) .knob {
      stroke-dasharray: 2 1.6;
    }
    :host(.silent) .key,
    :host(.silent) .knob {
      fill: none;
    }
    :host(.lit) .key {
      fill: var(--lamp, var(--light-on));
    }
    :host(.lit) .legend {
      fill: var(--lamp-ink, var(--on-light));
    }
    :host(.red) {
      --lamp: var(--light-red);
      /* The dark ink of the others has too little contrast on it. */
      --lamp-ink: var(--on-red);
    }
    :host(.green) {
      --lamp: var(--light-green);
    }
    :host(.yellow) {
      --lamp: var(--light-yellow);
    }
    :host(.blue) {
      --lamp: var(--light-blue);
    }
    :host(.white) {
      --lamp: var(--light-white);
    }
    :host(.down) .key {
      stroke: var(--forward);
      stroke-width: 2;
    }
    :host(.amiss) .key,
    :host(.amiss) .knob,
    :host(.amiss) .well,
    :host(.amiss) .slot,
    :host(.amiss) .glass {
      stroke: var(--stop);
      stroke-width: 1.4;
      stroke-dasharray: 3 2;
    }
    :host(.selected) .key,
    :host(.selected) .knob,
    :host(.selected) .well,
    :host(.selected) .glass {
      stroke: var(--forward);
      stroke-width: 2.2;
      stroke-dasharray: none;
    }
    :host(:focus-visible) .key,
    :host(:focus-visible) .hit,
    :host(:focus-visible) .knob {
      stroke: var(--focus);
      stroke-width: 2.4;
    }
  `,
  host: {
    '[class]': 'classes()',
    '[class.dark]': 'control().dark',
    '[class.silent]': 'control().silent',
  },
})
export class ControlShape {
  readonly control = input.required<Control>();
  /** Its lines are parted by a line feed. */
  readonly legend = input('');
  protected readonly lines = computed(() => {
    const lines = this.legend().split('\n');
    const apart = LINE * this.size();
    return lines.map((text, i) => ({
      text,
      down: i === 0 ? -((lines.length - 1) / 2) * apart : apart,
    }));
  });
  /** Size of a letter in millimetres. */
  readonly size = input(7.6);

  protected readonly lying = computed(() => isLying(this.control()));
  protected readonly classes = computed(
    () => `${this.control().kind} ${this.control().lamp ?? ''}`,
  );
  protected readonly radius = computed(
    () => Math.min(this.control().width, this.control().height) / 2,
  );

  protected readonly ticks = computed(() => {
    const { width, height } = this.control();
    const cap = capOf(this.control());
    const edge = Math.min(width, height) / 4;
    return SHARES.flatMap((share) => {
      if (this.lying()) {
        const x = cap / 2 + share * (width - cap);
        return [
          { x1: x, x2: x, y1: 1, y2: edge },
          { x1: x, x2: x, y1: height - edge, y2: height - 1 },
        ];
      }
      const y = cap / 2 + share * (height - cap);
      return [
        { x1: 1, x2: edge, y1: y, y2: y },
        { x1: width - edge, x2: width - 1, y1: y, y2: y },
      ];
    });
  });

  private around(share: number, reach: number): { x: number; y: number } {
    const { width, height } = this.control();
    const radians = (angle(share) * Math.PI) / 180;
    const far = this.radius() * reach;
    return { x: width / 2 + far * Math.sin(radians), y: height / 2 - far * Math.cos(radians) };
  }

  protected readonly dots = computed(() =>
    Array.from({ length: RING_DOTS }, (_, i) => this.around(i / (RING_DOTS - 1), 0.93)),
  );

  protected readonly marks = computed(() =>
    [0, 0.5, 1].map((share) => {
      const from = this.around(share, 0.84);
      const to = this.around(share, share === 0.5 && this.control().detent ? 1.06 : 0.98);
      return { x1: from.x, y1: from.y, x2: to.x, y2: to.y };
    }),
  );

  protected readonly notches = computed(() => {
    const { width, height, positions } = this.control();
    const total = positions?.length ?? 2;
    const cap = capOf(this.control());
    return Array.from({ length: total }, (_, i) => {
      const share = i / (total - 1);
      return this.lying()
        ? { x: cap / 2 + share * (width - cap), y: height - 3 }
        : { x: width - 3, y: cap / 2 + (1 - share) * (height - cap) };
    });
  });

  /** A pedal's board, wider at the toe. */
  protected readonly treadle = computed(() => {
    const { width, height } = this.control();
    const slant = width * 0.08;
    return `M0 0H${width}L${width - slant} ${height}H${slant}Z`;
  });
}
