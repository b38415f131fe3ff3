import { HOST_MODELS } from '@rondo/core/host';
import { neapRink, nineFerriesMix, type Profile } from '@rondo/core/profile';
import { Engine, Shows, compile, type Plan } from '@rondo/core/round';
import { Cable, SIMULATIONS, Wire } from '@rondo/core/standin';
import { COBBLE_64, HARROW_8, STOCK_SURFACES, type Surface } from '@rondo/core/surface';
import { table } from './report.js';

const MICROS_PER_BYTE = 320;
const LIMIT = 1.05;
const WARM = 2_000_000;

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
    const { sender } = plan.links[link];
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
  const engine = new Engine(plan, (to, bytes, from, end, t) => {
    if (to === host) toHost.push(bytes, from, end);
    if (to !== link) return;
    bytesOut += end - from;
    wire.push(bytes, from, end, t);
  });
  const simulated = SIMULATIONS.get(plan.links[host].model)?.((bytes, from, to) =>
    toEngine.push(bytes, from, to),
  );
  engine.setInputOpen(host, true, 0);
  engine.setOutputOpen(host, true, 0);
  for (let t = 1_000; t < WARM; t += 1_000) {
    engine.advance(t);
    toHost.flow((bytes, from, to) => simulated?.receive(bytes, from, to, t));
    toEngine.flow((bytes, from, to) => engine.receive(host, bytes, from, to, t));
  }
  engine.setRunningStatus(link, running);
  engine.setOutputOpen(link, true, WARM);
  let t = WARM;
  // To the deadlines only: the slow refresh that an idle wire gets later is no part of it.
  for (
    let due = engine.nextDeadline();
    due < Infinity && t < WARM + 500_000;
    due = engine.nextDeadline()
  ) {
    t = Math.max(t + 1, Math.ceil(due));
    engine.advance(t);
  }
  const fewest = fewestBytes(plan, link, running);
  const whole = plan.outs.every(
    (out, i) => out.link !== link || out.shows === Shows.Meter || engine.shown[i] >= 0,
  );
  return { bytesOut, micros: wire.freeAt - WARM, fewest, whole };
}

/** A full repaint on a wire of 31 250 bit/s against the fewest bytes that say the same. */
export function wires(): void {
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
