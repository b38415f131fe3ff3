import fc from 'fast-check';
import { COMMANDS, type Command } from './page-commands';
import { PageModel, type At } from './page-model';
import { expect, test } from './rondo';

/** Runs of each; the soak has more. A run that failed is run again by its seed: RONDO_PAGE_SEED. */
const RUNS = Number(process.env['RONDO_PAGE_RUNS'] ?? 2);
const STEPS = Number(process.env['RONDO_PAGE_STEPS'] ?? 30);
const SEED = process.env['RONDO_PAGE_SEED'];
/** A failure is made smaller for so many seconds at most. */
const SHRINK = Number(process.env['RONDO_PAGE_SHRINK'] ?? 0) * 1_000;

const names = Object.keys(COMMANDS) as Command['does'][];
/** What is done to the document comes oftener than what is done to windows and server. */
const RARE = new Set<Command['does']>([
  'close',
  'kill',
  'file',
  'otherBrowser',
  'leave',
  'offline',
]);
const window = fc.constantFrom<At>(0, 1);
const command = (which: readonly Command['does'][]): fc.Arbitrary<Command> =>
  fc.record({ does: fc.constantFrom(...which), window, n: fc.nat(1_000) });
const commands = fc.array(
  fc.oneof(
    { arbitrary: command(names.filter((name) => !RARE.has(name))), weight: 9 },
    { arbitrary: command([...RARE]), weight: 1 },
  ),
  { minLength: STEPS, maxLength: STEPS },
);
const orders = fc.array(window, { minLength: 5, maxLength: 9 });

test.describe.configure({ mode: 'parallel' });

for (const half of ['first', 'second'])
  test(`whatever two windows do: page, draft, server and model are one; there and back is exact (${half} half)`, async ({
    browser,
    server,
  }) => {
    test.setTimeout(SHRINK + RUNS * 150_000);
    let runs = 0;
    let failedAt = 0;
    const check = await fc.check(
      fc.asyncProperty(commands, orders, async (steps, order) => {
        if (failedAt > 0 && performance.now() - failedAt > SHRINK) return;
        const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
        context.setDefaultTimeout(30_000);
        const did: string[] = [];
        try {
          const model = await PageModel.begin(context, server, `${half}-${++runs}`);
          for (const { does, window: at, n } of steps) {
            did.push(`${does} in ${at} by ${n}`);
            await model.page(at).bringToFront();
            await COMMANDS[does](model, at, n);
            await model.agree();
          }
          did.push('there and back');
          await model.thereAndBack(order);
          await model.end();
        } catch (error) {
          failedAt ||= performance.now();
          throw new Error(`After ${did.join(', ')}: ${String(error)}`, { cause: error });
        } finally {
          if (!server.isRunning) await server.start();
          await context.close();
        }
      }),
      {
        numRuns: RUNS,
        endOnFailure: SHRINK === 0,
        ...(SEED === undefined ? {} : { seed: Number(SEED) }),
      },
    );
    const { failed, seed, errorInstance } = check;
    expect(failed ? `RONDO_PAGE_SEED=${seed}: ${String(errorInstance)}` : 'held').toBe('held');
  });
