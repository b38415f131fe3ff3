import { createSocket, type Socket } from 'node:dgram';
import { once } from 'node:events';
import { blankSurface } from '@rondo/core/surface';
import {
  readOscMessage,
  writeOscMessage,
  type OscArgument,
  type OscMessage,
} from '@rondo/core/wire';
import { control } from '../core/testing/bare-surface';
import { LAMPROOM, lamproomProfile } from '../core/testing/osc-room';
import { expect, test } from './rondo';
import type { Locator, Page } from '@playwright/test';

/** A program or a touch screen at the other end of a UDP port. */
class Peer {
  readonly heard: OscMessage[] = [];
  private constructor(private readonly socket: Socket) {
    socket.on('message', (packet) => {
      const message = readOscMessage(packet);
      if (message) this.heard.push(message);
    });
  }
  static async open(): Promise<Peer> {
    const socket = createSocket('udp4');
    socket.bind(0, '127.0.0.1');
    await once(socket, 'listening');
    return new Peer(socket);
  }
  get port(): number {
    return this.socket.address().port;
  }
  say(port: number, address: string, ...args: OscArgument[]): void {
    this.socket.send(writeOscMessage(address, args), port, '127.0.0.1');
  }
  last(address: string): unknown {
    return this.heard.filter((message) => message.address === address).at(-1)?.values[0];
  }
  async close(): Promise<void> {
    await new Promise<void>((done) => this.socket.close(() => done()));
  }
}
const float = (value: number): OscArgument => ({ as: 'float', value });

async function store(address: string, kind: string, document: object): Promise<void> {
  const answer = await fetch(`${address}/api/${kind}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ document }),
  });
  expect(answer.status).toBe(201);
}

/** Puts a link on the network: it listens on a port and sends to another. */
async function onNetwork(page: Page, name: string, listen: number, to: number): Promise<Locator> {
  const place = page.getByRole('group', { name, exact: true });
  await place.getByRole('radio', { name: 'By OSC' }).click();
  for (const [label, port] of [
    [`UDP port that ${name} sends to`, listen],
    [`UDP port of ${name}`, to],
  ] as const) {
    const field = place.getByRole('spinbutton', { name: label, exact: true });
    await field.fill(String(port));
    await field.press('Tab');
  }
  await expect(place).toContainText('Open.');
  return place;
}
/** Ports that nobody has, for tests that run side by side. */
const free = async (): Promise<number> => {
  const peer = await Peer.open();
  const { port } = peer;
  await peer.close();
  return port;
};

test('a touch screen moves a program over UDP and follows it; both are seen, and a port that is taken is said', async ({
  page,
  bind,
  server,
}) => {
  await store(server.address, 'hosts', LAMPROOM);
  await store(server.address, 'profiles', lamproomProfile());
  const [screen, desk] = [await Peer.open(), await Peer.open()];
  const [ofScreen, ofDesk] = [await free(), await free()];
  await bind.openAny('glass');
  await page.getByRole('link', { name: 'Ports' }).click();
  await onNetwork(page, 'Pane', ofScreen, screen.port);
  const place = await onNetwork(page, 'Lamproom', ofDesk, desk.port);
  // The program is asked what it knows as soon as there is a way to it.
  await expect
    .poll(() => desk.heard.some(({ address }) => address === '/lamproom/tell'))
    .toBe(true);

  screen.say(ofScreen, '/pane/fader/1', float(0.5));
  await expect.poll(() => desk.last('/grand')).toBeCloseTo(-27, 1);
  const log = page.getByRole('list', { name: 'OSC messages, the newest first' });
  await expect(log.getByRole('listitem').first()).toContainText('Pane');
  await expect(log.getByRole('listitem').first()).toContainText('/pane/fader/1');
  await expect(log.getByRole('listitem').first()).toContainText('0.5');
  desk.say(ofDesk, '/grand', float(6));
  await expect.poll(() => screen.last('/pane/fader/1')).toBe(1);

  await page.getByRole('link', { name: 'Bind' }).click();
  screen.say(ofScreen, '/pane/fader/2', float(0.25));
  await expect(bind.station('Message')).toContainText('OSC /pane/fader/2 0.25');
  await expect(bind.station('Control')).toContainText('0.25');
  await expect(page.locator('main')).toContainText(/Fader 2[^:]*: 0\.25/);
  await expect(page.locator('main')).toContainText(/Pane\s*OSC/);

  // In another profile with the same surface the device is where it is known to be.
  const { id: _id, ...same } = lamproomProfile();
  await store(server.address, 'profiles', {
    ...same,
    id: 'glass-2',
    hosts: {},
    hostOrder: [],
    bindings: {},
    bindingOrder: [],
  });
  await bind.openAny('glass-2');
  await expect(page.locator('main')).toContainText(/Pane\s*OSC/);
  await bind.openAny('glass');

  // What is no address is refused in words, and stays as it was.
  await page.getByRole('link', { name: 'Ports' }).click();
  const address = place.getByRole('textbox', { name: 'Address of Lamproom' });
  await address.fill('no address');
  await address.press('Tab');
  await expect(place).toContainText('“no address” is no address');
  await expect(address).toHaveValue('127.0.0.1');
  await page.getByRole('link', { name: 'Bind' }).click();

  // Another program has the port that is chosen now: it is said, and mended by itself once that leaves.
  await page.getByRole('link', { name: 'Ports' }).click();
  const other = await Peer.open();
  const field = place.getByRole('spinbutton', { name: 'UDP port that Lamproom sends to' });
  await field.fill(String(other.port));
  await field.press('Tab');
  await expect(place.getByRole('alert')).toContainText('Another program listens on UDP port');
  await other.close();
  await expect(place).toContainText('Open.');
  await screen.close();
  await desk.close();
});

test('the network is off; switched on it says what is open, and off again it is shut', async ({
  page,
  server,
}) => {
  await page.goto(`${server.address}/ports`);
  const network = page.getByRole('switch', {
    name: 'Other devices of the network may speak OSC and show surfaces',
  });
  await expect(network).not.toBeChecked();
  await expect(page.getByText('Off: only programs on this computer')).toBeVisible();
  await network.click();
  await expect(page.getByText('Neither is encrypted')).toBeVisible();
  await page.reload();
  await expect(network).toBeChecked();
  await network.click();
  await expect(page.getByText('Off: only programs on this computer')).toBeVisible();
});

test('a layout that nobody has described is taught by touching it, and taken back by undo', async ({
  page,
  server,
}) => {
  const layout = blankSurface('layout', 'Layout');
  await store(server.address, 'surfaces', {
    ...layout,
    device: { ...layout.device, wire: 'network' },
    controls: [
      { ...control('a', 'fader', {}), label: 'Level', width: 30, height: 30 },
      { ...control('b', 'button', {}), label: 'Go', x: 60, width: 30, height: 30 },
    ],
  });
  const [screen, listens] = [await Peer.open(), await free()];
  await page.goto(`${server.address}/surfaces/layout`);
  await page.getByRole('button', { name: 'Teach', exact: true }).click();
  const strip = page.locator('rondo-teach-strip');
  const port = strip.getByRole('spinbutton', { name: 'UDP port to listen on' });
  await port.fill(String(listens));
  await port.press('Tab');
  await expect(strip).toContainText('1 of 2');
  // Said until it is heard: the port may not be open yet.
  await expect
    .poll(async () => {
      for (let n = 0; n <= 20; n++) screen.say(listens, '/l/1', float(n / 20));
      return strip.locator('.says').textContent();
    })
    .not.toContain('Move it from end to end');
  await expect(strip).toContainText('2 of 2');
  await expect
    .poll(async () => {
      for (const value of [1, 0, 1, 0]) screen.say(listens, '/l/go', { as: 'integer', value });
      return strip.textContent();
    })
    .toContain('All 2 are through');
  await expect(strip).toContainText('OSC /l/go, argument 1');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  const answer = await fetch(`${server.address}/api/surfaces/layout`);
  const { document } = (await answer.json()) as { document: typeof layout };
  expect(document.controls.map(({ sends, takes }) => [sends, takes])).toEqual([
    [
      { value: { type: 'osc', address: '/l/1', argument: 1, as: 'float' } },
      { motor: { type: 'osc', address: '/l/1', argument: 1, as: 'float' } },
    ],
    [
      { push: { type: 'osc', address: '/l/go', argument: 1, as: 'integer', low: 0, high: 1 } },
      { light: { type: 'osc', address: '/l/go', argument: 1, as: 'integer', low: 0, high: 1 } },
    ],
  ]);
  await page.keyboard.press('Control+z');
  await expect(strip).toContainText('2 of 2');
  await screen.close();
});

test('what is held at a program is released when the page closes', async ({
  page,
  bind,
  server,
}) => {
  const profile = lamproomProfile();
  const [binding] = profile.bindingOrder
    .map((id) => profile.bindings[id])
    .filter((one) => one.control?.control === 'key-1');
  const [action] = binding.actions;
  await store(server.address, 'hosts', LAMPROOM);
  await store(server.address, 'profiles', {
    ...profile,
    bindings: {
      ...profile.bindings,
      [binding.id]: { ...binding, actions: [{ ...action, behaviour: 'momentary' }] },
    },
  });
  const [desk, listens] = [await Peer.open(), await free()];
  await bind.openAny('glass');
  await page.getByRole('link', { name: 'Ports' }).click();
  await onNetwork(page, 'Lamproom', listens, desk.port);
  await page.getByRole('link', { name: 'Bind' }).click();
  const key = (await bind.desk('key-1').boundingBox())!;
  await page.mouse.move(key.x + 20, key.y + 20);
  await page.mouse.down();
  await expect.poll(() => desk.last('/blind')).toBe(true);
  await page.close();
  await expect.poll(() => desk.last('/blind')).toBe(false);
  await desk.close();
});
