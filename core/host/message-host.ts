import type { Draft } from 'immer';
import Papa from 'papaparse';
import * as z from 'zod';
import { strokeOf } from '@rondo/core/wire';
import { edit, readDocument, type Edited, type Read } from '@rondo/core/document';
import { oscRangeOf, patternSchema, rangeOf, topOf, type Pattern } from '@rondo/core/surface';
import {
  TELLS,
  hostModelSchema,
  patternKey,
  type HostFunction,
  type HostModel,
} from './catalogue.js';
import {
  chartMessage,
  readAsk,
  readChartMessage,
  readRange,
  type ChartFault,
} from './chart-text.js';

export const HOST_FORMAT = 'rondo-host';
export const HOST_VERSION = 1;

/** What a row of a chart can be: what its message does in the program. */
export const ROW_KINDS = ['continuous', 'toggle', 'trigger', 'nudge'] as const;
export type RowKind = (typeof ROW_KINDS)[number];

const rowId = z.string().regex(/^[a-z][a-zA-Z0-9]{0,39}$/);

export const hostRowSchema = z.looseObject({
  id: rowId,
  name: z.string().trim().min(1).max(40),
  kind: z.enum(ROW_KINDS),
  /** What sets it. */
  message: patternSchema,
  /** What tells it: the same message, none, or one of its own. */
  feedback: z.union([z.enum(['same', 'none']), patternSchema]),
  /** The program only knows how to turn it over, whatever value it is sent. */
  flips: z.boolean().optional(),
  /** Where it rests by its chart, as a share of its range. */
  rest: z.number().min(0).max(1).optional(),
});
export type HostRow = z.infer<typeof hostRowSchema>;

/** A program or synth that is spoken to by the messages of its chart. */
export const messageHostSchema = z
  .looseObject({
    format: z.literal(HOST_FORMAT),
    version: z.literal(HOST_VERSION),
    id: z
      .string()
      .min(1)
      .max(64)
      .regex(/^[a-zA-Z0-9][a-zA-Z0-9_.:-]*$/, 'letters, digits and - _ . : only'),
    name: z.string().trim().min(1).max(60),
    about: z.string().max(200).default(''),
    tells: z.enum(TELLS).default('changes'),
    /** Message by which it is asked to send everything again, as hex pairs; empty where it has none. */
    ask: z
      .string()
      .max(1_024)
      .refine((text) => text.trim() === '' || readAsk(text) !== null, {
        message: 'SysEx as hex pairs, F0 first, F7 last; or an OSC address that starts with /',
      })
      .default(''),
    bytesPerSecond: z.number().min(100).max(10_000_000).default(60_000),
    rows: z.array(hostRowSchema).max(2_000),
  })
  .superRefine(({ rows }, context) => {
    const seen = new Set<string>();
    rows.forEach(({ id }, index) => {
      if (seen.has(id))
        context.addIssue({
          code: 'custom',
          path: ['rows', index, 'id'],
          message: `“${id}” is there twice`,
        });
      seen.add(id);
    });
  });
export type MessageHost = z.infer<typeof messageHostSchema>;

/** Reads a message host from parsed JSON: accepted whole or refused whole, with the path of each fault. */
export const readMessageHost = (value: unknown): Read<MessageHost> =>
  readDocument(value, messageHostSchema, { format: HOST_FORMAT, version: HOST_VERSION });

/** A message host without a row. */
export const blankHost = (id: string, name: string): MessageHost =>
  messageHostSchema.parse({ format: HOST_FORMAT, version: HOST_VERSION, id, name, rows: [] });

/** The message that tells a row; undefined where none does. */
export const feedbackOf = ({ message, feedback }: HostRow): Pattern | undefined =>
  feedback === 'same' ? message : feedback === 'none' ? undefined : feedback;

/** Rows that another has the message of, or the feedback of, in a sentence each. Nothing of it stops the rest. */
export function hostFindings({
  rows,
}: MessageHost): { readonly row: string; readonly says: string }[] {
  const found: { row: string; says: string }[] = [];
  for (const [what, of] of [
    ['is sent by', (row: HostRow): Pattern | undefined => row.message],
    ['is told by', feedbackOf],
  ] as const) {
    const first = new Map<string, string>();
    for (const row of rows) {
      const pattern = of(row);
      if (!pattern) continue;
      const key = patternKey(pattern);
      const other = first.get(key);
      if (other === undefined) first.set(key, row.name);
      else
        found.push({
          row: row.id,
          says: `${row.name} ${what} the same message as ${other}. Only ${other} follows what comes back.`,
        });
    }
  }
  return found.filter(({ says }, at) => found.findIndex((other) => other.says === says) === at);
}

/** Whether a message is a key that is down, or repeats, as long as it is held. */
const isHeld = (message: Pattern): boolean =>
  message.type === 'osc' && (strokeOf(message.address)?.way ?? 'press') !== 'press';

const models = new WeakMap<MessageHost, HostModel>();

/** What a message host can do, as the engine needs it; made once for each. */
export function modelOfHost(host: MessageHost): HostModel {
  const known = models.get(host);
  if (known) return known;
  const told = new Set<string>();
  const functions = host.rows.map((row): HostFunction => {
    const report = row.kind === 'trigger' || row.kind === 'nudge' ? undefined : feedbackOf(row);
    const key = report ? patternKey(report) : '';
    const isFirst = report !== undefined && !told.has(key);
    told.add(key);
    return {
      id: row.id,
      label: row.name,
      words: row.name
        .toLowerCase()
        .split(/[^a-z0-9]+/)
        .filter(Boolean),
      category: 'Actions',
      kind: row.kind,
      law: row.kind === 'continuous' ? 'percent' : 'switch',
      rest: row.rest ?? 0,
      per: 'host',
      ...(row.flips ? { flips: true } : {}),
      ...(isHeld(row.message) ? { held: true } : {}),
      messages: [{ set: row.message, ...(isFirst ? { report } : {}) }],
    };
  });
  // What is OSC says nothing to MIDI, nor the other way round.
  const isOsc = functions.some(({ messages }) => messages.some((one) => one?.set?.type === 'osc'));
  const fits = host.ask.trim() !== '' && host.ask.trim().startsWith('/') === isOsc;
  const ask = fits ? readAsk(host.ask) : null;
  const model = hostModelSchema.parse({
    id: host.id,
    name: host.name,
    about: host.about,
    strips: [],
    tells: host.tells,
    ...(ask ? { ask: [...ask] } : {}),
    bytesPerSecond: host.bytesPerSecond,
    functions,
  });
  models.set(host, model);
  return model;
}

/** An id for a row that none of the others has, from its name. */
export function rowIdOf(name: string, taken: ReadonlySet<string>): string {
  const [first = 'row', ...rest] = name
    .normalize('NFKD')
    .split(/[^a-zA-Z0-9]+/)
    .filter(Boolean);
  const joined =
    first.toLowerCase() + rest.map((word) => word.charAt(0).toUpperCase() + word.slice(1)).join('');
  const stem = (/^[a-z]/.test(joined) ? joined : `row${joined}`).slice(0, 36);
  let id = stem;
  for (let n = 2; taken.has(id); n++) id = `${stem}${n}`;
  return id;
}

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

const isFault = (read: object): read is ChartFault => 'fault' in read;

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
  const { data } = Papa.parse<string[]>(csv.trim(), { skipEmptyLines: 'greedy' });
  const heads = headsOf(data[0] ?? []);
  const hasHeads = heads.includes('name') && heads.includes('message');
  const wide = data.reduce((most, cells) => Math.max(most, cells.length), 0);
  const guessed = hasHeads ? heads : usualColumns(data);
  const columns = Array.from({ length: wide }, (_, at) => said[at] ?? guessed[at] ?? 'none');
  const ids = new Set(taken);

  const rows: HostRow[] = [];
  const faults: { line: number; why: string }[] = [];
  data.slice(hasHeads ? 1 : 0).forEach((cells, at) => {
    const cell = (column: ChartColumnKind) => (cells[columns.indexOf(column)] ?? '').trim();
    const row = readRow(cell, channel);
    const line = at + (hasHeads ? 2 : 1);
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

/** Adds rows at the end, with ids that are free. */
export const addRows = (host: MessageHost, rows: readonly HostRow[]): Edited<MessageHost> =>
  edit(host, rows.length === 1 ? `Add ${rows[0].name}` : `Add ${rows.length} rows`, (draft) => {
    const taken = new Set(draft.rows.map(({ id }) => id));
    for (const row of rows) {
      const id = taken.has(row.id) ? rowIdOf(row.name, taken) : row.id;
      taken.add(id);
      draft.rows.push({ ...row, id });
    }
  });

/** Changes a message host under a name by which it can be undone. */
export const changeHost = (
  host: MessageHost,
  name: string,
  recipe: (draft: Draft<MessageHost>) => void,
): Edited<MessageHost> => edit(host, name, recipe);

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

/** A new row at the end of a chart: the controller after the last. */
export function nextRow({ rows }: MessageHost): HostRow {
  const last = rows.at(-1)?.message;
  const free = last?.type === 'controller' && last.number < 119 ? last.number + 1 : 20;
  const channel = last && 'channel' in last ? last.channel : 1;
  const taken = new Set(rows.map(({ id }) => id));
  const name = `Parameter ${rows.length + 1}`;
  return {
    id: rowIdOf(name, taken),
    name,
    kind: 'continuous',
    message: { type: 'controller', channel, number: free },
    feedback: 'same',
  };
}
