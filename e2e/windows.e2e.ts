import type { Browser, Page } from '@playwright/test';
import { nineFerriesMix } from '@rondo/core/profile';
import { expect, test, type Bench, type Server } from './rondo';

const PATH = '/bind/nine-ferries-mix';
const nameOf = (page: Page) => page.getByRole('textbox', { name: 'Name of the profile' });
const isSaved = (page: Page) => expect(page.getByText('Saved', { exact: true })).toBeVisible();

/** Another window of the same browser, with the same profile. */
async function another(bind: Bench, server: Server): Promise<Page> {
  const page = await bind.page.context().newPage();
  await page.goto(server.address + PATH);
  await expect(nameOf(page)).toBeVisible();
  return page;
}
async function rename(page: Page, name: string): Promise<void> {
  await nameOf(page).fill(name);
  await nameOf(page).press('Enter');
}
/** The profile as another browser sees it: what the server has. */
async function stored(browser: Browser, server: Server): Promise<{ name: string }> {
  const context = await browser.newContext();
  const answer = await context.request.get(`${server.address}/api/profiles/nine-ferries-mix`);
  const { document } = (await answer.json()) as { document: { name: string } };
  await context.close();
  return document;
}

test('an edit in either of two windows shows and plays in both, is saved by one, and asks nothing', async ({
  bind,
  browser,
  page,
  server,
}) => {
  await bind.open();
  const saves: string[] = [];
  const other = await another(bind, server);
  await expect(other.getByText('Rondo plays in another window')).toBeVisible();
  // Nobody looks for the right window to let go of what hangs.
  await other.getByRole('button', { name: 'Panic' }).click();
  await expect(page.getByText('Panic: everything is released')).toBeVisible();
  await other.getByRole('button', { name: 'Repaint' }).click();
  await expect(page.getByText('Panic: everything is released')).toBeHidden();
  for (const [name, one] of [
    ['first', page],
    ['second', other],
  ] as const)
    one.on('request', (request) => {
      if (request.method() === 'PUT') saves.push(name);
    });
  await rename(other, 'From the second');
  await expect(nameOf(page)).toHaveValue('From the second');
  await isSaved(page);
  await isSaved(other);
  await rename(page, 'From the first');
  await expect(nameOf(other)).toHaveValue('From the first');
  await isSaved(other);
  expect(new Set(saves)).toEqual(new Set(['first']));
  expect((await stored(browser, server)).name).toBe('From the first');
  // Both have heard how the last save ended: what was to be asked would be asked by now.
  await isSaved(page);
  await expect(page.getByRole('alert')).toHaveCount(0);
  await expect(other.getByRole('alert')).toHaveCount(0);

  // The fader's function is taken from it in the second window: in the first the hand does nothing any more.
  await other.locator('g[data-id="fader-1"]').first().click();
  await other.getByRole('button', { name: 'Unbind' }).click();
  await expect(page.locator('g[data-id="fader-1"]').first()).toHaveAttribute(
    'aria-label',
    /nothing bound/,
  );
  await bind.hold('fader-1');
  await page.keyboard.press('Home');
  await expect(bind.station('Function')).toContainText('Nothing');
});

test('undo takes back what was done in its own window, and what was changed there since stays', async ({
  bind,
  page,
  server,
}) => {
  await bind.open();
  const other = await another(bind, server);
  await rename(page, 'Mine');
  await expect(nameOf(other)).toHaveValue('Mine');
  const fader = other.locator('g[data-id="fader-1"]').first();
  await fader.click();
  await other.getByRole('button', { name: 'Unbind' }).click();
  await expect(page.locator('g[data-id="fader-1"]').first()).toHaveAttribute(
    'aria-label',
    /nothing bound/,
  );
  // The first window's undo is of its own edit, though the other's is newer.
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(nameOf(other)).toHaveValue('Nine Ferries – mix');
  await expect(fader).toHaveAttribute('aria-label', /nothing bound/);
  // What another window has changed since is not taken back, and that is said.
  await page.getByRole('button', { name: 'Redo', exact: true }).click();
  await rename(other, 'Theirs');
  await expect(nameOf(page)).toHaveValue('Theirs');
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(page.getByText('“Rename to “Theirs””, from another window')).toBeVisible();
  await expect(nameOf(page)).toHaveValue('Theirs');
  // It stays the next step until it is left out on purpose.
  await page.getByRole('button', { name: 'Leave it out' }).click();
  await expect(page.getByRole('button', { name: 'Undo', exact: true })).toBeDisabled();
});

test('each window takes back its own after it was loaded again, whichever of them leads then', async ({
  bind,
  page,
  server,
}) => {
  await bind.open();
  const other = await another(bind, server);
  const undo = (one: Page) => one.getByRole('button', { name: 'Undo', exact: true });
  await rename(page, 'Mine');
  await expect(nameOf(other)).toHaveValue('Mine');
  const fader = other.locator('g[data-id="fader-1"]').first();
  await fader.click();
  await other.getByRole('button', { name: 'Unbind' }).click();
  await expect(bind.desk('fader-1')).toHaveAttribute('aria-label', /nothing bound/);
  // The one that follows, then the one that led and gives the lead away by this.
  await other.reload();
  await expect(nameOf(other)).toHaveValue('Mine');
  await expect(fader).toHaveAttribute('aria-label', /nothing bound/);
  await page.reload();
  await expect(nameOf(page)).toHaveValue('Mine');
  await undo(page).click();
  await expect(nameOf(other)).toHaveValue('Nine Ferries – mix');
  await expect(fader).toHaveAttribute('aria-label', /nothing bound/);
  await undo(other).click();
  await expect(bind.desk('fader-1')).toHaveAttribute('aria-label', /Narrator/);
  await expect(undo(other)).toBeDisabled();
  await expect(undo(page)).toBeDisabled();
});

test('the window that is left takes over what the one that closed had not saved', async ({
  bind,
  browser,
  page,
  server,
}) => {
  await bind.open();
  const other = await another(bind, server);
  // Saves of the first window never arrive.
  await page.route('**/api/profiles/*', (route) =>
    route.request().method() === 'PUT' ? route.abort() : route.continue(),
  );
  await rename(page, 'Only in the first');
  await expect(nameOf(other)).toHaveValue('Only in the first');
  await expect(other.getByText('the server is away')).toBeVisible();
  await rename(other, 'And on from there');
  await expect(nameOf(page)).toHaveValue('And on from there');
  await page.close();
  await isSaved(other);
  await expect(other.getByText('Rondo plays in another window')).toBeHidden();
  expect((await stored(browser, server)).name).toBe('And on from there');
  await other.reload();
  await expect(nameOf(other)).toHaveValue('And on from there');
});

test('a surface that is changed in one window is so in the profile of the other', async ({
  page,
  server,
  bind,
}) => {
  await page.goto(`${server.address}/surfaces`);
  await page.getByRole('button', { name: 'Copy Burrow 14' }).click();
  await expect(page.getByRole('textbox', { name: 'Name of the surface' })).toHaveValue(
    'My Burrow 14',
  );
  const other = await another(bind, server);
  await other.getByRole('button', { name: 'Surfaces' }).click();
  await other.getByRole('combobox', { name: 'Add a surface' }).click();
  await other.getByRole('option', { name: 'My Burrow 14' }).click();
  await other.keyboard.press('Escape');
  await expect(other.getByRole('slider', { name: /^Knob 1:/ })).toBeVisible();
  await page.getByRole('button', { name: /^Knob 1, knob/ }).click();
  const label = page.getByRole('textbox', { name: 'Name', exact: true });
  await label.fill('Thirst');
  await label.press('Enter');
  await expect(other.getByRole('slider', { name: /^Thirst:/ })).toBeVisible();
});

test('what is said in a second window of how it is played is done by the one that plays, and said in both', async ({
  bind,
  page,
  server,
}) => {
  await bind.open();
  const other = await another(bind, server);
  const holdOff = (one: Page) => one.getByRole('button', { name: 'Hold off', exact: true });
  await holdOff(other).click();
  for (const one of [page, other]) {
    await expect(holdOff(one)).toHaveAttribute('aria-pressed', 'true');
    await expect(one.getByText('nothing reaches the host')).toBeVisible();
  }
  // Let through again by the other one.
  await holdOff(page).click();
  await expect(holdOff(other)).toHaveAttribute('aria-pressed', 'false');
  // The bank goes on in the first as it is moved in the second, and both say where it is.
  await other.getByRole('button', { name: 'Bank right', exact: true }).first().click();
  for (const one of [other, page]) {
    // What is behind another is not drawn.
    await one.bringToFront();
    await expect(one.getByText('Strips 9–16 of 20').first()).toBeVisible();
  }
});

test('an edit of a profile that is not open any more is sent as soon as the server is back', async ({
  bind,
  page,
  server,
}) => {
  await bind.open();
  await page.getByRole('link', { name: 'All profiles' }).click();
  await page.getByRole('link', { name: 'Nine Ferries – mix' }).click();
  await server.stop();
  await rename(page, 'While it was away');
  await expect(page.getByText('Not saved: the server is away')).toBeVisible();
  // Another one is gone over to, which cannot be opened: no window has the first one open now.
  await page.getByRole('link', { name: 'All profiles' }).click();
  await page.getByRole('link', { name: 'Neap Rink', exact: true }).click();
  await expect(page.getByText('This profile could not be opened')).toBeVisible();
  await page.getByRole('button', { name: 'All profiles' }).click();
  const unsaved = page.locator('rondo-unsaved').first();
  await expect(unsaved).toContainText('While it was away is not saved since');
  await server.start();
  await unsaved.getByRole('button', { name: 'Try now' }).click();
  await server.hasNamed('nine-ferries-mix', 'While it was away');
  await expect(page.getByText('is not saved since')).toHaveCount(0);
});

test('in a second window what is pointed at goes to the control that is clicked there; pairs, which need what moves, are not offered', async ({
  bind,
  page,
  server,
}) => {
  await bind.open();
  const other = await another(bind, server);
  await expect(other.getByText('Rondo plays in another window')).toBeVisible();
  await expect(other.getByRole('button', { name: 'Pairs', exact: true })).toBeDisabled();
  await other.keyboard.press('p');
  await other
    .getByRole('group', { name: 'Studio' })
    .getByLabel('Mute Cello', { exact: true })
    .click();
  await expect(other.getByText('Now touch the control for Mute, Cello, or click')).toBeVisible();
  await other.locator('g[data-id="function-3"]').first().click();
  await page.bringToFront();
  await expect(bind.desk('function-3')).toHaveAttribute('aria-label', 'Function 3: Cello');
});

test('what a file replaced is shown by the other window, though the one that led went away in that moment', async ({
  bind,
  page,
  server,
}) => {
  await bind.open();
  const other = await another(bind, server);
  await page.getByRole('link', { name: 'All profiles' }).click();
  const replaced = { ...nineFerriesMix(), name: 'From a file' };
  await page.getByLabel('File of Rondo’s').setInputFiles({
    name: 'mix.json',
    mimeType: 'application/json',
    buffer: Buffer.from(JSON.stringify(replaced)),
  });
  const incoming = page.locator('rondo-incoming');
  await incoming.getByRole('radio', { name: /^Replace mine/ }).click();
  // It is taken in, and nothing that it hears of that comes any more.
  await page.route('**/api/profiles/nine-ferries-mix', (route) => route.abort());
  await incoming.getByRole('button', { name: 'Take it in' }).click();
  await server.hasNamed('nine-ferries-mix', 'From a file');
  await page.close();
  await expect(nameOf(other)).toHaveValue('From a file');
  await isSaved(other);
});
