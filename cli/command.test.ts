import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';

/* The built command as people run it. `npm test` builds it first; by hand: node scripts/build.mjs. */
const PROGRAM = fileURLToPath(new URL('dist/rondo.mjs', import.meta.url));

function rondo(args: string[], input: string) {
  const { stdout, stderr, status } = spawnSync(process.execPath, [PROGRAM, ...args], {
    input,
    encoding: 'utf8',
    maxBuffer: 64 << 20,
    env: { ...process.env, NODE_OPTIONS: '' },
  });
  return { out: stdout, errors: stderr, status };
}

test('decode prints a line of JSON a message and nothing else, and ends well', () => {
  expect(rondo(['decode'], '90 3c 40\n2,desk,f8\n')).toEqual({
    out: '{"type":"noteOn","channel":1,"note":60,"velocity":64}\n{"t":2,"port":"desk","type":"clock"}\n',
    errors: '',
    status: 0,
  });
});

test('bad lines go to standard error with their number, and the exit code is 1', () => {
  expect(rondo(['decode'], 'f8\nnonsense\nfa')).toEqual({
    out: '{"type":"clock"}\n{"type":"start"}\n',
    errors: 'Line 2: not hex bytes.\n',
    status: 1,
  });
  expect(rondo(['teach'], 'nonsense\n').status).toBe(1);
});

test('much input comes out whole and in order', () => {
  const count = 50_000;
  const lines = Array.from(
    { length: count },
    (_, i) => `${i},p,b0 07 ${(i % 128).toString(16).padStart(2, '0')}`,
  );
  const { out } = rondo(['decode'], lines.join('\n'));
  const values = out
    .trim()
    .split('\n')
    .map((line) => (JSON.parse(line) as { value: number }).value);
  expect(values).toEqual(lines.map((_, i) => i % 128));
});

test('teach prints a JSON array; an unknown word prints help and exit code 2', () => {
  expect(rondo(['teach'], '').out).toBe('[]\n');
  const { errors, status } = rondo(['dance'], '');
  expect([status, errors.includes('rondo decode')]).toEqual([2, true]);
});
