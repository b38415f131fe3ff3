import {
  readOscMessage,
  strokeOf,
  type Chord,
  type NetPlace,
  type NetRefusal,
  type Stroke,
} from '@rondo/core/wire';
import type { KeyAdapter } from './adapter.js';

/** How long a key is held before it repeats, and how long between, ms: as keyboards usually do (common practice, no source). */
const [REPEAT_AFTER, REPEAT_EVERY] = [400, 60];

/** One end of a link that goes to keys: what the engine sends as OSC is pressed by the adapter, if it is listed. */
export class KeyPlace {
  private readonly strokes: ReadonlyMap<string, Stroke>;
  /** Chords that are down, by the address that holds them, and what repeats others. */
  private readonly held = new Map<string, Chord>();
  private readonly repeating = new Map<string, NodeJS.Timeout>();

  /** @param refused something was not pressed, and which program was in front */
  constructor(
    private readonly place: NetPlace,
    private readonly adapter: KeyAdapter,
    private readonly refused: (why: NetRefusal, from: string) => void,
  ) {
    this.strokes = new Map(
      (place.strokes ?? []).flatMap((address) => {
        const stroke = strokeOf(address);
        return stroke ? [[address, stroke] as const] : [];
      }),
    );
  }

  /** Chords that it may press. */
  get chords(): Chord[] {
    return [...this.strokes.values()].flatMap((stroke) => stroke.chords);
  }

  start(): Promise<{ hears: boolean; speaks: boolean; fault: string }> {
    const { fault, isHere } = this.adapter;
    return Promise.resolve({ hears: false, speaks: isHere, fault });
  }

  /** A packet of the engine's: a stroke begins at a number above one half, and ends at any other. */
  send(packet: Uint8Array): void {
    const message = readOscMessage(packet);
    if (!message) return;
    const { address, values } = message;
    const stroke = this.strokes.get(address);
    if (!stroke) return this.refused('notListed', address);
    if (Number(values[0]) < 0.5) return this.end(address);
    if (!this.isInFront()) return this.refused('notInFront', this.adapter.front ?? '');
    const [first] = stroke.chords;
    if (stroke.way === 'hold') {
      if (this.held.has(address)) return;
      this.held.set(address, first);
      this.adapter.tell({ kind: 'down', keys: first });
      return;
    }
    for (const keys of stroke.chords) this.adapter.tell({ kind: 'press', keys });
    if (stroke.way === 'repeat') this.repeat(address, first, REPEAT_AFTER);
  }

  private repeat(address: string, keys: Chord, after: number): void {
    clearTimeout(this.repeating.get(address));
    const timer = setTimeout(() => {
      if (!this.isInFront()) return this.end(address);
      this.adapter.tell({ kind: 'press', keys });
      this.repeat(address, keys, REPEAT_EVERY);
    }, after);
    this.repeating.set(address, timer);
  }

  private end(address: string): void {
    clearTimeout(this.repeating.get(address));
    this.repeating.delete(address);
    const keys = this.held.get(address);
    this.held.delete(address);
    if (keys) this.adapter.tell({ kind: 'up', keys });
  }

  /** The program that it is for is in front, or the adapter cannot tell. */
  private isInFront(): boolean {
    const { front } = this.adapter;
    const wanted = this.place.keys?.program.trim().toLowerCase() ?? '';
    return wanted === '' || front === null || front.toLowerCase().includes(wanted);
  }

  /** Lets go of everything. */
  stop(): void {
    for (const address of [...this.held.keys(), ...this.repeating.keys()]) this.end(address);
  }
}
