/*
 * What this browser keeps for itself under a name. One that keeps nothing, because the user has blocked it or there is no
 * room, goes on all the same: what was chosen lasts as long as the page.
 */

/** Stores of a browser, by how long they last. Asking for one may throw already, where it is blocked. */
const store = (only: 'here' | 'everywhere'): Storage =>
  only === 'here' ? sessionStorage : localStorage;

/** What is kept under a name, in this window only or in all; null where nothing is. */
export function kept(key: string, only: 'here' | 'everywhere' = 'everywhere'): string | null {
  try {
    return store(only).getItem(key);
  } catch {
    return null;
  }
}

/** Keeps something under a name. */
export function keep(key: string, value: string, only: 'here' | 'everywhere' = 'everywhere'): void {
  try {
    store(only).setItem(key, value);
  } catch {
    // Nothing can be kept.
  }
}

/** Removes what is kept under a name. */
export function forget(key: string, only: 'here' | 'everywhere' = 'everywhere'): void {
  try {
    store(only).removeItem(key);
  } catch {
    // Nothing is kept there, so nothing is left.
  }
}
