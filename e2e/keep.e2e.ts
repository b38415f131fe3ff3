import { readFileSync } from 'node:fs';
import { Server, act, choose, expect, test } from './rondo';

test('a version is named, looked at on the drawing, and brought back; undo takes that back', async ({
  bind,
  page,
  server,
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
  // Undone before it was saved it would be no version of its own.
  await server.hasSaved('nine-ferries-mix', '"base.desk.mute-3.push"');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(bind.desk('mute-3')).not.toHaveClass(/bound/);

  // What each has changed stands in the list, and one click brings any of them back.
  await page.keyboard.press('v');
  await expect(panel.getByRole('listitem').filter({ hasText: 'Mute 3: mute bound' })).toBeVisible();
  await named.getByRole('button', { name: /^Bring back/ }).click();
  await expect(bind.desk('mute-3')).toHaveClass(/bound/);
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

test('a layer goes from one profile into another through a file, with who made it; one undo takes it away', async ({
  bind,
  page,
  server,
}) => {
  await bind.open();
  await page
    .getByRole('group', { name: 'Layers' })
    .getByRole('button', { name: /^Sends/ })
    .click();
  await page.getByRole('button', { name: 'Edit layers' }).click();
  const panel = page.locator('rondo-layers-panel');
  await panel.getByRole('textbox', { name: 'Name of the layer' }).fill('Night sends');
  await page.keyboard.press('Tab');
  await panel.getByRole('button', { name: 'Night sends to a file' }).click();
  await page.getByRole('textbox', { name: 'Made by' }).fill('Ada at the quay');
  await page.getByRole('textbox', { name: 'Notes' }).fill('For the late ferry.');
  const saving = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save the file' }).click();
  const saved = await saving;
  expect(saved.suggestedFilename()).toBe('night-sends.json');
  const text = readFileSync(await saved.path(), 'utf8');
  const file = JSON.parse(text) as { author: string; layers: { bindingOrder: string[] }[] };
  expect(file).toMatchObject({ author: 'Ada at the quay', notes: 'For the late ferry.' });
  const count = file.layers[0].bindingOrder.length;
  expect(count).toBeGreaterThan(4);

  // Dropped on any screen, it is shown before anything is done.
  await page.goto(`${server.address}/hosts`);
  const given = await page.evaluateHandle((content) => {
    const transfer = new DataTransfer();
    transfer.items.add(new File([content], 'night-sends.json', { type: 'application/json' }));
    return transfer;
  }, text);
  await page.dispatchEvent('rondo-root', 'drop', { dataTransfer: given });
  const incoming = page.locator('rondo-incoming');
  await expect(incoming).toContainText('By Ada at the quay.');
  await expect(incoming).toContainText(`Layer, ${count} bindings`);
  await act(incoming, 'Put it into profile …', 'Far Shore');
  await expect(page).toHaveURL(/\/bind\/far-shore/);
  await expect(panel.getByRole('status')).toContainText('Layer “Night sends” is on top now.');
  const layer = page
    .getByRole('group', { name: 'Layers' })
    .getByRole('button', { name: /^Night sends/ });
  await expect(layer).toBeVisible();
  // Its program is not there: what was meant for it is left out, and that is said.
  await expect(panel.getByRole('status')).toContainText('left out');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(layer).toBeHidden();

  // Read in the panel itself, a file that holds none says so and changes nothing.
  await page.goto(`${server.address}/bind/nine-ferries-mix`);
  await page.getByRole('button', { name: 'Edit layers' }).click();
  const read = (name: string, content: string) =>
    panel.getByLabel('File with a layer').setInputFiles({
      name,
      mimeType: 'application/json',
      buffer: Buffer.from(content),
    });
  await read('cut.json', text.slice(0, 200));
  await expect(panel.getByRole('status')).toContainText('“cut.json” was not read');
  await read('night-sends.json', text);
  await expect(panel.getByRole('status')).toContainText('Layer “Night sends 2” is on top now.');
  await expect(panel).toContainText(`${count} bindings`);
});

test('a palette by itself goes from one surface into another; a surface goes to a file of its own', async ({
  page,
  server,
}) => {
  await page.goto(`${server.address}/surfaces`);
  const copy = async (name: string) => {
    await page.goto(`${server.address}/surfaces`);
    await page.getByRole('button', { name: `Copy ${name}` }).click();
    await expect(page).toHaveURL(/\/surfaces\/[^/]+$/);
    await page
      .getByRole('radio', { name: 'Device' })
      .or(page.getByRole('button', { name: 'Device', exact: true }))
      .first()
      .click();
  };
  await copy('Cobble 64');
  const saving = page.waitForEvent('download');
  await page.getByRole('button', { name: /palette to a file$/ }).click();
  await page.getByRole('button', { name: 'Save the file' }).click();
  const text = readFileSync(await (await saving).path(), 'utf8');
  const { palettes } = JSON.parse(text) as { palettes: { colours: { value: number }[] }[] };
  expect(palettes[0].colours.length).toBeGreaterThan(4);
  await copy('Burrow 14');
  await expect(page.getByText('No colours: its lights are on or off')).toBeVisible();
  await page
    .getByLabel('Read a table of colours from CSV or from a file of Rondo’s')
    .setInputFiles({
      name: 'palette.json',
      mimeType: 'application/json',
      buffer: Buffer.from(text),
    });
  await expect(page.getByText('The numbers by which its lights take a colour.')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('No colours: its lights are on or off')).toBeVisible();

  // Given on the Profiles screen, it asks which surface is meant.
  await page.goto(`${server.address}/profiles`);
  await page.getByLabel('File of Rondo’s').setInputFiles({
    name: 'palette.json',
    mimeType: 'application/json',
    buffer: Buffer.from(text),
  });
  await act(page.locator('rondo-incoming'), 'Put it into surface …', 'My Burrow 14');
  await expect(page.getByText('The numbers by which its lights take a colour.')).toBeVisible();

  await page.goto(`${server.address}/surfaces`);
  await page.getByRole('button', { name: 'My Burrow 14 to a file' }).click();
  const second = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save the file' }).click();
  const alone = JSON.parse(readFileSync(await (await second).path(), 'utf8')) as {
    surfaces: { name: string }[];
    profiles: unknown[];
  };
  expect(alone.surfaces.map(({ name }) => name)).toEqual(['My Burrow 14']);
  expect(alone.profiles).toEqual([]);
});

test('what was read from a file is taken back as a whole, after a reload too', async ({
  page,
  server,
}) => {
  const api = async (path: string) =>
    (await (await fetch(`${server.address}/api/${path}`)).json()) as unknown;
  const before = await api('files');
  const file = (await api('files?profile=neap-rink')) as { profiles: { name: string }[] };
  file.profiles[0].name = 'Neap Rink, theirs';
  // It is open meanwhile: what the page holds of it then is of before.
  await page.goto(`${server.address}/bind/neap-rink`);
  await page.getByRole('link', { name: 'All profiles' }).click();
  await page.getByLabel('File of Rondo’s').setInputFiles({
    name: 'theirs.json',
    mimeType: 'application/json',
    buffer: Buffer.from(JSON.stringify(file)),
  });
  const incoming = page.locator('rondo-incoming');
  await incoming.getByRole('radio', { name: /^Replace mine/ }).click();
  await incoming.getByRole('button', { name: 'Take it in' }).click();
  const theirs = page.getByRole('link', { name: 'Neap Rink, theirs' });
  await expect(theirs).toBeVisible();
  await theirs.click();
  await expect(page.getByRole('textbox', { name: 'Name of the profile' })).toHaveValue(
    'Neap Rink, theirs',
  );
  await page.getByRole('link', { name: 'All profiles' }).click();
  await page.reload();
  const keep = page.locator('rondo-keep');
  await expect(keep).toContainText('theirs.json: “Neap Rink, theirs” replaced yours.');
  await keep.getByRole('button', { name: 'Take it back' }).click();
  await expect(theirs).toBeHidden();
  await expect(page.getByRole('link', { name: 'Neap Rink', exact: true })).toBeVisible();
  expect(await api('files')).toEqual(before);
  await expect(keep).not.toContainText('theirs.json');
});
