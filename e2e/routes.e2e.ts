import type { Page } from '@playwright/test';
import { DESK_AND_CABLES, choose, expect, play, sent, test } from './rondo';

const from = (page: Page, name: string) =>
  page.getByRole('region', { name: `Routes from ${name}` });

test('one controller drives two programs: a route is added, narrowed in words, shown by its band and taken back', async ({
  bind,
  page,
}) => {
  await bind.open();
  await page.getByRole('link', { name: 'Ports' }).click();
  const harrow = from(page, 'Harrow 8');
  await expect(harrow).toContainText('What nothing is bound to ends here.');
  await choose(page, 'Add a route from Harrow 8 to', 'Studio');
  await expect(harrow).toContainText('to Studio, only notes, controllers');
  await harrow.getByRole('switch', { name: 'controllers' }).uncheck();
  await harrow.getByRole('switch', { name: 'SysEx' }).uncheck();
  await harrow.getByRole('button', { name: '10', exact: true }).click();
  const up = harrow.getByRole('spinbutton', { name: 'Transpose' });
  await up.fill('12');
  await up.press('Tab');
  await choose(page, 'As channel', '3');
  await expect(harrow).toContainText(
    'to Studio, only notes, programs, pitch bend and pressure on channel 10; 12 semitones up; all as channel 3',
  );
  await expect(harrow).toContainText('unless a binding passes it on');
  await expect(harrow.locator('rondo-route-bands path')).toHaveCount(1);

  await choose(page, 'Add a route from Harrow 8 to', 'Treadle');
  await harrow.getByRole('switch', { name: 'only what no other line takes' }).check();
  await expect(harrow).toContainText('to Treadle, only notes, controllers');
  await expect(harrow).toContainText('that no other line takes');
  await expect(harrow.locator('rondo-route-bands path')).toHaveCount(2);

  // Where messages would go round it is refused, with the way.
  await choose(page, 'Add a route from Treadle to', 'Harrow 8');
  const treadle = from(page, 'Treadle');
  await expect(treadle.getByRole('alert')).toContainText('Treadle → Harrow 8 → Treadle');
  await expect(treadle).toContainText('to Harrow 8, only what a binding passes on');
  await treadle.getByRole('switch', { name: 'notes' }).click();
  await expect(treadle.getByRole('switch', { name: 'notes' })).not.toBeChecked();
  await treadle.getByRole('switch', { name: 'clock, start and stop' }).check();
  await expect(treadle.getByRole('alert')).toHaveCount(0);
  await treadle.getByRole('button', { name: 'None of them' }).click();
  await expect(treadle).toContainText('to Harrow 8, only what a binding passes on');
  await treadle.getByRole('switch', { name: 'clock, start and stop' }).check();
  await expect(treadle).toContainText('to Harrow 8, only clock, start and stop');

  // It is all in the profile: a reload keeps it, undo takes it back step by step.
  await bind.open();
  await page.getByRole('link', { name: 'Ports' }).click();
  await expect(treadle).toContainText('to Harrow 8, only clock, start and stop');
  await treadle.getByRole('button', { name: 'Change the route from Treadle to Harrow 8' }).click();
  await treadle.getByRole('button', { name: 'Remove this route' }).click();
  await expect(treadle).toContainText('What nothing is bound to ends here.');
  await page.getByRole('link', { name: 'Bind' }).click();
  await page.keyboard.press('Control+z');
  await page.getByRole('link', { name: 'Ports' }).click();
  await expect(treadle).toContainText('to Harrow 8, only clock, start and stop');
});

test('a port that another program has to itself is explained, and a route past it is one click away', async ({
  bind,
  page,
}) => {
  await bind.withMidi({ ...DESK_AND_CABLES, taken: ['desk-in'] });
  await bind.open();
  await page.getByRole('link', { name: 'Ports' }).click();
  await page.getByRole('button', { name: 'Allow real MIDI ports' }).click();
  const harrow = from(page, 'Harrow 8');
  const past = harrow.getByRole('button', { name: 'Route it to Studio' });
  await expect(harrow).toContainText('What nothing is bound to ends here.');
  await expect(past).toHaveCount(0);
  await choose(page, 'Harrow 8 input', 'Harrow 8 out');
  await expect(harrow).toContainText('Another program has its port to itself.');
  await past.click();
  await expect(harrow).toContainText('to Studio, only notes');
  // What is proposed is done: it is not proposed again.
  await expect(past).toHaveCount(0);
});

test('what nothing is bound to goes on to a real port, with its clock and how even that is; a note ends where it began', async ({
  bind,
  page,
}) => {
  await bind.withMidi(DESK_AND_CABLES);
  await bind.open();
  await page.getByRole('link', { name: 'Ports' }).click();
  await page.getByRole('button', { name: 'Allow real MIDI ports' }).click();
  await choose(page, 'Harrow 8 input', 'Harrow 8 out');
  await choose(page, 'Studio output', 'Cable A');
  await choose(page, 'Add a route from Harrow 8 to', 'Studio');
  const harrow = from(page, 'Harrow 8');
  await harrow.getByRole('switch', { name: 'clock, start and stop' }).check();
  const up = harrow.getByRole('spinbutton', { name: 'Transpose' });
  await up.fill('12');
  await up.press('Tab');
  await expect(harrow).toContainText('everything; 12 semitones up');
  const heard = async () => (await sent(page, 'cable-a')).map(String);
  await play(page, 'desk-in', [0x95, 60, 100]);
  await expect.poll(heard).toContain('149,72,100');
  await up.fill('24');
  await up.press('Tab');
  await expect.poll(heard).toContain('149,72,0');
  const ticks = async () => (await heard()).filter((one) => one === '248').length;
  await play(page, 'desk-in', ...Array.from({ length: 24 }, () => [0xf8]));
  await expect.poll(ticks).toBe(24);
  // A clock is told as long as it runs.
  await expect
    .poll(
      async () => {
        await play(page, 'desk-in', [0xf8]);
        return harrow.innerText();
      },
      { intervals: [50] },
    )
    .toMatch(/Clock [\d.]+ bpm.* of jitter/);
  await expect(harrow).not.toContainText('of jitter');
});
