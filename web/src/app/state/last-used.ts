import * as z from 'zod';

const KEY = 'rondo.lastUsed';
const MOST = 50;
const listSchema = z.array(z.string()).max(MOST);

/** Profiles that were open in this browser, the last one first. */
export function lastUsed(): string[] {
  try {
    return listSchema.parse(JSON.parse(localStorage.getItem(KEY) ?? '[]'));
  } catch {
    return [];
  }
}

/** A profile is open now. */
export function rememberUsed(id: string): void {
  try {
    const rest = lastUsed().filter((other) => other !== id);
    localStorage.setItem(KEY, JSON.stringify([id, ...rest].slice(0, MOST)));
  } catch {
    // A full or forbidden store only means that the list is in another order.
  }
}
