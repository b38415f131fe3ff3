import type { Roles } from '@rondo/core/profile';
import {
  MessageMap,
  Sender,
  inputsOf,
  outputsOf,
  pagesOf,
  sendsOf,
  speaksOsc,
  takesOf,
  turns,
  type Control,
  type InputPart,
  type OutputPart,
  type Pattern,
  type Surface,
} from '@rondo/core/surface';
import { fromHex } from '@rondo/core/wire';
import type { PlanDraft } from './draft.js';
import { InputMode, partKey } from './part-plan.js';

/** An input part of a surface, with what it sends on every onboard page. What stands beside it counts within the surface. */
export interface Sending {
  readonly control: Control;
  readonly part: InputPart;
  readonly moves: InputMode;
  readonly patterns: readonly (Pattern | undefined)[];
  /** The motor beside it; −1 without one. */
  readonly motor: number;
  /** The part whose value this touch guards, or which guards this value; −1 without one. */
  readonly partner: number;
  /** The lower line of its strip's display; −1 without one. */
  readonly text: number;
  /** Its message can only say 'pressed'. */
  readonly oneShot: boolean;
}

/** An output part of a surface, with what it takes on every onboard page. */
export interface Taking {
  readonly control: Control;
  readonly part: OutputPart;
  readonly patterns: readonly (Pattern | undefined)[];
}

/** A surface of the profile whose description is there. */
export interface Present {
  readonly id: string;
  readonly surface: Surface;
  readonly label: string;
  readonly roles: Roles | undefined;
  readonly link: number;
  /** First of its input and of its output parts among those of all surfaces. */
  readonly firstIn: number;
  readonly firstOut: number;
  readonly wiring: Wiring;
}

/** What a surface says and hears, worked out once for each description. */
export interface Wiring {
  readonly ins: readonly Sending[];
  readonly outs: readonly Taking[];
  readonly map: MessageMap;
  readonly senders: readonly Sender[];
  /** Places of its parts by control and part. */
  readonly inAt: ReadonlyMap<string, number>;
  readonly outAt: ReadonlyMap<string, number>;
  /** Keys of its parts under each id that it has had in a profile. */
  readonly keys: Map<string, { readonly ins: readonly string[]; readonly outs: readonly string[] }>;
}
const wirings = new WeakMap<Surface, Wiring>();

function modeOf(surface: Surface, control: Control, part: InputPart): InputMode {
  if (part === 'touch') return InputMode.Touch;
  if (part === 'push') return InputMode.Press;
  return turns(surface, control, part) ? InputMode.Relative : InputMode.Absolute;
}

function wiringOf(surface: Surface): Wiring {
  const known = wirings.get(surface);
  if (known) return known;
  const pages = pagesOf(surface);
  const outs = surface.controls.flatMap((control) =>
    outputsOf(surface, control).map((part): Taking => ({
      control,
      part,
      patterns: pages.map((page) => takesOf(surface, control, page)[part]),
    })),
  );
  const place = (control: string, part: string) => `${control}/${part}`;
  const outAt = new Map(outs.map(({ control, part }, at) => [place(control.id, part), at]));
  const displays = new Map<number | undefined, number>();
  outs.forEach(({ control, part }, at) => {
    if (control.kind === 'display' && part === 'lower') displays.set(control.strip, at);
  });
  const inputs = surface.controls.flatMap((control) =>
    inputsOf(surface, control).map((part) => ({ control, part })),
  );
  const inAt = new Map(inputs.map(({ control, part }, at) => [place(control.id, part), at]));
  const ins = inputs.map(({ control, part }): Sending => {
    const patterns = pages.map((page) => sendsOf(surface, control, page)[part]);
    const inStrip = part === 'value' && control.strip !== undefined;
    return {
      control,
      part,
      moves: modeOf(surface, control, part),
      patterns,
      motor: outAt.get(place(control.id, 'motor')) ?? -1,
      partner: inAt.get(place(control.id, part === 'touch' ? 'value' : 'touch')) ?? -1,
      text: inStrip ? (displays.get(control.strip) ?? -1) : -1,
      oneShot: part === 'push' && patterns.some(isOneShot),
    };
  });
  const enterOf = (at: number): Uint8Array | undefined => {
    const { enter } = (at === 0 ? surface.firstPage : surface.pages[at - 1]) ?? {};
    return enter === undefined ? undefined : (fromHex(enter) ?? undefined);
  };
  const more = pages.slice(1).map((_, at) => ({
    patterns: ins.map(({ patterns }) => patterns[at + 1]),
    enter: enterOf(at + 1),
  }));
  const wiring: Wiring = {
    ins,
    outs,
    map: new MessageMap(
      ins.map(({ patterns }) => patterns[0]),
      more,
      enterOf(0),
    ),
    senders: pages.map((_, at) => new Sender(outs.map(({ patterns }) => patterns[at]))),
    inAt,
    outAt,
    keys: new Map(),
  };
  wirings.set(surface, wiring);
  return wiring;
}

/** Whether a message can only say 'pressed': a program change by number, a SysEx without a place for a value. */
const isOneShot = (pattern: Pattern | undefined): boolean =>
  (pattern?.type === 'program' && pattern.number !== undefined) ||
  (pattern?.type === 'sysex' && !/\b(value|high)\b/i.test(pattern.template));

/** The keys of a surface's parts under its id in a profile; made once. */
export function keysOf(wiring: Wiring, id: string) {
  let keys = wiring.keys.get(id);
  if (!keys) {
    keys = {
      ins: wiring.ins.map(({ control, part }) => partKey(id, control.id, part)),
      outs: wiring.outs.map(({ control, part }) => partKey(id, control.id, part)),
    };
    wiring.keys.set(id, keys);
  }
  return keys;
}

/** Notes that are played and never command, as 1 at channel × 128 + note; null where there are none. */
function musicalNotes(roles: Roles | undefined): Uint8Array | null {
  if (!roles || roles.notes.length === 0) return null;
  const notes = new Uint8Array(16 * 128);
  for (const { channel, from, to } of roles.notes)
    for (let at = 0; at < 16; at++)
      if (channel === null || channel === at + 1) notes.fill(1, at * 128 + from, at * 128 + to + 1);
  return notes;
}

/** The surfaces of a profile, and where their parts stand among those of all. */
export class SurfaceParts {
  private readonly byId = new Map<string, Present>();

  constructor(readonly surfaces: readonly Present[]) {
    for (const one of surfaces) this.byId.set(one.id, one);
  }

  /** A surface by its id in the profile; undefined where it is not there. */
  of(id: string): Present | undefined {
    return this.byId.get(id);
  }

  /** The place of an input part; undefined where it is not there. */
  partAt(surface: string, control: string, part: InputPart): number | undefined {
    const present = this.byId.get(surface);
    const at = present?.wiring.inAt.get(`${control}/${part}`);
    return present && at !== undefined ? present.firstIn + at : undefined;
  }

  /** The place of an output part; undefined where it is not there. */
  outAt(surface: string, control: string, part: OutputPart): number | undefined {
    const present = this.byId.get(surface);
    const at = present?.wiring.outAt.get(`${control}/${part}`);
    return present && at !== undefined ? present.firstOut + at : undefined;
  }

  /** What an input part sends, by its place. */
  input(surface: string, part: number): Sending {
    const present = this.byId.get(surface) as Present;
    return present.wiring.ins[part - present.firstIn];
  }
}

/** Adds a link for each surface of the profile. */
export function addSurfaces(draft: PlanDraft): SurfaceParts {
  const surfaces: Present[] = [];
  let firstIn = 0;
  let firstOut = 0;
  for (const id of draft.profile.surfaceOrder) {
    const { model, label, roles } = draft.profile.surfaces[id];
    const surface = draft.library.surface(model);
    if (!surface) continue;
    const link = draft.links.length;
    const wiring = wiringOf(surface);
    draft.linkIndex.set(`surface:${id}`, link);
    draft.links.push({
      key: `surface:${id}`,
      kind: 'surface',
      id,
      label,
      model: surface.id,
      surface,
      host: null,
      bytesPerSecond: surface.device.bytesPerSecond,
      map: wiring.map,
      senders: wiring.senders,
      musicalNotes: musicalNotes(roles),
      ask: null,
      unit: 0,
      isOsc: speaksOsc(surface),
      desk: surface.device.desk ?? null,
      firstTarget: firstIn,
      first: firstOut,
      count: wiring.outs.length,
      clock: roles?.clock ?? false,
      standsBefore: -1,
    });
    surfaces.push({ id, surface, label, roles, link, firstIn, firstOut, wiring });
    firstIn += wiring.ins.length;
    firstOut += wiring.outs.length;
  }
  return new SurfaceParts(surfaces);
}
