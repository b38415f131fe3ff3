import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  computed,
  effect,
  inject,
  linkedSignal,
  signal,
  viewChild,
} from '@angular/core';
import {
  CRATES,
  HOT_CUES,
  RECORDS,
  SAMPLERS,
  STEMS,
  addressOf,
  choiceAt,
  soundAt,
  valueOfChoice,
  type Record as Disc,
} from '@rondo/core/host';
import type { PlainPlan } from '@rondo/core/round';
import { SlotField, type Frame } from '../../../engine/frame';
import { Theme } from '../../../shared/ui/theme';
import { Hands } from '../../../shared/ui/hands';
import { LivePicture } from './live-picture';
import { ReachBrackets } from './reach';
import { Key, Slide } from './playable';

const PAGES = [
  { id: 'mixer', label: 'Mixer' },
  { id: 'stems', label: 'Stems' },
  { id: 'effects', label: 'Effects' },
  { id: 'records', label: 'Records' },
  { id: 'focus', label: 'Focus' },
] as const;
/** Beats that a waveform shows before and after the place that plays. */
const BEATS_SHOWN = 8;

interface Wave {
  readonly canvas: HTMLCanvasElement;
  readonly place: number;
  readonly title: number;
  drawn: string;
}

/** The Booth: four decks with their records, and the mixer, stems, effects and records below. */
@Component({
  selector: 'rondo-booth-picture',
  imports: [Hands, Key, ReachBrackets, Slide],
  providers: [{ provide: LivePicture, useExisting: BoothPicture }],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div
      class="host booth-host"
      role="group"
      [attr.aria-label]="model().name"
      [rondoHands]="this"
      (dblclick)="onDouble($event)"
    >
      <div class="decks">
        @for (deck of decks(); track deck.index) {
          <section class="deck" [attr.data-strip]="deck.index" [attr.aria-label]="deck.name">
            <rondo-reach [reaches]="reaches()" [strip]="deck.index" [inRow]="1" />
            <header>
              <b class="number">{{ deck.index + 1 }}</b>
              <span class="title" [attr.data-address]="at('name', deck)" data-kind="text"></span>
              <span
                class="mono"
                [attr.data-address]="at('tempoText', deck)"
                data-kind="text"
              ></span>
              <span class="mono" [attr.data-address]="at('keyText', deck)" data-kind="text"></span>
              <span class="mono" [attr.data-address]="at('timeText', deck)" data-kind="text"></span>
            </header>
            <canvas class="wave" width="230" height="20" [attr.data-wave]="deck.index"></canvas>
            <div
              class="pan"
              [rondoSlide]="at('place', deck)"
              [label]="'Place in the record, ' + deck.name"
            >
              <i></i>
            </div>
            <div class="keys">
              @for (key of deckKeys; track key.id) {
                <button
                  class="{{ key.id }}"
                  [title]="key.label"
                  [rondoKey]="at(key.id, deck)"
                  [shape]="key.kind"
                  [label]="key.label + ', ' + deck.name"
                >
                  {{ key.sign }}
                </button>
              }
            </div>
            <div class="cues">
              @for (n of cues; track n) {
                <button
                  data-stays
                  [rondoKey]="at('hotCue' + n, deck)"
                  shape="toggle"
                  [label]="'Hot cue ' + n + ', ' + deck.name"
                >
                  {{ n }}
                </button>
              }
              <button
                class="wide"
                title="Loop length"
                [rondoKey]="at('loopLength', deck)"
                shape="choice"
                [label]="'Loop length, ' + deck.name"
              ></button>
            </div>
            <div class="line">
              <span>Pitch</span>
              <div class="pan" [rondoSlide]="at('pitch', deck)" [label]="'Pitch, ' + deck.name">
                <i></i>
              </div>
              <button
                class="wide"
                title="Pitch range"
                [rondoKey]="at('pitchRange', deck)"
                shape="choice"
                [label]="'Pitch range, ' + deck.name"
              ></button>
              <button
                class="wide"
                title="Key shift"
                [rondoKey]="at('keyShift', deck)"
                shape="choice"
                [label]="'Key shift, ' + deck.name"
              ></button>
            </div>
          </section>
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
        }
        @case ('effects') {
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
                <button
                  class="pad"
                  [rondoKey]="'sampler' + n"
                  shape="toggle"
                  [label]="'Sampler ' + n"
                >
                  {{ n }}
                </button>
              }
              <div class="pan" rondoSlide="samplerLevel" label="Sampler level">
                <i></i>
              </div>
            </div>
          </div>
        }
        @case ('records') {
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
                  [disabled]="real()"
                  [value]="sought()"
                  (input)="seek(field.value)"
                  (keydown.enter)="set('search', 0)"
                  (keydown.escape)="set('search', 0)"
                />
              }
              <ol>
                @if (crateOpen()) {
                  @for (at of listed(); track at) {
                    <li [class.on]="chosen() === records[at].title">
                      <button type="button" [disabled]="real()" (click)="choose(at)">
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
                      <button type="button" [disabled]="real()" (click)="openCrate(i)">
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
        }
        @case ('focus') {
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
        }
        @default {
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
        }
      }
    </div>
  `,
  styleUrl: './picture.css',
})
export class BoothPicture extends LivePicture {
  protected readonly pages = PAGES;
  protected readonly page = signal<(typeof PAGES)[number]['id']>('mixer');
  protected readonly records = RECORDS;
  protected readonly crates = CRATES;
  protected readonly chosen = signal('');
  protected readonly crate = signal(0);
  protected readonly crateOpen = signal(true);
  protected readonly searching = signal(false);
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
  protected readonly cues = Array.from({ length: HOT_CUES }, (_, i) => i + 1);
  protected readonly stems = Array.from({ length: STEMS }, (_, i) => i + 1);
  protected readonly samplers = Array.from({ length: SAMPLERS }, (_, i) => i + 1);
  protected readonly units = [1, 2];
  protected readonly effectDials = ['Amount', 'Time', 'Tone'];
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
  protected readonly focusKeys = [
    { id: 'loopIn/selected', label: 'Loop in' },
    { id: 'loopOut/selected', label: 'Loop out' },
    { id: 'loopHalve/selected', label: 'Halve' },
    { id: 'loopDouble/selected', label: 'Double' },
    { id: 'hotCueLast/selected', label: 'Hot cue used last' },
    { id: 'hotCueClear/selected', label: 'Clear it' },
  ];
  protected readonly hostKeys = [
    { id: 'focusDeck', what: 'Focus', sign: '', label: 'Deck in focus', kind: 'choice' },
    { id: 'leader', what: 'Leads', sign: '', label: 'Deck that leads', kind: 'choice' },
    { id: 'record', what: '', sign: '●', label: 'Record', kind: 'toggle' },
  ] as const;
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
  protected readonly decks = computed(() =>
    this.model().strips.map(({ name }, index) => ({ name, index })),
  );
  private readonly field = viewChild<ElementRef<HTMLInputElement>>('field');
  private waves: Wave[] = [];
  private chosenSlot = -1;
  private crateSlot = -1;
  private crateOpenSlot = -1;
  private searchSlot = -1;
  private colours = { wave: '', line: '' };

  constructor() {
    super();
    const theme = inject(Theme);
    effect(() => {
      // The search field opens where records are seen, and takes what is typed.
      if (this.searching()) this.page.set('records');
      this.field()?.nativeElement.focus();
    });
    effect(() => {
      this.page();
      this.searching();
      // Waves are painted in colours that are read when the picture is collected.
      theme.name();
      this.changed();
    });
  }

  protected at(id: string, deck: { readonly index: number }): string {
    return addressOf(id, deck.index);
  }

  protected choose(index: number): void {
    this.set('chosen', valueOfChoice(RECORDS.length, index));
  }

  protected openCrate(index: number): void {
    this.set('crate', valueOfChoice(CRATES.length, index));
    this.set('crateOpen', 1);
  }

  /** The first record that has what is typed is chosen. */
  protected seek(text: string): void {
    this.sought.set(text);
    const [first] = this.listed();
    if (text.trim() !== '' && first !== undefined) this.choose(first);
  }

  protected override collected(plan: PlainPlan): void {
    const slot = (id: string, strip: number) =>
      plan.slots.findIndex(({ key }) => key === `${this.hostId()}/${addressOf(id, strip)}`);
    this.chosenSlot = slot('chosenText', -1);
    this.crateSlot = slot('crate', -1);
    this.crateOpenSlot = slot('crateOpen', -1);
    this.searchSlot = slot('search', -1);
    this.waves = [...this.root.querySelectorAll<HTMLCanvasElement>('[data-wave]')].map((canvas) => {
      const deck = Number(canvas.dataset['wave']);
      return { canvas, place: slot('place', deck), title: slot('name', deck), drawn: '' };
    });
    const style = getComputedStyle(this.root);
    this.colours = {
      wave: style.getPropertyValue('--ink-soft'),
      line: style.getPropertyValue('--stop'),
    };
  }

  protected override painted(frame: Frame): void {
    this.chosen.set(this.engine.frames.slotTexts[this.chosenSlot] ?? '');
    this.crate.set(choiceAt(CRATES.length, frame.slot(this.crateSlot, SlotField.Value)));
    this.crateOpen.set(frame.slot(this.crateOpenSlot, SlotField.Value) >= 0.5);
    this.searching.set(frame.slot(this.searchSlot, SlotField.Value) >= 0.5);
    for (const wave of this.waves) {
      const title = this.engine.frames.slotTexts[wave.title] ?? '';
      const record = RECORDS.find((entry) => entry.title === title);
      const beat = frame.slot(wave.place, SlotField.Value) * (record?.beats ?? 0);
      const key = `${title} ${beat.toFixed(2)}`;
      if (key === wave.drawn) continue;
      wave.drawn = key;
      this.drawWave(wave.canvas, record, beat);
    }
  }

  /** The record around the place that plays: one line a pixel, as loud as it is there. */
  private drawWave(canvas: HTMLCanvasElement, record: Disc | undefined, beat: number): void {
    const context = canvas.getContext('2d');
    if (!context) return;
    const { width, height } = canvas;
    context.clearRect(0, 0, width, height);
    if (!record) return;
    context.fillStyle = this.colours.wave;
    for (let x = 0; x < width; x += 2) {
      const at = beat + (x / width - 0.5) * 2 * BEATS_SHOWN;
      const [voice, drums, bass, keys, rest] = soundAt(record, at);
      const tall = Math.min(1, voice + drums + bass * 0.6 + (keys + rest) * 0.4) * (height - 2);
      context.fillRect(x, (height - tall) / 2, 1.4, tall);
    }
    context.fillStyle = this.colours.line;
    context.fillRect(width / 2 - 0.75, 0, 1.5, height);
  }
}
