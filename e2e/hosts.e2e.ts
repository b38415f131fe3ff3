import { choose, expect, test } from './rondo';

test('Neap Rink: pads set and jump to hot cues, a strip plays its deck, and what is not fitted says so', async ({
  bind,
  page,
  server,
}) => {
  await page.goto(`${server.address}/bind/neap-rink`);
  const booth = page.getByRole('group', { name: 'Booth' });
  await expect(booth.getByText('Low Water Strut')).toBeVisible();
  const show = (name: string) => page.getByRole('button', { name, exact: true }).click();
  await show('Cobble 64');
  await bind.desk('pad-41').click();
  await expect(booth.getByRole('button', { name: 'Play, Deck 1' })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  await bind.desk('pad-3').click();
  await expect(booth.getByRole('button', { name: 'Hot cue 3, Deck 1' })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  await expect(bind.desk('pad-3')).toHaveAttribute('aria-pressed', 'true');

  // Held, the cue plays; let go, it stops.
  await bind.desk('edge-2').click();
  await show('Plinth 32');
  await bind.desk('pad-2').hover();
  await page.mouse.down();
  const cue = booth.getByRole('button', { name: 'Cue, Deck 2', exact: true });
  await expect(cue).toHaveAttribute('aria-pressed', 'true');
  await page.mouse.up();
  await expect(cue).toHaveAttribute('aria-pressed', 'false');

  await booth.getByRole('button', { name: 'Crossfader in this set-up' }).click();
  await expect(booth.getByRole('button', { name: 'Crossfader in this set-up' })).toHaveAttribute(
    'aria-pressed',
    'false',
  );
  await show('Crosstie 2');
  await bind.hold('crossfader');
  await page.keyboard.press('End');
  await expect(bind.station('Function')).toContainText(/needs “.*”, which is off in Booth now/);

  await booth.getByRole('tab', { name: 'Records' }).click();
  await booth.getByRole('button', { name: /Rail Hand/ }).click();
  await booth.getByRole('button', { name: 'Load on Deck 4' }).click();
  await expect(booth.getByRole('region', { name: 'Deck 4' })).toContainText('Rail Hand');
});

test('the Studio’s clips, focus and the finder’s scopes', async ({ bind, page }) => {
  await bind.open();
  const studio = page.getByRole('group', { name: 'Studio' });
  await studio.getByRole('tab', { name: 'Clips' }).click();
  const clip = studio.getByRole('button', { name: 'Clip 1 of Narrator', exact: true });
  await expect(clip).toHaveAttribute('data-state', 'Stopped');
  await clip.click();
  await expect(clip).toHaveAttribute('data-state', 'Playing');
  await studio.getByRole('button', { name: 'Stop all clips' }).click();
  await expect(clip).toHaveAttribute('data-state', 'Stopped');

  // A function bound to a key, with the scope chosen beside the list.
  await bind.free('function-3');
  await page.keyboard.press('/');
  const field = page.getByRole('combobox', { name: 'Find a function' });
  await field.fill('echo on');
  await page.getByRole('radio', { name: 'What is selected' }).click();
  await expect(page.getByRole('listbox').getByRole('option').first()).toContainText(
    'Echo on, the selected track',
  );
  await page.keyboard.press('Enter');
  await studio.getByRole('tab', { name: 'Focus' }).click();
  const echo = studio.getByRole('button', { name: 'Echo', exact: true });
  await expect(echo).toHaveAttribute('aria-pressed', 'true');
  await bind.desk('function-3').click();
  await expect(echo).toHaveAttribute('aria-pressed', 'false');

  // Used lately comes first.
  await bind.free('function-4');
  await page.keyboard.press('/');
  await expect(page.getByRole('listbox').getByRole('option').first()).toContainText(
    'Echo on, the selected track',
  );
});

test('one profile drives two hosts at once', async ({ bind, page }) => {
  await bind.open();
  await page.getByRole('button', { name: 'Surfaces' }).click();
  await page.getByRole('combobox', { name: 'Add a host' }).click();
  await page.getByRole('option', { name: 'Booth' }).click();
  await page.keyboard.press('Escape');
  await bind.free('function-3');
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'Find a function' }).fill('play deck 2');
  await page.keyboard.press('Enter');
  await bind.desk('function-3').click();
  await expect(bind.desk('function-3')).toHaveAttribute('aria-pressed', 'true');
  await bind.desk('mute-2').click();
  await expect(bind.host('Mute Ferryman')).toHaveAttribute('aria-pressed', 'true');
  await choose(page, 'Host shown', 'Booth');
  const booth = page.getByRole('group', { name: 'Booth' });
  await expect(booth.getByRole('button', { name: 'Play, Deck 2' })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
});
