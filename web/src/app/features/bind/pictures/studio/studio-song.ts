import { ChangeDetectionStrategy, Component } from '@angular/core';
import { FOCUS_SLOTS } from '@rondo/core/host';
import { Key, Slide } from '../playable';

/** Tempo, loop, punch and view of the song, and actions of the user’s own. */
@Component({
  selector: 'rondo-studio-song',
  imports: [Key, Slide],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="focus">
      @for (line of songLines; track line.id) {
        <div class="parameter">
          <span
            >{{ line.label }}
            <span class="mono" [attr.data-address]="line.id" data-kind="text"></span
          ></span>
          <div class="pan" [rondoSlide]="line.id" [label]="line.label">
            <i></i>
          </div>
        </div>
      }
      <div class="head">
        @for (key of songKeys; track key.id) {
          <button [rondoKey]="key.id" shape="trigger">
            {{ key.label }}
          </button>
        }
      </div>
      <h3>User actions</h3>
      <div class="head">
        @for (n of slots; track n) {
          <button [rondoKey]="'user' + n" shape="trigger" [label]="'User action ' + n">
            {{ n }}
          </button>
        }
        <span data-address="lastAction" data-kind="text"></span>
      </div>
    </div>
  `,
})
export class StudioSong {
  protected readonly songLines = [
    { id: 'tempo', label: 'Tempo' },
    { id: 'loopStart', label: 'Loop start' },
    { id: 'loopEnd', label: 'Loop end' },
    { id: 'punchIn', label: 'Punch in' },
    { id: 'punchOut', label: 'Punch out' },
    { id: 'zoomAcross', label: 'Zoom in time' },
    { id: 'zoomDown', label: 'Zoom in height' },
  ];
  protected readonly songKeys = [
    { id: 'markerPrevious', label: 'Previous marker' },
    { id: 'markerNext', label: 'Next marker' },
    { id: 'markerAdd', label: 'Add a marker' },
    { id: 'tapTempo', label: 'Tap tempo' },
    { id: 'undo', label: 'Undo' },
    { id: 'redo', label: 'Redo' },
    { id: 'save', label: 'Save' },
  ];
  protected readonly slots = Array.from({ length: FOCUS_SLOTS }, (_, i) => i + 1);
}
