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

  // The second effect unit is taken out of the set-up: its keys are dead and say why.
  await booth.getByRole('tab', { name: 'Effects' }).click();
  const fitted = booth.getByRole('button', { name: 'Effect unit 2 in this set-up' });
  await fitted.click();
  await expect(fitted).toHaveAttribute('aria-pressed', 'false');
  await bind.desk('transport-4').click();
  await expect(bind.station('Function')).toContainText(
    /needs “Effect unit 2 .*”, which is off in Booth now/,
  );
  await booth.getByRole('button', { name: 'Effect 1 assigned, Deck 3' }).click();
  await expect(booth.getByRole('button', { name: 'Effect 1 goes to' })).toHaveText('Deck 1');

  // A crate is opened, a record is looked for in it by typing, and put on; its stems are its own.
  await booth.getByRole('tab', { name: 'Records' }).click();
  await booth.getByRole('button', { name: 'Crate open', exact: true }).click();
  await booth.getByRole('button', { name: /^Full floor/ }).click();
  await expect(booth.getByRole('button', { name: /Low Water Strut/ })).toHaveCount(0);
  await booth.getByRole('button', { name: 'Search field' }).click();
  await expect(booth.getByRole('searchbox', { name: 'Find a record' })).toBeFocused();
  await page.keyboard.type('rail');
  await expect(booth.getByRole('listitem')).toHaveText([/Rail Hand/]);
  await page.keyboard.press('Enter');
  await expect(booth.getByRole('searchbox')).toHaveCount(0);
  await booth.getByRole('button', { name: 'Load on Deck 4' }).click();
  await expect(booth.getByRole('region', { name: 'Deck 4' })).toContainText('Rail Hand');
  await booth.getByRole('tab', { name: 'Stems' }).click();
  await expect(booth.getByText('2 stems')).toHaveCount(1);
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
