import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { STEMS, addressOf } from '@rondo/core/host';
import { Key, Slide } from '../playable';
import { type Deck } from './deck';

/** The parts that each record is parted into, and how two decks cross them. */
@Component({
  selector: 'rondo-booth-stems',
  imports: [Key, Slide],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="columns">
      @for (deck of decks(); track deck.index) {
        <div class="column">
          <span
            class="what"
            [title]="'Parted into, ' + deck.name"
            [attr.data-address]="at('stemGroup', deck)"
            data-kind="text"
          ></span>
          @for (n of stems; track n) {
            <div class="stem">
              <span [attr.data-address]="at('stemName' + n, deck)" data-kind="text"></span>
              <div
                class="pan"
                [rondoSlide]="at('stem' + n, deck)"
                [label]="'Stem ' + n + ' level, ' + deck.name"
              >
                <i></i>
              </div>
              <button
                class="mute"
                [rondoKey]="at('stemMute' + n, deck)"
                shape="toggle"
                [label]="'Stem ' + n + ' mute, ' + deck.name"
              >
                M
              </button>
              <button
                class="solo"
                [rondoKey]="at('stemSolo' + n, deck)"
                shape="toggle"
                [label]="'Stem ' + n + ' solo, ' + deck.name"
              >
                S
              </button>
            </div>
          }
          <div class="line">
            <span>Voice</span>
            <div
              class="pan"
              [rondoSlide]="at('balance', deck)"
              [label]="'Voice against the rest, ' + deck.name"
            >
              <i></i>
            </div>
          </div>
        </div>
      }
      <div class="line across">
        <button
          class="wide"
          rondoKey="stemPair"
          shape="choice"
          label="Stems crossfade between"
        ></button>
        @for (n of stems; track n) {
          <div class="pan" [rondoSlide]="'stemCross' + n" [label]="'Crossfade of stem ' + n">
            <i></i>
          </div>
        }
      </div>
    </div>
  `,
})
export class BoothStems {
  readonly decks = input.required<readonly Deck[]>();
  protected readonly stems = Array.from({ length: STEMS }, (_, i) => i + 1);

  protected at(id: string, deck: Deck): string {
    return addressOf(id, deck.index);
  }
}
