import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { Control, Surface } from '@rondo/core/surface';
import { inLayers, isTurned } from './geometry';

/** A surface in miniature: outlines only. */
@Component({
  selector: 'rondo-thumb',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg [attr.viewBox]="viewBox()" aria-hidden="true">
      <rect class="panel" [attr.width]="surface().width" [attr.height]="surface().height" rx="6" />
      @for (c of controls(); track c.id) {
        @if (isRound(c)) {
          <circle
            [attr.cx]="c.x + c.width / 2"
            [attr.cy]="c.y + c.height / 2"
            [attr.r]="(c.width < c.height ? c.width : c.height) / 2"
          />
        } @else {
          <rect
            [class.dark]="c.dark"
            [attr.x]="c.x"
            [attr.y]="c.y"
            [attr.width]="c.width"
            [attr.height]="c.height"
            rx="2"
          />
        }
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
      height: 100%;
    }
    .panel {
      fill: var(--desk);
      stroke: var(--desk-edge);
    }
    rect,
    circle {
      fill: var(--key);
      stroke: var(--ink);
      stroke-width: 1;
    }
    .dark {
      fill: var(--ink);
    }
  `,
})
export class Thumb {
  readonly surface = input.required<Surface>();
  protected readonly viewBox = computed(
    () => `-1 -1 ${this.surface().width + 2} ${this.surface().height + 2}`,
  );
  protected readonly controls = computed(() => inLayers(this.surface().controls));

  protected isRound(control: Control): boolean {
    return isTurned(control) || control.round === true;
  }
}
