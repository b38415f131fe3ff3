import { createInterface } from 'node:readline';
import type { Readable } from 'node:stream';

/** Reads a stream line by line; standard input where none is given. */
export async function eachLine(
  take: (line: string) => void,
  input: Readable = process.stdin,
): Promise<void> {
  for await (const line of createInterface({ input, crlfDelay: Infinity })) take(line);
}

/** A line without a byte order mark and white space; null where nothing is left. */
export function content(line: string): string | null {
  const trimmed = line.replace(/^\uFEFF/, '').trim();
  return trimmed === '' ? null : trimmed;
}

/** Reads the milliseconds of a captured line; null where they are no such number. */
export function readMilliseconds(text: string): number | null {
  const trimmed = text.trim();
  return /^\d+(\.\d+)?$/.test(trimmed) ? Number(trimmed) : null;
}
