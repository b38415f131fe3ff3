import type { Page } from '@playwright/test';
import { act, choose, expect, test, type Bench } from './rondo';

const tool = (page: Page, name: string) => page.getByRole('button', { name, exact: true });
const layer = (page: Page, name: string) =>
  page.getByRole('group', { name: 'Layers' }).getByRole('button', { name });
const closePanel = (page: Page) =>
  page.locator('rondo-panel-head').getByRole('button', { name: 'Close' }).click();
const station = (bench: Bench) => bench.station('Function').locator('strong');

test('host first: point at a function, touch a control, and nothing acts meanwhile', async ({
  bind,
  page,
}) => {
  await bind.open();
  await page.keyboard.press('p');
  await expect(page.getByText('Point at a function in the picture')).toBeVisible();
  const mute = bind.host('Mute Cello');
  await mute.click();
  await expect(page.getByText('Now touch the control for Mute, Cello')).toBeVisible();
  await expect(mute).toHaveAttribute('aria-pressed', 'false');
  // A key that does something by itself: it is bound, and does it not.
  await bind.desk('play').click();
  await expect(station(bind)).toHaveText('Mute, Cello');
  await expect(bind.host('Play')).toHaveAttribute('aria-pressed', 'false');
  await expect(page.getByText('In place of Play.')).toBeVisible();
  await page.keyboard.press('p');
  await bind.desk('play').click();
  await expect(mute).toHaveAttribute('aria-pressed', 'true');
});

test('what is bound to a key that did nothing is no longer called unbound', async ({
  bind,
  page,
}) => {
  await bind.open();
  const station = bind.station('Function');
  // The first is bound nowhere else, the second on a layer that is off.
  for (const [id, why] of [
    ['stop', 'Nothing is bound to this.'],
    ['click', 'Only bound on layers that are off now.'],
  ]) {
    await bind.free(id);
    await bind.desk(id).click();
    await expect(station).toContainText(why);
    await page.keyboard.type('/loop');
    await page.keyboard.press('Enter');
    await expect(station).toContainText('Loop');
    await expect(station).not.toHaveClass(/broken/);
    await expect(station).not.toContainText(why);
  }
});

test('a held key makes a fader do something else, on a layer that is made as the key is bound', async ({
  bind,
  page,
}) => {
  await bind.open();
  const finder = page.getByRole('combobox', { name: 'Find a function' });
  await bind.free('stop');
  await page.keyboard.type('/new layer');
  await page.keyboard.press('Enter');
  await expect(bind.station('Function')).toContainText('Layer while held');
  // The layer is the one that edits go to now.
  await bind.drag(bind.desk('fader-3'), 10);
  await page.keyboard.type('/pan gulls');
  await expect(finder).toHaveValue('pan gulls');
  await page.keyboard.press('Enter');
  await expect(bind.station('Function')).toContainText('Pan, Gulls');
  // The layer is off: the motor goes by what is bound below it, and says so.
  await expect(bind.station('Light, motor, text')).toContainText(
    /Motor at \d+ of 1023, for Volume/,
  );
  await page.getByRole('button', { name: 'Follow what is on' }).click();
  await expect(bind.station('Function')).toContainText('Volume, strip 3');
  // Held by the keyboard, as with a second hand.
  await bind.desk('stop').focus();
  await page.keyboard.down(' ');
  await expect(bind.desk('fader-3')).toHaveAttribute('aria-label', 'Fader 3: Gulls');
  await page.keyboard.up(' ');
  await expect(bind.desk('fader-3')).toHaveAttribute('aria-label', 'Fader 3: Foghorn');
  // One step back takes the key and its layer along.
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  const layers = page.getByRole('group', { name: 'Layers', exact: true });
  await expect(layers.getByRole('button', { name: /^Sends/ })).toBeVisible();
  await expect(layers.getByRole('button', { name: /^Layer\b/ })).toHaveCount(0);
});

test('a click takes the turn of an encoder in hand where nothing is bound to its press, else the press', async ({
  bind,
  page,
  server,
}) => {
  await page.goto(`${server.address}/profiles`);
  await page.getByRole('button', { name: 'New profile' }).click();
  await page.getByRole('button', { name: /^Harrow 8 Motor/ }).click();
  await page.getByRole('button', { name: /^Booth A/ }).click();
  await page.getByRole('button', { name: 'Make it' }).click();
  await page.getByRole('button', { name: 'Leave it' }).click();
  const encoder = bind.desk('encoder-1');
  await encoder.click();
  // The press has been told, and has not taken the hand from the turn.
  await expect(page.locator('.readout')).toContainText('Encoder 1: up');
  const part = (name: string) => bind.station('Control').getByRole('button', { name });
  await expect(part('turn')).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.type('/gain deck 1');
  await page.keyboard.press('Enter');
  await expect(bind.station('Function')).toContainText('Gain, Deck 1');
  await part('press').click();
  await page.keyboard.type('/play deck 1');
  await page.keyboard.press('Enter');
  await expect(bind.station('Function')).toContainText('Play, Deck 1');
  await part('turn').click();
  await expect(bind.station('Function')).toContainText('Gain, Deck 1');
  await encoder.click();
  await expect(part('press')).toHaveAttribute('aria-pressed', 'true');
});

test('whatever is typed after / goes to the finder, however quickly', async ({ bind, page }) => {
  await bind.open();
  // Each begins with letters that do something on this screen, and none has a pause behind the slash.
  for (const typed of ['sheet', 'hold', 'lplpl', 'vuvu']) {
    await bind.desk('click').click();
    await page.keyboard.type(`/${typed}`);
    const field = page.getByRole('combobox', { name: 'Find a function' });
    await expect(field).toHaveValue(typed);
    // Also where it is open already, and the hand is elsewhere: what was typed gives way.
    await bind.desk('stop').focus();
    await page.keyboard.type(`/${typed.slice(1)}`);
    await expect(field).toHaveValue(typed.slice(1));
    await page.keyboard.press('Escape');
  }
});

test('what was there before: keep both, swap the two, or take it back', async ({ bind, page }) => {
  await bind.open();
  await bind.desk('click').click();
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'Find a function' }).fill('loop');
  await page.keyboard.press('Enter');
  await expect(page.getByText('In place of Click.')).toBeVisible();
  await page.getByRole('button', { name: 'Keep both' }).click();
  await expect(station(bind)).toHaveText('Click');
  await page.getByRole('button', { name: 'and 1 more' }).click();
  await expect(page.getByText('2. Loop')).toBeVisible();
  await closePanel(page);
  await page.getByRole('button', { name: 'Swap the two' }).click();
  await expect(station(bind)).toHaveText('Loop');
  await bind.desk('loop').click();
  await expect(station(bind)).toHaveText('Click');
});

test('several pairs in one pass: proposed, one refused, the rest bound together', async ({
  bind,
  page,
}) => {
  await bind.open();
  await tool(page, 'Pairs').click();
  await bind.desk('function-3').click();
  await bind.host('Mute Gulls').click();
  await expect(page.getByRole('button', { name: 'Bind Function 3, Harrow 8' })).toBeVisible();
  // Two movements without a rest between them would be one.
  await expect
    .poll(async () => {
      await page.evaluate(() => new Promise(requestAnimationFrame));
      return page.evaluate(() => performance.now());
    })
    .toBeGreaterThan((await page.evaluate(() => performance.now())) + 1_000);
  await bind.desk('function-4').click();
  await bind.host('Solo Choir').click();
  await expect(page.getByRole('button', { name: 'Bind Function 4, Harrow 8' })).toBeVisible();
  await page.getByRole('button', { name: 'Not Function 3, Harrow 8' }).click();
  await expect(page.getByRole('button', { name: 'Bind Function 3, Harrow 8' })).toBeHidden();
  await tool(page, 'Bind all').click();
  await tool(page, 'Done').click();
  await bind.desk('function-4').click();
  await expect(station(bind)).toHaveText('Solo, Choir');
  await expect(bind.host('Solo Choir')).toHaveAttribute('aria-pressed', 'false');
  await bind.desk('function-3').click();
  await expect(station(bind)).toHaveText('To marker 3');
});

test('layers: held while pressed, seen through, bound on their own, there after a reload', async ({
  bind,
  page,
}) => {
  await bind.open();
  // Held: what is on it shows while the key is down.
  await bind.desk('layer-1').hover();
  await page.mouse.down();
  await expect(layer(page, 'Shift')).toHaveAttribute('aria-pressed', 'true');
  await page.mouse.up();
  await expect(layer(page, 'Base')).toHaveAttribute('aria-pressed', 'true');

  // Looked at without holding it: its own function and that one's state, whatever the light shows now.
  await bind.desk('select-3').click();
  await layer(page, 'Shift').click();
  await expect(station(bind)).toHaveText('Compressor on, strip 3 of the bank');
  await expect(bind.station('State')).toContainText('Compressor on');
  await tool(page, 'Follow what is on').click();

  // What it leaves alone comes from below.
  await bind.desk('stop').click();
  await layer(page, 'Shift').click();
  await expect(bind.station('Control')).toContainText('from Base');
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'Find a function' }).fill('save');
  await page.keyboard.press('Enter');
  await expect(bind.station('Control')).toContainText('on Shift');
  await expect(station(bind)).toHaveText('Save');
  await tool(page, 'Follow what is on').click();
  await expect(station(bind)).toHaveText('Stop');

  // Latched by the hand, and so again after a reload.
  await bind.desk('layer-2').click();
  await expect(layer(page, 'Sends')).toContainText('on');
  await bind.hold('encoder-1');
  await page.keyboard.press('ArrowUp');
  await expect(station(bind)).toContainText('Send to Dialogue');
  await page.reload();
  await expect(layer(page, 'Sends')).toHaveAttribute('aria-pressed', 'true');
});

test('a new layer sets something on entering, and a flag decides what a key does', async ({
  bind,
  page,
}) => {
  await bind.open();
  await tool(page, 'Edit layers').click();
  await tool(page, 'New layer').click();
  await page.getByRole('textbox', { name: 'Name of the layer' }).fill('Night');
  await page.keyboard.press('Enter');
  await expect(layer(page, 'Night')).toBeVisible();
  await tool(page, 'Set something').first().click();
  await page.getByRole('combobox', { name: 'Find a function' }).fill('mute bass clarinet');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Mute, Bass Clarinet')).toBeVisible();
  await tool(page, 'Turn on').click();
  await closePanel(page);
  await expect(bind.host('Mute Bass Clarinet')).toHaveAttribute('aria-pressed', 'true');

  // Where the foot may not record, the foot does not record.
  await page.getByRole('button', { name: 'Foot may record' }).click();
  await tool(page, 'Treadle').click();
  await bind.desk('pedal-2').click();
  await expect(bind.station('Function')).toContainText('condition does not hold');
  await expect(bind.host('Record')).toHaveAttribute('aria-pressed', 'false');
  await page.getByRole('button', { name: 'Foot may record' }).click();
  await bind.desk('pedal-2').click();
  await expect(bind.host('Record')).toHaveAttribute('aria-pressed', 'true');
});

test('shape: a range and a curve are felt at once; where is it and which way to turn', async ({
  bind,
  page,
}) => {
  await bind.open();
  await tool(page, 'Treadle').click();
  await bind.hold('expression');
  await page.keyboard.press('PageUp');
  await expect(bind.station('Shape')).toContainText('Further up');
  await expect(page.getByLabel('Touched last')).toContainText('% away');
  // Of several actions it is said which one waits.
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'Find a function' }).fill('volume ferryman');
  await page.keyboard.press('Shift+Enter');
  await bind.hold('expression');
  await page.keyboard.press('PageUp');
  await expect(bind.station('Shape')).toContainText(/Volume, Music: .*Further up/);
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await bind.hold('expression');
  await page.keyboard.press('End');
  await expect(bind.station('Shape')).not.toContainText('Further up');
  await expect(bind.host('Volume of Music')).toHaveAttribute('aria-valuenow', '80');

  await page.getByRole('button', { name: 'Shape and feel' }).click();
  await page.getByRole('spinbutton', { name: 'High end of the range, per cent' }).fill('50');
  await page.keyboard.press('Enter');
  await page.getByRole('radio', { name: 'Linear' }).click();
  await bind.hold('expression');
  await page.keyboard.press('Home');
  await page.keyboard.press('End');
  await closePanel(page);
  await expect(bind.host('Volume of Music')).toHaveAttribute('aria-valuenow', '50');
});

test('feel: set for each of its kind, told where it comes from, and put back', async ({
  bind,
  page,
}) => {
  await bind.open();
  await tool(page, 'Treadle').click();
  await bind.hold('expression');
  await page.keyboard.press('PageUp');
  await page.getByRole('button', { name: 'Shape and feel' }).click();
  await expect(page.getByText('usual: expression pedal').first()).toBeVisible();
  await choose(page, 'Takeover', 'Jump to the control');
  await page.getByRole('combobox', { name: 'Where it is set' }).first().click();
  await page.getByRole('option', { name: 'each expression pedal of the profile' }).click();
  const back = page.getByRole('button', { name: 'Reset to pick up when they meet' });
  await expect(back).toBeVisible();
  await back.click();
  await expect(page.getByRole('combobox', { name: 'Takeover' })).toHaveText(
    'Pick up when they meet',
  );
});

test('a series is shown before it is made, and undone in one step', async ({ bind, page }) => {
  await bind.open();
  await bind.desk('function-1').click();
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'Find a function' }).fill('mute narrator always');
  await page.keyboard.press('Enter');
  await tool(page, 'Repeat').click();
  const preview = page.getByRole('list', { name: 'Preview of the series' });
  await expect(preview.getByRole('listitem')).toHaveCount(8);
  await expect(preview).toContainText('Mute, Cello');
  await tool(page, 'Bind 7 more').click();
  await expect(page.getByText('7 bound.')).toBeVisible();
  await bind.desk('function-8').click();
  await expect(station(bind)).toHaveText('Mute, Cello');
  await page.keyboard.press('Control+z');
  await expect(station(bind)).toHaveText('To marker 8');
});

test('the sheet: found, sorted, edited many at a time; what lost its flag is mended', async ({
  bind,
  page,
}) => {
  await bind.open();
  await page.keyboard.press('s');
  const sheet = page.locator('rondo-sheet');
  await expect(sheet).toContainText('155 bindings');
  await sheet.getByRole('searchbox').fill('arm base');
  await expect(sheet).toContainText('8 bindings');
  await sheet.getByRole('checkbox', { name: 'Choose all' }).click();
  await expect(sheet).toContainText('8 chosen');
  await act(sheet, 'Behaviour …', 'While held');
  await expect(sheet.getByRole('row').filter({ hasText: 'Arm 3' })).toContainText('While held');
  await page.keyboard.press('Control+z');
  await expect(sheet.getByRole('row').filter({ hasText: 'Arm 3' })).toContainText('Toggle');

  await tool(page, 'Edit layers').click();
  await page.keyboard.press('s');
  await page.getByRole('button', { name: 'Remove Foot may record' }).click();
  await page.getByRole('button', { name: '2 broken' }).click();
  await expect(sheet).toContainText('A condition names a flag that is not there.');
  await sheet.getByRole('button', { name: 'Take that out' }).first().click();
  await sheet.getByRole('button', { name: 'Take that out' }).first().click();
  await expect(page.getByRole('button', { name: /broken/ })).toHaveCount(0);
});

test('Shift and Enter put a function beside what is bound; notes show no state of what stood there before', async ({
  bind,
  page,
}) => {
  await bind.open();
  await bind.desk('mute-3').click();
  const find = async (text: string, key: string) => {
    await page.keyboard.press('/');
    await page.getByRole('combobox', { name: 'Find a function' }).fill(text);
    await page.keyboard.press(key);
  };
  await find('chord', 'Enter');
  await expect(bind.station('Function')).toContainText('Play C4 on Studio');
  await expect(bind.station('State')).not.toContainText('Mute');
  await find('play', 'Shift+Enter');
  await expect(bind.station('Function')).toContainText('and 1 more');
  // A series counts on what can be counted on, whichever of its actions was the last.
  await page.getByRole('button', { name: 'Repeat', exact: true }).click();
  await expect(page.getByRole('combobox', { name: 'What goes on' })).toHaveText('the next note');
  await closePanel(page);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(bind.station('Function')).not.toContainText('and 1 more');
});

test('a host’s change is made the cause of something', async ({ bind, page }) => {
  await bind.open();
  await page.keyboard.press('s');
  await tool(page, 'When a host changes …').click();
  const field = page.getByRole('combobox', { name: 'Find a function' });
  await expect(field).toBeFocused();
  await page.keyboard.type('mute narrator');
  await page.keyboard.press('Enter');
  await expect(page.getByText('When Mute, Narrator comes on, what happens?')).toBeVisible();
  // The second question begins with nothing typed, and has the keyboard.
  await expect(field).toHaveValue('');
  await expect(field).toBeFocused();
  await page.keyboard.type('mute ferryman');
  await page.keyboard.press('Enter');
  await page.keyboard.press('s');
  await bind.host('Mute Narrator').click();
  await expect(bind.host('Mute Ferryman')).toHaveAttribute('aria-pressed', 'true');

  // The round of either says it: what its change sets off, and what else sets it.
  await bind.desk('mute-1').click();
  const setsOff = bind.station('State').getByRole('button', { name: /Coming on: Mute, Ferryman/ });
  await expect(setsOff).toBeVisible();
  await bind.desk('mute-1').click();
  // What was opened while a key was held stays open when that is let go.
  await bind.desk('mute-2').focus();
  await page.keyboard.down(' ');
  await bind
    .station('Function')
    .getByRole('button', { name: /also when Mute, Narrator comes on/ })
    .click();
  await expect(page.getByText('When Mute, Narrator comes on', { exact: true })).toBeVisible();
  await page.keyboard.up(' ');
  await expect(page.locator('.readout')).toHaveText('Mute 2, Harrow 8: up');
  await expect(page.getByText('When Mute, Narrator comes on', { exact: true })).toBeVisible();
  await closePanel(page);
  await bind.desk('mute-2').click();

  // A second action; while it is chosen, what is touched does not act.
  await page.keyboard.press('s');
  await page.locator('rondo-sheet').getByRole('searchbox').fill('ferryman set');
  await page.locator('rondo-sheet').getByRole('button', { name: 'Actions', exact: true }).click();
  await expect(page.getByText('When Mute, Narrator comes on', { exact: true })).toBeVisible();
  await tool(page, 'Add an action').click();
  await bind.desk('mute-5').click();
  await page.getByRole('combobox', { name: 'Find a function' }).fill('solo foghorn');
  await page.keyboard.press('Enter');
  await expect(page.getByText('2. Solo, Foghorn')).toBeVisible();
  await closePanel(page);
  await expect(bind.host('Mute Engine Room')).toHaveAttribute('aria-pressed', 'false');
  await bind.host('Mute Narrator').click();
  await expect(bind.host('Mute Narrator')).toHaveAttribute('aria-pressed', 'false');
  await bind.host('Mute Narrator').click();
  await expect(bind.host('Solo Foghorn')).toHaveAttribute('aria-pressed', 'true');
});

test('parameters of the plug-in in focus, in an order of one’s own', async ({ bind, page }) => {
  await bind.open();
  await bind.desk('layer-3').click();
  await tool(page, 'Order of parameters').click();
  await page.getByRole('button', { name: 'Equaliser low frequency earlier' }).click();
  // One is chosen, and the control that is touched has it: the two change places. Nothing acts meanwhile.
  const list = page.locator('rondo-focus-panel').getByRole('listitem');
  await expect(list.nth(0)).toContainText('Equaliser low frequency');
  await page.getByRole('button', { name: 'Equaliser high gain', exact: true }).click();
  await bind.desk('mute-1').click();
  await expect(page.getByText('Mute 1, Harrow 8 has no parameter of this plug-in.')).toBeVisible();
  await bind.desk('encoder-2').click();
  await expect(page.getByText('Encoder 2, Harrow 8 has it now.')).toBeVisible();
  await expect(list.nth(1)).toContainText('Equaliser high gain');
  await expect(list.nth(8)).toContainText('Equaliser low gain');
  await closePanel(page);
  await expect(bind.host('Mute Narrator')).toHaveAttribute('aria-pressed', 'false');
  const studio = page.getByRole('group', { name: 'Studio' });
  await studio.getByRole('tab', { name: 'Focus' }).click();
  await bind.hold('encoder-1');
  await page.keyboard.press('ArrowUp');
  await expect(bind.station('State')).toContainText('Equaliser low frequency');
});

test('with nothing in hand / finds the function first, and the control that is touched then takes it', async ({
  bind,
  page,
}) => {
  await bind.open();
  await page.keyboard.press('/');
  const field = page.getByRole('combobox', { name: 'Find a function' });
  await field.fill('mute cello');
  // Letters typed there are never shortcuts.
  await expect(page.locator('rondo-sheet')).toBeHidden();
  await page.keyboard.press('Enter');
  await expect(page.getByText('Now touch the control for Mute, Cello')).toBeVisible();
  // A fader cannot be pressed: said, and nothing is bound.
  await bind.clickAt(bind.fader(1));
  await expect(page.getByText('cannot be driven by Fader 1')).toBeVisible();
  await bind.desk('function-3').click();
  await expect(bind.station('Function')).toContainText('Mute, Cello');
  await expect(page.getByText('Now touch the control')).toBeHidden();
  await bind.desk('function-3').click();
  await expect(bind.host('Mute Cello')).toHaveAttribute('aria-pressed', 'true');
});

test('Change changes the first action and keeps the others, its conditions and its feel', async ({
  bind,
  page,
}) => {
  await bind.open();
  await bind.desk('function-1').click();
  await page.getByRole('button', { name: 'Actions', exact: true }).click();
  await page.getByRole('button', { name: 'Add an action' }).click();
  await page.getByRole('combobox', { name: 'Find a function' }).fill('click');
  await page.keyboard.press('Enter');
  await expect(page.getByText('2. Click')).toBeVisible();
  await page.getByRole('button', { name: 'Close', exact: true }).first().click();
  await page.getByRole('button', { name: 'Change', exact: true }).click();
  await page.getByRole('combobox', { name: 'Find a function' }).fill('save');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Actions', exact: true }).click();
  await expect(page.getByText('1. Save')).toBeVisible();
  await expect(page.getByText('2. Click')).toBeVisible();
});

test('what Rondo itself does can be bound: a key holds off and lets through again, and the page follows', async ({
  bind,
  page,
}) => {
  await bind.open();
  await bind.free('function-5');
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'Find a function' }).fill('hold off');
  await page.keyboard.press('Enter');
  await expect(bind.station('Function')).toContainText('Hold off on or off');
  const button = page.getByRole('button', { name: 'Hold off', exact: true });
  await expect(button).toHaveAttribute('aria-pressed', 'false');
  await bind.desk('function-5').click();
  await expect(button).toHaveAttribute('aria-pressed', 'true');
  await bind.desk('function-5').click();
  await expect(button).toHaveAttribute('aria-pressed', 'false');
});
