import * as z from 'zod';
import { frameOrigin, joinSchema, type helloSchema } from './handshake';
import { PortHolder } from './holder';

// Zod would else try `new Function`, which the content security policy forbids.
z.config({ jitless: true });

/** Only our own page, under the server's other name, that opened this frame and knows its nonce. */
const page = frameOrigin(location);
const nonce = location.hash.slice(1);

function allowed(): boolean {
  const policy = (
    document as unknown as { featurePolicy?: { allowsFeature(name: string): boolean } }
  ).featurePolicy;
  return (
    typeof navigator.requestMIDIAccess === 'function' && policy?.allowsFeature('midi') !== false
  );
}

function takeJoin(event: MessageEvent<unknown>): void {
  if (event.source !== parent || event.origin !== page || event.ports.length !== 1) return;
  const join = joinSchema.safeParse(event.data);
  if (!join.success || join.data.nonce !== nonce) return;
  // Once: whoever has joined holds the ports until the frame is gone.
  removeEventListener('message', takeJoin);
  new PortHolder(event.ports[0]);
}

if (page !== null && parent !== window && nonce !== '') {
  addEventListener('message', takeJoin);
  const hello: z.infer<typeof helloSchema> = { rondo: 'midi frame', nonce, midi: allowed() };
  parent.postMessage(hello, page);
}
