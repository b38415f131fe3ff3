import { toHex } from './text.js';

/** Where a value stands in a SysEx template: whole in one byte, or its high and low seven bits. */
export const SLOTS = ['value', 'high', 'low'] as const;
export type Slot = (typeof SLOTS)[number];

/** Places for the three parts of a colour, seven bits each. */
export const COLOUR_SLOTS = ['red', 'green', 'blue'] as const;
export type ColourSlot = (typeof COLOUR_SLOTS)[number];

/** A SysEx message with places for a value, F0 and F7 included. */
export interface Template {
  /** The bytes; 0 where a slot stands. */
  readonly bytes: Uint8Array;
  /** Places of the slots within {@link bytes}, −1 where there is none. */
  readonly value: number;
  readonly high: number;
  readonly low: number;
  readonly red: number;
  readonly green: number;
  readonly blue: number;
  /** Where a text goes in the place of one byte. */
  readonly text: number;
}

/** Longest template, in bytes. */
export const LONGEST_TEMPLATE = 256;

/**
 * Reads a SysEx template as it is typed: hex pairs and, where the value stands, the word `value` or both `high` and
 * `low`; for a colour `red`, `green` and `blue`. A template without a slot is a message that means 'pressed'.
 * @returns the template, or what is wrong with it in a sentence
 */
export function readTemplate(text: string): Template | { readonly fault: string } {
  const words = text.trim().toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0)
    return { fault: 'Nothing is written yet. Start with F0 and end with F7.' };
  if (words.length > LONGEST_TEMPLATE)
    return { fault: `It is longer than ${LONGEST_TEMPLATE} bytes.` };
  const places: Record<Slot | ColourSlot | 'text', number> = {
    value: -1,
    high: -1,
    low: -1,
    red: -1,
    green: -1,
    blue: -1,
    text: -1,
  };
  const bytes = new Uint8Array(words.length);
  for (const [at, word] of words.entries()) {
    const slot = [...SLOTS, ...COLOUR_SLOTS, 'text' as const].find((name) => name === word);
    if (slot) {
      if (places[slot] >= 0) return { fault: `“${slot}” stands in it twice.` };
      places[slot] = at;
    } else if (/^[0-9a-f]{2}$/.test(word)) bytes[at] = parseInt(word, 16);
    else
      return {
        fault: `“${word}” is neither a hex pair nor value, high or low, nor text, red, green or blue.`,
      };
  }
  if (bytes[0] !== 0xf0) return { fault: 'It does not begin with F0.' };
  if (words.at(-1) !== 'f7') return { fault: 'It has no end: the last byte is F7.' };
  const inside = bytes.subarray(1, -1);
  const high = inside.findIndex((byte) => byte > 0x7f);
  if (high >= 0)
    return {
      fault: `“${toHex(inside, high, high + 1)}” is above 7F: inside SysEx bytes are 00–7F.`,
    };
  if (places.high >= 0 !== places.low >= 0)
    return { fault: 'A value in two bytes needs both high and low.' };
  if (places.value >= 0 && places.high >= 0)
    return { fault: 'It has value as well as high and low. Keep one of them.' };
  const parts = COLOUR_SLOTS.filter((part) => places[part] >= 0);
  if (parts.length > 0 && parts.length < 3)
    return { fault: 'A colour needs all of red, green and blue.' };
  return { bytes, ...places };
}

/** Data bytes after a status byte (MIDI 1.0). */
const dataOf = (status: number): number => {
  if (status >= 0xf8 || status === 0xf6) return 0;
  if (status >= 0xf0) return status === 0xf2 ? 2 : 1;
  return status >= 0xc0 && status < 0xe0 ? 1 : 2;
};

/**
 * Reads any message as it is typed: SysEx as {@link readTemplate} does, all others as a status byte and its data
 * bytes, with the same words where a value stands.
 * @returns the template, or what is wrong with it in a sentence
 */
export function readMessage(text: string): Template | { readonly fault: string } {
  const words = text.trim().toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0 || words[0] === 'f0') return readTemplate(text);
  const status = /^[0-9a-f]{2}$/.test(words[0]) ? parseInt(words[0], 16) : 0;
  if (status < 0x80 || [0xf4, 0xf5, 0xf7, 0xf9, 0xfd].includes(status))
    return { fault: `“${words[0]}” begins no message. A message begins with 80–EF, F0, or F1–FF.` };
  const expected = dataOf(status);
  if (words.length !== expected + 1)
    return {
      fault: `${words[0].toUpperCase()} is followed by ${expected} data ${expected === 1 ? 'byte' : 'bytes'}; here are ${words.length - 1}.`,
    };
  // The same rules hold for the data bytes of every message.
  const inside = readTemplate(['f0', ...words.slice(1), 'f7'].join(' '));
  if ('fault' in inside) return inside;
  if (inside.text >= 0) return { fault: 'Only SysEx has room for a text.' };
  const bytes = inside.bytes.slice(0, -1);
  bytes[0] = status;
  return { ...inside, bytes };
}
