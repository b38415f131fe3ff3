/** Kinds of system, as far as virtual cables go. */
export const SYSTEMS = ['windows', 'mac', 'linux'] as const;
export type System = (typeof SYSTEMS)[number];

export const SYSTEM_NAMES: Readonly<Record<System, string>> = {
  windows: 'Windows',
  mac: 'macOS',
  linux: 'Linux',
};

/** How each system provides two virtual cables, step by step (common practice, no source). */
const CABLES: Readonly<Record<System, readonly string[]>> = {
  windows: [
    'Newer versions have loop-back endpoints in the MIDI settings of the system: make two pairs.',
    'Older ones need a driver for virtual MIDI cables: install one and make two cables.',
    'Many drivers lend a port to one program only: close what else has it open.',
  ],
  mac: [
    'Open the system’s audio and MIDI utility and show its MIDI window.',
    'Open the driver between programs there, switch it on, and add two buses.',
  ],
  linux: [
    'Load the kernel’s virtual MIDI ports: modprobe snd-virmidi midi_devs=2.',
    'Connect them with the system’s patch bay where the program does not list them.',
  ],
};

/** What a host sheet needs to know of a link to a program. */
export interface ProgramCables {
  readonly system: System;
  /** Name of the program in the profile. */
  readonly program: string;
  /** Ports that are chosen, by name; null where none is. */
  readonly toProgram: string | null;
  readonly fromProgram: string | null;
  /** What it expects before it, where it expects a surface. */
  readonly expects?: string | undefined;
  /** It speaks the Mackie-style protocol, and this is one of its units, from 0. */
  readonly desk?: number | undefined;
  /** Surfaces by name that are real, and that the program may see by itself. */
  readonly devices: readonly string[];
}

/** The line of a sheet that is done by choosing, or is still to do. */
export interface CableStep {
  readonly says: string;
  /** It is done as far as Rondo can see; undefined where it cannot. */
  readonly done?: boolean;
}

/** What to set up between Rondo and a program: the cables in the system, then the program itself. */
export function programSheet(cables: ProgramCables): {
  readonly system: readonly CableStep[];
  readonly program: readonly CableStep[];
} {
  const { system, toProgram, fromProgram, program, expects, desk, devices } = cables;
  const same = toProgram !== null && toProgram === fromProgram;
  const named = (port: string | null, which: string) => (port === null ? which : `“${port}”`);
  const unit = desk === undefined ? '' : desk === 0 ? ', main unit' : ', extender';
  return {
    system: [
      ...CABLES[system].map((says) => ({ says })),
      {
        says: same
          ? 'Both directions are on one cable: on a single cable both ends hear themselves. Choose another for one of them.'
          : 'Choose both cables among the ports: one to the program, the other from it.',
        done: toProgram !== null && fromProgram !== null && !same,
      },
    ],
    program: [
      ...(expects
        ? [{ says: `In ${program}, add a control surface: ${expects}${unit}.` }]
        : [{ says: `In ${program}, open the settings for control surfaces or MIDI.` }]),
      { says: `Its input is ${named(toProgram, 'the first cable')}: enable it for control.` },
      {
        says: `Its output is ${named(fromProgram, 'the second cable')}: enable feedback, or nothing lights and no motor moves.`,
      },
      {
        says: 'Where it has two lists, of MIDI devices and of control surfaces, enter the cables in both.',
      },
      {
        says: 'Do not let it follow the clock of these ports, and take them out of “all inputs”, so that no instrument plays what is command.',
      },
      ...devices.map((name) => ({
        says: `Switch ${name} itself off there, input and output, so that no move acts twice.`,
      })),
      { says: 'On both cables: commands on, notes off, unless notes are to be played.' },
      { says: 'Let it take values as they are, without pickup or scaling of its own.' },
    ],
  };
}
