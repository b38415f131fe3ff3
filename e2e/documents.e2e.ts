import { nineFerriesMix } from '@rondo/core/profile';
import type { Page } from '@playwright/test';
import { cutSaves, expect, mendSaves, test } from './rondo';

test('profiles are created, renamed, duplicated, deleted and brought back', async ({
  page,
  server,
}) => {
  await page.goto(`${server.address}/`);
  await page.getByRole('button', { name: 'New profile' }).click();
  await page.getByRole('button', { name: 'Start empty' }).click();
  await expect(page).toHaveURL(/\/bind\/p-/);
  await page.getByRole('link', { name: 'All profiles' }).click();
  const row = (name: string) =>
    page.getByRole('listitem').filter({ has: page.getByRole('link', { name, exact: true }) });
  await row('New profile').getByRole('button', { name: 'Rename' }).click();
  await page.getByRole('textbox', { name: 'Name of the profile' }).fill('Friday');
  await page.keyboard.press('Enter');
  await row('Friday').getByRole('button', { name: 'Duplicate' }).click();
  await expect(row('Friday (copy)')).toBeVisible();
  await row('Friday').getByRole('button', { name: 'Delete' }).click();
  await expect(row('Friday')).toBeHidden();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(row('Friday')).toBeVisible();
  for (const name of ['Friday', 'Friday (copy)', 'Nine Ferries – mix', 'Neap Rink', 'Far Shore'])
    await row(name).getByRole('button', { name: 'Delete' }).click();
  await expect(page.getByText('No profile yet')).toBeVisible();
});

test('the open profile renamed in the list, and then edited on, is one profile still', async ({
  bind,
  page,
}) => {
  await bind.open();
  await page.getByRole('link', { name: 'All profiles' }).click();
  await page
    .getByRole('listitem')
    .filter({ hasText: 'Nine Ferries' })
    .getByRole('button', { name: 'Rename' })
    .click();
  const name = page.getByRole('textbox', { name: 'Name of the profile' });
  await name.fill('Renamed in the list');
  await name.press('Enter');
  await page.getByRole('link', { name: 'Renamed in the list' }).click();
  await expect(name).toHaveValue('Renamed in the list');
  await name.fill('And in Bind');
  await name.press('Enter');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await expect(page.getByRole('alert')).toBeHidden();
});

test('a profile file is taken whole, or refused whole with the path of each fault', async ({
  page,
  server,
}) => {
  await page.goto(`${server.address}/profiles`);
  const file = page.getByLabel('File of Rondo’s');
  const good = { ...nineFerriesMix('any'), name: 'From a file' };
  const give = (content: string) =>
    file.setInputFiles({
      name: 'mix.json',
      mimeType: 'application/json',
      buffer: Buffer.from(content),
    });
  await give(JSON.stringify({ ...good, name: '', layers: {} }, null, 2));
  const told = page.getByRole('alert');
  await expect(told).toContainText('“mix.json” was not read');
  await expect(told).toContainText(/Line \d+, column \d+: name must not be empty/);
  await give('{\n  "name" "x"\n}');
  await expect(told).toContainText('Line 2, column 10');
  await expect(told).toContainText('is not JSON: a colon is missing');
  await expect(page.getByRole('listitem').filter({ hasText: 'Saved' })).toHaveCount(3);
  await give(JSON.stringify(good));
  // What it would do is shown before it is done.
  const incoming = page.locator('rondo-incoming');
  await expect(incoming).toContainText('From a file');
  await expect(incoming).toContainText('would be new');
  await incoming.getByRole('button', { name: 'Take it in' }).click();
  await expect(page.getByRole('link', { name: 'From a file' })).toBeVisible();
  await expect(told).toBeHidden();
  // The same again is here already; one that differs asks what shall become of it.
  await give(JSON.stringify(good));
  await expect(incoming).toContainText('All of it is here already');
  await give(JSON.stringify({ ...good, name: 'Changed' }));
  await incoming.getByRole('radio', { name: /^Replace mine/ }).click();
  await expect(incoming).toContainText('would replace yours');
  await incoming.getByRole('button', { name: 'Take it in' }).click();
  await expect(page.getByRole('link', { name: 'Changed' })).toBeVisible();
  await expect(page.getByRole('link', { name: 'From a file' })).toBeHidden();
});

test('with the server gone, edits are kept, also over a reload of the page’s data, and saved when it returns', async ({
  bind,
  page,
  server,
}) => {
  await bind.open();
  await server.stop();
  const name = page.getByRole('textbox', { name: 'Name of the profile' });
  await name.fill('Kept while away');
  await name.press('Enter');
  await expect(page.getByRole('alert')).toContainText('The server does not answer');
  await server.start();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.reload();
  await expect(name).toHaveValue('Kept while away');
});

test('a save whose answer was lost is asked for again, and never called somebody else’s', async ({
  bind,
  page,
}) => {
  await bind.open();
  let saves = 0;
  await page.route('**/api/profiles/*', async (route) => {
    if (route.request().method() !== 'PUT' || saves++ > 0) return route.continue();
    // The server has it; the page never hears of it.
    await route.fetch();
    await route.abort();
  });
  const name = page.getByRole('textbox', { name: 'Name of the profile' });
  await name.fill('Heard at last');
  await name.press('Enter');
  await expect.poll(() => saves).toBeGreaterThan(1);
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await expect(page.getByRole('alert')).toBeHidden();
  await name.fill('And on from there');
  await name.press('Enter');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.reload();
  await expect(name).toHaveValue('And on from there');
});

test('a save whose answer was lost is asked for again after the page was closed, too', async ({
  bind,
  page,
}) => {
  await bind.open();
  await page.route('**/api/profiles/*', async (route) => {
    if (route.request().method() !== 'PUT') return route.continue();
    await route.fetch();
    await route.abort();
  });
  const name = page.getByRole('textbox', { name: 'Name of the profile' });
  await name.fill('Closed too soon');
  await name.press('Enter');
  await expect(page.getByRole('alert')).toContainText('The server does not answer');
  await page.goto('about:blank');
  await page.unroute('**/api/profiles/*');
  await bind.open();
  await expect(name).toHaveValue('Closed too soon');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await expect(page.getByRole('alert')).toBeHidden();
});

test('a server that fails says so, is left alone after some tries, and asked again by hand', async ({
  bind,
  page,
}) => {
  await bind.open();
  let saves = 0;
  let fails = true;
  await page.route('**/api/profiles/*', (route) => {
    if (route.request().method() !== 'PUT' || !fails) return route.continue();
    saves++;
    return route.fulfill({
      status: 500,
      contentType: 'application/problem+json',
      body: JSON.stringify({ title: 'Rondo failed', detail: 'Its log says what.', status: 500 }),
    });
  });
  const name = page.getByRole('textbox', { name: 'Name of the profile' });
  await name.fill('Tried and tried');
  await name.press('Enter');
  const alert = page.getByRole('alert');
  await expect(alert).toContainText('Rondo failed');
  const again = alert.getByRole('button', { name: 'Try again' });
  await expect(again).toBeVisible({ timeout: 30_000 });
  expect(saves).toBe(5);
  fails = false;
  await again.click();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
});

test('a draft that an earlier Rondo has kept is found and saved', async ({
  bind,
  page,
  server,
}) => {
  const stored = await page.request.get(`${server.address}/api/profiles/nine-ferries-mix`);
  const { document, revision } = (await stored.json()) as { document: object; revision: number };
  const draft = JSON.stringify({ revision, document: { ...document, name: 'From long ago' } });
  await page.goto(`${server.address}/profiles`);
  await page.evaluate(
    (text) => localStorage.setItem('rondo.draft.profile.nine-ferries-mix', text),
    draft,
  );
  await bind.open();
  await expect(page.getByRole('textbox', { name: 'Name of the profile' })).toHaveValue(
    'From long ago',
  );
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  expect(
    await page.evaluate(() => localStorage.getItem('rondo.draft.profile.nine-ferries-mix')),
  ).toBeNull();
});

test('Keep both leaves no draft behind: the old one is as the server has it', async ({
  bind,
  browser,
  page,
  server,
}) => {
  await bind.open();
  const name = page.getByRole('textbox', { name: 'Name of the profile' });
  await cutSaves(page.context());
  await name.fill('Mine');
  await name.press('Enter');
  const context = await browser.newContext();
  const other = await context.newPage();
  await other.goto(`${server.address}/bind/nine-ferries-mix`);
  const theirs = other.getByRole('textbox', { name: 'Name of the profile' });
  await theirs.fill('Theirs');
  await theirs.press('Enter');
  await server.hasNamed('nine-ferries-mix', 'Theirs');
  await context.close();
  await mendSaves(page.context());
  await page.getByRole('button', { name: 'Keep both' }).click();
  await expect(name).toHaveValue('Mine (mine)');
  await page.goto(`${server.address}/bind/nine-ferries-mix`);
  await expect(name).toHaveValue('Theirs');
  // What was to be asked would be asked by the time that it stands as saved.
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Keep both' })).toBeHidden();
});

test('edits that never reached the server survive closing the page', async ({
  bind,
  page,
  server,
}) => {
  await bind.open();
  await server.stop();
  const name = page.getByRole('textbox', { name: 'Name of the profile' });
  await name.fill('From the drawer');
  await name.press('Enter');
  await expect(page.getByRole('alert')).toContainText('The server does not answer');
  await page.goto('about:blank');
  await server.start();
  await bind.open();
  await expect(name).toHaveValue('From the drawer');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
});

test('where another browser has saved first, the user chooses: in whichever window, and both follow', async ({
  bind,
  browser,
  context,
  page,
  server,
}) => {
  await bind.open();
  const second = await context.newPage();
  await second.goto(`${server.address}/bind/nine-ferries-mix`);
  const elsewhere = await browser.newContext();
  const other = await elsewhere.newPage();
  await other.goto(`${server.address}/bind/nine-ferries-mix`);
  const [mine, also, theirs] = [page, second, other].map((one) =>
    one.getByRole('textbox', { name: 'Name of the profile' }),
  );
  const saves = async (name: string) => {
    await theirs.fill(name);
    await theirs.press('Enter');
    await server.hasNamed('nine-ferries-mix', name);
  };
  // Where nothing is unsaved here it is shown at once, in both windows.
  await saves('Theirs at once');
  for (const one of [page, second]) {
    const name = one.getByRole('textbox', { name: 'Name of the profile' });
    await expect(name).toHaveValue('Theirs at once');
    await expect(one.getByText('was saved in another browser.').first()).toBeVisible();
  }
  const bothSave = async (name: string, where: Page) => {
    await cutSaves(context);
    const field = where.getByRole('textbox', { name: 'Name of the profile' });
    await field.fill(name);
    await field.press('Enter');
    await expect(where.getByText(/Not saved/).first()).toBeVisible();
    await saves(`Theirs for ${name}`);
    await mendSaves(context);
    await expect(where.getByRole('alert').filter({ hasText: 'has saved' })).toBeVisible();
  };
  await bothSave('Mine', page);
  await second.getByRole('button', { name: 'Keep mine' }).click();
  for (const one of [page, second])
    await expect(one.getByText('Saved', { exact: true })).toBeVisible();
  await expect(mine).toHaveValue('Mine');
  await expect(theirs).toHaveValue('Mine');

  await bothSave('Mine again', second);
  await second.getByRole('button', { name: 'Take theirs' }).click();
  await expect(also).toHaveValue('Theirs for Mine again');
  await expect(mine).toHaveValue('Theirs for Mine again');
  // And edits go on in their order from there.
  await also.fill('After it');
  await also.press('Enter');
  await expect(mine).toHaveValue('After it');
  await elsewhere.close();
});

test('a profile that is not there says so and leads back', async ({ page, server }) => {
  await page.goto(`${server.address}/bind/nowhere`);
  await expect(page.getByRole('alert')).toContainText('There is no profile “nowhere”');
  await page.getByRole('button', { name: 'All profiles' }).click();
  await expect(page.getByRole('heading', { name: 'Profiles' })).toBeVisible();
});

test('nothing on the screen moves while an edit is saved: a click lands where it was aimed', async ({
  bind,
  page,
}) => {
  await bind.open();
  await bind.desk('function-6').click();
  await page.evaluate(() => {
    const scope = window as unknown as { places: Set<string> };
    scope.places = new Set();
    const look = () => {
      const boxes = ['rondo-round', '.hosts', 'header p-button:last-of-type'].map((what) => {
        const { x, y, width } = document.querySelector(what)!.getBoundingClientRect();
        return [x, y, width].map(Math.round).join();
      });
      scope.places.add(boxes.join(' '));
      requestAnimationFrame(look);
    };
    look();
  });
  await bind.free('function-6');
  const status = page.locator('[data-save]');
  await expect(status).toHaveText('Saved');
  await bind.desk('function-6').click();
  await page.keyboard.press('Control+z');
  await expect(bind.station('Function').getByRole('button', { name: 'Unbind' })).toBeVisible();
  await expect(status).toHaveText('Saved');
  const places = await page.evaluate(() => [
    ...(window as unknown as { places: Set<string> }).places,
  ]);
  expect(places).toHaveLength(1);
});

test('undo and redo reach over a reload; a step that another browser has overtaken is said', async ({
  bind,
  browser,
  page,
  server,
}) => {
  await bind.open();
  const name = page.getByRole('textbox', { name: 'Name of the profile' });
  // A page that is left in the very moment of an edit has lost neither it nor the way back.
  for (const text of ['First', 'Second']) {
    await name.fill(text);
    await name.press('Enter');
    await page.reload();
    await expect(name).toHaveValue(text);
  }
  const undo = page.getByRole('button', { name: 'Undo', exact: true });
  await undo.click();
  await expect(name).toHaveValue('First');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.reload();
  await page.getByRole('button', { name: 'Redo', exact: true }).click();
  await expect(name).toHaveValue('Second');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();

  const context = await browser.newContext();
  const other = await context.newPage();
  await other.goto(`${server.address}/bind/nine-ferries-mix`);
  const theirs = other.getByRole('textbox', { name: 'Name of the profile' });
  await theirs.fill('Theirs');
  await theirs.press('Enter');
  await server.hasNamed('nine-ferries-mix', 'Theirs');
  await context.close();
  await page.reload();
  await expect(name).toHaveValue('Theirs');
  await undo.click();
  await expect(page.getByText('the same place has been changed since')).toBeVisible();
  await expect(name).toHaveValue('Theirs');
});
