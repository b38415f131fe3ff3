import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import {
  LEVELS,
  LIGHT_STATES,
  MOTIONS,
  RING_CHOICES,
  heldField,
  inheritedGlow,
  nearestColour,
  unknownPlaces,
  upToLevel,
  type Glow,
  type GlowField,
  type GlowPlace,
  type Level,
  type LightTarget,
  type Motion,
  type OutputPart,
  type ReturnField,
  type ReturnLevels,
  type ReturnSettings,
} from '@rondo/core/surface';
import type { Draft } from 'immer';
import { FromLevel, type FromRow } from './from-level';
import { Choice, NumberField, Share, Switch, TextField } from './form';
import { InputText } from 'primeng/inputtext';

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
  bar: 'on the bar',
};
const BY_WORDS = {
  state: 'By its state',
  bands: 'By bands of the value',
  gradient: 'Smoothly from low to high',
  told: 'As the program tells its lamp',
} as const;
const RING_WORDS: Readonly<Record<(typeof RING_CHOICES)[number], string>> = {
  fit: 'As it fits the function',
  dot: 'One dot',
  fromCentre: 'From the centre',
  fromEnd: 'From the end',
  widening: 'Widening',
};

/** A change of what comes back, and its name. */
export interface ReturnsChange {
  readonly name: string;
  readonly change: (returns: Draft<ReturnSettings>) => void;
}

/** Takes a change over into what owns the settings; what is empty then is no setting. */
export function applyReturns(
  owner: { returns?: Draft<ReturnSettings> | undefined },
  { change }: ReturnsChange,
): void {
  const returns = owner.returns ?? {};
  change(returns);
  if (returns.states && Object.keys(returns.states).length === 0) delete returns.states;
  if (Object.keys(returns).length > 0) owner.returns = returns;
  else delete owner.returns;
}

/** Every part of what comes back, as it holds, where that comes from, and what it would be without. */
@Component({
  selector: 'rondo-returns-form',
  imports: [Choice, FromLevel, InputText, NumberField, Share, Switch, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './returns-form.html',
  styleUrls: ['./panel.css', './returns-form.css'],
})
export class ReturnsForm {
  readonly levels = input.required<ReturnLevels>();
  /** Where changes are kept. */
  readonly level = input.required<Level>();
  /** Outputs that it is for. */
  readonly parts = input.required<readonly OutputPart[]>();
  /** How its light takes what it shows; null where there is none. */
  readonly target = input<LightTarget | null>(null);
  /** What each level is called. */
  readonly names = input.required<Readonly<Partial<Record<Level, string>>>>();
  readonly changed = output<ReturnsChange>();

  protected readonly motions = MOTIONS.map((value) => ({ value, label: MOTION_WORDS[value] }));
  protected readonly rings = RING_CHOICES.map((value) => ({ value, label: RING_WORDS[value] }));
  protected readonly bys = (['state', 'bands', 'gradient', 'told'] as const).map((value) => ({
    value,
    label: BY_WORDS[value],
  }));
  protected readonly lines = [
    { field: 'upper', label: 'Upper line' },
    { field: 'lower', label: 'Lower line' },
  ] as const;
  protected readonly hasText = computed(() => this.has('upper') || this.has('lower'));

  /** What holds at the level that is edited: the more special ones are told beside it. */
  private readonly held = computed(() => upToLevel(this.levels(), this.level()));

  /** The levels as they would be if this one said nothing of a look. */
  private without(place: GlowPlace): ReturnLevels {
    const own = this.levels()[this.level()];
    const { [place as 'low']: _end, ...rest } = own ?? {};
    const { [place as 'off']: _state, ...states } = own?.states ?? {};
    return { ...this.held(), [this.level()]: { ...rest, states } };
  }

  protected readonly looks = computed(() => {
    const levels = this.held();
    const by = heldField('by', levels).value;
    const places: readonly GlowPlace[] =
      by === 'state' ? LIGHT_STATES : by === 'gradient' ? ['low', 'high'] : ['off'];
    const target = this.target();
    return places.map((place) => {
      const colour = inheritedGlow(place, 'colour', levels);
      const brightness = inheritedGlow(place, 'brightness', levels);
      const motion = inheritedGlow(place, 'motion', levels);
      const said = this.glowOf(levels[this.level()], place);
      const wanted = colour.value ?? '#000000';
      const entry =
        target?.kind === 'palette' && (brightness.value ?? 1) > 0
          ? nearestColour(target.palette, wanted)
          : null;
      const sources = [colour.from, brightness.from, motion.from];
      const without = inheritedGlow(place, 'colour', this.without(place));
      return {
        place,
        label: STATE_WORDS[place],
        colour: wanted,
        brightness: Math.round((brightness.value ?? 1) * 100),
        motion: motion.value ?? 'steady',
        moves: place !== 'low' && place !== 'high',
        nearest: entry !== null,
        number: entry ? String(entry.value) : '',
        pinned: said?.number ?? null,
        from: {
          own: said !== undefined,
          source: this.sourceWords(sources.find((from) => from !== 'usual') ?? 'usual'),
          otherwise: `${without.value ?? '#000000'}, ${this.sourceWords(without.from)}`,
          over: this.overWords(inheritedGlow(place, 'colour', this.levels()), (value) =>
            String(value ?? '#000000'),
          ),
        },
      };
    });
  });

  protected has(part: OutputPart): boolean {
    return this.parts().includes(part);
  }

  protected field<F extends ReturnField>(name: F) {
    return heldField(name, this.held());
  }

  /** What a setting is in the end, and whose word that is, where that is a more special level's. */
  private overWords<T>(
    { value, from }: { readonly value: T; readonly from: Level },
    words: (value: T) => string,
  ): string {
    return LEVELS.indexOf(from) > LEVELS.indexOf(this.level())
      ? `Here ${words(value)}, ${this.sourceWords(from)}`
      : '';
  }

  /** Where a field comes from, and what it would be without this level. */
  protected from(name: ReturnField): FromRow {
    const held = this.field(name);
    return {
      own: this.levels()[this.level()]?.[name] !== undefined,
      source: this.sourceWords(held.from),
      otherwise: this.words(name, held.otherwise),
      over: this.overWords(heldField(name, this.levels()), (value) => this.words(name, value)),
    };
  }

  private words(name: ReturnField, value: unknown): string {
    if (name === 'feedback') return value === true ? 'shown' : 'dark';
    if (typeof value === 'boolean') return value ? 'on' : 'off';
    if (name === 'by') return BY_WORDS[value as keyof typeof BY_WORDS].toLowerCase();
    if (name === 'ring') return RING_WORDS[value as keyof typeof RING_WORDS].toLowerCase();
    return Array.isArray(value) ? `${value.length} bands` : String(value);
  }

  protected misread(name: 'upper' | 'lower'): string {
    const [first] = unknownPlaces(this.field(name).value);
    return first === undefined ? '' : `{${first}} names no place and stays as it is typed.`;
  }

  private sourceWords(from: Level): string {
    return from === 'usual' ? 'usual' : `from ${this.names()[from] ?? from}`;
  }

  private glowOf(settings: ReturnSettings | undefined, place: GlowPlace): Glow | undefined {
    if (!settings) return undefined;
    return place === 'low' || place === 'high' ? settings[place] : settings.states?.[place];
  }

  protected set<F extends ReturnField>(name: F, value: NonNullable<ReturnSettings[F]>): void {
    this.write('What comes back', (returns) => {
      (returns as Record<string, unknown>)[name] = value;
    });
  }

  protected putBack(name: ReturnField): void {
    this.write('Reset what comes back', (returns) => {
      Reflect.deleteProperty(returns, name);
    });
  }

  protected setBy(value: string): void {
    const by = this.bys.find((one) => one.value === value)?.value;
    if (by) this.set('by', by);
  }

  protected setGlow(place: GlowPlace, change: Partial<Record<GlowField, unknown>>): void {
    this.write(`Light: ${STATE_WORDS[place].toLowerCase()}`, (returns) => {
      const owner = (
        place === 'low' || place === 'high' ? returns : (returns.states ??= {})
      ) as Record<string, Draft<Glow>>;
      const glow = { ...owner[place], ...change };
      // A colour that is chosen shines.
      const dark = inheritedGlow(place, 'brightness', this.held()).value === 0;
      if ('colour' in change && dark && change.colour !== '#000000') glow.brightness = 1;
      owner[place] = glow as Draft<Glow>;
    });
  }

  /** Pins a number of the device's own table; empty gives it back to the colour that looks most alike. */
  protected putBackGlow(place: GlowPlace): void {
    this.write(`Reset: ${STATE_WORDS[place].toLowerCase()}`, (returns) => {
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
    const last = bands.at(-1) ?? { upTo: 1, colour: '#ef4444' };
    const from = bands.at(-2)?.upTo ?? 0;
    this.set('bands', [...bands.slice(0, -1), { ...last, upTo: (from + 1) / 2 }, last]);
  }

  private write(name: string, change: ReturnsChange['change']): void {
    this.changed.emit({ name, change });
  }
}
