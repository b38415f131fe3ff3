import { choose, expect, test } from './rondo';

test('a fader moves its track, the track moves the fader’s motor, and a new binding survives a reload', async ({
  bind,
  page,
}) => {
  await bind.open();
  const track = bind.host('Volume of Narrator');
  const fader = bind.desk('fader-1');

  const trackBefore = await bind.valueOf(track);
  await bind.drag(bind.fader(1), 40);
  await expect.poll(() => bind.valueOf(track)).toBeGreaterThan(trackBefore + 15);

  const faderBefore = await bind.valueOf(fader);
  await bind.drag(track, -40);
  await expect.poll(() => bind.valueOf(fader)).toBeLessThan(faderBefore - 150);

  await bind.clickAt(bind.fader(1));
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'Find a function' }).fill('volume choir');
  await page.keyboard.press('Enter');
  await expect(bind.station('Function')).toContainText('Volume, Choir');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();

  await page.reload();
  await expect(fader).toHaveAttribute('aria-valuenow', /^[1-9]\d*$/);
  const choir = bind.host('Volume of Choir');
  await bind.settled(1, 'Volume of Choir');
  const choirBefore = await bind.valueOf(choir);
  await bind.drag(bind.fader(1), 40);
  await expect.poll(() => bind.valueOf(choir)).toBeGreaterThan(choirBefore + 10);
  await expect(bind.station('Function')).toContainText('Volume, Choir');
});

test('a motor follows written automation by itself', async ({ bind }) => {
  await bind.open();
  const before = await bind.valueOf(bind.desk('fader-3'));
  await bind.desk('play').click();
  await expect.poll(() => bind.valueOf(bind.desk('fader-3'))).not.toBe(before);
  await expect(bind.desk('play')).toHaveClass(/lit/);
});

test('banks: the bracket, the names and the faders follow, and the end is clamped', async ({
  bind,
  page,
}) => {
  await bind.open();
  await bind.desk('bank-right').click();
  await bind.desk('bank-right').click();
  await expect(page.getByText('Strips 13–20 of 20')).toBeVisible();
  await expect(bind.desk('display-1')).toHaveAttribute('aria-label', /Piano/);
  // The window ends with the master, which has a fader of its own as well.
  await expect(page.locator('rondo-reach .bracket.teal')).toHaveCount(8);
  // The pedals, which only send, have a bracket too; its owner chooses letters, colour and line.
  await expect(page.locator('rondo-reach').getByText('T', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Surfaces' }).click();
  await page.getByRole('button', { name: 'Mark of Treadle, T' }).click();
  await page.getByRole('textbox', { name: 'Letters that mark Treadle' }).fill('Pd');
  await page.keyboard.press('Enter');
  await choose(page, 'Colour that marks Treadle', 'Blue');
  await choose(page, 'Line that marks Treadle', 'Double');
  await expect(page.locator('rondo-reach .bracket.blue.double')).toHaveCount(1);
  await page.keyboard.press('Escape');
  await expect(page.locator('rondo-reach').getByText('Pd', { exact: true })).toBeVisible();
  await bind.desk('bank-left').click();
  await expect(page.getByText('Strips 9–16 of 20')).toBeVisible();
});

test('the round says where a message stops and why', async ({ bind, page }) => {
  await bind.open();
  await bind.free('function-1');
  await bind.desk('function-1').click();
  await expect(bind.station('Message')).toContainText('90 36');

  await page.getByRole('button', { name: 'Hold off' }).click();
  await bind.desk('mute-1').click();
  await expect(bind.station('Function')).toContainText('Hold off is on');
  await expect(bind.host('Mute Narrator')).toHaveAttribute('aria-pressed', 'false');
  await page.getByRole('button', { name: 'Hold off' }).click();
  await bind.desk('mute-1').click();
  await expect(bind.host('Mute Narrator')).toHaveAttribute('aria-pressed', 'true');
  await expect(bind.desk('mute-1')).toHaveAttribute('aria-pressed', 'true');

  await page.getByRole('button', { name: 'Bank right' }).last().click();
  await page.getByRole('button', { name: 'Bank right' }).last().click();
  await bind.desk('arm-8').click();
  await expect(bind.station('Function')).toContainText('has no Arm in Studio.');
});

test('mutes only while held is one click away from mended', async ({ bind, page }) => {
  await bind.open();
  await bind.desk('mute-2').click();
  await page.getByRole('button', { name: 'While held' }).click();
  const mute = bind.host('Mute Ferryman');
  await bind.desk('mute-2').click();
  await expect(mute).toHaveAttribute('aria-pressed', 'false');
  await page.getByRole('button', { name: 'Toggle' }).click();
  await bind.desk('mute-2').click();
  await expect(mute).toHaveAttribute('aria-pressed', 'true');
});

test('bind, unbind, undo and redo, by keyboard', async ({ bind, page }) => {
  await bind.open();
  await bind.free('function-2');
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'Find a function' }).fill('click');
  await page.keyboard.press('Enter');
  const station = bind.station('Function');
  await expect(station.locator('strong')).toHaveText('Click');
  await page.keyboard.press('Delete');
  await expect(station).toContainText('Choose a function');
  await page.keyboard.press('Control+z');
  await expect(station.locator('strong')).toHaveText('Click');
  await page.keyboard.press('Control+z');
  await expect(station).toContainText('Choose a function');
  await page.keyboard.press('Control+Shift+z');
  await expect(station.locator('strong')).toHaveText('Click');
});

test('every control of the drawing can be reached and moved from the keyboard', async ({
  bind,
  page,
}) => {
  await bind.open();
  const controls = page.locator('rondo-surface-drawing g[data-id]:not(.display)');
  const count = await controls.count();
  expect(count).toBe(1 + 9 + 8 * 5 + 8 + 16);
  // One stop of Tab, and arrows from there to every other one.
  expect(await controls.evaluateAll((all) => all.filter((c) => c.tabIndex === 0).length)).toBe(1);
  const seen = new Set<string>();
  const walk = async (from: string): Promise<void> => {
    if (seen.has(from)) return;
    seen.add(from);
    for (const key of ['ArrowRight', 'ArrowDown', 'ArrowLeft', 'ArrowUp']) {
      // All have been found: the rest only leads back to them.
      if (seen.size === count) return;
      await bind.desk(from).focus();
      await page.keyboard.press(key);
      const at = await page.evaluate(() => document.activeElement?.getAttribute('data-id'));
      if (at) await walk(at);
    }
  };
  await walk('fader-1');
  expect(seen.size).toBe(count);
  const fader = bind.desk('fader-5');
  await bind.hold('fader-5');
  await page.keyboard.press('Home');
  await expect(fader).toHaveAttribute('aria-valuenow', '0');
  await page.keyboard.press('PageUp');
  await expect.poll(() => bind.valueOf(fader)).toBeGreaterThan(95);
  await expect.poll(() => bind.valueOf(bind.host('Volume of Engine Room'))).toBe(10);
  await bind.hold('solo-5');
  await page.keyboard.press('Space');
  await expect(bind.host('Solo Engine Room')).toHaveAttribute('aria-pressed', 'true');
  await bind.hold('encoder-5');
  const pan = await bind.valueOf(bind.host('Pan of Engine Room'));
  await page.keyboard.press('ArrowRight');
  await expect.poll(() => bind.valueOf(bind.host('Pan of Engine Room'))).toBeGreaterThan(pan);
});

test('panic lets the motors go, and a repaint takes them back', async ({ bind, page }) => {
  await bind.open();
  await page.getByRole('button', { name: 'Panic' }).click();
  await expect(page.getByText('the motors are let go')).toBeVisible();
  await page.getByRole('button', { name: 'Take them back' }).click();
  await expect(page.getByText('the motors are let go')).toBeHidden();
});

test('both themes keep text readable (WCAG 2.2 AA, 1.4.3)', async ({ bind, page }) => {
  // Without transitions a colour is what it will stay.
  await page.emulateMedia({ reducedMotion: 'reduce' });
  await bind.open();
  await bind.desk('mute-1').click();
  for (const theme of ['daylight', 'booth']) {
    const worst = await page.evaluate(() => {
      const canvas = document
        .createElement('canvas')
        .getContext('2d', { willReadFrequently: true })!;
      const rgb = (colour: string): number[] => {
        canvas.clearRect(0, 0, 1, 1);
        canvas.fillStyle = colour;
        canvas.fillRect(0, 0, 1, 1);
        return [...canvas.getImageData(0, 0, 1, 1).data];
      };
      const luminance = (colour: number[]): number => {
        const [r, g, b] = colour.map((c) =>
          c / 255 <= 0.04045 ? c / 255 / 12.92 : ((c / 255 + 0.055) / 1.055) ** 2.4,
        );
        return 0.2126 * r + 0.7152 * g + 0.0722 * b;
      };
      const ratio = (a: number[], b: number[]): number => {
        const [high, low] = [luminance(a), luminance(b)].sort((x, y) => y - x);
        return (high + 0.05) / (low + 0.05);
      };
      const background = (element: Element | null): number[] => {
        for (let at = element; at; at = at.parentElement) {
          const colour = rgb(getComputedStyle(at).backgroundColor);
          if (colour[3] === 255) return colour;
        }
        return [255, 255, 255, 255];
      };
      const texts = [...document.querySelectorAll('nav *, header *, h2, h3, li *, .host *')].filter(
        (element) =>
          !(element instanceof SVGElement) &&
          [...element.childNodes].some((node) => node.nodeType === 3 && node.textContent?.trim()) &&
          !element.closest('[disabled]') &&
          getComputedStyle(element).visibility === 'visible' &&
          element.getClientRects().length > 0,
      );
      return texts
        .map((element) => ({
          text: element.textContent?.trim().slice(0, 30) ?? '',
          ratio: ratio(rgb(getComputedStyle(element).color), background(element)),
        }))
        .filter(({ ratio: r }) => r < 4.5);
    });
    expect(worst, theme).toEqual([]);
    if (theme === 'daylight') await page.getByRole('button', { name: 'Booth light' }).click();
  }
});

test('everything fits 1280 × 800 without scrolling the page', async ({ bind, page }) => {
  await bind.open();
  const size = await page.evaluate(() => [
    document.documentElement.scrollWidth,
    document.documentElement.scrollHeight,
  ]);
  expect(size).toEqual([1280, 800]);
});
