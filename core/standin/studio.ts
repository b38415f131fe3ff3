import { PLAIN_HABITS, type Habits } from './codec/habits.js';
import {
  INSERTS,
  STUDIO,
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
import { StudioMarkers, type MarkedSong, type Marker } from './studio-markers.js';
import { StudioMeters, type Measured } from './studio-meters.js';
import { StudioTransport, type PlayedSession } from './studio-transport.js';

export type { Clip } from './studio-clips.js';

const METER_EVERY = 50_000;
const TIME_EVERY = 100_000;
const AUTOMATION_EVERY = 20_000;
const SCRUB_STEP = 100_000;
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
  private readonly volume = this.at('volume');
  private readonly pan = this.at('pan');
  private readonly select = this.at('select');
  private readonly play = this.at('play');
  private readonly stopSlot = this.at('stop');
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
  private readonly session = this.sessionOf();
  /** Where the song is, and whether it plays. */
  readonly transport = new StudioTransport(this.session);
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
  private sessionOf(): Measured &
    ClipSession &
    AutomatedSession &
    MarkedSong &
    FocusedSession &
    PlayedSession {
    const now = {
      transport: () => this.transport,
      selected: () => this.selectedStrip,
    };
    return {
      values: this.values,
      slots: this.slots,
      clock: this.clock,
      clockOut: this.clockOut,
      get position() {
        return now.transport().position;
      },
      get isPlaying() {
        return now.transport().isPlaying;
      },
      get bar() {
        return now.transport().bar;
      },
      get selected() {
        return now.selected();
      },
      at: (id: string, strip?: number) => this.at(id, strip),
      goToBar: (bar) => this.transport.goToBar(bar),
      put: (slot, value) => this.put(slot, value),
      change: (slot, value) => this.change(slot, value),
      putText: (slot, text) => this.putText(slot, text),
      start: () => this.transport.start(),
      begins: () => this.automation.begin(),
      ends: () => this.stopAllClips(),
      barBegins: () => this.grid.startWaiting(),
      jumped: () => {
        this.timeDue = 0;
        this.marks.tell();
      },
      playsClip: (track) => this.grid.playsClip(track),
    };
  }

  private stopAllClips(): void {
    for (let track = 0; track < TRACKS; track++) this.grid.stopClips(track);
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
        this.transport.goTo(this.transport.position + value * SCRUB_STEP);
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
      else this.willSay(slot);
      return;
    }
    this.put(slot, grid(this.asked[0]));
  }

  private choose(slot: number, id: string, strip: number, index: number, value: number): void {
    if (id.startsWith('clip')) {
      this.grid.launch(strip, Number(id.slice(4)) - 1, value > 0);
      this.willSay(slot);
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
      else this.willSay(slot);
      return;
    }
    if (id === 'focusOn') {
      const { insert } = this.focused;
      this.asked[0] = on ? 1 : 0;
      this.act(this.at(`insert${insert + 1}On`, this.selectedStrip));
      return;
    }
    if (slot === this.stopSlot || (slot === this.play && !on)) {
      if (!on && slot === this.stopSlot) return this.willSay(slot);
      this.transport.stop();
      return;
    }
    if (slot === this.play) {
      this.transport.start();
      return;
    }
    this.put(slot, on ? 1 : 0);
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
        return this.transport.jumpBar(-1);
      case 'forward':
        return this.transport.jumpBar(1);
      case 'toStart':
        return this.transport.goTo(0);
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
        return this.stopAllClips();
      default:
        return this.grid.editClip(id);
    }
  }

  private stepInsert(by: number): void {
    const total = INSERTS.length;
    this.choose(this.focusInsert, 'focusInsert', -1, (this.focused.insert + by + total) % total, 0);
  }

  /** Tempo from the time between taps. */
  private tap(): void {
    const bpm = this.transport.tap();
    if (bpm === null) return;
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
    this.transport.run(micros);
    if (this.transport.isPlaying && t >= this.automationDue) {
      this.automationDue = t + AUTOMATION_EVERY;
      this.automation.move();
    }
    if (t >= this.meterDue) {
      this.meterDue = t + METER_EVERY;
      this.meters.measure();
    }
    if (t >= this.timeDue) {
      this.timeDue = t + TIME_EVERY;
      this.putText(this.time, this.transport.timeText);
      this.marks.tell();
    }
    this.report();
  }
}
