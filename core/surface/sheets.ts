import { patternText } from './pattern.js';
import { KIND_NAMES } from './kinds.js';
import {
  PART_NAMES,
  mainPart,
  pagesOf,
  sendsOf,
  type Control,
  type InputPart,
  type Surface,
} from './surface.js';

/** A line of a sheet that can be ticked. */
export interface SheetItem {
  readonly id: string;
  readonly group: string;
  /** What to set, in words. */
  readonly says: string;
  /** What was taught instead, where that differs from what the sheet asks for. */
  readonly taught?: string;
  /** The control that it is about, where it is about one. */
  readonly control?: string;
}

function behaviour(control: Control, latching: boolean | undefined): string {
  return mainPart(control.kind) === 'push' ? (latching ? ', latching' : ', momentary') : '';
}

/** What its owner sets in the device itself, line by line. */
export function deviceSheet(surface: Surface): SheetItem[] {
  const { device } = surface;
  const general: SheetItem[] = [
    ...(device.sends ? [['mode', 'Switch its message mode on, so that it sends at all.']] : []),
    ...(surface.pages.length > 0
      ? [['preset', `Set all ${surface.pages.length + 1} onboard pages; each is listed below.`]]
      : [['preset', 'Choose the preset that you want Rondo to work with, and leave it on.']]),
    ...(device.wire === 'din'
      ? [['cable', 'Connect both DIN cables: one for each direction.']]
      : []),
    ...device.notes.map((note, index) => [`note-${index}`, note]),
  ].map(([id, says]) => ({ id: `general:${id}`, group: 'The device', says }));
  const controls = pagesOf(surface).flatMap((page) => {
    const first = surface.firstPage?.label ?? 'First page';
    const group =
      surface.pages.length === 0
        ? 'Its controls'
        : `Page ${page === 0 ? first : surface.pages[page - 1].label}`;
    return surface.controls.flatMap((control) => controlItems(surface, control, page, group));
  });
  return [
    ...general,
    ...controls,
    {
      id: 'general:store',
      group: 'At the end',
      says: 'Tell the device to store all this, or it is gone when it is switched off.',
    },
  ];
}

function controlItems(
  surface: Surface,
  control: Control,
  page: number,
  group: string,
): SheetItem[] {
  const at = `${page}:${control.id}`;
  if (mainPart(control.kind) === null) return [];
  if (control.silent)
    return page === 0
      ? [
          {
            id: `${at}:silent`,
            group,
            control: control.id,
            says: `${control.label}: sends nothing.`,
          },
        ]
      : [];
  const parts = Object.entries(sendsOf(surface, control, page)) as [InputPart, never][];
  const items = parts.map(([part, pattern]): SheetItem => {
    const asked = page === 0 ? (control.sheet?.sends[part] ?? pattern) : pattern;
    const askedLatching = control.sheet?.latching ?? control.latching;
    const name = parts.length > 1 ? `${control.label}, ${PART_NAMES[part]}` : control.label;
    const line = patternText(asked) + (part === 'push' ? behaviour(control, askedLatching) : '');
    const taught =
      patternText(pattern) + (part === 'push' ? behaviour(control, control.latching) : '');
    return {
      id: `${at}:${part}`,
      group,
      control: control.id,
      says: `${name} (${KIND_NAMES[control.kind]}): ${line}`,
      ...(line === taught ? {} : { taught }),
    };
  });
  return control.inside && page === 0
    ? [
        ...items,
        {
          id: `${at}:inside`,
          group,
          control: control.id,
          says: `${control.label} also works inside the device; it is free when ${control.inside}.`,
        },
      ]
    : items;
}

/** What its owner sets in the real program for this surface, line by line. */
export function hostSheet(surface: Surface): SheetItem[] {
  const { device, name, controls } = surface;
  const motors = controls.some((control) => control.takes.motor);
  const keys = controls.some((control) => control.kind === 'key');
  const lines: [string, string][] = [
    [
      'cables',
      'Make two virtual cables, one for each direction. On a single cable both ends hear themselves.',
    ],
    ['input', 'Listen to the first cable: enable it as an input for control.'],
    ...(device.takes
      ? ([
          [
            'feedback',
            'Answer on the second cable: enable feedback, or nothing lights and no motor moves.',
          ],
        ] as [string, string][])
      : []),
    ['raw', `Switch ${name} itself off there, input and output, so that no move acts twice.`],
    [
      'notes',
      keys
        ? 'On the cable, let notes through only where they are to be played; commands on.'
        : 'On the cable, notes off and commands on, so that a button never plays an instrument.',
    ],
    ...(motors
      ? ([
          [
            'absolute',
            'Take values as they are, without scaling or pickup: the motors keep both in step.',
          ],
        ] as [string, string][])
      : []),
    ['clock', 'Send clock to the cable only if lights are to flash in time.'],
  ];
  return lines.map(([id, says]) => ({ id: `host:${id}`, group: 'In the program', says }));
}
