/** How a stand-in answers a request for MIDI. */
export interface MidiPlan {
  /** Granted with SysEx, granted without, refused, or no MIDI on the computer. */
  answer: 'granted' | 'plain only' | 'refused' | 'no platform';
  inputs: { id: string; name: string }[];
  outputs: { id: string; name: string }[];
  /** Ports that another program has. */
  taken?: string[];
  /** Ports that are not plugged in at first. */
  absent?: string[];
}

/** What a test does with a stand-in: plays the device, pulls the plug. */
export interface MidiControl {
  /** Messages that reached an output, newest last. */
  sent: Record<string, number[][]>;
  /** The device behind an input sends one whole message. */
  play(inputId: string, bytes: number[]): void;
  plug(portId: string, connected: boolean): void;
  /** The other program leaves a port. */
  leave(portId: string): void;
  requests: { sysex: boolean }[];
}

/**
 * A stand-in for `navigator.requestMIDIAccess` that follows the W3C Web MIDI API: names, states, errors, and what
 * `send` refuses. Self-contained, so that it can be put into a page.
 * @param scope `window`, or what stands for it in a test
 */
export function installWebMidi(
  scope: { navigator: object; rondoMidi?: MidiControl },
  plan: MidiPlan,
): MidiControl {
  const fail = (name: string, why: string) => new DOMException(why, name);
  const control: MidiControl = {
    sent: {},
    requests: [],
    play: () => undefined,
    plug: () => undefined,
    leave: (id) => void (plan.taken = plan.taken?.filter((taken) => taken !== id)),
  };

  class Port extends EventTarget {
    readonly manufacturer = 'Invented';
    readonly version = '1';
    state: 'connected' | 'disconnected' = 'connected';
    connection: 'open' | 'closed' | 'pending' = 'closed';
    onstatechange: ((event: Event) => void) | null = null;
    constructor(
      readonly id: string,
      readonly name: string,
      readonly type: 'input' | 'output',
    ) {
      super();
      if (plan.absent?.includes(id)) this.state = 'disconnected';
    }
    open(): Promise<Port> {
      if (plan.taken?.includes(this.id))
        return Promise.reject(fail('InvalidAccessError', 'The port is in use.'));
      this.connection = this.state === 'connected' ? 'open' : 'pending';
      return Promise.resolve(this);
    }
    close(): Promise<Port> {
      this.connection = 'closed';
      return Promise.resolve(this);
    }
  }

  class Input extends Port {
    private handler: ((event: Event) => void) | null = null;
    constructor(id: string, name: string) {
      super(id, name, 'input');
    }
    get onmidimessage() {
      return this.handler;
    }
    // Setting the handler opens the port (W3C).
    set onmidimessage(handler: ((event: Event) => void) | null) {
      this.handler = handler;
      if (handler && this.connection === 'closed') void this.open().catch(() => undefined);
    }
    arrive(bytes: number[]): void {
      if (this.connection !== 'open' || !this.handler) return;
      const event = new Event('midimessage');
      Object.assign(event, { data: Uint8Array.from(bytes) });
      this.handler(event);
    }
  }

  class Output extends Port {
    constructor(
      id: string,
      name: string,
      private readonly sysex: boolean,
    ) {
      super(id, name, 'output');
    }
    send(data: Iterable<number>, _timestamp = 0): void {
      const messages = split([...data], this.sysex);
      if (this.state === 'disconnected') throw fail('InvalidStateError', 'The port is gone.');
      if (plan.taken?.includes(this.id)) throw fail('InvalidAccessError', 'The port is in use.');
      this.connection = 'open';
      (control.sent[this.id] ??= []).push(...messages);
    }
    clear(): void {
      // Nothing waits here: everything is sent at once.
    }
  }

  /** Whole messages, or the error that the specification asks for. */
  function split(bytes: number[], sysex: boolean): number[][] {
    const messages: number[][] = [];
    for (let at = 0; at < bytes.length;) {
      const status = bytes[at];
      if (status < 0x80) throw new TypeError('Running status is not allowed.');
      let end = at + 1;
      if (status === 0xf0) {
        if (!sysex) throw fail('InvalidAccessError', 'SysEx is not allowed.');
        while (end < bytes.length && bytes[end] < 0x80) end++;
        if (bytes[end] !== 0xf7) throw new TypeError('The SysEx is not complete.');
        end++;
      } else {
        const kind = status & 0xf0;
        const data =
          kind === 0xf0
            ? ({ 0xf1: 1, 0xf2: 2, 0xf3: 1 }[status] ?? 0)
            : kind === 0xc0 || kind === 0xd0
              ? 1
              : 2;
        end += data;
        if (end > bytes.length || bytes.slice(at + 1, end).some((byte) => byte > 0x7f))
          throw new TypeError('The message is not complete.');
      }
      messages.push(bytes.slice(at, end));
      at = end;
    }
    return messages;
  }

  const accesses: Access[] = [];
  class Access extends EventTarget {
    onstatechange: ((event: Event) => void) | null = null;
    readonly inputs: Map<string, Input>;
    readonly outputs: Map<string, Output>;
    constructor(readonly sysexEnabled: boolean) {
      super();
      this.inputs = new Map(plan.inputs.map(({ id, name }) => [id, new Input(id, name)]));
      this.outputs = new Map(
        plan.outputs.map(({ id, name }) => [id, new Output(id, name, sysexEnabled)]),
      );
    }
  }

  control.play = (id, bytes) => {
    for (const access of accesses) access.inputs.get(id)?.arrive(bytes);
  };
  control.plug = (id, connected) => {
    for (const access of accesses) {
      const port = access.inputs.get(id) ?? access.outputs.get(id);
      if (!port) continue;
      port.state = connected ? 'connected' : 'disconnected';
      port.connection = 'closed';
      const event = new Event('statechange');
      Object.assign(event, { port });
      port.onstatechange?.(event);
      access.onstatechange?.(event);
    }
  };
  Object.defineProperty(scope.navigator, 'requestMIDIAccess', {
    configurable: true,
    value: ({ sysex = false }: { sysex?: boolean } = {}) => {
      control.requests.push({ sysex });
      if (plan.answer === 'no platform')
        return Promise.reject(fail('InvalidStateError', 'No MIDI on this computer.'));
      if (plan.answer === 'refused' || (sysex && plan.answer === 'plain only'))
        return Promise.reject(fail('NotAllowedError', 'Refused.'));
      // Each request brings new objects, as browsers do.
      const access = new Access(sysex);
      accesses.push(access);
      return Promise.resolve(access);
    },
  });
  scope.rondoMidi = control;
  return control;
}
