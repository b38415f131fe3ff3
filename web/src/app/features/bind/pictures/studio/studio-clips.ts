import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { SCENES, addressOf, type HostModel } from '@rondo/core/host';
import { Key } from '../playable';

/** The grid of clips, and the cell that is chosen in it. */
@Component({
  selector: 'rondo-studio-clips',
  imports: [Key],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="clips">
      @for (scene of scenes; track scene) {
        @for (track of tracks(); track track.index) {
          <button
            class="cell"
            [rondoKey]="address('clip' + scene, track.index)"
            shape="cell"
            [label]="'Clip ' + scene + ' of ' + track.name"
          ></button>
        }
        <button
          class="scene"
          [rondoKey]="'scene' + scene"
          shape="trigger"
          [label]="'Scene ' + scene"
        >
          ▸{{ scene }}
        </button>
      }
      @for (track of tracks(); track track.index) {
        <span class="under" [title]="track.name">{{ track.name }}</span>
      }
      <button class="scene" rondoKey="clipStopAll" shape="trigger" label="Stop all clips">■</button>
    </div>
    <div class="head cells">
      <button class="wide" rondoKey="cellTrack" shape="choice" label="Chosen cell: track"></button>
      <button class="wide" rondoKey="cellScene" shape="choice" label="Chosen cell: scene"></button>
      <b data-address="cellName" data-kind="text"></b>
      <span>Enter</span>
      <button class="wide" rondoKey="noteEnter" shape="choice" label="Enter a note"></button>
      <button rondoKey="restEnter" shape="trigger">Rest</button>
    </div>
    <div class="head">
      @for (key of clipEdits; track key.id) {
        <button [rondoKey]="key.id" shape="trigger">
          {{ key.label }}
        </button>
      }
    </div>
  `,
})
export class StudioClips {
  readonly model = input.required<HostModel>();
  protected readonly address = addressOf;
  protected readonly scenes = Array.from({ length: SCENES }, (_, i) => i + 1);
  protected readonly clipEdits = [
    { id: 'clipInsert', label: 'Insert' },
    { id: 'clipCopy', label: 'Copy' },
    { id: 'clipPaste', label: 'Paste' },
    { id: 'clipDuplicate', label: 'Duplicate' },
    { id: 'clipSplit', label: 'Split' },
    { id: 'clipQuantise', label: 'Quantise' },
    { id: 'clipDelete', label: 'Delete' },
  ];
  protected readonly tracks = computed(() =>
    this.model().strips.flatMap(({ name, group }, index) =>
      group === 'track' ? [{ name, index }] : [],
    ),
  );
}
