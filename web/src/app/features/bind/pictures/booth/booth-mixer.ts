import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { addressOf } from '@rondo/core/host';
import { Key, Slide } from '../playable';
import { type Deck } from './deck';

/** The mixer: a channel a deck, the master, and the crossfader. */
@Component({
  selector: 'rondo-booth-mixer',
  imports: [Key, Slide],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="columns mixer">
      @for (deck of decks(); track deck.index) {
        <div class="channel">
          <div class="dials">
            @for (dial of dials; track dial.id) {
              <span class="dial-cell">
                <span
                  class="dial"
                  [rondoSlide]="at(dial.id, deck)"
                  [label]="dial.label + ', ' + deck.name"
                  shape="dial"
                  ><i></i
                ></span>
                {{ dial.label }}
              </span>
            }
          </div>
          <div class="travel">
            <div
              class="fader"
              [rondoSlide]="at('fader', deck)"
              [label]="'Fader of ' + deck.name"
              shape="fader"
            >
              <i></i>
            </div>
            <div class="meter" [attr.data-address]="at('meter', deck)" data-kind="meter">
              <i></i>
            </div>
          </div>
          <div class="keys">
            <button
              title="Headphone cue"
              [rondoKey]="at('headphone', deck)"
              shape="toggle"
              [label]="'Headphone cue, ' + deck.name"
            >
              ♫
            </button>
            <button
              class="wide"
              title="Crossfader side"
              [rondoKey]="at('side', deck)"
              shape="choice"
              [label]="'Crossfader side, ' + deck.name"
            ></button>
          </div>
        </div>
      }
      <div class="channel">
        <div class="dials">
          @for (dial of masterDials; track dial.id) {
            <span class="dial-cell">
              <span class="dial" [rondoSlide]="dial.id" [label]="dial.label" shape="dial"
                ><i></i
              ></span>
              {{ dial.short }}
            </span>
          }
        </div>
        <div class="travel">
          <div class="meter" data-address="masterMeter" data-kind="meter"><i></i></div>
          <div class="meter" data-address="headphoneMeter" data-kind="meter"><i></i></div>
        </div>
        <div class="keys">
          <button
            class="wide"
            title="Crossfader curve"
            rondoKey="curve"
            shape="choice"
            label="Crossfader curve"
          ></button>
        </div>
      </div>
      <div class="line across">
        <span>A</span>
        <div class="pan" rondoSlide="crossfader" label="Crossfader">
          <i></i>
        </div>
        <span>B</span>
      </div>
    </div>
  `,
})
export class BoothMixer {
  readonly decks = input.required<readonly Deck[]>();
  protected readonly dials = [
    { id: 'gain', label: 'Gain' },
    { id: 'high', label: 'High' },
    { id: 'highMid', label: 'H mid' },
    { id: 'mid', label: 'Mid' },
    { id: 'low', label: 'Low' },
    { id: 'filter', label: 'Filter' },
  ];
  protected readonly masterDials = [
    { id: 'masterLevel', label: 'Master level', short: 'Master' },
    { id: 'headphoneMix', label: 'Headphone mix', short: 'Mix' },
    { id: 'headphoneLevel', label: 'Headphone level', short: 'Phones' },
  ];

  protected at(id: string, deck: Deck): string {
    return addressOf(id, deck.index);
  }
}
