import { Index } from '@rondo/core/find';
import { valueOfChoice } from '@rondo/core/host';
import { choiceKey, type Choice, type ScopeChoice } from './choice';

const indices = new WeakMap<readonly Choice[], Index<Choice>>();

/** What is typed of a value, without what people leave out or write otherwise. */
const plainValue = (text: string): string =>
  text
    .toLowerCase()
    .replace(/[−–]/g, '-')
    .replace(/(^|\s)\+(?=\d)/g, '$1')
    .trim();

/**
 * Lines that set one value of what chooses among several: ‘key shift -9’, ‘loop length 8 beats’. What is typed is a function
 * and, behind it, how its value begins.
 */
function valuesFor(choices: readonly Choice[], typed: string, scope: ScopeChoice): Choice[] {
  const words = typed.trim().split(/\s+/);
  for (let head = words.length - 1; head > 0; head--) {
    const value = plainValue(words.slice(head).join(' '));
    const found = search(choices, words.slice(0, head).join(' '), scope).flatMap((choice) => {
      const { values = [], action } = choice;
      const names = values.map(plainValue);
      const same = names.findIndex((name) => name === value || name.split(' ')[0] === value);
      const at = same >= 0 ? same : names.findIndex((name) => name.startsWith(value));
      if (at < 0 || action.do !== 'function') return [];
      const { by: _by, wrap: _wrap, ...rest } = action;
      return [
        {
          ...choice,
          label: `${choice.label}: ${values[at]}`,
          boundTo: '',
          action: { ...rest, behaviour: 'set' as const, to: valueOfChoice(values.length, at) },
        },
      ];
    });
    if (found.length > 0) return found;
  }
  return [];
}

/** As {@link search}; where nothing has all the words, the last of them may be a value. */
export function searchWithValues(
  choices: readonly Choice[],
  typed: string,
  scope: ScopeChoice = 'any',
  recent: readonly string[] = [],
): Choice[] {
  const found = search(choices, typed, scope, recent);
  return found.length > 0 ? found : valuesFor(choices, typed, scope);
}

/**
 * Choices that have every word typed, best first: the line itself, what is called exactly so, what was used lately, the
 * rest. A function stands in the list once, with the scope that the control suggests, until whose it is has been asked for
 * or chosen.
 */
export function search(
  choices: readonly Choice[],
  typed: string,
  scope: ScopeChoice = 'any',
  recent: readonly string[] = [],
): Choice[] {
  let index = indices.get(choices);
  if (!index) indices.set(choices, (index = new Index(choices)));
  const line = typed.trim().toLowerCase();
  const scored: { choice: Choice; tier: number; cost: number; order: number }[] = [];
  index.fits(typed).forEach((fit, order) => {
    const choice = choices[order];
    if (!fit || (scope !== 'any' && choice.scope !== scope && choice.scope !== 'host')) return;
    // The other instances of a function only where their own name is asked for.
    const isNamed = fit.isNamed || (scope !== 'any' && choice.scope === scope);
    const isIt = choice.label.toLowerCase() === line;
    if (!choice.usual && !isNamed && !isIt) return;
    const used = recent.length > 0 && fit.isSure ? recent.indexOf(choiceKey(choice)) : -1;
    const tier = isIt ? -1 : fit.isExact ? 0 : used >= 0 ? 1 : 2;
    // A strip of the window is asked for by its own words.
    const aside = choice.usual ? 0 : choice.scope === 'window' ? 0.8 : 0.5;
    const cost = tier === 1 ? used : fit.cost + aside;
    scored.push({ choice, tier, cost, order });
  });
  scored.sort((a, b) => a.tier - b.tier || a.cost - b.cost || a.order - b.order);
  return scored.map(({ choice }) => choice);
}
