import type { Control, ControlKind, InputPart, OutputPart, Pattern } from '@rondo/core/surface';
import { mainPart } from '@rondo/core/surface';
import {
  CHANNEL_PRESSURE,
  CONTROL_CHANGE,
  NOTE_OFF,
  NOTE_ON,
  PITCH_BEND,
  POLY_PRESSURE,
  PROGRAM_CHANGE,
  join14,
  ticksOf,
} from '@rondo/core/wire';
import type { Finding } from './infer.js';
import type { Step } from './steps.js';

/** One message of a movement: milliseconds and its bytes. */
export interface Heard {
  readonly t: number;
  readonly bytes: Uint8Array;
}

/** What a control is told by its movement: the fields of its description that change. */
export interface Lore {
  readonly kind: ControlKind;
  readonly sends: Partial<Record<InputPart, Pattern>>;
  /** What it takes, where its own message says that too, as in OSC. */
  readonly takes?: Partial<Record<OutputPart, Pattern>>;
  readonly latching: boolean;
  readonly positions: readonly number[] | undefined;
  readonly detent: boolean;
  readonly springs: 'centre' | undefined;
  readonly confidence: number;
  readonly why: string;
}

const SURE = 0.65;
/** Kinds that look alike on the wire: among each, the drawing decides. */
export const MOVED: ReadonlySet<ControlKind> = new Set([
  'fader',
  'knob',
  'wheel',
  'expression',
  'touchStrip',
  'xyPad',
]);
export const PRESSED: ReadonlySet<ControlKind> = new Set(['button', 'pad', 'key', 'pedal']);

const isOf = (heard: Heard, status: number, channel: number, number?: number): boolean =>
  (heard.bytes[0] & 0xf0) === status &&
  (heard.bytes[0] & 0x0f) === channel - 1 &&
  (number === undefined || heard.bytes[1] === number);

/** Bits of a pitch bend that change: a fader of ten bits leaves the lowest four at 0. */
function bendBits(values: readonly number[]): number {
  const used = values.reduce((all, value) => all | value, 0);
  let spare = 0;
  while (spare < 7 && ((used >> spare) & 1) === 0) spare++;
  return 14 - spare;
}

/** Which half of a 14-bit pair came first. */
function isLsbFirst(lines: readonly Heard[], channel: number, number: number): boolean {
  const first = lines.find(
    (line) =>
      isOf(line, CONTROL_CHANGE, channel, number) ||
      isOf(line, CONTROL_CHANGE, channel, number + 32),
  );
  return first?.bytes[1] === number + 32;
}

/** The pattern of a finding, with what only the bytes themselves tell. */
export function patternOf({ sends }: Finding, lines: readonly Heard[]): Pattern {
  const { channel, number = 0, encoding, resolution } = sends;
  switch (sends.type) {
    case 'note':
      return { type: 'note', channel, number };
    case 'controlChange':
      if (encoding && encoding !== 'absolute')
        return { type: 'relative', channel, number, encoding, ...turnedRound(lines, sends) };
      return resolution === 14
        ? {
            type: 'controllerPair',
            channel,
            number,
            lsb: number + 32,
            ...(isLsbFirst(lines, channel, number) ? { lsbFirst: true } : {}),
          }
        : { type: 'controller', channel, number };
    case 'pitchBend':
      return {
        type: 'pitchBend',
        channel,
        bits: bendBits(
          lines
            .filter((line) => isOf(line, PITCH_BEND, channel))
            .map(({ bytes }) => join14(bytes[1], bytes[2])),
        ),
      };
    case 'nrpn':
    case 'rpn':
      return { type: sends.type, channel, number, bits: resolution ?? 7 };
    case 'channelPressure':
      return { type: 'channelPressure', channel };
    case 'polyPressure':
      return { type: 'polyPressure', channel, number };
    case 'programChange': {
      const programs = new Set(
        lines.filter((line) => isOf(line, PROGRAM_CHANGE, channel)).map(({ bytes }) => bytes[1]),
      );
      const [only] = programs;
      return programs.size === 1
        ? { type: 'program', channel, number: only }
        : { type: 'program', channel };
    }
  }
}

/** Bytes cannot tell the direction: the first ticks are clockwise because that was asked for. */
function turnedRound(
  lines: readonly Heard[],
  { channel, number, encoding }: Finding['sends'],
): { reversed?: true } {
  if (!encoding || encoding === 'absolute') return {};
  const first = lines.find((line) => isOf(line, CONTROL_CHANGE, channel, number));
  return first && ticksOf(encoding, first.bytes[2]) < 0 ? { reversed: true } : {};
}

/**
 * What a drawn control is, now that it has been moved. The drawing decides where the wire cannot tell: between fader and
 * knob, pad and key, encoder and jog wheel. What is open was drawn by nobody, and is what it was found to be.
 */
export function settle(
  { control: drawn, part, isOpen = false }: Step,
  found: readonly Finding[],
  main: Finding,
  lines: readonly Heard[],
): Lore {
  const pattern = patternOf(main, lines);
  const kind = kindOf(drawn, part, main);
  const own = part === mainPart(drawn.kind) ? (mainPart(kind) ?? part) : part;
  const sends: Partial<Record<InputPart, Pattern>> = { [own]: pattern };
  const touch = found.find((other) => other.kind === 'touch' && other !== main);
  if (touch && own === 'value') sends.touch = patternOf(touch, lines);
  if (own === 'push' && pattern.type === 'note') {
    const pressure = pressureOf(lines, pattern.channel, pattern.number);
    if (pressure) sends.pressure = pressure;
  }
  return {
    kind,
    sends,
    latching: own === 'push' && main.behaviour === 'latching',
    positions: kind === 'switch' ? main.positions : undefined,
    detent: main.kind === 'knob',
    springs: main.kind === 'wheel' && main.sends.type === 'pitchBend' ? 'centre' : undefined,
    confidence: sureness(drawn, isOpen, main, lines),
    why: main.why,
  };
}

function kindOf(drawn: Control, part: InputPart, { kind, behaviour }: Finding): ControlKind {
  if (part !== mainPart(drawn.kind)) return drawn.kind;
  switch (kind) {
    case 'fader':
    case 'knob':
    case 'wheel':
      return MOVED.has(drawn.kind) ? drawn.kind : kind;
    case 'pedal': {
      if (behaviour === 'continuous') return MOVED.has(drawn.kind) ? drawn.kind : 'expression';
      return PRESSED.has(drawn.kind) ? drawn.kind : 'pedal';
    }
    case 'encoder':
      return drawn.kind === 'jog' ? 'jog' : 'encoder';
    case 'switch':
      return 'switch';
    case 'button':
    case 'pad':
    case 'key':
      return PRESSED.has(drawn.kind) ? drawn.kind : kind;
    default:
      return drawn.kind;
  }
}

function pressureOf(lines: readonly Heard[], channel: number, number: number): Pattern | null {
  if (lines.some((line) => isOf(line, POLY_PRESSURE, channel, number)))
    return { type: 'polyPressure', channel, number };
  return lines.some((line) => isOf(line, CHANNEL_PRESSURE, channel))
    ? { type: 'channelPressure', channel }
    : null;
}

/** The drawing takes away doubts that are only about which of its like a control is. */
function sureness(drawn: Control, isOpen: boolean, main: Finding, lines: readonly Heard[]): number {
  const { confidence, kind, sends } = main;
  if (sends.type !== 'note' || !(isOpen || PRESSED.has(drawn.kind))) return confidence;
  // Held below only because a button, a pad and a key can send the same.
  const alike = confidence >= 0.55 && kind !== 'touch';
  const struck = (drawn.kind === 'pad' || drawn.kind === 'key') && isStruck(lines, sends);
  return alike || struck ? Math.max(confidence, SURE) : confidence;
}

function isStruck(lines: readonly Heard[], { channel, number }: Finding['sends']): boolean {
  const on = lines.some((l) => isOf(l, NOTE_ON, channel, number) && l.bytes[2] > 0);
  const off = lines.some(
    (l) =>
      isOf(l, NOTE_OFF, channel, number) || (isOf(l, NOTE_ON, channel, number) && l.bytes[2] === 0),
  );
  return on && off;
}
