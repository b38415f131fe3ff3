import { PLAIN_HABITS, type Habits } from './codec/habits.js';
import {
  INSERTS,
  STUDIO,
  TEMPO_MAX,
  TEMPO_MIN,
  barsLaw,
  choiceAt,
  faderTaper,
  tempoLaw,
  valueOfChoice,
} from '@rondo/core/host';
import { History } from './history.js';
import { SimulatedHost, grid } from './host.js';
import { StudioAutomation, type AutomatedSession } from './studio-automation.js';
import { StudioClips, type Clip, type ClipSession } from './studio-clips.js';
import { StudioFocus, type FocusedSession } from './studio-focus.js';
import { JUST_PASSED, StudioMarkers, type MarkedSong, type Marker } from './studio-markers.js';
import { StudioMeters, type Measured } from './studio-meters.js';

export type { Clip } from './studio-clips.js';

const METER_EVERY = 50_000;
const TIME_EVERY = 100_000;
const AUTOMATION_EVERY = 20_000;
const BEATS_PER_BAR = 4;
const SCRUB_STEP = 100_000;
/** Taps further apart than this begin anew, µs. */
const LONGEST_TAP = 3_000_000;
const MOST_UNDO = 200;
/** Moves of one function within this time are one step of undo, µs. */
const ONE_MOVE = 1_000_000;

const START_DB = [
  -6, -8, -18, -12, -15, -20, -30, -9, -10, -14, -12, -11, -9, -8, -24, -16, -3, -6, -5, 0,
];
const START_PAN = [0, -12, 30, -40, 20, 55, 0, -25, 25, 45, 0, -60, 10, 0, 0, -5, 0, 0, 0, 0];
const TRACKS = 16;
/** Functions whose changes by hand can be undone. */
const UNDOABLE = /^(volume|pan|mute|solo|arm|send\d|insert\d(On|Parameter\d+)|tempo|automation)$/;

/**
 * The simulated Studio: it plays, meters, automates, launches clips and keeps markers, and hears and reports through
 * bytes alone.
 */
export class Studio extends SimulatedHost {
  /** Song position, µs. */
  position = 0;
  /** Beats that the click has struck. */
  clicks = 0;
  /** Bars recorded on each track. */
  readonly recorded = new Float64Array(TRACKS);

  private readonly volume = this.at('volume');
  private readonly pan = this.at('pan');
  private readonly arm = this.at('arm');
  private readonly select = this.at('select');
  private readonly play = this.at('play');
  private readonly stopSlot = this.at('stop');
  private readonly record = this.at('record');
  private readonly loop = this.at('loop');
  private readonly click = this.at('click');
  private readonly punch = this.at('punch');
  private readonly tempo = this.at('tempo');
  private readonly time = this.at('time');
  private readonly undoable = Uint8Array.from(this.slots, ({ fn }) =>
    UNDOABLE.test(fn.id) ? 1 : 0,
  );
  private readonly unsaved = this.at('unsaved');
  private readonly focusInsert = this.at('focusInsert');
  private readonly focusPage = this.at('focusPage');
  private selectedStrip = 0;
  private meterDue = 0;
  private timeDue = 0;
  private automationDue = 0;
  private taps: number[] = [];
  private readonly session = this.sessionOf();
  private readonly grid = new StudioClips(this.session);
  private readonly meters = new StudioMeters(this.session);
  private readonly automation = new StudioAutomation(this.session);
  private readonly marks = new StudioMarkers(this.session);
  private readonly focused = new StudioFocus(this.session);
  private readonly history = new History(MOST_UNDO, ONE_MOVE);
  /** The value before a move, and the time of it: see {@link History.remember}. */
  private readonly kept = new Float64Array(1);

  /** @param emit receives what it reports */
  constructor(
    emit: (bytes: Uint8Array, from: number, to: number) => void,
    habits: Habits = PLAIN_HABITS,
  ) {
    super(STUDIO, emit, habits);
    STUDIO.strips.forEach(({ name }, strip) => {
      this.values[this.volume + strip] = grid(faderTaper.fromUnit(START_DB[strip]));
      this.values[this.pan + strip] = grid(0.5 + START_PAN[strip] / 200);
      this.texts[this.at('name', strip)] = name;
      for (let insert = 0; insert < INSERTS.length; insert++)
        this.values[this.at(`insert${insert + 1}On`, strip)] = 1;
    });
    this.values[this.select] = 1;
    this.values[this.stopSlot] = 1;
    this.values[this.tempo] = grid(tempoLaw.fromUnit(96));
    this.values[this.at('loopStart')] = grid(barsLaw.fromUnit(8));
    this.values[this.at('loopEnd')] = grid(barsLaw.fromUnit(24));
    this.values[this.at('punchIn')] = grid(barsLaw.fromUnit(16));
    this.values[this.at('punchOut')] = grid(barsLaw.fromUnit(20));
    this.values[this.at('zoomAcross')] = grid(0.3);
    this.values[this.at('zoomDown')] = grid(0.5);
    this.followSelected();
    this.focused.tell();
    this.grid.tellCell();
    this.marks.tell();
  }

  /** What its parts need of it. */
  private sessionOf(): Measured & ClipSession & AutomatedSession & MarkedSong & FocusedSession {
    const now = {
      position: () => this.position,
      isPlaying: () => this.isPlaying,
      bar: () => this.bar,
      selected: () => this.selectedStrip,
    };
    return {
      values: this.values,
      slots: this.slots,
      clock: this.clock,
      get position() {
        return now.position();
      },
      get isPlaying() {
        return now.isPlaying();
      },
      get bar() {
        return now.bar();
      },
      get selected() {
        return now.selected();
      },
      at: (id: string, strip?: number) => this.at(id, strip),
      goToBar: (bar) => this.goTo(bar * this.barMicros),
      put: (slot, value) => this.put(slot, value),
      change: (slot, value) => this.change(slot, value),
      putText: (slot, text) => this.putText(slot, text),
      start: () => this.start(),
      playsClip: (track) => this.grid.playsClip(track),
    };
  }

  get markers(): readonly Marker[] {
    return this.marks.all;
  }

  /** Clips by track and scene; null where a cell is empty. */
  get clips(): readonly (readonly (Clip | null)[])[] {
    return this.grid.clips;
  }

  protected override get selected(): number {
    return this.selectedStrip;
  }

  /** How many points of a strip's automation are written. */
  written(strip: number): number {
    return this.automation.written(strip);
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

  /** Place in the song, in bars from 0. */
  get bar(): number {
    return this.position / this.barMicros;
  }

  /** Bars and beats from 1, as people count them. */
  get timeText(): string {
    const beats = Math.floor((this.position * this.bpm) / 60_000_000 + 1e-9);
    const seconds = this.position / 1_000_000;
    const clock = `${Math.floor(seconds / 60)}:${(seconds % 60).toFixed(1).padStart(4, '0')}`;
    return `${Math.floor(beats / BEATS_PER_BAR) + 1}.${(beats % BEATS_PER_BAR) + 1}  ${clock}`;
  }

  protected override act(slot: number): void {
    const value = this.asked[0];
    const { fn, strip } = this.slots[slot];
    const before = this.values[slot];
    switch (fn.kind) {
      case 'continuous':
        this.move(slot, strip);
        break;
      case 'choice':
        this.choose(slot, fn.id, strip, choiceAt(fn.choices?.length ?? 1, value), value);
        break;
      case 'nudge':
        this.goTo(this.position + value * SCRUB_STEP);
        break;
      case 'trigger':
        if (value >= 0.5) this.trigger(fn.id, strip);
        break;
      case 'toggle':
        this.switch(slot, fn.id, value >= 0.5);
        break;
      default:
        break;
    }
    if (this.undoable[slot] !== 0 && this.values[slot] !== before) {
      this.kept[0] = before;
      this.remember(slot);
    }
    if (fn.category === 'Inserts') this.focused.tell();
  }

  private move(slot: number, strip: number): void {
    if (slot === this.volume + strip) this.automation.touched(strip);
    const focused = this.focused.placeOf(slot);
    if (focused >= 0) {
      const real = this.focused.focused(focused);
      if (real >= 0) this.act(real);
      else this.mark(slot);
      return;
    }
    this.put(slot, grid(this.asked[0]));
  }

  private choose(slot: number, id: string, strip: number, index: number, value: number): void {
    if (id.startsWith('clip')) {
      this.grid.launch(strip, Number(id.slice(4)) - 1, value > 0);
      this.mark(slot);
      return;
    }
    this.put(slot, valueOfChoice(this.slots[slot].fn.choices?.length ?? 1, index));
    if (id === 'noteEnter') this.grid.enter(index);
    if (id.startsWith('cell')) this.grid.tellCell();
    if (id === 'focusInsert') this.put(this.focusPage, 0);
    if (id.startsWith('focus')) this.focused.tell();
  }

  private switch(slot: number, id: string, on: boolean): void {
    if (id === 'select') {
      // One strip is always selected.
      if (on) this.selectStrip(slot - this.select);
      else this.mark(slot);
      return;
    }
    if (id === 'focusOn') {
      const { insert } = this.focused;
      this.asked[0] = on ? 1 : 0;
      this.act(this.at(`insert${insert + 1}On`, this.selectedStrip));
      return;
    }
    if (slot === this.stopSlot || (slot === this.play && !on)) {
      if (!on && slot === this.stopSlot) return this.mark(slot);
      this.stop();
      return;
    }
    if (slot === this.play) {
      this.start();
      return;
    }
    this.put(slot, on ? 1 : 0);
  }

  private start(): void {
    this.put(this.play, 1);
    this.put(this.stopSlot, 0);
    this.automation.begin();
  }

  private stop(): void {
    this.put(this.play, 0);
    this.put(this.record, 0);
    this.put(this.stopSlot, 1);
    for (let track = 0; track < TRACKS; track++) this.grid.stopClips(track);
  }

  private selectStrip(strip: number): void {
    this.selectedStrip = strip;
    for (let other = 0; other < STUDIO.strips.length; other++)
      this.put(this.select + other, other === strip ? 1 : 0);
    this.followSelected();
    this.focused.tell();
  }

  /** Selects the strip beside the one that is selected; at an end it stays. */
  private stepTrack(by: 1 | -1): void {
    const next = this.selectedStrip + by;
    if (next >= 0 && next < STUDIO.strips.length) this.selectStrip(next);
  }

  private trigger(id: string, strip: number): void {
    const numbered = /^(marker|scene|user)(\d+)$/.exec(id);
    if (numbered) {
      const n = Number(numbered[2]);
      if (numbered[1] === 'marker') this.marks.to(n - 1);
      else if (numbered[1] === 'scene') this.grid.launchScene(n - 1);
      else this.putText(this.at('lastAction'), `User action ${n}`);
      return;
    }
    switch (id) {
      case 'rewind':
        return this.jumpBar(-1);
      case 'forward':
        return this.jumpBar(1);
      case 'toStart':
        return this.goTo(0);
      case 'tapTempo':
        return this.tap();
      case 'focusNext':
        return this.stepInsert(1);
      case 'focusPrevious':
        return this.stepInsert(-1);
      case 'markerAdd':
        return this.marks.add();
      case 'markerNext':
        return this.marks.step(1);
      case 'markerPrevious':
        return this.marks.step(-1);
      case 'undo':
        return this.stepEdit('undo');
      case 'redo':
        return this.stepEdit('redo');
      case 'save':
        return this.change(this.unsaved, 0);
      case 'restEnter':
        return this.grid.enter(-1);
      case 'trackNext':
        return this.stepTrack(1);
      case 'trackPrevious':
        return this.stepTrack(-1);
      case 'clipStop':
        return this.grid.stopClips(strip);
      case 'clipStopAll':
        for (let track = 0; track < TRACKS; track++) this.grid.stopClips(track);
        return;
      default:
        return this.grid.editClip(id);
    }
  }

  private stepInsert(by: number): void {
    const total = INSERTS.length;
    this.choose(this.focusInsert, 'focusInsert', -1, (this.focused.insert + by + total) % total, 0);
  }

  private goTo(position: number): void {
    this.position = Math.max(0, position);
    this.timeDue = 0;
    this.marks.tell();
  }

  /** To the next bar line, or to the last one; to the one before that where this one has only just passed. */
  private jumpBar(by: 1 | -1): void {
    const line = by > 0 ? Math.floor(this.bar + 1e-9) + 1 : Math.ceil(this.bar - JUST_PASSED) - 1;
    this.goTo(Math.max(0, line) * this.barMicros);
  }

  /** Tempo from the time between taps: the mean of the last four. */
  private tap(): void {
    const last = this.taps.at(-1);
    if (last !== undefined && this.clock[0] - last > LONGEST_TAP) this.taps = [];
    this.taps = [...this.taps, this.clock[0]].slice(-5);
    if (this.taps.length < 2) return;
    const beat = (this.clock[0] - this.taps[0]) / (this.taps.length - 1);
    const bpm = Math.max(TEMPO_MIN, Math.min(TEMPO_MAX, 60_000_000 / beat));
    this.kept[0] = this.values[this.tempo];
    this.put(this.tempo, grid(tempoLaw.fromUnit(bpm)));
    this.remember(this.tempo);
  }

  /** A value was moved from the one kept. */
  private remember(slot: number): void {
    this.history.remember(slot, this.kept, this.values, this.clock);
    this.change(this.unsaved, 1);
  }

  private stepEdit(way: 'undo' | 'redo'): void {
    if (!this.history[way]((slot, value) => this.put(slot, value))) return;
    this.change(this.unsaved, 1);
    this.focused.tell();
  }

  /** Plays on for `micros`: time runs, clips start on their bar, automation moves faders, meters follow. */
  override advance(micros: number, t: number): void {
    super.advance(micros, t);
    if (this.isPlaying) this.run(micros);
    else this.clockOut.stop();
    if (t >= this.meterDue) {
      this.meterDue = t + METER_EVERY;
      this.meters.measure();
    }
    if (t >= this.timeDue) {
      this.timeDue = t + TIME_EVERY;
      this.putText(this.time, this.timeText);
      this.marks.tell();
    }
    this.report();
  }

  private run(micros: number): void {
    const bar = this.barMicros;
    const from = this.position;
    this.position += micros;
    const beat = bar / BEATS_PER_BAR;
    this.clockOut.run(from / beat, this.position / beat);
    if (this.values[this.click] === 1)
      this.clicks += Math.floor(this.position / beat) - Math.floor(from / beat);
    if (Math.floor(this.position / bar) !== Math.floor(from / bar)) this.grid.startWaiting();
    if (this.values[this.record] === 1) this.take(from / bar, this.position / bar);
    const [start, end] = ['loopStart', 'loopEnd'].map(
      (id) => Math.round(barsLaw.toUnit(this.values[this.at(id)])) * bar,
    );
    if (this.values[this.loop] === 1 && end > start && from < end && this.position >= end)
      this.position = start + ((this.position - end) % (end - start));
    if (this.clock[0] >= this.automationDue) {
      this.automationDue = this.clock[0] + AUTOMATION_EVERY;
      this.automation.move();
    }
  }

  /** Records on armed tracks; with punch on, only between punch in and out. */
  private take(from: number, to: number): void {
    let [first, last] = [from, to];
    if (this.values[this.punch] === 1) {
      first = Math.max(first, barsLaw.toUnit(this.values[this.at('punchIn')]));
      last = Math.min(last, barsLaw.toUnit(this.values[this.at('punchOut')]));
    }
    if (last <= first) return;
    for (let track = 0; track < TRACKS; track++)
      if (this.values[this.arm + track] === 1) this.recorded[track] += last - first;
    this.change(this.unsaved, 1);
  }
}
