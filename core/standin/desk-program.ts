import { STUDIO, slotsOf, type HostModel } from '@rondo/core/host';
import {
  DESK_STRIPS,
  StreamParser,
  decodeDesk,
  encodeDesk,
  type DeskMessage,
  type DeskUnit,
  type MessageSink,
} from '@rondo/core/wire';
import type { EmitUnit, SimulatedProgram } from './host.js';

const CELL = 7;
const LOWER = 56;
const TICKS_FULL = 64;
const METER_EVERY = 100_000;
const BEAT = 500_000;

/** First note of each row of keys in the strips, and of those that the program knows beside them. */
const ARM = 0x00;
const SOLO = 0x08;
const MUTE = 0x10;
const SELECT = 0x18;
const PUSH = 0x20;
const KEYS = {
  bankLeft: 0x2e,
  bankRight: 0x2f,
  stripLeft: 0x30,
  stripRight: 0x31,
  loop: 0x56,
  click: 0x59,
  stop: 0x5d,
  play: 0x5e,
  record: 0x5f,
  anySolo: 0x73,
} as const;

interface Channel {
  readonly name: string;
  /** 0–1023. */
  place: number;
  /** 0…1. */
  pan: number;
  mute: boolean;
  solo: boolean;
  arm: boolean;
}

/** How a simulated program behaves toward its desk. */
export interface DeskProgramWays {
  /** It greets the desk first. */
  readonly greets?: boolean;
  /** It sends a fader's place back to the desk that has moved it. */
  readonly returnsPlaces?: boolean;
}

/** Hears one unit's cable. */
class UnitEar implements MessageSink {
  readonly parser = new StreamParser(this, 4_096);
  constructor(
    private readonly program: DeskProgram,
    private readonly unit: number,
  ) {}
  short(packed: number): void {
    const bytes = Uint8Array.of(packed & 0xff, (packed >> 8) & 0x7f, (packed >> 16) & 0x7f);
    this.program.hear(this.unit, decodeDesk(bytes, 'desk'));
  }
  sysex(bytes: Uint8Array, from: number, to: number): void {
    this.program.hear(this.unit, decodeDesk(bytes.subarray(from, to), 'desk'));
  }
}

/**
 * A simulated program that knows nothing but the Mackie-style protocol: it mixes the session of *Nine Ferries* on
 * however many units stand before it, eight channels each. It speaks by the protocol's own messages and shares nothing
 * with the engine that reads them.
 */
export class DeskProgram implements SimulatedProgram {
  readonly values = null;
  readonly clock = null;
  readonly channels: Channel[] = STUDIO.strips.map(({ name }, i) => ({
    name,
    place: 512 + ((i * 53) % 300),
    pan: 0.5,
    mute: false,
    solo: false,
    arm: false,
  }));
  /** First channel on the desk, and the one that is selected. */
  bank = 0;
  selected = 0;
  master = 760;
  playing = false;
  recording = false;
  looping = false;
  clicking = false;
  /** Time, µs. */
  position = 0;
  /** Faders that are touched, by channel; the master has the number after the last. */
  readonly touched = new Set<number>();
  /** All that was understood, newest last. */
  readonly heard: DeskMessage[] = [];

  private readonly units: number;
  private readonly ears: UnitEar[];
  private readonly shown = new Map<string, string>();
  private readonly index: ReadonlyMap<string, number>;
  private readonly addresses: readonly string[];
  private begun = false;
  private meterDue = 0;

  constructor(
    readonly model: HostModel,
    private readonly emit: EmitUnit,
    private readonly ways: DeskProgramWays = {},
  ) {
    this.units = model.units?.length ?? 1;
    this.ears = Array.from({ length: this.units }, (_, unit) => new UnitEar(this, unit));
    this.addresses = slotsOf(model).map(({ address }) => address);
    this.index = new Map(this.addresses.map((address, i) => [address, i]));
  }

  slotOf(address: string): number {
    return this.index.get(address) ?? -1;
  }

  receive(bytes: Uint8Array, from: number, to: number, unit = 0): void {
    this.ears[unit].parser.feed(bytes, from, to);
    this.show();
  }

  private unitOf(unit: number): DeskUnit {
    return unit === 0 ? 'main' : 'extender';
  }

  private say(unit: number, message: DeskMessage): void {
    const bytes = encodeDesk(message);
    this.emit(unit, bytes, 0, bytes.length);
  }

  /** Says what is not shown yet. */
  private once(unit: number, what: string, message: DeskMessage): void {
    const text = JSON.stringify(message);
    const key = `${unit} ${what}`;
    if (this.shown.get(key) === text) return;
    this.shown.set(key, text);
    this.say(unit, message);
  }

  /** A message of a desk; null for what is none of the protocol. */
  hear(unit: number, message: DeskMessage | null): void {
    if (!message) return;
    this.heard.push(message);
    if (this.heard.length > 10_000) this.heard.splice(0, 5_000);
    const at = (strip: number) => this.bank + unit * DESK_STRIPS + strip;
    switch (message.kind) {
      case 'fader': {
        const place = message.place >> 4;
        if (message.fader === DESK_STRIPS) this.master = place;
        else if (at(message.fader) < this.channels.length)
          this.channels[at(message.fader)].place = place;
        // What it holds already is told again only where it sends places back.
        this.shown.set(
          `${unit} fader ${message.fader}`,
          this.ways.returnsPlaces === false
            ? JSON.stringify({ kind: 'fader', fader: message.fader, place: place << 4 })
            : '',
        );
        return;
      }
      case 'touch': {
        const channel = message.fader === DESK_STRIPS ? this.channels.length : at(message.fader);
        if (message.on) this.touched.add(channel);
        else this.touched.delete(channel);
        return;
      }
      case 'turn': {
        const channel = this.channels.at(at(message.encoder));
        if (channel)
          channel.pan = Math.max(0, Math.min(1, channel.pan + message.ticks / TICKS_FULL));
        return;
      }
      case 'jog':
        this.position = Math.max(0, this.position + message.ticks * 100_000);
        return;
      case 'key':
        if (message.on) this.press(message.key, at);
        return;
      case 'introduce': {
        // A desk that has just come knows nothing yet.
        this.shown.clear();
        const { serial, code } = message;
        this.say(unit, { kind: 'answer', unit: this.unitOf(unit), serial, code });
        return;
      }
      case 'accept':
        this.say(unit, { kind: 'askVersion', unit: this.unitOf(unit) });
        return;
      default:
    }
  }

  private press(key: number, at: (strip: number) => number): void {
    const row = key & 0x38;
    const channel = key < PUSH + DESK_STRIPS ? this.channels.at(at(key & 7)) : undefined;
    if (channel) {
      if (row === ARM) channel.arm = !channel.arm;
      else if (row === SOLO) channel.solo = !channel.solo;
      else if (row === MUTE) channel.mute = !channel.mute;
      else if (row === SELECT) this.selected = at(key & 7);
      else if (row === PUSH) channel.pan = 0.5;
      return;
    }
    switch (key) {
      case KEYS.bankLeft:
        return this.goTo(this.bank - DESK_STRIPS * this.units);
      case KEYS.bankRight:
        return this.goTo(this.bank + DESK_STRIPS * this.units);
      case KEYS.stripLeft:
        return this.goTo(this.bank - 1);
      case KEYS.stripRight:
        return this.goTo(this.bank + 1);
      case KEYS.play:
        this.playing = true;
        return;
      case KEYS.stop:
        this.playing = this.recording = false;
        return;
      case KEYS.record:
        this.recording = !this.recording;
        return;
      case KEYS.loop:
        this.looping = !this.looping;
        return;
      case KEYS.click:
        this.clicking = !this.clicking;
        return;
      default:
    }
  }

  private goTo(bank: number): void {
    const last = Math.max(0, this.channels.length - DESK_STRIPS * this.units);
    this.bank = Math.max(0, Math.min(last, bank));
  }

  /** Tells the desk everything that it does not show yet. */
  private show(): void {
    if (!this.begun) return;
    for (let unit = 0; unit < this.units; unit++)
      for (let strip = 0; strip < DESK_STRIPS; strip++) this.showStrip(unit, strip);
    this.once(0, `fader ${DESK_STRIPS}`, {
      kind: 'fader',
      fader: DESK_STRIPS,
      place: this.master << 4,
    });
    this.lamp(0, KEYS.play, this.playing);
    this.lamp(0, KEYS.stop, !this.playing);
    this.lamp(0, KEYS.record, this.recording);
    this.lamp(0, KEYS.loop, this.looping);
    this.lamp(0, KEYS.click, this.clicking);
    this.lamp(
      0,
      KEYS.anySolo,
      this.channels.some(({ solo }) => solo),
    );
    this.showTime();
  }

  private lamp(unit: number, key: number, on: boolean, blinks = false): void {
    const state = on ? (blinks ? 'blink' : 'on') : 'off';
    this.once(unit, `lamp ${key}`, { kind: 'lamp', key, state });
  }

  private showStrip(unit: number, strip: number): void {
    const number = this.bank + unit * DESK_STRIPS + strip;
    const channel = this.channels.at(number);
    if (!channel) return;
    const { name, place, pan, mute, solo, arm } = channel;
    this.once(unit, `fader ${strip}`, { kind: 'fader', fader: strip, place: place << 4 });
    this.lamp(unit, MUTE + strip, mute);
    this.lamp(unit, SOLO + strip, solo);
    // What is armed blinks until it records.
    this.lamp(unit, ARM + strip, arm, !this.recording);
    this.lamp(unit, SELECT + strip, this.selected === number);
    this.once(unit, `ring ${strip}`, {
      kind: 'ring',
      encoder: strip,
      place: 1 + Math.round(pan * 10),
      form: 'fromCentre',
      centre: pan === 0.5,
    });
    const side = Math.round((pan - 0.5) * 200);
    const lower = side === 0 ? 'C' : `${side < 0 ? 'L' : 'R'}${Math.abs(side)}`;
    this.text(unit, strip * CELL, name.replaceAll(' ', ''));
    this.text(unit, LOWER + strip * CELL, lower);
  }

  private text(unit: number, offset: number, text: string): void {
    const shown = text.slice(0, CELL - 1).padEnd(CELL);
    this.once(unit, `text ${offset}`, {
      kind: 'display',
      unit: this.unitOf(unit),
      offset,
      text: shown,
    });
  }

  private showTime(): void {
    const beats = Math.floor(this.position / BEAT);
    const text = `${Math.floor(beats / 4) + 1}`.padStart(8) + `${(beats % 4) + 1}`.padStart(2, '0');
    [...text].reverse().forEach((character, digit) => {
      const code = character.charCodeAt(0) & 0x3f;
      this.once(0, `digit ${digit}`, {
        kind: 'digit',
        display: 'time',
        digit,
        code,
        dot: digit === 2,
      });
    });
  }

  /** A hand on the program's own picture. */
  set(slot: number, value: number): void {
    const [id, strip] = this.addresses[slot]?.split('/') ?? [''];
    const channel = this.channels.at(this.bank + Number(strip) - 1);
    if (id === 'fader' && channel) channel.place = Math.round(value * 1023);
    else if (id === 'faderMaster') this.master = Math.round(value * 1023);
    else if (id === 'mute' && channel) channel.mute = value >= 0.5;
    else if (id === 'solo' && channel) channel.solo = value >= 0.5;
    else if (id === 'arm' && channel) channel.arm = value >= 0.5;
    else if (id === 'select' && channel) this.selected = this.bank + Number(strip) - 1;
    else if (id === 'encoder' && channel) channel.pan = Math.max(0, Math.min(1, value));
    else if (id in KEYS) this.press(KEYS[id as keyof typeof KEYS], (n) => n);
    this.show();
  }

  advance(micros: number, t: number): void {
    if (!this.begun) this.begin();
    if (this.playing) this.position += micros;
    if (this.playing && t >= this.meterDue) {
      this.meterDue = t + METER_EVERY;
      this.tellMeters(t);
    }
    this.show();
  }

  private begin(): void {
    this.begun = true;
    if (this.ways.greets === false) return;
    for (let unit = 0; unit < this.units; unit++)
      this.say(unit, { kind: 'ask', unit: this.unitOf(unit) });
  }

  private tellMeters(t: number): void {
    for (let unit = 0; unit < this.units; unit++)
      for (let strip = 0; strip < DESK_STRIPS; strip++) {
        const channel = this.channels.at(this.bank + unit * DESK_STRIPS + strip);
        if (!channel || channel.mute) continue;
        const sound = 0.5 + 0.5 * Math.sin(t / 230_000 + strip * 1.7);
        const level = Math.min(12, Math.round((channel.place / 1023) * sound * 14));
        if (level > 0) this.say(unit, { kind: 'meter', strip, level });
        const over = (channel.place / 1023) * sound > 0.97;
        this.once(unit, `overload ${strip}`, { kind: 'overload', strip, on: over });
      }
  }
}
