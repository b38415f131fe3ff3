import type { z } from 'zod';

/** What Zod expects, as people call it. */
const NOUNS: Readonly<Record<string, string>> = {
  string: 'a text',
  number: 'a number',
  int: 'a whole number',
  boolean: 'true or false',
  array: 'a list, in [ ]',
  object: 'a group of named values, in { }',
  record: 'a group of named values, in { }',
  null: 'null',
  undefined: 'left out',
};

const nounOf = (value: unknown): string => {
  if (value === null) return 'null';
  if (Array.isArray(value)) return 'a list';
  switch (typeof value) {
    case 'string':
      return 'a text';
    case 'number':
      return Number.isInteger(value) ? 'a number' : 'a number with decimals';
    case 'boolean':
      return String(value);
    default:
      return 'a group of named values';
  }
};

function valueAt(value: unknown, path: readonly PropertyKey[]): unknown {
  let at = value;
  for (const key of path) {
    if (typeof at !== 'object' || at === null || !Object.hasOwn(at, key)) return undefined;
    at = (at as Record<PropertyKey, unknown>)[key];
  }
  return at;
}

const MOST_SHOWN = 40;
/** A value as it is written, cut where it is long. */
function shown(value: unknown): string {
  const text = typeof value === 'string' ? `“${value}”` : (JSON.stringify(value) ?? 'nothing');
  return text.length > MOST_SHOWN ? `${text.slice(0, MOST_SHOWN)} …` : text;
}

const listed = (values: readonly unknown[]): string =>
  values.map((value) => (typeof value === 'string' ? `“${value}”` : String(value))).join(', ');

const counted = (count: number | bigint, one: string): string =>
  `${count} ${one}${Number(count) === 1 ? '' : 's'}`;

/** What has to be so by a limit, of a text, a list or a number. */
function limit(issue: z.core.$ZodIssueTooSmall | z.core.$ZodIssueTooBig, isLeast: boolean): string {
  const most = isLeast
    ? (issue as z.core.$ZodIssueTooSmall).minimum
    : (issue as z.core.$ZodIssueTooBig).maximum;
  const word = isLeast ? 'at least' : 'at most';
  if (issue.origin === 'string')
    return isLeast && Number(most) === 1
      ? 'must not be empty'
      : `has to have ${word} ${counted(most, 'character')}`;
  if (issue.origin === 'array' || issue.origin === 'set')
    return `has to have ${word} ${Number(most) === 1 ? '1 entry' : `${most} entries`}`;
  return `has to be ${word} ${most}`;
}

/**
 * One of Zod's issues in the words of whoever edits the file by hand.
 * @param value the whole of what was read, for what stands at the place
 */
export function issueWords(issue: z.core.$ZodIssue, value: unknown): string {
  const found = valueAt(value, issue.path);
  switch (issue.code) {
    case 'invalid_type': {
      const noun = NOUNS[issue.expected] ?? `of the kind ${issue.expected}`;
      return found === undefined
        ? `is missing; it has to be ${noun}`
        : `has to be ${noun}, and is ${nounOf(found)}`;
    }
    case 'invalid_value':
      return issue.values.length === 1
        ? `has to be ${listed(issue.values)}, and is ${shown(found)}`
        : `has to be one of ${listed(issue.values)}, and is ${shown(found)}`;
    case 'too_small':
      return limit(issue, true);
    case 'too_big':
      return limit(issue, false);
    case 'not_multiple_of':
      return `has to be a multiple of ${issue.divisor}`;
    case 'invalid_format':
      return `holds something that may not stand there: ${shown(found)}`;
    case 'unrecognized_keys':
      return `holds what is not known there: ${listed(issue.keys)}`;
    case 'invalid_union':
      return found === undefined
        ? 'is missing'
        : `is of none of the kinds that are known there: ${shown(found)}`;
    case 'invalid_key':
      return 'stands under a name that may not be one';
    case 'invalid_element':
      return 'holds an entry that may not be there';
    case 'custom':
      return issue.message;
  }
}
