import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { installWebMidi, type MidiPlan } from '../web/testing/web-midi';
import { Browser, type Tab } from './cdp';
import { atPorts, choose, expect, midiFrame, test, type Bench } from './rondo';

const PLAN: MidiPlan = {
  answer: 'granted',
  inputs: [{ id: 'desk-in', name: 'Harrow 8 out' }],
  outputs: [{ id: 'desk-out', name: 'Harrow 8 in' }],
};
const HARROW = { real: true, input: PLAN.inputs[0], output: PLAN.outputs[0] };

const chosen = () =>
  `if (top === window) localStorage.setItem('rondo.session.nine-ferries-mix', ${JSON.stringify(
    JSON.stringify({ bank: 0, ports: { 'surface:desk': HARROW } }),
  )});`;
const standIn = (plan: MidiPlan) =>
  `(${installWebMidi.toString()})(window, ${JSON.stringify(plan)});`;

/** The demo with its desk on real ports, as chosen in an earlier session. */
async function openReal(bind: Bench): Promise<void> {
  await bind.withMidi(PLAN);
  await bind.page.context().grantPermissions(['midi', 'midi-sysex']);
  await bind.page.addInitScript(chosen());
  await bind.openAny('nine-ferries-mix');
  await painted(bind);
}
const sent = (bind: Bench) =>
  atPorts(bind.page, () => (window.rondoMidi?.sent['desk-out'] ?? []).map(String));
const painted = (bind: Bench) =>
  // The frame may be on its way in or out: then it is looked at again.
  expect(async () => expect((await sent(bind)).length).toBeGreaterThan(80)).toPass({
    timeout: 20_000,
  });
const play = (bind: Bench, ...messages: number[][]) =>
  atPorts(
    bind.page,
    (list: number[][]) => {
      for (const bytes of list) window.rondoMidi.play('desk-in', bytes);
    },
    messages,
  );

test('a page that draws for two seconds holds no byte up', async ({ bind, page }) => {
  await openReal(bind);
  const frame = await midiFrame(page);
  await page.getByRole('link', { name: 'Ports' }).click();
  await expect(page.getByText('MIDI has a process of its own')).toBeVisible();
  await page.getByRole('link', { name: 'Bind' }).click();
  await expect.poll(async () => (await sent(bind)).length).toBeGreaterThan(80);

  const blocked = page.evaluate(() => {
    const until = performance.now() + 2_000;
    while (performance.now() < until);
    return performance.timeOrigin + performance.now();
  });
  // Ten keys of ten strips, down and up, while nothing can be drawn: the lamp of each answers.
  const last = await frame.evaluate(async () => {
    const { rondoMidi } = window;
    const from = rondoMidi.sent['desk-out'].length;
    const lamps = () =>
      new Set(
        rondoMidi.sent['desk-out']
          .slice(from)
          .filter(([status, note, value]) => status === 0x90 && note >= 16 && note < 24 && value)
          .map(([, note]) => note),
      ).size;
    for (let strip = 0; strip < 8; strip++) {
      rondoMidi.play('desk-in', [0x90, 16 + strip, 127]);
      rondoMidi.play('desk-in', [0x90, 16 + strip, 0]);
    }
    const until = performance.now() + 5_000;
    while (lamps() < 7 && performance.now() < until)
      await new Promise((done) => setTimeout(done, 1));
    return { lamps: lamps(), at: performance.timeOrigin + performance.now() };
  });
  const resumed = await blocked;
  expect(last.lamps).toBeGreaterThanOrEqual(7);
  expect(last.at).toBeLessThan(resumed);
});

test('a frame that is loaded anew in mid-play is joined again, and all is painted again', async ({
  bind,
  page,
}) => {
  await openReal(bind);
  await play(bind, [0x90, 0x68, 0x7f], [0xe0, 0x70, 0x30]);
  const frame = await midiFrame(page);
  await frame.evaluate(() => location.reload()).catch(() => undefined);
  await painted(bind);
  await play(bind, [0x90, 0x10, 0x7f], [0x90, 0x10, 0x00]);
  await expect.poll(() => sent(bind)).toContain('144,16,127');
  await expect(bind.host('Mute Narrator')).toHaveAttribute('aria-pressed', 'true');
});

test('a frame whose process is killed is replaced, and all is painted again', async ({
  server,
}) => {
  const browser = await Browser.start();
  try {
    await browser.send('Browser.grantPermissions', {
      origin: server.address,
      permissions: ['midi', 'midiSysex'],
    });
    const tab = await browser.openTab('about:blank');
    await tab.before(`${standIn(PLAN)} ${chosen()}`);
    await tab.send('Page.navigate', { url: `${server.address}/bind/nine-ferries-mix` });
    const lamps = (frame: Tab) =>
      frame.evaluate<number>(`(window.rondoMidi?.sent['desk-out'] ?? []).length`);
    const first = await tab.ofFrame();
    await expect.poll(() => lamps(first), { timeout: 20_000 }).toBeGreaterThan(80);
    const next = tab.nextFrame();
    void first.send('Page.crash').catch(() => undefined);
    const second = await next;
    await expect.poll(() => lamps(second), { timeout: 20_000 }).toBeGreaterThan(80);
    await second.evaluate(`window.rondoMidi.play('desk-in', [0x90, 0x10, 0x7f])`);
    await expect
      .poll(() => second.evaluate(`window.rondoMidi.sent['desk-out'].map(String).join(' ')`))
      .toContain('144,16,127');
  } finally {
    await browser.close();
  }
});

test('of two windows one plays; when it closes the other paints its ports and plays on', async ({
  bind,
  page,
  server,
}) => {
  await openReal(bind);
  const second = await page.context().newPage();
  await second.addInitScript(`${standIn(PLAN)} ${chosen()}`);
  await second.goto(`${server.address}/bind/nine-ferries-mix`);
  const lamps = () => atPorts(second, () => (window.rondoMidi?.sent['desk-out'] ?? []).map(String));
  await expect(second.getByText('another window', { exact: false }).first()).toBeVisible();
  await page.close();
  await expect(async () => expect((await lamps()).length).toBeGreaterThan(80)).toPass({
    timeout: 20_000,
  });
  await atPorts(second, () => window.rondoMidi.play('desk-in', [0x90, 0x10, 0x7f]));
  await expect.poll(lamps).toContain('144,16,127');
});

test('where the frame is refused the page holds the ports itself, and says so', async ({
  bind,
  page,
  complaints,
}) => {
  await page.route('**/midi', (route) => route.abort());
  await bind.withMidi(PLAN);
  await bind.open();
  await page.getByRole('link', { name: 'Ports' }).click();
  await page.getByRole('button', { name: 'Allow real MIDI ports' }).click();
  await expect(page.getByText('did not open Rondo’s MIDI frame')).toBeVisible();
  await choose(page, 'Harrow 8 input', 'Harrow 8 out');
  await choose(page, 'Harrow 8 output', 'Harrow 8 in');
  await page.evaluate(() => window.rondoMidi.play('desk-in', [0x90, 0x10, 0x7f]));
  await expect
    .poll(() => page.evaluate(() => window.rondoMidi.sent['desk-out'].map(String)))
    .toContain('144,16,127');
  complaints.length = 0;
});

test.describe('a page that is closed', () => {
  // The test’s own listener is outside what the policy allows.
  test.use({ bypassCSP: true });
  test('releases what it held', async ({ bind, page }) => {
    const left: string[] = [];
    const listener = createServer((request, response) => {
      request.on('data', (chunk: Buffer) => void left.push(String(chunk)));
      response.end();
    });
    await new Promise<void>((done) => listener.listen(0, '127.0.0.1', done));
    await openReal(bind);
    await page.getByRole('link', { name: 'Ports' }).click();
    await choose(page, 'Studio output', 'Harrow 8 in');
    await page.getByRole('link', { name: 'Bind' }).click();
    await bind.desk('mute-1').click();
    await page.getByRole('button', { name: 'While held' }).click();
    // What is played in the moment of an edit meets what was before it: there a key would stay on by itself.
    await expect
      .poll(async () => {
        await atPorts(page, () => (window.rondoMidi.sent['desk-out'] = []));
        await play(bind, [0x90, 0x10, 0x7f]);
        await play(bind, [0x90, 0x10, 0]);
        await expect.poll(async () => (await sent(bind)).join(' ')).toMatch(/176,102,/);
        return (await sent(bind)).filter((one) => one.startsWith('176,102,')).length;
      })
      .toBe(2);
    await atPorts(page, () => (window.rondoMidi.sent['desk-out'] = []));
    await play(bind, [0x90, 0x10, 0x7f]);
    await expect.poll(() => sent(bind)).toContain('176,102,127');
    await atPorts(
      page,
      (to) =>
        addEventListener('pagehide', () =>
          navigator.sendBeacon(to, JSON.stringify(window.rondoMidi.sent['desk-out'].slice(-4))),
        ),
      `http://127.0.0.1:${(listener.address() as AddressInfo).port}/`,
    );
    await page.close();
    await expect.poll(() => left.join()).toContain('[176,102,0]');
    listener.close();
  });
});

test.describe('from a foreign origin', () => {
  let foreign: Server;
  let address: string;
  test.beforeEach(async () => {
    foreign = createServer((_, response) => {
      response.setHeader('Content-Type', 'text/html');
      response.end('<!doctype html><title>Elsewhere</title><body></body>');
    });
    await new Promise<void>((done) => foreign.listen(0, '127.0.0.1', done));
    address = `http://127.0.0.1:${(foreign.address() as AddressInfo).port}`;
  });
  test.afterEach(() => void foreign.close());

  test('nobody else can frame the ports', async ({ page, server, complaints }) => {
    await page.goto(address);
    for (const name of ['127.0.0.1', 'localhost']) {
      const url = `${server.address.replace('127.0.0.1', name)}/midi#nonce`;
      const said = await page.evaluate(async (src) => {
        let heard = 0;
        addEventListener('message', () => heard++);
        const frame = document.createElement('iframe');
        frame.allow = 'midi';
        frame.src = src;
        await new Promise((done) => {
          frame.addEventListener('load', done);
          document.body.append(frame);
        });
        frame.contentWindow?.postMessage({ rondo: 'join', nonce: 'nonce' }, '*', [
          new MessageChannel().port2,
        ]);
        return heard;
      }, url);
      expect(said).toBe(0);
      const frame = page.frames().find((one) => one.url().includes('/midi'));
      expect(frame).toBeUndefined();
    }
    expect(complaints.join()).toContain('frame-ancestors');
    complaints.length = 0;
  });

  test('whoever opens the frame as a window of its own gets no word from it', async ({
    page,
    server,
  }) => {
    await page.goto(address);
    const url = `${server.address.replace('127.0.0.1', 'localhost')}/midi#nonce`;
    const opened = page.waitForEvent('popup');
    await page.evaluate((to) => {
      const heard: unknown[] = [];
      Object.assign(window, { heard, opened: open(to) });
      addEventListener('message', ({ data }) => heard.push(data));
    }, url);
    const popup = await opened;
    await popup.waitForLoadState();
    expect(await popup.evaluate(() => parent === window)).toBe(true);
    expect(await page.evaluate(() => (window as unknown as { heard: unknown[] }).heard)).toEqual(
      [],
    );
  });
});
