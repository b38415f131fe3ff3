import { createInterface } from 'node:readline';

/** Reads standard input line by line. */
export async function eachLine(take: (line: string) => void): Promise<void> {
  for await (const line of createInterface({ input: process.stdin, crlfDelay: Infinity }))
    take(line);
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
