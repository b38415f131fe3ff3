import * as z from 'zod';
import { strokeOf } from '@rondo/core/wire';
import { readDocument, type Read } from '@rondo/core/document';
import { patternSchema, type Pattern } from '@rondo/core/surface';
import {
  TELLS,
  hostModelSchema,
  patternKey,
  type HostFunction,
  type HostModel,
} from './catalogue.js';
import { readAsk } from './chart-text.js';

export const HOST_FORMAT = 'rondo-host';
const HOST_VERSION = 1;

/** What a row of a chart can be: what its message does in the program. */
export const ROW_KINDS = ['continuous', 'toggle', 'trigger', 'nudge'] as const;
export type RowKind = (typeof ROW_KINDS)[number];

const rowId = z.string().regex(/^[a-z][a-zA-Z0-9]{0,39}$/);

const hostRowSchema = z.looseObject({
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
const feedbackOf = ({ message, feedback }: HostRow): Pattern | undefined =>
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
