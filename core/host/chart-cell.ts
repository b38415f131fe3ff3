import { patternSchema, rangeOf, topOf, type Pattern } from '@rondo/core/surface';
import { chartMessage, readChartMessage, readRange, type ChartFault } from './chart-text.js';
import type { HostRow } from './message-host.js';

export const isFault = (read: object): read is ChartFault => 'fault' in read;

/** A message with a range of its own, where it can have one and does not go through all of it. */
export function withRange(
  message: Pattern,
  range: readonly [number, number] | null,
): Pattern | ChartFault {
  if (!range) return message;
  if (message.type === 'osc') return { ...message, low: range[0], high: range[1] };
  const top = topOf(message);
  if (Math.max(...range) > top)
    return { fault: `The range ${range.join('–')} does not fit: this message carries 0–${top}.` };
  if (range[0] === 0 && range[1] === top) return message;
  const carries = patternSchema.safeParse({ ...message, range });
  return carries.success && rangeOf(carries.data)
    ? carries.data
    : { fault: 'Only controllers, parameters, bends and programs have a range.' };
}

/** Reads what tells a row: nothing written or `same` is its own message, `none` no message at all. */
export function readFeedback(
  text: string,
  channel: number,
  range: readonly [number, number] | null,
): HostRow['feedback'] | ChartFault {
  const said = text.trim();
  if (said === '' || /^(same|yes|y)$/i.test(said)) return 'same';
  if (/^(none|no|n|-|–)$/i.test(said)) return 'none';
  const message = readChartMessage(said, channel);
  return isFault(message) ? message : withRange(message, range);
}

/** The feedback of a row as {@link readFeedback} reads it. */
export const feedbackText = ({ feedback }: HostRow): string =>
  typeof feedback === 'string' ? feedback : chartMessage(feedback);

/** A row's message, range or feedback as they are typed, read anew; or what is wrong with it. */
export function readCell(
  row: HostRow,
  column: 'message' | 'range' | 'feedback',
  text: string,
): Pick<HostRow, 'message' | 'feedback'> | ChartFault {
  const range = column === 'range' ? readRange(text) : (rangeOf(row.message) ?? null);
  if (range && isFault(range)) return range;
  const channel = 'channel' in row.message ? row.message.channel : 1;
  const message =
    column === 'message' ? readChartMessage(text, channel) : withoutRange(row.message);
  if (isFault(message)) return message;
  const ranged = withRange(message, column === 'message' && !fits(message, range) ? null : range);
  if (isFault(ranged)) return ranged;
  const feedback =
    column === 'feedback' ? readFeedback(text, channel, range) : rangedFeedback(row, range);
  if (typeof feedback !== 'string' && isFault(feedback)) return feedback;
  return { message: ranged, feedback };
}

/** A range that a message of another kind cannot have is dropped with it. */
const fits = (message: Pattern, range: readonly [number, number] | null): boolean =>
  range === null || !('fault' in withRange(message, range));

function withoutRange(pattern: Pattern): Pattern {
  const { range: _range, ...rest } = pattern as Pattern & { range?: unknown };
  return rest as Pattern;
}

function rangedFeedback(
  { feedback }: HostRow,
  range: readonly [number, number] | null,
): HostRow['feedback'] | ChartFault {
  if (typeof feedback === 'string') return feedback;
  const plain = withoutRange(feedback);
  return fits(plain, range) ? withRange(plain, range) : plain;
}

/** The range of a row as {@link readRange} reads it; nothing where it goes through all of it. */
export const rangeText = ({ message }: HostRow): string => rangeOf(message)?.join('–') ?? '';
