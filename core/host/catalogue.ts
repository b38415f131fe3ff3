import { z } from 'zod';
import { patternSchema, type Pattern } from '@rondo/core/surface';
import { LAWS, type LawName } from './law.js';

export const FUNCTION_KINDS = [
  'continuous',
  'toggle',
  'trigger',
  'nudge',
  'text',
  'meter',
] as const;

const messagesSchema = z.object({
  /** What sets it, where it can be set. */
  set: patternSchema.optional(),
  /** What reports it, where the host tells. */
  report: patternSchema.optional(),
});

export const hostFunctionSchema = z.looseObject({
  id: z.string().regex(/^[a-z][a-zA-Z]*$/),
  label: z.string().min(1).max(40),
  /** Other words people use for it, for the finder. */
  words: z.array(z.string()).default([]),
  category: z.enum(['Strip', 'Transport', 'View']),
  kind: z.enum(FUNCTION_KINDS),
  law: z.enum(Object.keys(LAWS) as [LawName, ...LawName[]]).default('switch'),
  /** Position a reset puts it to, 0…1. */
  rest: z.number().min(0).max(1).default(0),
  /** Once for each strip, or once for the host. */
  per: z.enum(['strip', 'host']),
  /** Messages by instance: one entry for each strip (null where a strip lacks it), one where `per` is host. */
  messages: z.array(messagesSchema.nullable()).min(1),
});
export type HostFunction = z.infer<typeof hostFunctionSchema>;

export const hostModelSchema = z
  .looseObject({
    id: z.string().min(1).max(64),
    name: z.string().min(1).max(60),
    about: z.string().max(200),
    strips: z.array(z.object({ name: z.string(), group: z.enum(['track', 'bus', 'master']) })),
    /** Message that makes the host report everything, where it has one. */
    ask: z.array(z.int().min(0).max(255)).optional(),
    bytesPerSecond: z.number().positive(),
    functions: z.array(hostFunctionSchema),
  })
  .superRefine((model, context) => {
    const seen = new Map<string, string>();
    model.functions.forEach((fn, index) => {
      const expected = fn.per === 'strip' ? model.strips.length : 1;
      if (fn.messages.length !== expected)
        context.addIssue({
          code: 'custom',
          path: ['functions', index, 'messages'],
          message: `needs ${expected} entries, has ${fn.messages.length}`,
        });
      for (const key of fn.messages.flatMap((m) => (m?.report ? [patternKey(m.report)] : []))) {
        const other = seen.get(key);
        if (other)
          context.addIssue({
            code: 'custom',
            path: ['functions', index, 'messages'],
            message: `${fn.id} reports with the same message as ${other} (${key})`,
          });
        seen.set(key, fn.id);
      }
    });
  });
/** What a host can do and show, and the messages for it. */
export type HostModel = z.infer<typeof hostModelSchema>;

/** What tells two patterns apart on the wire. */
export function patternKey(pattern: Pattern): string {
  switch (pattern.type) {
    case 'text':
      return `text ${pattern.header.join(' ')} ${pattern.offset ?? ''}`;
    case 'pitchBend':
      return `pitchBend ${pattern.channel}`;
    case 'stripMeter':
      return `stripMeter ${pattern.channel} ${pattern.strip}`;
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
  /** Strip index, −1 where the function is the host's own. */
  readonly strip: number;
  readonly set?: Pattern;
  readonly report?: Pattern;
  /** False where this strip lacks the function. */
  readonly exists: boolean;
}

/** Address of one function instance, as it is written in profiles, traces and files. Strips count from 1. */
export function addressOf(functionId: string, strip: number): string {
  return strip < 0 ? functionId : `${functionId}/${strip + 1}`;
}

/**
 * All instances of a host's functions in order. The instances of a strip function stand side by side, strip by strip,
 * so that a bank window is an offset.
 */
export function slotsOf(model: HostModel): Slot[] {
  return model.functions.flatMap((fn) =>
    fn.messages.map((messages, index) => {
      const strip = fn.per === 'strip' ? index : -1;
      return {
        address: addressOf(fn.id, strip),
        fn,
        strip,
        set: messages?.set,
        report: messages?.report,
        exists: messages !== null,
      };
    }),
  );
}
