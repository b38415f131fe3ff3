import { LONGEST_ADDRESS, writeOscMessage, type OscArgument } from './osc.js';

/** An OSC message with places for a value: an argument that is null is the value, 0…1. */
export interface OscTemplate {
  readonly address: string;
  readonly args: readonly (OscArgument | null)[];
}

/** Arguments that a message which is typed has at most. */
const MOST_ARGUMENTS = 16;
const WORD = /"([^"]*)"|(\S+)/g;

/** What is wrong with an address that is sent; '' for nothing (OSC 1.0: what a pattern is made of cannot be a name). */
export function addressFault(address: string): string {
  if (address.length > LONGEST_ADDRESS) return `It is longer than ${LONGEST_ADDRESS} characters.`;
  return /^\/[!-~]+$/.test(address) && !/[\s#*,?[\]{}]/.test(address)
    ? ''
    : 'An OSC address starts with / and has no spaces, nor # * , ? [ ] { } (OSC 1.0).';
}

/** An argument as it is typed: whole numbers, numbers with a point, yes, no, the word `value`, else text. */
function readArgument(quoted: string | undefined, word: string): OscArgument | null {
  if (quoted !== undefined) return { as: 'string', value: quoted };
  if (word === 'value') return null;
  if (word === 'true' || word === 'false') return { as: 'boolean', value: Number(word === 'true') };
  const number = Number(word);
  if (Number.isNaN(number)) return { as: 'string', value: word };
  const isWhole = /^[+-]?\d+$/.test(word) && Math.abs(number) < 2 ** 31;
  return { as: isWhole ? 'integer' : 'float', value: number };
}

/**
 * Reads an OSC message as it is typed: its address, then its arguments, text in quotes where it has spaces.
 * @returns the message, or what is wrong with it in a sentence
 */
export function readOscTemplate(text: string): OscTemplate | { readonly fault: string } {
  // What stands behind the address is as it was typed: spaces within quotes are of the text.
  const [, address, rest] = /^\s*(\S*)([^]*)$/.exec(text) as unknown as [string, string, string];
  const fault = addressFault(address);
  if (fault) return { fault };
  const words = [...rest.matchAll(WORD)];
  if (words.length > MOST_ARGUMENTS)
    return { fault: `It has more than ${MOST_ARGUMENTS} arguments.` };
  return { address, args: words.map((word) => readArgument(word[1], word[0])) };
}

/** Writes it with a value, 0…1, in its places. */
export const writeOscTemplate = ({ address, args }: OscTemplate, value: number): Uint8Array =>
  writeOscMessage(
    address,
    args.map((arg) => arg ?? { as: 'float', value }),
  );
