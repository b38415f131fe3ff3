import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, test } from '@playwright/test';
import { TwoMachines } from './two-machines';

const at = (path: string) => fileURLToPath(new URL(path, import.meta.url));
/** What one machine asks of its own Rondo, and prints. */
const ASK = `const [url, method, body] = process.argv.slice(1);
const headers = { 'Content-Type': 'application/json' };
const response = await fetch(url, { method, headers, body: body || undefined });
process.stdout.write(await response.text());`;

interface Seen {
  open: number[];
  pages: Record<string, number>;
  sockets: Record<string, string>;
}

test('from another address nothing can be reached but a surface that was let in, and that only while the network is on', async () => {
  const two = await TwoMachines.make();
  test.skip(two === null, 'This system lets no test make network namespaces.');
  const folder = mkdtempSync(join(tmpdir(), 'rondo-scan-'));
  try {
    const { address } = two!;
    const said = await two!.start(
      { RONDO_DATA: folder, RONDO_PORT: '4700' },
      process.execPath,
      at('../server/dist/main.mjs'),
    );
    const url = /http:\/\/\S+\//.exec(said)![0];
    const ask = (method: string, path: string, body = ''): unknown =>
      JSON.parse(
        two!.here(
          process.execPath,
          '--input-type=module',
          '-e',
          ASK,
          `${url}api/${path}`,
          method,
          body,
        ),
      );
    const look = (...more: string[]) =>
      JSON.parse(two!.elsewhere(process.execPath, at('elsewhere.mjs'), address, ...more)) as Seen;
    const udp = () => two!.here('cat', '/proc/net/udp', '/proc/net/udp6').split('\n').length;
    const none = udp();
    for (const chosen of [null, address]) {
      ask('PUT', 'network', JSON.stringify({ on: true, address: chosen }));
      const { port } = ask('GET', 'glass') as { port: number };
      const { code } = ask('POST', 'glass/codes', '{"surface":"sill"}') as { code: string };
      const { open, pages, sockets } = look(String(port), code);
      expect(open).toEqual([port]);
      const { '/': itself, ...rest } = pages;
      expect(itself).toBe(200);
      for (const status of Object.values(rest)) expect([403, 404]).toContain(status);
      expect(sockets).toEqual({
        engine: expect.stringContaining('403'),
        osc: expect.stringContaining('403'),
        keys: expect.stringContaining('403'),
        'wrong code': 'refused code',
        'unknown device': 'refused unknown',
        'right code': 'paired',
        'used code': 'refused code',
      });
      // No program that speaks OSC is known, so no UDP port is open either.
      expect(udp()).toBe(none);
    }

    ask('PUT', 'network', '{"on":false}');
    expect(look().open).toEqual([]);
  } finally {
    two!.end();
    rmSync(folder, { recursive: true, force: true });
  }
});
