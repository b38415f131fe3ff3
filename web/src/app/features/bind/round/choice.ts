import type { Entry } from '@rondo/core/find';
import type { Action, Profile } from '@rondo/core/profile';
import type { Names } from '../names';

/** Which instances of functions are listed; any of them where nothing is chosen. */
export const SCOPES = ['any', 'window', 'selected', 'fixed', 'focus'] as const;
export type ScopeChoice = (typeof SCOPES)[number];

/** One thing that a control part can be bound to. */
export interface Choice extends Entry {
  readonly label: string;
  readonly category: string;
  /** Its host, where there are several; '' otherwise. */
  readonly host?: string;
  readonly action: Action;
  readonly scope: 'host' | ScopeChoice;
  /** It stands for its function while no other instance is asked for. */
  readonly usual: boolean;
  /** What it is bound to already, in words; empty where nothing is. */
  readonly boundTo: string;
  /** What it chooses among, where a press can set one of them. */
  readonly values?: readonly string[];
}

/** The host of a function where there are several, so that two lines never read the same; '' otherwise. */
function hostLabel(profile: Profile, action: Action): string {
  const host = 'host' in action && typeof action.host === 'string' ? action.host : '';
  const tells = profile.hostOrder.length > 1 && Object.hasOwn(profile.hosts, host);
  return tells ? profile.hosts[host].label : '';
}

/** A line for an action, with its host where there are several. */
export function choiceOf(
  names: Names,
  action: Action,
  category: string,
  words: readonly string[],
  scope: Choice['scope'],
  usual: boolean,
): Choice {
  const label = names.action(action);
  const host = hostLabel(names.profile, action);
  const entry = entryOf(label, action, [category, host], words);
  return { label, category, host, action, ...entry, scope, usual, boundTo: '' };
}

/** What a choice is found by. */
export function entryOf(
  label: string,
  action: Action,
  under: readonly string[],
  also: readonly string[],
): Entry {
  const scope = action.do === 'function' ? action.scope : null;
  // The way back is found by its own words, and never before what is called so.
  // What stands between quotation marks is what is written, and no name.
  const written = / “([^”]*)”/.exec(label);
  const own = label.replace(/, back$/, '').replace(written?.[0] ?? '', '');
  const parted = scope?.kind === 'window' || scope?.kind === 'selected' || scope?.kind === 'fixed';
  const comma = parted ? own.indexOf(', ') : -1;
  return {
    name: comma < 0 ? own : own.slice(0, comma),
    whose: comma < 0 ? '' : own.slice(comma + 2),
    alsoWhose:
      scope?.kind === 'fixed'
        ? `track ${scope.strip + 1} always`
        : scope?.kind === 'window'
          ? 'bank window'
          : '',
    also: [...also, written?.[1] ?? ''].join(' '),
    under: under.join(' '),
  };
}

/** What tells a choice from every other, for those used lately. */
export const choiceKey = (choice: Choice): string => JSON.stringify(choice.action);
