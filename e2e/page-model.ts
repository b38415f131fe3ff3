import type { BrowserContext, Locator, Page } from '@playwright/test';
import { nineFerriesMix, type Profile } from '@rondo/core/profile';
import {
  changeBetween,
  leavesOf,
  meet,
  sorted,
  withChange,
  type Change,
  type Leaves,
} from './document-leaves';
import { cutSaves, expect, mendSaves, type Server } from './rondo';

/** A step in a window's history, and what others have changed since that may be in its way. */
interface Step {
  readonly change: Change;
  inTheWay: boolean;
}

/** Which of the two windows. */
export type At = 0 | 1;

interface Window {
  page: Page;
  undo: Step[];
  redo: Step[];
}

const TRANSIENT = { timeout: 20_000 };

/**
 * Two windows of one browser at one profile, and what it should be: a document, flat, and for each window what it has
 * done and can take back. The page is used as a person uses it; the model is read off the server and by what an edit
 * is said to do, never from the page's own history.
 */
export class PageModel {
  readonly windows: [Window, Window] = [] as never;
  /** The document as it should be everywhere. */
  private document: Leaves = new Map();
  private readonly first: Leaves;
  private raw: Profile = nineFerriesMix();
  private firstRaw = '';
  /** What each document looked like on the screen: the same one always looks the same. */
  private readonly looks = new Map<string, string>();
  private count = 0;
  private offline = false;
  private version: { readonly as: string; readonly document: Leaves } | null = null;
  /** Edits of another browser, or a file, came in: what was done before is not asked for any more. */
  private cameIn = false;

  private constructor(
    readonly context: BrowserContext,
    readonly server: Server,
    readonly id: string,
    profile: Profile,
  ) {
    this.raw = profile;
    this.firstRaw = JSON.stringify(profile);
    this.first = this.document = leavesOf(profile);
  }

  static async begin(context: BrowserContext, server: Server, id: string): Promise<PageModel> {
    const made = await fetch(`${server.address}/api/profiles`, {
      method: 'POST',
      headers: {
        'content-type': 'application/json',
        'idempotency-key': crypto.randomUUID(),
        origin: server.address,
      },
      body: JSON.stringify({ document: { ...nineFerriesMix(id), name: id } }),
    });
    expect(made.status).toBe(201);
    const model = new PageModel(context, server, id, await stored(server, id));
    for (const at of [0, 1] as const) {
      model.windows[at] = { page: await context.newPage(), undo: [], redo: [] };
      await model.open(at);
    }
    return model;
  }

  page(window: At): Page {
    return this.windows[window].page;
  }

  async open(window: At): Promise<void> {
    const page = this.page(window);
    await page.goto(`${this.server.address}/bind/${this.id}`);
    await expect(this.desk(window, 'fader-1')).toBeVisible();
    await expect(nameOf(page)).toHaveValue(/./);
  }

  /** A number that was not there yet. */
  next(): number {
    return ++this.count;
  }

  /** Whether the profile plays in this window. */
  async plays(window: At): Promise<boolean> {
    return (await this.page(window).getByText('Rondo plays in another window').count()) === 0;
  }

  desk(window: At, id: string): Locator {
    return this.page(window).locator(`g[data-id="${id}"]`).first();
  }
  host(window: At, name: string): Locator {
    return this.page(window)
      .getByRole('group', { name: 'Studio' })
      .getByLabel(name, { exact: true });
  }
  /** The binding of a control on the first layer, without a condition. */
  bindingOf(control: string): Profile['bindings'][string] | undefined {
    const { bindings, bindingOrder, layerOrder } = this.raw;
    return bindingOrder
      .map((id) => bindings[id])
      .find((one) => one.control?.control === control && one.layer === layerOrder[0]);
  }
  /** The function that the first action of a control's binding is of. */
  functionOf(control: string): string | undefined {
    const action = this.bindingOf(control)?.actions[0];
    return action?.do === 'function' ? action.function : undefined;
  }
  /** The functions that a control does on the first layer, in their order. */
  functionsOf(control: string): string[] {
    const { bindings, bindingOrder, layerOrder } = this.raw;
    return bindingOrder
      .map((id) => bindings[id])
      .filter((one) => one.control?.control === control && one.layer === layerOrder[0])
      .flatMap(({ actions }) => actions)
      .flatMap((action) => (action.do === 'function' ? [action.function] : []));
  }
  get profile(): Profile {
    return this.raw;
  }
  get isOffline(): boolean {
    return this.offline;
  }

  /** Takes a control in hand. */
  async take(window: At, control: string): Promise<void> {
    await this.desk(window, control).click();
    const heading = this.page(window).locator('rondo-round');
    await expect(heading).toBeVisible();
  }

  /** Finds a function by words and takes it. */
  async find(window: At, words: string, key = 'Enter'): Promise<void> {
    const page = this.page(window);
    const field = page.getByRole('combobox', { name: 'Find a function' });
    await field.fill(words);
    await expect(page.getByRole('listbox').getByRole('option').first()).toBeVisible();
    await page.keyboard.press(key);
    await expect(field).toBeHidden();
  }

  /** An edit was made in a window: the server has it, both windows show it, and it is a step of that window. */
  async edited(window: At, holds: (after: Profile) => boolean): Promise<void> {
    const before = this.document;
    await expect
      .poll(async () => {
        const now = await stored(this.server, this.id);
        return changeBetween(before, leavesOf(now)).size > 0 && holds(now);
      }, TRANSIENT)
      .toBe(true);
    await this.saved();
    this.raw = await stored(this.server, this.id);
    this.document = leavesOf(this.raw);
    this.did(window, changeBetween(before, this.document));
  }

  private did(window: At, change: Change): void {
    const mine = this.windows[window];
    mine.undo.push({ change, inTheWay: false });
    mine.redo = [];
    this.getInTheWay(window, change);
  }

  private getInTheWay(window: At, change: Change): void {
    const other = this.windows[1 - window];
    for (const step of [...other.undo, ...other.redo])
      if (meet(step.change, change)) step.inTheWay = true;
  }

  /** An edit whose effect is known beforehand, also while the server cannot be reached. */
  async editedTo(window: At, after: Leaves): Promise<void> {
    const change = changeBetween(this.document, after);
    this.document = after;
    this.did(window, change);
    if (!this.offline) await this.reaches();
  }

  /** The server comes to have the document as it should be. */
  async reaches(): Promise<void> {
    await expect
      .poll(
        async () => [...changeBetween(this.document, leavesOf(await stored(this.server, this.id)))],
        TRANSIENT,
      )
      .toEqual([]);
    this.raw = await stored(this.server, this.id);
    await this.saved();
  }

  private async saved(): Promise<void> {
    for (const { page } of this.windows)
      await expect(page.getByText('Saved', { exact: true })).toBeVisible(TRANSIENT);
  }

  /** Back or forth by one step in a window. Where it is refused, that is said, and something was in its way. */
  async go(window: At, way: 'undo' | 'redo', leaveOut: boolean): Promise<void> {
    const mine = this.windows[window];
    const step = mine[way].at(-1);
    if (!step) return;
    const { page } = mine;
    await page.bringToFront();
    const before = this.document;
    const after = withChange(before, step.change, way === 'undo' ? 0 : 1);
    await page
      .getByRole('button', { name: way === 'undo' ? 'Undo' : 'Redo', exact: true })
      .first()
      .click();
    const refusal = page.getByRole('button', { name: 'Leave it out' });
    if (step.inTheWay && (await this.isRefused(refusal, after))) {
      if (!leaveOut) {
        await page.locator('p-toast button[aria-label*="lose"]').first().click();
        await expect(refusal).toHaveCount(0);
        return;
      }
      mine[way].pop();
      // What it has changed stays, and is in the way of what this window did there before.
      for (const other of [...mine.undo, ...mine.redo])
        if (meet(other.change, step.change)) other.inTheWay = true;
      await refusal.click();
      await expect(refusal).toHaveCount(0);
      return;
    }
    mine[way].pop();
    mine[way === 'undo' ? 'redo' : 'undo'].push(step);
    this.document = after;
    this.getInTheWay(window, step.change);
    if (!this.offline) await this.reaches();
  }

  private async isRefused(refusal: Locator, after: Leaves): Promise<boolean> {
    let end: 'refused' | 'done' | '' = '';
    await expect
      .poll(async () => {
        if (await refusal.isVisible()) return (end = 'refused');
        const now = leavesOf(await stored(this.server, this.id));
        return (end = changeBetween(after, now).size === 0 ? 'done' : '');
      }, TRANSIENT)
      .not.toBe('');
    return (end as string) === 'refused';
  }

  /** Both windows show the same; the same document always looks the same; what is not saved is said. */
  async agree(): Promise<void> {
    const looks: string[] = [];
    for (const { page } of this.windows) {
      if (this.offline) {
        if (changeBetween(this.document, leavesOf(await stored(this.server, this.id))).size > 0)
          await expect(page.getByText(/Not saved/).first()).toBeVisible(TRANSIENT);
      } else {
        // What only says what has happened goes by itself.
        const alert = page.locator('[role=alert]:not(.p-toast-message-info)');
        await expect(alert).toHaveCount(0);
      }
    }
    const key = JSON.stringify([...this.document].sort(([a], [b]) => (a < b ? -1 : 1)));
    const known = this.looks.get(key);
    for (const at of [0, 1] as const) {
      const look = () => this.look(at);
      if (known !== undefined) await expect.poll(look, TRANSIENT).toBe(known);
      looks.push(await look());
    }
    if (known === undefined) {
      await expect.poll(async () => this.look(0), TRANSIENT).toBe(await this.look(1));
      this.looks.set(key, await this.look(0));
    }
  }

  /** What a window says the profile is: its name, its layers, and what each control is bound to. */
  private async look(window: At): Promise<string> {
    const page = this.page(window);
    const name = await nameOf(page).inputValue();
    const controls = await page
      .locator('rondo-surface-drawing g[data-id]')
      .evaluateAll((all) => all.map((one) => one.getAttribute('aria-label') ?? ''))
      // What displays say is played, and only drawn in the window in front.
      .then((all) => all.filter((label) => !/^(Display|Counter)/.test(label)));
    const layers = await page
      .getByRole('group', { name: 'Layers', exact: true })
      .getByRole('button')
      .allInnerTexts();
    return [name, ...layers, ...controls].join('\n');
  }

  async goOffline(): Promise<void> {
    if (this.offline) return;
    this.offline = true;
    await cutSaves(this.context);
  }
  async goOnline(): Promise<void> {
    if (!this.offline) return;
    this.offline = false;
    await mendSaves(this.context);
    await this.reaches();
  }

  /** The document as it is now was given a name. */
  keepVersion(as: string): void {
    this.version = { as, document: this.document };
  }
  get kept(): { readonly as: string; readonly document: Leaves } | null {
    return this.version;
  }
  /** A window is closed and another one opened in its place, with no history. */
  async anew(window: At): Promise<void> {
    await this.page(window).close();
    this.windows[window] = { page: await this.context.newPage(), undo: [], redo: [] };
    this.cameIn = true;
    await this.open(window);
  }
  /** Another browser has saved while nothing was unsaved here: it is here, and the steps go on from there. */
  async cameFromElsewhere(after: Leaves): Promise<void> {
    const change = changeBetween(this.document, after);
    for (const window of [0, 1] as const) this.getInTheWay(window, change);
    this.document = after;
    this.cameIn = true;
    await this.reaches();
  }
  /** What came in from elsewhere is where steps begin anew. */
  begun(): void {
    this.cameIn = true;
    this.version = null;
    for (const window of this.windows) [window.undo, window.redo] = [[], []];
  }
  async takeOver(): Promise<void> {
    this.raw = await stored(this.server, this.id);
    this.document = leavesOf(this.raw);
    this.begun();
  }
  leaves(): Map<string, string> {
    return new Map(this.document);
  }
  /**
   * Back to the beginning, the newest step of either window first, over a reload; then forth to the end again. Where
   * nothing was refused and nothing came in, the beginning is the very document that there was.
   */
  async thereAndBack(order: readonly At[]): Promise<void> {
    await this.goOnline();
    const last = this.document;
    const done: At[] = [];
    const steps = this.windows.map(({ undo }) => undo.length);
    let at = 0;
    while (this.windows.some(({ undo }) => undo.length > 0)) {
      const window =
        this.windows[order[at % order.length]].undo.length > 0
          ? order[at % order.length]
          : ((1 - order[at % order.length]) as At);
      const before = this.windows[window].undo.length;
      await this.go(window, 'undo', true);
      if (this.windows[window].redo.length > 0 && this.windows[window].undo.length < before)
        done.push(window);
      if (++at % 7 === 3) {
        await this.page(window).reload();
        await expect(nameOf(this.page(window))).toHaveValue(/./);
      }
    }
    await this.agree();
    const refused =
      steps[0] + steps[1] !== this.windows[0].redo.length + this.windows[1].redo.length;
    if (!refused && !this.cameIn) {
      expect([...changeBetween(this.first, this.document)]).toEqual([]);
      expect(sorted(this.raw)).toBe(sorted(JSON.parse(this.firstRaw)));
    }
    for (const window of done.reverse()) await this.go(window, 'redo', true);
    await this.agree();
    if (!refused) expect([...changeBetween(last, this.document)]).toEqual([]);
  }

  async end(): Promise<void> {
    await this.goOnline();
    for (const { page } of this.windows) await page.close();
  }
}

export const nameOf = (page: Page): Locator =>
  page.getByRole('textbox', { name: 'Name of the profile' });
/** A profile as the server has it. */
async function stored(server: Server, id: string): Promise<Profile> {
  const answer = await fetch(`${server.address}/api/profiles/${id}`);
  return ((await answer.json()) as { document: Profile }).document;
}
