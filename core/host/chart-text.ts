import {
  OSC_TYPES,
  addressFault,
  fromHex,
  inStream,
  readOscTemplate,
  readStroke,
  readTemplate,
  strokeAddress,
  strokeOf,
  strokeText,
  writeOscTemplate,
} from '@rondo/core/wire';
import { OSC_ARGUMENTS, patternSchema, patternText, type Pattern } from '@rondo/core/surface';

/** What is wrong with a cell of a chart, in a sentence. */
export interface ChartFault {
  readonly fault: string;
}

const inside = (value: number, top: number, what: string): ChartFault | null =>
  value <= top ? null : { fault: `${what} ${value} is above ${top}.` };

/** Words that charts write for each kind of message, before its number. */
const KINDS: readonly (readonly [RegExp, string])[] = [
  [/^(?:cc|controller|control change|control|ctrl)(?![a-z])/, 'controller'],
  [/^nrpn(?![a-z])/, 'nrpn'],
  [/^rpn(?![a-z])/, 'rpn'],
  [/^note(?![a-z])/, 'note'],
  [/^(?:pitch ?bend|bend|pitch)\b/, 'bend'],
  [/^(?:program change|program|prog|pc)(?![a-z])/, 'program'],
  [/^(?:channel pressure|pressure|aftertouch)\b/, 'pressure'],
  [/^(?:turn|relative)\b/, 'turn'],
];

/**
 * Reads a message as charts write it: `74`, `CC 74`, `CC74` or `CC#74`, `CC 7+39` for two controllers of 14 bits, `NRPN 1024`,
 * `NRPN 1024 14-bit`, `note 60`, `bend`, `program`, `pressure`, `turn 16` for ticks, SysEx as hex pairs with `value`, or an
 * OSC address: `/grand float -60 to 6`, `/head/1/xy argument 2`; or keys of the computer: `keys Control+S`, `keys hold Space`.
 * A channel may follow: `channel 2`.
 * @param channel where none is said, 1–16
 */
export function readChartMessage(text: string, channel = 1): Pattern | ChartFault {
  const said = text.trim();
  if (/^f0\b/i.test(said)) {
    const template = readTemplate(said);
    return 'fault' in template ? template : { type: 'sysex', template: said };
  }
  if (said.startsWith('/')) return readOscCell(said);
  if (/^keys?\b/i.test(said)) return readKeysCell(said);
  const onChannel = /[,;]?\s*\b(?:channel|chan|ch)\.?\s*(\d+)\s*$/i.exec(said);
  const onto = onChannel ? Number(onChannel[1]) : channel;
  if (onto < 1 || onto > 16) return { fault: `Channel ${onto} is not from 1 to 16.` };
  let rest = said.slice(0, onChannel?.index).trim().toLowerCase();
  const kind = /^[\d\s+/#]/.test(rest)
    ? 'controller'
    : KINDS.find(([words]) => words.test(rest))?.[1];
  const words = KINDS.find(([, name]) => name === kind)?.[0];
  if (kind === undefined || !words)
    return {
      fault: `“${said}” is no message that Rondo reads. Write CC 74, NRPN 1024, note 60, bend, program, SysEx as hex, or an OSC address.`,
    };
  const bits = /\b(7|14)\s*-?\s*bit\b/.exec(rest);
  rest = rest
    .replace(words, '')
    .replace(bits?.[0] ?? '', '')
    .replaceAll('#', '')
    .trim();
  const pair = /^(\d+)\s*[+/]\s*(\d+)$/.exec(rest);
  if (rest !== '' && !pair && !/^\d+$/.test(rest)) return { fault: `“${rest}” is not a number.` };
  const number = rest === '' ? null : Number(pair ? pair[1] : rest);
  if (number === null && !['bend', 'program', 'pressure'].includes(kind))
    return { fault: `“${said}” has no number.` };
  return patternOf(kind, onto, number ?? -1, pair ? Number(pair[2]) : null, bits?.[1] === '14');
}

function patternOf(
  kind: string,
  channel: number,
  number: number,
  second: number | null,
  fine: boolean,
): Pattern | ChartFault {
  const wide = kind === 'nrpn' || kind === 'rpn';
  const over = inside(number, wide ? 16_383 : 127, 'Number') ?? inside(second ?? 0, 127, 'Number');
  if (over) return over;
  if (fine && !wide && kind !== 'controller' && kind !== 'bend')
    return { fault: `A ${kind} message has 7 bits and no more.` };
  switch (kind) {
    case 'controller':
      // MIDI 1.0: the fine half of controllers 0–31 is 32 further on.
      if (fine && number < 32) return { type: 'controllerPair', channel, number, lsb: number + 32 };
      if (fine && second === null)
        return {
          fault: `CC ${number} has no fine half of its own: those are 32 above controllers 0 to 31. Write both numbers, as CC ${number}+${number < 64 ? number + 32 : number + 1}, or take it as 7-bit.`,
        };
      return second === null
        ? { type: 'controller', channel, number }
        : second === number
          ? { fault: 'Its two halves are the same controller.' }
          : { type: 'controllerPair', channel, number, lsb: second };
    case 'nrpn':
    case 'rpn':
      return { type: kind, channel, number, bits: fine ? 14 : 7 };
    case 'note':
      return { type: 'note', channel, number };
    case 'bend':
      return { type: 'pitchBend', channel, bits: 14 };
    case 'program':
      return number < 0 ? { type: 'program', channel } : { type: 'program', channel, number };
    case 'turn':
      return { type: 'relative', channel, number, encoding: 'twosComplement' };
    default:
      return { type: 'channelPressure', channel };
  }
}

const OSC_NUMBER = String.raw`-?\d+(?:\.\d+)?`;
const OSC_CELL = new RegExp(
  String.raw`^(\S+)(?:\s+argument\s+(\d+))?(?:\s+(${OSC_TYPES.join('|')}))?(?:\s+(${OSC_NUMBER})\s*(?:\.\.|–|to)\s*(${OSC_NUMBER}))?$`,
  'i',
);

/** An OSC message of a chart: its address; where it needs to be said, which argument, of which type, and its range. */
function readOscCell(said: string): Pattern | ChartFault {
  const found = OSC_CELL.exec(said);
  if (!found)
    return {
      fault: `“${said}” is no OSC message that Rondo reads. Write /address argument 2 float 0 to 1.`,
    };
  const [, address, argument, as, low, high] = found;
  const fault = addressFault(address);
  if (fault) return { fault };
  const read = patternSchema.safeParse({
    type: 'osc',
    address,
    argument: argument === undefined ? 1 : Number(argument),
    as: as === undefined ? 'float' : as.toLowerCase(),
    ...(low === undefined ? {} : { low: Number(low), high: Number(high) }),
  });
  return read.success ? read.data : { fault: `An argument is from 1 to ${OSC_ARGUMENTS}.` };
}

/** Keys of a chart: they go as an OSC address that carries 1 while they are pressed. */
function readKeysCell(said: string): Pattern | ChartFault {
  const stroke = readStroke(said.replace(/^keys?\s*/i, ''));
  if ('fault' in stroke) return stroke;
  return {
    type: 'osc',
    address: strokeAddress(stroke),
    argument: 1,
    as: 'integer',
    low: 0,
    high: 1,
  };
}

/** An OSC message as {@link readOscCell} reads it. */
function oscCell({ address, argument, as, low, high }: Extract<Pattern, { type: 'osc' }>): string {
  const which = argument > 1 ? ` argument ${argument}` : '';
  const range = low === undefined || high === undefined ? '' : ` ${low} to ${high}`;
  return `${address}${which}${as === 'float' ? '' : ` ${as}`}${range}`;
}

/** A message as {@link readChartMessage} reads it; in words where charts have no way to write it. */
export function chartMessage(pattern: Pattern): string {
  const on = 'channel' in pattern && pattern.channel !== 1 ? ` channel ${pattern.channel}` : '';
  switch (pattern.type) {
    case 'controller':
      return `CC ${pattern.number}${on}`;
    case 'controllerPair':
      return `CC ${pattern.number}+${pattern.lsb}${on}`;
    case 'nrpn':
    case 'rpn':
      return `${pattern.type.toUpperCase()} ${pattern.number}${pattern.bits === 14 ? ' 14-bit' : ''}${on}`;
    case 'note':
      return `note ${pattern.number}${on}`;
    case 'pitchBend':
      return `bend${on}`;
    case 'program':
      return pattern.number === undefined ? `program${on}` : `program ${pattern.number}${on}`;
    case 'channelPressure':
      return `pressure${on}`;
    case 'relative':
      return `turn ${pattern.number}${on}`;
    case 'sysex':
      return pattern.template;
    case 'osc': {
      const stroke = strokeOf(pattern.address);
      return stroke ? `keys ${strokeText(stroke)}` : oscCell(pattern);
    }
    default:
      return patternText(pattern);
  }
}

/** Reads a range: `0-127`, `0–100`, `1 to 12`; null for all of it. */
export function readRange(text: string): readonly [number, number] | null | ChartFault {
  const said = text.trim();
  if (said === '') return null;
  const found = /^(\d+)\s*(?:-|–|—|~|to|\.\.+|…)\s*(\d+)$/i.exec(said);
  if (!found) return { fault: `“${said}” is no range. Write it as 0-127.` };
  const [first, last] = [Number(found[1]), Number(found[2])];
  if (first > 16_383 || last > 16_383) return { fault: 'A range ends at 16383 at most.' };
  if (first === last) return { fault: 'A range of one number has nothing to move.' };
  return [first, last];
}

/** Hex pairs as bytes of one or more whole SysEx messages; null where they are none. */
export function readAsk(text: string): Uint8Array | null {
  if (text.trim().startsWith('/')) {
    const message = readOscTemplate(text);
    return 'fault' in message ? null : inStream(writeOscTemplate(message, 1));
  }
  const bytes = fromHex(text);
  if (!bytes || bytes[0] !== 0xf0 || bytes.at(-1) !== 0xf7) return null;
  return bytes.subarray(1, -1).every((byte) => byte < 0x80) ? bytes : null;
}
