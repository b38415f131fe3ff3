import { WebSocket } from 'ws';
import { addHost, addSurface, bind as bindTo, emptyProfile } from '@rondo/core/profile';
import type { Profile } from '@rondo/core/profile';
import { expect, test } from './rondo';

/** Eight pads before a program that takes only keys. */
function padsAndPlacard(): Profile {
  let profile: Profile = {
    ...emptyProfile('stage', 'Stage'),
    surfaces: {},
    surfaceOrder: [],
    hosts: {},
    hostOrder: [],
  };
  profile = addSurface(profile, 'burrow-14', 'Box').document;
  profile = addHost(profile, 'placard', 'Placard').document;
  const [surface] = profile.surfaceOrder;
  const [host] = profile.hostOrder;
  const does = [
    ['button-1', 'nextSheet', 'momentary'],
    ['button-2', 'torch', 'momentary'],
  ] as const;
  for (const [control, fn, behaviour] of does)
    profile = bindTo(
      profile,
      'Bind',
      { surface, control, part: 'push' },
      { do: 'function', host, function: fn, scope: { kind: 'host' }, behaviour },
    ).document;
  return profile;
}

test('a program that takes only keys is played: simulated first, then by the adapter, while it is in front', async ({
  bind,
  page,
  server,
}) => {
  await fetch(`${server.address}/api/profiles`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ document: padsAndPlacard() }),
  });
  await bind.openAny('stage');
  await page.getByRole('link', { name: 'Ports' }).click();
  await page.getByRole('switch', { name: /A key adapter may press keys/ }).click();
  const command = await page.locator('rondo-keys-panel .token').textContent();
  const [, port, token] = /--port (\S+) --token (\S+)/.exec(command ?? '') ?? [];
  const place = page.getByRole('group', { name: 'Placard', exact: true });
  await place.getByRole('radio', { name: 'By keys of this computer' }).click();
  await expect(place.getByRole('alert')).toContainText('No key adapter is here');

  const heard: string[] = [];
  const adapter = new WebSocket(`ws://127.0.0.1:${port}/api/keys/adapter`);
  adapter.on('message', (data: Buffer) => {
    const { kind, keys, chords } = JSON.parse(String(data)) as {
      kind: string;
      keys?: string[];
      chords?: string[][];
    };
    heard.push(keys ? `${kind} ${keys.join('+')}` : `${kind} ${chords?.length}`);
  });
  adapter.on('open', () => adapter.send(JSON.stringify({ kind: 'hello', token, name: 'Test' })));
  await expect(place).toContainText('Its keys are pressed on this computer.');
  await expect(page.locator('rondo-keys-panel')).toContainText('Test is here.');
  const program = place.getByRole('textbox', { name: 'Program in front for Placard' });
  await program.fill('Placard');
  await program.press('Tab');
  adapter.send(JSON.stringify({ kind: 'front', program: 'Placard' }));
  await expect(page.locator('rondo-keys-panel')).toContainText('In front is “Placard”.');

  await page.getByRole('link', { name: 'Bind' }).click();
  await expect(page.locator('main')).toContainText(/Placard\s*keys/);
  heard.length = 0;
  await bind.desk('button-1').click();
  await expect.poll(() => heard).toEqual(['press ArrowRight']);
  // Held as long as the control is, and let go of when the page goes.
  const torch = (await bind.desk('button-2').boundingBox())!;
  await page.mouse.move(torch.x + torch.width / 2, torch.y + torch.height / 2);
  await page.mouse.down();
  await expect.poll(() => heard.at(-1)).toBe('down KeyT');
  await page.goto('about:blank');
  await expect.poll(() => heard).toContain('up KeyT');
  adapter.terminate();
});

test('keys of a host are entered by pressing them, or written; what is no key is said', async ({
  page,
  server,
}) => {
  await page.goto(`${server.address}/hosts/placard`);
  const message = page.getByRole('textbox', { name: 'Message of Blank' });
  await expect(message).toHaveValue('keys B');
  const row = page.getByRole('row').filter({ has: message });
  await row.getByRole('button', { name: 'Press keys for Blank' }).click();
  await page.keyboard.press('Control+Shift+k');
  await page.keyboard.press('Enter');
  await expect(row.getByRole('status').first()).toHaveText('Control+Shift+K, Enter');
  await row.getByRole('button', { name: 'Take them' }).click();
  await expect(message).toHaveValue('keys Control+Shift+K, Enter');
  await message.fill('keys ctrl+Anything');
  await message.press('Tab');
  await expect(row).toContainText('“Anything” is no key');
  await message.fill('keys hold space');
  await message.press('Tab');
  await expect(message).toHaveValue('keys hold Space');
});
