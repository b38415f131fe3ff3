import { BURROW_14, sendsOf } from '@rondo/core/surface';
import type { MidiPlan } from '../web/testing/web-midi';
import { atPorts, expect, test, type Bench } from './rondo';

/** What the controls of the knob box send, as bytes. */
const BURROW = BURROW_14.controls.flatMap((control) =>
  Object.values(sendsOf(BURROW_14, control)).flatMap((pattern) =>
    pattern.type === 'controller' ? [[0xb0 | (pattern.channel - 1), pattern.number, 64]] : [],
  ),
);

/** Counts what a stranger does: each click is one action. */
class Stranger {
  actions = 0;
  constructor(private readonly bind: Bench) {}

  async click(name: RegExp | string): Promise<void> {
    this.actions++;
    await this.bind.page.getByRole('button', { name }).click();
  }
  async begin(address: string): Promise<void> {
    await this.bind.page.goto(`${address}/profiles`);
    await this.click('New profile');
  }
  /** Makes it and takes all that is proposed. */
  async make(): Promise<void> {
    await this.click('Make it');
    await expect(this.bind.page.getByRole('button', { name: /^Take \d+ bindings/ })).toBeEnabled();
    await this.click(/^Take \d+ bindings/);
    expect(this.actions).toBeLessThanOrEqual(10);
  }
}

test('the motor desk and the Studio: five actions to a profile that plays, one step of undo back', async ({
  bind,
  page,
  server,
}) => {
  const stranger = new Stranger(bind);
  await stranger.begin(server.address);
  await stranger.click(/^Harrow 8 Motor/);
  await stranger.click(/^Studio A/);
  await stranger.make();
  expect(stranger.actions).toBe(5);
  await bind.drag(bind.fader(2), -40);
  await expect(bind.station('Function')).toContainText('Volume, strip 2 of the bank');
  await bind.desk('mute-3').click();
  await expect(bind.host('Mute Foghorn')).toHaveAttribute('aria-pressed', 'true');
  await bind.desk('play').click();
  await expect(bind.desk('play')).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('Control+z');
  await bind.desk('mute-4').click();
  await expect(bind.station('Function')).toContainText('othing');
});

test('a pad grid, a keyboard and the Booth: parts are left, and proposed again', async ({
  bind,
  page,
  server,
}) => {
  const stranger = new Stranger(bind);
  await stranger.begin(server.address);
  await stranger.click(/^Cobble 64/);
  await stranger.click(/^Plinth 32/);
  await stranger.click(/^Booth A/);
  await stranger.click('Make it');
  const panel = page.locator('rondo-propose-panel');
  await panel.getByRole('switch', { name: /^Stems/ }).click();
  const take = panel.getByRole('button', { name: /^Take \d+ bindings/ });
  await take.click();
  await expect(panel).toBeHidden();
  await page.getByRole('button', { name: 'Propose', exact: true }).click();
  await expect(panel.getByRole('switch', { name: /^Stems/ })).toBeVisible();
  await expect(panel.getByRole('switch', { name: /^Decks/ })).toBeHidden();
  await panel.getByRole('button', { name: 'Leave it' }).click();
  await bind.desk('pad-3').click();
  await expect(bind.station('Function')).toContainText(/, Deck 3/);
});

const PLAN: MidiPlan = {
  answer: 'granted',
  inputs: [{ id: 'box', name: 'Attic box' }],
  outputs: [{ id: 'box-out', name: 'Attic box' }],
};
/** A knob is turned up and down, in its own time. */
const turn = (bind: Bench, number: number, channel = 5) =>
  atPorts(
    bind.page,
    async ([controller, status]) => {
      for (let i = 0; i < 48; i++) {
        const value = Math.round(63.5 - 63.5 * Math.cos(i / 8));
        window.rondoMidi.play('box', [status, controller, value]);
        await new Promise((done) => setTimeout(done, 8));
      }
    },
    [number, 0xb0 + channel - 1] as const,
  );

test('a box that nobody knows is touched, taught and comes back; beside a touch a control ten actions', async ({
  bind,
  page,
  server,
}) => {
  await bind.withMidi(PLAN);
  const stranger = new Stranger(bind);
  await stranger.begin(server.address);
  await stranger.click(/^Studio A/);
  await stranger.click('Touch yours');
  await expect(page.getByText('Touch a few controls')).toBeVisible();
  await turn(bind, 102);
  await turn(bind, 103);
  await stranger.click('Teach it, then come back');
  const strip = page.locator('rondo-teach-strip');
  // Two rows of three knobs, a row of three faders: said in passing, once a row.
  for (let touched = 0; touched < 9; touched++) {
    await expect(strip).toContainText(`${touched + 1} of 40`);
    if (touched > 0 && touched % 3 === 0) await stranger.click(touched < 6 ? 'Knobs' : 'Faders');
    if (touched === 6) await expect(strip).toContainText('Move it from end to end');
    await turn(bind, 102 + touched);
  }
  await expect(strip).toContainText('10 of 40');
  await stranger.click('Back to the new profile');
  await expect(page.getByRole('button', { name: /^Attic box/ })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  // What was chosen before is there still.
  await expect(page.getByRole('button', { name: /^Studio A/ })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  await stranger.make();
  await expect(page.getByText('real ports', { exact: true })).toBeVisible();
  // A column is a strip: the fader below is its volume, the knobs above are something else of it.
  await turn(bind, 109);
  await expect(bind.station('Control')).toContainText('Control 8');
  await expect(bind.station('Function')).toContainText('Volume, strip 2 of the bank');
  await turn(bind, 103);
  await expect(bind.station('Function')).toContainText('Pan, strip 2 of the bank');
});

test('a device that the library knows is chosen as it is touched, on its port', async ({
  bind,
  page,
  server,
}) => {
  await bind.withMidi({
    ...PLAN,
    inputs: [{ id: 'box', name: 'Burrow' }],
    outputs: [],
  });
  const stranger = new Stranger(bind);
  await stranger.begin(server.address);
  await stranger.click('Touch yours');
  await expect(page.getByText('Touch a few controls')).toBeVisible();
  const touch = (list: number[][]) =>
    atPorts(
      page,
      (all) => {
        for (const bytes of all) window.rondoMidi.play('box', bytes);
      },
      list,
    );
  // Two knobs could be of several; the more is touched, the fewer it can be.
  await touch(BURROW.slice(0, 2));
  await expect(page.getByText('may be one of these')).toBeVisible();
  await touch(BURROW);
  const burrow = page.getByRole('button', { name: /^Burrow 14 \w/ });
  await expect(burrow).toHaveAttribute('aria-pressed', 'true');
  // It was another one after all: what seemed to be it is given up, and there is a way on at any time.
  await expect(page.getByRole('button', { name: 'It is another: teach it' })).toBeVisible();
  await touch([[0xb9, 3, 64]]);
  await expect(page.getByText('sends what no surface here sends')).toBeVisible();
  await expect(burrow).toHaveAttribute('aria-pressed', 'false');
});

test('two controls that one surface alone sends may be chance: it is asked, and nothing is chosen', async ({
  bind,
  page,
  server,
}) => {
  await bind.withMidi(PLAN);
  const stranger = new Stranger(bind);
  await stranger.begin(server.address);
  await stranger.click('Touch yours');
  await expect(page.getByText('Touch a few controls')).toBeVisible();
  const plinth = page.getByRole('button', { name: /^Plinth 32 \w/ });
  await turn(bind, 20, 2);
  await turn(bind, 21, 2);
  await expect(page.getByText('may be this one')).toBeVisible();
  await expect(plinth).toHaveAttribute('aria-pressed', 'false');
  await page.getByRole('button', { name: 'Plinth 32', exact: true }).click();
  await expect(plinth).toHaveAttribute('aria-pressed', 'true');
  // Chosen by hand it stays, whatever else is touched.
  await turn(bind, 99, 9);
  await expect(page.getByText('sends what no surface here sends')).toBeVisible();
  await expect(plinth).toHaveAttribute('aria-pressed', 'true');
});
