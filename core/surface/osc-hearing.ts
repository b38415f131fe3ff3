import { isOscPattern, oscMatches, readOscMessage, type OscMessage } from '@rondo/core/wire';
import type { MessageMap } from './message-map.js';
import type { OscEntry } from './page-tables.js';

/** One thing that an OSC message says. */
export interface OscTold {
  readonly target: number;
  /** 0…1. */
  readonly value: number;
  /** The text, where it is one; null where it is a value. */
  readonly text: string | null;
}

/** Targets that a pattern of addresses reaches at most: what means everything is no reason to stand still. */
export const MOST_TOLD = 64;

/** What an OSC message says, by a map, and on which onboard page. */
export interface OscHeard {
  readonly message: OscMessage | null;
  readonly page: number;
  readonly told: readonly OscTold[];
  /** An address pattern reached more than {@link MOST_TOLD}; the rest was left out. */
  readonly isCut: boolean;
}

const NOTHING: readonly OscEntry[] = [];

/** A value of an argument as a share of the range of its entry; null where it is none. */
function shareOf({ low, scale }: OscEntry, value: OscMessage['values'][number]): number | null {
  const number = typeof value === 'boolean' ? Number(value) : value;
  if (typeof number !== 'number' || Number.isNaN(number)) return null;
  // On and off are the ends, whatever the range of numbers is.
  const share = typeof value === 'boolean' ? number : (number - low) * scale;
  return Math.max(0, Math.min(1, share));
}

/** What a message that has no argument says: that it came. */
const PRESSED = [true] as const;

function tell({ values }: OscMessage, entries: readonly OscEntry[], told: OscTold[]): void {
  const arguments_ = values.length > 0 ? values : PRESSED;
  for (const entry of entries) {
    if (entry.argument >= arguments_.length) continue;
    const value = arguments_[entry.argument];
    if (entry.isText) {
      if (value !== null) told.push({ target: entry.target, value: 0, text: String(value) });
      continue;
    }
    // Nothing is what is let go of.
    const share = value === null ? 0 : shareOf(entry, value);
    if (share !== null) told.push({ target: entry.target, value: share, text: null });
  }
}

/**
 * Reads an OSC message against a map. The page that is on goes first; an address that only another page has puts that
 * page on.
 */
export function hearOsc(bytes: Uint8Array, map: MessageMap, page: number): OscHeard {
  const message = readOscMessage(bytes);
  if (!message) return { message, page, told: [], isCut: false };
  const told: OscTold[] = [];
  const { address } = message;
  if (isOscPattern(address)) {
    for (const [known, entries] of map.pages[page].addresses) {
      if (told.length > MOST_TOLD) break;
      if (oscMatches(address, known)) tell(message, entries, told);
    }
    return { message, page, told: told.slice(0, MOST_TOLD), isCut: told.length > MOST_TOLD };
  }
  const here = map.pages[page].addresses.has(address)
    ? page
    : map.pages.findIndex(({ addresses }) => addresses.has(address));
  const on = here < 0 ? page : here;
  tell(message, map.pages[on].addresses.get(address) ?? NOTHING, told);
  return { message, page: on, told, isCut: false };
}
