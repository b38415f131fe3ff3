import { AxeBuilder } from '@axe-core/playwright';
import type { Page } from '@playwright/test';
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
  '/hosts/lantern',
  '/ports',
] as const;
/** Nothing to read is smaller, in pixels. */
const LEAST_TEXT = 10;

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
  if (path === '/hosts/lantern') {
    await page.getByRole('link', { name: 'Hosts' }).click();
    await page.getByRole('link', { name: 'Lantern' }).click();
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

/** What looks as if it could be clicked and does not get its click at its middle, and texts that nobody can read. */
function faults(least: number): string[] {
  const playable =
    'button, a[href], select, input, [role=button], [role=slider], [role=tab], [role=switch], [role=checkbox], [role=radio]';
  const name = (e: Element) => (e.getAttribute('aria-label') ?? e.textContent).trim().slice(0, 40);
  const found: string[] = [];
  const gets = (e: Element) => {
    const box = e.getBoundingClientRect();
    const hit = document.elementFromPoint(box.left + box.width / 2, box.top + box.height / 2);
    return hit && (e.contains(hit) || hit.contains(e) || hit.closest('label')?.contains(e));
  };
  for (const e of document.querySelectorAll<HTMLButtonElement>(playable)) {
    const box = e.getBoundingClientRect();
    const style = getComputedStyle(e);
    if (box.width < 4 || box.height < 4 || e.disabled || style.pointerEvents === 'none') continue;
    if (style.visibility === 'hidden' || e.closest('.visually-hidden')) continue;
    if (gets(e)) continue;
    // It may be further down a list that is scrolled.
    e.scrollIntoView({ block: 'nearest', inline: 'nearest' });
    if (!gets(e)) found.push(`no click gets to: ${name(e)}`);
  }
  const texts = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  for (let text = texts.nextNode(); text; text = texts.nextNode()) {
    const e = text.parentElement as Element;
    const box = e.getBoundingClientRect();
    if (!text.textContent?.trim() || box.width < 2 || e.closest('.visually-hidden')) continue;
    const matrix = (e as SVGGraphicsElement).getScreenCTM?.();
    const scale = matrix ? Math.hypot(matrix.a, matrix.b) : 1;
    const size = parseFloat(getComputedStyle(e).fontSize) * scale;
    if (size < least - 0.05) found.push(`${size.toFixed(1)} px: ${text.textContent.trim()}`);
  }
  const { scrollWidth, clientWidth } = document.documentElement;
  if (scrollWidth > clientWidth) found.push('the page is wider than its window');
  return found;
}

for (const path of SCREENS)
  test(`at every size all that looks playable gets its click, and all text can be read: ${path}`, async ({
    page,
    server,
  }) => {
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
  });

// Web Content Accessibility Guidelines 2.2, A and AA, as far as axe can tell.
const TAGS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'];

/** Axe itself leaves this off unless its tag is asked for: short forms on keys are not in their whole names. */
const EXPERIMENTAL = 'label-content-name-mismatch';

/** Controls of drawings and pictures stand to scale: each can be made larger as a whole (WCAG 2.5.8, equivalent). */
const TO_SCALE = /rondocontrol|data-address|data-id/i;

for (const path of SCREENS)
  test(`a general checker finds nothing that keeps people out, in both themes: ${path}`, async ({
    page,
    server,
  }) => {
    // Colours on their way from one theme to the other are none that anybody reads.
    await page.emulateMedia({ reducedMotion: 'reduce' });
    await visit(page, server, path);
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
