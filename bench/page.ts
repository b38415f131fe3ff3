import { copyFileSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { chromium, type Frame, type Page } from '@playwright/test';
import { bind, emptyProfile, type Profile } from '@rondo/core/profile';
import { blankSurface, type Surface } from '@rondo/core/surface';
import { installWebMidi, type MidiControl, type MidiPlan } from '../web/testing/web-midi.js';
import { midiFrame } from '../e2e/rondo.js';
import { table } from './report.js';
import { startServer } from './server.js';

declare global {
  interface Window {
    rondoMidi: MidiControl;
  }
}

const SECONDS = 10;
const PER_SECOND = 2_000;
const MOVES = 60;
const PLAN: MidiPlan = {
  answer: 'granted',
  inputs: [{ id: 'desk-in', name: 'Harrow 8 out' }],
  outputs: [{ id: 'desk-out', name: 'Harrow 8 in' }],
};
const SESSION = {
  bank: 0,
  ports: { 'surface:desk': { real: true, input: PLAN.inputs[0], output: PLAN.outputs[0] } },
};

interface TraceEvent {
  name: string;
  pid: number;
  tid: number;
  ts: number;
  dur?: number;
  /** Processor time of the thread, µs. */
  tdur?: number;
  args: { name?: string };
}

/** Main-thread work that the generator of messages does in our place: it stands for the browser's own ports. */
const NOT_OURS = 'TimerFire';
const OURS = new Set([
  'FunctionCall',
  'UpdateLayoutTree',
  'Layout',
  'PrePaint',
  'Paint',
  'Layerize',
  'MinorGC',
  'MajorGC',
]);

/**
 * Main-thread milliseconds of the page's renderer in each frame: script, style, layout, paint and garbage collection,
 * in processor time, so that other processes of a small machine do not count.
 */
function workPerFrame(events: TraceEvent[]): number[] {
  const main = events
    .filter((e) => e.name === 'thread_name' && e.args.name === 'CrRendererMain')
    .map((e) => `${e.pid} ${e.tid}`);
  const frames = events
    .filter((e) => e.name === 'FireAnimationFrame' && main.includes(`${e.pid} ${e.tid}`))
    .sort((a, b) => a.ts - b.ts);
  if (frames.length === 0) throw new Error('The trace holds no frames.');
  const { pid, tid } = frames[0];
  const here = events.filter((e) => e.pid === pid && e.tid === tid && e.dur !== undefined);
  const generator = here.filter((e) => e.name === NOT_OURS);
  const inGenerator = (e: TraceEvent) =>
    generator.some((g) => e.ts >= g.ts && e.ts + (e.dur ?? 0) <= g.ts + (g.dur ?? 0));
  const ours = here.filter((e) => OURS.has(e.name) && !inGenerator(e)).sort((a, b) => a.ts - b.ts);
  const work = new Float64Array(frames.length);
  let frame = 0;
  let end = 0;
  for (const e of ours) {
    // What lies inside another counts once.
    if (e.ts < end) continue;
    end = e.ts + (e.dur ?? 0);
    while (frame + 1 < frames.length && frames[frame + 1].ts <= e.ts) frame++;
    work[frame] += (e.tdur ?? e.dur ?? 0) / 1_000;
  }
  return [...work.slice(1, -1)];
}

const quantile = (list: number[], q: number): number =>
  [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * q))];

/** Plays fader moves from the real desk's port at a steady rate and waits for the last one to come back. */
async function flood(page: Frame): Promise<{ played: number; rate: number; lastBackMs: number }> {
  return page.evaluate(
    async ([seconds, perSecond]) => {
      const midi = window.rondoMidi;
      for (let f = 0; f < 9; f++) midi.play('desk-in', [0x90, 0x68 + f, 0x7f]);
      const start = performance.now();
      let played = 0;
      await new Promise<void>((done) => {
        const timer = setInterval(() => {
          const due = Math.min(
            seconds * perSecond,
            ((performance.now() - start) / 1_000) * perSecond,
          );
          for (; played < due; played++) {
            const bend = ((played * 37) & 1_023) << 4;
            midi.play('desk-in', [0xe0 | (played % 9), bend & 0x7f, bend >> 7]);
          }
          if (played >= seconds * perSecond) {
            clearInterval(timer);
            done();
          }
        }, 4);
      });
      const rate = played / ((performance.now() - start) / 1_000);
      const from = performance.now();
      const last = ((played - 1) * 37) & 1_023;
      const status = 0xe0 | ((played - 1) % 9);
      const isBack = () => {
        const all = midi.sent['desk-out'];
        for (let i = all.length - 1; i >= 0; i--)
          if (all[i][0] === status) return (all[i][1] | (all[i][2] << 7)) >> 4 === last;
        return false;
      };
      while (!isBack()) {
        if (performance.now() - from > 5_000) return { played, rate, lastBackMs: Infinity };
        await new Promise((done) => setTimeout(done, 1));
      }
      return { played, rate, lastBackMs: performance.now() - from };
    },
    [SECONDS, PER_SECOND],
  );
}

/** Frames between a hand's move on the drawing and the cap being drawn there, for many moves. */
async function framesToDraw(page: Page): Promise<number[]> {
  await page.evaluate(() => {
    const state = window as unknown as { frame: number; movedAt: number; drawn: number[] };
    state.frame = 0;
    state.movedAt = -1;
    state.drawn = [];
    const count = () => {
      state.frame++;
      requestAnimationFrame(count);
    };
    requestAnimationFrame(count);
    const cap = document.querySelector('g[data-over="fader-2"].moving')!;
    document.addEventListener(
      'pointermove',
      () => {
        if (state.movedAt < 0) state.movedAt = state.frame;
      },
      true,
    );
    new MutationObserver(() => {
      if (state.movedAt < 0) return;
      state.drawn.push(state.frame - state.movedAt);
      state.movedAt = -1;
    }).observe(cap, { attributes: true, attributeFilter: ['transform'] });
  });
  const box = (await page.locator('g[data-over="fader-2"] .cap').boundingBox())!;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.evaluate(() => ((window as unknown as { movedAt: number }).movedAt = -1));
  for (let n = 0; n < MOVES; n++) {
    await page.mouse.move(x, y - 20 - (n % 2) * 12 - (n % 5));
    await page.evaluate(
      () =>
        new Promise((done) =>
          requestAnimationFrame(() => requestAnimationFrame(() => requestAnimationFrame(done))),
        ),
    );
  }
  await page.mouse.up();
  return page.evaluate(() => (window as unknown as { drawn: number[] }).drawn);
}

const KNOBS = 200;
const KNOB_PER_SECOND = 1_000;
const KNOB_SECONDS = 8;
const BOX: Surface = {
  ...blankSurface('bench-box', 'Bench box'),
  width: 520,
  height: 300,
  controls: Array.from({ length: KNOBS }, (_, i) => ({
    id: `knob-${i}`,
    kind: i % 2 === 0 ? ('knob' as const) : ('fader' as const),
    label: `Knob ${i}`,
    x: 6 + (i % 20) * 25.5,
    y: 6 + Math.floor(i / 20) * 29,
    width: 19,
    height: 20,
    sends: {
      value: {
        type: 'controller' as const,
        channel: 1 + Math.floor(i / 100),
        number: i % 100,
      },
    },
    takes: {},
  })),
};

/** A profile with 200 controls of one surface, each of them bound. */
function boxProfile(): Profile {
  const empty: Profile = {
    ...emptyProfile('bench-profile', 'Bench'),
    surfaces: { desk: { id: 'desk', model: BOX.id, label: BOX.name } },
  };
  return BOX.controls.reduce(
    (profile, control, i) =>
      bind(
        profile,
        'Bind',
        { surface: 'desk', control: control.id, part: 'value' },
        {
          do: 'function',
          host: 'studio',
          function: i % 2 === 0 ? 'pan' : 'volume',
          scope: { kind: 'fixed', strip: i % 16 },
          behaviour: 'follow',
        },
      ).document,
    empty,
  );
}

/** Moves of all 200 controls in turn, at a steady rate. */
async function floodBox(page: Frame): Promise<number> {
  return page.evaluate(
    async ([seconds, perSecond, knobs]) => {
      const start = performance.now();
      let played = 0;
      await new Promise<void>((done) => {
        const timer = setInterval(() => {
          const due = ((performance.now() - start) / 1_000) * perSecond;
          for (; played < due; played++) {
            const knob = played % knobs;
            const value = Math.floor(played / knobs) % 2 === 0 ? (played * 7) % 128 : 64;
            window.rondoMidi.play('desk-in', [0xb0 | Math.floor(knob / 100), knob % 100, value]);
          }
          if (played >= seconds * perSecond) {
            clearInterval(timer);
            done();
          }
        }, 4);
      });
      return played / ((performance.now() - start) / 1_000);
    },
    [KNOB_SECONDS, KNOB_PER_SECOND, KNOBS],
  );
}

async function store(address: string, kind: string, document: unknown): Promise<void> {
  const answer = await fetch(`${address}/api/${kind}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ document }),
  });
  if (!answer.ok) throw new Error(`The server refused the ${kind}: ${await answer.text()}`);
}

/** The page in Chromium while a desk sends 2 000 messages a second. */
export async function page(): Promise<void> {
  const server = await startServer();
  const { address, folder } = server;
  const browser = await chromium.launch({
    executablePath: process.env['RONDO_CHROMIUM'] ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-background-networking', '--disable-component-update'],
  });
  try {
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    await context.grantPermissions(['midi', 'midi-sysex'], { origin: address });
    const tab = await context.newPage();
    await tab.addInitScript(
      `(${installWebMidi.toString()})(window, ${JSON.stringify(PLAN)});
       if (top === window) localStorage.setItem('rondo.session.nine-ferries-mix', ${JSON.stringify(JSON.stringify(SESSION))});`,
    );
    await tab.goto(`${address}/bind/nine-ferries-mix`);
    await (
      await midiFrame(tab)
    ).waitForFunction(() => (window.rondoMidi?.sent['desk-out'] ?? []).length > 80);
    const tracePath = join(folder, 'trace.json');
    await browser.startTracing(tab, {
      path: tracePath,
      categories: ['toplevel', 'devtools.timeline', '__metadata'],
    });
    const flooded = await flood(await midiFrame(tab));
    await browser.stopTracing();
    const trace = JSON.parse(readFileSync(tracePath, 'utf8')) as { traceEvents: TraceEvent[] };
    if (process.env['RONDO_TRACE']) copyFileSync(tracePath, process.env['RONDO_TRACE']);
    const work = workPerFrame(trace.traceEvents);
    await tab.reload();
    await (
      await midiFrame(tab)
    ).waitForFunction(() => (window.rondoMidi?.sent['desk-out'] ?? []).length > 80);
    const drawn = await framesToDraw(tab);
    const p95 = quantile(work, 0.95);
    table(`Page in Chromium, ${SECONDS} s of messages from a real port`, [
      ['messages a second', `${flooded.rate.toFixed(0)} (${flooded.played} in all)`],
      ['frames', `${work.length}, ${(work.length / SECONDS).toFixed(1)} a second`],
      [
        'main-thread work a frame',
        `median ${quantile(work, 0.5).toFixed(1)} ms, 95 % ${p95.toFixed(1)} ms`,
      ],
      ['ratio of that to 8 ms (at most 1)', (p95 / 8).toFixed(2)],
      ['last position back at the desk after', `${flooded.lastBackMs.toFixed(1)} ms`],
      [
        'frames from a hand’s move to its drawing',
        `median ${quantile(drawn, 0.5)}, 95 % ${quantile(drawn, 0.95)} (at most 2), most ${Math.max(...drawn)}, of ${drawn.length} moves`,
      ],
    ]);

    await store(address, 'surfaces', BOX);
    await store(address, 'profiles', boxProfile());
    await tab.addInitScript(
      `if (top === window) localStorage.setItem('rondo.session.bench-profile', ${JSON.stringify(JSON.stringify(SESSION))});`,
    );
    await tab.goto(`${address}/bind/bench-profile`);
    await tab.locator('g[data-id="knob-199"]').waitFor();
    await tab.waitForTimeout(1_000);
    const boxTrace = join(folder, 'box.json');
    await browser.startTracing(tab, {
      path: boxTrace,
      categories: ['toplevel', 'devtools.timeline', '__metadata'],
    });
    const rate = await floodBox(await midiFrame(tab));
    await browser.stopTracing();
    if (process.env['RONDO_TRACE']) copyFileSync(boxTrace, `${process.env['RONDO_TRACE']}.box`);
    const box = workPerFrame(
      (JSON.parse(readFileSync(boxTrace, 'utf8')) as { traceEvents: TraceEvent[] }).traceEvents,
    );
    const boxP95 = quantile(box, 0.95);
    table(`Drawing of ${KNOBS} controls, ${KNOB_SECONDS} s of changes from a real port`, [
      ['changes a second', rate.toFixed(0)],
      ['frames', `${box.length}, ${(box.length / KNOB_SECONDS).toFixed(1)} a second`],
      [
        'main-thread work a frame',
        `median ${quantile(box, 0.5).toFixed(1)} ms, 95 % ${boxP95.toFixed(1)} ms`,
      ],
      ['ratio of that to 8 ms (at most 1)', (boxP95 / 8).toFixed(2)],
    ]);
    if (!(boxP95 <= 8)) process.exitCode = 1;
    if (!(p95 <= 8) || !(flooded.lastBackMs < 100) || quantile(drawn, 0.95) > 2)
      process.exitCode = 1;
  } finally {
    await browser.close();
    server.stop();
  }
}
