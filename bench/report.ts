/** Seconds that something takes. */
export function timed(work: () => void): number {
  const from = process.hrtime.bigint();
  work();
  return Number(process.hrtime.bigint() - from) / 1e9;
}

/** Prints a heading and lines of name and figure. */
export function table(heading: string, rows: readonly (readonly [string, string])[]): void {
  const width = Math.max(...rows.map(([name]) => name.length));
  console.log(`\n${heading}`);
  for (const [name, figure] of rows) console.log(`  ${name.padEnd(width)}  ${figure}`);
}
