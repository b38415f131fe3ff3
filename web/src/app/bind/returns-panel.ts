import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { edit } from '@rondo/core/document';
import {
  LIGHT_STATES,
  MOTIONS,
  RING_CHOICES,
  heldField,
  heldGlow,
  lightTarget,
  nearestColour,
  outputsOf,
  unknownPlaces,
  type Glow,
  type GlowField,
  type GlowPlace,
  type Level,
  type Motion,
  type ReturnField,
  type ReturnLevels,
  type ReturnSettings,
} from '@rondo/core/surface';
import type { Draft } from 'immer';
import { HOST_MODELS } from '@rondo/core/host';
import { PanelHead } from './panel-head';
import { Workbench } from './workbench';

/** The levels that can be set from here. */
const SETTABLE = ['binding', 'layer', 'profile'] as const;
type Settable = (typeof SETTABLE)[number];

const STATE_WORDS: Readonly<Record<GlowPlace, string>> = {
  off: 'Off',
  on: 'On',
  waiting: 'Waiting',
  armed: 'Armed',
  unavailable: 'Not available',
  assumed: 'Assumed',
  low: 'At the low end',
  high: 'At the high end',
};
const MOTION_WORDS: Readonly<Record<Motion, string>> = {
  steady: 'steady',
  blink: 'blinks',
  pulse: 'pulses',
  beat: 'on the beat',
};
const BY_WORDS = {
  state: 'By its state',
  bands: 'By bands of the value',
  blend: 'Smoothly from low to high',
} as const;
const RING_WORDS: Readonly<Record<(typeof RING_CHOICES)[number], string>> = {
  fit: 'As it fits the function',
  dot: 'One dot',
  fromCentre: 'From the centre',
  fromEnd: 'From the end',
  widening: 'Widening',
};
const BANDS_AT_FIRST = [
  { upTo: 0.7, colour: '#22c55e', brightness: 1, motion: 'steady' as const },
  { upTo: 0.9, colour: '#f59e0b', brightness: 1, motion: 'steady' as const },
  { upTo: 1, colour: '#ef4444', brightness: 1, motion: 'steady' as const },
];

/** What comes back to the control in hand: every part of it, the level that it comes from, and what it would be without. */
@Component({
  selector: 'rondo-returns-panel',
  imports: [PanelHead],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <rondo-panel-head title="What comes back" [about]="about()" />
    <div class="body">
      @if (!bench.control()) {
        <p>Touch a control, or click it in the drawing, to see and change what comes back to it.</p>
      } @else if (outputs().length === 0) {
        <p>Nothing can be shown on this control: it has no light, motor, ring or display.</p>
      } @else {
        <div class="row" role="radiogroup" aria-label="Where changes are kept">
          <small>Changes are for</small>
          @for (l of levelChoices(); track l.level) {
            <button
              type="button"
              class="small"
              role="radio"
              [attr.aria-checked]="level() === l.level"
              [disabled]="l.level === 'binding' && !bench.binding()"
              (click)="chosen.set(l.level)"
            >
              {{ l.label }}
            </button>
          }
        </div>
        <section>
          <div class="row">
            <label>
              <input
                type="checkbox"
                [checked]="field('feedback').value"
                (change)="set('feedback', !field('feedback').value)"
              />
              Show something
            </label>
            @if (has('motor')) {
              <label>
                <input
                  type="checkbox"
                  [checked]="field('motor').value"
                  (change)="set('motor', !field('motor').value)"
                />
                The motor follows
              </label>
            }
            @if (has('light') || has('ring')) {
              <label>
                <input
                  type="checkbox"
                  [checked]="field('invert').value"
                  (change)="set('invert', !field('invert').value)"
                />
                The other way round
              </label>
            }
            <small>{{ source('feedback') }}</small>
          </div>
        </section>
        @if (has('light')) {
          <section>
            <div class="row">
              <h3>Light</h3>
              <select #by aria-label="How the light is chosen" (change)="setBy(by.value)">
                @for (option of bys; track option.value) {
                  <option [value]="option.value" [selected]="option.value === field('by').value">
                    {{ option.label }}
                  </option>
                }
              </select>
              <small>{{ source('by') }}</small>
            </div>
            @for (row of looks(); track row.place) {
              <div class="row look" [attr.data-state]="row.place">
                <span class="state">{{ row.label }}</span>
                <input
                  #colour
                  type="color"
                  [attr.aria-label]="'Colour: ' + row.label"
                  [value]="row.colour"
                  (change)="setGlow(row.place, { colour: colour.value })"
                />
                <input
                  #bright
                  type="number"
                  min="0"
                  max="100"
                  step="any"
                  [attr.aria-label]="'Brightness, per cent: ' + row.label"
                  [value]="row.brightness"
                  (change)="setBrightness(row.place, bright)"
                />
                %
                @if (row.moves) {
                  <select
                    #motion
                    [attr.aria-label]="'Motion: ' + row.label"
                    (change)="setMotion(row.place, motion.value)"
                  >
                    @for (m of motions; track m.value) {
                      <option [value]="m.value" [selected]="m.value === row.motion">
                        {{ m.label }}
                      </option>
                    }
                  </select>
                }
                @if (row.nearest) {
                  <label
                    title="The device's own number; empty for the colour that looks most alike"
                  >
                    No.
                    <input
                      #pin
                      type="number"
                      min="0"
                      max="127"
                      [attr.aria-label]="'Number of the device: ' + row.label"
                      [placeholder]="row.number"
                      [value]="row.pinned"
                      (change)="setPin(row.place, pin.value)"
                    />
                  </label>
                }
                @if (row.own) {
                  <button type="button" class="small" (click)="putBackGlow(row.place)">
                    Put back
                  </button>
                } @else {
                  <small>{{ row.source }}</small>
                }
              </div>
            }
            @if (field('by').value === 'bands') {
              @for (band of field('bands').value; track $index; let i = $index; let last = $last) {
                <div class="row look">
                  <label
                    >Up to
                    <input
                      #upTo
                      type="number"
                      min="0"
                      max="100"
                      step="any"
                      aria-label="Band ends at, per cent"
                      [disabled]="last"
                      [value]="percent(band.upTo)"
                      (change)="setBand(i, { upTo: share(upTo.valueAsNumber) })"
                    />
                    %</label
                  >
                  <input
                    #bandColour
                    type="color"
                    aria-label="Colour of the band"
                    [value]="band.colour ?? '#ffffff'"
                    (change)="setBand(i, { colour: bandColour.value })"
                  />
                  @if (field('bands').value.length > 1) {
                    <button type="button" class="small" (click)="dropBand(i)">Remove</button>
                  }
                </div>
              }
              <div class="row">
                <button type="button" class="small" (click)="addBand()">Split the last band</button>
              </div>
            }
          </section>
        }
        @if (has('ring')) {
          <section>
            <div class="row">
              <h3>Ring</h3>
              <select #ring aria-label="Ring style" (change)="setRing(ring.value)">
                @for (option of rings; track option.value) {
                  <option [value]="option.value" [selected]="option.value === field('ring').value">
                    {{ option.label }}
                  </option>
                }
              </select>
              <small>{{ source('ring') }}</small>
            </div>
          </section>
        }
        @if (hasText()) {
          <section>
            <div class="row"><h3>Display</h3></div>
            @for (line of lines; track line.field) {
              <div class="row">
                <label
                  >{{ line.label }}
                  <input
                    #text
                    type="text"
                    maxlength="120"
                    [attr.aria-label]="line.label"
                    [value]="field(line.field).value"
                    (change)="set(line.field, text.value)"
                /></label>
                <small>{{ misread(line.field) || source(line.field) }}</small>
              </div>
            }
            <p>
              Places: {{ '{track} {value} {function} {control} {layer} {bank} {time} {tempo}' }}.
              What is too long is shortened so that it can still be told apart.
            </p>
          </section>
        }
        @if (has('meter') || has('light')) {
          <section>
            <div class="row">
              <label
                >The highest place of a meter stays
                <input
                  #peak
                  type="number"
                  min="0"
                  max="10000"
                  step="any"
                  aria-label="How long the highest place of a meter stays, ms"
                  [value]="field('peak').value"
                  (change)="setPeak(peak.valueAsNumber)"
                />
                ms</label
              >
              <small>{{ source('peak') }}</small>
            </div>
          </section>
        }
        @if (owns()) {
          <section>
            <div class="row">
              <button type="button" class="small" (click)="putBackAll()">
                Put back everything said for {{ levelWords() }}
              </button>
            </div>
          </section>
        }
      }
    </div>
  `,
  styleUrl: './panel.css',
  styles: `
    input[type='color'] {
      width: 34px;
      height: 26px;
      padding: 1px;
      border: 1px solid var(--line-strong);
      border-radius: 4px;
      background: var(--sheet);
    }
    input[type='text'] {
      width: 190px;
    }
    .look input[type='number'] {
      width: 58px;
    }
    .look select {
      max-width: 104px;
    }
    .state {
      width: 88px;
      font-size: 13px;
    }
  `,
})
export class ReturnsPanel {
  protected readonly bench = inject(Workbench);
  protected readonly chosen = signal<Settable>('binding');
  protected readonly motions = MOTIONS.map((value) => ({ value, label: MOTION_WORDS[value] }));
  protected readonly rings = RING_CHOICES.map((value) => ({ value, label: RING_WORDS[value] }));
  protected readonly bys = (['state', 'bands', 'blend'] as const).map((value) => ({
    value,
    label: BY_WORDS[value],
  }));
  protected readonly lines = [
    { field: 'upper', label: 'Upper line' },
    { field: 'lower', label: 'Lower line' },
  ] as const;

  /** Where a change is kept: what is bound, where anything is, else its layer. */
  protected readonly level = computed<Settable>(() =>
    this.chosen() === 'binding' && !this.bench.binding() ? 'layer' : this.chosen(),
  );
  private readonly layerId = computed(() => this.bench.binding()?.layer ?? this.bench.layer());
  protected readonly levelChoices = computed(() =>
    SETTABLE.map((level) => ({ level, label: this.wordsOf(level) })),
  );
  protected readonly levelWords = computed(() => this.wordsOf(this.level()).toLowerCase());

  protected readonly outputs = computed(() => {
    const surface = this.bench.surface();
    const control = this.bench.control();
    if (!surface || !control) return [];
    const own = outputsOf(surface, control);
    // A strip's display shows what its fader and encoder do.
    const shown = surface.controls.filter(
      (c) => c.kind === 'display' && c.strip !== undefined && c.strip === control.strip,
    );
    return [...own, ...shown.flatMap((c) => outputsOf(surface, c))];
  });
  protected readonly hasText = computed(() => this.has('upper') || this.has('lower'));
  protected readonly about = computed(() => this.bench.control()?.label ?? '');

  /** What each level says. */
  private readonly levels = computed<ReturnLevels>(() => {
    const profile = this.bench.profile();
    const binding = this.bench.binding();
    const action = binding?.actions.find((a) => a.do === 'function');
    const model =
      profile && action && Object.hasOwn(profile.hosts, action.host)
        ? HOST_MODELS.get(profile.hosts[action.host].model)
        : undefined;
    const fn = model?.functions.find(({ id }) => id === action?.function);
    const layer = this.layerId();
    return {
      usual:
        fn?.kind === 'meter'
          ? { by: 'bands' }
          : fn?.colour
            ? { states: { on: { colour: fn.colour } }, high: { colour: fn.colour, brightness: 1 } }
            : undefined,
      surface: this.bench.surface()?.returns,
      profile: profile?.returns,
      layer:
        profile && Object.hasOwn(profile.layers, layer) ? profile.layers[layer].returns : undefined,
      binding: binding?.returns,
    };
  });
  protected readonly owns = computed(() => this.levels()[this.level()] !== undefined);

  protected readonly looks = computed(() => {
    const levels = this.levels();
    const by = heldField('by', levels).value;
    const places: readonly GlowPlace[] =
      by === 'state' ? LIGHT_STATES : by === 'blend' ? ['low', 'high'] : ['off'];
    const surface = this.bench.surface();
    const control = this.bench.control();
    const pattern = control?.takes.light;
    const target = surface && control && pattern ? lightTarget(surface, control, pattern) : null;
    return places.map((place) => {
      const colour = heldGlow(place, 'colour', levels);
      const brightness = heldGlow(place, 'brightness', levels);
      const motion = heldGlow(place, 'motion', levels);
      const at = this.level();
      const said = this.glowOf(levels[at], place);
      const wanted = colour.value ?? '#000000';
      const entry =
        target?.kind === 'palette' && (brightness.value ?? 1) > 0
          ? nearestColour(target.palette, wanted)
          : null;
      return {
        place,
        label: STATE_WORDS[place],
        colour: wanted,
        brightness: Math.round((brightness.value ?? 1) * 100),
        motion: motion.value ?? 'steady',
        moves: place !== 'low' && place !== 'high',
        own: said !== undefined,
        source: this.sourceWords(
          [colour.from, brightness.from, motion.from].find((from) => from !== 'usual') ?? 'usual',
        ),
        nearest: entry !== null,
        number: entry ? String(entry.value) : '',
        pinned: said?.number ?? '',
      };
    });
  });

  protected has(part: string): boolean {
    return this.outputs().some((one) => one === part);
  }

  protected field<F extends ReturnField>(name: F) {
    return heldField(name, this.levels());
  }

  protected source(name: ReturnField): string {
    return this.sourceWords(this.field(name).from);
  }

  protected misread(name: 'upper' | 'lower'): string {
    const [first] = unknownPlaces(this.field(name).value);
    return first === undefined ? '' : `{${first}} names no place and stays as it is typed.`;
  }

  private sourceWords(from: Level): string {
    if (from === 'usual') return 'usual';
    if (from === 'surface') return `from the surface ${this.bench.surface()?.name ?? ''}`;
    return `from ${this.wordsOf(from).toLowerCase()}`;
  }

  private wordsOf(level: Settable): string {
    if (level === 'binding') return 'This binding';
    if (level === 'profile') return 'The whole profile';
    return `Layer ${this.bench.profile()?.layers[this.layerId()]?.label ?? ''}`;
  }

  private glowOf(settings: ReturnSettings | undefined, place: GlowPlace): Glow | undefined {
    if (!settings) return undefined;
    return place === 'low' || place === 'high' ? settings[place] : settings.states?.[place];
  }

  protected percent(value: number): number {
    return Math.round(value * 100);
  }
  protected share(percent: number): number {
    return Number.isFinite(percent) ? Math.max(0, Math.min(1, percent / 100)) : 1;
  }

  protected set<F extends ReturnField>(name: F, value: NonNullable<ReturnSettings[F]>): void {
    this.write('What comes back', (returns) => {
      (returns as Record<string, unknown>)[name] = value;
    });
  }

  protected setBy(value: string): void {
    const by = this.bys.find((one) => one.value === value)?.value;
    if (by) this.set('by', by);
  }

  protected setRing(value: string): void {
    const ring = RING_CHOICES.find((one) => one === value);
    if (ring) this.set('ring', ring);
  }

  protected setPeak(ms: number): void {
    if (Number.isFinite(ms)) this.set('peak', Math.max(0, Math.min(10_000, ms)));
  }

  protected setGlow(place: GlowPlace, change: Partial<Record<GlowField, unknown>>): void {
    this.write(`Light: ${STATE_WORDS[place].toLowerCase()}`, (returns) => {
      const owner = (
        place === 'low' || place === 'high' ? returns : (returns.states ??= {})
      ) as Record<string, Draft<Glow>>;
      const glow = { ...owner[place], ...change };
      // A colour that is chosen shines.
      const dark = heldGlow(place, 'brightness', this.levels()).value === 0;
      if ('colour' in change && dark && change.colour !== '#000000') glow.brightness = 1;
      owner[place] = glow as Draft<Glow>;
    });
  }

  /** Pins a number of the device's own table; empty gives it back to the colour that looks most alike. */
  protected setPin(place: GlowPlace, typed: string): void {
    const number = Number(typed);
    const pinned = typed.trim() !== '' && Number.isInteger(number) && number >= 0 && number <= 127;
    this.setGlow(place, { number: pinned ? number : undefined });
  }

  protected setBrightness(place: GlowPlace, input: HTMLInputElement): void {
    this.setGlow(place, { brightness: this.share(input.valueAsNumber) });
  }

  protected setMotion(place: GlowPlace, value: string): void {
    const motion = MOTIONS.find((one) => one === value);
    if (motion) this.setGlow(place, { motion });
  }

  protected putBackGlow(place: GlowPlace): void {
    this.write(`Put back: ${STATE_WORDS[place].toLowerCase()}`, (returns) => {
      if (place === 'low' || place === 'high') Reflect.deleteProperty(returns, place);
      else if (returns.states) Reflect.deleteProperty(returns.states, place);
    });
  }

  protected setBand(at: number, change: { upTo?: number; colour?: string }): void {
    const bands = this.field('bands').value.map((band, i) =>
      i === at ? { ...band, ...change } : band,
    );
    this.set(
      'bands',
      [...bands].sort((a, b) => a.upTo - b.upTo),
    );
  }

  protected dropBand(at: number): void {
    const bands = this.field('bands').value.filter((_, i) => i !== at);
    this.set(
      'bands',
      bands.map((band, i) => (i === bands.length - 1 ? { ...band, upTo: 1 } : band)),
    );
  }

  protected addBand(): void {
    const bands = this.field('bands').value;
    const last = bands.at(-1) ?? BANDS_AT_FIRST[2];
    const from = bands.at(-2)?.upTo ?? 0;
    this.set('bands', [...bands.slice(0, -1), { ...last, upTo: (from + 1) / 2 }, last]);
  }

  protected putBackAll(): void {
    this.write('Put back what comes back', (returns) => {
      for (const key of Object.keys(returns)) Reflect.deleteProperty(returns, key);
    });
  }

  private write(name: string, change: (returns: Draft<ReturnSettings>) => void): void {
    const level = this.level();
    const on = <T extends { returns?: Draft<ReturnSettings> | undefined }>(owner: T) => {
      const returns = owner.returns ?? {};
      change(returns);
      if (returns.states && Object.keys(returns.states).length === 0) delete returns.states;
      if (Object.keys(returns).length > 0) owner.returns = returns;
      else delete owner.returns;
    };
    if (level === 'binding') {
      this.bench.change(name, (draft) => {
        on(draft);
      });
      return;
    }
    const layer = this.layerId();
    this.bench.edit((profile) =>
      edit(profile, name, (draft) => {
        if (level === 'profile') on(draft);
        else if (Object.hasOwn(draft.layers, layer)) on(draft.layers[layer]);
      }),
    );
  }
}
