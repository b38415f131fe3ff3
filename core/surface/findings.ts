import { addressFault, fromHex, readTemplate } from '@rondo/core/wire';
import { MessageMap } from './message-map.js';
import {
  mainPart,
  INPUT_PARTS,
  OUTPUT_PARTS,
  PART_NAMES,
  pagesOf,
  sendsOf,
  takesOf,
  type Control,
  type Surface,
} from './surface.js';
import type { Pattern } from './pattern.js';

/** Something about a surface that its owner should know: what and where, in a sentence. */
export interface SurfaceFinding {
  readonly kind:
    | 'outside'
    | 'overlap'
    | 'sameName'
    | 'sameMessage'
    | 'template'
    | 'palette'
    | 'page'
    | 'noMessage';
  /** Ids of the controls that it is about. */
  readonly controls: readonly string[];
  readonly says: string;
}

/** Colours that a 7-bit light can be told. */
const MOST_COLOURS = 128;

const overlap = (a: Control, b: Control): boolean =>
  a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;

/** Faults of a pattern itself, in a sentence; null where there is none. */
export function patternFault(pattern: Pattern): string | null {
  if (pattern.type === 'sysex') {
    const template = readTemplate(pattern.template);
    return 'fault' in template ? template.fault : null;
  }
  if (pattern.type === 'osc') {
    const fault = addressFault(pattern.address);
    if (fault) return fault;
  }
  if (pattern.type === 'controllerPair' && pattern.number === pattern.lsb)
    return 'Its two halves are the same controller.';
  if (pattern.type === 'upDown' && pattern.up === pattern.down)
    return 'Up and down are the same message.';
  return null;
}

/** All that is amiss with a surface, in the order of its controls. Nothing of it stops the rest from working. */
export function findingsOf(surface: Surface): SurfaceFinding[] {
  const { controls } = surface;
  const found: SurfaceFinding[] = [];
  const say = (kind: SurfaceFinding['kind'], says: string, ...about: Control[]) =>
    found.push({ kind, says, controls: about.map((control) => control.id) });

  for (const [i, a] of controls.entries()) {
    const outside =
      a.x < 0 || a.y < 0 || a.x + a.width > surface.width || a.y + a.height > surface.height;
    if (outside) say('outside', `${a.label} stands outside the panel.`, a);
    for (const b of controls.slice(i + 1)) {
      // Black keys lie over white ones.
      if (overlap(a, b) && a.dark === b.dark)
        say('overlap', `${a.label} and ${b.label} lie over each other.`, a, b);
      if (a.label !== '' && a.label === b.label)
        say('sameName', `Two controls are called ${a.label}.`, a, b);
    }
  }
  for (const page of pagesOf(surface)) found.push(...sameMessages(surface, page));
  for (const control of controls)
    for (const page of pagesOf(surface)) {
      const patterns = { ...sendsOf(surface, control, page), ...takesOf(surface, control, page) };
      for (const [part, pattern] of Object.entries(patterns)) {
        const fault = patternFault(pattern);
        const name = PART_NAMES[part as keyof typeof PART_NAMES];
        if (fault) say('template', `${control.label}, ${name}: ${fault}`, control);
      }
    }
  const untaught = controls.filter(
    (control) =>
      mainPart(control.kind) !== null &&
      !control.silent &&
      surface.device.sends &&
      pagesOf(surface).every((page) => Object.keys(sendsOf(surface, control, page)).length === 0),
  );
  if (untaught.length > 0)
    say(
      'noMessage',
      untaught.length === 1
        ? `${untaught[0].label} has no message yet. Teach it, or mark it as sending nothing.`
        : `${untaught.length} controls have no message yet. Teach them, or mark them as sending nothing.`,
      ...untaught,
    );
  for (const { label, enter } of surface.pages)
    if (enter !== undefined && enter.trim() !== '' && !fromHex(enter))
      say('page', `The message that tells of page ${label} is not in hex pairs.`);
  found.push(...paletteFindings(surface));
  return found;
}

/** Parts of different controls that have one message on one page, both ways. */
function sameMessages(surface: Surface, page: number): SurfaceFinding[] {
  const parts = surface.controls.flatMap((control) => {
    const sends = sendsOf(surface, control, page);
    return INPUT_PARTS.flatMap((part) => {
      const pattern = sends[part];
      return pattern ? [{ control, part, pattern }] : [];
    });
  });
  const where = page > 0 ? ` on page ${surface.pages[page - 1].label}` : '';
  return new MessageMap(parts.map(({ pattern }) => pattern)).collisions.map(({ first, second }) => {
    const [one, two] = [parts[first].control, parts[second].control];
    return {
      kind: 'sameMessage' as const,
      controls: [one.id, two.id],
      says:
        one === two
          ? `Two parts of ${one.label} send the same message${where}.`
          : `${one.label} and ${two.label} send the same message${where}: only ${one.label} will be heard.`,
    };
  });
}

function paletteFindings({ device, controls }: Surface): SurfaceFinding[] {
  const { palette } = device;
  const beyond = palette.filter(({ value }) => value >= MOST_COLOURS).length;
  const twice = palette.length - new Set(palette.map(({ value }) => value)).size;
  const lights = controls.some((control) =>
    OUTPUT_PARTS.some((part) => part === 'light' && control.takes[part]),
  );
  const says = [
    ...(beyond > 0
      ? [
          `${beyond} colours of the palette have a number above 127, which a 7-bit light cannot be told.`,
        ]
      : []),
    ...(twice > 0
      ? [`${twice} numbers of the palette stand in it twice; the first one counts.`]
      : []),
    ...(palette.length > 0 && !device.takes
      ? ['The device takes nothing, so its palette is never used.']
      : []),
    ...(palette.length > 0 && device.takes && !lights
      ? ['There is a palette, but no control has a light.']
      : []),
  ];
  return says.map((line) => ({ kind: 'palette', controls: [], says: line }));
}
