import type { Page } from '@playwright/test';
import { DESK_AND_CABLES, atPorts, choose, expect, play, sent, test } from './rondo';

test('a real desk takes part in the round in place of the simulated one', async ({
  bind,
  page,
}) => {
  await bind.withMidi(DESK_AND_CABLES);
  await bind.open();
  await page.getByRole('button', { name: 'Ports' }).click();
  await page.getByRole('button', { name: 'Allow real MIDI ports' }).click();
  await choose(page, 'Harrow 8 input', 'Harrow 8 out');
  await choose(page, 'Harrow 8 output', 'Harrow 8 in');
  // Painted whole on connecting: display text among it.
  await expect
    .poll(async () => (await sent(page, 'desk-out')).filter(([s]) => s === 0xf0).length)
    .toBeGreaterThan(15);
  await page.keyboard.press('Escape');

  // The very first touch selects.
  await play(page, 'desk-in', [0x90, 0x10, 0x7f]);
  await expect(bind.station('Control')).toContainText('Mute 1');
  await play(page, 'desk-in', [0x90, 0x10, 0x00]);
  await expect(bind.host('Mute Narrator')).toHaveAttribute('aria-pressed', 'true');
  await expect.poll(async () => (await sent(page, 'desk-out')).map(String)).toContain('144,16,127');

  await play(page, 'desk-in', [0x90, 0x68, 0x7f]);
  await play(page, 'desk-in', [0xe0, 0x70, 0x7f]);
  await play(page, 'desk-in', [0x90, 0x68, 0x00]);
  await expect(bind.host('Volume of Narrator')).toHaveAttribute('aria-valuenow', '100');
  await expect
    .poll(async () => (await sent(page, 'desk-out')).map(String))
    .toContain('224,112,127');

  await play(page, 'desk-in', [0x9f, 1, 1]);
  await expect(bind.station('Message')).toContainText('no control of it sends that');

  // The choice is remembered for this profile.
  await atPorts(page, () => window.rondoMidi.plug('desk-out', false));
  await bind.hold('mute-1');
  await play(page, 'desk-in', [0x90, 0x10, 0x7f]);
  await expect(bind.station('Light, motor, text')).toContainText(
    'output to the surface is missing',
  );
  // Said on top as well, with the way out; and never ‘real ports’ over what is dead.
  const line = page.getByRole('alert').filter({ hasText: 'is not plugged in' });
  await expect(line).toContainText('Harrow 8: “Harrow 8 in” is not plugged in');
  await expect(page.getByText('real ports', { exact: true })).toBeHidden();
  await line.getByRole('button', { name: 'Choose ports' }).click();
  await expect(page.getByRole('combobox', { name: 'Harrow 8 output' })).toBeVisible();
  await page.keyboard.press('Escape');
  await atPorts(page, () => window.rondoMidi.plug('desk-out', true));
  await expect(line).toBeHidden();
  await expect(page.getByText('real ports', { exact: true })).toBeVisible();
  await atPorts(page, () => window.rondoMidi.plug('desk-out', false));
  await atPorts(page, () => window.rondoMidi.plug('desk-in', false));
  await expect(bind.station('Message')).toContainText('The port from the surface is closed');
  await atPorts(page, () => window.rondoMidi.plug('desk-in', true));
  // Plugged in, it is opened by whoever holds the ports, as the page says.
  await expect(bind.station('Message')).not.toContainText('is closed');
  await play(page, 'desk-in', [0x90, 0x10, 0x00]);
  await expect(bind.station('Message')).toContainText('90 10 00');

  await atPorts(page, () => window.rondoMidi.plug('desk-out', true));
  // Where a device is is known once, for every profile with its surface; a profile may say otherwise for itself.
  await page.getByRole('link', { name: 'All profiles' }).click();
  await page.getByRole('button', { name: 'New from the demo' }).click();
  await expect(page.getByText('real ports', { exact: true })).toBeVisible();
  await expect(async () => {
    await play(page, 'desk-in', [0x90, 0x09, 0x7f], [0x90, 0x09, 0x00]);
    await expect(bind.station('Control')).toContainText('Solo 2', { timeout: 300 });
  }).toPass();
  await page.getByRole('button', { name: 'Ports' }).click();
  await choose(page, 'Harrow 8 input', 'Simulated');
  await page.keyboard.press('Escape');
  await expect(page.getByText('real ports')).toBeHidden();
  await page.reload();
  await expect(bind.desk('solo-1')).toBeVisible();
  await expect(page.getByText('real ports')).toBeHidden();
});

test('a real program behind a virtual port takes part in place of the simulated one', async ({
  bind,
  page,
}) => {
  await bind.withMidi(DESK_AND_CABLES);
  await bind.open();
  await page.getByRole('button', { name: 'Ports' }).click();
  await page.getByRole('button', { name: 'Allow real MIDI ports' }).click();
  await choose(page, 'Studio input', 'Cable B');
  await choose(page, 'Studio output', 'Cable A');
  await page.keyboard.press('Escape');
  // It is asked for everything, and nothing else is sent to a host that has not spoken.
  await expect
    .poll(async () => (await sent(page, 'cable-a')).map(String))
    .toEqual(['240,125,63,247']);

  await bind.hold('encoder-1');
  await page.keyboard.press('ArrowRight');
  await expect(bind.station('State')).toContainText('has not told');

  // The program reports pan of track 1 as controllers 10 and 42; then the encoder has something to start from.
  await play(page, 'cable-b', [0xb0, 10, 64]);
  await play(page, 'cable-b', [0xb0, 42, 0]);
  await expect(bind.station('State')).toContainText('known');
  await page.keyboard.press('ArrowRight');
  await expect.poll(async () => (await sent(page, 'cable-a')).map(String)).toContain('176,10,66');
  await expect(bind.station('State')).toContainText('assumed');
});

for (const [answer, sentence] of [
  ['refused', 'The browser refused MIDI'],
  ['no platform', 'found no MIDI on this computer'],
] as const)
  test(`MIDI ${answer}: a sentence, and the simulation goes on`, async ({ bind, page }) => {
    await bind.withMidi({ ...DESK_AND_CABLES, answer });
    await bind.open();
    await page.getByRole('button', { name: 'Ports' }).click();
    await page.getByRole('button', { name: 'Allow real MIDI ports' }).click();
    await expect(page.getByText(sentence)).toBeVisible();
    await page.keyboard.press('Escape');
    await bind.desk('mute-1').click();
    await expect(bind.host('Mute Narrator')).toHaveAttribute('aria-pressed', 'true');
  });

test('the browser’s own refusal, with no stand-in, is a sentence too', async ({ bind, page }) => {
  await bind.open();
  await page.getByRole('button', { name: 'Ports' }).click();
  await page.getByRole('button', { name: 'Allow real MIDI ports' }).click();
  await expect(page.getByText('The simulation goes on.')).toBeVisible();
});

test('the Ports screen shows what comes, finds an input by touch, and asks who is there', async ({
  bind,
  page,
  server,
}) => {
  await bind.withMidi({
    ...DESK_AND_CABLES,
    inputs: [...DESK_AND_CABLES.inputs, { id: 'twin', name: 'Cable B' }],
    taken: ['twin'],
  });
  await page.goto(`${server.address}/ports`);
  await page.getByRole('button', { name: 'Allow real MIDI ports' }).click();
  const row = (name: string) => page.getByRole('listitem').filter({ hasText: name });
  await expect(row('Cable B (2 of 2)')).toContainText('Another program has it');
  await play(page, 'desk-in', [0xe0, 0x70, 0x7f]);
  await play(page, 'cable-b', [0xf8]);
  await expect(row('Harrow 8 out')).toContainText('Pitch bend 16368, channel 1');
  await expect(row('Harrow 8 out')).toContainText('touched last');
  await expect(row('Cable B (1 of 2)')).toContainText('Clock');

  await row('Harrow 8 in').getByRole('button', { name: 'Ask who it is' }).click();
  await expect.poll(() => sent(page, 'desk-out')).toEqual([[0xf0, 0x7e, 0x7f, 6, 1, 0xf7]]);
  await play(page, 'desk-in', [0xf0, 0x7e, 0, 6, 2, 0x7d, 1, 0, 2, 0, 0, 0, 1, 0, 0xf7]);
  await expect(row('Harrow 8 in')).toContainText('Manufacturer 7d, family 1, member 2');
  await expect(row('Harrow 8 in')).toContainText('answers on Harrow 8 out');
  await row('Cable A').getByRole('button', { name: 'Ask who it is' }).click();
  await expect(row('Cable A')).toContainText('No answer');

  await atPorts(page, () => window.rondoMidi.plug('desk-in', false));
  await expect(page.getByText('touched last')).toBeHidden();
});

test('a worker that dies lets go of what it held, and another takes over', async ({
  bind,
  page,
}) => {
  await bind.withMidi(DESK_AND_CABLES);
  await bind.open();
  await page.getByRole('button', { name: 'Ports' }).click();
  await page.getByRole('button', { name: 'Allow real MIDI ports' }).click();
  await choose(page, 'Studio input', 'Cable B');
  await choose(page, 'Studio output', 'Cable A');
  await page.keyboard.press('Escape');
  await bind.desk('mute-1').click();
  await page.getByRole('button', { name: 'While held' }).click();
  await bind.desk('mute-1').hover();
  await page.mouse.down();
  const last = async () => (await sent(page, 'cable-a')).map(String).at(-1);
  // Track 1 mute is controller 102 on channel 1.
  await expect.poll(last).toBe('176,102,127');

  await page.workers()[0].evaluate(() => {
    setTimeout(() => {
      throw new Error('the engine dies');
    });
  });
  await expect(page.getByText('The engine stopped and was started again')).toBeVisible();
  await expect.poll(async () => (await sent(page, 'cable-a')).map(String)).toContain('176,102,0');
  await page.mouse.up();

  // As soon as the other one has the ports.
  await expect(async () => {
    await play(page, 'cable-b', [0xb0, 103, 127]);
    await expect(bind.desk('solo-1')).toHaveAttribute('aria-pressed', 'true', { timeout: 200 });
  }).toPass();
});

const IDENTITY = [0xf0, 0x7e, 0, 6, 2, 0x7d, 1, 0, 2, 0, 0, 0, 1, 0, 0xf7];
const asked = async (page: Page, port: string) =>
  (await sent(page, port)).filter(([a, b]) => a === 0xf0 && b === 0x7e).length;

test('a surface is known again by who it says it is, under another port name', async ({
  bind,
  page,
}) => {
  await bind.withMidi({
    ...DESK_AND_CABLES,
    inputs: [...DESK_AND_CABLES.inputs, { id: 'new-in', name: 'Port 7' }],
    outputs: [...DESK_AND_CABLES.outputs, { id: 'new-out', name: 'Port 8' }],
    absent: ['new-in', 'new-out'],
  });
  await bind.open();
  await page.getByRole('button', { name: 'Ports' }).click();
  await page.getByRole('button', { name: 'Allow real MIDI ports' }).click();
  await choose(page, 'Harrow 8 input', 'Harrow 8 out');
  await choose(page, 'Harrow 8 output', 'Harrow 8 in');
  await expect.poll(() => asked(page, 'desk-out')).toBe(1);
  await play(page, 'desk-in', IDENTITY);
  // It comes back at another socket, with other names.
  await atPorts(page, () => {
    window.rondoMidi.plug('desk-in', false);
    window.rondoMidi.plug('desk-out', false);
    window.rondoMidi.plug('new-in', true);
    window.rondoMidi.plug('new-out', true);
  });
  await expect.poll(() => asked(page, 'new-out')).toBeGreaterThan(0);
  await play(page, 'new-in', IDENTITY);
  await expect(page.getByRole('combobox', { name: 'Harrow 8 output' })).toContainText('Port 8');
  await expect(page.getByRole('combobox', { name: 'Harrow 8 input' })).toContainText('Port 7');
  await expect
    .poll(async () => (await sent(page, 'new-out')).filter(([s]) => s === 0xe0).length)
    .toBeGreaterThan(0);
});

test('an output is found by lighting a lamp on one after another, without any note', async ({
  bind,
  page,
}) => {
  await bind.withMidi(DESK_AND_CABLES);
  await bind.open();
  await page.getByRole('link', { name: 'Ports' }).click();
  await page.getByRole('button', { name: 'Allow real MIDI ports' }).click();
  await page.getByRole('button', { name: 'Light it on each output' }).first().click();
  await expect(page.getByText('Harrow 8 in: did Display 1')).toBeVisible();
  await page.getByRole('button', { name: 'No, next' }).click();
  await expect(page.getByText('Cable A: did Display 1')).toBeVisible();
  const isNote = ([status]: number[]) => (status & 0xe0) === 0x80;
  for (const port of ['desk-out', 'cable-a']) {
    const messages = await sent(page, port);
    expect(messages.length).toBeGreaterThan(0);
    expect(messages.filter(isNote)).toEqual([]);
  }
  await page.getByRole('button', { name: 'Yes, that one' }).click();
  await expect(page.getByRole('combobox', { name: 'Harrow 8 output' })).toContainText('Cable A');
});

test('the screen of the ports, loaded again, opens the profile that was used last', async ({
  bind,
  page,
}) => {
  await bind.open();
  await page.getByRole('link', { name: 'Ports' }).click();
  await expect(page.getByRole('combobox', { name: 'Harrow 8 input' })).toBeVisible();
  await page.reload();
  await page.getByRole('button', { name: 'Open the one used last' }).click();
  await expect(page.getByRole('combobox', { name: 'Harrow 8 input' })).toBeVisible();
  await page.getByRole('link', { name: 'Bind' }).click();
  await bind.settled(1, 'Volume of Narrator');
});

test('notes that are to be played fire no command, and the round says so', async ({
  bind,
  page,
}) => {
  await bind.open();
  await page.getByRole('link', { name: 'Ports' }).click();
  await page.getByRole('button', { name: 'Add notes to be played' }).first().click();
  await page.getByLabel('From note').fill('16');
  await page.getByLabel('From note').press('Enter');
  await page.getByLabel('To note').fill('17');
  await page.getByLabel('To note').press('Enter');
  // Of a desk that has no keys it is said which of its buttons do nothing else now.
  await expect(
    page.getByText('Played too, so that they do nothing else: Mute 1, Mute 2.'),
  ).toBeVisible();
  await page.getByRole('link', { name: 'Bind' }).click();
  await bind.desk('mute-1').click();
  await expect(bind.station('Message')).toContainText('This note is for playing');
  await expect(bind.host('Mute Narrator')).toHaveAttribute('aria-pressed', 'false');
  await bind.desk('mute-3').click();
  await expect(bind.host('Mute Foghorn')).toHaveAttribute('aria-pressed', 'true');
});

test('who a device says it is is written into a surface of one’s own', async ({
  bind,
  page,
  server,
}) => {
  await bind.withMidi(DESK_AND_CABLES);
  await page.goto(`${server.address}/surfaces`);
  await page.getByRole('button', { name: 'Copy Treadle' }).click();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.getByRole('link', { name: 'Ports' }).click();
  await page.getByRole('button', { name: 'Allow real MIDI ports' }).click();
  const row = page.getByRole('listitem').filter({ hasText: 'Harrow 8 in' });
  await row.getByRole('button', { name: 'Ask who it is' }).click();
  await expect.poll(() => asked(page, 'desk-out')).toBe(1);
  await play(page, 'desk-in', IDENTITY);
  await choose(page, 'Which surface is behind Harrow 8 in', 'My Treadle');
  await expect(row).toContainText('It is My Treadle.');
  await page.getByRole('link', { name: 'Surfaces' }).click();
  await page.getByRole('link', { name: 'My Treadle' }).click();
  await page.getByRole('button', { name: 'Device', exact: true }).click();
  await expect(page.getByText('Manufacturer 7d, family 1, member 2.')).toBeVisible();
});

test('a surface whose lamps are notes is lit only where the user says so', async ({
  bind,
  page,
}) => {
  await bind.withMidi(DESK_AND_CABLES);
  await bind.open();
  await page.getByRole('button', { name: 'Surfaces' }).click();
  await page.getByRole('combobox', { name: 'Add a surface' }).click();
  await page.getByRole('option', { name: '16 pads' }).click();
  await page.keyboard.press('Escape');
  await page.getByRole('link', { name: 'Ports' }).click();
  await page.getByRole('button', { name: 'Allow real MIDI ports' }).click();
  await expect(page.getByText('which a synth would play')).toBeVisible();
  await page.getByRole('button', { name: 'Cable A', exact: true }).click();
  await expect(page.getByText('Cable A: did Pad 1')).toBeVisible();
  // The ports have a process of their own: what is sent is there a moment later.
  await expect.poll(() => sent(page, 'cable-a')).toEqual([[0x90, 36, 127]]);
  expect(await sent(page, 'desk-out')).toEqual([]);
  await page.getByRole('button', { name: 'No, next' }).click();
  await expect(page.getByText('No output woke it.')).toBeVisible();
  await expect.poll(async () => (await sent(page, 'cable-a')).at(-1)).toEqual([0x90, 36, 0]);
});

test('ports that were chosen and are not allowed yet are one click away from it', async ({
  bind,
  page,
}) => {
  await bind.withMidi(DESK_AND_CABLES);
  await page.addInitScript(() => {
    if (top !== window) return;
    localStorage.setItem(
      'rondo.session.nine-ferries-mix',
      JSON.stringify({
        bank: 0,
        ports: {
          'surface:desk': {
            real: true,
            input: { id: 'desk-in', name: 'Harrow 8 out' },
            output: { id: 'desk-out', name: 'Harrow 8 in' },
          },
        },
      }),
    );
    // As a browser that has never been asked.
    Object.defineProperty(navigator.permissions, 'query', {
      value: () => Promise.resolve({ state: 'prompt' }),
    });
  });
  await bind.openAny('nine-ferries-mix');
  const line = page.getByRole('alert').filter({ hasText: 'has not been asked for MIDI' });
  await expect(line).toContainText('Harrow 8');
  await expect(page.getByText('not allowed yet', { exact: true })).toBeVisible();
  await line.getByRole('button', { name: 'Allow real MIDI ports' }).click();
  await expect(line).toBeHidden();
  await expect(page.getByText('real ports', { exact: true })).toBeVisible();
});

test('surfaces on one input each see their own messages, and it is said what neither sends', async ({
  bind,
  page,
  server,
}) => {
  await bind.withMidi({
    answer: 'granted',
    inputs: [{ id: 'one', name: 'One cable' }],
    outputs: [],
  });
  await page.goto(`${server.address}/profiles`);
  await page.getByRole('button', { name: 'New profile' }).click();
  for (const name of [/^Burrow 14/, /^25 keys/, /^Studio A/])
    await page.getByRole('button', { name }).click();
  await page.getByRole('button', { name: 'Make it' }).click();
  await page.getByRole('button', { name: /^Take \d+ bindings/ }).click();
  await page.getByRole('button', { name: 'Ports' }).click();
  await page.getByRole('button', { name: 'Allow real MIDI ports' }).click();
  for (const name of ['Burrow 14', '25 keys']) await choose(page, `${name} input`, 'One cable');
  await page.keyboard.press('Escape');
  const message = bind.station('Message');
  // A knob of the box, then the wheel of the keys: the other surface has nothing to say to either.
  for (const [bytes, control, text] of [
    [[0xb0, 14, 5], 'Knob 1', 'Controller 14: 5'],
    [[0xb0, 1, 7], 'Modulation wheel', 'Controller 1: 7'],
  ] as const) {
    await play(page, 'one', [...bytes]);
    await expect(bind.station('Control')).toContainText(control);
    await expect(message).toContainText(text);
    await expect(message).not.toContainText('no control');
  }
  await play(page, 'one', [0xb3, 9, 1]);
  await expect(message).toContainText('no control of it sends that');
});
