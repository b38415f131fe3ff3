import { Injectable } from '@angular/core';
import { Subject } from 'rxjs';
import * as z from 'zod';

const eventSchema = z.discriminatedUnion('says', [
  /** Something that the server keeps is another than before. */
  z.object({
    says: z.literal('changed'),
    kind: z.enum(['profile', 'surface', 'host', 'setup']),
    id: z.string(),
    /** Its newest revision; null where none was made. */
    revision: z.number().nullable(),
    cause: z.enum(['made', 'saved', 'imported', 'takenBack', 'deleted', 'broughtBack']),
    request: z.string().nullable(),
    browser: z.string().nullable(),
  }),
  /** Everything may be another than before: a backup took its place. */
  z.object({ says: z.literal('allChanged'), browser: z.string().nullable() }),
]);
/** What the server tells; `missed` where it could not be heard for a while. */
export type ServerEvent = z.infer<typeof eventSchema> | { readonly says: 'missed' };

const AGAIN_MS = 1_000;
const AGAIN_AT_MOST_MS = 15_000;

/** Hears from the server what other windows and browsers have changed there, as long as the page is open. */
@Injectable({ providedIn: 'root' })
export class ServerEvents {
  readonly heard = new Subject<ServerEvent>();
  private wait = AGAIN_MS;
  private hasMissed = false;

  start(): void {
    const socket = new WebSocket(`${location.origin.replace(/^http/, 'ws')}/api/events`);
    socket.addEventListener('open', () => {
      this.wait = AGAIN_MS;
      if (this.hasMissed) this.heard.next({ says: 'missed' });
      this.hasMissed = false;
    });
    socket.addEventListener('message', ({ data }: MessageEvent<unknown>) => {
      // A newer server may tell more than this page knows.
      const event = eventSchema.safeParse(parsed(data));
      if (event.success) this.heard.next(event.data);
    });
    socket.addEventListener('close', () => {
      this.hasMissed = true;
      setTimeout(() => this.start(), this.wait);
      this.wait = Math.min(2 * this.wait, AGAIN_AT_MOST_MS);
    });
  }
}

function parsed(data: unknown): unknown {
  try {
    return JSON.parse(String(data));
  } catch {
    return null;
  }
}
