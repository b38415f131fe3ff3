import { choose, expect, test } from './rondo';

test('new bindings of a surface go to one deck, and the old ones are moved there; undo takes that back', async ({
  bind,
  page,
  server,
}) => {
  await page.goto(`${server.address}/bind/neap-rink`);
  await page.getByRole('button', { name: 'Crosstie 2', exact: true }).click();
  await bind.desk('left-send').click();
  await expect(bind.station('Function')).toContainText('Effect 1 on');
  await page.keyboard.press('/');
  await page.getByRole('button', { name: 'Goes to what suits it' }).click();
  const panel = page.locator('rondo-usual-panel');
  await choose(panel, 'New bindings of Crosstie 2', 'Deck 3');
  await bind.desk('left-send').click();
  await page.keyboard.press('/');
  await expect(page.getByRole('button', { name: 'Goes to Deck 3' })).toBeVisible();
  await page.getByRole('combobox', { name: 'Find a function' }).fill('sync');
  await page.keyboard.press('Enter');
  await expect(bind.station('Function').locator('strong')).toHaveText('Sync, Deck 3');

  // What is bound there already is offered to move along, deck by deck.
  await panel.getByRole('button', { name: /^Move \d+ from Deck 1$/ }).click();
  await expect(panel.getByText('Moved. Undo takes it back.')).toBeVisible();
  await bind.hold('left-high');
  await expect(bind.station('Function').locator('strong')).toHaveText('High, Deck 3');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(bind.station('Function').locator('strong')).toHaveText('High, Deck 1');

  // A part of a surface has one of its own, told by touching it; nothing acts meanwhile.
  await panel.getByRole('button', { name: 'For some of the controls …' }).click();
  await bind.desk('right-send').click();
  await choose(panel, 'New bindings of these controls', 'Deck 4');
  await bind.desk('right-send').click();
  await page.keyboard.press('/');
  await expect(page.getByRole('button', { name: 'Goes to Deck 4' })).toBeVisible();
  await page.keyboard.press('Escape');
  await panel.getByRole('button', { name: 'Take away what is said of Right send' }).click();
  await page.keyboard.press('/');
  await expect(page.getByRole('button', { name: 'Goes to Deck 3' })).toBeVisible();
});
