import { readFileValue } from '@rondo/core/formats';
import { HOST_MODELS, hostNamed, modelOfHost, valueText, type HostModel } from '@rondo/core/host';
import type { Profile } from '@rondo/core/profile';
import { compile, type Plan } from '@rondo/core/round';
import { SimulatedHost, World } from '@rondo/core/standin';
import { STOCK_SURFACES, readSurface, type Surface } from '@rondo/core/surface';
import { toHex } from '@rondo/core/wire';
import { readLine } from './decode.js';
import { content } from './lines.js';

/** How finely time goes on between messages, µs. */
const STEP = 1_000;

/** The value of one function at the end, as a number and as people say it. */
interface FunctionState {
  readonly value: number;
  readonly text: string;
}

/** Surfaces and hosts beside those that ship with Rondo, by id. */
export interface Own {
  readonly surfaces: Map<string, Surface>;
  readonly hosts: Map<string, HostModel>;
}

/** Something that cannot be replayed, in a sentence. */
export class ReplayError extends Error {}

/**
 * Reads the documents of a replay.
 * @param given Rondo’s file, or a profile by itself
 * @param id which profile, where the file has several
 * @param surfaces descriptions beside those that ship with Rondo
 * @throws ReplayError that names each fault
 */
export function readDocuments(
  given: unknown,
  surfaces: readonly unknown[],
  id?: string,
): { profile: Profile; own: Own } {
  const read = readFileValue(given);
  if (!read.ok) throw new ReplayError(`The profile cannot be read. ${told(read.faults)}`);
  const { profiles, hosts } = read.file;
  const profile = id === undefined ? profiles.at(0) : profiles.find((one) => one.id === id);
  if (!profile)
    throw new ReplayError(
      id === undefined
        ? 'There is no profile in the file.'
        : `There is no profile “${id}” in the file.`,
    );
  if (id === undefined && profiles.length > 1)
    throw new ReplayError(
      `The file has several profiles. Name one with --profile: ${profiles.map((one) => one.id).join(', ')}.`,
    );
  const own: Own = {
    surfaces: new Map(read.file.surfaces.map((one) => [one.id, one])),
    hosts: new Map(hosts.map((one) => [one.id, modelOfHost(one)])),
  };
  for (const document of surfaces) {
    const surface = readSurface(document);
    if (!surface.ok) throw new ReplayError(`A surface cannot be read. ${told(surface.faults)}`);
    own.surfaces.set(surface.document.id, surface.document);
  }
  return { profile, own };
}

const told = (faults: readonly { path: string; message: string }[]): string =>
  faults.map(({ path, message }) => `${path}: ${message}`).join('; ');

/**
 * Runs recorded messages through a profile, with its hosts and time simulated. The same lines give the same bytes.
 */
export class Replay {
  /** Lines that could not be read, or are for a port that the profile has not. */
  badLines = 0;
  private readonly world: World;
  private readonly plan: Plan;
  private readonly ports = new Map<string, number>();
  private lineNumber = 0;

  /**
   * @param print receives a line `milliseconds,port,hex bytes` for all that leaves a port
   * @param complain receives a sentence for each line that cannot be played
   */
  constructor(
    profile: Profile,
    own: Own,
    print: (line: string) => void,
    private readonly complain: (sentence: string) => void,
  ) {
    const surface = (id: string) => own.surfaces.get(id) ?? STOCK_SURFACES.get(id);
    this.plan = compile(profile, {
      surface,
      host: (id) => hostNamed(id, (one) => HOST_MODELS.get(one) ?? own.hosts.get(one), surface),
    });
    for (const id of profile.surfaceOrder)
      if (!this.plan.links.some((link) => link.key === `surface:${id}`))
        throw new ReplayError(
          `There is no description of ${profile.surfaces[id].label} (${profile.surfaces[id].model}). Give it with --surface.`,
        );
    this.world = new World(this.plan);
    this.plan.links.forEach(({ key, id, label }, link) => {
      this.ports.set(id.toLowerCase(), link);
      this.ports.set(label.toLowerCase(), link);
      // The recording stands in for its surface; what that would do by itself is left out.
      if (key.startsWith('surface:')) this.world.setReal(link, true);
    });
    this.world.tap = (link, bytes, from, to) => {
      // A port's messages leave in stretches; each is a line of its own.
      for (let at = from; at < to;) {
        let next = at + 1;
        while (next < to && bytes[next] < 0x80) next++;
        if (bytes[at] === 0xf0) next++;
        print(
          `${this.world.engine.now / 1_000},${this.plan.links[link].id},${toHex(bytes, at, next)}`,
        );
        at = next;
      }
    };
    this.plan.links.forEach(({ kind }, link) => {
      if (kind !== 'surface') return;
      this.world.engine.setInputOpen(link, true, 0);
      this.world.engine.setOutputOpen(link, true, 0);
    });
    this.world.settle();
  }

  /** Plays the next line of the recording. Empty lines and a heading are passed over. */
  take(text: string): void {
    this.lineNumber++;
    const trimmed = content(text);
    if (trimmed === null || (this.lineNumber === 1 && /^[a-z]/i.test(trimmed))) return;
    const line = readLine(trimmed);
    if (typeof line === 'string' || line.t === undefined || line.port === undefined) {
      this.bad(typeof line === 'string' ? line : 'needs milliseconds, port and hex bytes');
      return;
    }
    const link = this.ports.get(line.port.toLowerCase());
    if (link === undefined) {
      const known = this.plan.links.map(({ id }) => id).join(', ');
      this.bad(`there is no port “${line.port}” in the profile; it has ${known}`);
      return;
    }
    const at = Math.round(line.t * 1_000);
    if (at < this.world.time) {
      this.bad('it is earlier than the line before');
      return;
    }
    this.runTo(at);
    this.world.engine.at(at).receive(link, line.bytes, 0, line.bytes.length);
    this.world.settle();
  }

  private bad(why: string): void {
    this.badLines++;
    this.complain(`Line ${this.lineNumber}: ${why}.`);
  }

  private runTo(t: number): void {
    while (this.world.time < t) this.world.advance(Math.min(t, this.world.time + STEP));
  }

  /** Lets time go on after the last line, µs, so that what is due goes out. */
  finish(micros: number): void {
    this.runTo(this.world.time + micros);
  }

  /** What the simulated hosts have at the end, by host and address. */
  state(): Record<string, Record<string, FunctionState>> {
    return Object.fromEntries(
      this.plan.links.flatMap(({ kind, id, key }) => {
        const host = this.world.hosts.get(key);
        // What speaks through a desk has no list of its own functions.
        if (kind !== 'host' || !(host instanceof SimulatedHost)) return [];
        const functions = host.slots.flatMap(({ exists, address, fn }, slot) => {
          if (!exists || fn.kind === 'trigger' || fn.kind === 'nudge') return [];
          const text = fn.kind === 'text' ? host.texts[slot] : valueText(fn, host.values[slot]);
          return [[address, { value: host.values[slot], text }] as const];
        });
        return [[id, Object.fromEntries(functions)] as const];
      }),
    );
  }
}
