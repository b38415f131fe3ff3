import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import {
  test as base,
  expect,
  type BrowserContext,
  type Frame,
  type Locator,
  type Page,
} from '@playwright/test';
import { installWebMidi, type MidiControl, type MidiPlan } from '../web/testing/web-midi';

declare global {
  interface Window {
    rondoMidi: MidiControl;
  }
}

export { expect };

const PROGRAM = fileURLToPath(new URL('../server/dist/main.mjs', import.meta.url));

/** A Rondo with a data folder of its own, which begins as a copy where one is given. */
export class Server {
  address = '';
  readonly folder = mkdtempSync(join(tmpdir(), 'rondo-e2e-'));
  private child: ChildProcess | null = null;
  private port = 0;

  constructor(like?: string) {
    if (like) cpSync(like, this.folder, { recursive: true });
  }

  get isRunning(): boolean {
    return this.child !== null;
  }

  async start(): Promise<void> {
    const child = spawn(process.execPath, [PROGRAM], {
      env: { ...process.env, RONDO_DATA: this.folder, RONDO_PORT: String(this.port) },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    this.child = child;
    this.address = await new Promise<string>((done, fail) => {
      child.stdout.on('data', (chunk: Buffer) => {
        const found = /http:\/\/\S+/.exec(String(chunk));
        if (found) done(found[0].replace(/\/$/, ''));
      });
      child.once('exit', () => fail(new Error('The server did not start.')));
    });
    this.port = Number(new URL(this.address).port);
  }
  /** Waits until a profile is kept with some words in it: the page says “Saved” until it has drawn that it is not. */
  async hasSaved(id: string, words: string): Promise<void> {
    const read = async () => (await fetch(`${this.address}/api/profiles/${id}`)).text();
    await expect.poll(read).toContain(words);
  }
  /** Waits until it has a profile under a name. */
  async hasNamed(id: string, name: string): Promise<void> {
    await this.hasSaved(id, `"name":${JSON.stringify(name)}`);
  }
  async stop(): Promise<void> {
    const { child } = this;
    this.child = null;
    if (!child || child.exitCode !== null) return;
    child.kill('SIGKILL');
    await once(child, 'exit');
  }
  /** Ends it as a person does, with all that it has written in its place. */
  async end(): Promise<void> {
    const { child } = this;
    this.child = null;
    child?.kill('SIGTERM');
    if (child) await once(child, 'exit');
  }
  remove(): void {
    rmSync(this.folder, { recursive: true, force: true });
  }
}

/** Fails on anything that the page complains of: errors and violations of the content security policy. */
function watch(page: Page, complaints: string[]): void {
  page.on('pageerror', (error) => complaints.push(error.message));
  page.on('console', (message) => {
    const text = message.text();
    // Failed requests are what some tests are about; the page tells the user of them.
    const isOfServer = /Failed to load resource|\/api\/events' failed/.test(text);
    if (message.type() === 'error' && !isOfServer) complaints.push(text);
  });
}

/** A data folder with the demo in it, as the first start makes one: made once for all tests of a worker. */
async function firstStart(): Promise<string> {
  const server = new Server();
  await server.start();
  await server.end();
  return server.folder;
}

interface Rooms {
  readonly server: Server;
  readonly bind: Bench;
  readonly complaints: string[];
}

export const test = base.extend<Rooms, { fresh: string }>({
  fresh: [
    async ({}, use) => {
      const folder = await firstStart();
      await use(folder);
      rmSync(folder, { recursive: true, force: true });
    },
    { scope: 'worker' },
  ],
  server: async ({ fresh }, use) => {
    const server = new Server(fresh);
    await server.start();
    await use(server);
    await server.stop();
    server.remove();
  },
  complaints: async ({}, use) => {
    const complaints: string[] = [];
    await use(complaints);
    expect(complaints).toEqual([]);
  },
  page: async ({ page, complaints }, use) => {
    watch(page, complaints);
    await use(page);
  },
  bind: async ({ page, server }, use) => {
    await use(new Bench(page, server));
  },
});

const SAVES = '**/api/profiles/*';
/** From now on no profile that a browser saves reaches the server. */
export async function cutSaves(context: BrowserContext): Promise<void> {
  await context.route(SAVES, (route) =>
    route.request().method() === 'PUT' ? route.abort() : route.continue(),
  );
}
export const mendSaves = (context: BrowserContext): Promise<void> => context.unroute(SAVES);

/** Chooses one of a list by its words; a long list is looked through by typing. */
export async function choose(where: Page | Locator, list: string, option: string): Promise<void> {
  const page = 'goto' in where ? where : where.page();
  await where.getByRole('combobox', { name: list, exact: true }).click();
  const one = page.getByRole('option', { name: option, exact: true });
  await one.click();
  // It folds away in its own time: of two lists that are open the words would be twice.
  await expect(one).toBeHidden();
}

/** The frame that holds the ports. */
export async function midiFrame(page: Page): Promise<Frame> {
  const isIt = (frame: Frame) => /\/midi#/.test(frame.url());
  return page.frames().find(isIt) ?? ((await page.waitForEvent('framenavigated', isIt)) as Frame);
}

/** Does something where the ports are held: there the stand-in for Web MIDI plays. */
export async function atPorts<T, A>(page: Page, does: (given: A) => T, given?: A): Promise<T> {
  const frame = await midiFrame(page);
  return frame.evaluate(does as never, given as never) as Promise<T>;
}

/** A real desk, and a cable each way to a program. */
export const DESK_AND_CABLES: MidiPlan = {
  answer: 'granted',
  inputs: [
    { id: 'desk-in', name: 'Harrow 8 out' },
    { id: 'cable-b', name: 'Cable B' },
  ],
  outputs: [
    { id: 'desk-out', name: 'Harrow 8 in' },
    { id: 'cable-a', name: 'Cable A' },
  ],
};

/** Messages come from a port, one after the other. */
export const play = (page: Page, port: string, ...messages: number[][]): Promise<void> =>
  atPorts(
    page,
    ([id, list]) => {
      for (const bytes of list as number[][]) window.rondoMidi.play(id as string, bytes);
    },
    [port, messages],
  );
/** What has left by a port, message by message. */
export const sent = (page: Page, port: string): Promise<number[][]> =>
  atPorts(page, (id) => window.rondoMidi.sent[id] ?? [], port);

/** Does something from a menu. */
export async function act(where: Page | Locator, menu: string, item: string): Promise<void> {
  const page = 'goto' in where ? where : where.page();
  await where.getByRole('button', { name: menu, exact: true }).click();
  await page.getByRole('menuitem', { name: item, exact: true }).click();
}

/** The Bind screen, as a person at it sees and touches it. */
export class Bench {
  constructor(
    readonly page: Page,
    private readonly server: Server,
  ) {}

  /** Puts a stand-in for Web MIDI into the page before it opens. */
  async withMidi(plan: MidiPlan): Promise<void> {
    await this.page.addInitScript(
      `(${installWebMidi.toString()})(window, ${JSON.stringify(plan)});`,
    );
  }

  async open(id = 'nine-ferries-mix'): Promise<void> {
    await this.page.goto(`${this.server.address}/bind/${id}`);
    // All of the page is loaded here for the first time: that may take longer than what comes later.
    await expect(this.desk('fader-1')).toHaveAttribute('aria-valuenow', /^[1-9]\d*$/, {
      timeout: 30_000,
    });
    await this.settled(1, 'Volume of Narrator');
  }

  /** Opens a profile whatever surfaces it has. */
  async openAny(id: string): Promise<void> {
    await this.page.goto(`${this.server.address}/bind/${id}`);
    await expect(this.page.locator('g[data-id]').first()).toBeVisible();
  }

  /** Waits until a fader's motor has arrived where the host has its function. */
  async settled(fader: number, volume: string): Promise<void> {
    await expect
      .poll(async () =>
        Math.abs(
          (await this.valueOf(this.desk(`fader-${fader}`))) / 10.23 -
            (await this.valueOf(this.host(volume))),
        ),
      )
      .toBeLessThan(1);
  }

  /** Takes hold of a control with the keyboard, so that arrows move it. */
  async hold(id: string): Promise<void> {
    const control = this.desk(id);
    await control.focus();
    if ((await control.getAttribute('role')) !== 'slider') return;
    if (/taken/.test((await control.getAttribute('class')) ?? '')) return;
    await this.page.keyboard.press('Enter');
    await expect(control).toHaveClass(/taken/);
  }

  desk(id: string): Locator {
    return this.page.locator(`g[data-id="${id}"]`).first();
  }
  host(name: string): Locator {
    return this.page.getByRole('group', { name: 'Studio' }).getByLabel(name, { exact: true });
  }
  station(name: string): Locator {
    return this.page
      .locator('rondo-round li')
      .filter({ has: this.page.getByRole('heading', { name }) });
  }

  /** Drags something up by some pixels, in steps as a hand does. */
  async drag(what: Locator, up: number, release = true): Promise<void> {
    const box = (await what.boundingBox())!;
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    await this.page.mouse.move(x, y);
    await this.page.mouse.down();
    await this.page.mouse.move(x, y - up, { steps: 8 });
    if (release) await this.page.mouse.up();
  }
  /** Takes a key in hand and off whatever it is bound to. */
  async free(id: string): Promise<void> {
    await this.desk(id).click();
    await expect(this.station('Function').getByRole('button', { name: 'Unbind' })).toBeVisible();
    await this.page.keyboard.press('Delete');
    await expect(this.station('Function')).toContainText('Nothing is bound to this');
  }
  fader(n: number | string): Locator {
    return this.page.locator(`g[data-over="fader-${n}"] .cap`).first();
  }
  /** Clicks in the middle of something, whatever lies on top there. */
  async clickAt(what: Locator): Promise<void> {
    const box = (await what.boundingBox())!;
    await this.page.mouse.click(box.x + box.width / 2, box.y + box.height / 2);
  }
  async valueOf(what: Locator): Promise<number> {
    return Number(await what.getAttribute('aria-valuenow'));
  }
}
