import * as z from 'zod';

/** What the frame says when it is ready, and what the page answers: with it come two ports. */
export const helloSchema = z.strictObject({
  rondo: z.literal('midi frame'),
  nonce: z.string().max(64),
  /** Whether MIDI can be asked for in the frame. */
  midi: z.boolean(),
});
export const joinSchema = z.strictObject({ rondo: z.literal('join'), nonce: z.string().max(64) });

/** Where the frame lives: the same server under its other name, which for the browser is another site. */
export function frameOrigin(page: Pick<Location, 'protocol' | 'hostname' | 'port'>): string | null {
  const other = { '127.0.0.1': 'localhost', localhost: '127.0.0.1' }[page.hostname];
  return other === undefined
    ? null
    : `${page.protocol}//${other}${page.port ? `:${page.port}` : ''}`;
}
