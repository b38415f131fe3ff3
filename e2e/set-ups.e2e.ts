import type { MidiPlan } from '../web/testing/web-midi';
import { atPorts, expect, test } from './rondo';

const PLAN: MidiPlan = {
  answer: 'granted',
  inputs: [{ id: 'desk-in', name: 'Desk' }],
  outputs: [{ id: 'desk-out', name: 'Desk' }],
};

test('an occasion is kept, gone over to from a panel, a key and another profile, and comes back after a reload', async ({
  bind,
  page,
}) => {
  await bind.withMidi(PLAN);
  await bind.open();
  const panel = page.locator('rondo-set-ups-panel');
  const keep = async (name: string) => {
    await page.keyboard.press('u');
    await panel.getByRole('textbox', { name: 'Keep how it is played now as' }).fill(name);
    await page.keyboard.press('Enter');
    await expect(panel.getByRole('button', { name, exact: true })).toBeVisible();
    await panel.getByRole('button', { name: 'Close' }).click();
  };
  // At home all is simulated. On stage the desk is real, the bank is further on, and a flag is up.
  await keep('Home');
  await page.getByRole('button', { name: 'Ports' }).click();
  await page.getByRole('button', { name: 'Allow real MIDI ports' }).click();
  for (const end of ['input', 'output']) {
    await page.getByRole('combobox', { name: `Harrow 8 ${end}` }).click();
    await page.getByRole('option', { name: 'Desk', exact: true }).click();
  }
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'A take is running' }).click();
  await bind.desk('bank-right').click();
  await expect(page.getByText('Strips 9–16 of 20')).toBeVisible();
  await keep('Stage');

  const isReal = () => expect(page.getByText('real ports').first()).toBeVisible();
  await page.keyboard.press('u');
  await panel.getByRole('button', { name: 'Home', exact: true }).click();
  await expect(page.getByText('Strips 1–8 of 20')).toBeVisible();
  await expect(page.getByText('real ports')).toBeHidden();
  const flag = page.getByRole('button', { name: 'A take is running' });
  await expect(flag).toHaveAttribute('aria-pressed', 'false');
  // What is painted anew goes out at once.
  await atPorts(page, () => (window.rondoMidi.sent['desk-out'] = []));
  await panel.getByRole('button', { name: 'Stage', exact: true }).click();
  await isReal();
  await expect(flag).toHaveAttribute('aria-pressed', 'true');
  await expect
    .poll(() => atPorts(page, () => (window.rondoMidi.sent['desk-out'] ?? []).length))
    .toBeGreaterThan(20);
  await panel.getByRole('button', { name: 'Close' }).click();

  // A key of the desk does it, too.
  await bind.free('function-1');
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'Find a function' }).fill('set-up home');
  await page.keyboard.press('Enter');
  await expect(bind.station('Function')).toContainText('Set-up “Home”');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await atPorts(page, () => {
    window.rondoMidi.play('desk-in', [0x90, 0x36, 127]);
    window.rondoMidi.play('desk-in', [0x90, 0x36, 0]);
  });
  await expect(page.getByText('Strips 1–8 of 20')).toBeVisible();
  await expect(page.getByText('real ports')).toBeHidden();

  // From another profile, by the list of profiles.
  await page.goto(page.url().replace(/\/bind.*/, '/profiles'));
  await page.getByRole('button', { name: 'Stage', exact: true }).click();
  await expect(page).toHaveURL(/bind\/nine-ferries-mix/);
  await isReal();
  await expect(page.getByText('Strips 9–16 of 20')).toBeVisible();
  await page.reload();
  await isReal();
  await expect(flag).toHaveAttribute('aria-pressed', 'true');

  // From a profile that plays: the motors are taken hold of again.
  await page
    .getByRole('navigation', { name: 'Screens' })
    .getByRole('link', { name: 'Profiles', exact: true })
    .click();
  await page.getByRole('link', { name: 'Neap Rink' }).click();
  await expect(page).toHaveURL(/neap-rink/);
  await expect(page.getByRole('group', { name: 'Booth' }).first()).toBeVisible();
  await page.keyboard.press('u');
  await panel.getByRole('button', { name: 'Home', exact: true }).click();
  await expect(page).toHaveURL(/bind\/nine-ferries-mix/);
  await expect(page.getByText('Strips 1–8 of 20')).toBeVisible();
  // The host's picture is behind what is open.
  if (await panel.isVisible()) await panel.getByRole('button', { name: 'Close' }).click();
  await bind.settled(2, 'Volume of Ferryman');
  await expect(page.getByText('the motors are let go')).toBeHidden();

  // Deleted it is in the bin, and comes back.
  if (await panel.isHidden()) await page.keyboard.press('u');
  await panel.getByRole('button', { name: 'Delete Home' }).click();
  await panel.getByRole('button', { name: 'Delete: sure?' }).click();
  await expect(panel.getByRole('button', { name: 'Home', exact: true })).toBeHidden();
  await page.goto(page.url().replace(/\/bind.*/, '/profiles'));
  await page.locator('rondo-keep').getByRole('button', { name: 'Bring back' }).click();
  await expect(page.getByRole('button', { name: 'Home', exact: true })).toBeVisible();
});
