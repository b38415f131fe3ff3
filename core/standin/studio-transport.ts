import { TEMPO_MAX, TEMPO_MIN, barsLaw, tempoLaw } from '@rondo/core/host';
import type { ClockOut } from './clock.js';

const BEATS_PER_BAR = 4;
const TRACKS = 16;
/** Taps further apart than this begin anew, µs. */
const LONGEST_TAP = 3_000_000;
/** Share of a bar within which a step back skips the bar line that was just passed. */
export const JUST_PASSED = 0.2;

/** What the transport needs of the session that it plays. */
export interface PlayedSession {
  readonly values: Float64Array;
  /** Time now, µs, in its first place. */
  readonly clock: Float64Array;
  readonly clockOut: ClockOut;
  /** First slot of a function. */
  at(functionId: string): number;
  put(slot: number, value: number): void;
  change(slot: number, value: number): void;
  /** It begins to play. */
  begins(): void;
  /** It stands still. */
  ends(): void;
  /** A bar line is passed. */
  barBegins(): void;
  /** The place in the song is another one, not by playing. */
  jumped(): void;
}

/** Plays, stops, and goes to places in the song; counts its beats, records on armed tracks, and taps its tempo. */
export class StudioTransport {
  /** Song position, µs. */
  position = 0;
  /** Beats that the click has struck. */
  clicks = 0;
  /** Bars recorded on each track. */
  readonly recorded = new Float64Array(TRACKS);
  private readonly play: number;
  private readonly stopped: number;
  private readonly record: number;
  private readonly loop: number;
  private readonly click: number;
  private readonly punch: number;
  private readonly tempo: number;
  private readonly arm: number;
  private taps: number[] = [];

  constructor(private readonly session: PlayedSession) {
    this.play = session.at('play');
    this.stopped = session.at('stop');
    this.record = session.at('record');
    this.loop = session.at('loop');
    this.click = session.at('click');
    this.punch = session.at('punch');
    this.tempo = session.at('tempo');
    this.arm = session.at('arm');
  }

  get isPlaying(): boolean {
    return this.session.values[this.play] === 1;
  }

  /** Beats a minute, kept to tenths. */
  get bpm(): number {
    return Math.round(tempoLaw.toUnit(this.session.values[this.tempo]) * 10) / 10;
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

  start(): void {
    this.session.put(this.play, 1);
    this.session.put(this.stopped, 0);
    this.session.begins();
  }

  stop(): void {
    this.session.put(this.play, 0);
    this.session.put(this.record, 0);
    this.session.put(this.stopped, 1);
    this.session.ends();
  }

  /** Goes to a place in the song, µs; before its beginning there is none. */
  goTo(position: number): void {
    this.position = Math.max(0, position);
    this.session.jumped();
  }

  goToBar(bar: number): void {
    this.goTo(bar * this.barMicros);
  }

  /** To the next bar line, or to the last one; to the one before that where this one has only just passed. */
  jumpBar(by: 1 | -1): void {
    const line = by > 0 ? Math.floor(this.bar + 1e-9) + 1 : Math.ceil(this.bar - JUST_PASSED) - 1;
    this.goToBar(Math.max(0, line));
  }

  /** Beats a minute by the time between taps: the mean of the last four; null while there is but one. */
  tap(): number | null {
    const now = this.session.clock[0];
    const last = this.taps.at(-1);
    if (last !== undefined && now - last > LONGEST_TAP) this.taps = [];
    this.taps = [...this.taps, now].slice(-5);
    if (this.taps.length < 2) return null;
    const beat = (now - this.taps[0]) / (this.taps.length - 1);
    return Math.max(TEMPO_MIN, Math.min(TEMPO_MAX, 60_000_000 / beat));
  }

  /** Plays on for `micros`, where it plays: through its loop, if that is on. */
  run(micros: number): void {
    const { session } = this;
    if (!this.isPlaying) {
      session.clockOut.stop();
      return;
    }
    const { values } = session;
    const bar = this.barMicros;
    const from = this.position;
    this.position += micros;
    const beat = bar / BEATS_PER_BAR;
    session.clockOut.run(from / beat, this.position / beat);
    if (values[this.click] === 1)
      this.clicks += Math.floor(this.position / beat) - Math.floor(from / beat);
    if (Math.floor(this.position / bar) !== Math.floor(from / bar)) session.barBegins();
    if (values[this.record] === 1) this.take(from / bar, this.position / bar);
    const [start, end] = ['loopStart', 'loopEnd'].map((id) => Math.round(this.barsAt(id)) * bar);
    if (values[this.loop] === 1 && end > start && from < end && this.position >= end)
      this.position = start + ((this.position - end) % (end - start));
  }

  private barsAt(functionId: string): number {
    return barsLaw.toUnit(this.session.values[this.session.at(functionId)]);
  }

  /** Records on armed tracks; with punch on, only between punch in and out. */
  private take(from: number, to: number): void {
    const { values } = this.session;
    let [first, last] = [from, to];
    if (values[this.punch] === 1) {
      first = Math.max(first, this.barsAt('punchIn'));
      last = Math.min(last, this.barsAt('punchOut'));
    }
    if (last <= first) return;
    for (let track = 0; track < TRACKS; track++)
      if (values[this.arm + track] === 1) this.recorded[track] += last - first;
    this.session.change(this.session.at('unsaved'), 1);
  }
}
