import type { HostFunction, HostModel } from '@rondo/core/host';
import {
  targetOf,
  type Action,
  type FunctionAction,
  type Profile,
  type Scope,
} from '@rondo/core/profile';
import { OTHERWISE, RULES, type Purpose, type Rule, type Suits } from './purposes.data.js';

/** Something that a proposal would like to have on a control. */
export interface Wish {
  readonly purpose: Purpose;
  /** What is driven; how depends on the control. Null for what Rondo does itself. */
  readonly fn: HostFunction | null;
  readonly action: Action;
  readonly suits: Suits;
  readonly worth: number;
  /** Strip from 0 that it belongs to, null where it belongs to none. */
  readonly strip: number | null;
  /** With what it stands side by side, if it may not stand alone. */
  readonly together: Together | null;
  /** By what it may be written on a control, in small letters. */
  readonly names: readonly string[];
  /** Where it stands among all: by rule, then by its number. */
  readonly order: number;
}

/** Wishes that are found again only where they stand side by side. */
export interface Together {
  /** `strips`: one thing in every strip; `run`: numbered; `bundle`: what goes together by its purpose. */
  readonly kind: 'strips' | 'run' | 'bundle';
  /** The same for all that belong together. */
  readonly key: string;
  /** Where not all of these rows or runs have their place, none has; the same for all of them. */
  readonly whole: string | null;
}

export interface HostOf {
  readonly id: string;
  readonly model: HostModel;
}

/** Parameters of what has focus that are asked for at once. */
const SLOTS = 8;
/** Decks that are wanted where a surface has no strips to tell how many. */
const DECKS = 2;
/** So many strips of its own make a surface a mixer. */
const COLUMNS = 4;
/** So much less the main strip is wanted where a surface has no strips of its own. */
const MAIN_LESS = 30;
/** As many functions that no rule names are wanted at most. */
const MOST_OTHERS = 400;

/** Whether it is for keys, rather than for what is moved. */
export const isPressed = (suits: Suits): boolean => (suits.button ?? suits.pad ?? 9) < 9;

export interface Wanted {
  /** What is not bound yet, what is wanted most first. */
  readonly wanted: readonly Wish[];
  /** The purposes of which something is bound already. */
  readonly begun: ReadonlySet<Purpose>;
}

/**
 * What hosts have that a practitioner would want, what is wanted most first.
 * @param width strips that the surfaces have together
 */
export function wishesOf(profile: Profile, hosts: readonly HostOf[], width: number): Wanted {
  const wishes: Wish[] = [];
  for (const host of hosts) {
    wishes.push(...ruled(host, width), ...others(host));
    const { strips } = host.model;
    if (width > 0 && strips.length > width && strips[0].group !== 'deck')
      for (const by of [-width, width])
        wishes.push({
          purpose: 'mixing',
          fn: null,
          action: { do: 'bank', by },
          suits: { button: 0, pad: 3, pedal: 4 },
          worth: 95,
          strip: null,
          together: { kind: 'bundle', key: `${host.id} bank`, whole: null },
          names: [by < 0 ? 'bank left' : 'bank right'],
          order: 700 + by,
        });
  }
  const bound = new Set(
    Object.values(profile.bindings).flatMap(({ actions }) => actions.map(targetOf)),
  );
  const seen = new Set<string>();
  const isBound = ({ action }: Wish) => bound.has(targetOf(action));
  return {
    begun: new Set(wishes.filter(isBound).map(({ purpose }) => purpose)),
    wanted: wishes
      .filter((wish) => {
        const target = targetOf(wish.action);
        const isNew = !isBound(wish) && !seen.has(target);
        seen.add(target);
        return isNew;
      })
      .sort((a, b) => b.worth - a.worth),
  };
}

/** What a function may be called on a key: by its label, or by the trade’s one word for it, which its id is. */
const namesOf = ({ id, label }: HostFunction): string[] => [
  label.toLowerCase(),
  id.replace(/([A-Z]|\d+)/g, ' $1').toLowerCase(),
];

const driven = (host: string, fn: string, scope: Scope): FunctionAction => ({
  do: 'function',
  host,
  function: fn,
  scope,
  behaviour: 'follow',
});

function ruled({ id, model }: HostOf, width: number): Wish[] {
  const hasDecks = model.strips.some(({ group }) => group === 'deck');
  // Strips side by side do what the selected one would.
  const hasColumns = width >= COLUMNS;
  return RULES.filter(
    ({ decks, where }) =>
      (decks === undefined || decks === hasDecks) &&
      !(where === 'selected' && hasColumns && !hasDecks),
  ).flatMap((rule) => {
    if (rule.where === 'focus') return focusWishes(id, model, rule);
    return model.functions
      .filter((fn) => rule.id.test(fn.id) && fn.messages.some((messages) => messages?.set))
      .flatMap((fn) => {
        const number = Number(rule.id.exec(fn.id)?.[1]) || 1;
        return scopesOf(model, fn, rule.where, width, hasDecks).map(({ scope, strip }) => ({
          purpose: rule.purpose,
          fn,
          action: driven(id, fn.id, scope),
          suits: rule.suits,
          // The first of a numbered run is wanted most.
          worth: worthOf(rule, width) - 0.5 * (number - 1) - 0.01 * (strip ?? 0),
          strip,
          together: togetherOf(id, fn, rule),
          names: namesOf(fn),
          order: 10 * RULES.indexOf(rule) + number,
        }));
      });
  });
}

/** How much is wanted by a rule: without strips what is selected is moved before what all goes through. */
const worthOf = ({ where, worth }: Rule, width: number): number =>
  where === 'main' && width === 0 ? worth - MAIN_LESS : worth;

function togetherOf(host: string, { id }: HostFunction, rule: Rule): Together {
  const { purpose, where, suits, whole } = rule;
  const isRun = /^\d+$/.test(rule.id.exec(id)?.[1] ?? '');
  const number = RULES.indexOf(rule);
  const kind = where === 'strip' ? 'strips' : isRun ? 'run' : 'bundle';
  const key = {
    strips: id,
    run: `${number}`,
    bundle: `${purpose} ${isPressed(suits) ? 'pressed' : 'moved'}`,
  }[kind];
  return { kind, key: `${host} ${kind} ${key}`, whole: whole ? `${host} ${number}` : null };
}

function focusWishes(host: string, { focus, functions }: HostModel, rule: Rule): Wish[] {
  const sample = functions.find(({ id }) => id === focus?.items[0]?.parameters[0]);
  if (!focus || !sample) return [];
  return Array.from({ length: SLOTS }, (_, slot) => ({
    purpose: rule.purpose,
    fn: { ...sample, needs: undefined },
    action: driven(host, focus.function, { kind: 'focus', slot }),
    suits: rule.suits,
    worth: rule.worth - 0.5 * slot,
    strip: null,
    together: { kind: 'run', key: `${host} focus`, whole: null },
    names: [`parameter ${slot + 1}`],
    order: 10 * RULES.indexOf(rule) + slot,
  }));
}

/** Where a function is wanted, as far as it is there. */
function scopesOf(
  { strips }: HostModel,
  fn: HostFunction,
  where: Rule['where'],
  width: number,
  hasDecks: boolean,
): { scope: Scope; strip: number | null }[] {
  if (where === 'host') return fn.per === 'host' ? [{ scope: { kind: 'host' }, strip: null }] : [];
  if (fn.per !== 'strip') return [];
  if (where === 'selected')
    return fn.messages.length > strips.length && fn.messages.at(-1)?.set
      ? [{ scope: { kind: 'selected' }, strip: null }]
      : [];
  if (where === 'main') {
    const main = strips.findIndex(({ group }) => group === 'master');
    return main >= 0 && fn.messages[main]?.set
      ? [{ scope: { kind: 'fixed', strip: main }, strip: null }]
      : [];
  }
  const reach = hasDecks ? (width >= DECKS ? width : DECKS) : width;
  return Array.from({ length: Math.min(reach, strips.length) }, (_, strip) => strip)
    .filter((strip) => fn.messages[strip]?.set)
    .map((strip) => ({
      scope:
        strips.length > width && !hasDecks
          ? { kind: 'window' as const, offset: strip }
          : { kind: 'fixed' as const, strip },
      strip,
    }));
}

/** What no rule names, by its kind, in the order of the host. */
function others({ id, model }: HostOf): Wish[] {
  const isNamed = (fn: HostFunction) => RULES.some((rule) => rule.id.test(fn.id));
  // A host with strips has rules; what those leave out is told of in the finder.
  if (model.strips.length > 0) return [];
  return model.functions
    .filter((fn) => fn.per === 'host' && fn.messages[0]?.set && !isNamed(fn))
    .slice(0, MOST_OTHERS)
    .flatMap((fn, at) => {
      const kind = Object.hasOwn(OTHERWISE, fn.kind) ? OTHERWISE[fn.kind] : null;
      return kind
        ? [
            {
              purpose: 'others' as const,
              fn,
              action: driven(id, fn.id, { kind: 'host' }),
              suits: kind.suits,
              worth: kind.worth - 0.001 * at,
              strip: null,
              together: null,
              names: namesOf(fn),
              order: 10 * RULES.length + at,
            },
          ]
        : [];
    });
}
