import { noteName, strokeOf } from '@rondo/core/wire';
import * as z from 'zod';
import { patternSchema, type LightTarget, type Pattern } from '@rondo/core/surface';
import { LAWS, type LawName } from './law.js';

const FUNCTION_KINDS = [
  'continuous',
  'toggle',
  'trigger',
  'choice',
  'nudge',
  'text',
  'meter',
] as const;

/** What a host tells of its state: everything when asked and every change; changes only; or nothing. */
export const TELLS = ['all', 'changes', 'nothing'] as const;
export type Tells = (typeof TELLS)[number];

const CATEGORIES = [
  'Strip',
  'Sends',
  'Inserts',
  'Focus',
  'Automation',
  'Transport',
  'Markers',
  'Clips',
  'Edit',
  'Actions',
  'Deck',
  'Cues',
  'Loops',
  'Mixer',
  'Stems',
  'Effects',
  'Samplers',
  'Browser',
  'View',
] as const;

const messagesSchema = z.object({
  /** What sets it, where it can be set. */
  set: patternSchema.optional(),
  /** What reports it, where the host tells. */
  report: patternSchema.optional(),
});

const hostFunctionSchema = z.looseObject({
  id: z.string().regex(/^[a-z][a-zA-Z0-9]*$/),
  label: z.string().min(1).max(40),
  /** Other words people use for it, for the finder. */
  words: z.array(z.string()).default([]),
  category: z.enum(CATEGORIES),
  kind: z.enum(FUNCTION_KINDS),
  law: z.enum(Object.keys(LAWS) as [LawName, ...LawName[]]).default('switch'),
  /** What a choice chooses among; its value is the index as a share of the last one. */
  choices: z.array(z.string().min(1)).min(2).max(128).optional(),
  /** Its choices are the notes from 0 on, and are called as the user has notes called. */
  ofNotes: z.boolean().optional(),
  /** Function that tells whether this one is available now: on where it is. */
  needs: z.string().optional(),
  /** The host only knows how to turn it over: its message does so, whatever value it carries. */
  flips: z.boolean().optional(),
  /** It is a key of a desk: pressed and let go, each by a message; what comes back is its lamp, whatever the key does. */
  taps: z.boolean().optional(),
  /** It is on as long as it is held, and is no state to be turned over. */
  held: z.boolean().optional(),
  /** The number by which its lamp is told to blink. */
  blinkAt: z.int().min(1).max(127).optional(),
  /** How its lamp is told a colour or a brightness, where it is more than on or off. */
  lamp: z.custom<LightTarget>().optional(),
  /** Function that tells the host that a finger lies on what moves this one. */
  touch: z.string().optional(),
  /** The choice in which it waits for its time, as a clip for the next bar. */
  waits: z.string().optional(),
  /** The colour that it has in the trade, `#rrggbb`: what shows it glows so unless it is told otherwise. */
  colour: z
    .string()
    .regex(/^#[0-9a-f]{6}$/)
    .optional(),
  /** It only shows; nothing of the host can be moved by it. */
  view: z.boolean().optional(),
  /** Position a reset puts it to, 0…1. */
  rest: z.number().min(0).max(1).default(0),
  /** Once for each strip, or once for the host. A strip is a track, a bus, or a deck. */
  per: z.enum(['strip', 'host']),
  /**
   * Messages by instance: one entry for each strip (null where a strip lacks it), one where `per` is host. One more than
   * there are strips is that of the selected strip, or of the deck in focus.
   */
  messages: z.array(messagesSchema.nullable()).min(1),
});
export type HostFunction = z.infer<typeof hostFunctionSchema>;

export const hostModelSchema = z
  .looseObject({
    id: z.string().min(1).max(520),
    name: z.string().min(1).max(90),
    about: z.string().max(400),
    strips: z.array(
      z.object({ name: z.string(), group: z.enum(['track', 'bus', 'master', 'deck']) }),
    ),
    /** What one strip is called: track, deck. */
    stripWord: z.string().default('strip'),
    /** What the one that is chosen is called: the selected track, the deck in focus. */
    selectedWord: z.string().default('the selected strip'),
    /** Message that makes the host report everything, where it has one. */
    ask: z.array(z.int().min(0).max(255)).optional(),
    bytesPerSecond: z.number().positive(),
    /** Strips of each unit, where they come through several ports one after the other. */
    units: z.array(z.int().min(0)).min(1).max(8).optional(),
    /** Surfaces that the program believes to be behind its ports, by unit; Rondo stands in for them. */
    expects: z.array(z.string()).optional(),
    /** It speaks the Mackie-style protocol. */
    desk: z.boolean().optional(),
    /** What it tells by itself: all there is, what changes, or nothing. */
    tells: z.enum(TELLS).default('all'),
    /** Function that tells whether a strip is ready to record. */
    arms: z.string().optional(),
    /** What can have focus, as the plug-ins of the selected track, in the order of the choice that tells which has it. */
    focus: z
      .object({
        function: z.string(),
        items: z
          .array(z.object({ label: z.string(), parameters: z.array(z.string()).max(128) }))
          .min(1)
          .max(128),
      })
      .optional(),
    functions: z.array(hostFunctionSchema),
  })
  .superRefine((model, context) => {
    const seen = new Map<string, string>();
    const known = new Set(model.functions.map(({ id }) => id));
    const named = model.focus?.items.flatMap(({ parameters }) => parameters) ?? [];
    for (const id of [...named, ...(model.focus ? [model.focus.function] : [])])
      if (!known.has(id))
        context.addIssue({ code: 'custom', path: ['focus'], message: `there is no ${id}` });
    model.functions.forEach((fn, index) => {
      const expected = fn.per === 'strip' ? model.strips.length : 1;
      const hasSelected = fn.per === 'strip' && fn.messages.length === expected + 1;
      const say = (field: string, message: string) =>
        context.addIssue({ code: 'custom', path: ['functions', index, field], message });
      if (model.functions.findIndex(({ id }) => id === fn.id) < index)
        say('id', `${fn.id} is there twice`);
      if ((fn.kind === 'choice') !== (fn.choices !== undefined))
        say('choices', 'a choice, and nothing else, has choices');
      const needed = model.functions.find(({ id }) => id === fn.needs);
      if (fn.needs !== undefined && (!needed || (needed.per === 'strip' && fn.per === 'host')))
        say('needs', `there is no ${fn.needs} to tell whether it is available`);
      if (fn.waits !== undefined && !fn.choices?.includes(fn.waits))
        say('waits', `there is no choice ${fn.waits}`);
      if (!hasSelected && fn.messages.length !== expected)
        say('messages', `needs ${expected} entries, has ${fn.messages.length}`);
      fn.messages.forEach((m, at) => {
        if (!m?.report) return;
        const key = patternKey(m.report);
        // What comes through another port is another message.
        const place = `${fn.per === 'strip' ? unitOf(model, at) : 0} ${key}`;
        const other = seen.get(place);
        if (other) say('messages', `${fn.id} reports with the same message as ${other} (${key})`);
        seen.set(place, fn.id);
      });
    });
  });
/** Whether a host speaks OSC, which has nothing of MIDI. */
export const hostSpeaksOsc = ({ functions }: HostModel): boolean =>
  functions.some(({ messages }) =>
    messages.some((one) => one?.set?.type === 'osc' || one?.report?.type === 'osc'),
  );

/** Whether a host takes nothing but key strokes. */
export const takesKeys = ({ functions }: HostModel): boolean => {
  const messages = functions.flatMap((fn) => fn.messages.flatMap((one) => one?.set ?? []));
  return (
    messages.length > 0 &&
    messages.every((one) => one.type === 'osc' && strokeOf(one.address) !== null)
  );
};

/** What a host can do and show, and the messages for it. */
export type HostModel = z.infer<typeof hostModelSchema>;

/**
 * A host that ships with Rondo, with what its schema would fill in where it is left out. The schema itself is asked in the
 * tests, once for all, and not at each start of a page, a worker or a server.
 */
export const stockModel = (
  model: Pick<HostModel, 'id' | 'name' | 'about' | 'strips' | 'bytesPerSecond'> &
    Partial<Pick<HostModel, 'stripWord' | 'selectedWord' | 'ask' | 'arms' | 'focus' | 'tells'>> & {
      readonly functions: readonly object[];
    },
): HostModel => ({
  stripWord: 'strip',
  selectedWord: 'the selected strip',
  tells: 'all',
  ...model,
  functions: model.functions.map(
    (fn) => ({ words: [], law: 'switch', rest: 0, ...fn }) as unknown as HostFunction,
  ),
});

/** The unit that a strip belongs to, from 0. */
export function unitOf({ units }: Pick<HostModel, 'units'>, strip: number): number {
  let rest = strip;
  for (let unit = 0; unit < (units?.length ?? 1); unit++) {
    const count = units?.[unit] ?? Infinity;
    if (rest < count) return unit;
    rest -= count;
  }
  return 0;
}

/** A function's value as people say it: by its choices, else by its law. */
export function valueText(
  fn: Pick<HostFunction, 'choices' | 'law' | 'ofNotes'>,
  value: number,
): string {
  if (!fn.choices) return LAWS[fn.law].format(value);
  const choice = choiceAt(fn.choices.length, value);
  return fn.ofNotes ? noteName(choice) : fn.choices[choice];
}

/** What a choice chooses among, as it is called now; undefined for what is no choice. */
export const choicesOf = (
  fn: Pick<HostFunction, 'choices' | 'ofNotes'> | undefined,
): readonly string[] | undefined =>
  fn?.ofNotes ? fn.choices?.map((_, note) => noteName(note)) : fn?.choices;

/** Which of some choices a value stands for. */
export const choiceAt = (total: number, value: number): number =>
  Math.max(0, Math.min(total - 1, Math.round(value * (total - 1))));

/** The value that stands for a choice. */
export const valueOfChoice = (total: number, index: number): number =>
  total > 1 ? index / (total - 1) : 0;

/** What tells two patterns apart on the wire. */
export function patternKey(pattern: Pattern): string {
  switch (pattern.type) {
    case 'text':
      return `text ${pattern.header.join(' ')} ${pattern.offset ?? ''}`;
    case 'pitchBend':
      return `pitchBend ${pattern.channel}`;
    case 'stripMeter':
      return `stripMeter ${pattern.channel} ${pattern.strip}`;
    case 'digits':
      return `digits ${pattern.channel} ${pattern.number}`;
    case 'note':
      return `note ${pattern.channel} ${pattern.number}`;
    case 'controller':
    case 'controllerPair':
    case 'relative':
    case 'ring':
      return `controller ${pattern.channel} ${pattern.number}`;
    default:
      return JSON.stringify(pattern);
  }
}

/** Where a function stands in the flat list of a host's values. */
export interface Slot {
  readonly address: string;
  readonly fn: HostFunction;
  /** Strip index, −1 where the function is the host's own, {@link SELECTED} for the selected strip's. */
  readonly strip: number;
  readonly set?: Pattern;
  readonly report?: Pattern;
  /** False where this strip lacks the function. */
  readonly exists: boolean;
  /** The unit whose port it comes through, from 0. */
  readonly unit: number;
}

/** Stands for the index of the strip that is selected, or of the deck in focus. */
export const SELECTED = -2;

/** Address of one function instance, as it is written in profiles, traces and files. Strips count from 1. */
export function addressOf(functionId: string, strip: number): string {
  if (strip === SELECTED) return `${functionId}/selected`;
  return strip < 0 ? functionId : `${functionId}/${strip + 1}`;
}

/**
 * All instances of a host's functions in order. The instances of a strip function stand side by side, strip by strip,
 * so that a bank window is an offset.
 */
export function slotsOf(model: HostModel): Slot[] {
  return model.functions.flatMap((fn) =>
    fn.messages.map((messages, index) => {
      const selected = fn.per === 'strip' && index === model.strips.length;
      const strip = selected ? SELECTED : fn.per === 'strip' ? index : -1;
      return {
        address: addressOf(fn.id, strip),
        fn,
        strip,
        set: messages?.set,
        report: messages?.report,
        exists: messages !== null,
        unit: strip >= 0 ? unitOf(model, strip) : 0,
      };
    }),
  );
}
