import type { MidiPlan } from '../web/testing/web-midi';
import { atPorts, choose, expect, test, type Bench, type Server } from './rondo';

const PLAN: MidiPlan = {
  answer: 'granted',
  inputs: [{ id: 'box', name: 'Unknown box' }],
  outputs: [],
};
const ROTARIES = 14;
const FADERS = 5;

/** Plays messages into an input in their own time, as a device does. */
const play = (bind: Bench, lines: readonly (readonly [ms: number, bytes: number[]])[]) =>
  atPorts(
    bind.page,
    (all) =>
      new Promise<void>((done) => {
        all.forEach(([ms, bytes], i) =>
          setTimeout(() => {
            window.rondoMidi.play('box', bytes);
            if (i === all.length - 1) done();
          }, ms),
        );
      }),
    lines.map(([ms, bytes]) => [ms, bytes] as [number, number[]]),
  );

/** Rotaries 1–7 tick in two's complement, the others are knobs; faders send 14-bit pairs. */
function movement(index: number): [number, number[]][] {
  if (index < 7)
    return [1, 1, 2, 1, 1, 127, 127, 126, 127].map((v, i) => [i * 25, [0xb0, 80 + index, v]]);
  if (index < ROTARIES)
    return Array.from({ length: 64 }, (_, i) => [
      i * 6,
      [0xb1, index, Math.round(63.5 - 63.5 * Math.cos(i / 10))],
    ]);
  return Array.from({ length: 64 }, (_, i): [number, number[]][] => {
    const value = Math.round(8191 - 8191 * Math.cos(i / 10));
    return [
      [i * 6, [0xb2, index, value >> 7]],
      [i * 6, [0xb2, index + 32, value & 127]],
    ];
  }).flat();
}

/** The Surfaces screen, with a new blank surface open. */
async function draw(bind: Bench, server: Server): Promise<void> {
  const { page } = bind;
  await page.goto(`${server.address}/surfaces`);
  await page.getByRole('button', { name: 'Draw a new one' }).click();
  await expect(page.getByText('The panel is empty')).toBeVisible();
}
const board = (bind: Bench, id: string) =>
  bind.page.locator(`rondo-drawing-board g[data-id="${id}"]`);

async function runOf(bind: Bench, total: number, right: number): Promise<void> {
  const { page } = bind;
  await page.getByRole('button', { name: /numbered run/ }).click();
  await page.getByLabel('In a row').fill(String(total));
  await page.getByLabel('Right, mm').fill(String(right));
  await page.getByRole('button', { name: 'Make the run' }).click();
}

test('a blank 14-rotary, 5-fader device is drawn, taught by touch, bound and moved', async ({
  bind,
  page,
  server,
}) => {
  // Nineteen controls are moved one after the other, each for as long as a hand takes.
  test.setTimeout(120_000);
  await bind.withMidi(PLAN);
  await draw(bind, server);
  const name = page.getByRole('textbox', { name: 'Name of the surface' });
  await name.fill('Attic box');
  await name.press('Enter');

  const place = page.getByRole('complementary', { name: 'Place a control' });
  await place.getByRole('button', { name: 'knob' }).click();
  await runOf(bind, 7, 26);
  await page.keyboard.press('Escape');
  await place.getByRole('button', { name: 'knob' }).click();
  await page.getByLabel('X, mm').fill('10');
  await page.getByLabel('X, mm').press('Enter');
  await page.getByLabel('Y, mm').fill('45');
  await page.getByLabel('Y, mm').press('Enter');
  await runOf(bind, 7, 26);
  await place.getByRole('button', { name: 'fader' }).click();
  await page.getByLabel('X, mm').fill('210');
  await page.getByLabel('X, mm').press('Enter');
  await page.getByLabel('Y, mm').fill('95');
  await page.getByLabel('Y, mm').press('Enter');
  await runOf(bind, 5, 26);
  await expect(board(bind, 'knob-14')).toBeVisible();
  await expect(board(bind, 'fader-5')).toBeVisible();

  await page.getByRole('button', { name: 'Teach', exact: true }).click();
  await page.getByRole('button', { name: 'Allow real MIDI ports' }).click();
  const strip = page.locator('rondo-teach-strip');
  const total = ROTARIES + FADERS;
  for (let i = 0; i < total; i++) {
    await expect(strip).toContainText(`${i + 1} of ${total}`);
    await play(bind, movement(i));
  }
  await expect(strip).toContainText(`All ${total} are through`);
  await expect(strip).toContainText('controllers 18 + 50, 14 bit, channel 3');
  // A rotary that ticks is an encoder, however it was drawn.
  await page.getByRole('button', { name: 'Draw', exact: true }).click();
  await board(bind, 'knob-2').click();
  await expect(page.getByRole('combobox', { name: 'Kind' })).toHaveText('encoder');
  await expect(page.getByText('controller 81, two’s complement, channel 1')).toBeVisible();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();

  // Into a profile, beside the desk, and bound.
  await bind.open();
  await page.getByRole('button', { name: 'Surfaces' }).click();
  await page.getByRole('combobox', { name: 'Add a surface' }).click();
  await page.getByRole('option', { name: 'Attic box' }).click();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('heading', { name: 'Attic box' })).toBeVisible();
  const box = page.getByRole('group', { name: 'Attic box' });
  await page.getByRole('button', { name: 'Ports' }).click();
  await page.getByRole('button', { name: 'Allow real MIDI ports' }).click();
  await page.getByRole('combobox', { name: 'Attic box input' }).click();
  await page.getByRole('option', { name: 'Unknown box' }).click();
  await page.keyboard.press('Escape');
  // What comes before the port is open is for nobody: a hand that sees nothing moves again.
  await expect(async () => {
    await play(bind, [
      [0, [0xb2, 14, 10]],
      [1, [0xb2, 46, 0]],
    ]);
    await expect(bind.station('Control')).toContainText('Fader 1', { timeout: 2_000 });
  }).toPass();
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'Find a function' }).fill('volume cello');
  await page.keyboard.press('Enter');
  // What is played goes past the page, and may be there before the edit is.
  await expect(async () => {
    // From below each time: whoever waits for pickup passes by the value.
    await play(bind, [
      [0, [0xb2, 14, 0]],
      [1, [0xb2, 46, 0]],
      [20, [0xb2, 14, 127]],
      [21, [0xb2, 46, 127]],
    ]);
    await expect(bind.host('Volume of Cello')).toHaveAttribute('aria-valuenow', '100', {
      timeout: 300,
    });
  }).toPass();
  await expect(box.getByRole('slider', { name: /^Fader 1/ })).toHaveAttribute(
    'aria-valuenow',
    '1023',
  );
  // The desk goes on beside it.
  await bind.drag(bind.fader(1), 30);
  await expect(bind.station('Control')).toContainText('Fader 1');
});

test('nothing that is touched while teaching reaches a host; it is asked for one more move where it cannot tell', async ({
  bind,
  page,
}) => {
  await bind.withMidi({ ...PLAN, outputs: [{ id: 'box-in', name: 'Box in' }] });
  await bind.open();
  await page.getByRole('button', { name: 'Ports' }).click();
  await page.getByRole('button', { name: 'Allow real MIDI ports' }).click();
  await page.getByRole('combobox', { name: 'Harrow 8 input' }).click();
  await page.getByRole('option', { name: 'Unknown box' }).click();
  await page.keyboard.press('Escape');
  const mute = bind.host('Mute Narrator');
  await expect(mute).toHaveAttribute('aria-pressed', 'false');

  // Within the page, so that the profile goes on playing.
  await page.getByRole('link', { name: 'Surfaces' }).click();
  await page.getByRole('button', { name: 'Copy Harrow 8', exact: true }).click();
  await page.getByRole('button', { name: 'Teach', exact: true }).click();
  await board(bind, 'mute-1').click();
  const strip = page.locator('rondo-teach-strip');
  await expect(strip).toContainText('Mute 1');
  await play(bind, [
    [0, [0x90, 0x10, 0x7f]],
    [100, [0x90, 0x10, 0x00]],
    [500, [0x90, 0x10, 0x7f]],
    [600, [0x90, 0x10, 0x00]],
  ]);
  await expect(strip).toContainText('note 16, channel 1');
  await board(bind, 'encoder-1').click();
  await play(
    bind,
    [1, 1, 2, 1].map((v, i) => [i * 30, [0xb0, 0x10, v]]),
  );
  await expect(strip).toContainText('Turn it the other way');
  await play(
    bind,
    [65, 65, 66, 65].map((v, i) => [i * 30, [0xb0, 0x10, v]]),
  );
  await expect(strip).toContainText('sign-magnitude');
  await strip.getByRole('button', { name: 'Reverse this encoder' }).click();
  await page.getByRole('button', { name: 'Sheets' }).click();
  await expect(page.getByText('One line differs')).toBeHidden();

  await page.getByRole('link', { name: 'Bind' }).click();
  await expect(mute).toHaveAttribute('aria-pressed', 'false');
  await play(bind, [
    [0, [0x90, 0x10, 0x7f]],
    [50, [0x90, 0x10, 0x00]],
  ]);
  await expect(mute).toHaveAttribute('aria-pressed', 'true');
});

test('controls are selected, moved, aligned, renamed, undone; trouble is told in place', async ({
  bind,
  page,
  server,
}) => {
  await page.goto(`${server.address}/surfaces`);
  await page.getByRole('button', { name: 'Copy Burrow 14' }).click();
  await board(bind, 'knob-1').click();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Shift+ArrowDown');
  await expect(page.getByLabel('X, mm')).toHaveValue('15');
  await expect(page.getByLabel('Y, mm')).toHaveValue('28');
  await board(bind, 'knob-2').click({ modifiers: ['Shift'] });
  await board(bind, 'knob-3').click({ modifiers: ['Shift'] });
  await page.getByRole('button', { name: 'Bottom edges' }).click();
  await page.getByLabel('Name them all').fill('Send #');
  await page.getByRole('button', { name: 'Rename' }).click();
  await expect(board(bind, 'knob-3')).toHaveAttribute('aria-label', 'Send 3, knob');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(board(bind, 'knob-3')).toHaveAttribute('aria-label', 'Knob 3, knob');

  // Two controls on one message, and a number out of range.
  await board(bind, 'knob-5').click();
  await page.getByRole('button', { name: 'Change' }).click();
  const number = page.getByRole('textbox', { name: 'move Controller' });
  await number.fill('200');
  await number.press('Enter');
  await expect(page.getByRole('alert')).toContainText('from 0 to 127');
  await number.fill('14');
  await number.press('Enter');
  await expect(page.getByText('Knob 1 and Knob 5 send the same message')).toBeVisible();
  await page.getByLabel('X, mm').fill('-50');
  await page.getByLabel('X, mm').press('Enter');
  await expect(page.getByText('Knob 5 stands outside the panel.')).toBeVisible();
  await choose(page, 'move message', 'SysEx');
  const bytes = page.getByRole('textbox', { name: /move Bytes/ });
  await bytes.fill('F0 7D value');
  await bytes.press('Enter');
  await expect(page.getByText('It has no end').first()).toBeVisible();
  await page.reload();
  await expect(page.getByText('Knob 5, move: It has no end')).toBeVisible();
});

test('a surface in use is not deleted, and it is said by which profile', async ({
  bind,
  page,
  server,
}) => {
  await page.goto(`${server.address}/surfaces`);
  await page.getByRole('button', { name: 'Copy 16 pads' }).click();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await bind.open();
  await page.getByRole('button', { name: 'Surfaces' }).click();
  await page.getByRole('combobox', { name: 'Add a surface' }).click();
  await page.getByRole('option', { name: 'My 16 pads' }).click();
  await page.keyboard.press('Escape');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.getByRole('link', { name: 'Surfaces' }).click();
  const row = page.getByRole('listitem').filter({ hasText: 'My 16 pads' });
  await row.getByRole('button', { name: 'Delete' }).click();
  await expect(page.getByRole('alert')).toContainText('It is used by “Nine Ferries – mix”');
  await expect(row).toBeVisible();
});

test('controls are dragged, chosen by a band and made larger with the mouse; numbers read in hex', async ({
  bind,
  page,
  server,
}) => {
  await page.goto(`${server.address}/surfaces`);
  await page.getByRole('button', { name: 'Copy Burrow 14' }).click();
  const [x, width] = [page.getByLabel('X, mm'), page.getByLabel('Width, mm')];
  const first = (await board(bind, 'knob-1').boundingBox())!;
  const second = (await board(bind, 'knob-2').boundingBox())!;
  const millimetre = (second.x - first.x) / 28;
  await page.mouse.move(first.x + 10, first.y + 20);
  await page.mouse.down();
  await page.mouse.move(first.x + 10 + 5 * millimetre, first.y + 20, { steps: 4 });
  await page.mouse.up();
  await expect(x).toHaveValue('19');
  const handle = (await page.locator('[data-handle="knob-1"]').boundingBox())!;
  await page.mouse.move(handle.x + handle.width / 2, handle.y + handle.height / 2);
  await page.mouse.down();
  await page.mouse.move(handle.x + handle.width / 2 + 3 * millimetre, handle.y, { steps: 4 });
  await page.mouse.up();
  await expect(width).toHaveValue('23');
  await page.getByLabel('Numbers in hex').check();
  await expect(page.getByText('controller 0Eh, channel 1')).toBeVisible();

  const last = (await board(bind, 'knob-14').boundingBox())!;
  await page.mouse.move(first.x - 3 * millimetre, first.y - 3 * millimetre);
  await page.mouse.down();
  await page.mouse.move(last.x + last.width, last.y + last.height, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByText('14 controls', { exact: true })).toBeVisible();
  await page.keyboard.press('Delete');
  await expect(board(bind, 'knob-3')).toBeHidden();
  await page.keyboard.press('Control+z');
  await expect(board(bind, 'knob-3')).toBeVisible();
});

test('a run of several rows is a grid on a panel that grows, and is selected; strips are shown and put right by dragging', async ({
  bind,
  page,
  server,
}) => {
  await draw(bind, server);
  const place = page.getByRole('complementary', { name: 'Place a control' });
  await place.getByRole('button', { name: 'knob' }).click();
  await page.getByRole('button', { name: /numbered run/ }).click();
  await page.getByLabel('In a row').fill('8');
  await page.getByLabel('Rows', { exact: true }).fill('3');
  await page.getByLabel('Right, mm').fill('60');
  await page.getByLabel('Apart, mm').fill('80');
  await page.getByRole('button', { name: 'Make the run' }).click();
  const chosen = page.locator('rondo-drawing-board [aria-pressed="true"]');
  await expect(chosen).toHaveCount(24);
  await page.keyboard.press('Escape');
  await expect(page.getByRole('heading', { name: /^24 controls, 458 × 200 mm/ })).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Nothing amiss' })).toBeHidden();

  await page.getByLabel('Strips', { exact: true }).check();
  await expect(page.getByRole('heading', { name: '8 strips' })).toBeVisible();
  // One control, then two at once; they stay where they are drawn.
  const middle = async (id: string) => {
    const box = (await board(bind, id).boundingBox())!;
    return [box.x + box.width / 2, box.y + box.height / 2] as const;
  };
  const dragged = async (id: string, [x, y]: readonly [number, number]) => {
    await page.mouse.move(...(await middle(id)));
    await page.mouse.down();
    await page.mouse.move(x, y, { steps: 4 });
    await page.mouse.up();
  };
  const before = await middle('knob-10');
  const strip = page.getByRole('spinbutton', { name: 'Strip' });
  await dragged('knob-10', await middle('knob-5'));
  await expect(strip).toHaveValue('5');
  expect(await middle('knob-10')).toEqual(before);
  await board(bind, 'knob-2').click();
  await expect(strip).toHaveValue('2');
  const plus = (await page.locator('rondo-drawing-board .strip.new rect').boundingBox())!;
  await dragged('knob-2', [plus.x + plus.width / 2, plus.y + plus.height / 2]);
  await expect(strip).toHaveValue('9');
  await page.keyboard.press('Control+z');
  await expect(strip).toHaveValue('2');
  const panel = (await page.locator('rondo-drawing-board .panel').boundingBox())!;
  await dragged('knob-2', [panel.x + 2, panel.y + 20]);
  await expect(strip).toHaveValue('');
  await strip.fill('2');
  await strip.press('Tab');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('heading', { name: '8 strips' })).toBeVisible();
});

test('a second onboard page is added, taught and played; the sheet’s difference is decided', async ({
  bind,
  page,
  server,
}) => {
  await bind.withMidi(PLAN);
  await page.goto(`${server.address}/surfaces`);
  await page.getByRole('button', { name: 'Copy 8 faders' }).click();
  await page.getByRole('button', { name: 'Device', exact: true }).click();
  await page.getByRole('button', { name: 'Add a page' }).click();
  await page.getByRole('button', { name: 'Add a colour' }).click();
  await expect(page.getByText('There is a palette, but no control has a light.')).toBeVisible();
  await page.getByRole('button', { name: 'Teach', exact: true }).click();
  await page.getByRole('button', { name: 'Allow real MIDI ports' }).click();
  const strip = page.locator('rondo-teach-strip');
  const sweep = (channel: number, number: number): [number, number[]][] =>
    Array.from({ length: 64 }, (_, i) => [
      i * 6,
      [0xb0 | channel, number, Math.round(63.5 - 63.5 * Math.cos(i / 10))],
    ]);
  await board(bind, 'fader-1').click();
  await play(bind, sweep(0, 33));
  await expect(strip).toContainText('controller 33, channel 1');
  await choose(page, 'Onboard page', 'Page 2');
  await expect(strip).toContainText('1 of 8');
  await play(bind, sweep(4, 70));
  await expect(strip).toContainText('controller 70, channel 5');

  await page.getByRole('button', { name: 'Sheets', exact: true }).click();
  await expect(page.getByText('One line differs')).toBeVisible();
  await page.getByRole('button', { name: 'Take what was taught' }).click();
  await expect(page.getByText('One line differs')).toBeHidden();
  await expect(page.getByText('Fader 1 (fader): controller 33, channel 1')).toBeVisible();
  await expect(page.getByText('Fader 1 (fader): controller 70, channel 5')).toBeVisible();
  const tick = page.getByLabel('Fader 1 (fader): controller 70, channel 5');
  await tick.check();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.reload();
  await page.getByRole('button', { name: 'Sheets', exact: true }).click();
  await expect(tick).toBeChecked();
});

test('a hand that waits a tenth of a second teaches every control its own message; undo takes it back in both', async ({
  bind,
  page,
  server,
}) => {
  await bind.withMidi(PLAN);
  await draw(bind, server);
  await page.getByRole('button', { name: 'knob', exact: true }).click();
  await board(bind, 'knob-1').click();
  await runOf(bind, 8, 30);
  await expect(board(bind, 'knob-8')).toBeVisible();
  await page.getByRole('button', { name: 'Teach', exact: true }).click();
  await page.getByRole('button', { name: 'Allow real MIDI ports' }).click();
  const strip = page.locator('rondo-teach-strip');
  await expect(strip).toContainText('1 of 8');
  // Each turned for 0.4 s, the next 0.1 s later; on its way to the fourth the hand brushes the sixth.
  const turn = (n: number, from: number): [number, number[]][] =>
    Array.from({ length: 40 }, (_, i) => [
      from + i * 10,
      [0xb0, 20 + n, Math.round(63.5 - 63.5 * Math.cos(i / 6.3))],
    ]);
  const all: [number, number[]][] = [];
  let at = 0;
  for (let n = 0; n < 8; n++) {
    if (n === 3) {
      all.push([at, [0xb0, 25, 3]], [at + 10, [0xb0, 25, 5]]);
      at += 110;
    }
    all.push(...turn(n, at));
    at += 500;
  }
  await play(bind, all);
  await expect(strip).toContainText('All 8 are through');
  await expect(page.getByText('send the same message')).toBeHidden();
  // The last one taken back is asked for again.
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(strip).toContainText('8 of 8');
  await play(bind, turn(9, 0));
  await expect(strip).toContainText('All 8 are through');
  await page.getByRole('button', { name: 'Draw', exact: true }).click();
  for (let n = 1; n <= 8; n++) {
    await board(bind, `knob-${n}`).click();
    await expect(
      page.getByText(`controller ${n === 8 ? 29 : 19 + n}, channel 1`, { exact: true }),
    ).toBeVisible();
  }
});
