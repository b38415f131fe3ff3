import { hostNamed } from '@rondo/core/host';
import { Engine, compile } from '@rondo/core/round';
import { logFor } from './any-core.js';
import { STOCK_SURFACES } from '@rondo/core/surface';
import { StreamParser } from '@rondo/core/wire';
import { table } from './report.js';
import { TOUCHES, message, quantile, throughProfile } from './traffic.js';

const PER_SECOND = 1_000;
const WARM = 20_000;
const COUNT = 60_000;
const GAP = 1_000_000 / PER_SECOND;

const now = (): number => Number(process.hrtime.bigint()) / 1e6;

/** The cheapest thing that could stand in the middle: whole messages out as they came in. */
function bare(): number[] {
  const out: number[] = [];
  let left = 0;
  const buffer = new Uint8Array(3);
  const emit = (bytes: Uint8Array, from: number, to: number) => {
    left += to - from + bytes[from];
  };
  const parser = new StreamParser(
    {
      short(packed) {
        buffer[0] = packed & 0xff;
        buffer[1] = (packed >> 8) & 0x7f;
        buffer[2] = (packed >> 16) & 0x7f;
        emit(buffer, 0, 3);
      },
      sysex: emit,
    },
    4_096,
  );
  for (let n = 0; n < WARM + COUNT; n++) {
    const bytes = Uint8Array.from(message(n).bytes);
    const from = now();
    parser.feed(bytes, 0, bytes.length);
    if (n >= WARM) out.push(now() - from);
  }
  if (left === 0) throw new Error('Nothing went through.');
  return out;
}

/**
 * Byte in to byte out with Rondo between a desk and a program: the time of the computation, and that for which the
 * model of the wire holds a message back.
 */
export function through(): void {
  const surface = (id: string) => STOCK_SURFACES.get(id);
  const plan = compile(throughProfile(), {
    surface,
    host: (id) => hostNamed(id, () => undefined, surface),
  });
  const waitingEvents: { text: string; from: number; t: number }[] = [];
  const places = new Map<string, { from: number; t: number }>();
  const latest = new Map<number, string>();
  const latencies: number[] = [];
  let disordered = 0;
  let moves = 0;
  let t = 1_000_000;
  let measuring = false;
  const arrive = (text: string, status: number) => {
    const at = now();
    if ((status & 0xf0) === 0xe0) {
      latest.set(status & 0x0f, text);
      const place = places.get(text);
      if (place && measuring) {
        moves++;
        latencies.push(at - place.from + (t - place.t) / 1_000);
      }
      places.delete(text);
      return;
    }
    const first = waitingEvents.shift();
    if (first?.text !== text) disordered++;
    else if (measuring) latencies.push(at - first.from + (t - first.t) / 1_000);
  };
  const program = plan.links.findIndex(({ kind }) => kind === 'host');
  const engine = new Engine(plan, (link, bytes, from, to) => {
    if (link !== program) return;
    for (let at = from; at < to;) {
      let next = at + 1;
      while (next < to && bytes[next] < 0x80) next++;
      arrive(bytes.subarray(at, next).join(), bytes[at]);
      at = next;
    }
  });
  engine.log = logFor(plan);
  for (const link of [0, program]) {
    engine.setInputOpen(link, true, t);
    engine.setOutputOpen(link, true, t);
  }
  // The program has told all its faders, so that the first move takes hold.
  const tell = (bytes: number[]) =>
    engine.at(t).receive(program, Uint8Array.from(bytes), 0, bytes.length);
  for (let fader = 0; fader < 8; fader++) tell([0xe0 | fader, 0, 0]);
  for (const touch of TOUCHES) {
    waitingEvents.push({ text: touch.join(), from: now(), t });
    engine.at(t).receive(0, Uint8Array.from(touch), 0, 3);
  }
  let events = 0;
  for (let n = 0; n < WARM + COUNT; n++) {
    measuring = n >= WARM;
    t += GAP;
    // What is due by now goes out at its own time.
    for (let due = engine.nextDeadline(); due < t; due = engine.nextDeadline())
      engine.advance(Math.ceil(due));
    const { bytes, event } = message(n);
    const text = bytes.join();
    const stretch = Uint8Array.from(bytes);
    const from = now();
    if (event) {
      events++;
      waitingEvents.push({ text, from, t });
    } else places.set(text, { from, t });
    engine.at(t).receive(0, stretch, 0, stretch.length);
    // The lamp of a key comes back now and then.
    if (n % 50 === 0) tell([0x90, 0x10 + (n % 8), n % 100 === 0 ? 0x7f : 0]);
  }
  engine.advance(t + 100_000);
  const lost = waitingEvents.length;
  let last = true;
  for (let n = WARM + COUNT - 1, seen = new Set<number>(); seen.size < 8 && n > 0; n--) {
    const { bytes, event } = message(n);
    if (event || seen.has(bytes[0] & 0x0f)) continue;
    seen.add(bytes[0] & 0x0f);
    last &&= latest.get(bytes[0] & 0x0f) === bytes.join();
  }
  const plain = bare();
  const p99 = quantile(latencies, 0.99);
  const plain99 = quantile(plain, 0.99);
  const sound = lost === 0 && disordered === 0 && last;
  table(`Through Rondo in the middle, ${PER_SECOND} messages a second, byte in to byte out`, [
    ['median', `${quantile(latencies, 0.5).toFixed(4)} ms`],
    ['99 % within', `${p99.toFixed(4)} ms (at most 1)`],
    ['the longest', `${quantile(latencies, 1).toFixed(3)} ms`],
    [
      'a bare pass-through, median and 99 %',
      `${quantile(plain, 0.5).toFixed(4)} and ${plain99.toFixed(4)} ms`,
    ],
    ['ratio at 99 %', (p99 / plain99).toFixed(1)],
    ['events in / missing / out of order', `${events + 8} / ${lost} / ${disordered}`],
    ['moves that went through, of those sent', `${moves} of ${COUNT / 2}`],
    ['the last place of every fader', last ? 'has arrived' : 'IS MISSING'],
  ]);
  if (!sound || !(p99 < 1)) process.exitCode = 1;
}
