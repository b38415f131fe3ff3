import type { Page } from '@playwright/test';
import { choose, expect, test, type Bench } from './rondo';

const panel = (page: Page) => page.locator('rondo-shape-panel');
const openShape = (page: Page) => page.getByRole('button', { name: 'Shape and feel' }).click();

/** Takes a control of another surface than the first in hand by its keys. */
async function take(bind: Bench, surface: string, control: string): Promise<void> {
  await bind.page.getByRole('button', { name: surface, exact: true }).click();
  await bind.hold(control);
  await bind.page.keyboard.press('PageUp');
}

/** Drags something by some pixels. */
async function drag(page: Page, x: number, y: number, right: number, up: number): Promise<void> {
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + right, y - up, { steps: 6 });
  await page.mouse.up();
}

test('the curve editor: ends dragged, bent in the field, drawn point by point, all by keys too', async ({
  bind,
  page,
}) => {
  await bind.open();
  await bind.clickAt(bind.fader(5));
  await openShape(page);
  const low = page.getByRole('slider', { name: 'Low end of the range' });
  const high = page.getByRole('slider', { name: 'High end of the range' });
  const at = async (what: typeof low) => {
    const box = (await what.boundingBox())!;
    return [box.x + box.width / 2, box.y + box.height / 2] as const;
  };
  await drag(page, ...(await at(low)), 0, 60);
  await expect.poll(() => bind.valueOf(low)).toBeGreaterThan(15);
  await high.focus();
  await page.keyboard.press('ArrowDown');
  await expect(high).toHaveAttribute('aria-valuenow', '98');
  await page.keyboard.press('Control+z');
  await expect(high).toHaveAttribute('aria-valuenow', '100');
  await page.keyboard.press('Control+z');
  await expect(low).toHaveAttribute('aria-valuenow', '0');

  // Bent by a drag in the field: half of the travel is less than half of the range then.
  const curve = panel(page).locator('path.curve');
  await page.getByRole('radio', { name: 'Exponential' }).click();
  const before = await curve.getAttribute('d');
  const field = (await panel(page).locator('rect.field').boundingBox())!;
  await drag(page, field.x + field.width * 0.8, field.y + field.height * 0.2, 0, -40);
  await expect(curve).not.toHaveAttribute('d', before!);

  // Drawn: a point more by a double click, moved, and taken out again.
  await page.getByRole('radio', { name: 'Drawn' }).click();
  const points = page.getByRole('slider', { name: /^Point/ });
  await expect(points).toHaveCount(3);
  await page.mouse.dblclick(field.x + field.width * 0.25, field.y + field.height * 0.5);
  await expect(points).toHaveCount(4);
  const second = page.getByRole('slider', { name: 'Point 2' });
  await expect(second).toHaveAttribute('aria-valuenow', '25');
  await drag(page, ...(await at(second)), 0, 50);
  await expect.poll(() => bind.valueOf(second)).toBeGreaterThan(35);
  const [x, y] = await at(second);
  await page.mouse.dblclick(x, y);
  await expect(points).toHaveCount(3);
});

test('zones: three positions of a switch, each a value of its own, made and taken back', async ({
  bind,
  page,
  server,
}) => {
  await page.goto(`${server.address}/bind/neap-rink`);
  const booth = page.getByRole('group', { name: 'Booth' });
  const curve = booth.getByRole('button', { name: 'Crossfader curve' });
  await bind.hold('curve');
  await page.keyboard.press('End');
  await expect(curve).toContainText('Sharp');
  await openShape(page);
  const zones = page.getByRole('combobox', { name: 'Value of the zone' });
  await expect(zones).toHaveCount(3);
  await zones.nth(2).click();
  await page.getByRole('option', { name: 'Even', exact: true }).click();
  await bind.hold('curve');
  await page.keyboard.press('Home');
  await page.keyboard.press('End');
  await page.locator('rondo-panel-head').getByRole('button', { name: 'Close' }).click();
  await expect(curve).toContainText('Even');

  // A knob with a detent, in two halves.
  await bind.hold('left-filter');
  await page.keyboard.press('PageUp');
  await openShape(page);
  await page.getByRole('button', { name: 'Two halves' }).click();
  await expect(panel(page).getByRole('combobox', { name: 'What the zone does' })).toHaveCount(2);
  await page.getByRole('button', { name: 'Split the last' }).click();
  await expect(panel(page).getByRole('combobox', { name: 'What the zone does' })).toHaveCount(3);
  await panel(page).getByRole('button', { name: 'Remove the zone' }).nth(2).click();
  await page.getByRole('button', { name: 'No zones' }).click();
  await expect(page.getByRole('button', { name: 'Two halves' })).toBeVisible();
});

test('one fader drives two functions, each by a half of its travel, in one press', async ({
  bind,
  page,
}) => {
  await bind.open();
  await bind.clickAt(bind.fader(5));
  await page.keyboard.type('/volume choir');
  await page.keyboard.press('Enter');
  await page.keyboard.type('/volume timpani');
  await page.keyboard.press('Shift+Enter');
  await openShape(page);
  await panel(page).getByRole('button', { name: 'A half for each function' }).click();
  await expect(bind.station('Shape')).toContainText('2 zones');
  await panel(page).getByRole('button', { name: 'Close' }).click();
  await bind.hold('fader-5');
  const [choir, timpani] = [bind.host('Volume of Choir'), bind.host('Volume of Timpani')];
  await page.keyboard.press('Home');
  await expect.poll(() => bind.valueOf(timpani)).toBe(0);
  await expect.poll(() => bind.valueOf(choir)).toBe(0);
  await page.keyboard.press('End');
  await expect.poll(() => bind.valueOf(timpani)).toBe(100);
  await expect.poll(() => bind.valueOf(choir)).toBe(100);
});

test('takeover: scaled, both reach the end together', async ({ bind, page }) => {
  await bind.open();
  await take(bind, 'Treadle', 'expression');
  await openShape(page);
  await choose(page, 'Takeover', 'Scale towards each other');
  const music = bind.host('Volume of Music');
  await page.locator('rondo-panel-head').getByRole('button', { name: 'Close' }).click();
  const before = await bind.valueOf(music);
  await bind.hold('expression');
  // It moves at once, a little, where a pickup would have waited.
  for (let n = 0; n < 5; n++) {
    const at = await bind.valueOf(bind.desk('expression'));
    await page.keyboard.press('PageUp');
    await expect.poll(() => bind.valueOf(bind.desk('expression'))).toBeGreaterThan(at);
  }
  await expect.poll(() => bind.valueOf(music)).toBeGreaterThan(before);
  await page.keyboard.press('End');
  await expect(music).toHaveAttribute('aria-valuenow', '80');
});

test('gestures: a long press beside a plain one, and a double tap, with the mouse as a finger', async ({
  bind,
  page,
}) => {
  await bind.open();
  const bindTo = async (gesture: string, words: string) => {
    await choose(page, 'Gesture', gesture);
    await page.keyboard.press('/');
    await page.getByRole('combobox', { name: 'Find a function' }).fill(words);
    await page.keyboard.press('Enter');
  };
  const key = bind.desk('click');
  await key.click();
  await expect(bind.host('Click')).toHaveAttribute('aria-pressed', 'true');
  await bindTo('Long press', 'mute narrator always');
  await bindTo('Double tap', 'solo ferryman always');

  await key.hover();
  await page.mouse.down();
  await expect(bind.host('Mute Narrator')).toHaveAttribute('aria-pressed', 'true');
  await page.mouse.up();
  await expect(bind.host('Click')).toHaveAttribute('aria-pressed', 'true');

  await key.dblclick();
  await expect(bind.host('Solo Ferryman')).toHaveAttribute('aria-pressed', 'true');
  await expect(bind.host('Click')).toHaveAttribute('aria-pressed', 'true');

  await key.click();
  await expect(bind.host('Click')).toHaveAttribute('aria-pressed', 'false');
});

test('what springs back starts from where the value is and returns it', async ({
  bind,
  page,
  server,
}) => {
  await page.goto(`${server.address}/bind/neap-rink`);
  await page.getByRole('button', { name: 'Plinth 32', exact: true }).click();
  /** How far the deck in focus is bent, in % of its range, as the round tells it. */
  const bend = async () =>
    Number(
      /([+−]?[\d.]+)\s*% of range/
        .exec(await bind.station('Function').innerText())?.[1]
        ?.replace('−', '-') ?? NaN,
    );
  const wheel = bind.page.locator('g[data-over="pitch"]').first();
  // Once it stands still: the drawing of another surface has just come.
  await expect.poll(() => bind.valueOf(bind.desk('pitch'))).toBeGreaterThan(400);
  await wheel.hover({ force: true });
  const box = (await wheel.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2, box.y - 20, { steps: 5 });
  await expect.poll(bend).toBeGreaterThan(20);
  await page.mouse.up();
  await expect.poll(bend).toBe(0);
});

test('a surface of one’s own says how its controls feel, and a profile inherits it', async ({
  bind,
  page,
  server,
}) => {
  await page.goto(`${server.address}/surfaces`);
  await page.getByRole('button', { name: 'Copy Burrow 14' }).click();
  await page.getByRole('button', { name: 'Device', exact: true }).click();
  await choose(page, 'Takeover, knob', 'Scale towards each other');
  await expect(page.getByRole('combobox', { name: 'Takeover, knob' })).toHaveText(
    'Scale towards each other',
  );
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await bind.open();
  await page.getByRole('button', { name: 'Surfaces' }).click();
  await page.getByRole('combobox', { name: 'Add a surface' }).click();
  await page.getByRole('option', { name: 'My Burrow 14' }).click();
  await page.keyboard.press('Escape');
  await bind.hold('knob-1');
  await page.keyboard.press('PageUp');
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'Find a function' }).fill('tempo');
  await page.keyboard.press('Enter');
  await openShape(page);
  await expect(panel(page).getByText(/from the surface My Burrow 14/)).toBeVisible();
  await expect(page.getByRole('combobox', { name: 'Takeover' })).toHaveText(
    'Scale towards each other',
  );
});
