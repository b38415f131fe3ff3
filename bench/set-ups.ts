import { chromium } from '@playwright/test';
import { bind, nineFerriesMix, unbind, type Profile, type SetUp } from '@rondo/core/profile';
import { installWebMidi, type MidiPlan } from '../web/testing/web-midi.js';
import { midiFrame } from '../e2e/rondo.js';
import { table } from './report.js';
import { startServer } from './server.js';

const SWITCHES = 20;
/** A second switch within a second is cut. */
const REST_MS = 1_200;
const MARK_MS = 200;
const PLAN: MidiPlan = {
  answer: 'granted',
  inputs: [{ id: 'desk-in', name: 'Harrow 8 out' }],
  outputs: [{ id: 'desk-out', name: 'Harrow 8 in' }],
};
const PORTS = {
  'surface:desk': { real: true, input: PLAN.inputs[0], output: PLAN.outputs[0], said: true },
};
const SIDES = [
  { profile: 'here', setUp: 'at-home', key: 'function-1', note: 0x36, bank: 0 },
  { profile: 'there', setUp: 'on-stage', key: 'function-2', note: 0x37, bank: 8 },
] as const;

/** A profile in which one key goes over to each set-up. */
const profileOf = (id: string): Profile =>
  SIDES.reduce(
    (profile, { key, setUp }) => {
      const control = { surface: 'desk', control: key, part: 'push' } as const;
      const free = unbind(profile, 'Free', control).document;
      return bind(free, 'Bind', control, { do: 'setUp', setUp, name: setUp }).document;
    },
    { ...nineFerriesMix(id), name: id },
  );

/**
 * Going over from a set-up of one profile to one of another by a key of the desk: how long until the first motor or text
 * of the other one leaves by the desk's port.
 */
export async function setUps(): Promise<void> {
  const server = await startServer();
  const { address } = server;
  const store = async (kind: string, document: unknown) => {
    const answer = await fetch(`${address}/api/${kind}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ document }),
    });
    if (!answer.ok) throw new Error(`The server refused the ${kind}: ${await answer.text()}`);
  };
  const browser = await chromium.launch({
    executablePath: process.env['RONDO_CHROMIUM'] ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-background-networking', '--disable-component-update'],
  });
  try {
    for (const { profile, setUp, bank } of SIDES) {
      await store('profiles', profileOf(profile));
      const document: SetUp = {
        format: 'rondo-setup',
        version: 1,
        id: setUp,
        name: setUp,
        profile,
        ports: PORTS,
        layers: [],
        flags: {},
        bank,
      };
      await store('setups', document);
    }
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    await context.grantPermissions(['midi', 'midi-sysex'], { origin: address });
    const tab = await context.newPage();
    const session = JSON.stringify(JSON.stringify({ bank: 0, ports: PORTS }));
    await tab.addInitScript(
      `(${installWebMidi.toString()})(window, ${JSON.stringify(PLAN)});
       if (top === window) for (const id of ['here', 'there']) localStorage.setItem('rondo.session.' + id, ${session});`,
    );
    await tab.goto(`${address}/bind/here`);
    const frame = await midiFrame(tab);
    await frame.waitForFunction(() => (window.rondoMidi?.sent['desk-out'] ?? []).length > 80);
    const took: number[] = [];
    for (let n = 0; n < SWITCHES; n++) {
      const { note, profile } = SIDES[(n + 1) % 2];
      await tab.waitForTimeout(REST_MS);
      took.push(
        await frame.evaluate(async (key) => {
          const midi = window.rondoMidi;
          midi.sent['desk-out'] = [];
          const from = performance.now();
          midi.play('desk-in', [0x90, key, 127]);
          midi.play('desk-in', [0x90, key, 0]);
          // The key's own light is none of it.
          const isThere = () =>
            midi.sent['desk-out'].some(([status]) => status >> 4 === 0xe || status === 0xf0);
          while (!isThere()) {
            if (performance.now() - from > 5_000) return Infinity;
            await new Promise((done) => setTimeout(done, 1));
          }
          return performance.now() - from;
        }, note),
      );
      await tab.waitForURL(new RegExp(`/bind/${profile}`));
    }
    const sorted = [...took].sort((a, b) => a - b);
    const [median, worst] = [sorted[SWITCHES >> 1], sorted[SWITCHES - 1]];
    table('Set-ups, from one profile to another by a key', [
      [
        'to the first byte',
        `median ${median.toFixed(0)} ms, most ${worst.toFixed(0)} ms, of ${SWITCHES}`,
      ],
      [`ratio of the most to ${MARK_MS} ms (at most 1)`, (worst / MARK_MS).toFixed(2)],
    ]);
  } finally {
    await browser.close();
    server.stop();
  }
}
