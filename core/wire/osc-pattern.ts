/** Whether an address is a pattern, which may mean many (OSC 1.0: `?`, `*`, `[]` and `{}`). */
export const isOscPattern = (address: string): boolean => /[?*[{]/.test(address);

/** One place of a pattern, as what it lets through: any run, one sign of a set, or one of some words. */
type Token =
  | { readonly run: true }
  | { readonly sign: (code: string) => boolean }
  | { readonly words: readonly string[] };

const isSlash = (sign: string): boolean => sign === '/';

/** Whether a sign is in a set as it is written between the brackets, `a-z` for what lies between. */
function inSet(set: string, sign: string): boolean {
  for (let at = 0; at < set.length; at++) {
    if (set[at + 1] === '-' && at + 2 < set.length) {
      if (sign >= set[at] && sign <= set[at + 2]) return true;
      at += 2;
    } else if (set[at] === sign) return true;
  }
  return false;
}

/** The places of a pattern; null where a bracket has no end. */
function tokensOf(pattern: string): Token[] | null {
  const tokens: Token[] = [];
  for (let at = 0; at < pattern.length; at++) {
    const sign = pattern[at];
    const end =
      sign === '[' ? pattern.indexOf(']', at) : sign === '{' ? pattern.indexOf('}', at) : 0;
    if (end < 0) return null;
    if (sign === '*') tokens.push({ run: true });
    else if (sign === '?') tokens.push({ sign: (one) => !isSlash(one) });
    else if (sign === '[') {
      const inside = pattern.slice(at + 1, end);
      const not = inside.startsWith('!');
      const set = not ? inside.slice(1) : inside;
      tokens.push({ sign: (one) => !isSlash(one) && inSet(set, one) !== not });
      at = end;
    } else if (sign === '{') {
      tokens.push({ words: pattern.slice(at + 1, end).split(',') });
      at = end;
    } else tokens.push({ words: [sign] });
  }
  return tokens;
}

/**
 * Whether an address pattern means an address (OSC 1.0, “OSC Message Dispatching and Pattern Matching”). No part of a
 * pattern reaches over a slash. It costs the length of one times the length of the other at most, whatever is written.
 */
export function oscMatches(pattern: string, address: string): boolean {
  const tokens = tokensOf(pattern);
  if (!tokens) return false;
  /** Places of the address that can be reached so far. */
  let reached = new Set([0]);
  for (const token of tokens) {
    const next = new Set<number>();
    for (const at of reached) {
      if ('words' in token) {
        for (const word of token.words)
          if (address.startsWith(word, at)) next.add(at + word.length);
      } else if ('sign' in token) {
        if (at < address.length && token.sign(address[at])) next.add(at + 1);
      } else
        for (let to = at; !next.has(to); to++) {
          next.add(to);
          if (to >= address.length || isSlash(address[to])) break;
        }
    }
    if (next.size === 0) return false;
    reached = next;
  }
  return reached.has(address.length);
}
