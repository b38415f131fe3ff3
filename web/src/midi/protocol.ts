/** How far the browser has let us. */
export type MidiState =
  | 'not asked'
  | 'asking'
  | 'granted'
  | 'granted without SysEx'
  | 'refused'
  | 'no support'
  | 'no platform';

export interface PortInfo {
  readonly id: string;
  readonly name: string;
}

/** What is known of the browser's ports at a moment. */
export interface Standing {
  readonly state: MidiState;
  readonly inputs: readonly PortInfo[];
  readonly outputs: readonly PortInfo[];
  /** Ports that could not be opened, with why, by id. */
  readonly trouble: Readonly<Record<string, string>>;
}

/** How it begins why a port is in trouble that another program has to itself. */
export const TAKEN = 'Another program has it';

/** Which ports a link of the engine has; null where it has none. */
export interface Route {
  readonly link: string;
  readonly input: string | null;
  readonly output: string | null;
}

/** From the page to whoever holds the ports. */
export type FromPage =
  | { kind: 'ask' }
  /** Asks only where it was granted before, so that no question appears. */
  | { kind: 'resume' }
  | { kind: 'listen'; id: string }
  | { kind: 'ignore'; id: string }
  /** Whether what comes in is shown to the page too. */
  | { kind: 'watch'; on: boolean }
  | { kind: 'send'; id: string; bytes: Uint8Array }
  /** The engine's worker, at the other end of the port that comes along: the first one, or another after that died. */
  | { kind: 'engine' }
  /** The worker is dead: release what it held. */
  | { kind: 'release' }
  | { kind: 'ping' };

/** From whoever holds the ports to the page. */
export type ToPage =
  | {
      kind: 'standing';
      standing: Standing;
      /** The answer to `ask` or `resume`. */ answers: boolean;
    }
  /** What came in, for screens that show it; `at` in ms since the Unix epoch, fractions included. */
  | { kind: 'bytes'; id: string; bytes: Uint8Array; at: number }
  /** The worker does not answer any more. What it held is released. */
  | { kind: 'engine lost' }
  | { kind: 'pong' };

/** Bytes of one link. */
export interface OfLink {
  readonly link: string;
  readonly bytes: Uint8Array;
}

/** From the engine's worker to whoever holds the ports. Links are named by key. */
export type FromEngine =
  | { kind: 'routes'; routes: Route[] }
  /** All that one moment brings, in one message: each costs the same, however little is in it. */
  | {
      kind: 'sends';
      list: readonly OfLink[];
      /** Bytes that release what is held by then, should the worker die; of those links where they are other ones now. */
      wills: readonly OfLink[];
    }
  | { kind: 'pong' };

/** From whoever holds the ports to the engine's worker. */
export type ToEngine =
  /** Bytes of a real port; `at` in ms since the Unix epoch, fractions included. */
  | { kind: 'bytes'; link: string; bytes: Uint8Array; at: number }
  /** A real port has taken bytes. */
  | { kind: 'taken'; link: string; bytes: number }
  | { kind: 'ping' };
