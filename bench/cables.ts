import { Browser, type Tab } from '../e2e/cdp.js';
import { installWebMidi, type MidiPlan } from '../web/testing/web-midi.js';
import { table } from './report.js';
import { startServer, type BenchServer } from './server.js';
import { TOUCHES, message, throughProfile } from './traffic.js';

const PER_SECOND = 1_000;
const SECONDS = 6;
const REPETITIONS = 5;
const SOAK_PER_SECOND = 200;
const SOAK_MINUTES = Number(process.env['RONDO_SOAK_MINUTES'] ?? 20);

const PLAN: MidiPlan = {
  answer: 'granted',
  inputs: [
    { id: 'desk-in', name: 'Harrow 8 out' },
    { id: 'cable-b', name: 'Cable B' },
  ],
  outputs: [
    { id: 'desk-out', name: 'Harrow 8 in' },
    { id: 'cable-a', name: 'Cable A' },
  ],
};
const real = (port: number) => ({
  real: true,
  input: PLAN.inputs[port],
  output: PLAN.outputs[port],
});
const SESSION = { bank: 0, ports: { 'surface:desk': real(0), 'host:program': real(1) } };

/** What one run of traffic has seen. */
interface Seen {
  readonly sent: number;
  /** How long the machine stood still in all, ms: nothing was played then. */
  readonly stood: number;
  readonly rate: number;
  readonly median: number;
  readonly p99: number;
  /** The same of a bare worker that was sent as much at the same moments. */
  readonly bareMedian: number;
  readonly bareP99: number;
  readonly longest: number;
  readonly events: number;
  readonly lost: number;
  readonly disordered: number;
  readonly moves: number;
  readonly last: boolean;
  /** Bytes that the page holds on its heap. */
  readonly heap: number;
}

/** What is put into the page: the traffic, its clock in a worker that no hidden page slows down, and the measuring. */
function install(messageOf: typeof message): void {
  const scope = window as unknown as {
    through(seconds: number, perSecond: number): Promise<Seen>;
  };
  /** A metronome that is so late was held up by the machine. */
  const STOOD_STILL_MS = 50;
  const worker = (source: string) =>
    new Worker(URL.createObjectURL(new Blob([source], { type: 'text/javascript' })));
  const metronome = worker('setInterval(() => postMessage(0), 1)');
  const echo = worker('onmessage = (event) => postMessage(event.data)');
  let arrive: (text: string, status: number) => void = () => undefined;
  const listen = (port: string) => {
    const list: number[][] = [];
    list.push = (...messages: number[][]) => {
      if (port === 'cable-a') for (const bytes of messages) arrive(bytes.join(), bytes[0]);
      return 0;
    };
    window.rondoMidi.sent[port] = list;
  };
  listen('cable-a');
  listen('desk-out');
  let next = 0;
  scope.through = async (seconds, perSecond) => {
    const bare: number[] = [];
    echo.onmessage = ({ data }: MessageEvent<{ from: number }>) =>
      void bare.push(performance.now() - data.from);
    const waiting: { text: string; from: number }[] = [];
    const places = new Map<string, number>();
    const latest = new Map<number, string>();
    const wanted = new Map<number, string>();
    const latencies: number[] = [];
    let [disordered, moves, events] = [0, 0, 0];
    arrive = (text, status) => {
      const at = performance.now();
      if ((status & 0xf0) === 0xe0) {
        latest.set(status, text);
        const from = places.get(text);
        places.delete(text);
        if (from === undefined) return;
        moves++;
        latencies.push(at - from);
        return;
      }
      // Greetings and questions are no traffic.
      if (status === 0xf0) return;
      const first = waiting.shift();
      if (first?.text !== text) disordered++;
      else latencies.push(at - first.from);
    };
    let start = performance.now();
    let last = start;
    let stood = 0;
    const first = next;
    const total = seconds * perSecond;
    await new Promise<void>((done) => {
      metronome.onmessage = () => {
        // A computer that stood still played nothing meanwhile: a hand that caught up would press keys faster than any can,
        // and what comes so is cut, as what goes round is.
        const now = performance.now();
        if (now - last > STOOD_STILL_MS) {
          start += now - last;
          stood += now - last;
        }
        last = now;
        const due = Math.min(total, ((now - start) / 1_000) * perSecond);
        for (; next - first < due; next++) {
          const { bytes, event } = messageOf(next);
          const text = bytes.join();
          const from = performance.now();
          if (event) {
            events++;
            waiting.push({ text, from });
          } else {
            places.set(text, from);
            wanted.set(bytes[0], text);
          }
          window.rondoMidi.play('desk-in', bytes);
          echo.postMessage({ bytes, from: performance.now() });
        }
        if (next - first >= total) done();
      };
    });
    const rate = (next - first) / ((performance.now() - start) / 1_000);
    const isLast = () => [...wanted].every(([status, text]) => latest.get(status) === text);
    // What is late has five seconds to arrive: a computer that stood still meanwhile has lost nothing.
    const end = performance.now() + 5_000;
    await new Promise<void>((done) => {
      metronome.onmessage = () => {
        if ((waiting.length === 0 && isLast()) || performance.now() >= end) done();
      };
    });
    metronome.onmessage = null;
    const at = (list: number[], q: number) =>
      list.sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * q))];
    const memory = performance as unknown as { memory?: { usedJSHeapSize: number } };
    return {
      sent: next - first,
      stood,
      rate,
      median: at(latencies, 0.5),
      p99: at(latencies, 0.99),
      bareMedian: at(bare, 0.5),
      bareP99: at(bare, 0.99),
      longest: at(latencies, 1),
      events,
      lost: waiting.length,
      disordered,
      moves,
      last: isLast(),
      heap: memory.memory?.usedJSHeapSize ?? 0,
    };
  };
}

/** Rondo in a tab with real ports on both sides, until it is closed. */
class Stage {
  private constructor(
    private readonly server: BenchServer,
    private readonly browser: Browser,
    readonly tab: Tab,
    /** Where the ports are held: the traffic starts and ends there, as that of real ports does. */
    private readonly ports: Tab,
  ) {}

  static async open(): Promise<Stage> {
    const server = await startServer();
    const { address } = server;
    const answer = await fetch(`${address}/api/profiles`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ document: throughProfile() }),
    });
    if (!answer.ok) throw new Error(`The server refused the profile: ${await answer.text()}`);
    const browser = await Browser.start();
    await browser.send('Browser.grantPermissions', {
      origin: address,
      permissions: ['midi', 'midiSysex'],
    });
    const tab = await browser.openTab('about:blank');
    // The workers of the measuring itself come from the page.
    await tab.send('Page.setBypassCSP', { enabled: true });
    await tab.before(
      `(${installWebMidi.toString()})(window, ${JSON.stringify(PLAN)});
        if (top === window) localStorage.setItem('rondo.session.bench-cables', ${JSON.stringify(JSON.stringify(SESSION))});`,
    );
    await tab.send('Page.navigate', { url: `${address}/bind/bench-cables` });
    const ports = await tab.ofFrame();
    await ports.send('Page.setBypassCSP', { enabled: true });
    const isPainted = `(window.rondoMidi?.sent['desk-out'] ?? []).length > 20`;
    while (!(await ports.evaluate<boolean>(isPainted)))
      await new Promise((done) => setTimeout(done, 100));
    await ports.evaluate(`(${install.toString()})(${message.toString()})`);
    // All faders known, all in hand.
    for (let fader = 0; fader < 8; fader++)
      await ports.evaluate(`window.rondoMidi.play('cable-b', [${0xe0 | fader}, 0, 0])`);
    for (const touch of TOUCHES)
      await ports.evaluate(`window.rondoMidi.play('desk-in', ${JSON.stringify(touch)})`);
    await new Promise((done) => setTimeout(done, 1_000));
    return new Stage(server, browser, tab, ports);
  }

  run(seconds: number, perSecond: number): Promise<Seen> {
    return this.ports.evaluate<Seen>(`window.through(${seconds}, ${perSecond})`);
  }

  /** Puts another tab in front. */
  async hide(): Promise<void> {
    const front = await this.browser.openTab('about:blank');
    await front.toFront();
    while ((await this.tab.evaluate<string>('document.visibilityState')) !== 'hidden')
      await new Promise((done) => setTimeout(done, 50));
  }

  async close(): Promise<void> {
    await this.browser.close();
    this.server.stop();
  }
}

const middle = (list: readonly number[]): number =>
  [...list].sort((a, b) => a - b)[list.length >> 1];
/** The median of repetitions, and from where to where they lay. */
const spread = (list: readonly number[], digits = 2): string =>
  `${middle(list).toFixed(digits)} (${Math.min(...list).toFixed(digits)}–${Math.max(...list).toFixed(digits)})`;
const ms = (value: number): string => `${value.toFixed(2)} ms`;
const isSound = ({ lost, disordered, last }: Seen): boolean =>
  lost === 0 && disordered === 0 && last;

/** The same through the page and the worker of a real browser, in front and behind another tab. */
export async function throughPage(): Promise<void> {
  const stage = await Stage.open();
  try {
    await stage.run(2, PER_SECOND);
    const fronts: Seen[] = [];
    for (let n = 0; n < REPETITIONS; n++) fronts.push(await stage.run(SECONDS, PER_SECOND));
    await stage.hide();
    const behinds: Seen[] = [];
    for (let n = 0; n < REPETITIONS; n++) behinds.push(await stage.run(SECONDS, PER_SECOND));
    const lines = (seen: readonly Seen[]): [string, string][] => [
      [
        'messages a second',
        spread(
          seen.map(({ rate }) => rate),
          0,
        ),
      ],
      ['median', `${spread(seen.map(({ median }) => median))} ms`],
      ['99 %', `${spread(seen.map(({ p99 }) => p99))} ms`],
      ['the longest', `${spread(seen.map(({ longest }) => longest))} ms`],
      [
        'a bare worker there and back, median and 99 %',
        `${spread(seen.map((one) => one.bareMedian))} and ${spread(seen.map((one) => one.bareP99))} ms`,
      ],
      ['ratio at 99 %', spread(seen.map(({ p99, bareP99 }) => p99 / bareP99))],
      ['stood still, all in all', `${ms(seen.reduce((sum, one) => sum + one.stood, 0))}`],
      [
        'events in / missing / out of order',
        (['events', 'lost', 'disordered'] as const)
          .map((what) => seen.reduce((sum, one) => sum + one[what], 0))
          .join(' / '),
      ],
      [
        'the last place of every fader',
        seen.every(({ last }) => last) ? 'has arrived' : 'IS MISSING',
      ],
    ];
    table(`Through Chromium, the page in front and drawing, ${REPETITIONS} times`, lines(fronts));
    table(`The same, behind another tab`, lines(behinds));
    const toBare = middle(fronts.map(({ p99, bareP99 }) => p99 / bareP99));
    const bareRises =
      middle(fronts.map(({ bareP99 }) => bareP99)) / middle(behinds.map(({ bareP99 }) => bareP99));
    const toBehind = middle(fronts.map(({ p99 }) => p99)) / middle(behinds.map(({ p99 }) => p99));
    table('In front, at 99 %', [
      ['over the bare worker’s own (at most 3)', toBare.toFixed(2)],
      ['over the same behind another tab (at most 1.5)', toBehind.toFixed(2)],
      // What the machine itself adds where a page draws: none of it is Rondo's.
      ['the bare worker’s own over its own behind another tab', bareRises.toFixed(2)],
    ]);
    if (![...fronts, ...behinds].every(isSound) || !(toBare <= 3) || !(toBehind <= 1.5))
      process.exitCode = 1;
  } finally {
    await stage.close();
  }
}

/** Rondo behind another tab for a long time: what it passes on, how fast, and what it holds on to. */
export async function soak(): Promise<void> {
  const stage = await Stage.open();
  try {
    await stage.hide();
    const minutes: Seen[] = [];
    for (let minute = 1; minute <= SOAK_MINUTES; minute++) {
      const seen = await stage.run(60, SOAK_PER_SECOND);
      minutes.push(seen);
      console.log(
        `Minute ${minute}: ${seen.sent} messages, median ${ms(seen.median)}, 99 % ${ms(seen.p99)}, longest ${ms(seen.longest)}, missing ${seen.lost}, out of order ${seen.disordered}, heap ${(seen.heap / 1e6).toFixed(1)} MB`,
      );
    }
    const restarts = await stage.tab.evaluate<boolean>(
      `document.body.textContent.includes('The engine stopped')`,
    );
    const sum = (of: (seen: Seen) => number) =>
      minutes.reduce((total, seen) => total + of(seen), 0);
    table(`Behind another tab for ${SOAK_MINUTES} minutes, ${SOAK_PER_SECOND} messages a second`, [
      ['messages', String(sum(({ sent }) => sent))],
      [
        'events in / missing / out of order',
        `${sum((s) => s.events)} / ${sum((s) => s.lost)} / ${sum((s) => s.disordered)}`,
      ],
      ['99 % within, worst minute', ms(Math.max(...minutes.map(({ p99 }) => p99)))],
      ['last places', minutes.every(({ last }) => last) ? 'all arrived' : 'SOME ARE MISSING'],
      [
        'heap, first and last minute',
        `${(minutes[0].heap / 1e6).toFixed(1)} and ${(minutes.at(-1)!.heap / 1e6).toFixed(1)} MB`,
      ],
      ['engine started again', restarts ? 'YES' : 'no'],
    ]);
    if (!minutes.every(isSound) || restarts) process.exitCode = 1;
  } finally {
    await stage.close();
  }
}
