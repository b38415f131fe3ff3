import { StreamParser, type MessageSink } from '@rondo/core/wire';
import {
  INPUT_PARTS,
  MAX_VALUE_BYTES,
  OUTPUT_PARTS,
  Receiver,
  Sender,
  topOf,
  type Control,
  type InputPart,
  type OutputPart,
  type Surface,
} from '@rondo/core/surface';

/** Time a motor takes from end to end, µs. */
export const TRAVEL = 300_000;
/** A meter falls by one of its twelve steps in this time, µs (common practice, no source). */
const METER_FALL = 300_000;
const METER_STEP = 1 / 12;

interface FaderState {
  /** Position, 0…1, always on one of the fader's own steps when it is reported. */
  position: number;
  /** Where the motor was last told to go; −1 before it was told anything. */
  commanded: number;
  touched: boolean;
  readonly steps: number;
  readonly value: number;
  readonly touch: number;
}

/**
 * A simulated surface made from its description. It knows nothing of Rondo but the bytes on its cable: it reports
 * what a hand does, and moves, lights and writes what it is told.
 */
export class Desk implements MessageSink {
  /** Light, ring and meter values by output; rings −1 when dark. */
  readonly outputs: Float64Array;
  /** Display text by output. */
  readonly texts: string[];
  /** The output parts in order, as {@link outputs} and {@link texts} count them. */
  readonly outs: readonly { control: Control; part: OutputPart }[];
  /** Counts changes of any text. */
  textVersion = 0;

  private readonly inputs: readonly { control: Control; part: InputPart }[];
  private readonly inputIndex = new Map<string, number>();
  private readonly sender: Sender;
  private readonly receiver: Receiver;
  private readonly parser: StreamParser;
  private readonly faders = new Map<string, FaderState>();
  private readonly faderOfMotor: (FaderState | undefined)[];
  private readonly ticks = new Map<string, number>();
  private readonly scratch = new Uint8Array(MAX_VALUE_BYTES);
  private readonly meterAt: Float64Array;
  private now = 0;

  /**
   * @param surface what it is
   * @param emit receives what it sends
   */
  constructor(
    readonly surface: Surface,
    private readonly emit: (bytes: Uint8Array, from: number, to: number) => void,
  ) {
    this.inputs = surface.controls.flatMap((control) =>
      INPUT_PARTS.filter((part) => control.sends[part]).map((part) => ({ control, part })),
    );
    this.outs = surface.controls.flatMap((control) =>
      OUTPUT_PARTS.filter((part) => control.takes[part]).map((part) => ({ control, part })),
    );
    this.inputs.forEach(({ control, part }, i) => this.inputIndex.set(`${control.id}/${part}`, i));
    this.sender = new Sender(this.inputs.map(({ control, part }) => control.sends[part]));
    this.receiver = new Receiver(this.outs.map(({ control, part }) => control.takes[part]));
    this.parser = new StreamParser(this, 4_096);
    this.outputs = new Float64Array(this.outs.length);
    this.texts = this.outs.map(() => '');
    this.meterAt = new Float64Array(this.outs.length);
    this.outs.forEach(({ part }, i) => {
      if (part === 'ring') this.outputs[i] = -1;
    });
    for (const control of surface.controls) {
      const pattern = control.sends.value;
      if (!pattern || pattern.type === 'relative') continue;
      this.faders.set(control.id, {
        position: 0,
        commanded: -1,
        touched: false,
        steps: topOf(pattern),
        value: this.inputOf(control.id, 'value'),
        touch: this.inputOf(control.id, 'touch'),
      });
    }
    this.faderOfMotor = this.outs.map(({ control, part }) =>
      part === 'motor' ? this.faders.get(control.id) : undefined,
    );
  }

  private inputOf(control: string, part: InputPart): number {
    return this.inputIndex.get(`${control}/${part}`) ?? -1;
  }

  private say(input: number, value: number): void {
    if (input < 0) return;
    const length = this.sender.write(input, this.sender.wire(input, value), this.scratch, 0);
    this.emit(this.scratch, 0, length);
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

  /** A hand takes hold of a fader or lets go. Let go, it returns to the position last commanded. */
  touch(control: string, on: boolean): void {
    const fader = this.faders.get(control);
    if (!fader || fader.touched === on) return;
    fader.touched = on;
    this.say(fader.touch, on ? 1 : 0);
  }

  /** A hand moves a fader to a position, 0…1; a report goes out for every new step of its resolution. */
  moveTo(control: string, position: number): void {
    const fader = this.faders.get(control);
    if (!fader) return;
    const clamped = Math.max(0, Math.min(1, position));
    const step = Math.round(clamped * fader.steps);
    if (step === Math.round(fader.position * fader.steps)) return;
    fader.position = step / fader.steps;
    this.say(fader.value, fader.position);
  }

  /** A finger presses or releases a key, or an encoder's push. */
  press(control: string, down: boolean): void {
    this.say(this.inputOf(control, 'push'), down ? 1 : 0);
  }

  /** A hand turns an encoder or jog wheel by some ticks, clockwise positive. */
  turn(control: string, ticks: number): void {
    if (ticks === 0) return;
    this.ticks.set(control, this.turned(control) + ticks);
    this.say(this.inputOf(control, 'value'), ticks);
  }

  /** Bytes that come to it. */
  receive(bytes: Uint8Array, from: number, to: number, t: number): void {
    this.now = t;
    this.parser.feed(bytes, from, to);
  }

  short(packed: number): void {
    const out = this.receiver.accept(packed);
    if (out < 0) return;
    const fader = this.faderOfMotor[out];
    if (fader) {
      fader.commanded = this.receiver.value;
      return;
    }
    this.outputs[out] = this.receiver.value;
    this.meterAt[out] = this.now;
  }

  sysex(bytes: Uint8Array, from: number, to: number): void {
    const out = this.receiver.acceptSysex(bytes, from, to);
    if (out < 0) return;
    this.texts[out] = String.fromCharCode(
      ...bytes.subarray(this.receiver.textFrom, this.receiver.textTo),
    );
    this.textVersion++;
  }

  /** Motors travel and meters fall for `micros`; silent, as a motor-driven fader reports nothing. */
  advance(micros: number, t: number): void {
    this.now = t;
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
