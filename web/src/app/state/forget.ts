/** Removes an entry of the browser's synchronous store; one that keeps nothing at all has none. */
export function forget(key: string): void {
  try {
    localStorage.removeItem(key);
  } catch {
    // Nothing is kept there, so nothing is left.
  }
}
