import { expect, test } from './rondo';

test('Lights: a state is played at by hand, a look is changed and put back, motors are tried', async ({
  bind,
  page,
}) => {
  await bind.open();
  await page.getByRole('link', { name: 'Lights' }).click();
  const panel = page.locator('rondo-returns-panel');
  await expect(panel).toContainText('What comes back');
  const light = bind.desk('mute-2');
  await light.click();
  await expect(light).toHaveAttribute('aria-pressed', 'true');

  // What if it were not muted? The host hears nothing.
  await page.getByRole('button', { name: 'Mute 2: Off' }).click();
  await expect(light).toHaveAttribute('aria-pressed', 'false');
  await page.getByRole('button', { name: 'As the host has it' }).click();
  await expect(light).toHaveAttribute('aria-pressed', 'true');

  // Nothing at all comes back on the whole profile, and it is put back.
  await panel.getByRole('radio', { name: 'The whole profile' }).click();
  await panel.getByRole('checkbox', { name: 'Show something' }).click();
  await expect(light).toHaveAttribute('aria-pressed', 'false');
  await panel.getByRole('radio', { name: 'This binding' }).click();
  await expect(panel.getByRole('checkbox', { name: 'Show something' })).not.toBeChecked();
  await expect(panel).toContainText('from the whole profile');
  await panel.getByRole('radio', { name: 'The whole profile' }).click();
  await panel.getByRole('button', { name: /^Put back everything/ }).click();
  await expect(light).toHaveAttribute('aria-pressed', 'true');

  // A display says what its rule says.
  await panel.getByRole('radio', { name: 'The whole profile' }).click();
  await panel.getByRole('textbox', { name: 'Upper line' }).fill('{layer}');
  await panel.getByRole('textbox', { name: 'Upper line' }).press('Tab');
  await expect(bind.desk('display-2')).toHaveAttribute('aria-label', /Base/);
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(bind.desk('display-2')).toHaveAttribute('aria-label', /Frrymn/);

  const fader = bind.desk('fader-1');
  await page.getByRole('button', { name: 'Park' }).click();
  await expect(fader).toHaveAttribute('aria-valuenow', '0');
  await page.getByRole('button', { name: 'Give them back' }).click();
  await expect(fader).toHaveAttribute('aria-valuenow', /^[1-9]\d*$/);
});
