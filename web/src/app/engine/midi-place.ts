import { frameOrigin, helloSchema, joinSchema } from '../../midi/handshake';
import { PortHolder } from '../../midi/holder';
import type { z } from 'zod';

/** Where the ports are held, and why not in a process of their own. */
export interface MidiPlace {
  readonly own: boolean;
  /** Empty where they have a process of their own. */
  readonly why: string;
}

/** How long the frame may take to load, and to speak after it has loaded, ms. */
const LOAD_MS = 10_000;
const SPEAK_MS = 2_000;

const WHY = {
  name: `Rondo was opened under another name than 127.0.0.1 or localhost.`,
  taken: 'Another program holds “localhost” on this port.',
  silent: 'The browser did not open Rondo’s MIDI frame.',
  midi: 'This browser gives MIDI to the page only.',
};

/** The present way: the page holds the ports itself. */
export function holdHere(wire: MessagePort, why: string): MidiPlace {
  new PortHolder(wire);
  return { own: false, why };
}

/** Who may hold the ports, told by the server in the page: its other name is free, or taken by another program. */
const serverSays = (): string => document.documentElement.dataset['midi'] ?? '';

/**
 * Has the ports held by a frame of another site, which the browser gives a process of its own: drawing never holds it
 * up. Where it cannot be had the page holds them itself.
 * @param channel its first port is the page's; the second goes to the holder
 * @param gone called once if the frame that has joined is loaded anew
 */
export async function holdApart(
  { port2 }: MessageChannel,
  gone: () => void,
): Promise<MidiPlace & { readonly close: () => void }> {
  const nothing = { close: () => undefined };
  const origin = frameOrigin(location);
  if (origin === null) return { ...holdHere(port2, WHY.name), ...nothing };
  if (serverSays() === 'taken') return { ...holdHere(port2, WHY.taken), ...nothing };
  const nonce = crypto.randomUUID();
  const frame = document.createElement('iframe');
  frame.allow = 'midi';
  frame.className = 'midi-frame';
  frame.title = 'MIDI ports';
  frame.tabIndex = -1;
  frame.ariaHidden = 'true';
  frame.src = `${origin}/midi#${nonce}`;
  const hello = await new Promise<z.infer<typeof helloSchema> | null>((done) => {
    const hear = (event: MessageEvent<unknown>) => {
      const said = ofFrame(frame, origin, nonce, event);
      if (said) finish(said);
    };
    const finish = (said: z.infer<typeof helloSchema> | null) => {
      removeEventListener('message', hear);
      clearTimeout(timer);
      done(said);
    };
    let timer = setTimeout(() => finish(null), LOAD_MS);
    addEventListener('message', hear);
    frame.addEventListener('load', () => {
      clearTimeout(timer);
      timer = setTimeout(() => finish(null), SPEAK_MS);
    });
    document.body.append(frame);
  });
  if (!hello?.midi) {
    frame.remove();
    return { ...holdHere(port2, hello ? WHY.midi : WHY.silent), ...nothing };
  }
  // Loaded anew it says hello again, and has forgotten everything.
  const again = (event: MessageEvent<unknown>) => {
    if (ofFrame(frame, origin, nonce, event)) gone();
  };
  addEventListener('message', again);
  const join: z.infer<typeof joinSchema> = { rondo: 'join', nonce };
  frame.contentWindow?.postMessage(join, origin, [port2]);
  const close = () => {
    removeEventListener('message', again);
    frame.remove();
  };
  return { own: true, why: '', close };
}

/** What the frame itself says, and nobody else; null for anything else. */
function ofFrame(
  frame: HTMLIFrameElement,
  origin: string,
  nonce: string,
  { source, origin: from, data }: MessageEvent<unknown>,
): z.infer<typeof helloSchema> | null {
  if (source !== frame.contentWindow || from !== origin) return null;
  const said = helloSchema.safeParse(data);
  return said.success && said.data.nonce === nonce ? said.data : null;
}
