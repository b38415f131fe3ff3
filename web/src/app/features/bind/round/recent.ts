import * as z from 'zod';

const KEY = 'rondo.recent';
const MOST = 12;
const listSchema = z.array(z.string()).max(MOST);

/** What was chosen lately, the newest first; of this browser, whatever the profile. */
export function recentChoices(): readonly string[] {
  try {
    return listSchema.parse(JSON.parse(localStorage.getItem(KEY) ?? '[]'));
  } catch {
    return [];
  }
}

export function rememberChoice(key: string): void {
  const list = [key, ...recentChoices().filter((other) => other !== key)].slice(0, MOST);
  try {
    localStorage.setItem(KEY, JSON.stringify(list));
  } catch {
    // Without room nothing is remembered, and nothing else is lost.
  }
}
