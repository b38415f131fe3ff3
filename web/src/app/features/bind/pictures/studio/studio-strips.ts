import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { addressOf, type HostModel } from '@rondo/core/host';
import { Key, Slide } from '../playable';
import { ReachBrackets, type Reach } from '../reach';

const STRIPS_A_ROW = 10;

/** The strips: name, pan, fader with its meter, and keys. */
@Component({
  selector: 'rondo-studio-strips',
  imports: [Key, ReachBrackets, Slide],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (row of rows(); track $index) {
      <div class="row">
        @for (strip of row; track strip.n) {
          <div class="strip {{ strip.group }}" [attr.data-strip]="strip.index">
            <rondo-reach [reaches]="reaches()" [strip]="strip.index" [inRow]="inRow" />
            <button
              class="name"
              [title]="strip.name"
              [rondoKey]="address('select', strip.index)"
              shape="toggle"
              [label]="'Select ' + strip.name"
            >
              {{ strip.name }}
            </button>
            <div
              class="pan"
              [rondoSlide]="address('pan', strip.index)"
              [label]="'Pan of ' + strip.name"
            >
              <i></i>
            </div>
            <div class="travel">
              <div
                class="fader"
                [rondoSlide]="address('volume', strip.index)"
                [label]="'Volume of ' + strip.name"
                shape="fader"
              >
                <i></i>
              </div>
              <div
                class="meter"
                [attr.data-address]="address('meter', strip.index)"
                data-kind="meter"
              >
                <i></i>
              </div>
            </div>
            <span
              class="level mono"
              [attr.data-address]="address('volume', strip.index)"
              data-kind="text"
            ></span>
            <div class="keys">
              @for (key of strip.keys; track key.id) {
                <button
                  class="small {{ key.id }}"
                  [rondoKey]="address(key.id, strip.index)"
                  shape="toggle"
                  [label]="key.label + ' ' + strip.name"
                >
                  {{ key.sign }}
                </button>
              }
            </div>
          </div>
        }
      </div>
    }
  `,
})
export class StudioStrips {
  readonly model = input.required<HostModel>();
  readonly reaches = input.required<readonly Reach[]>();
  protected readonly address = addressOf;
  protected readonly inRow = STRIPS_A_ROW;
  protected readonly rows = computed(() => {
    const model = this.model();
    const has = (id: string, strip: number) =>
      Boolean(model.functions.find((fn) => fn.id === id)?.messages[strip]);
    const strips = model.strips.map(({ name, group }, index) => ({
      n: index + 1,
      index,
      name,
      group,
      keys: [
        { id: 'mute', sign: 'M', label: 'Mute' },
        ...(has('solo', index) ? [{ id: 'solo', sign: 'S', label: 'Solo' }] : []),
        ...(has('arm', index) ? [{ id: 'arm', sign: 'R', label: 'Arm' }] : []),
      ],
    }));
    return Array.from({ length: Math.ceil(strips.length / STRIPS_A_ROW) }, (_, row) =>
      strips.slice(row * STRIPS_A_ROW, (row + 1) * STRIPS_A_ROW),
    );
  });
}
