import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  effect,
  inject,
  input,
  viewChild,
} from '@angular/core';
import { HOT_CUES, RECORDS, addressOf } from '@rondo/core/host';
import { EngineService } from '../../../../engine/engine.service';
import { SlotField, type Frame } from '../../../../engine/frame';
import { Theme } from '../../../../shared/ui/theme';
import { LivePicture } from '../live-picture';
import { Key, Slide } from '../playable';
import { ReachBrackets, type Reach } from '../reach';
import type { Deck } from './deck';
import { drawWave } from './wave';

/** A deck: its record, its keys, cues and pitch. */
@Component({
  selector: 'rondo-booth-deck',
  imports: [Key, ReachBrackets, Slide],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="deck" [attr.data-strip]="deck().index" [attr.aria-label]="deck().name">
      <rondo-reach [reaches]="reaches()" [strip]="deck().index" [inRow]="1" />
      <header>
        <b class="number">{{ deck().index + 1 }}</b>
        <span class="title" [attr.data-address]="at('name', deck())" data-kind="text"></span>
        <span class="mono" [attr.data-address]="at('tempoText', deck())" data-kind="text"></span>
        <span class="mono" [attr.data-address]="at('keyText', deck())" data-kind="text"></span>
        <span class="mono" [attr.data-address]="at('timeText', deck())" data-kind="text"></span>
      </header>
      <canvas class="wave" #wave width="230" height="20"></canvas>
      <div
        class="pan"
        [rondoSlide]="at('place', deck())"
        [label]="'Place in the record, ' + deck().name"
      >
        <i></i>
      </div>
      <div class="keys">
        @for (key of deckKeys; track key.id) {
          <button
            class="{{ key.id }}"
            [title]="key.label"
            [rondoKey]="at(key.id, deck())"
            [shape]="key.kind"
            [label]="key.label + ', ' + deck().name"
          >
            {{ key.sign }}
          </button>
        }
      </div>
      <div class="cues">
        @for (n of cues; track n) {
          <button
            data-stays
            [rondoKey]="at('hotCue' + n, deck())"
            shape="toggle"
            [label]="'Hot cue ' + n + ', ' + deck().name"
          >
            {{ n }}
          </button>
        }
        <button
          class="wide"
          title="Loop length"
          [rondoKey]="at('loopLength', deck())"
          shape="choice"
          [label]="'Loop length, ' + deck().name"
        ></button>
      </div>
      <div class="line">
        <span>Pitch</span>
        <div class="pan" [rondoSlide]="at('pitch', deck())" [label]="'Pitch, ' + deck().name">
          <i></i>
        </div>
        <button
          class="wide"
          title="Pitch range"
          [rondoKey]="at('pitchRange', deck())"
          shape="choice"
          [label]="'Pitch range, ' + deck().name"
        ></button>
        <button
          class="wide"
          title="Key shift"
          [rondoKey]="at('keyShift', deck())"
          shape="choice"
          [label]="'Key shift, ' + deck().name"
        ></button>
      </div>
    </section>
  `,
})
export class BoothDeck {
  readonly deck = input.required<Deck>();
  readonly reaches = input.required<readonly Reach[]>();
  protected readonly cues = Array.from({ length: HOT_CUES }, (_, i) => i + 1);
  protected readonly deckKeys = [
    { id: 'play', sign: '▶', label: 'Play', kind: 'toggle' },
    { id: 'cue', sign: 'Cue', label: 'Cue', kind: 'hold' },
    { id: 'sync', sign: 'Sync', label: 'Sync', kind: 'toggle' },
    { id: 'keyLock', sign: 'Key', label: 'Key lock', kind: 'toggle' },
    { id: 'quantise', sign: 'Grid', label: 'Grid: in time with the beat', kind: 'toggle' },
    { id: 'jumpBack', sign: '◂', label: 'Jump back', kind: 'trigger' },
    { id: 'jumpOn', sign: '▸', label: 'Jump on', kind: 'trigger' },
    { id: 'loop', sign: '↻', label: 'Loop', kind: 'toggle' },
  ] as const;

  private readonly picture = inject(LivePicture);
  private readonly engine = inject(EngineService);
  private readonly wave = viewChild.required<ElementRef<HTMLCanvasElement>>('wave');
  /** Slots of the record's title and of the place that plays. */
  private slots = { title: -1, place: -1 };
  private colours = { wave: '', line: '' };
  private drawn = '';

  constructor() {
    this.picture.paintsToo({
      collected: (slotOf) => {
        const { index } = this.deck();
        this.slots = { title: slotOf('name', index), place: slotOf('place', index) };
        const style = getComputedStyle(this.wave().nativeElement);
        this.colours = {
          wave: style.getPropertyValue('--ink-soft'),
          line: style.getPropertyValue('--stop'),
        };
        this.drawn = '';
      },
      painted: (frame) => this.paint(frame),
    });
    const theme = inject(Theme);
    effect(() => {
      // Waves are painted in colours that are read when the picture is collected.
      theme.name();
      this.picture.changed();
    });
  }

  private paint(frame: Frame): void {
    const title = this.engine.frames.slotTexts[this.slots.title] ?? '';
    const record = RECORDS.find((entry) => entry.title === title);
    const beat = frame.slot(this.slots.place, SlotField.Value) * (record?.beats ?? 0);
    const drawn = `${title} ${beat.toFixed(2)}`;
    if (drawn === this.drawn) return;
    this.drawn = drawn;
    drawWave(this.wave().nativeElement, record, beat, this.colours);
  }

  protected at(id: string, deck: Deck): string {
    return addressOf(id, deck.index);
  }
}
