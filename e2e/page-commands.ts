import { isDeepStrictEqual } from 'node:util';
import { expect, type Locator, type Page } from '@playwright/test';
import { nineFerriesMix } from '@rondo/core/profile';
import { changeBetween } from './document-leaves';
import { nameOf, type At, type PageModel } from './page-model';
import { act, choose, cutSaves, mendSaves } from './rondo';

/** One command: what is done, in which window, and a number to choose by. */
export interface Command {
  readonly does: keyof typeof COMMANDS;
  readonly window: At;
  readonly n: number;
}

const KEYS = ['function-2', 'function-3', 'function-4', 'mute-3', 'mute-5', 'solo-2', 'play'];
const FADERS = ['fader-2', 'fader-5', 'encoder-3'];
/** What is typed into the finder, and the function that it finds first. */
const FOUND = [
  ['save', 'save'],
  ['click', 'click'],
  ['loop', 'loop'],
  ['mute gulls', 'mute'],
  ['solo choir', 'solo'],
] as const;
const pick = <T>(list: readonly T[], n: number): T => list[n % list.length];
const tool = (page: Page, name: string): Locator => page.getByRole('button', { name, exact: true });
const closePanel = async (page: Page): Promise<void> => {
  const close = page.locator('rondo-panel-head').getByRole('button', { name: 'Close' });
  if (await close.count()) await close.first().click();
};

/** Does a command; says nothing where there is nothing for it to be done to. */
type Does = (model: PageModel, window: At, n: number) => Promise<void>;

const whileOnline =
  (does: Does): Does =>
  async (model, window, n) => {
    if (!model.isOffline) await does(model, window, n);
  };
/** A function that a control does not do yet. */
const another = (model: PageModel, control: string, n: number) =>
  pick(
    FOUND.filter(([, fn]) => !model.functionsOf(control).includes(fn)),
    n,
  );
const MOST_ACTIONS = 3;

export const COMMANDS = {
  rename: async (model, window, n) => {
    const page = model.page(window);
    const after = model.leaves();
    if (after.get('/name') === JSON.stringify(`Name ${n}`)) return;
    await nameOf(page).fill(`Name ${n}`);
    await nameOf(page).press('Enter');
    await model.editedTo(window, after.set('/name', JSON.stringify(`Name ${n}`)));
  },
  unbind: async (model, window, n) => {
    const control = pick([...KEYS, ...FADERS], n);
    const { bindings, bindingOrder, layerOrder } = model.profile;
    const gone = bindingOrder.filter(
      (id) => bindings[id].control?.control === control && bindings[id].layer === layerOrder[0],
    );
    // Where several stand on one control, which of them is meant is chosen first.
    if (model.isOffline || gone.length !== 1) return;
    await model.take(window, control);
    await tool(model.page(window), 'Unbind').click();
    const after = model.leaves();
    for (const path of after.keys())
      if (
        gone.some(
          (id) => `${path}/`.startsWith(`/bindings/${id}/`) || path === `/bindingOrder/${id}`,
        )
      )
        after.delete(path);
    await model.editedTo(window, after);
  },
  finder: whileOnline(async (model, window, n) => {
    const control = pick(KEYS, n);
    const [words, fn] = another(model, control, n);
    await model.take(window, control);
    await model.page(window).keyboard.press('/');
    await model.find(window, words);
    await model.edited(window, () => true);
    expect(model.functionOf(control)).toBe(fn);
  }),
  beside: whileOnline(async (model, window, n) => {
    const control = pick(KEYS, n);
    const before = model.functionsOf(control);
    if (before.length >= MOST_ACTIONS) return;
    const [words, fn] = another(model, control, n);
    await model.take(window, control);
    await model.page(window).keyboard.press('/');
    await model.find(window, words, 'Shift+Enter');
    await model.edited(window, () => true);
    expect(model.functionsOf(control)).toEqual([...before, fn]);
  }),
  pairs: whileOnline(async (model, window, n) => {
    const control = pick(['function-3', 'function-4'], n);
    // Pairs are found where the profile plays.
    if (model.functionOf(control) === 'arm' || !(await model.plays(window))) return;
    const page = model.page(window);
    await tool(page, 'Pairs').click();
    await model.desk(window, control).click();
    await model.host(window, 'Arm Gulls').click();
    const label = `Function ${control.slice(-1)}`;
    await page.getByRole('button', { name: `Bind ${label}, Harrow 8` }).click();
    await tool(page, 'Done').click();
    await model.edited(window, () => true);
    expect(model.functionOf(control)).toBe('arm');
  }),
  pointing: whileOnline(async (model, window, n) => {
    const control = pick(KEYS, n);
    const [thing, fn] = pick(
      [
        ['Mute Cello', 'mute'],
        ['Solo Cello', 'solo'],
      ].filter(([, one]) => one !== model.functionOf(control)),
      n,
    );
    const page = model.page(window);
    await page.keyboard.press('Escape');
    await page.keyboard.press('p');
    await expect(page.getByText('Point at a function in the picture')).toBeVisible();
    await model.host(window, thing).click();
    await expect(page.getByText('Now touch the control for')).toBeVisible();
    await model.desk(window, control).click();
    await model.edited(window, () => true);
    await page.keyboard.press('p');
    expect(model.functionOf(control)).toBe(fn);
  }),
  change: whileOnline(async (model, window, n) => {
    const control = pick(KEYS, n);
    if (!model.functionOf(control)) return;
    const [words, fn] = another(model, control, n);
    await model.take(window, control);
    await tool(model.page(window), 'Change').click();
    await model.find(window, words);
    await model.edited(window, () => true);
    expect(model.functionOf(control)).toBe(fn);
  }),
  action: whileOnline(async (model, window, n) => {
    const control = pick(KEYS, n);
    const binding = model.bindingOf(control);
    if (!binding || binding.actions.length >= MOST_ACTIONS) return;
    const page = model.page(window);
    await model.take(window, control);
    await tool(page, 'Actions').click();
    await tool(page, 'Add an action').click();
    await model.find(window, another(model, control, n)[0]);
    await model.edited(window, () => true);
    expect(model.bindingOf(control)?.actions).toHaveLength(binding.actions.length + 1);
    await closePanel(page);
  }),
  condition: whileOnline(async (model, window, n) => {
    const control = pick(KEYS, n);
    const before = model.bindingOf(control);
    if (!before || before.when) return;
    const page = model.page(window);
    await model.take(window, control);
    await page
      .locator('rondo-round')
      .getByRole('button', { name: /on Base/ })
      .click();
    await act(page, 'Add a condition …', 'Layer Sends');
    await model.edited(window, (after) => JSON.stringify(after.bindings) !== '');
    await closePanel(page);
  }),
  shape: whileOnline(async (model, window, n) => {
    const control = pick(FADERS.slice(0, 2), n);
    if (!model.functionOf(control)) return;
    const page = model.page(window);
    await model.desk(window, control).focus();
    await page.keyboard.press('Enter');
    await page.keyboard.press('PageUp');
    await page.getByRole('button', { name: 'Shape and feel' }).click();
    const field = page.getByRole('spinbutton', { name: 'High end of the range, per cent' });
    const high = 20 + (n % 70);
    if ((await field.inputValue()) !== String(high)) {
      await field.fill(String(high));
      await page.keyboard.press('Enter');
      await model.edited(window, () => true);
      expect(JSON.stringify(model.bindingOf(control))).toContain(String(high / 100));
    }
    await closePanel(page);
  }),
  light: whileOnline(async (model, window, n) => {
    const control = pick(['mute-3', 'mute-5'], n);
    if (!model.functionOf(control)) return;
    const page = model.page(window);
    await page.getByRole('link', { name: 'Lights' }).click();
    await model.desk(window, control).click();
    const panel = page.locator('rondo-returns-panel');
    await panel.getByRole('radio', { name: 'This binding' }).click();
    await panel.getByRole('switch', { name: 'Show something' }).click();
    await model.edited(window, () => true);
    await page.getByRole('link', { name: 'Bind' }).click();
    await expect(model.desk(window, 'fader-1')).toBeVisible();
  }),
  layer: whileOnline(async (model, window) => {
    const count = model.profile.layerOrder.length;
    if (count > 6) return;
    const page = model.page(window);
    await tool(page, 'Edit layers').click();
    await tool(page, 'New layer').click();
    await model.edited(window, (after) => after.layerOrder.length === count + 1);
    await tool(page, 'Follow what is on').click();
    await closePanel(page);
  }),
  removeLayer: whileOnline(async (model, window) => {
    const { layerOrder, layers } = model.profile;
    const last = layerOrder.at(-1) as string;
    if (layerOrder.length < 4) return;
    const page = model.page(window);
    await tool(page, 'Edit layers').click();
    await page
      .getByRole('group', { name: 'Layers', exact: true })
      .getByRole('button')
      .filter({ hasText: layers[last].label })
      .first()
      .click();
    await tool(page, 'Remove').first().click();
    await model.edited(window, (after) => !after.layerOrder.includes(last));
    await closePanel(page);
  }),
  flag: whileOnline(async (model, window) => {
    const count = model.profile.flagOrder.length;
    if (count > 5) return;
    const page = model.page(window);
    await tool(page, 'Edit layers').click();
    await tool(page, 'New flag').click();
    await model.edited(window, (after) => after.flagOrder.length === count + 1);
    await closePanel(page);
  }),
  removeFlag: whileOnline(async (model, window) => {
    const { flagOrder, flags } = model.profile;
    const last = flagOrder.at(-1);
    if (!last) return;
    const page = model.page(window);
    await tool(page, 'Edit layers').click();
    await tool(page, `Remove ${flags[last].label}`).click();
    await model.edited(window, (after) => !after.flagOrder.includes(last));
    await closePanel(page);
  }),
  repeat: whileOnline(async (model, window, n) => {
    const control = pick(KEYS, n);
    const { profile } = model;
    const binding = model.bindingOf(control);
    const sends = profile.layerOrder.find((id) => profile.layers[id].label === 'Sends');
    const isThere = profile.bindingOrder.some(
      (id) =>
        profile.bindings[id].layer === sends && profile.bindings[id].control?.control === control,
    );
    if (!binding || !sends || isThere) return;
    const page = model.page(window);
    await model.take(window, control);
    await tool(page, 'Repeat').click();
    await act(page, 'Copy to layer …', 'Sends');
    await model.edited(window, (after) => after.bindingOrder.length > profile.bindingOrder.length);
    await closePanel(page);
  }),
  swap: whileOnline(async (model, window, n) => {
    const [control, with_, label] = pick(
      [
        ['function-2', 'function-3', 'Function 3'],
        ['function-3', 'function-4', 'Function 4'],
        ['mute-3', 'mute-5', 'Mute 5'],
      ],
      n,
    );
    const [mine, theirs] = [model.functionOf(control), model.functionOf(with_)];
    if (mine === undefined || mine === theirs) return;
    const page = model.page(window);
    await model.take(window, control);
    await tool(page, 'Repeat').click();
    await choose(page, 'Swap with a control', label);
    await model.edited(window, () => true);
    expect([model.functionOf(control), model.functionOf(with_)]).toEqual([theirs, mine]);
    await closePanel(page);
  }),
  mirror: whileOnline(async (model, window) => {
    const isLike = () =>
      isDeepStrictEqual(model.bindingOf('select-5')?.actions, model.bindingOf('select-1')?.actions);
    if (isLike()) return;
    const page = model.page(window);
    await model.take(window, 'mute-1');
    await tool(page, 'Repeat').click();
    await tool(page, 'Copy the half').click();
    await model.edited(window, () => true);
    expect(isLike()).toBe(true);
    await closePanel(page);
  }),
  name: whileOnline(async (model, window, n) => {
    const page = model.page(window);
    const panel = page.locator('rondo-versions-panel');
    await page.keyboard.press('Escape');
    await page.keyboard.press('v');
    await panel.getByRole('textbox', { name: 'Call what is saved now' }).fill(`Kept ${n}`);
    await tool(page, 'Name it').click();
    await expect(panel).toContainText(`Kept ${n}`);
    await panel.getByRole('button', { name: 'Close' }).click();
    model.keepVersion(`Kept ${n}`);
  }),
  bringBack: whileOnline(async (model, window) => {
    const { kept } = model;
    if (!kept || changeBetween(kept.document, model.leaves()).size === 0) return;
    const page = model.page(window);
    const panel = page.locator('rondo-versions-panel');
    await page.keyboard.press('Escape');
    await page.keyboard.press('v');
    const named = panel.getByRole('listitem').filter({ hasText: kept.as }).first();
    await named.getByRole('button', { name: /^Bring back/ }).click();
    await model.editedTo(window, kept.document);
    if (await panel.count()) await panel.getByRole('button', { name: 'Close' }).click();
  }),
  undo: async (model, window, n) => model.go(window, 'undo', n % 2 === 0),
  redo: async (model, window, n) => model.go(window, 'redo', n % 2 === 0),
  touch: async (model, window, n) => {
    const before = model.leaves();
    await model.desk(window, pick(FADERS.slice(0, 2), n)).focus();
    await model.page(window).keyboard.press('Enter');
    await model.page(window).keyboard.press(pick(['Home', 'PageUp', 'ArrowUp'], n));
    expect([...changeBetween(before, model.leaves())]).toEqual([]);
  },
  reload: async (model, window) => {
    await model.page(window).reload();
    await expect(model.desk(window, 'fader-1')).toBeVisible();
  },
  leave: async (model, window) => {
    const page = model.page(window);
    await page.getByRole('link', { name: 'All profiles' }).click();
    await page.getByRole('link', { name: 'Neap Rink', exact: true }).click();
    await expect(page.locator('g[data-id]').first()).toBeVisible();
    await model.open(window);
  },
  // The list has the name that the server has.
  leaveByLinks: whileOnline(async (model, window) => {
    const page = model.page(window);
    const name = JSON.parse(model.leaves().get('/name') as string) as string;
    await page.getByRole('link', { name: 'All profiles' }).click();
    await page.getByRole('link', { name, exact: true }).click();
    await expect(model.desk(window, 'fader-1')).toBeVisible();
  }),
  close: async (model, window) => {
    await model.anew(window);
  },
  offline: async (model) => model.goOffline(),
  online: async (model) => model.goOnline(),
  kill: whileOnline(async (model, window, n) => {
    const page = model.page(window);
    const after = model.leaves().set('/name', JSON.stringify(`Killed ${n}`));
    if (changeBetween(model.leaves(), after).size === 0) return;
    await model.server.stop();
    await nameOf(page).fill(`Killed ${n}`);
    await nameOf(page).press('Enter');
    await expect(page.getByText(/Not saved/).first()).toBeVisible();
    await model.server.start();
    await model.editedTo(window, after);
  }),
  file: whileOnline(async (model, window, by) => {
    const n = by + 1_000 * model.next();
    const page = model.page(window);
    await page.getByRole('link', { name: 'All profiles' }).click();
    await page.getByLabel('File of Rondo’s').setInputFiles({
      name: 'mix.json',
      mimeType: 'application/json',
      buffer: Buffer.from(
        JSON.stringify({ ...nineFerriesMix(model.id), name: `From a file ${n}` }),
      ),
    });
    const incoming = page.locator('rondo-incoming');
    await incoming.getByRole('radio', { name: /^Replace mine/ }).click();
    await incoming.getByRole('button', { name: 'Take it in' }).click();
    await expect(incoming).toHaveCount(0);
    await model.open(window);
    await expect(nameOf(page)).toHaveValue(`From a file ${n}`);
    await model.takeOver();
  }),
  otherBrowser: whileOnline(async (model, window, by) => {
    const n = by + 1_000 * model.next();
    const theirs = async () => {
      const elsewhere = await model.context.browser()!.newContext();
      const page = await elsewhere.newPage();
      await page.goto(`${model.server.address}/bind/${model.id}`);
      await nameOf(page).fill(`Theirs ${n}`);
      await nameOf(page).press('Enter');
      await model.server.hasNamed(model.id, `Theirs ${n}`);
      await elsewhere.close();
    };
    // Where nothing is unsaved it is shown at once, and one's own steps go on.
    if (n % 3 === 0) {
      await theirs();
      for (const at of [0, 1] as const) {
        await expect(nameOf(model.page(at))).toHaveValue(`Theirs ${n}`);
        await expect(model.page(at).getByText('was saved in another browser').last()).toBeVisible();
      }
      await model.cameFromElsewhere(model.leaves().set('/name', JSON.stringify(`Theirs ${n}`)));
      return;
    }
    const page = model.page(window);
    await cutSaves(model.context);
    await nameOf(page).fill(`Mine ${n}`);
    await nameOf(page).press('Enter');
    await expect(page.getByText(/Not saved/).first()).toBeVisible();
    await theirs();
    await mendSaves(model.context);
    await expect(page.getByRole('alert').filter({ hasText: 'has saved' })).toBeVisible();
    const keep = n % 3 === 1;
    await tool(page, keep ? 'Keep mine' : 'Take theirs').click();
    for (const at of [0, 1] as const)
      await expect(nameOf(model.page(at))).toHaveValue(keep ? `Mine ${n}` : `Theirs ${n}`);
    await model.server.hasNamed(model.id, keep ? `Mine ${n}` : `Theirs ${n}`);
    await model.takeOver();
  }),
} satisfies Record<string, Does>;
