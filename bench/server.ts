import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

/** The built server with a data folder of its own, until it is stopped. */
export interface BenchServer {
  /** Where it answers, without a slash at the end. */
  readonly address: string;
  /** Where it keeps its data; gone when it is stopped. */
  readonly folder: string;
  stop(): void;
}

export async function startServer(): Promise<BenchServer> {
  const folder = mkdtempSync(join(tmpdir(), 'rondo-bench-'));
  const program = fileURLToPath(new URL('../../server/dist/main.mjs', import.meta.url));
  const server = spawn(process.execPath, [program], {
    env: { ...process.env, RONDO_DATA: folder, RONDO_PORT: '0' },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const address = await new Promise<string>((done, fail) => {
    server.stdout.on('data', (chunk: Buffer) => {
      const found = /http:\/\/\S+/.exec(String(chunk));
      if (found) done(found[0].replace(/\/$/, ''));
    });
    server.once('exit', () => fail(new Error('The server did not start.')));
  });
  return {
    address,
    folder,
    stop: () => {
      server.kill('SIGKILL');
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
