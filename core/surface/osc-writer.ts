import { OSC_HEAD, writeOscHead, writeOscMessage, type OscArgument } from '@rondo/core/wire';
import { oscRangeOf, topOf, type Pattern } from './pattern.js';

type OscPattern = Extract<Pattern, { type: 'osc' }>;

/** Characters that a text has on a screen that nobody has measured. */
export const LONGEST_OSC_TEXT = 64;

/** What stands beside where nothing is known of it. */
const UNKNOWN = new Int32Array(0);
const NOBODY = { as: 'float', value: 0 } as const;

/**
 * Writes values as OSC messages, each with its length before it, as in a stream. Of an address with several arguments all
 * are written, the others as they were told last.
 */
export class OscWriter {
  private readonly patterns = new Map<number, OscPattern>();
  /** Whose each argument of an address is. */
  private readonly addresses = new Map<string, (number | undefined)[]>();

  /** An output, or a function, is told by a pattern. */
  learn(i: number, pattern: OscPattern): void {
    this.patterns.set(i, pattern);
    const list = this.addresses.get(pattern.address) ?? [];
    this.addresses.set(pattern.address, list);
    list[pattern.argument - 1] ??= i;
  }

  /**
   * Writes a whole number as it goes over the wire, or a text; returns how many bytes it took.
   * @param beside the whole numbers that all the others were told last, below 0 where they were not
   */
  write(
    i: number,
    said: number | string,
    buffer: Uint8Array,
    at: number,
    beside: Int32Array = UNKNOWN,
  ): number {
    const pattern = this.patterns.get(i);
    if (!pattern) return 0;
    const { address, argument } = pattern;
    const args: OscArgument[] = Array.from(this.addresses.get(address) ?? [], (whose) => {
      const other = whose === undefined ? undefined : this.patterns.get(whose);
      return other ? argumentOf(other, Math.max(0, beside[whose ?? 0] ?? 0)) : NOBODY;
    });
    args[argument - 1] = argumentOf(pattern, said);
    const packet = writeOscMessage(address, args);
    writeOscHead(packet.length, buffer, at);
    buffer.set(packet, at + OSC_HEAD);
    return OSC_HEAD + packet.length;
  }
}

function argumentOf(pattern: OscPattern, said: number | string): OscArgument {
  const { as } = pattern;
  if (as === 'string') return { as, value: typeof said === 'string' ? said : '' };
  const share = Number(said) / topOf(pattern);
  const [low, high] = oscRangeOf(pattern);
  return { as, value: as === 'boolean' ? share : low + share * (high - low) };
}
