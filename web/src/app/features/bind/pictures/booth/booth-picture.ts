import {
  ChangeDetectionStrategy,
  Component,
  ViewEncapsulation,
  computed,
  effect,
  signal,
} from '@angular/core';
import { SlotField } from '../../../../engine/frame';
import { Hands } from '../../../../shared/ui/hands';
import { LivePicture } from '../live-picture';
import { Key } from '../playable';
import { BoothDeck } from './booth-deck';
import { BoothEffects } from './booth-effects';
import { BoothFocus } from './booth-focus';
import { BoothMixer } from './booth-mixer';
import { BoothRecords } from './booth-records';
import { BoothStems } from './booth-stems';

const PAGES = [
  { id: 'mixer', label: 'Mixer' },
  { id: 'stems', label: 'Stems' },
  { id: 'effects', label: 'Effects' },
  { id: 'records', label: 'Records' },
  { id: 'focus', label: 'Focus' },
] as const;
/** The Booth: four decks with their records, and the mixer, stems, effects and records below. */
@Component({
  selector: 'rondo-booth-picture',
  imports: [BoothDeck, BoothEffects, BoothFocus, BoothMixer, BoothRecords, BoothStems, Hands, Key],
  providers: [{ provide: LivePicture, useExisting: BoothPicture }],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div
      class="picture picture-booth"
      role="group"
      [attr.aria-label]="model().name"
      [rondoHands]="this"
      (dblclick)="onDouble($event)"
    >
      <div class="decks">
        @for (deck of decks(); track deck.index) {
          <rondo-booth-deck [deck]="deck" [reaches]="reaches()" />
        }
      </div>
      <div class="bar">
        <span class="tabs" role="tablist">
          @for (entry of pages; track entry.id) {
            <button
              type="button"
              role="tab"
              [attr.aria-selected]="page() === entry.id"
              [class.on]="page() === entry.id"
              (click)="page.set(entry.id)"
            >
              {{ entry.label }}
            </button>
          }
        </span>
        @for (key of hostKeys; track key.id) {
          <span class="what">{{ key.what }}</span>
          <button
            [class]="key.kind === 'choice' ? 'wide' : ''"
            [title]="key.label"
            [rondoKey]="key.id"
            [shape]="key.kind"
            [label]="key.label"
          >
            {{ key.sign }}
          </button>
        }
        <span class="mono" data-address="recordTime" data-kind="text"></span>
      </div>
      @switch (page()) {
        @case ('stems') {
          <rondo-booth-stems [decks]="decks()" />
        }
        @case ('effects') {
          <rondo-booth-effects [decks]="decks()" />
        }
        @case ('records') {
          <rondo-booth-records [decks]="decks()" [searching]="searching()" />
        }
        @case ('focus') {
          <rondo-booth-focus />
        }
        @default {
          <rondo-booth-mixer [decks]="decks()" />
        }
      }
    </div>
  `,
  styleUrls: ['../picture.css', './booth.css'],
  encapsulation: ViewEncapsulation.None,
})
export class BoothPicture extends LivePicture {
  protected readonly pages = PAGES;
  protected readonly page = signal<(typeof PAGES)[number]['id']>('mixer');
  protected readonly searching = signal(false);
  protected readonly hostKeys = [
    { id: 'focusDeck', what: 'Focus', sign: '', label: 'Deck in focus', kind: 'choice' },
    { id: 'leader', what: 'Leads', sign: '', label: 'Deck that leads', kind: 'choice' },
    { id: 'record', what: '', sign: '●', label: 'Record', kind: 'toggle' },
  ] as const;
  protected readonly decks = computed(() =>
    this.model().strips.map(({ name }, index) => ({ name, index })),
  );

  constructor() {
    super();
    let search = -1;
    this.paintsToo({
      collected: (slotOf) => (search = slotOf('search')),
      painted: (frame) => this.searching.set(frame.slot(search, SlotField.Value) >= 0.5),
    });
    // The search field opens where records are seen; whoever goes on to another page from there may.
    effect(() => {
      if (this.searching()) this.page.set('records');
    });
    effect(() => {
      this.page();
      this.changed();
    });
  }
}
