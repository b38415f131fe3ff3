import {
  ChangeDetectionStrategy,
  Component,
  ViewEncapsulation,
  effect,
  signal,
} from '@angular/core';
import { MARKERS } from '@rondo/core/host';
import { SlotField, type Frame } from '../../../../engine/frame';
import { Hands } from '../../../../shared/ui/hands';
import { LivePicture } from '../live-picture';
import { Key } from '../playable';
import { StudioClips } from './studio-clips';
import { StudioFocus } from './studio-focus';
import { StudioSong } from './studio-song';
import { StudioStrips } from './studio-strips';

const PAGES = [
  { id: 'mixer', label: 'Mixer' },
  { id: 'focus', label: 'Focus' },
  { id: 'clips', label: 'Clips' },
  { id: 'song', label: 'Song' },
] as const;

/** The Studio: strips, what has focus, transport with markers, clip grid. */
@Component({
  selector: 'rondo-studio-picture',
  imports: [Hands, Key, StudioClips, StudioFocus, StudioSong, StudioStrips],
  providers: [{ provide: LivePicture, useExisting: StudioPicture }],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div
      class="picture picture-studio"
      [class.clips-page]="page() === 'clips'"
      role="group"
      [attr.aria-label]="model().name"
      [rondoHands]="this"
      (dblclick)="onDouble($event)"
    >
      <div class="transport">
        @for (key of transport; track key.id) {
          <button
            class="key {{ key.id }}"
            [attr.data-stays]="key.id === 'play' ? '' : null"
            [title]="key.label"
            [rondoKey]="key.id"
            [shape]="key.kind"
            [label]="key.label"
          >
            {{ key.sign }}
          </button>
        }
        <output class="time mono" data-address="time" data-kind="text" aria-label="Time"></output>
        <output
          class="tempo mono"
          data-address="tempo"
          data-kind="text"
          aria-label="Tempo"
        ></output>
      </div>
      <div class="bar">
        <span class="tabs" role="tablist">
          @for (entry of pages; track entry.id) {
            <button
              type="button"
              role="tab"
              [attr.aria-selected]="page() === entry.id"
              [class.on]="page() === entry.id"
              (click)="show(entry.id)"
            >
              {{ entry.label }}
            </button>
          }
        </span>
        @for (n of markers; track n) {
          <button
            class="marker"
            [rondoKey]="'marker' + n"
            shape="trigger"
            [label]="'To marker ' + n"
          >
            {{ n }}
          </button>
        }
        <button
          class="marker"
          title="Add a marker"
          rondoKey="markerAdd"
          shape="trigger"
          label="Add a marker"
        >
          +
        </button>
        <span class="place" data-address="markerName" data-kind="text"></span>
      </div>
      @switch (page()) {
        @case ('focus') {
          <rondo-studio-focus />
        }
        @case ('clips') {
          <rondo-studio-clips [model]="model()" />
        }
        @case ('song') {
          <rondo-studio-song />
        }
        @default {
          <rondo-studio-strips [model]="model()" [reaches]="reaches()" />
        }
      }
    </div>
  `,
  styleUrls: ['../picture.css', './studio.css'],
  encapsulation: ViewEncapsulation.None,
})
export class StudioPicture extends LivePicture {
  protected readonly pages = PAGES;
  protected readonly page = signal<(typeof PAGES)[number]['id']>('mixer');
  protected readonly markers = Array.from({ length: MARKERS }, (_, i) => i + 1);
  protected readonly transport = [
    { id: 'toStart', sign: '⇤', label: 'To the start', kind: 'trigger' },
    { id: 'rewind', sign: '◂◂', label: 'Back one bar', kind: 'trigger' },
    { id: 'forward', sign: '▸▸', label: 'Forward one bar', kind: 'trigger' },
    { id: 'stop', sign: '■', label: 'Stop', kind: 'toggle' },
    { id: 'play', sign: '▶', label: 'Play', kind: 'toggle' },
    { id: 'record', sign: '●', label: 'Record', kind: 'toggle' },
    { id: 'loop', sign: '↻', label: 'Loop', kind: 'toggle' },
    { id: 'punch', sign: '⇥', label: 'Punch', kind: 'toggle' },
    { id: 'click', sign: '♩', label: 'Click', kind: 'toggle' },
  ] as const;
  /** Slot of the view that the host has in front, and what it was last. */
  private front = -1;
  private frontWas = NaN;

  constructor() {
    super();
    this.paintsToo({
      collected: (slotOf) => (this.front = slotOf('front')),
      painted: (frame) => this.follow(frame),
    });
    effect(() => {
      this.page();
      this.changed();
    });
  }

  /** Brings a view to the front: here, and in the host, which lights and layers may follow. */
  protected show(page: (typeof PAGES)[number]['id']): void {
    this.page.set(page);
    const at = PAGES.findIndex(({ id }) => id === page);
    this.set('front', at / (PAGES.length - 1));
  }

  /** Shows the view that the host has brought to the front. */
  private follow(frame: Frame): void {
    if (this.front < 0 || frame.slot(this.front, SlotField.Know) === 0) return;
    const value = frame.slot(this.front, SlotField.Value);
    if (value === this.frontWas) return;
    this.frontWas = value;
    this.page.set(PAGES[Math.round(value * (PAGES.length - 1))].id);
  }
}
