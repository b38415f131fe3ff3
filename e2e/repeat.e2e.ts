import type { Page } from '@playwright/test';
import { nineFerriesMix, type Profile } from '@rondo/core/profile';
import { act, choose, expect, test, type Bench } from './rondo';

const station = (bench: Bench) => bench.station('Function').locator('strong');
const layer = (page: Page, name: string) =>
  page.getByRole('group', { name: 'Layers' }).getByRole('button', { name });
const closePanel = (page: Page) =>
  page.locator('rondo-panel-head').getByRole('button', { name: 'Close' }).click();

/** Stores a profile as it is, the way a file is taken in. */
async function store(page: Page, address: string, profile: Profile): Promise<void> {
  await page.goto(`${address}/profiles`);
  const status = await page.evaluate(async (document) => {
    const answer = await fetch('/api/profiles', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ document }),
    });
    return answer.status;
  }, profile);
  expect(status).toBe(201);
}

test('copied to a layer, exchanged with another control, and one half made like the other', async ({
  bind,
  page,
  server,
}) => {
  await bind.open();
  await bind.desk('play').click();
  await page.getByRole('button', { name: 'Repeat', exact: true }).click();
  await act(page, 'Copy to layer …', 'Sends');
  await layer(page, 'Sends').click();
  await expect(bind.station('Control')).toContainText('on Sends');
  await page.getByRole('button', { name: 'Follow what is on' }).click();
  await choose(page, 'Swap with a control', 'Click');
  await expect(station(bind)).toHaveText('Click');
  await bind.desk('click').click();
  await expect(station(bind)).toHaveText('Play');

  await page.goto(`${server.address}/bind/neap-rink`);
  await bind.hold('left-high');
  await page.keyboard.press('PageUp');
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'Find a function' }).fill('pitch deck 1');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Repeat', exact: true }).click();
  await page.getByRole('button', { name: 'Copy the half' }).click();
  await bind.hold('right-high');
  await page.keyboard.press('PageUp');
  await expect(station(bind)).toHaveText('Pitch, Deck 2');
});

test('a series is seen on the drawing before it is made, and goes to the controls that are touched, in their order', async ({
  bind,
  page,
}) => {
  await bind.open();
  await bind.free('function-1');
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'Find a function' }).fill('marker 4');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Repeat', exact: true }).click();
  // The next of its numbers, on those beside it; shown and marked, and nothing is bound yet.
  await expect(page.locator('[data-marked="function-2"]')).toBeVisible();
  await expect(bind.desk('function-3')).toHaveAttribute('aria-label', /To marker 6/);
  await closePanel(page);
  await expect(bind.desk('function-3')).not.toHaveAttribute('aria-label', /To marker 6/);

  await page.getByRole('button', { name: 'Repeat', exact: true }).click();
  await page.getByRole('button', { name: 'Choose on the drawing' }).click();
  await expect(page.getByText('Touch the controls in order')).toBeVisible();
  await bind.desk('function-8').click();
  await bind.desk('mute-3').click();
  await bind.desk('function-5').click();
  await expect(bind.desk('mute-3')).toHaveAttribute('aria-label', /To marker 6/);
  await expect(bind.desk('function-5')).toHaveAttribute('aria-label', /To marker 7/);
  await page.getByRole('button', { name: 'Leave out Mute 3' }).click();
  await expect(bind.desk('function-5')).toHaveAttribute('aria-label', /To marker 6/);
  await expect(bind.desk('mute-3')).not.toHaveAttribute('aria-label', /To marker/);
  await page.getByRole('button', { name: 'Bind 2 more' }).click();
  await closePanel(page);
  // What was touched while choosing did not act.
  await expect(bind.host('Mute Foghorn')).toHaveAttribute('aria-pressed', 'false');
  await bind.desk('function-8').click();
  await expect(station(bind)).toHaveText('To marker 5');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(station(bind)).not.toHaveText('To marker 5');
});

test('layers are copied, ordered, exchanged and removed; undo brings one back whole', async ({
  bind,
  page,
}) => {
  await bind.open();
  await page.getByRole('button', { name: 'Edit layers' }).click();
  await layer(page, 'Shift').click();
  await page.getByRole('button', { name: 'Copy', exact: true }).click();
  await expect(layer(page, 'Shift 2')).toHaveAttribute('aria-pressed', 'true');
  const names = page.getByRole('group', { name: 'Layers' }).getByRole('button');
  await expect(names.nth(4)).toContainText('Shift 2');
  await page.getByRole('button', { name: 'Lower', exact: true }).click();
  await expect(names.nth(3)).toContainText('Shift 2');
  await expect(page.getByText('33 bindings')).toBeVisible();
  await act(page, 'Swap bindings with …', 'Plug-in');
  await expect(page.getByText('8 bindings', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Remove', exact: true }).click();
  await expect(layer(page, 'Shift 2')).toBeHidden();
  await page.keyboard.press('Control+z');
  await layer(page, 'Shift 2').click();
  await expect(page.getByText('8 bindings', { exact: true })).toBeVisible();
});

test('only one of a group is on; a pinned control stays; a chord is typed by its names', async ({
  bind,
  page,
}) => {
  await bind.open();
  for (const key of ['arm-1', 'arm-2']) {
    await bind.desk(key).click();
    await bind.station('Control').getByRole('button', { name: 'on Base' }).click();
    await page.getByRole('combobox', { name: 'Exclusive group' }).fill('Voices');
    await page.keyboard.press('Enter');
    await closePanel(page);
  }
  // The second came on while it was in no group yet.
  await bind.desk('arm-1').click();
  await expect(bind.host('Arm Narrator')).toHaveAttribute('aria-pressed', 'false');
  await bind.desk('arm-1').click();
  await expect(bind.host('Arm Narrator')).toHaveAttribute('aria-pressed', 'true');
  await expect(bind.host('Arm Ferryman')).toHaveAttribute('aria-pressed', 'false');
  await bind.desk('arm-2').click();
  await expect(bind.host('Arm Ferryman')).toHaveAttribute('aria-pressed', 'true');
  await expect(bind.host('Arm Narrator')).toHaveAttribute('aria-pressed', 'false');

  // The plug-in layer takes all encoders but the pinned one.
  await bind.hold('encoder-1');
  await page.keyboard.press('ArrowUp');
  await bind.station('Control').getByRole('button', { name: 'on Base' }).click();
  await page.getByRole('switch', { name: /^Pinned/ }).check();
  await expect(page.locator('[data-pinned="encoder-1"]')).toBeVisible();
  await closePanel(page);
  await bind.desk('layer-3').click();
  // It is drawn where it tells: on the layer that would take it.
  await expect(page.locator('[data-pinned="encoder-1"]')).toBeVisible();
  const pan = bind.host('Pan of Narrator');
  const before = await bind.valueOf(pan);
  await bind.hold('encoder-1');
  await page.keyboard.press('ArrowUp');
  await expect.poll(() => bind.valueOf(pan)).not.toBe(before);
  await bind.desk('layer-3').click();

  await bind.desk('function-6').click();
  await page.getByRole('button', { name: 'Actions', exact: true }).click();
  await page.getByRole('button', { name: 'Add an action' }).click();
  await page.getByRole('combobox', { name: 'Find a function' }).fill('chord');
  await page.keyboard.press('Enter');
  const notes = page.getByRole('textbox', { name: 'Notes' });
  await notes.fill('C4 E4 67');
  await page.keyboard.press('Enter');
  await expect(page.getByText('2. Play C4 E4 G4 on Studio')).toBeVisible();
  await notes.fill('H9');
  await page.keyboard.press('Enter');
  await expect(notes).toHaveValue('C4 E4 G4');
  await page.getByRole('button', { name: 'Earlier' }).last().click();
  await expect(page.getByText('1. Play C4 E4 G4 on Studio')).toBeVisible();
});

test('what is broken is kept, told, and mended one by one, while the rest works', async ({
  bind,
  page,
  server,
}) => {
  const profile = nineFerriesMix('broken');
  const play = profile.bindings['base.desk.play.push'];
  profile.bindings['base.desk.play.push'] = {
    ...play,
    actions: [{ ...play.actions[0], function: 'reverb' } as (typeof play.actions)[number]],
  };
  const stop = profile.bindings['base.desk.stop.push'];
  profile.bindings['base.desk.stop.push'] = {
    ...stop,
    control: { surface: 'desk', control: 'gone', part: 'push' },
  };
  const off = (id: string) => ({ do: 'layer', layer: id, how: 'off' }) as const;
  const on = (id: string) => ({ do: 'layer', layer: id, how: 'on' }) as const;
  profile.layers['sends'] = { ...profile.layers['sends'], leave: [on('shift')] };
  profile.layers['shift'] = {
    ...profile.layers['shift'],
    enter: [off('sends')],
    leave: [on('sends')],
  };
  const volume = profile.bindings['base.desk.fader-1.value'];
  profile.bindings['base.desk.fader-1.value'] = {
    ...volume,
    actions: [{ ...volume.actions[0], shape: { high: 3 } } as (typeof volume.actions)[number]],
  };
  // A key that follows what is on or off would put it on at every press.
  const solo = profile.bindings['base.desk.solo-1.push'];
  profile.bindings['base.desk.solo-1.push'] = {
    ...solo,
    actions: [{ ...solo.actions[0], behaviour: 'follow' } as (typeof solo.actions)[number]],
  };
  await store(page, server.address, profile);
  await bind.open('broken');
  await bind.desk('mute-1').click();
  await expect(bind.host('Mute Narrator')).toHaveAttribute('aria-pressed', 'true');
  await bind.desk('play').click();
  await expect(bind.station('Function')).toContainText('Studio has no reverb.');
  await bind.desk('solo-1').click();
  await expect(bind.station('Function')).toContainText('A press cannot follow');

  await page.getByRole('button', { name: /^\d broken$/ }).click();
  const sheet = page.locator('rondo-sheet');
  await expect(sheet).toContainText('1 numbers lay outside their range');
  await expect(sheet).toContainText('Studio has no reverb.');
  await expect(sheet).toContainText('There is no gone to press on Harrow 8.');
  const lost = sheet.locator('.layers li');
  for (let left = await lost.count(); left > 0; left--) {
    await expect(lost).toHaveCount(left);
    await lost.getByRole('button', { name: 'Take that out' }).first().click();
  }
  await expect(lost).toHaveCount(0);
  await sheet.getByRole('button', { name: 'Use “Toggle”' }).click();
  await expect(sheet).not.toContainText('A press cannot follow');
  await sheet.getByRole('button', { name: 'Choose another' }).click();
  await page.getByRole('combobox', { name: 'Find a function' }).fill('play');
  await page.keyboard.press('Enter');
  await expect(sheet).not.toContainText('Studio has no reverb.');
  // The control in hand is play itself: what was lost goes to a key that is free.
  await page.keyboard.press('s');
  await bind.desk('stop').click();
  await page.getByRole('button', { name: '1 broken' }).click();
  await sheet.getByRole('button', { name: 'Put it on the control in hand' }).click();
  await expect(page.getByRole('button', { name: /broken$/ })).toHaveCount(0);
  await page.keyboard.press('s');
  await bind.desk('stop').click();
  await expect(station(bind)).toHaveText('Stop');
});
