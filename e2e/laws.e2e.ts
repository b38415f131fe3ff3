import { AxeBuilder } from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { LEAST_TEXT, faults } from './faults';
import { expect, test, type Server } from './rondo';

/*
 * What holds on every screen, asked of the page itself: what looks as if it could be clicked gets its click, Panic is
 * in sight, nothing is out of reach, no text is too small to read, and a general checker finds nothing amiss.
 */

const SIZES = [
  [1280, 800],
  [1920, 1080],
  [1024, 768],
  [768, 1024],
] as const;
const SCREENS = [
  '/profiles',
  '/profiles/new',
  '/bind/nine-ferries-mix',
  '/bind/far-shore?propose',
  '/bind/nine-ferries-mix?versions',
  '/bind/nine-ferries-mix?set-ups',
  '/bind/neap-rink',
  '/bind/far-shore',
  '/lights/nine-ferries-mix',
  '/surfaces',
  '/surfaces/new',
  '/hosts',
  '/hosts/placard',
  '/ports',
] as const;

/** Opens a screen with a profile open, so that all of the rail is there. */
async function visit(page: Page, server: Server, path: string): Promise<void> {
  await page.goto(`${server.address}/bind/nine-ferries-mix`);
  await expect(page.locator('g[data-id="fader-1"]')).toHaveAttribute('aria-valuenow', /^[1-9]/);
  if (path === '/bind/nine-ferries-mix') return;
  const panel = /\?([\w-]+)$/.exec(path)?.[1];
  if (panel) {
    if (!path.includes('nine-ferries')) {
      await page.goto(server.address + path.split('?')[0]);
      await expect(page.locator('g[data-id]').first()).toBeVisible();
    }
    await page.getByRole('button', { name: new RegExp(`^${panel}$`, 'i') }).click();
    await expect(page.locator(`rondo-${panel}-panel`).getByRole('button').nth(1)).toBeVisible();
    return;
  }
  if (path === '/profiles/new') {
    await page.getByRole('link', { name: 'All profiles' }).click();
    await page.getByRole('button', { name: 'New profile' }).click();
    await expect(page.getByRole('button', { name: /^Harrow 8 Motor/ })).toBeVisible();
    return;
  }
  if (path.startsWith('/bind/')) {
    await page.goto(server.address + path);
    await expect(page.locator('g[data-id]').first()).toBeVisible();
    return;
  }
  if (path === '/hosts/placard') {
    await page.getByRole('link', { name: 'Hosts' }).click();
    await page.getByRole('link', { name: 'Placard' }).click();
    await expect(page.getByRole('table')).toBeVisible();
    return;
  }
  if (path === '/surfaces/new') {
    // The workshop, with a control in hand: its fields are the most that stands there.
    await page.getByRole('link', { name: 'Surfaces' }).click();
    await page.getByRole('button', { name: 'Copy Burrow 14' }).click();
    await page.getByRole('button', { name: /^Fader 1, fader/ }).click();
    return;
  }
  await page
    .getByRole('navigation', { name: 'Screens' })
    .getByRole('link', { name: path.split('/')[1], exact: false })
    .last()
    .click();
  await expect(page).toHaveURL(new RegExp(path));
  await expect(page.getByRole('heading').first()).toBeVisible();
}

// Web Content Accessibility Guidelines 2.2, A and AA, as far as axe can tell.
const TAGS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'];

/** Axe itself leaves this off unless its tag is asked for: short forms on keys are not in their whole names. */
const EXPERIMENTAL = 'label-content-name-mismatch';

/** What Tab stops at although it has stopped at what holds it: the same thing twice. What only scrolls is no such thing. */
const stopsWithin = (): string[] =>
  [...document.querySelectorAll<HTMLElement | SVGElement>('*')]
    .filter((one) => one.tabIndex >= 0)
    .flatMap((one) => {
      const outer = one.parentElement?.closest('button, a[href], [tabindex]:not([tabindex^="-"])');
      return outer ? [`${one.outerHTML.slice(0, 80)} in ${outer.outerHTML.slice(0, 80)}`] : [];
    });

/** Controls of drawings and pictures stand to scale: each can be made larger as a whole (WCAG 2.5.8, equivalent). */
const TO_SCALE = /rondocontrol|data-address|data-id/i;

for (const path of SCREENS)
  test(`at every size all that looks playable gets its click, all text can be read, and a general checker finds nothing that keeps people out: ${path}`, async ({
    page,
    server,
  }) => {
    // Colours on their way from one theme to the other are none that anybody reads.
    await page.emulateMedia({ reducedMotion: 'reduce' });
    await visit(page, server, path);
    for (const [width, height] of SIZES) {
      await page.setViewportSize({ width, height });
      await expect.poll(() => page.evaluate(() => innerWidth)).toBe(width);
      const panic = page.getByRole('button', { name: 'Panic' });
      await expect(panic, `Panic at ${width}×${height}`).toBeInViewport({ ratio: 1 });
      await expect
        .poll(() => page.evaluate(faults, LEAST_TEXT), { message: `${path} at ${width}×${height}` })
        .toEqual([]);
    }
    expect(await page.evaluate(stopsWithin), 'Tab stops within Tab stops').toEqual([]);
    const [[width, height]] = SIZES;
    await page.setViewportSize({ width, height });
    await expect.poll(() => page.evaluate(() => innerWidth)).toBe(width);
    for (const to of ['Booth light', 'Daylight']) {
      await page.getByRole('button', { name: to }).click();
      const axe = new AxeBuilder({ page });
      // The themes differ in their colours and in nothing else: those are asked in both, all else once.
      const { violations } = await (
        to === 'Daylight'
          ? axe.withTags(TAGS).disableRules(EXPERIMENTAL)
          : axe.withRules(['color-contrast'])
      ).analyze();
      const said = violations.flatMap(({ id, nodes }) =>
        nodes
          .filter(({ html }) => id !== 'target-size' || !TO_SCALE.test(html))
          .map(({ html }) => `${id}: ${html.slice(0, 160)}`),
      );
      expect(said, `${path} after ${to}`).toEqual([]);
    }
  });
