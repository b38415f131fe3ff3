import Papa from 'papaparse';
import { oscRangeOf, topOf, type Pattern } from '@rondo/core/surface';
import { strokeOf } from '@rondo/core/wire';
import { isFault, readFeedback, withRange } from './chart-cell.js';
import { readChartMessage, readRange, type ChartFault } from './chart-text.js';
import { ROW_KINDS, rowIdOf, type HostRow, type RowKind } from './message-host.js';

/** What a column of a chart can be; `none` is left out. */
export const CHART_COLUMNS = [
  'name',
  'message',
  'fine',
  'range',
  'lowest',
  'highest',
  'rest',
  'feedback',
  'channel',
  'kind',
  'none',
] as const;
export type ChartColumnKind = (typeof CHART_COLUMNS)[number];

export interface ChartColumn {
  /** As the chart heads it; its first cell where it has no headings. */
  readonly heading: string;
  readonly as: ChartColumnKind;
}

/** What a chart read from CSV has to say. */
export interface ChartRead {
  readonly rows: readonly HostRow[];
  /** Lines that were left out, and why. */
  readonly faults: readonly { readonly line: number; readonly why: string }[];
  /** What each column was taken for. */
  readonly columns: readonly ChartColumn[];
}

const MOST_ROWS = 2_000;
/** Headings that published charts have (common practice, no source). */
const HEADINGS: readonly (readonly [column: ChartColumnKind, words: RegExp])[] = [
  ['name', /^(name|param(eter)?( name)?|function( name)?|control|assignment)$/i],
  ['fine', /^((cc|midi cc|controller) ?)?(lsb|fine)$/i],
  [
    'message',
    /^((midi )?message|(midi )?cc ?#?( ?(number|no\.?|msb))?|control(ler)?( change)?( ?(number|no\.?|#))?|number|midi)$/i,
  ],
  ['lowest', /^((cc )?min(imum)?( value)?|lowest|from)$/i],
  ['highest', /^((cc )?max(imum)?( value)?|highest|to)$/i],
  ['rest', /^((cc )?default( value)?|initial|init)$/i],
  ['range', /^((value )?range|values?|min ?[-–/] ?max)$/i],
  ['feedback', /^(feedback|returns?|reports?|tells|transmits?)$/i],
  ['channel', /^((midi )?channel|chan|ch)\.?$/i],
  ['kind', /^(kind|type)$/i],
];
const USUAL: readonly ChartColumnKind[] = ['name', 'message', 'range', 'feedback'];

/** What a row of a chart is taken to be, from what it says, its message and its range. */
function kindOf(said: string, message: Pattern): RowKind {
  const kind = ROW_KINDS.find((name) => name === said.trim().toLowerCase());
  if (kind) return kind;
  if (message.type === 'relative' || message.type === 'upDown') return 'nudge';
  if (message.type === 'program' && message.number !== undefined) return 'trigger';
  const stroke = message.type === 'osc' ? strokeOf(message.address) : null;
  if (stroke) return stroke.way === 'press' ? 'trigger' : 'toggle';
  if (message.type === 'sysex' && !/\b(value|high)\b/i.test(message.template)) return 'trigger';
  const isFlag = message.type === 'note' || (message.type === 'osc' && message.as === 'boolean');
  return isFlag || /^(switch|button|on\/off)$/i.test(said.trim()) ? 'toggle' : 'continuous';
}

/**
 * Reads a chart from CSV (RFC 4180): name, message, range and feedback, in this order or as a first line of headings
 * says; channel and kind may be columns too. Lines that cannot be read are told and left out.
 * @param channel of messages that name none, 1–16
 * @param said what columns are, where they are not what they were taken for
 */
export function readChart(
  csv: string,
  channel = 1,
  taken: readonly string[] = [],
  said: readonly ChartColumnKind[] = [],
): ChartRead {
  const lines = linesOf(csv);
  const data = lines.map(({ cells }) => cells);
  const heads = headsOf(data[0] ?? []);
  const hasHeads = heads.includes('name') && heads.includes('message');
  const wide = data.reduce((most, cells) => Math.max(most, cells.length), 0);
  const guessed = hasHeads ? heads : usualColumns(data);
  const columns = Array.from({ length: wide }, (_, at) => said[at] ?? guessed[at] ?? 'none');
  const ids = new Set(taken);

  const rows: HostRow[] = [];
  const faults: { line: number; why: string }[] = [];
  lines.slice(hasHeads ? 1 : 0).forEach(({ cells, line }) => {
    const cell = (column: ChartColumnKind) => (cells[columns.indexOf(column)] ?? '').trim();
    const row = readRow(cell, channel);
    if (isFault(row)) {
      faults.push({ line, why: row.fault });
      return;
    }
    if (rows.length + taken.length >= MOST_ROWS) {
      faults.push({ line, why: `A chart has at most ${MOST_ROWS} rows.` });
      return;
    }
    const id = rowIdOf(row.name, ids);
    ids.add(id);
    rows.push({ id, ...row });
  });
  return {
    rows,
    faults,
    columns: columns.map((as, at) => ({ heading: (data[0]?.[at] ?? '').trim(), as })),
  };
}

/** The records of a text (RFC 4180) that have something in them, each with the line on which it begins, from 1. */
function linesOf(csv: string): { cells: string[]; line: number }[] {
  const text = csv.replace(/^\ufeff/, '');
  // What parts cells is seen where there are some; empty lines are counted, not read.
  const { delimiter } = Papa.parse<string[]>(text.trim(), { skipEmptyLines: 'greedy' }).meta;
  let next = 1;
  return Papa.parse<string[]>(text, { delimiter }).data.flatMap((cells) => {
    const line = next;
    next += 1 + (cells.join('').match(/\r\n|\r|\n/g) ?? []).length;
    return cells.some((cell) => cell.trim() !== '') ? [{ cells, line }] : [];
  });
}

/** What the cells of a first line head; each kind once, the first that says it. */
function headsOf(cells: readonly string[]): ChartColumnKind[] {
  const seen = new Set<ChartColumnKind>();
  return cells.map((cell) => {
    const kind = HEADINGS.find(([, words]) => words.test(cell.trim()))?.[0] ?? 'none';
    if (seen.has(kind)) return 'none';
    seen.add(kind);
    return kind;
  });
}

/** The usual order; where the number stands before the name, in that one. */
function usualColumns(data: readonly (readonly string[])[]): readonly ChartColumnKind[] {
  const isMessage = (cell = '') => !isFault(readChartMessage(cell));
  const swapped = data.every(([first, second]) => isMessage(first) && !isMessage(second));
  return swapped ? ['message', 'name', 'range', 'feedback'] : USUAL;
}

/** The message of a row; a column of its own may say its fine half. */
function messageOf(
  cell: (column: ChartColumnKind) => string,
  channel: number,
): Pattern | ChartFault {
  const fine = cell('fine');
  if (!/^\d+$/.test(fine)) return readChartMessage(cell('message'), channel);
  return readChartMessage(`${cell('message')}+${fine}`, channel);
}

/** The range of a row, in one column or in two. */
function rangeIn(cell: (column: ChartColumnKind) => string): ReturnType<typeof readRange> {
  const [lowest, highest] = [cell('lowest'), cell('highest')];
  if (lowest === '' && highest === '') return readRange(cell('range'));
  if (lowest === '' || highest === '') return { fault: 'It says only one end of its range.' };
  return readRange(`${lowest}-${highest}`);
}

/** Where a row rests, as a share of its range; null where it does not say. */
function restIn(text: string, [low, high]: readonly [number, number]): number | null | ChartFault {
  if (text === '' || text === '-' || text === '–') return null;
  const at = Number(text);
  if (!Number.isFinite(at) || at < Math.min(low, high) || at > Math.max(low, high))
    return { fault: `Its default ${text} is not in its range ${low}–${high}.` };
  return (at - low) / (high - low);
}

function readRow(
  cell: (column: ChartColumnKind) => string,
  usualChannel: number,
): Pick<HostRow, 'name' | 'kind' | 'message' | 'feedback' | 'rest'> | ChartFault {
  const name = cell('name').slice(0, 40).trim();
  if (name === '') return { fault: 'It has no name.' };
  const channel = cell('channel') === '' ? usualChannel : Number(cell('channel'));
  if (!Number.isInteger(channel) || channel < 1 || channel > 16)
    return { fault: `Channel ${cell('channel')} is not from 1 to 16.` };
  const message = messageOf(cell, channel);
  if (isFault(message)) return message;
  const range = rangeIn(cell);
  if (range && isFault(range)) return range;
  const ranged = withRange(message, range);
  if (isFault(ranged)) return ranged;
  const feedback = readFeedback(cell('feedback'), channel, range);
  if (typeof feedback !== 'string' && isFault(feedback)) return feedback;
  const whole = message.type === 'osc' ? oscRangeOf(message) : ([0, topOf(message)] as const);
  const rest = restIn(cell('rest'), range ?? whole);
  if (rest !== null && typeof rest !== 'number') return rest;
  return {
    name,
    kind: kindOf(cell('kind'), message),
    message: ranged,
    feedback,
    ...(rest === null ? {} : { rest }),
  };
}
