import {
  DESK_AND_CABLES,
  choose,
  expect,
  atPorts,
  play,
  sent as sentBytes,
  test,
  type Bench,
} from './rondo';

const real = (input: number, output: number) => ({
  real: true,
  input: DESK_AND_CABLES.inputs[input],
  output: DESK_AND_CABLES.outputs[output],
});

/** The demo with real ports on both sides, as chosen in an earlier session. */
async function openReal(bind: Bench): Promise<void> {
  await bind.withMidi(DESK_AND_CABLES);
  const session = { bank: 0, ports: { 'surface:desk': real(0, 0), 'host:program': real(1, 1) } };
  await bind.page.addInitScript(
    `if (top === window) localStorage.setItem('rondo.session.far-shore', ${JSON.stringify(JSON.stringify(session))});`,
  );
  await bind.page.context().grantPermissions(['midi', 'midi-sysex']);
  await bind.openAny('far-shore');
  await expect.poll(async () => (await sent(bind, 'desk-out')).length).toBeGreaterThan(0);
}
const sent = async (bind: Bench, port: string): Promise<string[]> =>
  (await sentBytes(bind.page, port)).map(String);
/** Presses a key of the desk until it is in hand: of what is touched in one burst only the first is. */
const touch = (bind: Bench, note: number, name: string) =>
  expect(async () => {
    await play(bind.page, 'desk-in', [0x90, note, 0x7f], [0x90, note, 0x00]);
    await expect(bind.station('Control')).toContainText(name, { timeout: 500 });
  }).toPass();
const sysex = (...bytes: number[]) => [0xf0, 0x00, 0x00, 0x66, 0x14, ...bytes, 0xf7];

test('a real desk before a real program that knows one desk only: both ways, through both threads', async ({
  bind,
}) => {
  await openReal(bind);
  // Nothing is sent to a program that has not spoken; the desk is asked who it is.
  expect(await sent(bind, 'cable-a')).toEqual([]);
  expect(await sent(bind, 'desk-out')).toContain(String(sysex(0)));

  // The program greets: it is answered as by a desk, and whatever it answers is good.
  await play(bind.page, 'cable-b', sysex(0));
  await expect
    .poll(async () => (await sent(bind, 'cable-a')).join(' '))
    .toMatch(/240,0,0,102,20,1,/);
  await play(bind.page, 'cable-b', sysex(2, 1, 2, 3, 4, 5, 6, 7, 9, 9, 9, 9));
  await expect.poll(() => sent(bind, 'cable-a')).toContain(String(sysex(3)));

  // Its fader, lamp and text reach the desk.
  await play(
    bind.page,
    'cable-b',
    [0xe0, 0x00, 0x40],
    [0x90, 0x10, 0x7f],
    sysex(0x12, 0, 0x46, 0x6f, 0x67),
  );
  for (const message of ['224,0,64', '144,16,127'])
    await expect.poll(() => sent(bind, 'desk-out')).toContain(message);
  await expect
    .poll(async () => (await sent(bind, 'desk-out')).join(' '))
    .toContain('240,0,0,102,20,18,0,70,111,103');

  // A hand at the desk: touch, move, let go, in order; then a key and a turn.
  await play(bind.page, 'desk-in', [0x90, 0x68, 0x7f], [0xe0, 0x70, 0x7f], [0x90, 0x68, 0x00]);
  await play(bind.page, 'desk-in', [0x90, 0x11, 0x7f], [0x90, 0x11, 0x00], [0xb0, 0x10, 0x41]);
  await expect
    .poll(async () => (await sent(bind, 'cable-a')).filter((m) => !m.startsWith('240')))
    .toEqual(['144,104,127', '224,112,127', '144,104,0', '144,17,127', '144,17,0', '176,16,65']);

  // The round shows the whole way, and what is known.
  await play(bind.page, 'cable-b', [0x90, 0x11, 0x7f]);
  await touch(bind, 0x11, 'Mute 2');
  await expect(bind.station('Function')).toContainText('Mute, Strip 2');
  await expect(bind.station('State')).toContainText('Mute On');
  await expect(bind.station('State')).toContainText('known');
  await expect(bind.station('Light, motor, text')).toContainText('90 11 7f');
  // What it has not told is unknown, looks so, and can be asked for.
  await touch(bind, 0x0a, 'Solo 3');
  await expect(bind.station('State')).toContainText('has not told');
  const greeted = async () =>
    (await sent(bind, 'cable-a')).filter((m) => /^240,0,0,102,20,1,/.test(m)).length;
  const before = await greeted();
  await bind.station('State').getByRole('button', { name: 'Ask for full state' }).click();
  await expect.poll(greeted).toBe(before + 1);
  await expect(bind.page.getByRole('button', { name: 'Solo 3', exact: true })).toHaveClass(
    /unknown/,
  );
});

test('the sheet stands beside the cables; one that hears itself is found, and a desk that gives no answer is told', async ({
  bind,
  page,
}) => {
  await openReal(bind);
  await page.getByRole('link', { name: 'Ports' }).click();
  const program = page.getByRole('group', { name: 'Program', exact: true });
  const sheet = page.getByRole('group', { name: 'What to set in Program' });
  await expect(sheet).toContainText('add a control surface: a Mackie-style desk, main unit.');
  await expect(sheet).toContainText('Its input is “Cable A”');
  await expect(sheet).toContainText('Its output is “Cable B”');
  await expect(sheet).toContainText('Switch Harrow 8 itself off there');
  const cables = page.getByRole('group', { name: 'Virtual cables' });
  await cables.getByText('Two virtual cables').click();
  await cables.getByRole('combobox', { name: 'Kind of system' }).click();
  await page.getByRole('option', { name: /^mac/i }).click();
  await expect(cables).toContainText('add two buses');
  // Both are chosen: that another host of the profile is simulated leaves nothing to do.
  await expect(cables.getByText('Choose both cables')).toHaveClass('done');
  await expect(page.getByRole('group', { name: 'Harrow 8', exact: true })).toContainText(
    'gave no answer',
  );

  await program.getByRole('button', { name: 'Check the cable' }).click();
  await expect(program).toContainText('the cable is sound');
  // A cable on which both ends hear themselves: everything that goes out comes in.
  await atPorts(page, () => {
    let seen = window.rondoMidi.sent['cable-a']?.length ?? 0;
    setInterval(() => {
      const all = window.rondoMidi.sent['cable-a'] ?? [];
      for (; seen < all.length; seen++) window.rondoMidi.play('cable-b', all[seen]);
    }, 5);
  });
  // The check waits for a moment only: a computer that stands still just then has heard nothing, and is asked again.
  await expect(async () => {
    await program.getByRole('button', { name: 'Check the cable' }).click();
    await expect(program).toContainText('the cable hears itself', { timeout: 5_000 });
  }).toPass();
  await page.getByRole('link', { name: 'Bind' }).click();
  await expect(page.getByRole('alert')).toContainText('the cable hears itself');
});

test('a chart becomes a host that controls are bound to; what cannot be read is kept and told', async ({
  page,
  server,
  bind,
}) => {
  await page.goto(`${server.address}/hosts`);
  await page.getByRole('button', { name: 'Write a new one' }).click();
  await expect(page.getByText('No row yet')).toBeVisible();
  await page.getByRole('textbox', { name: 'Name of the host' }).fill('Brazier');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Read a chart (CSV)' }).click();
  await page
    .getByLabel('The chart as CSV')
    .fill('Parameter,CC#,Range\nCutoff,74,0-127\nGlow,20,10-20\nToo far,CC 300,\n');
  await expect(page.getByText('2 found: Cutoff (CC 74), Glow (CC 20).')).toBeVisible();
  await expect(page.getByText('Line 4: Number 300 is above 127.')).toBeVisible();
  await page.getByRole('button', { name: 'Add 2 rows' }).click();
  const cell = page.getByLabel('Message of Glow');
  await cell.fill('CC none');
  await cell.press('Tab');
  await expect(page.getByText('is not a number')).toBeVisible();
  await expect(cell).toHaveValue('CC none');
  await cell.fill('CC 21');
  await cell.press('Tab');
  await expect(page.getByText('is not a number')).toBeHidden();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();

  await bind.openAny('far-shore');
  await page.getByRole('button', { name: 'Surfaces' }).click();
  await page.getByRole('combobox', { name: 'Add a host' }).click();
  await page.getByRole('option', { name: 'Brazier' }).click();
  await page.keyboard.press('Escape');
  await choose(page, 'Host shown', 'Brazier');
  await bind.hold('fader-8');
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'Find a function' }).fill('glow');
  await page.keyboard.press('Enter');
  await expect(bind.station('Function')).toContainText('Glow');
  await bind.hold('fader-8');
  await page.keyboard.press('End');
  await expect(page.getByRole('slider', { name: 'Glow', exact: true })).toHaveAttribute(
    'aria-valuenow',
    '100',
  );
});

test('a row of a chart is taken from the device itself as its knob turns; what is there already is said', async ({
  page,
  server,
  bind,
}) => {
  await bind.withMidi(DESK_AND_CABLES);
  await page.goto(`${server.address}/hosts`);
  await page.getByRole('button', { name: 'Write a new one' }).click();
  await page.getByRole('button', { name: 'Rows from the device' }).click();
  const catcher = page.getByRole('region', { name: 'Rows from the device' });
  await expect(catcher).toContainText('Turn one knob of the device');
  const travel = (number: number) => Array.from({ length: 64 }, (_, n) => [0xb2, number, 2 * n]);
  await play(page, 'desk-in', ...travel(74));
  await expect(catcher).toContainText('CC 74 channel 3 is Parameter 1 now');
  await expect(page.getByLabel('Message of Parameter 1')).toHaveValue('CC 74 channel 3');
  await play(page, 'desk-in', ...travel(74));
  await expect(catcher).toContainText('CC 74 channel 3 is Parameter 1 already');
  await play(page, 'desk-in', ...travel(71));
  await expect(page.getByLabel('Message of Parameter 2')).toHaveValue('CC 71 channel 3');
  await catcher.getByRole('button', { name: 'Done' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByLabel('Message of Parameter 2')).toHaveCount(0);
});

test('which control stands in for which is proposed, and changed by touch', async ({
  page,
  bind,
}) => {
  await bind.openAny('far-shore');
  await page.getByRole('button', { name: 'Surfaces' }).click();
  await page.getByRole('button', { name: 'Stands in …' }).first().click();
  const panel = page.locator('rondo-stand-in-panel');
  const own = (name: string) =>
    panel.getByRole('combobox', { name: `What stands in for ${name}`, exact: true });
  await expect(own('Mute 1')).toHaveText('Mute 1');
  await panel.getByLabel('Find an expected control').fill('flip');
  await panel.getByRole('button', { name: 'Touch what stands in for Flip' }).click();
  await bind.desk('function-3').click();
  await expect(own('Flip')).toHaveText('Function 3');
  // What it stood in for before has none now; undo brings both back.
  await panel.getByLabel('Find an expected control').fill('function 3');
  await expect(own('Function 3')).toHaveText('nothing');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(own('Function 3')).toHaveText('Function 3');
});

test('in a new profile a pad grid is the desk of a program after three choices', async ({
  page,
  server,
  bind,
}) => {
  await page.goto(`${server.address}/profiles`);
  await page.getByRole('button', { name: 'New profile' }).click();
  await page.getByRole('button', { name: 'Start empty' }).click();
  await page.getByRole('button', { name: 'Surfaces' }).click();
  await page.getByRole('combobox', { name: 'Add a surface' }).click();
  await page.getByRole('option', { name: 'Cobble 64' }).click();
  // What only adds shows nothing as chosen, and can add the same once more.
  await expect(page.getByRole('combobox', { name: 'Add a surface' })).toContainText('Add a');
  await page.getByRole('combobox', { name: 'Add a host' }).click();
  await page.getByRole('option', { name: 'Expects Mackie-style desk' }).click();
  await page.getByRole('button', { name: 'Cobble 64', exact: true }).click();
  const panel = page.locator('rondo-stand-in-panel');
  const own = (name: string) =>
    panel.getByRole('combobox', { name: `What stands in for ${name}`, exact: true });
  await expect(own('Play')).not.toHaveText('nothing');
  const mute = own('Mute 1');
  const pad = await mute.innerText();
  await panel.getByRole('button', { name: 'Close' }).click();
  await page.getByRole('button', { name: new RegExp(`^${pad}:`) }).click();
  await expect(bind.station('Function')).toContainText('Mute, Strip 1');
  await expect(bind.station('State')).toContainText('Mute On');
  await expect(page.getByRole('button', { name: 'Mute 1', exact: true }).last()).toHaveAttribute(
    'aria-pressed',
    'true',
  );
});
