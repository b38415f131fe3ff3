import { Browser } from './cdp';
import { expect, test } from './rondo';
import { installWebMidi, type MidiPlan } from '../web/testing/web-midi';

const PLAN: MidiPlan = {
  answer: 'granted',
  inputs: [{ id: 'desk-in', name: 'Harrow 8 out' }],
  outputs: [{ id: 'desk-out', name: 'Harrow 8 in' }],
};
const SESSION = {
  bank: 0,
  ports: {
    'surface:desk': { real: true, input: PLAN.inputs[0], output: PLAN.outputs[0] },
  },
};

/** The name that a server has of the demo profile. */
async function nameAt(address: string): Promise<string> {
  const answer = await fetch(`${address}/api/profiles/nine-ferries-mix`);
  return ((await answer.json()) as { document: { name: string } }).document.name;
}

test('behind another tab nothing is drawn, and the round, the ports and the autosave go on', async ({
  server,
}) => {
  const browser = await Browser.start();
  try {
    await browser.send('Browser.grantPermissions', {
      origin: server.address,
      permissions: ['midi', 'midiSysex'],
    });
    const tab = await browser.openTab('about:blank');
    await tab.before(`
        (${installWebMidi.toString()})(window, ${JSON.stringify(PLAN)});
        if (top === window) localStorage.setItem('rondo.session.nine-ferries-mix', ${JSON.stringify(JSON.stringify(SESSION))});
        window.frames_ = 0;
        const count = () => { window.frames_++; requestAnimationFrame(count); };
        requestAnimationFrame(count);`);
    await tab.send('Page.navigate', { url: `${server.address}/bind/nine-ferries-mix` });
    const ports = await tab.ofFrame();
    const sent = () => ports.evaluate<number>(`(window.rondoMidi?.sent['desk-out'] ?? []).length`);
    // Painted, and quiet again.
    await expect.poll(sent, { timeout: 20_000 }).toBeGreaterThan(80);

    const front = await browser.openTab('about:blank');
    await front.toFront();
    await expect.poll(() => tab.evaluate(`document.visibilityState`)).toBe('hidden');
    const framesBefore = await tab.evaluate<number>('window.frames_');

    // Play on the real desk: the simulated Studio plays, its automation moves motors, all of it behind the other tab.
    const play = (...bytes: number[]) =>
      ports.evaluate(`window.rondoMidi.play('desk-in', ${JSON.stringify(bytes)})`);
    await play(0x90, 0x5e, 0x7f);
    await play(0x90, 0x5e, 0x00);
    const motors = () =>
      ports.evaluate<number>(
        `window.rondoMidi.sent['desk-out'].filter(([status]) => status === 0xe2).length`,
      );
    const motorsBefore = await motors();
    await expect.poll(motors, { timeout: 20_000 }).toBeGreaterThan(motorsBefore + 40);
    await play(0x90, 0x10, 0x7f);
    await play(0x90, 0x10, 0x00);
    await expect
      .poll(() =>
        ports.evaluate<boolean>(
          `window.rondoMidi.sent['desk-out'].some((m) => String(m) === '144,16,127')`,
        ),
      )
      .toBe(true);

    // An edit made now is saved as well.
    await tab.evaluate(`{
      const field = document.querySelector('input.name');
      field.value = 'Renamed behind';
      field.dispatchEvent(new Event('change'));
    }`);
    await expect.poll(() => nameAt(server.address), { timeout: 20_000 }).toBe('Renamed behind');

    expect(await tab.evaluate('document.visibilityState')).toBe('hidden');
    expect(await tab.evaluate<number>('window.frames_')).toBe(framesBefore);
  } finally {
    await browser.close();
  }
});

test('a browser that is killed loses no edit that is a tenth of a second old, in a window beside another one neither', async ({
  server,
}) => {
  let browser = await Browser.start();
  const NAME = `document.querySelector('[aria-label="Name of the profile"]')`;
  const rename = (to: string) =>
    `${NAME}.value = ${JSON.stringify(to)}; ${NAME}.dispatchEvent(new Event('change', { bubbles: true }));`;
  const open = async () => {
    const tab = await browser.openTab(`${server.address}/bind/nine-ferries-mix`);
    await expect
      .poll(() => tab.evaluate<string>(`${NAME}?.value ?? ''`).catch(() => ''), { timeout: 30_000 })
      .not.toBe('');
    return tab;
  };
  try {
    for (const round of [1, 2]) {
      const tab = await open();
      await server.stop();
      // What is promised, then one more edit, which may be lost. What was given to the browser's store by then stands
      // before a transaction that begins now, however slow the machine is.
      await tab.evaluate(`(async () => {
        ${rename(`Kept ${round}`)}
        await new Promise((done) => setTimeout(done, 100));
        const opening = indexedDB.open('rondo-drafts');
        await new Promise((done) => (opening.onsuccess = done));
        const after = opening.result.transaction('edits', 'readwrite');
        after.objectStore('edits').count();
        ${rename(`Perhaps ${round}`)}
        await new Promise((done) => (after.oncomplete = done));
      })()`);
      await browser.kill();
      await server.start();
      browser = await Browser.start(browser.folder);
      const again = await open();
      expect([`Kept ${round}`, `Perhaps ${round}`]).toContain(
        await again.evaluate<string>(`${NAME}.value`),
      );
      // And what was kept is sent.
      await expect
        .poll(() => nameAt(server.address))
        .toMatch(new RegExp(`^(Kept|Perhaps) ${round}$`));
    }
  } finally {
    await browser.close();
  }
});
