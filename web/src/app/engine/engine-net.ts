import { signal } from '@angular/core';
import type { RouteTraffic } from '@rondo/core/round';
import type { NetChoice, NetNews, NetStanding } from '@rondo/core/wire';
import type { FromWorker, ToWorker } from './protocol';

/** Sees an OSC message that has come on a link; `at` in ms since the Unix epoch. */
export type OscWatcher = (link: string, bytes: Uint8Array, at: number) => void;

/** What the page sees and says of the engine's ways beside MIDI: OSC, keys, surfaces on glass, and routes. */
export class EngineNet {
  /** How links stand that go by the server, by key. */
  readonly standing = signal<Readonly<Record<string, NetStanding | undefined>>>({});
  /** What was refused there, by link and reason. */
  readonly news = signal<Readonly<Record<string, NetNews | undefined>>>({});
  /** What has gone along each route of the profile, as it was asked last. */
  readonly routes = signal<readonly RouteTraffic[]>([]);
  private readonly watchers = new Set<OscWatcher>();
  private listens: NetChoice | null = null;
  private isOnGlass = false;

  /** @param post sends to the engine's worker */
  constructor(private readonly post: (message: ToWorker) => void) {}

  /** Another worker is told what the one before it knew. */
  tellAgain(): void {
    if (this.watchers.size > 0 || this.listens) this.tellWatch();
    if (this.isOnGlass) this.openGlass(true);
  }

  /** Takes what the worker says of it; false for what is not of this. */
  hear(message: FromWorker): boolean {
    switch (message.kind) {
      case 'net standing':
        this.standing.update((all) => ({
          ...all,
          ...Object.fromEntries(message.standing.map((one) => [one.link, one])),
        }));
        return true;
      case 'net news':
        this.news.update((all) => ({
          ...all,
          ...Object.fromEntries(message.news.map((one) => [`${one.link} ${one.why}`, one])),
        }));
        return true;
      case 'routes':
        this.routes.set(message.list);
        return true;
      case 'osc':
        for (const watcher of this.watchers) watcher(message.link, message.bytes, message.at);
        return true;
      default:
        return false;
    }
  }

  /** Whether surfaces may be shown on glass: the network is on. */
  openGlass(on: boolean): void {
    this.isOnGlass = on;
    this.post({ kind: 'glass', on });
  }

  /** Asks what has gone along each route; {@link routes} has it then. */
  askRoutes(): void {
    this.post({ kind: 'ask routes' });
  }

  /** Sees what comes on OSC links, until the returned function is called. */
  watchOsc(watcher: OscWatcher): () => void {
    this.watchers.add(watcher);
    this.tellWatch();
    return () => {
      this.watchers.delete(watcher);
      this.tellWatch();
    };
  }

  /** Listens on a port for the page alone, as while a surface is taught; null ends that. */
  listenOsc(choice: NetChoice | null): void {
    this.listens = choice;
    this.tellWatch();
  }

  private tellWatch(): void {
    this.post({ kind: 'watch net', on: this.watchers.size > 0, choice: this.listens });
  }
}
