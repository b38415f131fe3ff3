import type { NetChoice, NetStanding } from '@rondo/core/wire';
import type { MidiState, PortInfo } from './midi';
import type { Chosen } from './port-names';

/** What is known of real ports at a moment. */
export interface PortsNow {
  readonly state: MidiState;
  readonly inputs: readonly PortInfo[];
  readonly outputs: readonly PortInfo[];
  /** What went wrong with a port, by its id. */
  readonly trouble: Readonly<Record<string, string>>;
}

/** How a link stands: what is written beside its name, and what keeps it from working, with the way out. */
export interface PortStanding {
  readonly heading: string;
  /** Empty where nothing is amiss. */
  readonly fault: string;
  readonly mend: 'allow' | 'choose' | null;
}

const CLOSED: Readonly<Partial<Record<MidiState, readonly [heading: string, fault: string]>>> = {
  'not asked': [
    'not allowed yet',
    'Real ports are chosen, and the browser has not been asked for MIDI yet.',
  ],
  asking: [
    'not allowed yet',
    'The browser is asking. Allow MIDI to use the real ports that are chosen.',
  ],
  refused: [
    'refused',
    'Real ports are chosen, and the browser refused MIDI. Allow it in the site settings, then ask again.',
  ],
  'no support': ['no MIDI here', 'Real ports are chosen, and this browser has no Web MIDI.'],
  'no platform': [
    'no MIDI here',
    'Real ports are chosen, and the browser found no MIDI on this computer.',
  ],
};

/** How an OSC link stands: the server says what is open. */
export function oscStandingOf(
  { real, net }: { readonly real: boolean; readonly net?: NetChoice | undefined },
  standing: NetStanding | undefined,
): PortStanding {
  if (!real || !net) return { heading: 'simulated', fault: '', mend: null };
  if (net.keys)
    return standing?.fault
      ? { heading: 'no keys', fault: standing.fault, mend: 'choose' }
      : { heading: 'keys', fault: '', mend: null };
  if (net.listen === null && net.to === null)
    return { heading: 'no port chosen', fault: 'No OSC port is chosen.', mend: 'choose' };
  return standing?.fault
    ? { heading: 'OSC closed', fault: standing.fault, mend: 'choose' }
    : { heading: 'OSC', fault: '', mend: null };
}

/**
 * How a link stands with the ports that were chosen for it.
 * @param choice the link's; `real` says that its simulation is out of play
 */
export function standingOf(
  choice: { readonly real: boolean; readonly input: Chosen | null; readonly output: Chosen | null },
  now: PortsNow,
): PortStanding {
  if (!choice.real) return { heading: 'simulated', fault: '', mend: null };
  const closed = CLOSED[now.state];
  if (closed) {
    const mend = now.state === 'not asked' || now.state === 'refused' ? 'allow' : null;
    return { heading: closed[0], fault: closed[1], mend };
  }
  const { input, output } = choice;
  if (!input && !output)
    return { heading: 'no port chosen', fault: 'No real port is chosen.', mend: 'choose' };
  const gone = [
    ...(input && !now.inputs.some(({ id }) => id === input.id) ? [input.name] : []),
    ...(output && !now.outputs.some(({ id }) => id === output.id) ? [output.name] : []),
  ];
  if (gone.length > 0) {
    const names = [...new Set(gone)].map((name) => `“${name}”`).join(' and ');
    return {
      heading: 'not plugged in',
      fault: `${names} ${new Set(gone).size > 1 ? 'are' : 'is'} not plugged in. Plug it in, or choose another port.`,
      mend: 'choose',
    };
  }
  const trouble = [input, output].flatMap((port) => (port && now.trouble[port.id]) || []);
  return trouble.length > 0
    ? { heading: 'port taken', fault: [...new Set(trouble)].join(' '), mend: 'choose' }
    : { heading: 'real ports', fault: '', mend: null };
}
