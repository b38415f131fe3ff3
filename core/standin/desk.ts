import { decodeDesk, encodeDesk, fromHex, type DeskMessage } from '@rondo/core/wire';
import {
  inputsOf,
  outputsOf,
  pagesOf,
  sendsOf,
  speaksOsc,
  takesOf,
  topOf,
  turns,
  type Control,
  type InputPart,
  type OutputPart,
  type Surface,
} from '@rondo/core/surface';
import { Ear, type Hearer } from './codec/ear.js';
import { PLAIN_HABITS, onSteps, type Habits } from './codec/habits.js';
import { Mouth } from './codec/mouth.js';
import { Speaker } from './codec/speaker.js';

/** Longest message that it says at once, in bytes. */
const LONGEST = 512;

/** Time a motor takes from end to end, µs. */
export const TRAVEL = 300_000;
/** A meter falls by one of its twelve steps in this time, µs (common practice, no source). */
const METER_FALL = 300_000;
const METER_STEP = 1 / 12;
/** Who a Mackie-style desk says it is where nobody says otherwise. */
const DESK_SERIAL = [0x30, 0x30, 0x30, 0x30, 0x30, 0x30, 0x31];
/** A firm strike, 0…1. */
const STRIKE = 100 / 127;

interface FaderState {
  /** Position, 0…1, always on one of the fader's own steps when it is reported. */
  position: number;
  /** Where the motor was last told to go; −1 before it was told anything. */
  commanded: number;
  touched: boolean;
  readonly steps: number;
  readonly value: number;
  readonly touch: number;
  readonly control: Control;
}

/**
 * A simulated surface made from its description. It knows nothing of Rondo but the bytes on its cable: it reports
 * what a hand does, and moves, lights and writes what it is told.
 */
export class Desk implements Hearer {
  /** Light, ring and meter values by output; rings −1 when dark. */
  readonly outputs: Float64Array;
  /** Display text by output. */
  readonly texts: string[];
  /** Overload lamps of meters that are lit, by output. */
  readonly overloads: Uint8Array;
  /** The output parts in order, as {@link outputs} and {@link texts} count them. */
  readonly outs: readonly { control: Control; part: OutputPart }[];
  /** It is the picture of a real desk, which answers for itself. */
  isPicture = false;
  /** Counts changes of any text. */
  textVersion = 0;

  private readonly inputs: readonly { control: Control; part: InputPart }[];
  private readonly inputIndex = new Map<string, number>();
  private readonly speakers: readonly Speaker[];
  private readonly ears: readonly Ear[];
  private readonly mouth: Mouth;
  /** Everything with a position: faders, knobs, wheels, switches, expression pedals, touch strips. */
  private readonly faders = new Map<string, FaderState>();
  private readonly faderOfMotor: (FaderState | undefined)[];
  private readonly ticks = new Map<string, number>();
  /** Self-latching keys that are on. */
  private readonly latched = new Set<string>();
  private readonly scratch = new Uint8Array(LONGEST);
  private readonly meterAt: Float64Array;
  private page = 0;
  /** The time now, µs, in its first place. */
  private readonly clock = new Float64Array(1);

  /**
   * @param surface what it is
   * @param emit receives what it sends
   * @param serial seven bytes by which it says who it is, where it speaks the Mackie-style protocol
   * @param habits how it speaks
   */
  constructor(
    readonly surface: Surface,
    emit: (bytes: Uint8Array, from: number, to: number) => void,
    private readonly serial = DESK_SERIAL,
    private readonly habits: Habits = PLAIN_HABITS,
  ) {
    this.mouth = new Mouth(emit, habits, this.clock);
    this.inputs = surface.controls.flatMap((control) =>
      inputsOf(surface, control).map((part) => ({ control, part })),
    );
    this.outs = surface.controls.flatMap((control) =>
      outputsOf(surface, control).map((part) => ({ control, part })),
    );
    this.inputs.forEach(({ control, part }, i) => this.inputIndex.set(`${control.id}/${part}`, i));
    this.speakers = pagesOf(surface).map(
      (page) =>
        new Speaker(
          this.inputs.map(({ control, part }) => sendsOf(surface, control, page)[part]),
          habits,
        ),
    );
    this.ears = pagesOf(surface).map(
      (page) =>
        new Ear(
          this.outs.map(({ control, part }) => takesOf(surface, control, page)[part]),
          this,
        ),
    );
    this.outputs = new Float64Array(this.outs.length);
    this.texts = this.outs.map(() => '');
    this.overloads = new Uint8Array(this.outs.length);
    this.meterAt = new Float64Array(this.outs.length);
    this.outs.forEach(({ part }, i) => {
      if (part === 'ring') this.outputs[i] = -1;
    });
    for (const control of surface.controls) {
      const pattern = pagesOf(surface).flatMap(
        (page) => sendsOf(surface, control, page).value ?? [],
      )[0];
      if (!pattern || turns(surface, control, 'value')) continue;
      this.faders.set(control.id, {
        position: control.springs === 'centre' || control.detent ? 0.5 : 0,
        commanded: -1,
        touched: false,
        steps: topOf(pattern),
        value: this.inputOf(control.id, 'value'),
        touch: this.inputOf(control.id, 'touch'),
        control,
      });
    }
    this.faderOfMotor = this.outs.map(({ control, part }) =>
      part === 'motor' ? this.faders.get(control.id) : undefined,
    );
  }

  /** Puts everything where it stood on another desk, as after an edit of its description. */
  standLike(other: Desk): void {
    for (const [id, fader] of this.faders) {
      const was = other.faders.get(id);
      if (was) Object.assign(fader, { position: was.position, commanded: was.commanded });
    }
    for (const id of other.latched) this.latched.add(id);
    for (const [id, ticks] of other.ticks) this.ticks.set(id, ticks);
    this.page = Math.min(other.page, this.speakers.length - 1);
    // What it shows stays: the device knows nothing of its description.
    const places = new Map(other.outs.map(({ control, part }, i) => [`${control.id}/${part}`, i]));
    this.outs.forEach(({ control, part }, i) => {
      const from = places.get(`${control.id}/${part}`);
      if (from === undefined) return;
      this.outputs[i] = other.outputs[from];
      this.texts[i] = other.texts[from];
      this.overloads[i] = other.overloads[from];
      this.meterAt[i] = other.meterAt[from];
    });
  }

  /** The owner chooses an onboard page, from 0; the device says so where it has a message for it. */
  turnPage(page: number): void {
    if (page < 0 || page >= this.speakers.length || page === this.page) return;
    this.page = page;
    const { firstPage, pages } = this.surface;
    const enter = (page === 0 ? firstPage : pages[page - 1])?.enter;
    const bytes = enter === undefined || speaksOsc(this.surface) ? null : fromHex(enter);
    if (bytes) this.mouth.say(bytes, 0, bytes.length);
  }

  /** The onboard page that it is on, from 0. */
  get onPage(): number {
    return this.page;
  }

  private inputOf(control: string, part: InputPart): number {
    return this.inputIndex.get(`${control}/${part}`) ?? -1;
  }

  private say(input: number, value: number): void {
    if (input < 0) return;
    const length = this.speakers[this.page].say(input, value, this.scratch, 0);
    if (length > 0) this.mouth.say(this.scratch, 0, length);
  }

  /** Position of a fader, 0…1. */
  position(control: string): number {
    return this.faders.get(control)?.position ?? 0;
  }

  isTouched(control: string): boolean {
    return this.faders.get(control)?.touched ?? false;
  }

  /** Ticks that an encoder or jog wheel has been turned in all, clockwise positive. */
  turned(control: string): number {
    return this.ticks.get(control) ?? 0;
  }

  /**
   * A hand takes hold of something that moves or lets go. Let go, a motor fader returns to the position last commanded,
   * and what has a spring to its rest.
   */
  touch(control: string, on: boolean): void {
    const fader = this.faders.get(control);
    if (!fader || fader.touched === on) return;
    fader.touched = on;
    const { springs } = fader.control;
    if (!on && springs) this.moveTo(control, springs === 'centre' ? 0.5 : 0);
    this.say(fader.touch, on ? 1 : 0);
  }

  /** A hand moves a fader to a position, 0…1; a report goes out for every new step of its resolution. */
  moveTo(control: string, position: number): void {
    const fader = this.faders.get(control);
    if (!fader) return;
    const clamped = Math.max(0, Math.min(1, position));
    const rounded = onSteps(clamped, this.habits.steps);
    const step = nearest(fader.control.positions, rounded * fader.steps);
    if (step === Math.round(fader.position * fader.steps)) return;
    fader.position = step / fader.steps;
    this.say(fader.value, fader.position);
  }

  /** A finger presses or releases a key, or an encoder's push. A self-latching key changes with each press only. */
  press(control: string, down: boolean): void {
    const input = this.inputOf(control, 'push');
    if (input < 0) return;
    const { kind, latching } = this.inputs[input].control;
    if (!latching) {
      const strike = kind === 'pad' || kind === 'key' ? STRIKE : 1;
      this.say(input, down ? strike : 0);
    } else if (down) {
      if (!this.latched.delete(control)) this.latched.add(control);
      this.say(input, this.latched.has(control) ? 1 : 0);
    }
  }

  /** A finger that is down presses harder or softer, 0…1. */
  squeeze(control: string, pressure: number): void {
    this.say(this.inputOf(control, 'pressure'), Math.max(0, Math.min(1, pressure)));
  }

  /** A hand turns an encoder or jog wheel by some ticks, clockwise positive. */
  turn(control: string, ticks: number): void {
    if (ticks === 0 || this.inputOf(control, 'value') < 0) return;
    this.ticks.set(control, this.turned(control) + ticks);
    this.say(this.inputOf(control, 'value'), ticks);
  }

  /** Bytes that come to it. */
  receive(bytes: Uint8Array, from: number, to: number): void {
    this.ears[this.page].listen(bytes, from, to);
  }

  heard(out: number): void {
    const { value } = this.ears[this.page];
    const fader = this.faderOfMotor[out];
    if (fader) {
      fader.commanded = value;
      return;
    }
    this.outputs[out] = value;
    this.meterAt[out] = this.clock[0];
  }

  read(out: number, text: string): void {
    this.texts[out] = text;
    this.textVersion++;
  }

  overload(out: number, on: boolean): void {
    this.overloads[out] = on ? 1 : 0;
  }

  other(bytes: Uint8Array, from: number, to: number): void {
    if (!this.surface.device.desk) return;
    const message = decodeDesk(bytes.subarray(from, to), 'host');
    if (message && message.kind !== 'display') this.obey(message);
  }

  /** What the Mackie-style protocol asks of a desk beside its controls. */
  private obey(message: DeskMessage): void {
    const say = (answer: DeskMessage) => {
      const bytes = encodeDesk(answer);
      if (!this.isPicture) this.mouth.say(bytes, 0, bytes.length);
    };
    const unit = this.surface.device.desk ?? 'main';
    const { serial } = this;
    if (message.kind === 'ask') say({ kind: 'introduce', unit, serial, code: [1, 2, 3, 4] });
    else if (message.kind === 'answer') say({ kind: 'accept', unit });
    else if (message.kind === 'askVersion') say({ kind: 'version', unit, text: '1.02' });
    if (message.kind === 'fadersDown' || message.kind === 'reset')
      for (const fader of this.faders.values()) fader.commanded = 0;
    if (message.kind !== 'lightsOff' && message.kind !== 'reset') return;
    this.outs.forEach(({ part }, out) => {
      if (part === 'light') this.outputs[out] = 0;
      if (part === 'ring') this.outputs[out] = -1;
    });
  }

  /** Motors travel and meters fall for `micros`; silent, as a motor-driven fader reports nothing. */
  advance(micros: number, t: number): void {
    this.clock[0] = t;
    this.mouth.advance();
    const reach = micros / TRAVEL;
    for (const fader of this.faders.values()) {
      if (fader.touched || fader.commanded < 0 || fader.position === fader.commanded) continue;
      const way = fader.commanded - fader.position;
      fader.position =
        Math.abs(way) <= reach ? fader.commanded : fader.position + Math.sign(way) * reach;
    }
    for (let out = 0; out < this.outs.length; out++)
      if (this.outs[out].part === 'meter')
        while (this.outputs[out] > 0 && t - this.meterAt[out] >= METER_FALL) {
          this.outputs[out] = Math.max(0, this.outputs[out] - METER_STEP);
          this.meterAt[out] += METER_FALL;
        }
  }
}

/** The whole number nearest to a position, or the nearest of a switch's positions. */
function nearest(positions: readonly number[] | undefined, value: number): number {
  if (!positions) return Math.round(value);
  return positions.reduce((best, at) =>
    Math.abs(at - value) < Math.abs(best - value) ? at : best,
  );
}
