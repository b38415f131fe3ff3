import {
  findNodeAtLocation,
  parseTree,
  printParseErrorCode,
  type Node,
  type ParseError,
} from 'jsonc-parser/lib/esm/main.js';
import type { Fault } from '@rondo/core/document';

/** What is wrong where a text is no JSON, as people who edit it by hand would say. */
const SAYS: Readonly<Record<string, string>> = {
  InvalidSymbol: 'something stands here that may not: texts belong in “ " ”',
  InvalidNumberFormat: 'a number is not written as one',
  PropertyNameExpected: 'a name in " " is missing, or a comma is too many',
  ValueExpected: 'a value is missing, or a comma is too many',
  ColonExpected: 'a colon is missing after the name',
  CommaExpected: 'a comma is missing before this',
  CloseBraceExpected: 'a } is missing',
  CloseBracketExpected: 'a ] is missing',
  EndOfFileExpected: 'the file goes on after its end',
  InvalidCommentToken: 'JSON has no comments',
  UnexpectedEndOfComment: 'JSON has no comments, and this one does not end',
  UnexpectedEndOfString: 'a text does not end: its second " is missing',
  UnexpectedEndOfNumber: 'a number ends too soon',
  InvalidUnicode: 'a character is written as \\u without four digits of 0–9 and a–f',
  InvalidEscapeCharacter: 'a \\ stands before something that it cannot stand before',
  InvalidCharacter: 'a character stands here that may not',
};

/** Line and column of a place in a text, both from 1. */
function placeOf(text: string, offset: number): { line: number; column: number } {
  const before = text.slice(0, offset);
  return {
    line: before.split('\n').length,
    column: offset - before.lastIndexOf('\n'),
  };
}

/** The first thing that is wrong with a text that is no JSON. */
export function syntaxFault(text: string): Fault {
  const errors: ParseError[] = [];
  parseTree(text, errors, { disallowComments: true });
  const [first] = errors;
  if (!first)
    return { path: '(whole file)', message: 'is not JSON. A file that Rondo has written is.' };
  const { line, column } = placeOf(text, first.offset);
  return {
    path: '(whole file)',
    message: `is not JSON: ${SAYS[printParseErrorCode(first.error)] ?? 'something is wrong here'}`,
    line,
    column,
  };
}

/** The nearest thing that a path leads to: the last of it may be what is missing. */
function nodeOf(root: Node, path: readonly (string | number)[]): Node {
  for (let length = path.length; length > 0; length--) {
    const found = findNodeAtLocation(root, [...path.slice(0, length)]);
    if (found) return found;
  }
  return root;
}

/** The same faults with the lines and columns at which they stand in the text that was read. */
export function withPlaces(faults: readonly Fault[], text: string): Fault[] {
  const root = parseTree(text);
  return faults.map((fault) =>
    root && fault.at ? { ...fault, ...placeOf(text, nodeOf(root, fault.at).offset) } : fault,
  );
}

/** Where a fault stands, in words: its line and column where they are known. */
export const faultPlace = ({ path, line, column }: Fault): string =>
  line === undefined ? path : `Line ${line}, column ${column}: ${path}`;
