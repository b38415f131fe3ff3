import { MidiAccessPorts } from './access';
import type { FromEngine, FromPage, Route, ToEngine, ToPage } from './protocol';

const LOOK_EVERY_MS = 2_000;
/** Pings without any answer after which the engine's worker counts as dead. */
const UNANSWERED = 4;
/** Bytes taken by a real port that are told to the worker at once. Well below what may be under way. */
const TAKEN_LOT = 64;

/** One end of a channel, as much of it as is used. */
export type Wire = Pick<MessagePort, 'postMessage' | 'onmessage'> &
  Partial<Pick<MessagePort, 'close'>>;

/**
 * Holds the browser's ports and joins them to the engine's worker, past the page that draws. The page is told what it
 * wants to see. Should the worker or the page be gone, it releases what is held.
 */
export class PortHolder {
  private readonly ports = new MidiAccessPorts(
    (id, bytes, at) => this.hear(id, bytes, at),
    () => this.tell(false),
  );
  private engine: Wire | null = null;
  private routes: readonly Route[] = [];
  private readonly wills = new Map<string, Uint8Array>();
  private readonly taken = new Map<string, number>();
  private watched = false;
  private unanswered = 0;

  constructor(private readonly page: Wire) {
    page.onmessage = ({ data, ports }: MessageEvent<FromPage>) => this.obey(data, ports);
    setInterval(() => {
      this.watchEngine();
      this.ports.retry();
    }, LOOK_EVERY_MS);
    addEventListener('pagehide', () => this.release());
    this.tell(false);
  }

  private toPage(message: ToPage): void {
    this.page.postMessage(message);
  }

  private toEngine(message: ToEngine): void {
    this.engine?.postMessage(message);
  }

  private tell(answers: boolean): void {
    this.toPage({ kind: 'standing', standing: this.ports.standing(), answers });
  }

  private obey(message: FromPage, ports: readonly MessagePort[]): void {
    switch (message.kind) {
      case 'ask':
        void this.ports.ask().then(() => this.tell(true));
        return;
      case 'resume':
        void this.ports.resume().then(() => this.tell(true));
        return;
      case 'listen':
        this.ports.listen(message.id);
        return;
      case 'ignore':
        this.ports.ignore(message.id);
        return;
      case 'watch':
        this.watched = message.on;
        return;
      case 'send':
        this.ports.send(message.id, message.bytes);
        return;
      case 'engine':
        this.join(ports[0]);
        return;
      case 'release':
        this.release();
        return;
      case 'ping':
        this.toPage({ kind: 'pong' });
        return;
    }
  }

  private join(engine: MessagePort): void {
    this.release();
    this.engine?.close?.();
    this.engine = engine;
    this.routes = [];
    this.taken.clear();
    this.unanswered = 0;
    engine.onmessage = ({ data }: MessageEvent<FromEngine>) => {
      if (this.engine === engine) this.hearEngine(data);
    };
  }

  private hearEngine(message: FromEngine): void {
    this.unanswered = 0;
    switch (message.kind) {
      case 'routes':
        this.releaseMoved(message.routes);
        this.routes = message.routes;
        return;
      case 'sends':
        for (const { link, bytes } of message.list) {
          const output = this.outputOf(link);
          if (output !== null && this.ports.send(output, bytes))
            this.acknowledge(link, bytes.length);
        }
        for (const { link, bytes } of message.wills) this.wills.set(link, bytes);
        return;
      case 'pong':
        return;
    }
  }

  /** What is held is released at the port where it is held, before its link has another. */
  private releaseMoved(routes: readonly Route[]): void {
    for (const [link, bytes] of this.wills) {
      const output = this.outputOf(link);
      const next = routes.find((route) => route.link === link)?.output ?? null;
      if (output !== null && output !== next && bytes.length > 0) this.ports.send(output, bytes);
    }
  }

  private outputOf(link: string): string | null {
    return this.routes.find((route) => route.link === link)?.output ?? null;
  }

  private hear(id: string, bytes: Uint8Array, at: number): void {
    for (const { link, input } of this.routes)
      if (input === id) this.toEngine({ kind: 'bytes', link, bytes, at });
    if (this.watched) this.toPage({ kind: 'bytes', id, bytes, at });
  }

  /** Tells the worker in lots what real ports have taken; the rest of a lot never adds up to what it waits for. */
  private acknowledge(link: string, bytes: number): void {
    const taken = (this.taken.get(link) ?? 0) + bytes;
    if (taken >= TAKEN_LOT) this.toEngine({ kind: 'taken', link, bytes: taken });
    this.taken.set(link, taken >= TAKEN_LOT ? 0 : taken);
  }

  private watchEngine(): void {
    if (!this.engine) return;
    // Counted, not timed: in the background this runs far less often.
    if (this.unanswered < UNANSWERED) {
      this.unanswered++;
      this.toEngine({ kind: 'ping' });
      return;
    }
    this.release();
    this.engine.close?.();
    this.engine = null;
    this.toPage({ kind: 'engine lost' });
  }

  /** Releases what is held, once. */
  private release(): void {
    for (const [link, bytes] of this.wills) {
      const output = this.outputOf(link);
      if (output !== null && bytes.length > 0) this.ports.send(output, bytes);
    }
    this.wills.clear();
  }
}
