import { FADER_TOP_DB, INSERTS, SENDS, STUDIO, deflection, panGains } from '@rondo/core/host';
import { Insert, bandLevel, type Band } from './inserts.js';

const TRACKS = 16;
const MASTER = 19;
/** Which bus a track goes to: Dialogue 16, Effects 17, Music 18. */
const BUS_OF = [16, 16, 17, 17, 17, 17, 17, 18, 18, 18, 18, 18, 18, 16, 17, 17];
/** A playing clip adds this to its track's own sound, as amplitude. */
const CLIP_LEVEL = 0.5;

/** What meters need of the session that they measure. */
export interface Measured {
  readonly values: Float64Array;
  /** Song position, µs. */
  readonly position: number;
  readonly isPlaying: boolean;
  playsClip(track: number): boolean;
  /** First slot of a function. */
  at(functionId: string): number;
  put(slot: number, value: number): void;
}

/** The mixer's levels, from the tracks' invented sound through inserts, faders, sends and buses to the meters. */
export class StudioMeters {
  private readonly inserts: Insert[];
  private readonly volume: number;
  private readonly pan: number;
  private readonly mute: number;
  private readonly solo: number;
  private readonly meter: number;
  private readonly meterLeft: number;
  private readonly meterRight: number;
  private readonly sends: readonly number[];

  constructor(private readonly session: Measured) {
    this.volume = session.at('volume');
    this.pan = session.at('pan');
    this.mute = session.at('mute');
    this.solo = session.at('solo');
    this.meter = session.at('meter');
    this.meterLeft = session.at('meterLeft');
    this.meterRight = session.at('meterRight');
    this.sends = SENDS.map((_, index) => session.at(`send${index + 1}`));
    const slots = {
      on: INSERTS.map((_, insert) => session.at(`insert${insert + 1}On`)),
      parameters: INSERTS.map(({ parameters }, insert) =>
        parameters.map((_, n) => session.at(`insert${insert + 1}Parameter${n + 1}`)),
      ),
    };
    this.inserts = STUDIO.strips.map((_, strip) => new Insert(session.values, strip, slots));
  }

  /** Amplitudes of a track's four bands before its inserts: an invented, repeatable envelope of the song position. */
  private source(strip: number): Band {
    const s = this.session.position / 1_000_000;
    const slow = 0.5 + 0.5 * Math.sin(s * (0.31 + strip * 0.07) + strip * 1.7);
    const fast = 0.6 + 0.4 * Math.sin(s * (5.3 + strip * 0.9) + strip);
    const clip = this.session.playsClip(strip) ? 1 + CLIP_LEVEL : 1;
    const level = 0.55 * slow * fast * clip;
    const tilt = ((strip * 3) % 5) / 4;
    return [
      level * (0.9 - 0.5 * tilt),
      level * 0.55,
      level * (0.3 + 0.3 * tilt),
      level * (0.15 + 0.35 * tilt),
    ];
  }

  private gainOf(slot: number): number {
    const position = this.session.values[slot];
    return position === 0 ? 0 : 10 ** ((FADER_TOP_DB + 60 * Math.log10(position)) / 20);
  }

  /** Measures every strip and bus, and tells what that is. */
  measure(): void {
    const { values } = this.session;
    let anySolo = false;
    for (let strip = 0; strip < MASTER; strip++) anySolo ||= values[this.solo + strip] === 1;
    // Powers on the left and right of each bus.
    const buses = SENDS.map(() => [0, 0]);
    for (let strip = 0; strip < TRACKS; strip++) {
      const to = BUS_OF[strip];
      const heard =
        this.session.isPlaying &&
        values[this.mute + strip] === 0 &&
        (!anySolo || values[this.solo + strip] === 1 || values[this.solo + to] === 1);
      const source: Band = heard ? this.source(strip) : [0, 0, 0, 0];
      const level = this.inserts[strip].process(source) * this.gainOf(this.volume + strip);
      const pair = this.spread(strip, level);
      this.tellLevels(strip, pair);
      add(buses[to - TRACKS], pair, 1);
      this.sends.forEach((send, bus) => add(buses[bus], pair, this.gainOf(send + strip)));
    }
    const master = [0, 0];
    buses.forEach(([left, right], b) => {
      const strip = TRACKS + b;
      const muted = values[this.mute + strip] === 1;
      const pair = this.through(strip, Math.sqrt(left), Math.sqrt(right), muted);
      this.tellLevels(strip, pair);
      add(master, pair, 1);
    });
    const muted = values[this.mute + MASTER] === 1;
    this.tellLevels(
      MASTER,
      this.through(MASTER, Math.sqrt(master[0]), Math.sqrt(master[1]), muted),
    );
  }

  /** Left and right of a mono level at the strip's pan. */
  private spread(strip: number, level: number): [number, number] {
    const [left, right] = panGains(this.session.values[this.pan + strip]);
    return [level * left, level * right];
  }

  /** A stereo pair through a bus: its inserts, fader and balance; in the middle both sides pass as they are. */
  private through(strip: number, left: number, right: number, muted: boolean): [number, number] {
    const loudest = Math.max(left, right);
    if (muted || loudest === 0) {
      this.inserts[strip].process([0, 0, 0, 0]);
      return [0, 0];
    }
    const bands = bandLevel(loudest);
    const gain = (this.inserts[strip].process(bands) / loudest) * this.gainOf(this.volume + strip);
    const [toLeft, toRight] = panGains(this.session.values[this.pan + strip]);
    const middle = Math.SQRT1_2;
    return [
      left * gain * Math.min(1, toLeft / middle),
      right * gain * Math.min(1, toRight / middle),
    ];
  }

  private tellLevels(strip: number, [left, right]: readonly [number, number]): void {
    this.putMeter(this.meter + strip, Math.hypot(left, right));
    this.putMeter(this.meterLeft + strip, left);
    this.putMeter(this.meterRight + strip, right);
  }

  private putMeter(slot: number, level: number): void {
    const share = level > 0 ? Math.round(deflection(20 * Math.log10(level)) * 127) / 127 : 0;
    // A level that stays is told again, since surfaces let their meters fall by themselves.
    if (share !== this.session.values[slot] || share > 0) this.session.put(slot, share);
  }
}

/** Adds the powers of a pair, at a gain. */
function add(to: number[], [left, right]: readonly [number, number], gain: number): void {
  to[0] += (left * gain) ** 2;
  to[1] += (right * gain) ** 2;
}
