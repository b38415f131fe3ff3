import type { WebSocket } from 'ws';
import type { Context } from 'koa';
import type { Kind } from '@rondo/store';

/** Something that the server keeps is another than before. */
export interface Changed {
  readonly says: 'changed';
  readonly kind: Kind;
  readonly id: string;
  /** The newest revision of it; null where none was made. */
  readonly revision: number | null;
  readonly cause: 'made' | 'saved' | 'imported' | 'takenBack' | 'deleted' | 'broughtBack';
  /** The request that did it, and the browser that it came from, as they name themselves; null where they do not. */
  readonly request: string | null;
  readonly browser: string | null;
}

/** Everything may be another than before: a backup was put in its place. */
export interface AllChanged {
  readonly says: 'allChanged';
  readonly browser: string | null;
}

/** What waits for a page that does not read, bytes; one that has more is let go and asks anew when it comes back. */
const MOST_WAITING = 1_000_000;
/** A header by which a browser names itself, so that its own pages know what it did. */
const BROWSER = 'Rondo-Browser';
const NAME = /^[\x21-\x7e]{1,100}$/;

/** Tells all pages that are open what has changed, as JSON, one event a message. */
export class Events {
  private readonly clients = new Set<WebSocket>();

  take(client: WebSocket): void {
    this.clients.add(client);
    client.on('close', () => this.clients.delete(client));
    // What it was about is told by its closing.
    client.on('error', () => client.terminate());
    // Nothing is asked of this way yet.
    client.on('message', () => client.close(1003));
  }

  tell(event: Changed | AllChanged): void {
    const text = JSON.stringify(event);
    for (const client of this.clients) {
      if (client.bufferedAmount > MOST_WAITING) client.terminate();
      else client.send(text);
    }
  }
}

type Told = Pick<Changed, 'kind' | 'id' | 'cause'> & { readonly revision?: number };

/** Notes what a request has changed, to be told when it is answered. */
export function noteChanged(ctx: Context, ...changes: readonly Told[]): void {
  const before = (ctx.state['changed'] ?? []) as readonly Told[];
  ctx.state['changed'] = [...before, ...changes];
}

/** Notes that everything may be another. */
export const noteAllChanged = (ctx: Context): void => void (ctx.state['allChanged'] = true);

const named = (value: string): string | null => (NAME.test(value) ? value : null);

/** Tells what a request that went well has changed. */
export function tellChanged(ctx: Context, events: Pick<Events, 'tell'>): void {
  const browser = named(ctx.get(BROWSER));
  if (ctx.state['allChanged']) events.tell({ says: 'allChanged', browser });
  const request = named(ctx.get('Idempotency-Key'));
  for (const { revision = null, ...change } of (ctx.state['changed'] ?? []) as readonly Told[])
    events.tell({ says: 'changed', ...change, revision, request, browser });
}
