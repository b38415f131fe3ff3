import type { MidiPlan } from '../web/testing/web-midi';
import { atPorts, expect, test } from './rondo';

test('what the last binding offers is gone once another edit was made, or it was undone', async ({
  bind,
  page,
}) => {
  await bind.open();
  const rebind = async (what: string) => {
    await bind.clickAt(bind.fader(1));
    await page.keyboard.press('/');
    await page.getByRole('combobox', { name: 'Find a function' }).fill(what);
    await page.keyboard.press('Enter');
  };
  const both = page.getByRole('button', { name: 'Keep both' });
  await rebind('volume choir');
  await expect(both).toBeVisible();
  const name = page.getByRole('textbox', { name: 'Name of the profile' });
  await name.fill('Another edit');
  await name.press('Enter');
  await expect(both).toBeHidden();
  await rebind('volume piano');
  await expect(both).toBeVisible();
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(both).toBeHidden();
  await expect(name).toHaveValue('Another edit');
});

test('with several hosts each line of the finder says whose function it is', async ({
  bind,
  page,
}) => {
  await bind.openAny('far-shore');
  await bind.desk('function-2').click();
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'Find a function' }).fill('volume');
  const lines = page.getByRole('listbox', { name: 'Functions' }).getByRole('option');
  await expect(lines.first()).toContainText(/(Program|Lantern): /);
});

test('a profile that is deleted while it is open plays no more', async ({ bind, page }) => {
  const plan: MidiPlan = {
    answer: 'granted',
    inputs: [{ id: 'desk-in', name: 'Desk' }],
    outputs: [
      { id: 'desk-out', name: 'Desk' },
      { id: 'studio', name: 'Cable' },
    ],
  };
  await bind.withMidi(plan);
  await bind.open();
  await page.getByRole('button', { name: 'Ports' }).click();
  await page.getByRole('button', { name: 'Allow real MIDI ports' }).click();
  for (const [what, port] of [
    ['Harrow 8 input', 'Desk'],
    ['Harrow 8 output', 'Desk'],
    ['Studio output', 'Cable'],
  ]) {
    await page.getByRole('combobox', { name: what }).click();
    await page.getByRole('option', { name: port, exact: true }).click();
    await expect(page.getByRole('option', { name: port, exact: true })).toBeHidden();
  }
  await page.keyboard.press('Escape');
  const touch = () =>
    atPorts(page, () => {
      window.rondoMidi.play('desk-in', [0x90, 0x68, 127]);
      window.rondoMidi.play('desk-in', [0xe0, 0, 70]);
      window.rondoMidi.play('desk-in', [0xe0, 0, 10]);
    });
  const told = () => atPorts(page, () => (window.rondoMidi.sent['studio'] ?? []).length);
  await touch();
  await expect.poll(told).toBeGreaterThan(0);
  await page
    .getByRole('navigation', { name: 'Screens' })
    .getByRole('link', { name: 'Profiles', exact: true })
    .click();
  await page
    .getByRole('listitem')
    .filter({ hasText: 'Nine Ferries' })
    .getByRole('button', { name: 'Delete' })
    .click();
  await expect(page.getByText('is deleted.')).toBeVisible();
  await expect(page.getByRole('link', { name: 'Bind' })).toBeHidden();
  // What was held is let go; then nothing that the desk says goes anywhere.
  await expect
    .poll(() =>
      atPorts(page, () => window.rondoMidi.sent['desk-out']?.filter(([s]) => s === 0xf0).length),
    )
    .toBeGreaterThan(0);
  const before = await told();
  await touch();
  await page.getByRole('link', { name: 'Neap Rink' }).click();
  await expect(page.locator('g[data-id]').first()).toBeVisible();
  expect(await told()).toBe(before);
});

test('two ports of one name are told apart where they are chosen, and never taken for each other', async ({
  bind,
  page,
}) => {
  await bind.withMidi({
    answer: 'granted',
    inputs: [
      { id: 'one', name: 'Desk' },
      { id: 'two', name: 'Desk' },
    ],
    outputs: [],
  });
  await bind.open();
  await page.getByRole('button', { name: 'Ports' }).first().click();
  await page.getByRole('button', { name: 'Allow real MIDI ports' }).click();
  await page.getByRole('combobox', { name: 'Harrow 8 input' }).click();
  await page.getByRole('option', { name: 'Desk (2 of 2)' }).click();
  await page.keyboard.press('Escape');
  const moved = () => bind.valueOf(bind.desk('fader-1'));
  await atPorts(page, () => window.rondoMidi.play('two', [0xe0, 0, 127]));
  await expect.poll(moved).toBeGreaterThan(1000);
  await atPorts(page, () => window.rondoMidi.plug('two', false));
  await atPorts(page, () => window.rondoMidi.play('one', [0xe0, 0, 10]));
  await page.getByRole('button', { name: 'Ports' }).first().click();
  await expect(page.getByRole('combobox', { name: 'Harrow 8 input' })).toContainText(
    'not plugged in',
  );
  expect(await moved()).toBeGreaterThan(1000);
});

test('the tempo of a clock is gone once the clock has stopped', async ({ bind, page }) => {
  await bind.withMidi({
    answer: 'granted',
    inputs: [{ id: 'desk-in', name: 'Desk' }],
    outputs: [],
  });
  await bind.open();
  await page.getByRole('link', { name: 'Ports' }).click();
  await page.getByRole('button', { name: 'Allow real MIDI ports' }).click();
  const desk = page.getByRole('group', { name: 'Harrow 8', exact: true });
  await desk.getByRole('combobox', { name: 'Harrow 8 input' }).click();
  await page.getByRole('option', { name: 'Desk' }).click();
  await page.getByRole('switch', { name: 'Its clock is the one to follow' }).first().check();
  await page.getByRole('link', { name: 'Bind' }).click();
  await atPorts(page, () => {
    let ticks = 0;
    const timer = setInterval(() => {
      window.rondoMidi.play('desk-in', [0xf8]);
      if (++ticks === 60) clearInterval(timer);
    }, 20);
  });
  await expect(page.getByText(/^Clock \d/)).toBeVisible();
  await expect(page.getByText(/^Clock \d/)).toBeHidden();
});

test('a browser that keeps nothing shows no blank page, and what is chosen lasts as long as the page', async ({
  page,
  bind,
}) => {
  await page.addInitScript(() => {
    for (const store of ['localStorage', 'sessionStorage'])
      Object.defineProperty(window, store, {
        get: () => {
          throw new DOMException('Storage is blocked', 'SecurityError');
        },
      });
  });
  await bind.open();
  await bind.desk('mute-1').click();
  await expect(page.locator('rondo-round')).toContainText('Mute');
  const html = page.locator('html');
  await page.emulateMedia({ colorScheme: 'dark' });
  await expect(html).toHaveClass(/booth/);
  // What was not chosen goes on following the system.
  await page.emulateMedia({ colorScheme: 'light' });
  await expect(html).not.toHaveClass(/booth/);
});

test('while an input method composes, Enter takes its word and chooses nothing', async ({
  page,
  bind,
}) => {
  await bind.open();
  await bind.desk('function-3').click();
  await page.keyboard.press('/');
  const field = page.getByRole('combobox', { name: 'Find a function' });
  await field.fill('save');
  await expect(page.getByRole('listbox').getByRole('option').first()).toBeVisible();
  for (const key of ['Enter', 'Escape'])
    await field.evaluate(
      (input, pressed) =>
        input.dispatchEvent(
          new KeyboardEvent('keydown', {
            key: pressed,
            isComposing: true,
            bubbles: true,
            cancelable: true,
          }),
        ),
      key,
    );
  await expect(field).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(field).toBeHidden();
});
