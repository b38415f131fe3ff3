import type { Browser, BrowserContext, CDPSession, Page } from '@playwright/test';
import { LEAST_TEXT, faults } from './faults';
import { choose, expect, test, type Bench } from './rondo';

/** Switches the network on, shows a surface on glass and lets a tablet in. */
async function onGlass(
  bind: Bench,
  browser: Browser,
  surface: string,
  size = { width: 1180, height: 820 },
): Promise<{ glass: Page; context: BrowserContext }> {
  const { page } = bind;
  await page.getByRole('link', { name: 'Ports' }).click();
  const network = page.getByRole('switch', { name: /Other devices of the network/ });
  await expect(network).toBeVisible();
  if (!(await network.isChecked())) await network.click();
  await choose(page, 'Surface to show on glass', surface);
  const address = (await page.locator('rondo-glass-panel .code b').first().textContent()) ?? '';
  await expect(page.getByRole('img', { name: 'The address as a code for a camera' })).toBeVisible();
  const context = await browser.newContext({ viewport: size, hasTouch: true });
  const glass = await context.newPage();
  await glass.goto(address.trim().replace(/\/\/[^:]+:/, '//127.0.0.1:'));
  await expect(glass.locator('#stage svg')).toBeVisible();
  // A code is good once, and is not shown as good afterwards.
  await expect(page.getByText('This code has been used')).toBeVisible();
  return { glass, context };
}
const part = (glass: Page, id: string) => glass.locator(`#stage g[data-id="${id}"]`);
async function middle(glass: Page, id: string): Promise<{ x: number; y: number }> {
  const box = (await part(glass, id).boundingBox())!;
  return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
}
const touches = async (glass: Page): Promise<CDPSession> => glass.context().newCDPSession(glass);
const finger = (
  cdp: CDPSession,
  type: 'touchStart' | 'touchMove' | 'touchEnd',
  ...points: { x: number; y: number; id: number }[]
) => cdp.send('Input.dispatchTouchEvent', { type, touchPoints: points });

test('a tablet shows a surface and plays it: fingers reach the program, lamps and faders follow, and it comes again by itself', async ({
  bind,
  browser,
  page,
}) => {
  await bind.open();
  const { glass, context } = await onGlass(bind, browser, 'Harrow 8');
  // The code is good once, and neither address nor history keeps it.
  expect(new URL(glass.url()).hash).toBe('');
  await page.getByRole('link', { name: 'Bind' }).click();
  const mute = await middle(glass, 'mute-1');
  await glass.touchscreen.tap(mute.x, mute.y);
  await expect(bind.host('Mute Narrator')).toHaveAttribute('aria-pressed', 'true');
  await expect(part(glass, 'mute-1')).toHaveClass(/lit/);

  // What the program does is seen on the tablet, as text too.
  await expect(glass.locator('#stage .says', { hasText: 'Narrtr' })).toBeVisible();
  // Its tape says what each does, as the bank has it now.
  await expect(glass.locator('#stage .name', { hasText: 'Narrator' }).first()).toBeVisible();
  await bind.host('Mute Ferryman').click();
  await expect(part(glass, 'mute-2')).toHaveClass(/lit/);

  // Two fingers at once, each with its own fader, grabbed anywhere.
  const volume = (name: string) => bind.host(`Volume of ${name}`);
  const before = Number(await volume('Narrator').getAttribute('aria-valuenow'));
  const [one, two] = [await middle(glass, 'fader-1'), await middle(glass, 'fader-3')];
  const cdp = await touches(glass);
  await finger(cdp, 'touchStart', { ...one, id: 1 }, { ...two, id: 2 });
  await finger(
    cdp,
    'touchMove',
    { ...one, y: one.y - 60, id: 1 },
    { ...two, y: two.y - 300, id: 2 },
  );
  await expect
    .poll(async () => Number(await volume('Narrator').getAttribute('aria-valuenow')))
    .toBeGreaterThan(before);
  await expect(volume('Foghorn')).toHaveAttribute('aria-valuenow', '100');
  await finger(cdp, 'touchEnd');

  // Loaded again it goes by what it remembers, and shows everything at once.
  await glass.reload();
  await expect(part(glass, 'mute-1')).toHaveClass(/lit/);
  await page.getByRole('link', { name: 'Ports' }).click();
  const devices = page.getByRole('list', { name: 'Devices that were let in' });
  await expect(devices).toContainText('here now');
  await devices.getByRole('button', { name: /Send/ }).click();
  await expect(glass.locator('#word')).toContainText('sent away');
  await expect(devices).toHaveCount(0);
  await context.close();
});

test('fingers that are down when the link breaks, or the page is hidden, let go', async ({
  bind,
  browser,
  page,
}) => {
  await bind.open();
  const { glass, context } = await onGlass(bind, browser, 'Harrow 8');
  await page.getByRole('link', { name: 'Bind' }).click();
  const solo = await middle(glass, 'solo-1');
  const cdp = await touches(glass);
  const pressed = page.locator('rondo-surface-drawing g[data-id="solo-1"]');
  await finger(cdp, 'touchStart', { ...solo, id: 1 });
  await expect(pressed).toHaveClass(/down/);
  await context.close();
  await expect(pressed).not.toHaveClass(/down/);
});

test('in portrait a panel is played part by part; another profile is said; the network off, it waits', async ({
  bind,
  browser,
  page,
}) => {
  await bind.open();
  const { glass, context } = await onGlass(bind, browser, 'Harrow 8', { width: 390, height: 844 });
  const bar = glass.locator('#bar');
  await expect(bar.getByRole('button', { name: 'Part 1 of the panel' })).toHaveAttribute(
    'aria-current',
    'true',
  );
  const box = (await bar.boundingBox())!;
  await glass.mouse.move(box.x + 300, box.y + 20);
  await glass.mouse.down();
  await glass.mouse.move(box.x + 100, box.y + 20);
  await glass.mouse.up();
  await expect(bar.getByRole('button', { name: 'Part 2 of the panel' })).toHaveAttribute(
    'aria-current',
    'true',
  );
  // Keys are large enough for fingers (WCAG 2.2, 2.5.8).
  const key = (await part(glass, 'mute-1').boundingBox())!;
  expect(Math.min(key.width, key.height)).toBeGreaterThan(24);
  for (const [width, height] of [
    [1180, 820],
    [844, 390],
    [390, 844],
  ] as const) {
    await glass.setViewportSize({ width, height });
    await expect.poll(() => glass.evaluate(faults, LEAST_TEXT)).toEqual([]);
  }
  await glass.getByRole('button', { name: 'How it plays' }).click();
  await expect(glass.locator('#sheet')).toContainText('not encrypted');
  await glass.getByLabel('jump to the finger').check();

  await bind.openAny('neap-rink');
  await expect(glass.locator('#word')).toContainText('no such surface');
  await page.getByRole('link', { name: 'Ports' }).click();
  await page.getByRole('switch', { name: /Other devices of the network/ }).click();
  await expect(glass.locator('#word')).toContainText('Rondo is away');
  await context.close();
});
