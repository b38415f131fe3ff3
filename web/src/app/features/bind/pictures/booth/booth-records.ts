import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  computed,
  effect,
  inject,
  input,
  linkedSignal,
  signal,
  viewChild,
} from '@angular/core';
import { CRATES, RECORDS, addressOf, choiceAt, valueOfChoice } from '@rondo/core/host';
import { EngineService } from '../../../../engine/engine.service';
import { SlotField } from '../../../../engine/frame';
import { LivePicture } from '../live-picture';
import { Key } from '../playable';
import type { Deck } from './deck';

/** Crates and their records, and where they are loaded. */
@Component({
  selector: 'rondo-booth-records',
  imports: [Key],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="records">
      <div class="list">
        <div class="keys">
          <button rondoKey="crateOpen" shape="toggle" label="Crate open">Open</button>
          <button class="wide" rondoKey="crate" shape="choice" label="Crate"></button>
          <button rondoKey="listUp" shape="trigger" label="Up in the list">↑</button>
          <button rondoKey="listDown" shape="trigger" label="Down in the list">↓</button>
          <button rondoKey="search" shape="toggle" label="Search field">Search</button>
        </div>
        @if (searching()) {
          <input
            type="search"
            #field
            aria-label="Find a record"
            placeholder="Title or artist; Enter to close"
            [disabled]="picture.real()"
            [value]="sought()"
            (input)="seek(field.value)"
            (keydown.enter)="picture.set('search', 0)"
            (keydown.escape)="picture.set('search', 0)"
          />
        }
        <ol>
          @if (crateOpen()) {
            @for (at of listed(); track at) {
              <li [class.on]="chosen() === records[at].title">
                <button type="button" [disabled]="picture.real()" (click)="choose(at)">
                  <b>{{ records[at].title }}</b> <span>{{ records[at].by }}</span>
                  <span class="mono">{{ records[at].bpm }}</span>
                </button>
              </li>
            } @empty {
              <li class="what">No record of this crate has “{{ sought() }}”.</li>
            }
          } @else {
            @for (one of crates; track one.name; let i = $index) {
              <li [class.on]="crate() === i">
                <button type="button" [disabled]="picture.real()" (click)="openCrate(i)">
                  <b>{{ one.name }}</b> <span>{{ one.records.length }} records</span>
                </button>
              </li>
            }
          }
        </ol>
      </div>
      <div class="column">
        @for (deck of decks(); track deck.index) {
          <div class="keys">
            <button class="wide" [rondoKey]="at('load', deck)" shape="trigger">
              Load on {{ deck.name }}
            </button>
            <button
              [rondoKey]="at('eject', deck)"
              shape="trigger"
              [label]="'Take the record off ' + deck.name"
            >
              ⏏
            </button>
          </div>
        }
        <span class="visually-hidden" data-address="chosenText" data-kind="text"></span>
      </div>
    </div>
  `,
})
export class BoothRecords {
  readonly decks = input.required<readonly Deck[]>();
  /** The search field is open, and takes what is typed. */
  readonly searching = input.required<boolean>();
  protected readonly picture = inject(LivePicture);
  private readonly engine = inject(EngineService);
  protected readonly records = RECORDS;
  protected readonly crates = CRATES;
  protected readonly chosen = signal('');
  protected readonly crate = signal(0);
  protected readonly crateOpen = signal(true);
  /** What is typed into the search field; nothing once that is closed. */
  protected readonly sought = linkedSignal<boolean, string>({
    source: this.searching,
    computation: () => '',
  });
  /** Records of the crate that is open, by what is typed. */
  protected readonly listed = computed(() => {
    const words = this.sought().toLowerCase().split(/\s+/).filter(Boolean);
    return CRATES[this.crate()].records.filter((at) => {
      const { title, by } = RECORDS[at];
      const read = `${title} ${by}`.toLowerCase();
      return words.every((word) => read.includes(word));
    });
  });
  private readonly field = viewChild<ElementRef<HTMLInputElement>>('field');

  constructor() {
    effect(() => this.field()?.nativeElement.focus());
    let [title, crate, open] = [-1, -1, -1];
    this.picture.paintsToo({
      collected: (slotOf) => {
        [title, crate, open] = [slotOf('chosenText'), slotOf('crate'), slotOf('crateOpen')];
      },
      painted: (frame) => {
        this.chosen.set(this.engine.frames.slotTexts[title] ?? '');
        this.crate.set(choiceAt(CRATES.length, frame.slot(crate, SlotField.Value)));
        this.crateOpen.set(frame.slot(open, SlotField.Value) >= 0.5);
      },
    });
  }

  protected at(id: string, deck: Deck): string {
    return addressOf(id, deck.index);
  }

  protected choose(index: number): void {
    this.picture.set('chosen', valueOfChoice(RECORDS.length, index));
  }

  protected openCrate(index: number): void {
    this.picture.set('crate', valueOfChoice(CRATES.length, index));
    this.picture.set('crateOpen', 1);
  }

  /** The first record that has what is typed is chosen. */
  protected seek(text: string): void {
    this.sought.set(text);
    const [first] = this.listed();
    if (text.trim() !== '' && first !== undefined) this.choose(first);
  }
}
