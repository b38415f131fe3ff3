import { PLAIN_HABITS, type Habits } from './codec/habits.js';
import {
  BOOTH,
  CRATES,
  DECKS,
  EFFECTS,
  EFFECT_UNITS,
  FADER_TOP_DB,
  HOT_CUES,
  KEY_SHIFTS,
  LENGTHS,
  PITCH_RANGES,
  RECORDS,
  SAMPLERS,
  SIDES,
  STEMS,
  STEM_GROUPS,
  choiceAt,
  deflection,
  killGain,
  semitoneRatio,
  soundAt,
  toneName,
  valueOfChoice,
  type Record as Disc,
  type Sound,
} from '@rondo/core/host';
import { SimulatedHost, grid } from './host.js';

const METER_EVERY = 50_000;
const TEXT_EVERY = 100_000;
/** A tick of the jog moves the record by this share of a beat. */
const JOG_STEP = 1 / 32;
const SAMPLE_MICROS = 1_500_000;
const SAMPLE_LEVEL = 0.15;
/** What a record's loudest beat leaves free below full scale, as amplitude: four decks fit on one another. */
const HEADROOM = 0.2;
/** Records on the decks when the night begins. */
const FIRST_RECORDS = [0, 2, 4, 5];
/** Sides of the crossfader when the night begins: A, B, A, B. */
const FIRST_SIDES = [0, 1, 0, 1];

/** Which sources each stem has, by the number of stems. */
const PARTS: Readonly<Record<number, readonly (readonly number[])[]>> = {
  2: [[0], [1, 2, 3, 4]],
  3: [[0], [1], [2, 3, 4]],
  4: [[0], [1], [2], [3, 4]],
  5: [[0], [1], [2], [3], [4]],
};
const PART_NAMES: Readonly<Record<number, readonly string[]>> = {
  2: ['Voice', 'Rest'],
  3: ['Voice', 'Drums', 'Rest'],
  4: ['Voice', 'Drums', 'Bass', 'Rest'],
  5: ['Voice', 'Drums', 'Bass', 'Keys', 'Rest'],
};

interface Deck {
  record: Disc | null;
  /** Beats from the beginning of the record. */
  beat: number;
  cuePoint: number;
  /** Cue is held and plays for as long. */
  previewing: boolean;
  hotCues: number[];
  lastCue: number;
  /** Where the loop begins, and its length in beats; below 0 where none is set. */
  loopStart: number;
  loopBeats: number;
}

/** Voice and rest of a balance: in the middle both are whole, at either end only one is left. */
export const balanceGains = (balance: number): [voice: number, rest: number] => [
  Math.min(1, 1 + balance),
  Math.min(1, 1 - balance),
];

/** Gains of the first and the second deck at a stem's crossfade: in the middle both are whole. */
export const crossGains = (position: number): [first: number, second: number] => [
  Math.min(1, 2 * (1 - position)),
  Math.min(1, 2 * position),
];

/**
 * Gains of the sides A and B at the crossfader's position. Smooth: constant power, −3.01 dB each in the middle; even:
 * straight lines; sharp: both whole but for the last tenth at either end.
 */
export function crossfade(position: number, curve: number): [a: number, b: number] {
  if (curve === 0) return [Math.cos((position * Math.PI) / 2), Math.sin((position * Math.PI) / 2)];
  if (curve === 1) return [1 - position, position];
  return [Math.min(1, (1 - position) * 10), Math.min(1, position * 10)];
}

/** How much faster or slower a deck runs at the ends of a bend. */
const BEND_RANGE = 0.08;

/** The simulated Booth: four decks play invented records through a mixer, and hear and report through bytes alone. */
export class Booth extends SimulatedHost {
  readonly decks: readonly Deck[];
  /** Time recorded, µs. */
  recorded = 0;
  private focus = 0;
  private meterDue = 0;
  private textDue = 0;
  private lastEffect = 0;
  private readonly sampleLeft = new Float64Array(SAMPLERS);
  private readonly echoes = Array.from({ length: EFFECT_UNITS }, () => new Float64Array(24));
  private place = 0;
  private readonly slotsOf = new Map<string, number>();

  /** @param emit receives what it reports */
  constructor(
    emit: (bytes: Uint8Array, from: number, to: number) => void,
    habits: Habits = PLAIN_HABITS,
  ) {
    super(BOOTH, emit, habits);
    for (const { id } of BOOTH.functions) this.slotsOf.set(id, this.at(id));
    this.slots.forEach(({ fn }, slot) => (this.values[slot] = grid(fn.rest)));
    this.decks = Array.from({ length: DECKS }, () => ({
      record: null,
      beat: 0,
      cuePoint: 0,
      previewing: false,
      hotCues: new Array<number>(HOT_CUES).fill(NaN),
      lastCue: 0,
      loopStart: -1,
      loopBeats: 4,
    }));
    for (let deck = 0; deck < DECKS; deck++) {
      this.load(deck, FIRST_RECORDS[deck]);
      this.values[this.slot('side', deck)] = valueOfChoice(SIDES.length, FIRST_SIDES[deck] * 2);
    }
    this.putText(this.slot('chosenText'), RECORDS[0].title);
    this.followSelected();
  }

  private slot(id: string, deck = 0): number {
    return (this.slotsOf.get(id) as number) + deck;
  }

  private value(id: string, deck = 0): number {
    return this.values[this.slot(id, deck)];
  }

  private isOn(id: string, deck = 0): boolean {
    return this.value(id, deck) >= 0.5;
  }

  private choice(id: string, total: number, deck = 0): number {
    return choiceAt(total, this.value(id, deck));
  }

  protected override get selected(): number {
    return this.focus;
  }

  /** Speed of a deck as a share of the record's own. */
  rate(deck: number): number {
    const range = PITCH_RANGES[this.choice('pitchRange', PITCH_RANGES.length, deck)];
    return (
      1 +
      (this.value('pitch', deck) - 0.5) * 2 * range +
      (this.value('bend', deck) - 0.5) * 2 * BEND_RANGE
    );
  }

  /** Beats a minute that a deck plays at. */
  tempo(deck: number): number {
    const { record } = this.decks[deck];
    return record ? record.bpm * this.rate(deck) : 0;
  }

  isPlaying(deck: number): boolean {
    return this.isOn('play', deck) || this.decks[deck].previewing;
  }

  protected override act(slot: number): void {
    const value = this.asked[0];
    const { fn, strip } = this.slots[slot];
    const deck = Math.max(0, strip);
    switch (fn.kind) {
      case 'continuous':
        this.put(slot, grid(value));
        if (fn.id === 'place') this.seek(deck, value);
        if (fn.id.startsWith('effect')) this.useEffect(fn.id, value);
        return;
      case 'choice':
        this.put(
          slot,
          valueOfChoice(fn.choices?.length ?? 1, choiceAt(fn.choices?.length ?? 1, value)),
        );
        return this.chose(fn.id, deck);
      case 'nudge':
        if (fn.id === 'jog') this.goTo(deck, this.decks[deck].beat + value * JOG_STEP);
        else this.browse(value);
        return;
      case 'trigger':
        if (value >= 0.5) this.trigger(fn.id, deck);
        return;
      case 'toggle':
        return this.switch(slot, fn.id, deck, value >= 0.5);
      default:
        return;
    }
  }

  private chose(id: string, deck: number): void {
    if (id === 'focusDeck') {
      this.focus = this.choice('focusDeck', DECKS);
      this.followSelected();
    } else if (id === 'crate') this.openCrate();
    else if (id === 'loopLength')
      this.decks[deck].loopBeats = LENGTHS[this.choice('loopLength', LENGTHS.length, deck)];
    else if (id === 'chosen')
      this.putText(this.slot('chosenText'), RECORDS[this.choice('chosen', RECORDS.length)].title);
    else if (id.startsWith('effect')) {
      const goesTo = /^effect\dDeck$/.test(id) ? this.choice(id, DECKS + 1) : -1;
      for (let to = 0; goesTo >= 0 && to < DECKS; to++)
        this.change(
          this.slot(id.replace('Deck', 'Assigned'), to),
          goesTo === 0 || goesTo === to + 1 ? 1 : 0,
        );
      this.useEffect(id, 0);
    }
    this.textDue = 0;
  }

  /** Where an effect goes to, told in one word: all decks, or the first of those that it is assigned to. */
  private tellGoesTo(unit: string): void {
    const decks = this.decks.map((_, deck) => this.isOn(`effect${unit}Assigned`, deck));
    const first = decks.indexOf(true);
    if (first < 0) return;
    const goesTo = decks.every(Boolean) ? 0 : first + 1;
    this.change(this.slot(`effect${unit}Deck`), valueOfChoice(DECKS + 1, goesTo));
  }

  /** Up and down the records of the crate that is open, or the crates where none is. */
  private browse(by: number): void {
    const isOpen = this.isOn('crateOpen');
    const crate = this.choice('crate', CRATES.length);
    const records = isOpen ? CRATES[crate].records : CRATES.map((_, at) => at);
    const now = isOpen ? records.indexOf(this.choice('chosen', RECORDS.length)) : crate;
    const next = records[Math.max(0, Math.min(records.length - 1, now + by))];
    this.chooseOne(isOpen ? 'chosen' : 'crate', next);
  }

  private chooseOne(id: 'chosen' | 'crate', index: number): void {
    const total = id === 'chosen' ? RECORDS.length : CRATES.length;
    this.put(this.slot(id), valueOfChoice(total, index));
    this.chose(id, 0);
  }

  /** In a crate that is open one of its own records is chosen. */
  private openCrate(): void {
    const { records } = CRATES[this.choice('crate', CRATES.length)];
    if (this.isOn('crateOpen') && !records.includes(this.choice('chosen', RECORDS.length)))
      this.chooseOne('chosen', records[0]);
  }

  private trigger(id: string, deck: number): void {
    const state = this.decks[deck];
    const jump = LENGTHS[this.choice('jumpLength', LENGTHS.length, deck)];
    switch (id) {
      case 'load':
        return this.load(deck, this.choice('chosen', RECORDS.length));
      case 'eject':
        return this.load(deck, -1);
      case 'jumpBack':
        return this.goTo(deck, state.beat - jump);
      case 'jumpOn':
        return this.goTo(deck, state.beat + jump);
      case 'hotCueLast':
        return this.hotCue(deck, state.lastCue);
      case 'hotCueClear':
        state.hotCues[state.lastCue] = NaN;
        return this.change(this.slot(`hotCue${state.lastCue + 1}`, deck), 0);
      case 'stop':
        // It halts, and stands where it will start again.
        state.previewing = false;
        this.change(this.slot('play', deck), 0);
        return this.goTo(deck, state.cuePoint);
      case 'loopIn':
        state.loopStart = this.onGrid(deck, state.beat);
        return;
      case 'loopOut':
        if (state.loopStart < 0 || state.beat <= state.loopStart) return;
        state.loopBeats = Math.max(LENGTHS[0], this.onGrid(deck, state.beat) - state.loopStart);
        return this.change(this.slot('loop', deck), 1);
      case 'listUp':
        return this.browse(-1);
      case 'listDown':
        return this.browse(1);
      case 'loopHalve':
        return this.stepLoop(deck, -1);
      default:
        return this.stepLoop(deck, 1);
    }
  }

  private stepLoop(deck: number, by: number): void {
    const total = LENGTHS.length;
    const next = Math.max(0, Math.min(total - 1, this.choice('loopLength', total, deck) + by));
    this.put(this.slot('loopLength', deck), valueOfChoice(total, next));
    this.chose('loopLength', deck);
  }

  private switch(slot: number, id: string, deck: number, on: boolean): void {
    const state = this.decks[deck];
    const hot = /^hotCue(\d)$/.exec(id);
    if (hot) {
      if (on) this.hotCue(deck, Number(hot[1]) - 1);
      else this.mark(slot);
      return;
    }
    if (id === 'cue') return this.cue(deck, slot, on);
    if (id === 'effectLastOn') {
      this.asked[0] = on ? 1 : 0;
      return this.act(this.slot(`effect${this.lastEffect + 1}On`));
    }
    if (id === 'play' && !state.record) return this.mark(slot);
    if (id === 'loop' && on && state.loopStart < 0) state.loopStart = this.onGrid(deck, state.beat);
    if (id === 'loop' && !on) state.loopStart = -1;
    this.put(slot, on ? 1 : 0);
    if (id === 'sync' && on) this.align(deck);
    if (id === 'crateOpen') this.openCrate();
    const assigned = /^effect(\d)Assigned$/.exec(id);
    if (assigned) this.tellGoesTo(assigned[1]);
    else if (id === 'effect2Fitted') this.fit(on);
    else if (id.startsWith('effect')) this.useEffect(id, on ? 1 : 0);
    const sampler = /^sampler(\d)$/.exec(id);
    if (sampler) this.sampleLeft[Number(sampler[1]) - 1] = on ? SAMPLE_MICROS : 0;
  }

  /** The second effect unit is there, or is not: then nothing of it is heard, and it is not the one used last. */
  private fit(on: boolean): void {
    if (on) return;
    this.put(this.slot('effect2On'), 0);
    if (this.lastEffect === 1) this.useEffect('effect1On', 0);
  }

  /** While stopped: sets the cue point and plays for as long as it is held. While playing: back to it, and stop. */
  private cue(deck: number, slot: number, on: boolean): void {
    const state = this.decks[deck];
    this.put(slot, on ? 1 : 0);
    if (!on) {
      if (state.previewing) this.goTo(deck, state.cuePoint);
      state.previewing = false;
      return;
    }
    if (this.isOn('play', deck)) {
      this.put(this.slot('play', deck), 0);
      this.goTo(deck, state.cuePoint);
    } else if (state.record) {
      state.cuePoint = this.onGrid(deck, state.beat);
      state.previewing = true;
    }
  }

  private useEffect(id: string, value: number): void {
    const unit = Number(/^effect(\d)/.exec(id)?.[1] ?? 0) - 1;
    if (id === 'effectLastAmount')
      this.put(this.slot(`effect${this.lastEffect + 1}Amount`), grid(value));
    else if (unit >= 0) this.lastEffect = unit;
    this.change(this.slot('effectLastOn'), this.value(`effect${this.lastEffect + 1}On`));
    this.change(this.slot('effectLastAmount'), this.value(`effect${this.lastEffect + 1}Amount`));
  }

  /** A beat, or the nearest whole one where the deck keeps in time. */
  private onGrid(deck: number, beat: number): number {
    return this.isOn('quantise', deck) ? Math.round(beat) : beat;
  }

  private seek(deck: number, share: number): void {
    this.goTo(deck, share * (this.decks[deck].record?.beats ?? 0));
  }

  private goTo(deck: number, beat: number): void {
    const state = this.decks[deck];
    state.beat = Math.max(0, Math.min(state.record?.beats ?? 0, beat));
    this.textDue = 0;
    this.meterDue = 0;
  }

  /** Sets a free hot cue here, or jumps to one that is set; in time with the beat its place in the beat is kept. */
  private hotCue(deck: number, index: number): void {
    const state = this.decks[deck];
    if (!state.record) return;
    state.lastCue = index;
    const at = state.hotCues[index];
    if (Number.isNaN(at)) state.hotCues[index] = this.onGrid(deck, state.beat);
    else {
      const within = this.isOn('quantise', deck) && this.isPlaying(deck) ? state.beat % 1 : 0;
      this.goTo(deck, at + within);
    }
    this.put(this.slot(`hotCue${index + 1}`, deck), 1);
  }

  private load(deck: number, index: number): void {
    const state = this.decks[deck];
    state.record = RECORDS[index] ?? null;
    state.beat = 0;
    state.cuePoint = 0;
    state.previewing = false;
    state.loopStart = -1;
    state.hotCues.fill(NaN);
    for (let cue = 1; cue <= HOT_CUES; cue++) this.change(this.slot(`hotCue${cue}`, deck), 0);
    this.change(this.slot('loop', deck), 0);
    this.change(this.slot('play', deck), 0);
    this.textDue = 0;
    this.tellTexts();
    this.tellStems(deck);
  }

  /** A record says what stems it comes in; no record has none. */
  private tellStems(deck: number): void {
    const total = this.decks[deck].record?.stems ?? 0;
    const group = STEM_GROUPS.findIndex((stems) => stems === total);
    if (group >= 0)
      this.change(this.slot('stemGroup', deck), valueOfChoice(STEM_GROUPS.length, group));
    for (let stem = 0; stem < STEMS; stem++) {
      this.change(this.slot(`stemHas${stem + 1}`, deck), stem < total ? 1 : 0);
      this.putText(this.slot(`stemName${stem + 1}`, deck), PART_NAMES[total]?.[stem] ?? '');
    }
  }

  /** Takes over the leader's tempo and the place of its beat. */
  private align(deck: number): void {
    const leader = this.choice('leader', DECKS);
    const state = this.decks[deck];
    const other = this.decks[leader];
    if (leader === deck || !state.record || !other.record) return;
    const range = PITCH_RANGES[this.choice('pitchRange', PITCH_RANGES.length, deck)];
    const wanted = this.tempo(leader) / state.record.bpm - 1;
    this.change(this.slot('pitch', deck), grid(0.5 + wanted / (2 * range)));
    if (this.isPlaying(leader)) this.goTo(deck, Math.floor(state.beat) + (other.beat % 1));
  }

  override advance(micros: number, t: number): void {
    super.advance(micros, t);
    const paced = this.decks.findIndex((state, deck) => state.record && this.isPlaying(deck));
    const before = paced < 0 ? 0 : this.decks[paced].beat;
    for (let deck = 0; deck < DECKS; deck++) this.turn(deck, micros);
    // The first deck that plays is the one whose beat is told.
    if (paced < 0) this.clockOut.stop();
    else this.clockOut.run(before, this.decks[paced].beat);
    for (let sampler = 0; sampler < SAMPLERS; sampler++) {
      if (this.sampleLeft[sampler] <= 0) continue;
      this.sampleLeft[sampler] -= micros;
      if (this.sampleLeft[sampler] <= 0) this.change(this.slot(`sampler${sampler + 1}`), 0);
    }
    if (this.isOn('record')) this.recorded += micros;
    if (t >= this.meterDue) {
      this.meterDue = t + METER_EVERY;
      this.measure();
    }
    if (t >= this.textDue) {
      this.textDue = t + TEXT_EVERY;
      this.tellTexts();
    }
    this.report();
  }

  private turn(deck: number, micros: number): void {
    const state = this.decks[deck];
    if (!state.record || !this.isPlaying(deck)) return;
    // Only tempo follows all the time; the beat was aligned when sync was pressed.
    const leader = this.choice('leader', DECKS);
    if (this.isOn('sync', deck) && leader !== deck && this.decks[leader].record) {
      const range = PITCH_RANGES[this.choice('pitchRange', PITCH_RANGES.length, deck)];
      const wanted = this.tempo(leader) / state.record.bpm - 1;
      this.change(this.slot('pitch', deck), grid(0.5 + wanted / (2 * range)));
    }
    state.beat += (micros * this.tempo(deck)) / 60_000_000;
    const end = state.loopStart + state.loopBeats;
    if (this.isOn('loop', deck) && state.loopStart >= 0 && state.beat >= end)
      state.beat = state.loopStart + ((state.beat - state.loopStart) % state.loopBeats);
    if (state.beat < state.record.beats) return;
    state.beat = state.record.beats;
    this.put(this.slot('play', deck), 0);
  }

  private tellTexts(): void {
    for (let deck = 0; deck < DECKS; deck++) {
      const { record, beat } = this.decks[deck];
      const tempo = this.tempo(deck);
      const left = record && tempo > 0 ? ((record.beats - beat) * 60) / tempo : 0;
      this.putText(this.slot('name', deck), record?.title ?? 'No record');
      this.putText(this.slot('tempoText', deck), record ? tempo.toFixed(1) : '');
      this.putText(this.slot('keyText', deck), record ? this.keyOf(deck, record) : '');
      this.putText(
        this.slot('timeText', deck),
        `${Math.floor(left / 60)}:${(left % 60).toFixed(1).padStart(4, '0')}`,
      );
      if (record) this.change(this.slot('place', deck), grid(beat / record.beats));
    }
    const seconds = this.recorded / 1_000_000;
    this.putText(
      this.slot('recordTime'),
      `${Math.floor(seconds / 60)}:${(seconds % 60).toFixed(1).padStart(4, '0')}`,
    );
  }

  /** The key that sounds, in semitones from the record's own: by key shift, and by speed where the key is not locked. */
  shiftOf(deck: number): number {
    const shift = KEY_SHIFTS[this.choice('keyShift', KEY_SHIFTS.length, deck)];
    const bySpeed = this.isOn('keyLock', deck)
      ? 0
      : 12 * Math.log2(Math.max(1e-3, this.rate(deck)));
    return shift + bySpeed;
  }

  private keyOf(deck: number, record: Disc): string {
    const shift = this.shiftOf(deck);
    const cents = Math.round((shift - Math.round(shift)) * 100);
    const off = cents === 0 ? '' : ` ${cents > 0 ? '+' : '−'}${Math.abs(cents)} ct`;
    return `${toneName(record.tone + shift)}${off}`;
  }

  /** Amplitudes of a deck's sources after its stems. */
  private stems(deck: number): Sound {
    const { record, beat } = this.decks[deck];
    if (!record || !this.isPlaying(deck)) return [0, 0, 0, 0, 0];
    const parts = PARTS[record.stems];
    const anySolo = parts.some((_, stem) => this.isOn(`stemSolo${stem + 1}`, deck));
    const [voice, rest] = balanceGains(this.value('balance', deck) * 2 - 1);
    const pair = this.choice('stemPair', 2) * 2;
    const out = soundAt(record, beat);
    // A record that is shifted up sounds brighter, and so a little softer in the bass.
    out[2] /= Math.sqrt(semitoneRatio(this.shiftOf(deck)));
    parts.forEach((sources, stem) => {
      const n = stem + 1;
      const heard =
        !this.isOn(`stemMute${n}`, deck) && (!anySolo || this.isOn(`stemSolo${n}`, deck));
      const cross = crossGains(this.value(`stemCross${n}`));
      const crossed = deck === pair ? cross[0] : deck === pair + 1 ? cross[1] : 1;
      const gain = heard ? this.value(`stem${n}`, deck) * crossed : 0;
      for (const source of sources) out[source] *= gain * (source === 0 ? voice : rest);
    });
    return out;
  }

  private faderGain(position: number): number {
    return position === 0 ? 0 : 10 ** ((FADER_TOP_DB + 60 * Math.log10(position)) / 20);
  }

  /** Amplitude of a deck before its fader: gain, four bands, filter, effects. */
  private channel(deck: number): number {
    const [voice, drums, bass, keys, others] = this.stems(deck);
    const rest = keys + others;
    const band = (id: string) => killGain(this.value(id, deck));
    const filter = this.value('filter', deck) * 2 - 1;
    // To the left the highs go, to the right the lows.
    const keep = (amount: number) => 1 - Math.min(1, Math.max(0, amount));
    const low = (bass + drums * 0.4) * band('low') * keep(filter * 1.2);
    const middle = keep(Math.abs(filter) * 1.1 - 0.2);
    const mid = (voice * 0.6 + rest * 0.6) * band('mid') * middle;
    const highMid = (voice * 0.8 + drums * 0.2) * band('highMid') * middle;
    const high = (drums * 0.5 + rest * 0.4 + voice * 0.2) * band('high') * keep(-filter * 1.2);
    return Math.hypot(low, mid, highMid, high) * band('gain') * HEADROOM;
  }

  private effect(unit: number, deck: number, level: number): number {
    const n = unit + 1;
    if (!this.isOn(`effect${n}On`) || !this.isOn(`effect${n}Assigned`, deck)) return level;
    const amount = this.value(`effect${n}Amount`);
    const time = this.value(`effect${n}Time`);
    const tone = 0.3 + 0.7 * this.value(`effect${n}Tone`);
    const tail = this.echoes[unit];
    const earlier = tail[(this.place - 1 - Math.round(time * 20) + 2 * tail.length) % tail.length];
    switch (this.choice(`effect${n}Kind`, EFFECTS.length)) {
      case 0:
        return level + earlier * amount * tone;
      case 1:
        return level * (1 - amount * tone * (0.5 + 0.5 * Math.sin(this.place * (0.2 + time))));
      case 2: {
        const steps = 2 + Math.round((1 - amount) * 30 * tone + time * 10);
        return Math.round(level * steps) / steps;
      }
      default:
        return level * (1 - amount * 0.5) + (earlier * 0.6 + level * 0.4 * time) * amount * tone;
    }
  }

  private measure(): void {
    const [a, b] = crossfade(this.value('crossfader'), this.choice('curve', 3));
    let master = 0;
    let phones = 0;
    const dry = new Float64Array(EFFECT_UNITS);
    for (let deck = 0; deck < DECKS; deck++) {
      let level = this.channel(deck);
      for (let unit = 0; unit < EFFECT_UNITS; unit++) {
        dry[unit] += level;
        level = this.effect(unit, deck, level);
      }
      if (this.isOn('headphone', deck)) phones += level * level;
      const out = level * this.faderGain(this.value('fader', deck));
      this.putMeter(this.slot('meter', deck), out);
      const side = this.choice('side', SIDES.length, deck);
      const gain = side === 1 ? 1 : side === 0 ? a : b;
      master += (out * gain) ** 2;
    }
    dry.forEach(
      (level, unit) => (this.echoes[unit][this.place % this.echoes[unit].length] = level),
    );
    this.place++;
    const samples = this.sampleLeft.reduce((sum, left) => sum + (left > 0 ? 1 : 0), 0);
    const sampled = samples * SAMPLE_LEVEL * this.faderGain(this.value('samplerLevel'));
    const main = (Math.sqrt(master) + sampled) * this.faderGain(this.value('masterLevel'));
    const mix = this.value('headphoneMix');
    this.putMeter(this.slot('masterMeter'), main);
    this.putMeter(
      this.slot('headphoneMeter'),
      (Math.sqrt(phones) * (1 - mix) + main * mix) * this.faderGain(this.value('headphoneLevel')),
    );
  }

  private putMeter(slot: number, level: number): void {
    const share = level > 0 ? Math.round(deflection(20 * Math.log10(level)) * 127) / 127 : 0;
    // A level that stays is told again, since surfaces let their meters fall by themselves.
    if (share !== this.values[slot] || share > 0) this.put(slot, share);
  }
}
