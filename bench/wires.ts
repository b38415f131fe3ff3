import { HOST_MODELS, STUDIO, type HostModel } from '@rondo/core/host';
import { neapRink, nineFerriesMix, type Profile } from '@rondo/core/profile';
import { Engine, Shows, compile, type Plan } from '@rondo/core/round';
import { Cable, Wire, simulationOf } from '@rondo/core/standin';
import { COBBLE_64, HARROW_8, STOCK_SURFACES, type Surface } from '@rondo/core/surface';
import { table } from './report.js';

const MICROS_PER_BYTE = 320;
const LIMIT = 1.05;
const WARM = 2_000_000;
/** A wire with nothing to send for so long has sent all, µs. */
const IDLE = 20_000;

/** A surface on a DIN cable, whatever it is on by itself. */
const onDin = (surface: Surface): Surface => ({
  ...surface,
  device: { ...surface.device, wire: 'din', bytesPerSecond: 1_000_000 / MICROS_PER_BYTE },
});

/** The fewest bytes that say everything that a surface shows: motors, lights and rings, and each display line once. */
function fewestBytes(plan: Plan, link: number, running: boolean): number {
  let bytes = 0;
  const statuses = new Set<number>();
  const lines = new Map<string, number>();
  const buffer = new Uint8Array(256);
  plan.outs.forEach((out) => {
    // A meter that stands at nothing says nothing.
    if (out.link !== link || out.shows === Shows.Meter) return;
    const [sender] = plan.links[link].senders;
    const pattern = out.control.takes[out.part];
    if (out.shows === Shows.Text && pattern?.type === 'text') {
      // F0, header, offset and F7 once a line of 56 characters; the characters themselves.
      const line = `${pattern.header.join(' ')} ${Math.floor((pattern.offset ?? 0) / 56)}`;
      const before = lines.get(line) ?? 1 + pattern.header.length + 1 + 1;
      lines.set(line, before + (pattern.width ?? 0));
      return;
    }
    if (pattern?.type === 'digits') {
      // A controller for each character.
      const again = running ? 2 : 3;
      bytes += again * pattern.count + (running && !statuses.has(0xb0) ? 1 : 0);
      statuses.add(0xb0);
      return;
    }
    const length = sender.write(out.local, sender.wire(out.local, 1), buffer, 0);
    bytes += running && statuses.has(buffer[0]) ? length - 1 : length;
    statuses.add(buffer[0]);
  });
  for (const length of lines.values()) bytes += length;
  return bytes;
}

/** Time and bytes of a full repaint from unknown state, with nothing else moving. */
function repaint(profile: Profile, model: string, surface: Surface, running: boolean) {
  const plan = compile(profile, {
    surface: (id) => (id === model ? onDin(surface) : STOCK_SURFACES.get(id)),
    host: (id) => HOST_MODELS.get(id),
  });
  const link = plan.links.findIndex((one) => one.model === model);
  const host = plan.links.findIndex(({ kind }) => kind === 'host');
  const wire = new Wire(MICROS_PER_BYTE);
  const toHost = new Cable();
  const toEngine = new Cable();
  let bytesOut = 0;
  const engine = new Engine(plan, (to, bytes, from, end) => {
    if (to === host) toHost.push(bytes, from, end);
    if (to !== link) return;
    bytesOut += end - from;
    wire.push(bytes, from, end, engine.now);
  });
  const simulated = simulationOf(plan.links[host].host as HostModel, (_, bytes, from, to) =>
    toEngine.push(bytes, from, to),
  );
  engine.setInputOpen(host, true, 0);
  engine.setOutputOpen(host, true, 0);
  for (let t = 1_000; t < WARM; t += 1_000) {
    engine.advance(t);
    toHost.flow((bytes, from, to) => simulated.receive(bytes, from, to));
    toEngine.flow((bytes, from, to) => engine.at(t).receive(host, bytes, from, to));
  }
  engine.setRunningStatus(link, running);
  engine.setOutputOpen(link, true, WARM);
  const isWhole = () =>
    plan.outs.every(
      (out, i) => out.link !== link || out.shows === Shows.Meter || engine.shown[i] >= 0,
    );
  let t = WARM;
  // Until all is shown, or nothing more comes of it: the slow refresh, which begins a tenth of a second after, is no part.
  for (
    let due = engine.nextDeadline();
    !isWhole() && due < Math.max(t, wire.freeAt) + IDLE;
    due = engine.nextDeadline()
  ) {
    t = Math.max(t + 1, Math.ceil(due));
    engine.advance(t);
  }
  const fewest = fewestBytes(plan, link, running);
  const whole = isWhole();
  return { bytesOut, micros: wire.freeAt - WARM, fewest, whole };
}

/** Two messages of three bytes. */
const TWO_MESSAGES = 6 * MICROS_PER_BYTE;
const BURST = 10_000;

/**
 * A fader that moves while nothing else does, and eight that do so at once: how old the place that arrives is beside
 * the newest, and how long after a burst all is shown.
 */
function moving(faders: number) {
  const plan = compile(nineFerriesMix(), {
    surface: (id) => (id === 'harrow-8' ? onDin(HARROW_8) : STOCK_SURFACES.get(id)),
    host: (id) => HOST_MODELS.get(id),
  });
  const link = plan.links.findIndex(({ model }) => model === 'harrow-8');
  const host = plan.links.findIndex(({ kind }) => kind === 'host');
  const wire = new Wire(MICROS_PER_BYTE);
  const toEngine = new Cable();
  const saidAt = Array.from({ length: 8 }, () => new Map<number, number>());
  let now = 0;
  let oldest = 0;
  let lastArrival = 0;
  const engine = new Engine(plan, (to, bytes, from, end) => {
    if (to === link) wire.push(bytes, from, end, engine.now);
  });
  const studio = simulationOf(STUDIO, (_, bytes, from, to) => toEngine.push(bytes, from, to));
  const arrive = (bytes: Uint8Array, from: number, to: number, t: number) => {
    for (let at = from; at + 2 < to; at++) {
      if ((bytes[at] & 0xf0) !== 0xe0) continue;
      const said = saidAt[bytes[at] & 7].get((bytes[at + 1] | (bytes[at + 2] << 7)) >> 4);
      if (said === undefined) continue;
      oldest = Math.max(oldest, t - said);
      lastArrival = t;
    }
  };
  const go = (to: number) => {
    for (; now < to; now += 100) {
      toEngine.flow((bytes, from, end) => engine.at(now).receive(host, bytes, from, end));
      engine.advance(now);
      wire.deliver(now, arrive);
    }
  };
  engine.setInputOpen(host, true, 0);
  engine.setOutputOpen(host, true, 0);
  engine.setOutputOpen(link, true, 0);
  // Nothing is in doubt any more, and the first painting is over.
  go(2_000_000);
  // Changes of the host, 10 000 a second, each to a place of its own for as long as they last.
  for (let n = 0; n < BURST / 10; n++) {
    const fader = n % faders;
    const place = Math.floor(n / faders) % 1_024;
    saidAt[fader].set(place, now);
    studio.set(studio.slotOf(`volume/${fader + 1}`), place / 1_023);
    go(now + 100);
  }
  const end = now;
  go(now + 200_000);
  return { oldest, settled: Math.max(0, lastArrival - end) };
}

function wiresMoving(): void {
  for (const faders of [1, 8]) {
    const { oldest, settled } = moving(faders);
    // The others are due too: a message each. The slow refresh may put one text between.
    const due = TWO_MESSAGES + (faders - 1) * 3 * MICROS_PER_BYTE + 15 * MICROS_PER_BYTE;
    table(`${faders} moving at 10 000 changes a second, 31 250 bit/s`, [
      ['oldest place that arrived', `${(oldest / 1_000).toFixed(2)} ms`],
      ['at most, with what else is due', `${(due / 1_000).toFixed(2)} ms`],
      ['all shown after the last change', `${(settled / 1_000).toFixed(2)} ms`],
    ]);
    if (oldest > due || oldest === 0) process.exitCode = 1;
  }
}

/** A full repaint on a wire of 31 250 bit/s against the fewest bytes that say the same. */
export function wires(): void {
  wiresMoving();
  for (const [profile, model, surface] of [
    [nineFerriesMix(), 'harrow-8', HARROW_8],
    [neapRink(), 'cobble-64', COBBLE_64],
  ] as const)
    for (const running of [false, true]) {
      const { bytesOut, micros, fewest, whole } = repaint(profile, model, surface, running);
      const ratio = micros / (fewest * MICROS_PER_BYTE);
      table(
        `Full repaint of ${surface.name} at 31 250 bit/s, ${running ? 'with' : 'without'} running status`,
        [
          ['bytes, fewest / sent', `${fewest} / ${bytesOut}`],
          [
            'time, fewest / taken',
            `${((fewest * MICROS_PER_BYTE) / 1_000).toFixed(1)} / ${(micros / 1_000).toFixed(1)} ms`,
          ],
          [`ratio (at most ${LIMIT})`, ratio.toFixed(3)],
          ['everything shown', whole ? 'yes' : 'NO'],
        ],
      );
      if (ratio > LIMIT || !whole) process.exitCode = 1;
    }
}
