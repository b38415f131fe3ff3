import type { InputPart, Pattern, PatternType } from '@rondo/core/surface';
import { fromHex, toHex } from '@rondo/core/wire';

/** One field of a message pattern, as it is typed. */
export interface Field {
  readonly key: string;
  readonly label: string;
  readonly as: 'number' | 'choice' | 'flag' | 'text' | 'hex';
  readonly min?: number;
  readonly max?: number;
  readonly optional?: boolean;
  /** It need not be a whole number. */
  readonly fractions?: boolean;
  /** Shown in hexadecimal where the user reads numbers so. */
  readonly data?: boolean;
  readonly options?: readonly { readonly label: string; readonly value: string | number }[];
}

const CHANNEL: Field = { key: 'channel', label: 'Channel', as: 'number', min: 1, max: 16 };
const data = (key: string, label: string, more: Partial<Field> = {}): Field => ({
  key,
  label,
  as: 'number',
  min: 0,
  max: 127,
  data: true,
  ...more,
});
const BITS: Field = {
  key: 'bits',
  label: 'Bits',
  as: 'choice',
  options: [
    { label: '7', value: 7 },
    { label: '14', value: 14 },
  ],
};
const REVERSED: Field = { key: 'reversed', label: 'Inverted', as: 'flag' };
const PARAMETER: readonly Field[] = [
  CHANNEL,
  { key: 'number', label: 'Parameter', as: 'number', min: 0, max: 16_383 },
  BITS,
];

export const FIELDS: Readonly<Record<PatternType, readonly Field[]>> = {
  note: [CHANNEL, data('number', 'Note')],
  controller: [CHANNEL, data('number', 'Controller')],
  controllerPair: [
    CHANNEL,
    data('number', 'MSB'),
    data('lsb', 'LSB'),
    { key: 'lsbFirst', label: 'LSB comes first', as: 'flag' },
  ],
  nrpn: PARAMETER,
  rpn: PARAMETER,
  relative: [
    CHANNEL,
    data('number', 'Controller'),
    {
      key: 'encoding',
      label: 'Encoding',
      as: 'choice',
      options: [
        { label: 'Two’s complement', value: 'twosComplement' },
        { label: 'Sign-magnitude', value: 'signMagnitude' },
        { label: 'Sign-magnitude, reversed', value: 'signMagnitudeReversed' },
        { label: 'Binary offset', value: 'binaryOffset' },
      ],
    },
    REVERSED,
  ],
  upDown: [
    CHANNEL,
    {
      key: 'message',
      label: 'By',
      as: 'choice',
      options: [
        { label: 'Controllers', value: 'controller' },
        { label: 'Notes', value: 'note' },
      ],
    },
    data('up', 'Up'),
    data('down', 'Down'),
    REVERSED,
  ],
  pitchBend: [CHANNEL, { key: 'bits', label: 'Bits', as: 'number', min: 7, max: 14 }],
  channelPressure: [CHANNEL],
  polyPressure: [CHANNEL, data('number', 'Note')],
  program: [CHANNEL, data('number', 'Program', { optional: true })],
  sysex: [{ key: 'template', label: 'Bytes, with value, or high and low', as: 'text' }],
  osc: [
    { key: 'address', label: 'Address', as: 'text' },
    { key: 'argument', label: 'Argument', as: 'number', min: 1, max: 16 },
    {
      key: 'as',
      label: 'As',
      as: 'choice',
      options: [
        { label: 'Float', value: 'float' },
        { label: 'Integer', value: 'integer' },
        { label: 'On or off', value: 'boolean' },
        { label: 'Text', value: 'string' },
        { label: 'Double', value: 'double' },
        { label: 'Long', value: 'long' },
      ],
    },
    { key: 'low', label: 'From', as: 'number', min: -1e9, fractions: true, optional: true },
    { key: 'high', label: 'To', as: 'number', min: -1e9, fractions: true, optional: true },
  ],
  ring: [
    CHANNEL,
    data('number', 'Controller'),
    {
      key: 'style',
      label: 'Style',
      as: 'choice',
      options: [
        { label: 'Dot', value: 'dot' },
        { label: 'From the centre', value: 'fromCentre' },
        { label: 'From the end', value: 'fromEnd' },
        { label: 'Widening', value: 'widening' },
      ],
    },
  ],
  colour: [{ key: 'template', label: 'Message, with red green blue', as: 'text' }],
  digits: [
    CHANNEL,
    data('number', 'Controller of the last digit'),
    { key: 'count', label: 'Digits', as: 'number', min: 1, max: 16 },
  ],
  stripMeter: [CHANNEL, { key: 'strip', label: 'Strip, from 0', as: 'number', min: 0, max: 7 }],
  text: [
    { key: 'header', label: 'Header bytes', as: 'hex' },
    data('offset', 'Offset', { optional: true }),
    { key: 'width', label: 'Characters', as: 'number', min: 1, max: 112, optional: true },
    { key: 'gap', label: 'Left blank', as: 'number', min: 0, max: 8 },
  ],
};

export const TYPE_NAMES: Readonly<Record<PatternType, string>> = {
  note: 'Note',
  controller: 'Controller, 7 bit',
  controllerPair: 'Controller pair, 14 bit',
  nrpn: 'NRPN',
  rpn: 'RPN',
  relative: 'Encoder',
  upDown: 'Up and down messages',
  pitchBend: 'Pitch bend',
  channelPressure: 'Channel pressure',
  polyPressure: 'Key pressure',
  program: 'Program',
  sysex: 'SysEx',
  colour: 'Full colour by SysEx',
  digits: 'Digits by controllers',
  osc: 'OSC',
  ring: 'Ring',
  stripMeter: 'Meter',
  text: 'Text by SysEx',
};

const SENT: readonly PatternType[] = [
  'controller',
  'controllerPair',
  'note',
  'relative',
  'upDown',
  'pitchBend',
  'nrpn',
  'rpn',
  'channelPressure',
  'polyPressure',
  'program',
  'sysex',
  'osc',
];

/** Pattern types that make sense for a part. */
export function typesFor(part: string): readonly PatternType[] {
  switch (part) {
    case 'value':
      return SENT;
    case 'push':
    case 'touch':
      return ['note', 'controller', 'program', 'sysex', 'osc'];
    case 'pressure':
      return ['polyPressure', 'channelPressure', 'controller'];
    case 'light':
      return ['note', 'controller', 'sysex', 'colour', 'osc'];
    case 'motor':
      return ['pitchBend', 'controller', 'controllerPair', 'nrpn', 'sysex', 'osc'];
    case 'ring':
      return ['ring', 'controller', 'sysex', 'osc'];
    case 'meter':
      return ['stripMeter', 'controller', 'sysex', 'osc'];
    case 'upper':
    case 'lower':
      return ['text', 'digits'];
    default:
      return ['note', 'controller', 'sysex', 'osc'];
  }
}

const FRESH: Readonly<Record<PatternType, Pattern>> = {
  note: { type: 'note', channel: 1, number: 60 },
  controller: { type: 'controller', channel: 1, number: 20 },
  controllerPair: { type: 'controllerPair', channel: 1, number: 20, lsb: 52 },
  nrpn: { type: 'nrpn', channel: 1, number: 0, bits: 14 },
  rpn: { type: 'rpn', channel: 1, number: 0, bits: 14 },
  relative: { type: 'relative', channel: 1, number: 20, encoding: 'twosComplement' },
  upDown: { type: 'upDown', message: 'controller', channel: 1, up: 96, down: 97 },
  pitchBend: { type: 'pitchBend', channel: 1, bits: 14 },
  channelPressure: { type: 'channelPressure', channel: 1 },
  polyPressure: { type: 'polyPressure', channel: 1, number: 60 },
  program: { type: 'program', channel: 1, number: 0 },
  sysex: { type: 'sysex', template: 'F0 7D 00 value F7' },
  colour: { type: 'colour', template: 'F0 7D 00 red green blue F7' },
  digits: { type: 'digits', channel: 1, number: 64, count: 10 },
  osc: { type: 'osc', address: '/control/1', argument: 1, as: 'float' },
  ring: { type: 'ring', channel: 1, number: 48, style: 'dot' },
  stripMeter: { type: 'stripMeter', channel: 1, strip: 0 },
  text: { type: 'text', header: [0x7d], width: 7, gap: 0 },
};

/** A pattern of another type that keeps what both have. */
export function asType(type: PatternType, before: Pattern | undefined): Pattern {
  const fresh: Record<string, unknown> = { ...FRESH[type] };
  const old = (before ?? {}) as Record<string, unknown>;
  for (const { key, as, max = Infinity } of FIELDS[type]) {
    const value = old[key];
    if (as === 'number' && typeof value === 'number' && value <= max) fresh[key] = value;
  }
  if (type === 'controllerPair' && typeof fresh['number'] === 'number')
    fresh['lsb'] = Math.min(127, fresh['number'] + 32);
  return fresh as Pattern;
}

/** Which message of its own a control is most often answered with, by what is shown. */
const ANSWERS: Readonly<Record<string, readonly InputPart[]>> = {
  light: ['push', 'value'],
  motor: ['value'],
};

/**
 * The message that a part begins with. A light or a motor takes what its control itself sends, as most devices have it
 * (common practice, no source), where it can be shown that way.
 * @param sends what the control sends
 */
export function freshFor(part: string, sends: Partial<Record<InputPart, Pattern>>): Pattern {
  const types = typesFor(part);
  const own = (ANSWERS[part] ?? []).map((input) => sends[input]);
  return (
    own.find((pattern) => pattern && types.includes(pattern.type)) ?? asType(types[0], undefined)
  );
}

/** Reads what was typed into a field; undefined where it is not one of its values. */
export function readField(
  field: Field,
  typed: string,
  hex: boolean,
): { value: unknown } | undefined {
  const text = typed.trim();
  if (field.as === 'text') return { value: typed };
  if (field.as === 'hex') {
    const bytes = fromHex(text);
    const fits = bytes && bytes.length <= 16 && bytes.every((byte) => byte < 0x80);
    return fits ? { value: [...bytes] } : undefined;
  }
  if (text === '') return field.optional ? { value: undefined } : undefined;
  const asHex = (hex && field.data) || /h$|^0x/i.test(text);
  const digits = text.replace(/h$/i, '').replace(/^0x/i, '');
  const value = asHex && /^[0-9a-f]+$/i.test(digits) ? parseInt(digits, 16) : Number(digits);
  const { min = 0, max = Infinity } = field;
  const isNumber = field.fractions ? Number.isFinite(value) : Number.isInteger(value);
  return isNumber && value >= min && value <= max ? { value } : undefined;
}

/** A field's value as it is shown. */
export function showField(field: Field, pattern: Pattern, hex: boolean): string {
  const value = (pattern as Record<string, unknown>)[field.key];
  if (value === undefined) return '';
  if (field.as === 'hex') return toHex(Uint8Array.from(value as number[]));
  if (hex && field.data) return (value as number).toString(16).toUpperCase().padStart(2, '0');
  return String(value);
}
