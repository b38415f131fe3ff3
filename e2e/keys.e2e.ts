import type { Page } from '@playwright/test';
import { expect, test } from './rondo';

const holdOff = (page: Page) => page.getByRole('button', { name: 'Hold off' });
const sheet = (page: Page) => page.getByRole('button', { name: 'Sheet', exact: true });
/** Every letter that does something on Bind, and the signs that open things. */
const LETTERS = 'hlps/?';

/** Nothing of what keys do has happened. */
async function expectQuiet(page: Page): Promise<void> {
  await expect(holdOff(page)).toHaveAttribute('aria-pressed', 'false');
  await expect(sheet(page)).toHaveAttribute('aria-pressed', 'false');
  await expect(page.getByRole('button', { name: 'Lock selection' })).toHaveAttribute(
    'aria-pressed',
    'false',
  );
  await expect(page.getByRole('button', { name: 'Point' })).toHaveAttribute(
    'aria-pressed',
    'false',
  );
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeHidden();
}

test('while a field, a list or a dialog has the keyboard no key does anything else', async ({
  bind,
  page,
}) => {
  await bind.open();
  await bind.clickAt(bind.fader(1));
  for (const panel of ['Shape and feel', 'Repeat', 'Actions']) {
    await page.getByRole('button', { name: panel }).first().click();
    const fields = page.locator('input:visible, select:visible, [role=combobox]:visible');
    await expect.poll(() => fields.count()).toBeGreaterThan(0);
    const count = await fields.count();
    for (let n = 0; n < count; n++) {
      const field = fields.nth(n);
      if (!(await field.isEnabled())) continue;
      await field.focus();
      const type = await field.getAttribute('type');
      // A box that is ticked is no place for letters.
      if (type === 'checkbox' || type === 'radio') continue;
      await page.keyboard.type(LETTERS);
      await expectQuiet(page);
    }
    await page.getByRole('button', { name: 'Close', exact: true }).first().click();
  }
});

test('single characters can be switched off (WCAG 2.1.4), and stay so', async ({ bind, page }) => {
  await bind.open();
  await page.locator('body').click({ position: { x: 700, y: 790 } });
  await page.keyboard.press('h');
  await expect(holdOff(page)).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('h');
  await page.keyboard.press('?');
  const help = page.getByRole('dialog', { name: 'Keys' });
  await expect(help).toContainText('Find a function for the control in hand');
  await help.getByRole('switch').click();
  await page.keyboard.press('Escape');
  await expect(help).toBeHidden();
  await page.reload();
  await expect(bind.desk('fader-1')).toHaveAttribute('aria-valuenow', /^[1-9]/);
  await page.keyboard.type(LETTERS);
  await expectQuiet(page);
});

test('Delete acts on what is open: with a panel open the binding in hand stays', async ({
  bind,
  page,
}) => {
  await bind.open();
  await bind.clickAt(bind.fader(1));
  await page.getByRole('button', { name: 'Shape and feel' }).click();
  await bind.desk('fader-1').focus();
  await page.keyboard.press('Delete');
  await page.keyboard.press('Escape');
  await expect(bind.station('Function')).toContainText('Volume');
  await page.keyboard.press('Delete');
  await expect(bind.station('Function')).toContainText('Nothing is bound to this');
});

test('the list of keys is made from what is open', async ({ bind, page, server }) => {
  await bind.open();
  await page.getByRole('button', { name: 'Keys', exact: true }).click();
  const help = page.getByRole('dialog', { name: 'Keys' });
  await expect(help.getByRole('heading', { name: 'Bind' })).toBeVisible();
  await page.keyboard.press('Escape');
  await page.goto(`${server.address}/surfaces`);
  await page.getByRole('button', { name: 'Keys', exact: true }).click();
  await expect(help.getByRole('heading', { name: 'Everywhere' })).toBeVisible();
  await expect(help.getByRole('heading', { name: 'Bind' })).toBeHidden();
});

test('a number out of range is brought to its limit and shown so; what is no number stays as it was', async ({
  bind,
  page,
}) => {
  await bind.open();
  await bind.clickAt(bind.fader(1));
  await page.getByRole('button', { name: 'Shape and feel' }).click();
  const field = page.getByRole('spinbutton', { name: 'Centre dead zone, per cent' });
  const limit = (await field.getAttribute('max'))!;
  // Twice: the second time nothing changes in the profile, and the field must not keep what was typed.
  for (let n = 0; n < 2; n++) {
    await field.fill('900');
    await field.press('Tab');
    await expect(field).toHaveValue(limit);
    await expect(page.getByText('Brought to 50, the most.')).toBeVisible();
  }
  await field.fill('');
  await field.press('Tab');
  await expect(field).toHaveValue(limit);
});

test('groups of which one is chosen are one stop of Tab, and arrows choose', async ({
  bind,
  page,
}) => {
  await bind.open();
  await page.getByRole('tab', { name: 'Mixer' }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.getByRole('tab', { name: 'Focus' })).toBeFocused();
  await expect(page.getByRole('tab', { name: 'Focus' })).toHaveAttribute('aria-selected', 'true');
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('ArrowLeft');
  await expect(page.getByRole('tab', { name: 'Song' })).toBeFocused();
  await page.keyboard.press('Tab');
  await expect(page.getByRole('tab', { name: 'Song' })).not.toBeFocused();
  expect(await page.evaluate(() => document.activeElement?.getAttribute('role'))).not.toBe('tab');
});

test('the focus follows to another screen; the first stop of Tab leads past the rail', async ({
  bind,
  page,
}) => {
  await bind.open();
  await page.getByRole('link', { name: 'Ports' }).click();
  await expect(page.locator('main')).toBeFocused();
  await page.reload();
  await page.keyboard.press('Tab');
  const skip = page.getByRole('button', { name: 'To the work' });
  await expect(skip).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.locator('main')).toBeFocused();
});
