import { jest } from '@jest/globals';
import fc from 'fast-check';
import { bind } from '@rondo/core/profile';
import { Engine, compile } from '@rondo/core/round';
import { habitsOf } from '@rondo/core/standin';
import {
  DEMOS,
  Session,
  compileCopy,
  fastLibrary,
  deed,
  lot,
  profileBy,
  stockLibrary,
} from '../testing/random-room.js';

// Long random runs have their time: five minutes here, an hour in the soak.
jest.setTimeout(process.env['RONDO_LAW_RUNS'] || process.env['RONDO_KILLS'] ? 3_600_000 : 300_000);

const demo = fc.constantFrom(...Object.keys(DEMOS));
const lots = fc.array(lot, { maxLength: 6 });
const deeds = fc.array(deed, { minLength: 4, maxLength: 24 });
const seed = fc.nat();
/** Many more run in the soak. */
const RUNS = Number(process.env['RONDO_LAW_RUNS'] ?? 60);
const habitsBy = (from: number) => (key: string) =>
  habitsOf([...key].reduce((sum, c) => sum * 31 + c.charCodeAt(0), from) | 0);

test('law 1: loading the same profile again at any instant changes nothing that happens afterwards, to the byte', () => {
  fc.assert(
    fc.property(
      demo,
      lots,
      deeds,
      seed,
      fc.array(fc.nat(23), { maxLength: 6 }),
      (name, by, does, from, at) => {
        const profile = profileBy(name, by);
        const plan = compile(profile, stockLibrary);
        const plain = new Session(plan, habitsBy(from));
        const reloaded = new Session(plan, habitsBy(from));
        does.forEach((one, n) => {
          plain.do(one);
          reloaded.do(one);
          if (at.includes(n)) reloaded.world.engine.load(compileCopy(profile), reloaded.world.time);
        });
        plain.wait(700_000);
        reloaded.wait(700_000);
        const first = plain.out.findIndex((line, i) => line !== reloaded.out[i]);
        const around = (list: string[]) => (first < 0 ? [] : list.slice(first, first + 3));
        expect(around(reloaded.out)).toEqual(around(plain.out));
        expect(reloaded.out.length).toBe(plain.out.length);
      },
    ),
    { numRuns: RUNS },
  );
});

/** What was said by whom, message by message: to hosts all in one row, to surfaces by what each message is for. */
function sequences(out: readonly string[], isOf: (status: number, number: number) => boolean) {
  const rows = new Map<string, string[]>();
  for (const line of out) {
    const [, link, ...hex] = line.split(' ');
    const bytes = hex.map((byte) => parseInt(byte, 16));
    for (let at = 0; at < bytes.length;) {
      let next = at + 1;
      while (next < bytes.length && bytes[next] < 0x80) next++;
      if (bytes[next] === 0xf7) next++;
      const [status, number] = bytes.slice(at, next);
      const kind = status & 0xf0;
      const which = kind === 0xe0 ? '' : kind === 0xd0 ? number >> 4 : number;
      const key = link.startsWith('host:') ? link : `${link} ${status} ${which}`;
      const row = rows.get(key) ?? [];
      const message = String(bytes.slice(at, next));
      const isHost = link.startsWith('host:');
      // What is refreshed slowly says the same again; how far round it is when we look may shift with the wire.
      const isRefresh = !isHost && row.at(-1) === message;
      // Texts of neighbours may go in one message or in two.
      if (status !== 0xf0 && !isRefresh && (isHost || !isOf(status, number)))
        rows.set(key, [...row, message]);
      at = next;
    }
  }
  return rows;
}

test('law 1, of an edit: what it does not touch sends the same bytes in the same order', () => {
  const strip = fc.integer({ min: 1, max: 8 });
  fc.assert(
    fc.property(
      strip,
      fc.constantFrom('pan', 'send1'),
      deeds,
      seed,
      fc.nat(23),
      (n, to, does, from, at) => {
        const profile = DEMOS['mix']();
        const avoid = `fader-${n}`;
        const edited = bind(
          profile,
          'Bind otherwise',
          { surface: 'desk', control: avoid, part: 'value' },
          {
            do: 'function',
            host: 'studio',
            function: to,
            scope: { kind: 'window', offset: n - 1 },
            behaviour: 'follow',
          },
        ).document;
        const plain = new Session(compileCopy(profile, fastLibrary), habitsBy(from));
        const other = new Session(compileCopy(profile, fastLibrary), habitsBy(from));
        does.forEach((one, step) => {
          if (one.does === 'raw' || one.does === 'unplug') return;
          if (step === at % does.length)
            other.world.engine.load(compileCopy(edited, fastLibrary), other.world.time);
          plain.do(one, avoid);
          other.do(one, avoid);
        });
        plain.wait(700_000);
        other.wait(700_000);
        // Its motor, and the display of its strip, are what the edit is about.
        const isOf = (status: number) => status === (0xe0 | (n - 1));
        expect(sequences(other.out, isOf)).toEqual(sequences(plain.out, isOf));
      },
    ),
    { numRuns: RUNS / 2 },
  );
});

test('law 2: driving the engine only at its deadlines gives the same bytes as driving it every millisecond', () => {
  fc.assert(
    fc.property(demo, lots, deeds, seed, (name, by, does, from) => {
      const plan = compile(profileBy(name, by), stockLibrary);
      const session = new Session(plan, habitsBy(from));
      for (const one of does) if (one.does !== 'panic' && one.does !== 'unplug') session.do(one);
      session.wait(700_000);
      /** Everything that came to the engine comes to another one, which is driven in a way of its own. */
      const replay = (drive: (engine: Engine, until: number) => void): string[] => {
        const out: string[] = [];
        const engine = new Engine(plan, (link, bytes, start, end) => {
          out.push(`${engine.now} ${link} ${String(bytes.subarray(start, end))}`);
        });
        plan.links.forEach((_, link) => {
          engine.setInputOpen(link, true, 0);
          engine.setOutputOpen(link, true, 0);
        });
        for (const { link, bytes, t } of session.into) {
          drive(engine, t);
          engine.at(t).receive(engine.linkOf(link), bytes, 0, bytes.length);
        }
        const end = session.world.time + 500_000;
        drive(engine, end);
        engine.advance(end);
        return out;
      };
      let now = 0;
      const everyMillisecond = replay((engine, until) => {
        for (; now < until; now += 1_000) engine.advance(now);
      });
      const atDeadlines = replay((engine, until) => {
        for (let due = engine.nextDeadline(); due < until; due = engine.nextDeadline())
          engine.advance(due);
      });
      const atMessages = replay(() => undefined);
      expect(atDeadlines).toEqual(everyMillisecond);
      expect(atMessages).toEqual(everyMillisecond);
    }),
    { numRuns: RUNS },
  );
});
