import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { Control } from '@rondo/core/surface';
import { capOf, isLying } from './geometry';

/** The part of a control that moves: cap, pointer, dimple or lever. It is placed by its group's transform. */
@Component({
  selector: 'g[rondoMover]',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @let c = control();
    @switch (c.kind) {
      @case ('knob') {
        <svg:line
          class="pointer"
          [attr.x1]="c.width / 2"
          [attr.x2]="c.width / 2"
          [attr.y1]="c.height / 2 - radius() * 0.7"
          [attr.y2]="c.height / 2 - radius() * 0.2"
        />
      }
      @case ('encoder') {
        <svg:line
          class="pointer"
          [attr.x1]="c.width / 2"
          [attr.x2]="c.width / 2"
          [attr.y1]="c.height / 2 - radius() * 0.6"
          [attr.y2]="c.height / 2 - radius() * 0.27"
        />
      }
      @case ('jog') {
        <svg:circle
          class="dimple"
          [attr.cx]="c.width / 2"
          [attr.cy]="radius() * 0.44"
          [attr.r]="radius() * 0.16"
        />
      }
      @case ('display') {
        <svg:rect class="meter" [attr.x]="c.width - 3.4" width="2" y="0" height="26" />
      }
      @default {
        <svg:rect
          class="cap"
          [attr.x]="box().x"
          [attr.y]="box().y"
          [attr.width]="box().width"
          [attr.height]="box().height"
          rx="2.5"
        />
        <svg:line
          class="cap-line"
          [attr.x1]="line().x1"
          [attr.x2]="line().x2"
          [attr.y1]="line().y1"
          [attr.y2]="line().y2"
        />
      }
    }
  `,
  styles: `
    .cap {
      fill: var(--key);
      stroke: var(--ink);
      stroke-width: 0.9;
    }
    .cap-line {
      stroke: var(--ink);
      stroke-width: 1.2;
    }
    .dimple {
      fill: var(--desk);
      stroke: var(--line-strong);
      stroke-width: 0.8;
    }
    .pointer {
      stroke: var(--ink);
      stroke-width: 2;
      stroke-linecap: round;
    }
    .meter {
      fill: var(--light-on);
    }
    :host(:not(.bound)) .pointer {
      stroke: color-mix(in srgb, var(--ink) 55%, var(--key));
    }
    :host(:not(.bound)) .cap {
      stroke-dasharray: 2 1.6;
    }
    :host(.down) .cap {
      fill: var(--forward-soft);
      stroke: var(--forward);
      stroke-width: 1.6;
    }
    :host(.selected) .cap {
      stroke: var(--forward);
      stroke-width: 2.2;
      stroke-dasharray: none;
    }
  `,
})
export class MoverShape {
  readonly control = input.required<Control>();
  protected readonly radius = computed(
    () => Math.min(this.control().width, this.control().height) / 2,
  );
  private readonly lying = computed(() => isLying(this.control()));

  protected readonly box = computed(() => {
    const { width, height } = this.control();
    const cap = capOf(this.control());
    return this.lying()
      ? { x: 0, y: height * 0.08, width: cap, height: height * 0.84 }
      : { x: width * 0.08, y: 0, width: width * 0.84, height: cap };
  });

  protected readonly line = computed(() => {
    const { x, y, width, height } = this.box();
    return this.lying()
      ? { x1: width / 2, x2: width / 2, y1: y, y2: y + height }
      : { x1: x, x2: x + width, y1: height / 2, y2: height / 2 };
  });
}
