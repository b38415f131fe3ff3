import { farShore } from '@rondo/core/profile';
import type { MidiPlan } from '../web/testing/web-midi';
import { midiFrame, test } from './rondo';
import { throughProfile, message, TOUCHES } from '../bench/traffic';
const PLAN: MidiPlan = {
  answer: 'granted',
  inputs: [
    { id: 'desk-in', name: 'a' },
    { id: 'cable-b', name: 'b' },
  ],
  outputs: [
    { id: 'desk-out', name: 'c' },
    { id: 'cable-a', name: 'd' },
  ],
};
const real = (n: number) => ({ real: true, input: PLAN.inputs[n], output: PLAN.outputs[n] });
test('trace', async ({ bind, page, complaints, server, browser }) => {
  void farShore;
  await fetch(`${server.address}/api/profiles`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ document: throughProfile() }),
  });
  await bind.withMidi(PLAN);
  await page.context().grantPermissions(['midi', 'midi-sysex']);
  await page.addInitScript(
    `if (top === window) localStorage.setItem('rondo.session.bench-cables', ${JSON.stringify(JSON.stringify({ bank: 0, ports: { 'surface:desk': real(0), 'host:program': real(1) } }))});`,
  );
  await bind.openAny('bench-cables');
  const frame = await midiFrame(page);
  await frame.waitForFunction(() => (window.rondoMidi?.sent['desk-out'] ?? []).length > 20);
  await frame.evaluate((t: number[][]) => {
    for (let f = 0; f < 8; f++) window.rondoMidi.play('cable-b', [0xe0 | f, 0, 0]);
    for (const b of t) window.rondoMidi.play('desk-in', b);
  }, TOUCHES);
  await page.waitForTimeout(1500);
  await browser.startTracing(page, {
    path: '/tmp/trace.json',
    categories: ['toplevel', 'devtools.timeline', 'v8.execute', '__metadata'],
  });
  await frame.evaluate(
    `(async () => { const message = ${message.toString()}; const start = performance.now(); let n = 0; await new Promise((d) => { const t = setInterval(() => { const due = performance.now() - start; for (; n < due; n++) window.rondoMidi.play('desk-in', message(n).bytes); if (n > 5000) { clearInterval(t); d(); } }, 1); }); })()`,
  );
  await browser.stopTracing();
  complaints.length = 0;
});
