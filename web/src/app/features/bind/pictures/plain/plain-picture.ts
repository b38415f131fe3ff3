import {
  ChangeDetectionStrategy,
  Component,
  ViewEncapsulation,
  computed,
  effect,
} from '@angular/core';
import { addressOf, type HostFunction } from '@rondo/core/host';
import { Hands } from '../../../../shared/ui/hands';
import { LivePicture } from '../live-picture';
import type { Shape } from '../picture-painter';
import { Key, Slide } from '../playable';

/** How a function of whatever kind is shown and played. */
const SHAPES: Readonly<Record<HostFunction['kind'], Shape>> = {
  continuous: 'pan',
  toggle: 'toggle',
  trigger: 'trigger',
  choice: 'choice',
  nudge: 'pan',
  text: 'text',
  meter: 'meter',
};

/** The first letter of a name, or as many as tell it from the others. */
function signOf(label: string, others: readonly string[]): string {
  const same = others.filter((other) => other !== label);
  for (let length = 1; length < 4; length++) {
    const sign = label.slice(0, length);
    if (!same.some((other) => other.startsWith(sign))) return sign;
  }
  return label.slice(0, 4);
}

/** Any program of which no more is known than its functions: strips side by side, all else in a list. */
@Component({
  selector: 'rondo-plain-picture',
  imports: [Hands, Key, Slide],
  providers: [{ provide: LivePicture, useExisting: PlainPicture }],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div
      class="picture picture-plain"
      role="group"
      [attr.aria-label]="model().name"
      [rondoHands]="this"
      (dblclick)="onDouble($event)"
    >
      @if (strips().length > 0) {
        <div class="strips" [style.--columns]="Math.min(strips().length, 8)">
          @for (strip of strips(); track strip.index) {
            <div class="column" [attr.data-strip]="strip.index">
              <b>{{ strip.index + 1 }}</b>
              @for (line of strip.texts; track line) {
                <span class="lcd mono" [attr.data-address]="line" data-kind="text"></span>
              }
              @for (turn of strip.turns; track turn.address) {
                <div class="pan" [rondoSlide]="turn.address" [label]="turn.label"><i></i></div>
              }
              @if (strip.fader; as fader) {
                <div class="travel">
                  <div
                    class="fader"
                    [rondoSlide]="fader.address"
                    [label]="fader.label"
                    shape="fader"
                  >
                    <i></i>
                  </div>
                  @if (strip.meter) {
                    <div class="meter" [attr.data-address]="strip.meter" data-kind="meter">
                      <i></i>
                    </div>
                  }
                </div>
              }
              <div class="keys">
                @for (key of strip.keys; track key.address) {
                  <button
                    [class]="'small ' + key.id"
                    [rondoKey]="key.address"
                    shape="toggle"
                    [label]="key.label"
                    [title]="key.label"
                  >
                    {{ key.sign }}
                  </button>
                }
              </div>
            </div>
          }
        </div>
      }
      <div class="list">
        @for (one of others(); track one.address) {
          @switch (one.shape) {
            @case ('pan') {
              <div class="line">
                <span>{{ one.label }}</span>
                <div class="pan" [rondoSlide]="one.address" [label]="one.label"><i></i></div>
                @if (one.says) {
                  <span
                    class="mono value"
                    [attr.data-address]="one.address"
                    data-kind="text"
                  ></span>
                }
              </div>
            }
            @case ('text') {
              <div class="line">
                <span>{{ one.label }}</span>
                <span class="lcd mono" [attr.data-address]="one.address" data-kind="text"></span>
              </div>
            }
            @case ('meter') {
              <div class="line">
                <span>{{ one.label }}</span>
              </div>
            }
            @default {
              <button [class]="'wide ' + one.id" [rondoKey]="one.address" [shape]="one.shape">
                {{ one.label }}
              </button>
            }
          }
        }
      </div>
    </div>
  `,
  styleUrls: ['../picture.css', './plain-picture.css'],
  encapsulation: ViewEncapsulation.None,
})
export class PlainPicture extends LivePicture {
  protected readonly Math = Math;
  private readonly perStrip = computed(() =>
    this.model().functions.filter(({ per, id }) => per === 'strip' && !id.endsWith('Touch')),
  );
  protected readonly strips = computed(() =>
    this.model().strips.map((_, index) => {
      const keys = this.perStrip().flatMap(({ kind, label }) => (kind === 'toggle' ? [label] : []));
      const here = this.perStrip()
        .filter(({ messages }) => messages[index] !== null)
        .map((fn) => ({
          id: fn.id,
          kind: fn.kind,
          address: addressOf(fn.id, index),
          label: `${fn.label} ${index + 1}`,
          sign: signOf(fn.label, keys),
        }));
      const of = (kind: HostFunction['kind']) => here.filter((fn) => fn.kind === kind);
      return {
        index,
        texts: of('text').map(({ address }) => address),
        turns: of('nudge'),
        fader: of('continuous').at(0),
        meter: of('meter').at(0)?.address,
        keys: of('toggle'),
      };
    }),
  );
  protected readonly others = computed(() =>
    this.model()
      .functions.filter(({ per, id }) => per === 'host' && !id.endsWith('Touch'))
      .map((fn) => ({
        id: fn.id,
        label: fn.label,
        address: addressOf(fn.id, -1),
        shape: SHAPES[fn.kind],
        // What counts ticks has no value to write.
        says: fn.kind === 'continuous',
      })),
  );

  constructor() {
    super();
    effect(() => {
      // Another host may have other functions under the same names.
      this.model();
      this.changed();
    });
  }
}
