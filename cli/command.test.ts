import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { nineFerriesMix } from '@rondo/core/profile';

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

describe('replay', () => {
  const folder = mkdtempSync(join(tmpdir(), 'rondo-replay-'));
  const file = (name: string) => join(folder, name);
  afterAll(() => rmSync(folder, { recursive: true, force: true }));
  // A hand takes fader 1 of the desk to the middle and presses mute 2; a foot starts the tape.
  const RECORDING =
    'milliseconds,port,bytes\n500,desk,90 68 7f\n510,desk,e0 00 20\n520,desk,e0 00 40\n540,desk,90 68 00\n600,Harrow 8,90 11 7f 90 11 00\n700,feet,b0 50 7f\n720,feet,b0 50 00\n';

  test('prints the state by address, writes what left each port, and is the same to the byte', () => {
    writeFileSync(file('p.json'), JSON.stringify(nineFerriesMix()));
    writeFileSync(file('in.csv'), RECORDING);
    const runs = ['a.csv', 'b.csv'].map((out) => {
      const {
        out: json,
        errors,
        status,
      } = rondo(
        ['replay', file('p.json'), '--in', file('in.csv'), '--out', file(out), '--state'],
        '',
      );
      expect([errors, status]).toEqual(['', 0]);
      return { json, bytes: readFileSync(file(out), 'utf8') };
    });
    expect(runs[0]).toEqual(runs[1]);
    const { studio } = JSON.parse(runs[0].json) as Record<
      string,
      Record<string, { value: number; text: string }>
    >;
    expect(studio['volume/1'].value).toBeCloseTo(512 / 1_023, 3);
    expect(studio['mute/2']).toEqual({ value: 1, text: 'On' });
    expect(studio['play'].value).toBe(1);
    const lines = runs[0].bytes.split('\n');
    // Track 2 mute: controller 102 on channel 2. Its lamp comes back to the desk.
    expect(lines).toContain('600,studio,b1 66 7f');
    expect(lines.some((line) => /^\d+(\.\d+)?,desk,90 11 7f$/.test(line))).toBe(true);
    const times = lines.filter(Boolean).map((line) => Number(line.split(',')[0]));
    expect([...times].sort((a, b) => a - b)).toEqual(times);
  });

  test('what cannot be played is named, and the rest is played', () => {
    writeFileSync(file('p.json'), JSON.stringify(nineFerriesMix()));
    const { errors, status, out } = rondo(
      ['replay', file('p.json'), '--state'],
      '100,organ,90 11 7f\nnonsense\n200,desk,90 10 7f\n150,desk,90 11 7f\n',
    );
    expect(errors).toContain('there is no port “organ” in the profile; it has desk, feet, studio');
    expect(errors).toContain('Line 2');
    expect(errors).toContain('Line 4: it is earlier than the line before.');
    expect([status, out.includes('"mute/1": {\n      "value": 1,')]).toEqual([1, true]);
  });

  test('a profile that is none, and one whose surface is unknown, say what to do', () => {
    writeFileSync(file('bad.json'), '{"format":"rondo-profile","version":99}');
    expect(rondo(['replay', file('bad.json')], '').errors).toContain('Update Rondo');
    const profile = nineFerriesMix();
    profile.surfaces['desk'] = { id: 'desk', model: 'mine', label: 'Mine' };
    writeFileSync(file('mine.json'), JSON.stringify(profile));
    const { errors, status } = rondo(['replay', file('mine.json')], '');
    expect([status, errors]).toEqual([
      2,
      'There is no description of Mine (mine). Give it with --surface.\n',
    ]);
  });
});

test('teach prints a JSON array; an unknown word prints help and exit code 2', () => {
  expect(rondo(['teach'], '').out).toBe('[]\n');
  const { errors, status } = rondo(['dance'], '');
  expect([status, errors.includes('rondo decode')]).toEqual([2, true]);
});
