import type { CDPSession } from '@playwright/test';
import { expect, test } from './rondo';

interface Finger {
  readonly id: number;
  x: number;
  y: number;
}

/** Fingers on the glass, all at once, as the DevTools protocol sends them. */
class Fingers {
  private readonly down = new Map<number, Finger>();

  constructor(private readonly cdp: CDPSession) {}

  private send(type: 'touchStart' | 'touchMove' | 'touchEnd') {
    const touchPoints = [...this.down.values()];
    return this.cdp.send('Input.dispatchTouchEvent', { type, touchPoints });
  }
  async put(id: number, x: number, y: number): Promise<void> {
    this.down.set(id, { id, x, y });
    await this.send('touchStart');
  }
  async move(by: (finger: Finger) => number): Promise<void> {
    for (const finger of this.down.values()) finger.y -= by(finger);
    await this.send('touchMove');
  }
  async lift(id: number): Promise<void> {
    this.down.delete(id);
    // Whoever is missing has been lifted; only the last one ends the touch.
    await this.send(this.down.size > 0 ? 'touchMove' : 'touchEnd');
  }
}

test('ten fingers: each has its own drag, and lifting one leaves the others where they are', async ({
  bind,
  page,
}) => {
  await bind.open();
  const cdp = await page.context().newCDPSession(page);
  await cdp.send('Emulation.setTouchEmulationEnabled', { enabled: true, maxTouchPoints: 10 });
  const fingers = new Fingers(cdp);
  const faders = ['1', '2', '3', '4', '5', '6', '7', '8', 'master'];
  for (const [finger, n] of faders.entries()) {
    const box = (await bind.fader(n).boundingBox())!;
    await fingers.put(finger, box.x + box.width / 2, box.y + box.height / 2);
  }
  const f1 = (await bind.desk('function-1').boundingBox())!;
  await fingers.put(9, f1.x + f1.width / 2, f1.y + f1.height / 2);
  await expect(bind.desk('function-1')).toHaveClass(/down/);
  const before = await Promise.all(faders.map((n) => bind.valueOf(bind.desk(`fader-${n}`))));
  // Odd ones up, even ones down, so that none can have the drag of another.
  const way = ({ id }: Finger) => (id === 9 ? 0 : id % 2 === 0 ? 12 : -12);
  await fingers.move(way);
  await fingers.move(way);
  for (const [finger, n] of faders.entries()) {
    const moved = async () => (await bind.valueOf(bind.desk(`fader-${n}`))) - before[finger];
    if (finger % 2 === 0) await expect.poll(moved, n).toBeGreaterThan(20);
    else await expect.poll(moved, n).toBeLessThan(-20);
  }
  await fingers.lift(0);
  const third = await bind.valueOf(bind.desk('fader-3'));
  await fingers.move(way);
  await expect.poll(() => bind.valueOf(bind.desk('fader-3'))).toBeGreaterThan(third);
  await expect(bind.desk('function-1')).toHaveClass(/down/);
  for (let finger = 1; finger < 10; finger++) await fingers.lift(finger);
  await expect(bind.desk('function-1')).not.toHaveClass(/down/);
  await expect(bind.desk('fader-3')).not.toHaveClass(/down/);
});

test('a key that is held by the space bar is let go with it, wherever the focus has gone', async ({
  bind,
  page,
}) => {
  await bind.open();
  const key = bind.desk('function-2');
  await key.focus();
  await page.keyboard.down(' ');
  await expect(key).toHaveClass(/down/);
  await page.getByRole('textbox', { name: 'Name of the profile' }).focus();
  await page.keyboard.up(' ');
  await expect(key).not.toHaveClass(/down/);
});

for (const [what, happens] of [
  [
    'a window that loses its focus',
    () => {
      window.dispatchEvent(new Event('blur'));
    },
  ],
  [
    'a page that is hidden',
    () => {
      Object.defineProperty(document, 'hidden', { value: true, configurable: true });
      document.dispatchEvent(new Event('visibilitychange'));
      Reflect.deleteProperty(document, 'hidden');
    },
  ],
  [
    'Escape',
    () => {
      document.dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', bubbles: true }));
    },
  ],
] as const)
  test(`${what} lets go of what a pointer and a key hold`, async ({ bind, page }) => {
    await bind.open();
    await bind.desk('function-2').focus();
    await page.keyboard.down(' ');
    await bind.desk('function-3').hover();
    await page.mouse.down();
    await expect(bind.desk('function-2')).toHaveClass(/down/);
    await expect(bind.desk('function-3')).toHaveClass(/down/);
    await page.evaluate(happens);
    await expect(bind.desk('function-2')).not.toHaveClass(/down/);
    await expect(bind.desk('function-3')).not.toHaveClass(/down/);
    await page.mouse.up();
    await page.keyboard.up(' ');
  });

test('with one mouse a control is held while another is moved; a click on it, or Escape, lets go', async ({
  bind,
  page,
}) => {
  await bind.open();
  const [shift, fader] = [bind.desk('function-3'), bind.desk('fader-1')];
  await page.keyboard.down('Alt');
  await shift.click();
  await page.keyboard.up('Alt');
  await expect(shift).toHaveClass(/down/);
  const before = await bind.valueOf(fader);
  await bind.drag(bind.fader(1), -30);
  await expect.poll(() => bind.valueOf(fader)).toBeLessThan(before - 20);
  await expect(shift).toHaveClass(/down/);
  await shift.click();
  await expect(shift).not.toHaveClass(/down/);
  await page.keyboard.down('Alt');
  await shift.click();
  await page.keyboard.up('Alt');
  await expect(shift).toHaveClass(/down/);
  await page.keyboard.press('Escape');
  await expect(shift).not.toHaveClass(/down/);
});

test('a pointer whose capture is lost lets go of what it held', async ({ bind, page }) => {
  await bind.open();
  await page.evaluate(() =>
    document.addEventListener('pointerdown', ({ pointerId }) =>
      document.body.setAttribute('data-pointer', String(pointerId)),
    ),
  );
  await bind.desk('function-3').hover();
  await page.mouse.down();
  await expect(bind.desk('function-3')).toHaveClass(/down/);
  await page.evaluate(() => {
    const pointer = Number(document.body.getAttribute('data-pointer'));
    document.querySelector('rondo-surface-drawing svg')?.releasePointerCapture(pointer);
  });
  // Chromium tells it with the pointer's next move.
  await page.mouse.move(400, 300);
  await expect(bind.desk('function-3')).not.toHaveClass(/down/);
  await page.mouse.up();
});

test('a drawing is one stop of Tab; arrows go between controls, and after Enter they move a value', async ({
  bind,
  page,
}) => {
  await bind.open();
  await bind.desk('fader-1').focus();
  const before = await bind.valueOf(bind.desk('fader-1'));
  await page.keyboard.press('ArrowRight');
  await expect(bind.desk('fader-2')).toBeFocused();
  await page.keyboard.press('ArrowLeft');
  await expect(bind.desk('fader-1')).toBeFocused();
  expect(await bind.valueOf(bind.desk('fader-1'))).toBe(before);
  await page.keyboard.press('Enter');
  await page.keyboard.press('ArrowUp');
  await expect.poll(() => bind.valueOf(bind.desk('fader-1'))).toBeGreaterThan(before + 5);
  await page.keyboard.press('Escape');
  await page.keyboard.press('ArrowRight');
  await expect(bind.desk('fader-2')).toBeFocused();
  await page.keyboard.press('Tab');
  expect(await page.evaluate(() => document.activeElement?.closest('g[data-id]'))).toBeNull();
});

test('a host’s picture is one stop of Tab: arrows go between what is in it, and move what Enter took hold of', async ({
  bind,
  page,
}) => {
  await bind.open();
  const picture = page.locator('rondo-host-picture');
  const playable = picture.locator('[data-address]:is(button, [role=slider])');
  expect(await playable.count()).toBeGreaterThan(100);
  // Beside it the pages of the picture are a stop of their own.
  const stops = picture.locator('[data-address][tabindex="0"]');
  await expect(stops).toHaveCount(1);
  await stops.focus();
  await page.keyboard.press('End');
  const [volume, other] = [bind.host('Volume of Narrator'), bind.host('Volume of Ferryman')];
  await volume.focus();
  await expect(stops).toHaveCount(1);
  const before = await bind.valueOf(volume);
  await page.keyboard.press('ArrowRight');
  await expect(other).toBeFocused();
  await page.keyboard.press('ArrowLeft');
  await expect(volume).toBeFocused();
  expect(await bind.valueOf(volume)).toBe(before);
  await page.keyboard.press('Enter');
  await expect(volume).toHaveClass(/taken/);
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  await expect.poll(() => bind.valueOf(volume)).toBeLessThan(before);
  await page.keyboard.press('Escape');
  await expect(volume).not.toHaveClass(/taken/);
  await page.keyboard.press('ArrowDown');
  await expect(bind.host('Solo Narrator')).toBeFocused();
  await page.keyboard.press(' ');
  await expect(bind.host('Solo Narrator')).toHaveAttribute('aria-pressed', 'true');
  // Another page of the picture has a stop of its own again.
  await page.getByRole('tab', { name: 'Focus' }).click();
  await expect(stops).toHaveCount(1);
  await expect(stops).toBeVisible();
});

test('a page of the Booth is gone to while its search field is open', async ({ bind, page }) => {
  await bind.openAny('neap-rink');
  await page.getByRole('tab', { name: 'Records' }).click();
  const booth = page.getByRole('group', { name: 'Booth' });
  await booth.getByRole('button', { name: 'Search field' }).click();
  await expect(page.getByRole('searchbox', { name: 'Find a record' })).toBeFocused();
  await page.getByRole('tab', { name: 'Stems' }).click();
  await expect(booth.getByRole('slider', { name: 'Stem 1 level, Deck 1' })).toBeVisible();
  await page.getByRole('tab', { name: 'Records' }).click();
  await expect(page.getByRole('searchbox', { name: 'Find a record' })).toBeFocused();
});

test('by keyboard alone: what is opened has the keyboard, and as it closes it goes back to where it was', async ({
  bind,
  page,
}) => {
  await bind.open();
  await bind.hold('fader-2');
  await page.keyboard.press('Escape');
  const round = page.locator('rondo-round');
  // From the round, from the bar, and from one panel to the next.
  for (const [opener, heading] of [
    [round.getByRole('button', { name: 'Shape and feel ▸' }), 'Shape and feel'],
    [round.getByRole('button', { name: 'What comes back ▸' }), 'What comes back'],
    [page.getByRole('button', { name: 'Edit layers' }), 'Layers and flags'],
  ] as const) {
    await opener.focus();
    await page.keyboard.press('Enter');
    await expect(page.getByRole('heading', { name: heading, exact: true })).toBeFocused();
    await page.keyboard.press('Tab');
    await expect(page.getByRole('button', { name: 'Close' })).toBeFocused();
    await page.keyboard.press('Enter');
    await expect(opener).toBeFocused();
    await page.keyboard.press('Enter');
    await expect(page.getByRole('heading', { name: heading, exact: true })).toBeFocused();
    await page.keyboard.press('Escape');
    await expect(opener).toBeFocused();
  }
  // Past the host's picture to the round, and back.
  const stop = page.locator('rondo-surface-drawing g[tabindex="0"]');
  await stop.focus();
  await page.keyboard.press('r');
  expect(await page.evaluate(() => document.activeElement?.closest('rondo-round') !== null)).toBe(
    true,
  );
  await page.keyboard.press('r');
  await expect(stop).toBeFocused();
  // What is found is bound to the control in hand, and the keyboard stays at that.
  await page.keyboard.press('/');
  await page.keyboard.type('pan gulls');
  await expect(page.getByRole('option').first()).toContainText('Gulls');
  await page.keyboard.press('Enter');
  await expect(stop).toBeFocused();
  // The list of keys takes the keyboard, and gives it back: closed before it has it, and after.
  const keys = page.getByRole('dialog', { name: 'Keys' });
  for (const isRead of [false, true]) {
    await page.keyboard.press('?');
    await expect(keys).toBeVisible();
    if (isRead) await expect(keys.locator(':focus')).toBeVisible();
    await page.keyboard.press('Escape');
    await expect(keys).toBeHidden();
    await expect(stop).toBeFocused();
  }
  // So does all else that opens over the page.
  for (const name of ['Surfaces', 'Ports']) {
    const opener = page.locator('rondo-bind header').getByRole('button', { name });
    await opener.focus();
    await page.keyboard.press('Enter');
    const over = page.locator('.p-popover');
    await expect(over.locator(':focus')).toBeVisible();
    await page.keyboard.press('Escape');
    await expect(opener).toBeFocused();
    await expect(over).toBeHidden();
  }
  await page.getByRole('button', { name: 'Edit layers' }).focus();
  await page.keyboard.press('Enter');
  const next = page.getByRole('button', { name: 'What new bindings go to ▸' });
  await next.focus();
  await page.keyboard.press('Enter');
  await expect(page.locator('rondo-panel-head h2')).toBeFocused();
});
