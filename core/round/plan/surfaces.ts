import type { Roles } from '@rondo/core/profile';
import {
  MessageMap,
  Sender,
  inputsOf,
  outputsOf,
  pagesOf,
  sendsOf,
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
import { InputMode, partKey } from './plan.js';

/** An input part of a surface, with what it sends on every onboard page. */
interface Sending {
  readonly control: Control;
  readonly part: InputPart;
  readonly moves: InputMode;
  readonly patterns: readonly (Pattern | undefined)[];
}

/** An output part of a surface, with what it takes on every onboard page. */
interface Taking {
  readonly control: Control;
  readonly part: OutputPart;
  readonly patterns: readonly (Pattern | undefined)[];
}

/** Where in the profile a part stands. */
interface Place {
  readonly link: number;
  readonly surfaceId: string;
  readonly surface: Surface;
}
export type Input = Place & Sending;
export type Output = Place & Taking;

/** A surface of the profile whose description is there. */
export interface Present {
  readonly id: string;
  readonly surface: Surface;
  readonly label: string;
  readonly roles: Roles | undefined;
}

/** What a surface says and hears, worked out once for each description. */
interface Wiring {
  readonly ins: readonly Sending[];
  readonly outs: readonly Taking[];
  readonly map: MessageMap;
  readonly senders: readonly Sender[];
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
  const ins = surface.controls.flatMap((control) =>
    inputsOf(surface, control).map((part): Sending => ({
      control,
      part,
      moves: modeOf(surface, control, part),
      patterns: pages.map((page) => sendsOf(surface, control, page)[part]),
    })),
  );
  const outs = surface.controls.flatMap((control) =>
    outputsOf(surface, control).map((part): Taking => ({
      control,
      part,
      patterns: pages.map((page) => takesOf(surface, control, page)[part]),
    })),
  );
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
  };
  wirings.set(surface, wiring);
  return wiring;
}

/** Notes that are played and never command, as 1 at channel × 128 + note; null where there are none. */
function playedNotes(roles: Roles | undefined): Uint8Array | null {
  if (!roles || roles.notes.length === 0) return null;
  const played = new Uint8Array(16 * 128);
  for (const { channel, from, to } of roles.notes)
    for (let at = 0; at < 16; at++)
      if (channel === null || channel === at + 1)
        played.fill(1, at * 128 + from, at * 128 + to + 1);
  return played;
}

/** Parts of all surfaces, and where each is found by its key. */
export interface SurfaceParts {
  readonly surfaces: readonly Present[];
  readonly inputs: readonly Input[];
  readonly outputs: readonly Output[];
  readonly partIndex: ReadonlyMap<string, number>;
  readonly outIndex: ReadonlyMap<string, number>;
}

/** Adds a link for each surface of the profile, and gathers its parts. */
export function addSurfaces(draft: PlanDraft): SurfaceParts {
  const surfaces = draft.profile.surfaceOrder.flatMap((id): Present[] => {
    const { model, label, roles } = draft.profile.surfaces[id];
    const surface = draft.library.surface(model);
    return surface ? [{ id, surface, label, roles }] : [];
  });
  const inputs: Input[] = [];
  const outputs: Output[] = [];
  const partIndex = new Map<string, number>();
  const outIndex = new Map<string, number>();
  for (const { id, surface, label, roles } of surfaces) {
    const link = draft.links.length;
    const { ins, outs, map, senders } = wiringOf(surface);
    const place = { link, surfaceId: id, surface };
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
      map,
      senders,
      played: playedNotes(roles),
      ask: null,
      unit: 0,
      desk: surface.device.desk ?? null,
      firstTarget: inputs.length,
      first: outputs.length,
      count: outs.length,
      clock: roles?.clock ?? false,
      standsBefore: -1,
      onward: null,
    });
    for (const { control, part, moves, patterns } of ins) {
      partIndex.set(partKey(id, control.id, part), inputs.length);
      inputs.push({ ...place, control, part, moves, patterns });
    }
    for (const { control, part, patterns } of outs) {
      outIndex.set(partKey(id, control.id, part), outputs.length);
      outputs.push({ ...place, control, part, patterns });
    }
  }
  return { surfaces, inputs, outputs, partIndex, outIndex };
}
