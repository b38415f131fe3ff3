import {
  SELECTED,
  addressOf,
  slotsOf,
  type HostFunction,
  type HostModel,
  type LawName,
  type Slot,
} from '@rondo/core/host';
import type { Action, Binding, FunctionAction, Profile, Roles } from '@rondo/core/profile';
import {
  Receiver,
  Sender,
  type Control,
  type InputPart,
  type OutputPart,
  type Pattern,
  inputsOf,
  outputsOf,
  pagesOf,
  sendsOf,
  takesOf,
  turns,
  type Surface,
} from '@rondo/core/surface';
import { fromHex } from '@rondo/core/wire';

/** What a profile needs to know of the world to be compiled. */
export interface Library {
  surface(modelId: string): Surface | undefined;
  host(modelId: string): HostModel | undefined;
}

/** One device or program, each with an input and an output of its own. */
export interface Link {
  readonly key: string;
  readonly kind: 'surface' | 'host';
  /** Id within the profile. */
  readonly id: string;
  readonly label: string;
  /** Surface or host model that it is. */
  readonly model: string;
  /** The description of a surface; null for a host. */
  readonly surface: Surface | null;
  readonly bytesPerSecond: number;
  /** Reads its messages; targets are parts of a surface, slots of a host. */
  readonly receiver: Receiver;
  /** Writes its messages, by output of a surface, by slot of a host. */
  readonly sender: Sender;
  /** The same for each onboard page of a surface; {@link sender} is the first. */
  readonly senders: readonly Sender[];
  /** Notes that are played and never command: 1 at channel × 128 + note, channels from 0; null where there are none. */
  readonly played: Uint8Array | null;
  /** Message that makes a host report everything. */
  readonly ask: Uint8Array | null;
}

export const enum Feel {
  Absolute,
  Relative,
  Press,
  Touch,
}

/** An input part of a control. */
export interface PartPlan {
  readonly key: string;
  readonly link: number;
  readonly control: Control;
  readonly part: InputPart;
  readonly pattern: Pattern;
  readonly feel: Feel;
  /** Its message says 'pressed' and never 'released'. */
  readonly oneShot: boolean;
  /** The motor beside it, as an output index; −1 without one. */
  readonly motor: number;
  /** The part whose value this touch guards, or which guards this value; −1 without one. */
  readonly partner: number;
  /** The text that shows its value when it moves, as an output index, and which of its two sources that is. */
  readonly text: number;
  readonly textSource: number;
  readonly actions: readonly ActionPlan[];
}

/** Where an action or an output finds its slot: at `base`, or in the bank window from `base` on. */
export interface Aim {
  /** First slot: that of strip 1 where `offset` is not negative. */
  readonly base: number;
  /** Place in the bank window; −1 where the slot is fixed. */
  readonly offset: number;
  /** Strips of that host. */
  readonly strips: number;
}

export interface ActionPlan {
  readonly binding: string;
  readonly action: Action;
  /** Null for an action that has no function, or whose function is not there. */
  readonly aim: Aim | null;
  readonly link: number;
  /** True where the function's host or id is not there at all. */
  readonly broken: boolean;
}

export interface SlotPlan {
  readonly key: string;
  readonly address: string;
  readonly link: number;
  /** Index within its link's patterns. */
  readonly local: number;
  readonly fn: HostFunction;
  readonly law: LawName;
  readonly strip: number;
  readonly exists: boolean;
  readonly settable: boolean;
  readonly reports: boolean;
  /** Slot that tells whether this one is available now: on where it is; −1 where it always is. */
  readonly needs: number;
}

export const enum Shows {
  Motor,
  Light,
  Ring,
  Text,
  Meter,
}

/** An output part of a control and what it shows. */
export interface OutPlan {
  readonly key: string;
  readonly link: number;
  readonly local: number;
  readonly control: Control;
  readonly part: OutputPart;
  readonly shows: Shows;
  /** What a light is told for on: a colour's number where the device has a table of its own. */
  readonly on: number;
  /** The part that the hand moves beside a motor; −1 elsewhere. */
  readonly mover: number;
  /** What is shown; a lower text line has two sources and shows the one moved last. */
  readonly sources: readonly Aim[];
}

/** A profile made ready to run. */
export interface Plan {
  readonly profileId: string;
  readonly links: readonly Link[];
  readonly parts: readonly PartPlan[];
  readonly outs: readonly OutPlan[];
  readonly slots: readonly SlotPlan[];
  /** Strips that the bank window runs over. */
  readonly strips: number;
  /** Width of the bank window. */
  readonly window: number;
  /** Bindings that refer to what is not there; they are kept and do nothing. */
  readonly broken: readonly { binding: string; why: string }[];
}

export const partKey = (surface: string, control: string, part: string): string =>
  `${surface}/${control}/${part}`;

const SHOWS: Readonly<Record<OutputPart, Shows>> = {
  motor: Shows.Motor,
  light: Shows.Light,
  ring: Shows.Ring,
  upper: Shows.Text,
  lower: Shows.Text,
  meter: Shows.Meter,
};

/** A part of a control on a link. */
interface Place<Part> {
  readonly link: number;
  readonly surfaceId: string;
  readonly surface: Surface;
  readonly control: Control;
  readonly part: Part;
}

/** Whether a message can only say 'pressed': a program change by number, a SysEx without a place for a value. */
const isOneShot = (pattern: Pattern): boolean =>
  (pattern.type === 'program' && pattern.number !== undefined) ||
  (pattern.type === 'sysex' && !/\b(value|high)\b/i.test(pattern.template));

/** The lightest colour of a device's table; 127 where it has none. */
function lightOn({ device }: Surface): number {
  const light = (colour: string) =>
    [1, 3, 5].reduce((sum, at) => sum + parseInt(colour.slice(at, at + 2), 16), 0);
  const usable = device.palette.filter(({ value }) => value > 0 && value <= 127);
  return usable.length === 0
    ? 127
    : usable.reduce((best, entry) => (light(entry.colour) > light(best.colour) ? entry : best))
        .value;
}

function playedNotes(roles: Roles | undefined): Uint8Array | null {
  if (!roles || roles.notes.length === 0) return null;
  const played = new Uint8Array(16 * 128);
  for (const { channel, from, to } of roles.notes)
    for (let at = 0; at < 16; at++)
      if (channel === null || channel === at + 1)
        played.fill(1, at * 128 + from, at * 128 + to + 1);
  return played;
}

/** The slot that a slot's availability hangs on: the same strip's, else the host's own. */
function needsOf(slots: readonly Slot[], { fn, strip }: Slot, first: number): number {
  if (fn.needs === undefined) return -1;
  const own = slots.findIndex((other) => other.fn.id === fn.needs && other.strip === strip);
  const at = own >= 0 ? own : slots.findIndex((other) => other.fn.id === fn.needs);
  return at < 0 ? -1 : first + at;
}

/** What in a plan is still being put together: indices first, contents after. */
class Compiler {
  readonly links: Link[] = [];
  readonly slots: SlotPlan[] = [];
  readonly broken: { binding: string; why: string }[] = [];
  private readonly hostLinks = new Map<string, number>();
  private readonly slotBase = new Map<string, number>();
  private readonly hostStrips = new Map<string, number>();
  private readonly bindings = new Map<string, Binding[]>();

  constructor(
    private readonly profile: Profile,
    private readonly library: Library,
  ) {}

  compile(): Plan {
    const surfaces = this.profile.surfaceOrder.flatMap((id) => {
      const { model, label, roles } = this.profile.surfaces[id];
      const surface = this.library.surface(model);
      return surface ? [{ id, surface, label, roles }] : [];
    });
    const partIndex = new Map<string, number>();
    const outIndex = new Map<string, number>();
    const inputs: Place<InputPart>[] = [];
    const outputs: Place<OutputPart>[] = [];
    surfaces.forEach(({ id, surface, label, roles }) => {
      const link = this.links.length;
      const first = inputs.length;
      for (const control of surface.controls) {
        for (const part of inputsOf(surface, control)) {
          partIndex.set(partKey(id, control.id, part), inputs.length);
          inputs.push({ link, surfaceId: id, surface, control, part });
        }
        for (const part of outputsOf(surface, control)) {
          outIndex.set(partKey(id, control.id, part), outputs.length);
          outputs.push({ link, surfaceId: id, surface, control, part });
        }
      }
      const before = new Array<undefined>(first).fill(undefined);
      const pages = pagesOf(surface).map((page) => ({
        patterns: [
          ...before,
          ...inputs.slice(first).map((at) => sendsOf(surface, at.control, page)[at.part]),
        ],
        takes: outputs
          .filter((at) => at.link === link)
          .map((at) => takesOf(surface, at.control, page)[at.part]),
      }));
      const receiver = new Receiver(pages[0].patterns, pages.slice(1));
      [surface.firstPage, ...surface.pages].forEach((page, at) => {
        const bytes = page?.enter === undefined ? null : fromHex(page.enter);
        if (bytes && pages.length > 1) receiver.setEnter(at, bytes);
      });
      const senders = pages.map(({ takes }) => new Sender(takes));
      this.links.push({
        key: `surface:${id}`,
        kind: 'surface',
        id,
        label,
        model: surface.id,
        surface,
        bytesPerSecond: surface.device.bytesPerSecond,
        receiver,
        sender: senders[0],
        senders,
        played: playedNotes(roles),
        ask: null,
      });
    });
    this.addHosts();
    for (const key of this.profile.bindingOrder) {
      const binding = this.profile.bindings[key];
      const { surface, control, part } = binding.control;
      const at = partKey(surface, control, part);
      if (!partIndex.has(at))
        this.broken.push({ binding: key, why: `There is no ${part} of ${control} on ${surface}.` });
      else this.bindings.set(at, [...(this.bindings.get(at) ?? []), binding]);
    }

    const firstOutOfLink = this.links.map((_, link) => outputs.findIndex((o) => o.link === link));
    const parts = inputs.map(({ link, surfaceId, surface, control, part }): PartPlan => {
      const patterns = pagesOf(surface).flatMap(
        (page) => sendsOf(surface, control, page)[part] ?? [],
      );
      const pattern = patterns[0];
      const beside = (other: InputPart | OutputPart, index: Map<string, number>) =>
        index.get(partKey(surfaceId, control.id, other)) ?? -1;
      const display = surfaces
        .find(({ id }) => id === surfaceId)
        ?.surface.controls.find((c) => c.kind === 'display' && c.strip === control.strip);
      const shown = part === 'value' && control.strip !== undefined && display !== undefined;
      return {
        key: partKey(surfaceId, control.id, part),
        link,
        control,
        part,
        pattern,
        feel:
          part === 'touch'
            ? Feel.Touch
            : part === 'push'
              ? Feel.Press
              : turns(surface, control, part)
                ? Feel.Relative
                : Feel.Absolute,
        oneShot: part === 'push' && patterns.some(isOneShot),
        motor: beside('motor', outIndex),
        partner: beside(part === 'touch' ? 'value' : 'touch', partIndex),
        text: shown ? (outIndex.get(partKey(surfaceId, display.id, 'lower')) ?? -1) : -1,
        textSource: control.kind === 'fader' ? 1 : 0,
        actions: (this.bindings.get(partKey(surfaceId, control.id, part)) ?? []).flatMap(
          (binding) => binding.actions.map((action) => this.action(binding.id, action)),
        ),
      };
    });
    const outs = outputs.map(({ link, surfaceId, surface, control, part }, index): OutPlan => {
      const sources = this.sources(parts, partIndex, surfaceId, surfaces, control, part);
      const local = index - firstOutOfLink[link];
      if (part === 'ring' && sources.length > 0)
        for (const sender of this.links[link].senders)
          sender.setRingStyle(
            local,
            this.slots[sources[0].base].law === 'pan' ? 'fromCentre' : 'fromEnd',
          );
      return {
        key: partKey(surfaceId, control.id, part),
        link,
        local,
        control,
        part,
        shows: SHOWS[part],
        on: lightOn(surface),
        mover:
          part === 'motor' ? (partIndex.get(partKey(surfaceId, control.id, 'value')) ?? -1) : -1,
        sources,
      };
    });
    const offsets = parts.flatMap((p) => p.actions.map((a) => (a.aim ? a.aim.offset : -1)));
    return {
      profileId: this.profile.id,
      links: this.links,
      parts,
      outs,
      slots: this.slots,
      strips: Math.max(0, ...this.hostStrips.values()),
      window: offsets.reduce((most, offset) => Math.max(most, offset), -1) + 1,
      broken: this.broken,
    };
  }

  private addHosts(): void {
    for (const id of this.profile.hostOrder) {
      const { model: modelId, label } = this.profile.hosts[id];
      const model = this.library.host(modelId);
      if (!model) continue;
      const link = this.links.length;
      const first = this.slots.length;
      this.hostLinks.set(id, link);
      this.hostStrips.set(id, model.strips.length);
      const slots = slotsOf(model);
      slots.forEach((slot, local) => {
        const base = `${id}/${slot.fn.id}`;
        if (!this.slotBase.has(base)) this.slotBase.set(base, first + local);
        this.slots.push({
          key: `${id}/${slot.address}`,
          address: slot.address,
          link,
          local,
          fn: slot.fn,
          law: slot.fn.law,
          strip: slot.strip,
          exists: slot.exists,
          settable: slot.set !== undefined,
          reports: slot.report !== undefined,
          needs: needsOf(slots, slot, first),
        });
      });
      const before = new Array<undefined>(first).fill(undefined);
      const sender = new Sender(slots.map((slot) => slot.set));
      this.links.push({
        key: `host:${id}`,
        kind: 'host',
        id,
        label,
        model: modelId,
        surface: null,
        bytesPerSecond: model.bytesPerSecond,
        receiver: new Receiver([...before, ...slots.map((slot) => slot.report)]),
        sender,
        senders: [sender],
        played: null,
        ask: model.ask ? Uint8Array.from(model.ask) : null,
      });
    }
  }

  private aim(action: FunctionAction, functionId = action.function): Aim | null {
    const base = this.slotBase.get(`${action.host}/${functionId}`);
    if (base === undefined) return null;
    const perStrip = this.slots[base].strip >= 0;
    const strips = this.hostStrips.get(action.host) ?? 0;
    const { scope } = action;
    if (scope.kind === 'host') return perStrip ? null : { base, offset: -1, strips };
    if (!perStrip) return null;
    if (scope.kind === 'selected')
      return this.slots.at(base + strips)?.strip === SELECTED
        ? { base: base + strips, offset: -1, strips }
        : null;
    if (scope.kind === 'window') return { base, offset: scope.offset, strips };
    return scope.strip < strips ? { base: base + scope.strip, offset: -1, strips } : null;
  }

  private action(binding: string, action: Action): ActionPlan {
    if (action.do === 'bank') return { binding, action, aim: null, link: -1, broken: false };
    const aim = this.aim(action);
    const link = this.hostLinks.get(action.host) ?? -1;
    if (!aim) {
      const { scope } = action;
      const strip =
        scope.kind === 'fixed' ? scope.strip : scope.kind === 'selected' ? SELECTED : -1;
      this.broken.push({
        binding,
        why: `${action.host} has no ${addressOf(action.function, strip)}.`,
      });
    }
    return { binding, action, aim, link, broken: aim === null };
  }

  /** What an output shows, from what its own control, or the controls of its strip, are bound to. */
  private sources(
    parts: readonly PartPlan[],
    partIndex: ReadonlyMap<string, number>,
    surfaceId: string,
    surfaces: readonly { id: string; surface: Surface }[],
    control: Control,
    part: OutputPart,
  ): Aim[] {
    const boundTo = (controlId: string, input: InputPart): FunctionAction | undefined => {
      const index = partIndex.get(partKey(surfaceId, controlId, input));
      return index === undefined
        ? undefined
        : parts[index].actions
            .filter((plan) => plan.aim)
            .map((plan) => plan.action)
            .find((action): action is FunctionAction => action.do === 'function');
    };
    const aims = (action: FunctionAction | undefined, functionId?: string): Aim[] => {
      const aim = action && this.aim(action, functionId);
      return aim ? [aim] : [];
    };
    if (part === 'motor' || part === 'ring') return aims(boundTo(control.id, 'value'));
    if (part === 'light') return aims(boundTo(control.id, 'push'));
    const strip = surfaces
      .find(({ id }) => id === surfaceId)
      ?.surface.controls.filter((c) => c.strip !== undefined && c.strip === control.strip);
    const fader = strip?.find((c) => c.kind === 'fader');
    const encoder = strip?.find((c) => c.kind === 'encoder');
    const byFader = fader && boundTo(fader.id, 'value');
    const byEncoder = encoder && boundTo(encoder.id, 'value');
    if (part === 'lower') {
      const turned = aims(byEncoder);
      const moved = aims(byFader);
      return turned.length > 0 ? [...turned, ...moved] : [...moved, ...moved];
    }
    return aims(byFader ?? byEncoder, part === 'upper' ? 'name' : 'meter');
  }
}

/**
 * Makes a profile ready to run. Bindings to what is not there are kept in the profile, listed in `broken` and do
 * nothing.
 */
export function compile(profile: Profile, library: Library): Plan {
  return new Compiler(profile, library).compile();
}
