import { Injectable, signal } from '@angular/core';

/** How far the browser has let us. */
export type MidiState =
  | 'not asked'
  | 'asking'
  | 'granted'
  | 'granted without SysEx'
  | 'refused'
  | 'no support'
  | 'no platform';

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

export interface PortInfo {
  readonly id: string;
  readonly name: string;
}

export type MidiListener = (inputId: string, bytes: Uint8Array, epochMs: number) => void;

/** Splits a stretch of whole messages and leaves SysEx out. */
export function withoutSysex(bytes: Uint8Array): Uint8Array {
  const kept: number[] = [];
  let inSysex = false;
  for (const byte of bytes) {
    if (byte === 0xf0) inSysex = true;
    if (!inSysex) kept.push(byte);
    if (byte === 0xf7) inSysex = false;
  }
  return Uint8Array.from(kept);
}

/**
 * The browser's MIDI ports (W3C Web MIDI API). It stamps what comes in and hands it on, and sends what it is given:
 * nothing is decided here.
 */
@Injectable({ providedIn: 'root' })
export class Midi {
  readonly state = signal<MidiState>('not asked');
  readonly inputs = signal<readonly PortInfo[]>([]);
  readonly outputs = signal<readonly PortInfo[]>([]);
  /** Ports that could not be opened, with why. */
  readonly trouble = signal<Readonly<Record<string, string>>>({});
  /** Called when ports come or go. */
  changed: () => void = () => undefined;

  private access: MIDIAccess | null = null;
  private readonly listening = new Map<string, MIDIInput>();
  private listener: MidiListener = () => undefined;
  private readonly watchers = new Set<MidiListener>();

  onBytes(listener: MidiListener): void {
    this.listener = listener;
  }

  /** Shows every message of the inputs listened to, until the returned function is called. */
  watch(watcher: MidiListener): () => void {
    this.watchers.add(watcher);
    return () => this.watchers.delete(watcher);
  }

  /** Asks for MIDI where it was granted before, so that no question appears. */
  async resume(): Promise<void> {
    try {
      const status = await navigator.permissions.query({
        name: 'midi' as PermissionName,
        sysex: true,
      } as PermissionDescriptor);
      if (status.state === 'granted') await this.ask();
    } catch {
      // Browsers that cannot be asked this way are asked by the user.
    }
  }

  /** Asks for MIDI with SysEx, then for plain MIDI where that is refused. Never throws. */
  async ask(): Promise<void> {
    if (typeof navigator.requestMIDIAccess !== 'function') {
      this.state.set('no support');
      return;
    }
    this.state.set('asking');
    try {
      this.take(await navigator.requestMIDIAccess({ sysex: true }), 'granted');
      return;
    } catch (error) {
      if (isNamed(error, 'InvalidStateError', 'NotSupportedError')) {
        this.state.set('no platform');
        return;
      }
    }
    try {
      this.take(await navigator.requestMIDIAccess(), 'granted without SysEx');
    } catch (error) {
      this.state.set(
        isNamed(error, 'InvalidStateError', 'NotSupportedError') ? 'no platform' : 'refused',
      );
    }
  }

  private take(access: MIDIAccess, state: MidiState): void {
    // A second request brings new port objects: unhook the old ones, or every message comes twice.
    const heard = [...this.listening.keys()];
    for (const input of this.listening.values()) input.onmidimessage = null;
    this.listening.clear();
    if (this.access) this.access.onstatechange = null;
    this.access = access;
    access.onstatechange = () => this.refresh();
    this.state.set(state);
    this.refresh();
    // Where no port has come or gone nobody else would hook them again.
    for (const id of heard) if (!this.listening.has(id)) this.listen(id);
  }

  private refresh(): void {
    if (!this.access) return;
    const here = (ports: Iterable<MIDIPort>): PortInfo[] =>
      [...ports]
        .filter((port) => port.state === 'connected')
        .map((port) => ({ id: port.id, name: port.name ?? 'Unnamed port' }));
    const inputs = here(this.access.inputs.values());
    const outputs = here(this.access.outputs.values());
    const names = (ports: readonly PortInfo[]) =>
      ports.map((port) => `${port.id} ${port.name}`).join('\n');
    const same = names(inputs) === names(this.inputs()) && names(outputs) === names(this.outputs());
    if (same) return;
    this.inputs.set(inputs);
    this.outputs.set(outputs);
    this.changed();
  }

  /** Listens to an input; false where it is not there. */
  listen(id: string): boolean {
    const input = this.access?.inputs.get(id);
    if (!input || input.state !== 'connected') return false;
    this.listening.set(id, input);
    input.onmidimessage = (event) => {
      if (!event.data) return;
      const at = performance.timeOrigin + event.timeStamp;
      this.listener(id, event.data, at);
      for (const watcher of this.watchers) watcher(id, event.data, at);
    };
    void this.open(input);
    return true;
  }

  /** Stops listening to an input. */
  ignore(id: string): void {
    const input = this.listening.get(id);
    if (!input) return;
    input.onmidimessage = null;
    this.listening.delete(id);
    void input.close().catch(() => undefined);
  }

  /** Whether an output is there. */
  hasOutput(id: string): boolean {
    return this.access?.outputs.get(id)?.state === 'connected';
  }

  /** Sends whole messages at once; false where the port would not take them. */
  send(id: string, bytes: Uint8Array): boolean {
    const output = this.access?.outputs.get(id);
    if (!output || output.state !== 'connected') return false;
    const allowed = this.access?.sysexEnabled ? bytes : withoutSysex(bytes);
    try {
      if (allowed.length > 0) output.send(allowed);
      return true;
    } catch (error) {
      this.complain(output, error);
      return false;
    }
  }

  private async open(port: MIDIPort): Promise<void> {
    try {
      await port.open();
      this.trouble.update(({ [port.id]: _gone, ...rest }) => rest);
    } catch (error) {
      this.complain(port, error);
    }
  }

  private complain(port: MIDIPort, error: unknown): void {
    const why = isNamed(error, 'InvalidAccessError')
      ? 'Another program has it, and this system lends a port to one program only. Close that program, then choose the port again.'
      : `The port did not answer (${error instanceof Error ? error.message : 'no reason given'}).`;
    this.trouble.update((all) => ({ ...all, [port.id]: `${port.name ?? 'Port'}: ${why}` }));
  }
}

function isNamed(error: unknown, ...names: string[]): boolean {
  return error instanceof DOMException && names.includes(error.name);
}
