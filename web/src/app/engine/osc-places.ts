import type { World } from '@rondo/core/standin';
import { OscStream, strokeOf, type NetChoice } from '@rondo/core/wire';
import type { NetOwner, OscNet } from './osc-net';
import { LISTENING, type FromWorker } from './protocol';

/** What the places of OSC links are told of the engine. */
interface PlacesOwner {
  world(): World | null;
  /** Index of a link by its key, −1 where there is none. */
  link(key: string): number;
  /** The time now, µs. */
  time(): number;
  /** The zero of that time, µs since the Unix epoch. */
  epochMicros(): number;
  post(message: FromWorker): void;
  /** Tells what has changed. */
  tell(): void;
}

/** Where OSC links listen and send to, by the way that the server holds; and whether the page sees what comes there. */
export class OscPlaces {
  private readonly places = new Map<string, NetChoice>();
  private net: OscNet | null = null;
  private isWatched = false;

  constructor(private readonly owner: PlacesOwner) {}

  has(link: string): boolean {
    return this.places.has(link);
  }

  say(link: string, bytes: Uint8Array): void {
    this.net?.say(link, bytes);
  }

  will(link: string, bytes: Uint8Array): void {
    this.net?.will(link, bytes);
  }

  /** Another plan plays: places of links that it has no more are left. */
  keepOnly(links: ReadonlySet<string>): void {
    for (const link of this.places.keys())
      if (link !== LISTENING && !links.has(link)) this.places.delete(link);
    this.net?.set(this.places);
  }

  /** What strokes an OSC program takes is told anew. */
  tellStrokes(): void {
    this.net?.tellStrokes();
  }

  /** Where an OSC link listens and sends to; its ends are open once the server says so. */
  set(world: World, key: string, choice: NetChoice | null): void {
    const link = this.owner.link(key);
    if (link < 0) return;
    const isSame = JSON.stringify(this.places.get(key) ?? null) === JSON.stringify(choice);
    if (isSame && world.isReal(link) === (choice !== null)) return;
    world.setReal(link, choice !== null);
    if (choice) {
      // Whoever is there now is another one: it is asked, or painted, from the beginning.
      const t = this.owner.time();
      world.engine.setInputOpen(link, false, t);
      world.engine.setOutputOpen(link, false, t);
      this.places.set(key, choice);
    } else this.places.delete(key);
    this.net?.set(this.places);
  }

  /** Whether the page sees all that comes, and where it listens for that. */
  watch(on: boolean, choice: NetChoice | null): void {
    this.isWatched = on;
    if (choice) this.places.set(LISTENING, choice);
    else this.places.delete(LISTENING);
    this.net?.set(this.places);
  }

  /** OSC goes by a way of its own, which the server holds. */
  join(make: (owner: NetOwner) => OscNet): void {
    this.net = make({
      heard: (link, bytes) => this.hear(link, bytes),
      standing: (standing) => {
        const world = this.owner.world();
        if (world) {
          const t = this.owner.time();
          world.advance(t);
          for (const { link: key, hears, speaks } of standing) {
            const link = this.owner.link(key);
            if (link < 0 || !world.isReal(link)) continue;
            world.engine.setInputOpen(link, hears, t);
            world.engine.setOutputOpen(link, speaks, t);
          }
          this.owner.tell();
        }
        this.owner.post({ kind: 'net standing', standing });
      },
      strokes: (key) => {
        const { plan } = this.owner.world()?.engine ?? {};
        const link = this.owner.link(key);
        return (plan?.slots ?? []).flatMap((slot) =>
          slot.link === link && slot.set?.type === 'osc' && strokeOf(slot.set.address)
            ? [slot.set.address]
            : [],
        );
      },
      news: (news) => this.owner.post({ kind: 'net news', news }),
    });
    this.net.set(this.places);
  }

  private hear(key: string, bytes: Uint8Array): void {
    const t = this.owner.time();
    if (this.isWatched)
      new OscStream((all, from, to) =>
        this.owner.post({
          kind: 'osc',
          link: key,
          bytes: all.slice(from, to),
          at: (t + this.owner.epochMicros()) / 1_000,
        }),
      ).feed(bytes, 0, bytes.length);
    const link = this.owner.link(key);
    const world = this.owner.world();
    if (!world || link < 0) return;
    world.advance(t);
    world.engine.at(t).receive(link, bytes, 0, bytes.length);
    world.settle();
    this.owner.tell();
  }
}
