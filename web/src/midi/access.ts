import { TAKEN, type MidiState, type PortInfo, type Standing } from './protocol';

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
export class MidiAccessPorts {
  private access: MIDIAccess | null = null;
  private state: MidiState = 'not asked';
  private trouble: Readonly<Record<string, string>> = {};
  private shown = '';
  private readonly listening = new Map<string, MIDIInput>();

  /**
   * @param heard a whole message of an input, `at` in ms since the Unix epoch
   * @param changed what is known of the ports has changed
   */
  constructor(
    private readonly heard: (id: string, bytes: Uint8Array, at: number) => void,
    private readonly changed: () => void,
  ) {}

  /** What is known now. */
  standing(): Standing {
    const here = (ports: Iterable<MIDIPort>): PortInfo[] =>
      [...ports]
        .filter((port) => port.state === 'connected')
        .map((port) => ({ id: port.id, name: port.name ?? 'Unnamed port' }));
    return {
      state: this.state,
      inputs: here(this.access?.inputs.values() ?? []),
      outputs: here(this.access?.outputs.values() ?? []),
      trouble: this.trouble,
    };
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
      this.be('no support');
      return;
    }
    this.be('asking');
    try {
      this.take(await navigator.requestMIDIAccess({ sysex: true }), 'granted');
      return;
    } catch (error) {
      if (isNamed(error, 'InvalidStateError', 'NotSupportedError')) {
        this.be('no platform');
        return;
      }
    }
    try {
      this.take(await navigator.requestMIDIAccess(), 'granted without SysEx');
    } catch (error) {
      this.be(isNamed(error, 'InvalidStateError', 'NotSupportedError') ? 'no platform' : 'refused');
    }
  }

  private be(state: MidiState): void {
    this.state = state;
    this.refresh();
  }

  private take(access: MIDIAccess, state: MidiState): void {
    // A second request brings new port objects: unhook the old ones, or every message comes twice.
    const heard = [...this.listening.keys()];
    for (const input of this.listening.values()) input.onmidimessage = null;
    this.listening.clear();
    if (this.access) this.access.onstatechange = null;
    this.access = access;
    access.onstatechange = () => this.refresh();
    for (const id of heard) this.listen(id);
    this.be(state);
  }

  /** Tells of what is known where it has changed. */
  private refresh(): void {
    const now = JSON.stringify(this.standing());
    if (now === this.shown) return;
    this.shown = now;
    this.changed();
  }

  /** Listens to an input; false where it is not there. */
  listen(id: string): boolean {
    const input = this.access?.inputs.get(id);
    if (input?.state !== 'connected') return false;
    this.listening.set(id, input);
    input.onmidimessage = (event) => {
      if (event.data) this.heard(id, event.data, performance.timeOrigin + event.timeStamp);
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

  /** Sends whole messages at once; false where the port would not take them. */
  send(id: string, bytes: Uint8Array): boolean {
    const output = this.access?.outputs.get(id);
    if (output?.state !== 'connected') return false;
    const allowed = this.access?.sysexEnabled ? bytes : withoutSysex(bytes);
    try {
      if (allowed.length > 0) output.send(allowed);
      return true;
    } catch (error) {
      this.complain(output, error);
      return false;
    }
  }

  /** Tries ports again that another program had: whoever starts first, both find their port in the end. */
  retry(): void {
    for (const id of Object.keys(this.trouble)) {
      const port = this.listening.get(id) ?? this.access?.outputs.get(id);
      if (port?.state === 'connected') void this.open(port);
    }
  }

  private async open(port: MIDIPort): Promise<void> {
    try {
      await port.open();
      const { [port.id]: _gone, ...rest } = this.trouble;
      this.trouble = rest;
      this.refresh();
    } catch (error) {
      this.complain(port, error);
    }
  }

  private complain(port: MIDIPort, error: unknown): void {
    const why = isNamed(error, 'InvalidAccessError')
      ? `${TAKEN}, and this system lends a port to one program only. Rondo takes it as soon as that program leaves it. So that both have it, let that program listen to a virtual port instead, and add a route there under Ports.`
      : `The port did not answer (${error instanceof Error ? error.message : 'no reason given'}).`;
    this.trouble = { ...this.trouble, [port.id]: `${port.name ?? 'Port'}: ${why}` };
    this.refresh();
  }
}

function isNamed(error: unknown, ...names: string[]): boolean {
  return error instanceof DOMException && names.includes(error.name);
}
