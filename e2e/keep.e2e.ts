import { readFileSync } from 'node:fs';
import { Server, choose, expect, test } from './rondo';

test('a version is named, looked at on the drawing, and brought back; undo takes that back', async ({
  bind,
  page,
}) => {
  await bind.open();
  const panel = page.locator('rondo-versions-panel');
  await page.keyboard.press('v');
  await panel.getByRole('textbox', { name: 'Call what is saved now' }).fill('Before the guests');
  await panel.getByRole('button', { name: 'Name it' }).click();
  await expect(panel).toContainText('Before the guests');
  await panel.getByRole('button', { name: 'Close' }).click();

  await bind.desk('mute-3').click();
  await page.getByRole('button', { name: 'Unbind' }).click();
  await expect(bind.desk('mute-3')).not.toHaveClass(/bound/);
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();

  await page.keyboard.press('v');
  const named = panel.getByRole('listitem').filter({ hasText: 'Before the guests' });
  await named.getByRole('button').first().click();
  await expect(panel).toContainText('Mute 3: mute taken off');
  // The drawing shows it as it was; the profile is as it is.
  await expect(bind.desk('mute-3')).toHaveClass(/bound/);
  await panel.getByRole('button', { name: 'Stay with what is now' }).click();
  await expect(bind.desk('mute-3')).not.toHaveClass(/bound/);
  await named.getByRole('button').first().click();
  await panel.getByRole('button', { name: 'Bring it back' }).click();
  await expect(bind.desk('mute-3')).toHaveClass(/bound/);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(bind.desk('mute-3')).not.toHaveClass(/bound/);
});

test('two versions are compared, what differs is marked, and one control comes back alone', async ({
  bind,
  page,
}) => {
  await bind.open();
  const panel = page.locator('rondo-versions-panel');
  const name = async (label: string) => {
    await page.keyboard.press('v');
    await panel.getByRole('textbox', { name: 'Call what is saved now' }).fill(label);
    await panel.getByRole('button', { name: 'Name it' }).click();
    await expect(panel).toContainText(label);
    await panel.getByRole('button', { name: 'Close' }).click();
  };
  const unbind = async (key: string) => {
    await bind.desk(key).click();
    await page.getByRole('button', { name: 'Unbind' }).click();
    await expect(bind.desk(key)).not.toHaveClass(/bound/);
    await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  };
  await name('First');
  await unbind('mute-3');
  await name('Second');
  await unbind('mute-4');
  await page.keyboard.press('v');
  const named = panel.getByRole('listitem').filter({ hasText: 'First' });
  await named.getByRole('button').first().click();
  const marks = () =>
    page
      .locator('[data-marked]')
      .evaluateAll((all) => all.map((one) => one.getAttribute('data-marked')));
  await expect.poll(marks).toEqual(['mute-3', 'mute-4']);
  await choose(panel, 'Compared with', 'Second');
  await expect.poll(marks).toEqual(['mute-3']);
  await expect(panel).toContainText('Mute 3: mute taken off');
  await expect(panel.locator('.told')).not.toContainText('Mute 4');
  await choose(panel, 'Compared with', 'what is now');
  await bind.desk('mute-4').click();
  await panel.getByRole('button', { name: /^Only Mute 4/ }).click();
  await expect(bind.desk('mute-4')).toHaveClass(/bound/);
  await expect(bind.desk('mute-3')).not.toHaveClass(/bound/);
  await expect.poll(marks).toEqual([]);
});

test('a profile goes from one installation to another through a file; what was deleted is in the bin', async ({
  bind,
  page,
  server,
}) => {
  await bind.open();
  await bind.desk('mute-3').click();
  await page.getByRole('button', { name: 'Unbind' }).click();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.getByRole('link', { name: 'All profiles' }).click();
  // In the list, and not among what is deleted.
  const row = page
    .getByRole('listitem')
    .filter({ hasText: 'Nine Ferries', has: page.getByRole('link') });
  const saving = page.waitForEvent('download');
  await row.getByRole('button', { name: 'To a file' }).click();
  const saved = await saving;
  expect(saved.suggestedFilename()).toBe('nine-ferries-mix.json');
  const text = readFileSync(await saved.path(), 'utf8');
  expect(JSON.parse(text)).toMatchObject({ format: 'rondo-file', version: 1 });

  const other = new Server();
  await other.start();
  try {
    await page.goto(`${other.address}/profiles`);
    await page.getByLabel('File of Rondo’s').setInputFiles({
      name: 'mix.json',
      mimeType: 'application/json',
      buffer: Buffer.from(text),
    });
    const incoming = page.locator('rondo-incoming');
    await incoming.getByRole('radio', { name: /^Replace mine/ }).click();
    await incoming.getByRole('button', { name: 'Take it in' }).click();
    await expect(incoming).toBeHidden();
    const body = async (address: string) =>
      (
        (await (await fetch(`${address}/api/profiles/nine-ferries-mix`)).json()) as {
          document: unknown;
        }
      ).document;
    expect(await body(other.address)).toEqual(await body(server.address));

    await row.getByRole('button', { name: 'Delete' }).click();
    const bin = page.locator('rondo-keep');
    await expect(bin).toContainText('Nine Ferries');
    await bin.getByRole('button', { name: 'Bring back' }).click();
    await expect(row).toBeVisible();
    await expect(bin).toContainText('Nothing. What is deleted stays here');
    await bin.getByRole('button', { name: 'Back up now' }).click();
    await expect(bin).toContainText('The last backup is of');
    // What is deleted after the backup comes back with it.
    const listed = page.getByRole('link', { name: /^Nine Ferries/ });
    await row.getByRole('button', { name: 'Delete' }).click();
    await expect(listed).toBeHidden();
    await bin.getByRole('combobox', { name: 'Restore a backup' }).click();
    await page.getByRole('option').first().click();
    await bin.getByRole('button', { name: /sure\?$/ }).click();
    await expect(listed).toBeVisible();
  } finally {
    await other.stop();
    other.remove();
  }
});
