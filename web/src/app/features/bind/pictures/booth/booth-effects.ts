import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { SAMPLERS, addressOf } from '@rondo/core/host';
import { Key, Slide } from '../playable';
import { type Deck } from './deck';

/** Two effect units, the decks they are assigned to, and the samplers. */
@Component({
  selector: 'rondo-booth-effects',
  imports: [Key, Slide],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="columns two">
      @for (unit of units; track unit) {
        <div class="column">
          <div class="keys">
            <button
              [rondoKey]="'effect' + unit + 'On'"
              shape="toggle"
              [label]="'Effect ' + unit + ' on'"
            >
              On
            </button>
            <button
              class="wide"
              [rondoKey]="'effect' + unit + 'Kind'"
              shape="choice"
              [label]="'Effect ' + unit"
            ></button>
            <button
              class="wide"
              [rondoKey]="'effect' + unit + 'Deck'"
              shape="choice"
              [label]="'Effect ' + unit + ' goes to'"
            ></button>
            @for (deck of decks(); track deck.index) {
              <button
                [rondoKey]="at('effect' + unit + 'Assigned', deck)"
                shape="toggle"
                [label]="'Effect ' + unit + ' assigned, ' + deck.name"
              >
                {{ deck.index + 1 }}
              </button>
            }
          </div>
          <div class="dials">
            @for (what of effectDials; track what) {
              <span class="dial-cell">
                <span
                  class="dial"
                  [rondoSlide]="'effect' + unit + what"
                  [label]="'Effect ' + unit + ' ' + what.toLowerCase()"
                  shape="dial"
                  ><i></i
                ></span>
                {{ what }}
              </span>
            }
          </div>
        </div>
      }
      <div class="line across">
        <button
          class="wide"
          rondoKey="effect2Fitted"
          shape="toggle"
          label="Effect unit 2 in this set-up"
        >
          Unit 2 fitted
        </button>
        <span>Samplers</span>
        @for (n of samplers; track n) {
          <button class="pad" [rondoKey]="'sampler' + n" shape="toggle" [label]="'Sampler ' + n">
            {{ n }}
          </button>
        }
        <div class="pan" rondoSlide="samplerLevel" label="Sampler level">
          <i></i>
        </div>
      </div>
    </div>
  `,
})
export class BoothEffects {
  readonly decks = input.required<readonly Deck[]>();
  protected readonly units = [1, 2];
  protected readonly effectDials = ['Amount', 'Time', 'Tone'];
  protected readonly samplers = Array.from({ length: SAMPLERS }, (_, i) => i + 1);

  protected at(id: string, deck: Deck): string {
    return addressOf(id, deck.index);
  }
}
