import { expect, test } from './rondo';

test('a tour of one minute goes on by what one does, is left, and is found again', async ({
  bind,
  page,
  server,
}) => {
  await page.goto(`${server.address}/profiles`);
  await page.getByRole('link', { name: 'New here? A tour of one minute' }).click();
  const card = page.getByRole('region', { name: 'Tour of one minute' });
  await expect(card).toContainText('Touch a control');
  await expect(page.locator('rondo-tour-card .around')).toBeVisible();
  await bind.desk('mute-1').click();
  await expect(card).toContainText('Its round');
  await card.getByRole('button', { name: 'Next' }).click();
  await expect(card).toContainText('What comes back');
  // What it speaks of can be played meanwhile.
  await bind.host('Mute Ferryman').click();
  await expect(bind.host('Mute Ferryman')).toHaveAttribute('aria-pressed', 'true');
  await card.getByRole('button', { name: 'Next' }).click();
  await expect(card).toContainText('Bind something else');
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'Find a function' }).fill('solo foghorn');
  await page.keyboard.press('Enter');
  await expect(card).toContainText('Real devices');
  await card.getByRole('button', { name: 'Done' }).click();
  await expect(card).toHaveCount(0);

  await page.getByRole('link', { name: 'Profiles', exact: true }).click();
  await expect(page.getByRole('link', { name: /New here/ })).toHaveCount(0);
  await page.getByRole('button', { name: 'Keys' }).click();
  await page.getByRole('button', { name: 'A tour of one minute' }).click();
  await expect(card).toContainText('Touch a control');
  await card.getByRole('button', { name: 'Leave the tour' }).click();
  await expect(card).toHaveCount(0);
});
