import { ChangeDetectionStrategy, Component } from '@angular/core';
import { Key, Slide } from '../playable';

/** What belongs to the deck in focus and to the effect used last. */
@Component({
  selector: 'rondo-booth-focus',
  imports: [Key, Slide],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="focus">
      <div class="head">
        <b data-address="name/selected" data-kind="text"></b>
        @for (key of focusKeys; track key.id) {
          <button [rondoKey]="key.id" shape="trigger">
            {{ key.label }}
          </button>
        }
      </div>
      <div class="head">
        <span>Jump length</span>
        <button
          class="wide"
          rondoKey="jumpLength/selected"
          shape="choice"
          label="Jump length"
        ></button>
        <span>Effect used last</span>
        <button rondoKey="effectLastOn" shape="toggle" label="Effect used last on">On</button>
      </div>
      <div class="parameter">
        <span>Amount of the effect used last</span>
        <div class="pan" rondoSlide="effectLastAmount" label="Amount of the effect used last">
          <i></i>
        </div>
      </div>
    </div>
  `,
})
export class BoothFocus {
  protected readonly focusKeys = [
    { id: 'loopIn/selected', label: 'Loop in' },
    { id: 'loopOut/selected', label: 'Loop out' },
    { id: 'loopHalve/selected', label: 'Halve' },
    { id: 'loopDouble/selected', label: 'Double' },
    { id: 'hotCueLast/selected', label: 'Hot cue used last' },
    { id: 'hotCueClear/selected', label: 'Clear it' },
  ];
}
