import { PLAIN_HABITS, type Habits } from './codec/habits.js';
import { BOOTH, DECKS, RECORDS, SAMPLERS, SIDES, choiceAt, valueOfChoice } from '@rondo/core/host';
import { BoothCrates } from './booth-crates.js';
import { Deck } from './booth-deck.js';
import { BoothEffects } from './booth-effects.js';
import { BoothMix, type Mixed } from './booth-mix.js';
import { SimulatedHost, grid } from './host.js';

const METER_EVERY = 50_000;
const TEXT_EVERY = 100_000;
/** A tick of the jog moves the record by this share of a beat. */
const JOG_STEP = 1 / 32;
const SAMPLE_MICROS = 1_500_000;
/** Records on the decks when the night begins. */
const FIRST_RECORDS = [0, 2, 4, 5];
/** Sides of the crossfader when the night begins: A, B, A, B. */
const FIRST_SIDES = [0, 1, 0, 1];

/** The simulated Booth: four decks play invented records through a mixer, and hear and report through bytes alone. */
export class Booth extends SimulatedHost {
  readonly decks: readonly Deck[];
  /** Time recorded, µs. */
  recorded = 0;
  private focus = 0;
  private meterDue = 0;
  private textDue = 0;
  private readonly sampleLeft = new Float64Array(SAMPLERS);
  private readonly slotsOf = new Map<string, number>();
  private readonly session = this.sessionOf();
  private readonly mix = new BoothMix(this.session);
  private readonly crates = new BoothCrates(this.session);
  private readonly effects = new BoothEffects(this.session);

  /** @param emit receives what it reports */
  constructor(
    emit: (bytes: Uint8Array, from: number, to: number) => void,
    habits: Habits = PLAIN_HABITS,
  ) {
    super(BOOTH, emit, habits);
    for (const { id } of BOOTH.functions) this.slotsOf.set(id, this.at(id));
    this.slots.forEach(({ fn }, slot) => (this.values[slot] = grid(fn.rest)));
    this.decks = Array.from({ length: DECKS }, (_, deck) => new Deck(this.session, deck));
    this.decks.forEach((deck, at) => {
      deck.load(FIRST_RECORDS[at]);
      this.values[this.slot('side', at)] = valueOfChoice(SIDES.length, FIRST_SIDES[at] * 2);
    });
    this.putText(this.slot('chosenText'), RECORDS[0].title);
    this.followSelected();
  }

  /** What its parts need of it. */
  private sessionOf(): Mixed {
    const decks = () => this.decks;
    const sampleLeft = this.sampleLeft;
    return {
      get decks() {
        return decks();
      },
      get samples() {
        return sampleLeft.reduce((sum, left) => sum + (left > 0 ? 1 : 0), 0);
      },
      slot: (id, deck) => this.slot(id, deck),
      value: (id, deck) => this.value(id, deck),
      isOn: (id, deck) => this.isOn(id, deck),
      choice: (id, total, deck) => this.choice(id, total, deck),
      valueAt: (slot) => this.values[slot],
      put: (slot, value) => this.put(slot, value),
      change: (slot, value) => this.change(slot, value),
      putText: (slot, text) => this.putText(slot, text),
    };
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

  private get leader(): Deck {
    return this.decks[this.choice('leader', DECKS)];
  }

  protected override act(slot: number): void {
    const value = this.asked[0];
    const { fn, strip } = this.slots[slot];
    const deck = Math.max(0, strip);
    switch (fn.kind) {
      case 'continuous':
        this.put(slot, grid(value));
        if (fn.id === 'place') this.decks[deck].seek(value);
        if (fn.id.startsWith('effect')) this.effects.use(fn.id, value);
        return;
      case 'choice':
        this.put(
          slot,
          valueOfChoice(fn.choices?.length ?? 1, choiceAt(fn.choices?.length ?? 1, value)),
        );
        return this.chose(fn.id, deck);
      case 'nudge':
        if (fn.id === 'jog') this.decks[deck].jump(value * JOG_STEP);
        else this.crates.browse(value);
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
    } else if (id === 'loopLength') this.decks[deck].takeLoopLength();
    else if (id === 'chosen' || id === 'crate') this.crates.chose(id);
    else if (id.startsWith('effect')) this.effects.chose(id);
    this.textDue = 0;
  }

  private trigger(id: string, at: number): void {
    const deck = this.decks[at];
    switch (id) {
      case 'load':
        return deck.load(this.choice('chosen', RECORDS.length));
      case 'eject':
        return deck.load(-1);
      case 'jumpBack':
        return deck.jump(-deck.jumpBeats);
      case 'jumpOn':
        return deck.jump(deck.jumpBeats);
      case 'hotCueLast':
        return deck.hotCue();
      case 'hotCueClear':
        return deck.clearHotCue();
      case 'stop':
        return deck.stop();
      case 'loopIn':
        return deck.loopIn();
      case 'loopOut':
        return deck.loopOut();
      case 'listUp':
        return this.crates.browse(-1);
      case 'listDown':
        return this.crates.browse(1);
      case 'loopHalve':
        return deck.stepLoop(-1);
      default:
        return deck.stepLoop(1);
    }
  }

  private switch(slot: number, id: string, at: number, on: boolean): void {
    const deck = this.decks[at];
    const hot = /^hotCue(\d)$/.exec(id);
    if (hot) {
      if (on) deck.hotCue(Number(hot[1]) - 1);
      else this.willSay(slot);
      return;
    }
    if (id === 'cue') return deck.cue(on);
    if (id === 'effectLastOn') {
      this.asked[0] = on ? 1 : 0;
      return this.act(this.effects.lastOn);
    }
    if (id === 'play' && !deck.record) return this.willSay(slot);
    if (id === 'loop') deck.loop(on);
    this.put(slot, on ? 1 : 0);
    if (id === 'sync' && on) deck.align(this.leader);
    if (id === 'crateOpen') this.crates.openCrate();
    const assigned = /^effect(\d)Assigned$/.exec(id);
    if (assigned) this.effects.tellGoesTo(assigned[1]);
    else if (id === 'effect2Fitted') this.effects.fit(on);
    else if (id.startsWith('effect')) this.effects.use(id, on ? 1 : 0);
    const sampler = /^sampler(\d)$/.exec(id);
    if (sampler) this.sampleLeft[Number(sampler[1]) - 1] = on ? SAMPLE_MICROS : 0;
  }

  override advance(micros: number, t: number): void {
    super.advance(micros, t);
    const paced = this.decks.find(({ record, isPlaying }) => record && isPlaying);
    const before = paced?.beat ?? 0;
    const { leader } = this;
    for (const deck of this.decks) {
      deck.turn(micros, leader);
      // What has jumped is told at once.
      if (deck.hasMoved) this.meterDue = this.textDue = 0;
      deck.hasMoved = false;
    }
    // The first deck that plays is the one whose beat is told.
    if (paced) this.clockOut.run(before, paced.beat);
    else this.clockOut.stop();
    for (let sampler = 0; sampler < SAMPLERS; sampler++) {
      if (this.sampleLeft[sampler] <= 0) continue;
      this.sampleLeft[sampler] -= micros;
      if (this.sampleLeft[sampler] <= 0) this.change(this.slot(`sampler${sampler + 1}`), 0);
    }
    if (this.isOn('record')) this.recorded += micros;
    if (t >= this.meterDue) {
      this.meterDue = t + METER_EVERY;
      this.mix.measure();
    }
    if (t >= this.textDue) {
      this.textDue = t + TEXT_EVERY;
      this.tellTexts();
    }
    this.report();
  }

  private tellTexts(): void {
    for (const deck of this.decks) deck.tellTexts();
    const seconds = this.recorded / 1_000_000;
    this.putText(
      this.slot('recordTime'),
      `${Math.floor(seconds / 60)}:${(seconds % 60).toFixed(1).padStart(4, '0')}`,
    );
  }
}
