import { Injectable, computed, signal } from '@angular/core';
import type { FromPage, MidiState, PortInfo, Standing, ToPage } from '../../midi/protocol';
import { holdApart, holdHere, type MidiPlace } from './midi-place';

export type { MidiState, PortInfo } from '../../midi/protocol';

/** What to tell people, by state; empty where there is nothing to say. */
export const MIDI_SENTENCE: Readonly<Record<MidiState, string>> = {
  'not asked':
    'Rondo has not asked the browser for MIDI yet. Everything works with the simulated desk and host.',
  asking: 'The browser is asking. Allow MIDI to use real ports.',
  granted: '',
  'granted without SysEx':
    'The browser allows MIDI but not SysEx, so displays stay blank. Allow SysEx in the site settings to fill them.',
  refused:
    'The browser refused MIDI. Allow it in the site settings, then ask again. The simulation goes on.',
  'no support':
    'This browser has no Web MIDI. Use a Chromium-based browser for real ports. The simulation goes on.',
  'no platform':
    'The browser found no MIDI on this computer. Check the system’s MIDI service, then ask again. The simulation goes on.',
};

export type MidiListener = (inputId: string, bytes: Uint8Array, epochMs: number) => void;

const NOTHING: Standing = { state: 'not asked', inputs: [], outputs: [], trouble: {} };
const PING_EVERY_MS = 1_000;
/** Pings without any answer after which the holder counts as dead. */
const UNANSWERED = 3;
/** Holders that are gone within so many ms count as a row; after so many the page holds the ports itself. */
const SOON_MS = 20_000;
const MOST_GONE = 3;

/**
 * The page's view of the browser's MIDI ports. They are held in a process of their own where that can be had; what
 * comes in and goes out passes between there and the engine's worker, and the page only sees what it asks for.
 */
@Injectable({ providedIn: 'root' })
export class Midi {
  private readonly standing = signal(NOTHING);
  readonly state = computed(() => this.standing().state);
  readonly inputs = computed(() => this.standing().inputs, { equal: samePorts });
  readonly outputs = computed(() => this.standing().outputs, { equal: samePorts });
  /** Ports that could not be opened, with why. */
  readonly trouble = computed(() => this.standing().trouble);
  private readonly troubled = computed(() => Object.keys(this.trouble()).sort().join('\n'));
  /** Where the ports are held; null before they are needed. */
  readonly place = signal<MidiPlace | null>(null);
  /** Called when ports come or go. */
  changed: () => void = () => undefined;
  /** Called when the engine's worker does not answer any more. */
  engineLost: () => void = () => undefined;
  /** Called when there is another holder of the ports, which the worker has to join. */
  rejoined: () => void = () => undefined;

  private port: MessagePort | null = null;
  private close: () => void = () => undefined;
  private readonly watchers = new Set<MidiListener>();
  /** Questions that wait for their answers: asked again where whoever was asked is gone. */
  private readonly answers: { readonly question: FromPage; readonly done: () => void }[] = [];
  private unanswered = 0;
  private timer: ReturnType<typeof setInterval> | undefined;
  private gone: number[] = [];

  private wire(): MessagePort {
    return this.port ?? this.open();
  }

  private post(message: FromPage, transfer: Transferable[] = []): void {
    this.wire().postMessage(message, transfer);
  }

  private open(): MessagePort {
    const channel = new MessageChannel();
    const { port1 } = channel;
    this.port = port1;
    this.unanswered = 0;
    port1.onmessage = ({ data }: MessageEvent<ToPage>) => {
      if (this.port === port1) this.hear(data);
    };
    const lose = () => {
      if (this.port === port1) this.lose();
    };
    // Where the browser tells of it, a holder that is gone is known at once.
    port1.addEventListener('close', lose);
    this.timer ??= setInterval(() => this.watchHolder(), PING_EVERY_MS);
    const now = Date.now();
    this.gone = this.gone.filter((at) => now - at < SOON_MS);
    if (this.gone.length >= MOST_GONE)
      this.place.set(holdHere(channel.port2, 'The MIDI frame stopped again and again.'));
    else
      void holdApart(channel, lose).then(({ own, why, close }) => {
        if (this.port !== port1) return close();
        this.close = close;
        this.unanswered = 0;
        this.place.set({ own, why });
      });
    return port1;
  }

  /** The holder of the ports is gone: all that was open is closed, and another one takes its place. */
  private lose(): void {
    const { state } = this.standing();
    this.gone.push(Date.now());
    this.port?.close();
    this.close();
    this.close = () => undefined;
    this.port = null;
    this.place.set(null);
    this.take({ ...NOTHING, state });
    this.rejoined();
    if (this.watchers.size > 0) this.post({ kind: 'watch', on: true });
    for (const { question } of this.answers) this.post(question);
    if (state !== 'not asked') void this.resume();
  }

  private watchHolder(): void {
    // While it is still being opened nobody answers.
    if (!this.place()?.own) return;
    if (this.unanswered >= UNANSWERED) this.lose();
    else {
      this.unanswered++;
      this.post({ kind: 'ping' });
    }
  }

  private hear(message: ToPage): void {
    this.unanswered = 0;
    switch (message.kind) {
      case 'standing':
        this.take(message.standing);
        if (message.answers) for (const { done } of this.answers.splice(0)) done();
        return;
      case 'bytes':
        for (const watcher of this.watchers) watcher(message.id, message.bytes, message.at);
        return;
      case 'engine lost':
        this.engineLost();
        return;
      case 'pong':
        return;
    }
  }

  private take(standing: Standing): void {
    const before = [this.inputs(), this.outputs(), this.troubled()];
    this.standing.set(standing);
    const now = [this.inputs(), this.outputs(), this.troubled()];
    if (now.some((part, i) => part !== before[i])) this.changed();
  }

  /** Shows every message of the inputs listened to, until the returned function is called. */
  watch(watcher: MidiListener): () => void {
    this.watchers.add(watcher);
    this.post({ kind: 'watch', on: true });
    return () => {
      this.watchers.delete(watcher);
      if (this.watchers.size === 0) this.post({ kind: 'watch', on: false });
    };
  }

  /** Asks for MIDI where it was granted before, so that no question appears. */
  resume(): Promise<void> {
    return this.answered({ kind: 'resume' });
  }

  /** Asks for MIDI with SysEx, then for plain MIDI where that is refused. Never throws. */
  ask(): Promise<void> {
    return this.answered({ kind: 'ask' });
  }

  private answered(question: FromPage): Promise<void> {
    return new Promise((done) => {
      this.answers.push({ question, done });
      this.post(question);
    });
  }

  /** Gives the holder its way to the engine's worker. */
  joinEngine(port: MessagePort): void {
    this.post({ kind: 'engine' }, [port]);
  }

  /** Releases what the worker held, since it is dead. */
  release(): void {
    if (this.port) this.post({ kind: 'release' });
  }

  /** Listens to an input; false where it is not there or another program has it. */
  listen(id: string): boolean {
    const here = this.inputs().some((port) => port.id === id);
    if (here) this.post({ kind: 'listen', id });
    return here && !this.isTroubled(id);
  }

  /** Stops listening to an input. */
  ignore(id: string): void {
    this.post({ kind: 'ignore', id });
  }

  private isTroubled(id: string): boolean {
    return Object.hasOwn(this.trouble(), id);
  }

  /** Whether an output is there and ours. */
  hasOutput(id: string): boolean {
    return this.outputs().some((port) => port.id === id) && !this.isTroubled(id);
  }

  /** Sends whole messages at once; false where the port is not there. */
  send(id: string, bytes: Uint8Array): boolean {
    const here = this.hasOutput(id);
    if (here) this.post({ kind: 'send', id, bytes });
    return here;
  }
}

function samePorts(a: readonly PortInfo[], b: readonly PortInfo[]): boolean {
  return (
    a.length === b.length && a.every((port, i) => port.id === b[i].id && port.name === b[i].name)
  );
}
