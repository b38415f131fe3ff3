import { StreamParser, type MessageSink } from '@rondo/core/wire';
import { MAX_VALUE_BYTES, Receiver, Sender } from '@rondo/core/surface';
import {
  FADER_TOP_DB,
  STUDIO,
  addressOf,
  deflection,
  faderTaper,
  slotsOf,
  tempoLaw,
  type Slot,
} from '@rondo/core/host';

const METER_EVERY = 50_000;
const TIME_EVERY = 100_000;
const AUTOMATION_EVERY = 20_000;
/** After a move by hand or by a surface, written automation stays away from that strip this long, µs. */
const AUTOMATION_WAITS = 1_000_000;
const BEATS_PER_BAR = 4;
/** Share of a bar within which ‘back one bar’ skips the line just passed. */
const JUST_PASSED = 0.2;
const SCRUB_STEP = 100_000;
const LOOP_START = 8;
const LOOP_END = 24;

/** Written volume automation, decibels by bar; it repeats after the last bar. Ours. */
const LANES: readonly { strip: number; points: readonly (readonly [bar: number, db: number])[] }[] =
  [
    {
      strip: 2,
      points: [
        [0, -18],
        [1, -3],
        [2, -3],
        [3, -24],
        [4, -18],
      ],
    },
    {
      strip: 6,
      points: [
        [0, -30],
        [2, -8],
        [4, -30],
      ],
    },
  ];

const START_DB = [
  -6, -8, -18, -12, -15, -20, -30, -9, -10, -14, -12, -11, -9, -8, -24, -16, -3, -6, -5, 0,
];
const START_PAN = [0, -12, 30, -40, 20, 55, 0, -25, 25, 45, 0, -60, 10, 0, 0, -5, 0, 0, 0, 0];

/** Which bus a track goes to: Dialogue 16, Effects 17, Music 18. */
const BUS_OF = [16, 16, 17, 17, 17, 17, 17, 18, 18, 18, 18, 18, 18, 16, 17, 17];
const MASTER = 19;
const TRACKS = 16;

/** Stored on a 14-bit grid, as it is told. */
const grid = (value: number): number =>
  Math.round(Math.max(0, Math.min(1, value)) * 16_383) / 16_383;

/**
 * The simulated Studio: it plays, meters and automates, and hears and reports through bytes alone.
 */
export class Studio implements MessageSink {
  readonly slots: readonly Slot[] = slotsOf(STUDIO);
  /** Every value, 0…1, by slot. */
  readonly values = new Float64Array(this.slots.length);
  /** Song position, µs. */
  position = 0;

  private readonly index = new Map(this.slots.map((slot, i) => [slot.address, i]));
  private readonly receiver = new Receiver(this.slots.map((slot) => slot.set));
  private readonly sender = new Sender(this.slots.map((slot) => slot.report));
  private readonly parser = new StreamParser(this, 4_096);
  private readonly scratch = new Uint8Array(Math.max(MAX_VALUE_BYTES, 256));
  private readonly due = new Uint8Array(this.slots.length);
  private readonly dueList = new Int32Array(this.slots.length);
  private dueCount = 0;
  private readonly handAt: Float64Array;
  private readonly volume = this.at('volume', 0);
  private readonly mute = this.at('mute', 0);
  private readonly solo = this.at('solo', 0);
  private readonly select = this.at('select', 0);
  private readonly meter = this.at('meter', 0);
  private readonly play = this.at('play');
  private readonly stopSlot = this.at('stop');
  private readonly record = this.at('record');
  private readonly loop = this.at('loop');
  private readonly tempo = this.at('tempo');
  private readonly time = this.at('time');
  private now = 0;
  private meterDue = 0;
  private timeDue = 0;
  private automationDue = 0;
  private timeShown = '';

  /** @param emit receives what it reports */
  constructor(private readonly emit: (bytes: Uint8Array, from: number, to: number) => void) {
    this.handAt = new Float64Array(STUDIO.strips.length).fill(-AUTOMATION_WAITS);
    STUDIO.strips.forEach((_, strip) => {
      this.values[this.volume + strip] = grid(faderTaper.fromUnit(START_DB[strip]));
      this.values[this.at('pan', strip)] = grid(0.5 + START_PAN[strip] / 200);
    });
    this.values[this.select] = 1;
    this.values[this.stopSlot] = 1;
    this.values[this.tempo] = grid(tempoLaw.fromUnit(96));
  }

  private at(functionId: string, strip = -1): number {
    const i = this.index.get(addressOf(functionId, strip));
    if (i === undefined) throw new Error(`The Studio has no ${addressOf(functionId, strip)}`);
    return i;
  }

  /** Index of a value by its address, −1 where there is none. */
  slotOf(address: string): number {
    return this.index.get(address) ?? -1;
  }

  get isPlaying(): boolean {
    return this.values[this.play] === 1;
  }

  /** Beats a minute, kept to tenths. */
  get bpm(): number {
    return Math.round(tempoLaw.toUnit(this.values[this.tempo]) * 10) / 10;
  }

  private get barMicros(): number {
    return (BEATS_PER_BAR * 60_000_000) / this.bpm;
  }

  /** Bars and beats from 1, as people count them. */
  get timeText(): string {
    const beats = Math.floor((this.position * this.bpm) / 60_000_000 + 1e-9);
    const seconds = this.position / 1_000_000;
    const clock = `${Math.floor(seconds / 60)}:${(seconds % 60).toFixed(1).padStart(4, '0')}`;
    return `${Math.floor(beats / BEATS_PER_BAR) + 1}.${(beats % BEATS_PER_BAR) + 1}  ${clock}`;
  }

  /** Bytes that come to it. */
  receive(bytes: Uint8Array, from: number, to: number, t: number): void {
    this.now = t;
    this.parser.feed(bytes, from, to);
    this.report();
  }

  short(packed: number): void {
    const slot = this.receiver.accept(packed);
    if (slot >= 0) this.apply(slot, this.receiver.value);
  }

  sysex(bytes: Uint8Array, from: number, to: number): void {
    const { ask } = STUDIO;
    if (!ask || to - from !== ask.length || !ask.every((byte, i) => bytes[from + i] === byte))
      return;
    this.slots.forEach((slot, i) => {
      if (slot.report) this.mark(i);
    });
  }

  /** A hand on the Studio's own picture sets a function: its value, or ticks for a nudge. */
  set(slot: number, value: number, t: number): void {
    this.now = t;
    if (!this.slots[slot]?.exists) return;
    this.apply(slot, value);
    this.report();
  }

  private apply(slot: number, value: number): void {
    const { fn, strip } = this.slots[slot];
    switch (fn.kind) {
      case 'continuous':
        if (fn.id === 'volume') this.handAt[strip] = this.now;
        this.put(slot, grid(value));
        return;
      case 'nudge':
        this.position = Math.max(0, this.position + value * SCRUB_STEP);
        this.timeDue = 0;
        return;
      case 'trigger':
        if (value >= 0.5) this.jumpBar(fn.id === 'forward' ? 1 : -1);
        return;
      case 'toggle':
        this.switch(slot, value >= 0.5);
        return;
      default:
        return;
    }
  }

  private switch(slot: number, on: boolean): void {
    const { fn } = this.slots[slot];
    if (fn.id === 'select') {
      // One strip is always selected.
      if (on)
        for (let strip = 0; strip < STUDIO.strips.length; strip++)
          this.put(this.select + strip, this.select + strip === slot ? 1 : 0);
      else this.mark(slot);
      return;
    }
    if (slot === this.stopSlot || (slot === this.play && !on)) {
      if (!on && slot === this.stopSlot) return this.mark(slot);
      this.put(this.play, 0);
      this.put(this.record, 0);
      this.put(this.stopSlot, 1);
      return;
    }
    if (slot === this.play) {
      this.put(this.play, 1);
      this.put(this.stopSlot, 0);
      return;
    }
    this.put(slot, on ? 1 : 0);
  }

  /** To the next bar line, or to the last one; to the one before that where this one has only just passed. */
  private jumpBar(by: 1 | -1): void {
    const bars = this.position / this.barMicros;
    const line = by > 0 ? Math.floor(bars + 1e-9) + 1 : Math.ceil(bars - JUST_PASSED) - 1;
    this.position = Math.max(0, line) * this.barMicros;
    this.timeDue = 0;
  }

  private put(slot: number, value: number): void {
    this.values[slot] = value;
    this.mark(slot);
  }

  private mark(slot: number): void {
    if (this.due[slot] !== 0) return;
    this.due[slot] = 1;
    this.dueList[this.dueCount++] = slot;
  }

  private report(): void {
    for (let i = 0; i < this.dueCount; i++) {
      const slot = this.dueList[i];
      this.due[slot] = 0;
      const { fn, strip } = this.slots[slot];
      const length =
        fn.kind === 'text'
          ? this.sender.writeText(
              slot,
              this.sender.fit(slot, fn.id === 'name' ? STUDIO.strips[strip].name : this.timeText),
              this.scratch,
              0,
            )
          : this.sender.write(slot, this.sender.wire(slot, this.values[slot]), this.scratch, 0);
      this.emit(this.scratch, 0, length);
    }
    this.dueCount = 0;
  }

  /** Plays on for `micros`: time runs, automation moves faders, meters follow. */
  advance(micros: number, t: number): void {
    this.now = t;
    if (this.isPlaying) {
      this.position += micros;
      const bar = this.barMicros;
      if (this.values[this.loop] === 1 && this.position >= LOOP_END * bar)
        this.position =
          LOOP_START * bar + ((this.position - LOOP_END * bar) % ((LOOP_END - LOOP_START) * bar));
      if (t >= this.automationDue) {
        this.automationDue = t + AUTOMATION_EVERY;
        for (const lane of LANES) this.follow(lane);
      }
    }
    if (t >= this.meterDue) {
      this.meterDue = t + METER_EVERY;
      this.measure();
    }
    if (t >= this.timeDue) {
      this.timeDue = t + TIME_EVERY;
      if (this.timeText !== this.timeShown) {
        this.timeShown = this.timeText;
        this.mark(this.time);
      }
    }
    this.report();
  }

  private follow({ strip, points }: (typeof LANES)[number]): void {
    if (this.now - this.handAt[strip] < AUTOMATION_WAITS) return;
    const last = points[points.length - 1][0];
    const bar = (this.position / this.barMicros) % last;
    const next = points.findIndex(([at]) => at > bar);
    const [bar0, db0] = points[next - 1];
    const [bar1, db1] = points[next];
    const db = db0 + ((bar - bar0) / (bar1 - bar0)) * (db1 - db0);
    const value = grid(faderTaper.fromUnit(db));
    if (value !== this.values[this.volume + strip]) this.put(this.volume + strip, value);
  }

  /** Amplitude of a track before its fader, 0…1: an invented, repeatable envelope of the song position. */
  private source(strip: number): number {
    const s = this.position / 1_000_000;
    const slow = 0.5 + 0.5 * Math.sin(s * (0.31 + strip * 0.07) + strip * 1.7);
    const fast = 0.6 + 0.4 * Math.sin(s * (5.3 + strip * 0.9) + strip);
    return 0.55 * slow * fast;
  }

  private gain(strip: number): number {
    const position = this.values[this.volume + strip];
    return position === 0 ? 0 : 10 ** ((FADER_TOP_DB + 60 * Math.log10(position)) / 20);
  }

  private measure(): void {
    const { values } = this;
    let anySolo = false;
    for (let strip = 0; strip < MASTER; strip++) anySolo ||= values[this.solo + strip] === 1;
    const bus = [0, 0, 0];
    let master = 0;
    for (let strip = 0; strip < TRACKS; strip++) {
      const to = BUS_OF[strip];
      const heard =
        this.isPlaying &&
        values[this.mute + strip] === 0 &&
        (!anySolo || values[this.solo + strip] === 1 || values[this.solo + to] === 1);
      const level = heard ? this.source(strip) * this.gain(strip) : 0;
      bus[to - TRACKS] += level * level;
      this.putMeter(strip, level);
    }
    bus.forEach((power, b) => {
      const strip = TRACKS + b;
      const level = values[this.mute + strip] === 1 ? 0 : Math.sqrt(power) * this.gain(strip);
      master += level * level;
      this.putMeter(strip, level);
    });
    const out = values[this.mute + MASTER] === 1 ? 0 : Math.sqrt(master) * this.gain(MASTER);
    this.putMeter(MASTER, out);
  }

  private putMeter(strip: number, level: number): void {
    const share = level > 0 ? Math.round(deflection(20 * Math.log10(level)) * 127) / 127 : 0;
    if (share !== this.values[this.meter + strip] || share > 0) this.put(this.meter + strip, share);
  }
}
