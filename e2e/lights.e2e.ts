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
  await panel.getByRole('switch', { name: 'Show something' }).click();
  await expect(light).toHaveAttribute('aria-pressed', 'false');
  await panel.getByRole('radio', { name: 'This binding' }).click();
  await expect(panel.getByRole('switch', { name: 'Show something' })).not.toBeChecked();
  await expect(panel).toContainText('from the whole profile');
  // Where the binding says otherwise, the profile's own word still stands under its scope, and the other beside it.
  await panel.getByRole('switch', { name: 'Show something' }).click();
  await expect(light).toHaveAttribute('aria-pressed', 'true');
  await panel.getByRole('radio', { name: 'The whole profile' }).click();
  await expect(panel.getByRole('switch', { name: 'Show something' })).not.toBeChecked();
  await expect(panel).toContainText('Here shown, from this binding');
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(panel).not.toContainText('from this binding');
  await panel.getByRole('button', { name: /^Reset everything/ }).click();
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

test('a state is shown on other lights too, follows, and is taken away', async ({ bind, page }) => {
  await bind.openAny('neap-rink');
  await page.getByRole('link', { name: 'Lights' }).click();
  const strip = page.locator('rondo-lights-strip');
  await page.getByRole('button', { name: 'Cobble 64', exact: true }).click();
  await bind.desk('pad-41').click();
  await strip.getByRole('button', { name: 'Show it on other lights' }).click();
  for (const pad of [57, 58, 59]) await bind.desk(`pad-${pad}`).click();
  await expect(strip).toContainText('3 so far');
  await strip.getByRole('button', { name: 'Each shows it' }).click();
  await expect(strip.getByRole('listitem')).toHaveCount(1);
  const lit = await bind.desk('pad-41').getAttribute('aria-pressed');
  await expect(bind.desk('pad-58')).toHaveAttribute('aria-pressed', lit ?? '');
  // What is shown follows: played at the other way.
  await page.getByRole('button', { name: lit === 'true' ? 'Play 1: Off' : 'Play 1: On' }).click();
  await expect(bind.desk('pad-59')).toHaveAttribute(
    'aria-pressed',
    lit === 'true' ? 'false' : 'true',
  );
  // It has looks of its own.
  await strip.getByRole('button', { name: 'Looks' }).click();
  const panel = page.locator('rondo-returns-panel');
  await expect(panel).toContainText('shown on 3 lights');
  await panel.getByRole('switch', { name: 'The other way round' }).click();
  await expect(bind.desk('pad-59')).toHaveAttribute('aria-pressed', lit ?? '');
  await expect(bind.desk('pad-41')).not.toHaveAttribute('aria-pressed', lit ?? '');
  await strip.getByRole('button', { name: 'Remove' }).click();
  await expect(strip.getByRole('listitem')).toHaveCount(0);
});

test('the level of a mixer that takes nothing is a meter over six pads; the device, the profile and a binding differ', async ({
  bind,
  page,
}) => {
  await bind.openAny('neap-rink');
  await page.getByRole('link', { name: 'Lights' }).click();
  const strip = page.locator('rondo-lights-strip');
  const panel = page.locator('rondo-returns-panel');
  await bind.desk('left-fader').click();
  await expect(panel).toContainText('Nothing comes back to Crosstie 2');
  await strip.getByRole('button', { name: 'Show it on other lights' }).click();
  await page.getByRole('button', { name: 'Cobble 64', exact: true }).click();
  for (let pad = 1; pad <= 6; pad++) await bind.desk(`pad-${pad}`).click();
  await strip.getByRole('button', { name: 'A row, as a meter' }).click();
  await expect(strip.getByRole('listitem')).toHaveCount(1);
  const lit = () =>
    page
      .locator('g[data-id^="pad-"][aria-pressed="true"]')
      .evaluateAll((all) =>
        all
          .map((one) => Number((one as SVGElement).dataset['id']!.replace('pad-', '')))
          .filter((n) => n <= 6),
      );
  await expect.poll(lit).toEqual([1, 2, 3, 4, 5]);
  await page.getByRole('button', { name: 'Crosstie 2', exact: true }).click();
  await bind.drag(page.locator('g[data-over="left-fader"] .cap'), 160);
  await page.getByRole('button', { name: 'Cobble 64', exact: true }).click();
  await expect.poll(lit).toEqual([1, 2, 3, 4, 5, 6]);

  // The device in every profile, this profile, one binding: each says its own, and is heard where it is nearest.
  await bind.desk('pad-41').click();
  await panel.getByRole('button', { name: 'The device itself' }).click();
  await expect(page.getByRole('textbox', { name: 'Name of the surface' })).toHaveValue(
    'My Cobble 64',
  );
  const device = page.locator('rondo-returns-form');
  await device.getByLabel('Colour: On', { exact: true }).fill('#2244ff');
  await page.getByRole('link', { name: 'Bind' }).click();
  await page.getByRole('link', { name: 'Lights' }).click();
  await page.getByRole('button', { name: 'Cobble 64', exact: true }).click();
  await bind.desk('pad-41').click();
  await expect(panel).toContainText('from the surface My Cobble 64');
  await panel.getByRole('radio', { name: 'The whole profile' }).click();
  await panel.getByLabel('Colour: On', { exact: true }).fill('#22aa22');
  await panel.getByRole('radio', { name: 'This binding' }).click();
  await expect(panel.getByLabel('Colour: On', { exact: true })).toHaveValue('#22aa22');
  await panel.getByLabel('Colour: On', { exact: true }).fill('#aa2222');
  await expect(panel.getByLabel('Colour: On', { exact: true })).toHaveValue('#aa2222');
  await bind.desk('pad-42').click();
  await expect(panel.getByLabel('Colour: On', { exact: true })).toHaveValue('#22aa22');
});

test('a surface of one’s own says what comes back and which colours it has, by hand and from a table', async ({
  page,
  server,
}) => {
  await page.goto(`${server.address}/surfaces`);
  await page.getByRole('button', { name: 'Copy Cobble 64' }).click();
  await page.getByRole('button', { name: 'Device', exact: true }).click();
  const form = page.locator('rondo-returns-form');
  await form.getByLabel('Colour: On', { exact: true }).fill('#00ff00');
  const back = form.getByRole('button', { name: /^Reset to #ffffff/ });
  await expect(back).toBeVisible();
  await back.click();
  await expect(back).toBeHidden();

  await page.getByLabel('Read a table of colours from CSV').setInputFiles({
    name: 'colours.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(
      'number,colour,name\r\n0,#000000,dark\r\n5,#ff8800,orange\r\nsix,#123456\r\n',
    ),
  });
  await expect(page.getByRole('status').filter({ hasText: '2 colours were read' })).toContainText(
    'Line 4',
  );
  const colours = page.getByLabel(/^Colour of number/);
  await expect(colours).toHaveCount(2);
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(colours).toHaveCount(64);
});

test('of a mixer that takes no messages no port to it is asked for, and nothing is offered that it cannot do', async ({
  page,
  server,
}) => {
  await page.goto(`${server.address}/profiles`);
  await page.getByRole('button', { name: 'New profile' }).click();
  await page.getByRole('button', { name: /^Crosstie 2/ }).click();
  await page.getByRole('button', { name: /^Booth A/ }).click();
  await page.getByRole('button', { name: 'Make it' }).click();
  await page.getByRole('button', { name: /^Take \d+ bindings/ }).click();
  await page.getByRole('button', { name: 'Ports' }).click();
  const mixer = page.getByRole('group', { name: 'Crosstie 2' }).filter({ hasText: 'From the' });
  await expect(mixer).toContainText('It takes no messages');
  await expect(mixer.getByRole('combobox')).toHaveCount(1);
  await page.keyboard.press('Escape');
  await page.getByRole('link', { name: 'Lights' }).click();
  await expect(page.getByText(/Nothing comes back to Crosstie 2/)).toBeVisible();
  await expect(page.getByText(/no light or motor to try/)).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Light test' })).toHaveCount(0);
});
