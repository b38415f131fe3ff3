import {
  SELECTED,
  addressOf,
  slotsOf,
  valueOfChoice,
  type HostFunction,
  type Slot,
} from '@rondo/core/host';
import {
  GESTURES,
  STANDS_IN,
  standInBindings,
  type Action,
  type Binding,
  type Condition,
  type Destination,
  type Profile,
  type Roles,
  type Scope,
  type Target,
} from '@rondo/core/profile';
import {
  PART_NAMES,
  Receiver,
  Sender,
  feelKindOf,
  feelOf,
  inputsOf,
  outputsOf,
  pageIdsOf,
  pagesOf,
  sendsOf,
  takesOf,
  turns,
  usualFeel,
  type Control,
  type FeelKind,
  type FeelSettings,
  type Feeling,
  type InputPart,
  type OutputPart,
  type Pattern,
  type ReturnSettings,
  type Surface,
} from '@rondo/core/surface';
import { fromHex, readMessage, type Template } from '@rondo/core/wire';
import {
  FOCUS,
  GestureAt,
  KIND_BITS,
  InputMode,
  Shows,
  hostLinkKey,
  partKey,
  type ActionPlan,
  type Aim,
  type BindingPlan,
  type Broken,
  type CausePlan,
  type ConditionPlan,
  type FocusPlan,
  type LayerPlan,
  type Library,
  type Link,
  type OutPlan,
  type PartPlan,
  type Plan,
  type Run,
  type ShownHere,
  type SlotPlan,
  type Source,
} from './plan.js';
import { circlesOf, setsAState } from './entering.js';
import { usualReturns } from './look-book.js';
import { shaperOf } from './shaper.js';

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

/** An input part, with what it sends on every onboard page. */
interface Sending {
  readonly control: Control;
  readonly part: InputPart;
  readonly moves: InputMode;
  readonly patterns: readonly Pattern[];
}
type Input = Place<InputPart> & Sending;

/** The parts of a surface, worked out once for each description. */
interface Parts {
  readonly ins: readonly Sending[];
  readonly outs: readonly { readonly control: Control; readonly part: OutputPart }[];
}
const partsOfSurface = new WeakMap<Surface, Parts>();

function partsOf(surface: Surface): Parts {
  const known = partsOfSurface.get(surface);
  if (known) return known;
  const movesOf = (control: Control, part: InputPart): InputMode => {
    if (part === 'touch') return InputMode.Touch;
    if (part === 'push') return InputMode.Press;
    return turns(surface, control, part) ? InputMode.Relative : InputMode.Absolute;
  };
  const parts: Parts = {
    ins: surface.controls.flatMap((control) =>
      inputsOf(surface, control).map((part) => ({
        control,
        part,
        moves: movesOf(control, part),
        patterns: pagesOf(surface).flatMap((page) => sendsOf(surface, control, page)[part] ?? []),
      })),
    ),
    outs: surface.controls.flatMap((control) =>
      outputsOf(surface, control).map((part) => ({ control, part })),
    ),
  };
  partsOfSurface.set(surface, parts);
  return parts;
}

/** Whether a message can only say 'pressed': a program change by number, a SysEx without a place for a value. */
const isOneShot = (pattern: Pattern): boolean =>
  (pattern.type === 'program' && pattern.number !== undefined) ||
  (pattern.type === 'sysex' && !/\b(value|high)\b/i.test(pattern.template));

function playedNotes(roles: Roles | undefined): Uint8Array | null {
  if (!roles || roles.notes.length === 0) return null;
  const played = new Uint8Array(16 * 128);
  for (const { channel, from, to } of roles.notes)
    for (let at = 0; at < 16; at++)
      if (channel === null || channel === at + 1)
        played.fill(1, at * 128 + from, at * 128 + to + 1);
  return played;
}

const NOWHERE: Aim = { base: -1, offset: -1, strips: 0 };
const TOGGLE_FUNCTION = (id: string, label: string): HostFunction => ({
  id,
  label,
  words: [],
  category: 'Actions',
  kind: 'toggle',
  law: 'switch',
  rest: 0,
  per: 'host',
  messages: [{}],
});

/** What a binding hangs on, while its plan is made. */
interface Hanging {
  readonly binding: Binding;
  readonly layer: number;
  readonly part: number;
  readonly kind: FeelKind;
  readonly surfaceFeel: FeelSettings | undefined;
}

/** Where settings of what hangs on no control come from. */
const NO_CONTROL: FeelKind = 'button';

/** What in a plan is still being put together: indices first, contents after. */
class Compiler {
  private readonly links: Link[] = [];
  private readonly slots: SlotPlan[] = [];
  private readonly broken: Broken[] = [];
  private readonly actions: ActionPlan[] = [];
  private readonly linkIndex = new Map<string, number>();
  private readonly slotBase = new Map<string, number>();
  private readonly hostStrips = new Map<string, number>();
  private readonly layerSlots = new Map<string, number>();
  private readonly flagSlots = new Map<string, number>();
  private readonly layerIndex = new Map<string, number>();
  private readonly layerGroups = new Map<string, number[]>();
  private readonly focusIndex = new Map<string, number>();
  private readonly groupIndex = new Map<string, number>();
  private clamped = 0;
  private readonly feels = new Map<FeelSettings | undefined, Map<string, Feeling>>();

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
    const inputs: Input[] = [];
    const outputs: Place<OutputPart>[] = [];
    surfaces.forEach(({ id, surface, label, roles }) => {
      const link = this.links.length;
      this.linkIndex.set(`surface:${id}`, link);
      const first = inputs.length;
      const firstOut = outputs.length;
      const { ins, outs: takers } = partsOf(surface);
      for (const { control, part, moves, patterns } of ins) {
        partIndex.set(partKey(id, control.id, part), inputs.length);
        inputs.push({ link, surfaceId: id, surface, control, part, moves, patterns });
      }
      for (const { control, part } of takers) {
        outIndex.set(partKey(id, control.id, part), outputs.length);
        outputs.push({ link, surfaceId: id, surface, control, part });
      }
      const before = new Array<undefined>(first).fill(undefined);
      const pages = pagesOf(surface).map((page) => ({
        patterns: [
          ...before,
          ...inputs.slice(first).map((at) => sendsOf(surface, at.control, page)[at.part]),
        ],
        takes: outputs.slice(firstOut).map((at) => takesOf(surface, at.control, page)[at.part]),
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
        host: null,
        bytesPerSecond: surface.device.bytesPerSecond,
        receiver,
        sender: senders[0],
        senders,
        played: playedNotes(roles),
        ask: null,
        unit: 0,
        desk: surface.device.desk ?? null,
        first: firstOut,
        count: outputs.length - firstOut,
        clock: roles?.clock ?? false,
        standsBefore: -1,
        onward: null,
      });
    });
    this.addHosts();
    this.addOwn();
    this.joinOnward(surfaces.map(({ id }) => id));
    const focuses = this.focuses();

    const { bindings, causes, candidates, shown } = this.bindings(surfaces, inputs, partIndex);
    const layers = this.layers(surfaces);
    const displays = new Map<string, number>();
    outputs.forEach(({ surfaceId, control, part }, out) => {
      if (control.kind === 'display' && part === 'lower')
        displays.set(`${surfaceId}/${control.strip ?? ''}`, out);
    });
    const parts = inputs.map((input, index): PartPlan => {
      const { link, surfaceId, control, part, moves, patterns } = input;
      const beside = (other: InputPart | OutputPart, of: Map<string, number>) =>
        of.get(partKey(surfaceId, control.id, other)) ?? -1;
      const shown = part === 'value' && control.strip !== undefined;
      return {
        key: partKey(surfaceId, control.id, part),
        link,
        control,
        part,
        pattern: patterns[0],
        moves,
        oneShot: part === 'push' && patterns.some(isOneShot),
        latching: part === 'push' && control.latching === true,
        motor: beside('motor', outIndex),
        partner: beside(part === 'touch' ? 'value' : 'touch', partIndex),
        text: shown ? (displays.get(`${surfaceId}/${control.strip}`) ?? -1) : -1,
        textSource: control.kind === 'fader' ? 1 : 0,
        rest: control.springs === 'low' ? 0 : 0.5,
        candidates: candidates.get(index) ?? NO_CANDIDATES,
      };
    });
    const firstOutOfLink = this.links.map((_, link) => outputs.findIndex((o) => o.link === link));
    const strips = new Map<string, { fader?: string; encoder?: string }>();
    for (const { id, surface } of surfaces)
      for (const control of surface.controls) {
        if (control.strip === undefined) continue;
        if (control.kind !== 'fader' && control.kind !== 'encoder') continue;
        const key = `${id}/${control.strip}`;
        strips.set(key, { [control.kind]: control.id, ...strips.get(key) });
      }
    const bound = new Set([...candidates.keys()].map((part) => inputs[part]));
    const shownAt = this.showings(bindings, outIndex, shown);
    const outs = outputs.map(({ link, surfaceId, control, part }, index): OutPlan => {
      const at = (controlId: string | undefined, input: InputPart): number | undefined => {
        const found =
          controlId === undefined ? undefined : partIndex.get(partKey(surfaceId, controlId, input));
        return found !== undefined && bound.has(inputs[found]) ? found : undefined;
      };
      return {
        key: partKey(surfaceId, control.id, part),
        link,
        local: index - firstOutOfLink[link],
        control,
        part,
        shows: SHOWS[part],
        mover:
          part === 'motor' ? (partIndex.get(partKey(surfaceId, control.id, 'value')) ?? -1) : -1,
        sources: sourcesOf(part, control, strips.get(`${surfaceId}/${control.strip ?? ''}`), at),
        lone: control.takes[part]?.type === 'text' && control.strip === undefined,
        showings: shownAt.get(index) ?? NO_SHOWINGS,
      };
    });
    const windowed = this.actions.flatMap(({ aim }) =>
      aim && aim.strips !== FOCUS && aim.offset >= 0 ? [aim.offset] : [],
    );
    return {
      profileId: this.profile.id,
      profileName: this.profile.name,
      returns: this.profile.returns,
      times: this.profile.hostOrder.flatMap((id) => {
        const link = this.linkIndex.get(`host:${id}`);
        if (link === undefined) return [];
        const slot = (fn: string) => this.slotBase.get(`${id}/${fn}`) ?? -1;
        return [{ link, time: slot('time'), tempo: slot('tempo') }];
      }),
      links: this.links,
      parts,
      outs,
      slots: this.slots,
      actions: this.actions,
      bindings,
      causes,
      layers,
      flags: this.profile.flagOrder.map((id) => ({
        id,
        slot: this.flagSlots.get(id) ?? -1,
        initially: this.profile.flags[id].initially ?? false,
      })),
      focuses,
      groups: this.groups(),
      strips: Math.max(0, ...this.hostStrips.values()),
      window: windowed.reduce((most, offset) => Math.max(most, offset), -1) + 1,
      broken: this.broken,
      clamped: this.clamped,
    };
  }

  private addHosts(): void {
    for (const id of this.profile.hostOrder) {
      const { model: modelId, label } = this.profile.hosts[id];
      const model = this.library.host(modelId);
      if (!model) continue;
      const link = this.links.length;
      const first = this.slots.length;
      const units = model.units?.length ?? 1;
      this.linkIndex.set(`host:${id}`, link);
      this.hostStrips.set(id, model.strips.length);
      const slots = slotsOf(model);
      const at = new Map(slots.map((slot, local) => [slot.address, first + local]));
      slots.forEach((slot, local) => {
        const base = `${id}/${slot.fn.id}`;
        if (!this.slotBase.has(base)) this.slotBase.set(base, first + local);
        const { needs, waits, choices } = slot.fn;
        const armed =
          model.arms === undefined || slot.strip === -1 || slot.fn.id === model.arms
            ? undefined
            : at.get(addressOf(model.arms, slot.strip));
        this.slots.push({
          key: `${id}/${slot.address}`,
          address: slot.address,
          link: link + slot.unit,
          local,
          fn: slot.fn,
          law: slot.fn.law,
          strip: slot.strip,
          exists: slot.exists,
          settable: slot.set !== undefined,
          reports: slot.report !== undefined,
          toggleOnly: slot.fn.flips ?? false,
          taps: slot.fn.taps ?? false,
          touch:
            slot.fn.touch === undefined ? -1 : (at.get(addressOf(slot.fn.touch, slot.strip)) ?? -1),
          armed: armed !== undefined && slots[armed - first].exists ? armed : -1,
          waits:
            waits === undefined || !choices
              ? (slot.fn.blinkAt ?? -127) / 127
              : valueOfChoice(choices.length, choices.indexOf(waits)),
          // The same strip's, else the host's own.
          needs:
            needs === undefined
              ? -1
              : (at.get(addressOf(needs, slot.strip)) ??
                at.get(addressOf(needs, -1)) ??
                at.get(addressOf(needs, 0)) ??
                -1),
        });
      });
      const before = new Array<undefined>(first).fill(undefined);
      for (let unit = 0; unit < units; unit++) {
        const its = (slot: Slot, pattern: Pattern | undefined) =>
          slot.unit === unit ? pattern : undefined;
        const sender = new Sender(slots.map((slot) => its(slot, slot.set)));
        this.links.push({
          key: hostLinkKey(id, unit),
          kind: 'host',
          id,
          label: unit === 0 ? label : `${label}, unit ${unit + 1}`,
          model: modelId,
          surface: null,
          host: model,
          bytesPerSecond: model.bytesPerSecond,
          receiver: new Receiver([...before, ...slots.map((slot) => its(slot, slot.report))]),
          sender,
          senders: [sender],
          played: null,
          ask: model.ask && unit === 0 ? Uint8Array.from(model.ask) : null,
          unit,
          desk: model.desk ? (unit === 0 ? 'main' : 'extender') : null,
          first,
          count: slots.length,
          clock: false,
          standsBefore: -1,
          onward: null,
        });
      }
    }
  }

  /** Layers and flags are values like those of hosts, so that lights and conditions need know no difference. */
  private addOwn(): void {
    const add = (key: string, label: string): number => {
      this.slots.push({
        key: `rondo/${key}`,
        address: key,
        link: -1,
        local: -1,
        fn: TOGGLE_FUNCTION(key, label),
        law: 'switch',
        strip: -1,
        exists: true,
        settable: true,
        reports: true,
        toggleOnly: false,
        taps: false,
        touch: -1,
        needs: -1,
        armed: -1,
        waits: -1,
      });
      return this.slots.length - 1;
    };
    this.profile.layerOrder.forEach((id, index) => {
      const { label, group } = this.profile.layers[id];
      this.layerIndex.set(id, index);
      this.layerSlots.set(id, add(`layer:${id}`, label));
      if (group !== undefined)
        this.layerGroups.set(group, [...(this.layerGroups.get(group) ?? []), index]);
    });
    for (const id of this.profile.flagOrder)
      this.flagSlots.set(id, add(`flag:${id}`, this.profile.flags[id].label));
  }

  private joinOnward(ids: readonly string[]): void {
    ids.forEach((id, link) => {
      const { onward, standsIn } = this.profile.surfaces[id];
      const before = standsIn && this.linkIndex.get(`host:${standsIn.host}`);
      if (before !== undefined) {
        const [first] = standsIn?.pairs ?? [];
        this.links[link] = { ...this.links[link], standsBefore: before + (first?.unit ?? 0) };
      }
      const to = onward && this.destination(onward.to);
      if (to === undefined || to < 0 || !onward) return;
      const kinds = onward.kinds.reduce((bits, kind) => bits | KIND_BITS[kind], 0);
      this.links[link] = { ...this.links[link], onward: { link: to, kinds } };
    });
  }

  private destination(to: Destination): number {
    const key = 'host' in to ? `host:${to.host as string}` : `surface:${to.surface as string}`;
    return this.linkIndex.get(key) ?? -1;
  }

  private focuses(): FocusPlan[] {
    const widths = new Map<string, number>();
    for (const key of this.profile.bindingOrder)
      for (const action of this.profile.bindings[key].actions)
        if (action.do === 'function' && action.scope.kind === 'focus')
          widths.set(action.host, Math.max(widths.get(action.host) ?? 0, action.scope.slot + 1));
    return this.profile.hostOrder.flatMap((id) => {
      const model = this.library.host(this.profile.hosts[id].model);
      const slot = model?.focus ? this.slotBase.get(`${id}/${model.focus.function}`) : undefined;
      if (!model?.focus || slot === undefined) return [];
      this.focusIndex.set(id, this.focusIndex.size);
      const orders = this.profile.focusOrders?.[id] ?? {};
      return [
        {
          link: this.linkIndex.get(`host:${id}`) ?? -1,
          slot,
          tables: model.focus.items.map(({ label, parameters }) =>
            Int32Array.from(
              orderOf(parameters, orders[label]).flatMap((fn) => {
                const base = this.slotBase.get(`${id}/${fn}`);
                if (base === undefined) return [];
                const own = this.slots[base].strip < 0;
                return [own ? base : base + model.strips.length];
              }),
            ),
          ),
          width: Math.max(1, widths.get(id) ?? 8),
        },
      ];
    });
  }

  private aim(host: string, functionId: string, scope: Scope): Aim | null {
    if (scope.kind === 'focus') {
      const table = this.focusIndex.get(host);
      return table === undefined ? null : { base: table, offset: scope.slot, strips: FOCUS };
    }
    const base = this.slotBase.get(`${host}/${functionId}`);
    if (base === undefined) return null;
    const perStrip = this.slots[base].strip >= 0;
    const strips = this.hostStrips.get(host) ?? 0;
    if (scope.kind === 'host') return perStrip ? null : { base, offset: -1, strips };
    if (!perStrip) return null;
    if (scope.kind === 'selected')
      return this.slots.at(base + strips)?.strip === SELECTED
        ? { base: base + strips, offset: -1, strips }
        : null;
    if (scope.kind === 'window') return { base, offset: scope.offset, strips };
    return scope.strip < strips ? { base: base + scope.strip, offset: -1, strips } : null;
  }

  /** Conditions made ready; null where one of them names what is not there. */
  private when(
    conditions: readonly Condition[] | undefined,
    of: Omit<Broken, 'what' | 'why'>,
  ): ConditionPlan[] | null {
    const plans: ConditionPlan[] = [];
    for (const condition of conditions ?? []) {
      let aim: Aim | null;
      let value = 0.5;
      if ('flag' in condition) {
        const slot = this.flagSlots.get(condition.flag as string);
        aim = slot === undefined ? null : { ...NOWHERE, base: slot };
        if (!aim)
          this.say({ ...of, what: 'flag', why: 'A condition names a flag that is not there.' });
      } else if ('layer' in condition) {
        const slot = this.layerSlots.get(condition.layer as string);
        aim = slot === undefined ? null : { ...NOWHERE, base: slot };
        if (!aim)
          this.say({ ...of, what: 'layer', why: 'A condition names a layer that is not there.' });
      } else {
        const { host, function: fn, scope, is } = condition;
        aim = this.aim(host, fn, scope);
        if (is === 'atLeast' || is === 'below') value = this.share(condition.value ?? 0.5);
        if (!aim)
          this.say({
            ...of,
            what: 'function',
            why: `A condition asks for ${fn}, which ${this.hostName(host)} has not.`,
          });
      }
      if (!aim) return null;
      const above = condition.is === 'on' || condition.is === 'atLeast';
      plans.push({ aim, low: above ? value : -1, high: above ? Infinity : value });
    }
    return plans;
  }

  private share(value: number): number {
    const inside = Math.max(0, Math.min(1, value));
    if (inside !== value) this.clamped++;
    return inside;
  }

  private say(broken: Broken): void {
    this.broken.push(broken);
  }

  private hostName(id: string): string {
    return Object.hasOwn(this.profile.hosts, id) ? this.profile.hosts[id].label : id;
  }

  /** Adds actions to the plan; what they name and is not there is told. */
  private run(
    actions: readonly Action[],
    of: { readonly binding: string; readonly layer: string },
    feel: Feeling,
    group: number,
  ): Run {
    const first = this.actions.length;
    for (const action of actions) this.actions.push(this.action(action, of, feel, group));
    return { first, count: actions.length };
  }

  private action(
    action: Action,
    of: { readonly binding: string; readonly layer: string },
    feel: Feeling,
    group: number,
  ): ActionPlan {
    const when = this.when(action.when, of);
    let aim: Aim | null = null;
    let link = -1;
    let broken = when === null;
    let message: Template | null = null;
    let layers: readonly number[] = [];
    let shaper = shaperOf(undefined);
    const miss = (what: Broken['what'], why: string) => {
      this.say({ ...of, what, why });
      broken = true;
    };
    switch (action.do) {
      case 'function': {
        aim = this.aim(action.host, action.function, action.scope);
        link = this.linkIndex.get(`host:${action.host}`) ?? -1;
        shaper = shaperOf(action.shape);
        this.clamped += shaper.clamped;
        if (action.to !== undefined) this.share(action.to);
        if (!aim) {
          const { scope } = action;
          const strip =
            scope.kind === 'fixed' ? scope.strip : scope.kind === 'selected' ? SELECTED : -1;
          miss(
            'function',
            `${this.hostName(action.host)} has no ${addressOf(action.function, strip)}.`,
          );
        }
        break;
      }
      case 'layer': {
        const slot = this.layerSlots.get(action.layer);
        const index = this.layerIndex.get(action.layer);
        if (slot === undefined || index === undefined)
          miss('layer', 'It changes a layer that is not there.');
        else {
          aim = { ...NOWHERE, base: slot };
          layers = [index];
        }
        break;
      }
      case 'layerStep':
        layers = this.layerGroups.get(action.group) ?? [];
        if (layers.length === 0) miss('layer', `No layer is in the group ${action.group}.`);
        break;
      case 'flag': {
        const slot = this.flagSlots.get(action.flag);
        if (slot === undefined) miss('flag', 'It changes a flag that is not there.');
        else aim = { ...NOWHERE, base: slot };
        break;
      }
      case 'send':
        link = this.destination(action.to);
        if (link < 0) miss('function', 'It sends to what is not in the profile.');
        if (action.message !== undefined) {
          const template = readMessage(action.message);
          if ('fault' in template) miss('message', `Its message cannot be sent. ${template.fault}`);
          else message = template;
        }
        break;
      case 'notes':
        link = this.destination(action.to);
        if (link < 0) miss('function', 'It plays to what is not in the profile.');
        break;
      case 'focusPage': {
        const table = this.focusIndex.get(action.host);
        if (table === undefined) miss('function', `${this.hostName(action.host)} has no focus.`);
        else aim = { base: table, offset: 0, strips: FOCUS };
        break;
      }
      default:
    }
    return {
      binding: of.binding,
      action,
      aim,
      link,
      broken,
      when: when ?? [],
      shaper,
      feel,
      message,
      layers,
      group,
    };
  }

  private bindings(
    surfaces: readonly { readonly id: string; readonly surface: Surface }[],
    inputs: readonly Input[],
    partIndex: ReadonlyMap<string, number>,
  ) {
    const bindings: BindingPlan[] = [];
    const base = new Set<number>();
    const causes: CausePlan[] = [];
    const hangings: Hanging[] = [];
    const surfaceOf = new Map(surfaces.map(({ id, surface }) => [id, surface]));
    for (const key of this.profile.bindingOrder) {
      const binding = this.profile.bindings[key];
      const of = { binding: key, layer: binding.layer };
      const layer = this.layerIndex.get(binding.layer);
      if (layer === undefined) {
        this.say({ ...of, what: 'layer', why: 'It is on a layer that is not there.' });
        continue;
      }
      const { control: ref } = binding;
      if (!ref) {
        hangings.push({ binding, layer, part: -1, kind: NO_CONTROL, surfaceFeel: undefined });
        continue;
      }
      const part = partIndex.get(partKey(ref.surface, ref.control, ref.part));
      if (part === undefined) {
        const surface = Object.hasOwn(this.profile.surfaces, ref.surface)
          ? this.profile.surfaces[ref.surface].label
          : ref.surface;
        this.say({
          ...of,
          what: 'control',
          why: `There is no ${ref.control} to ${PART_NAMES[ref.part]} on ${surface}.`,
        });
        continue;
      }
      const surface = surfaceOf.get(ref.surface) as Surface;
      const kind = feelKindOf(inputs[part].control, surface.device.takes);
      hangings.push({ binding, layer, part, kind, surfaceFeel: surface.feel?.[kind] });
    }
    const own = hangings.length;
    const standing = this.standIns(surfaceOf);
    for (const { binding, surface } of standing.bindings) {
      const { control: ref } = binding as Required<Pick<Binding, 'control'>>;
      const part = partIndex.get(partKey(ref.surface, ref.control, ref.part)) ?? -1;
      const kind = feelKindOf(inputs[part].control, surface.device.takes);
      hangings.push({ binding, layer: 0, part, kind, surfaceFeel: surface.feel?.[kind] });
    }
    const candidates = new Map<number, number[][]>();
    for (const [at, { binding, layer, part, kind, surfaceFeel }] of hangings.entries()) {
      const of = { binding: binding.id, layer: binding.layer };
      const feel = this.feel(kind, surfaceFeel, binding);
      const when = this.when(binding.when, of);
      const run = this.run(binding.actions, of, feel, this.groupOf(binding.group));
      const shown = this.shownAction(run);
      const action = shown >= 0 ? this.actions[shown] : null;
      const target = action?.action.do === 'function' ? action.action : null;
      const other = (fn: string) =>
        target && action?.aim?.strips !== FOCUS ? this.aim(target.host, fn, target.scope) : null;
      const index = bindings.length;
      if (at >= own) base.add(index);
      // Written out, and not spread: a spread makes the slower kind of object, and there are thousands.
      bindings.push({
        first: run.first,
        count: run.count,
        id: binding.id,
        layer,
        part,
        gesture: binding.gesture ? GESTURES.indexOf(binding.gesture) : GestureAt.Press,
        when: when ?? [],
        passOn: binding.passOn ?? false,
        shows: action?.aim ?? null,
        showsName: other('name'),
        showsMeter: other('meter'),
        shown,
        lit: action ? this.litRange(action) : [0.5, Infinity],
        usual: this.usualOf(action?.aim ?? null),
        returns: binding.returns,
      });
      if (when === null) continue;
      if (binding.cause) {
        const { host, function: fn, scope } = binding.cause;
        const aim = this.aim(host, fn, scope);
        if (aim) causes.push({ binding: index, aim, when: binding.cause.when });
        else
          this.say({
            ...of,
            what: 'function',
            why: `It waits for ${fn}, which ${this.hostName(host)} has not.`,
          });
        continue;
      }
      let lists = candidates.get(part);
      if (!lists) candidates.set(part, (lists = [[], [], [], []]));
      lists[bindings[index].gesture].push(index);
    }
    const rank = (index: number): number => {
      const { layer, when } = bindings[index];
      // What stands in for another surface lies under all that is bound by itself.
      if (base.has(index)) return -1;
      return layer * 2 + (when.length > 0 ? 1 : 0);
    };
    for (const lists of candidates.values())
      for (const list of lists) {
        if (list.length < 2) continue;
        // The order within a layer is the profile's: sorting keeps it.
        list.sort((a, b) => rank(b) - rank(a));
        if (!list.some((index) => this.isPinned(bindings[index]))) continue;
        const isPinned = (index: number) => this.isPinned(bindings[index]);
        const takes = (index: number) => bindings[index].shows?.strips === FOCUS;
        const at = list.findIndex(takes);
        if (at < 0) continue;
        const pinned = list.slice(at).filter(isPinned);
        const rest = list.filter((index) => !pinned.includes(index));
        list.splice(0, list.length, ...rest.slice(0, at), ...pinned, ...rest.slice(at));
      }
    return { bindings, causes, candidates, shown: standing.shown };
  }

  private isPinned({ id }: BindingPlan): boolean {
    return Object.hasOwn(this.profile.bindings, id) && this.profile.bindings[id].pinned === true;
  }

  /** What surfaces do that stand in for others; what cannot be is told. */
  private standIns(surfaceOf: ReadonlyMap<string, Surface>) {
    const [layer] = this.profile.layerOrder;
    const { bindings, shown, faults } = standInBindings(
      this.profile,
      (id) => surfaceOf.get(id),
      (id) => this.library.host(id),
    );
    for (const why of faults) this.say({ binding: '', layer, what: 'control', why });
    return {
      bindings: bindings.flatMap((binding) => {
        const surface = surfaceOf.get(binding.control?.surface ?? '');
        return surface ? [{ binding, surface }] : [];
      }),
      shown: shown.flatMap(({ out, target }) => {
        const aim = this.aim(target.host, target.function, target.scope);
        return aim ? [{ out: partKey(out.surface, out.control, out.part), aim }] : [];
      }),
    };
  }

  /** How a binding feels; worked out once for all that say nothing of their own. */
  private feel(kind: FeelKind, surface: FeelSettings | undefined, binding: Binding): Feeling {
    const { layer } = binding;
    const levels = {
      surface,
      profile: this.profile.feel?.[kind],
      layer: this.profile.layers[layer].feel?.[kind],
      binding: binding.feel,
    };
    if (binding.feel) return feelOf(kind, levels);
    let bySurface = this.feels.get(surface);
    if (!bySurface) this.feels.set(surface, (bySurface = new Map()));
    const key = `${kind} ${layer}`;
    const known = bySurface.get(key);
    if (known) return known;
    const feel = feelOf(kind, levels);
    bySurface.set(key, feel);
    return feel;
  }

  /** The action whose state a binding shows: the first that has one. */
  private shownAction({ first, count }: Run): number {
    for (let at = first; at < first + count; at++) {
      const { aim, action } = this.actions[at];
      if (aim && action.do !== 'focusPage') return at;
    }
    return -1;
  }

  /** For which values a light is on: where the function stands at what a press would set, else from the middle up. */
  private litRange({ action, aim, shaper }: ActionPlan): readonly [number, number] {
    if (action.do !== 'function' || !aim || aim.strips === FOCUS) return [0.5, Infinity];
    const { fn } = this.slots[aim.base];
    const { low, high } = shaper;
    if (action.behaviour === 'set' && (fn.kind === 'choice' || fn.kind === 'continuous')) {
      const half = fn.choices ? 0.5 / (fn.choices.length - 1) : 0.5 / 127;
      const to = Math.max(0, Math.min(1, action.to ?? 1));
      return [to - half, to + half];
    }
    const middle = (low + high) / 2;
    return low <= high ? [middle, Infinity] : [-1, middle];
  }

  /** What comes back of what is aimed at where nobody says otherwise. */
  private usualOf(aim: Aim | null): ReturnSettings | undefined {
    if (!aim || aim.base < 0 || aim.strips === FOCUS) return undefined;
    return usualReturns(this.slots[aim.base].fn);
  }

  /** Showings as bindings that nothing triggers; where each output shows them, the highest layer first. */
  private showings(
    bindings: BindingPlan[],
    outIndex: ReadonlyMap<string, number>,
    standing: readonly { readonly out: string; readonly aim: Aim }[],
  ): Map<number, ShownHere[]> {
    const shownAt = new Map<number, ShownHere[]>();
    const add = (out: number, shown: ShownHere) =>
      shownAt.set(out, [...(shownAt.get(out) ?? []), shown]);
    const showing = (
      id: string,
      layer: number,
      aim: Aim,
      of: Pick<BindingPlan, 'when' | 'showsName' | 'showsMeter' | 'returns'>,
    ): BindingPlan => ({
      ...of,
      first: 0,
      count: 0,
      id,
      layer,
      part: -1,
      gesture: GestureAt.Press,
      passOn: false,
      shows: aim,
      shown: -1,
      lit: [0.5, Infinity],
      usual: this.usualOf(aim),
    });
    for (const key of this.profile.showingOrder) {
      const shows = this.profile.showings[key];
      const of = { binding: '', layer: shows.layer, showing: key };
      const layer = this.layerIndex.get(shows.layer);
      const when = this.when(shows.when, of);
      const aim = this.targetAim(shows.shows, of);
      if (layer === undefined)
        this.say({ ...of, what: 'layer', why: 'A showing is on a layer that is not there.' });
      if (layer === undefined || when === null || !aim) continue;
      const target = 'host' in shows.shows ? shows.shows : null;
      const other = (fn: string) =>
        target && aim.strips !== FOCUS
          ? this.aim(target.host as string, fn, target.scope as Scope)
          : null;
      const binding = bindings.length;
      bindings.push(
        showing(`showing:${key}`, layer, aim, {
          when,
          showsName: other('name'),
          showsMeter: other('meter'),
          returns: shows.returns,
        }),
      );
      const count = shows.on.length;
      shows.on.forEach(({ surface, control, part }, at) => {
        const out = outIndex.get(partKey(surface, control, part));
        if (out === undefined) {
          const where = Object.hasOwn(this.profile.surfaces, surface)
            ? this.profile.surfaces[surface].label
            : surface;
          this.say({
            ...of,
            what: 'control',
            why: `There is no ${PART_NAMES[part]} of ${control} on ${where} to show it on.`,
          });
          return;
        }
        const place = shows.spread === 'row' ? at : -1;
        add(out, { binding, place, count });
      });
    }
    const rank = ({ binding }: ShownHere): number =>
      bindings[binding].layer * 2 + (bindings[binding].when.length > 0 ? 1 : 0);
    for (const list of shownAt.values()) list.sort((a, b) => rank(b) - rank(a));
    // What stands in for another surface comes last.
    for (const { out, aim } of standing) {
      const at = outIndex.get(out);
      if (at === undefined) continue;
      const binding = bindings.length;
      const of = { when: [], showsName: null, showsMeter: null, returns: AS_TOLD };
      bindings.push(showing(`${STANDS_IN}${out}`, 0, aim, of));
      add(at, { binding, place: -1, count: 1 });
    }
    return shownAt;
  }

  private targetAim(target: Target, of: Omit<Broken, 'what' | 'why'>): Aim | null {
    if ('host' in target) {
      const { host, function: fn, scope } = target as Extract<Target, { function: string }>;
      const aim = this.aim(host, fn, scope);
      if (!aim)
        this.say({
          ...of,
          what: 'function',
          why: `A showing shows ${fn}, which ${this.hostName(host)} has not.`,
        });
      return aim;
    }
    const isLayer = 'layer' in target;
    const slot = isLayer
      ? this.layerSlots.get(target.layer as string)
      : this.flagSlots.get((target as { flag: string }).flag);
    if (slot !== undefined) return { ...NOWHERE, base: slot };
    const what = isLayer ? 'layer' : 'flag';
    this.say({ ...of, what, why: `A showing shows a ${what} that is not there.` });
    return null;
  }

  private groupOf(name: string | undefined): number {
    if (name === undefined) return -1;
    const known = this.groupIndex.get(name) ?? this.groupIndex.size;
    this.groupIndex.set(name, known);
    return known;
  }

  /** All slots that the members of each exclusive group can mean, whatever the bank. */
  private groups(): Int32Array[] {
    const slots = Array.from(this.groupIndex, () => new Set<number>());
    for (const { group, aim, broken } of this.actions) {
      if (group < 0 || !aim || broken || aim.strips === FOCUS) continue;
      const count = aim.offset < 0 ? 1 : aim.strips;
      for (let n = 0; n < count; n++)
        if (this.slots[aim.base + n].exists) slots[group].add(aim.base + n);
    }
    return slots.map((group) => Int32Array.from(group));
  }

  private layers(
    surfaces: readonly { readonly id: string; readonly surface: Surface }[],
  ): LayerPlan[] {
    const circles = circlesOf(this.profile);
    const groups = [...this.layerGroups.keys()];
    return this.profile.layerOrder.map((id): LayerPlan => {
      const layer = this.profile.layers[id];
      const runOf = (event: 'enter' | 'leave'): Run => {
        const actions = layer[event] ?? [];
        const of = { binding: '', layer: id };
        const run = this.run(actions, of, usualFeel(NO_CONTROL), -1);
        actions.forEach((action, n) => {
          const at = run.first + n;
          const why = circles.has(action)
            ? `${layer.label} changes layers in a circle.`
            : setsAState(action)
              ? null
              : `What ${layer.label} does on ${event === 'enter' ? 'entering' : 'leaving'} would turn a state over. Set it on or off.`;
          if (why === null) return;
          this.say({ ...of, what: circles.has(action) ? 'circle' : 'turnsOver', why });
          this.actions[at] = { ...this.actions[at], broken: true };
        });
        return run;
      };
      const page = layer.page;
      const surface = page && surfaces.find((s) => s.id === page.surface)?.surface;
      const number = surface && page ? pageIdsOf(surface).indexOf(page.page) : -1;
      if (page && number < 0)
        this.say({
          binding: '',
          layer: id,
          what: 'control',
          why: `${layer.label} hangs on an onboard page that is not there.`,
        });
      return {
        id,
        label: layer.label,
        group: layer.group === undefined ? -1 : groups.indexOf(layer.group),
        slot: this.layerSlots.get(id) ?? -1,
        page:
          page && number >= 0
            ? { link: this.linkIndex.get(`surface:${page.surface}`) ?? -1, page: number }
            : null,
        enter: runOf('enter'),
        leave: runOf('leave'),
        returns: layer.returns,
      };
    });
  }
}

/** Texts are shown as the program writes them. */
const AS_TOLD: ReturnSettings = { upper: '{value}', lower: '{value}' };

const NO_SHOWINGS: readonly ShownHere[] = [];

const NO_CANDIDATES: readonly (readonly number[])[] = [[], [], [], []];

/** Parameters in the order wanted; those that the order does not name follow. */
function orderOf(parameters: readonly string[], order: readonly string[] | undefined): string[] {
  const wanted = (order ?? []).filter((id) => parameters.includes(id));
  return [...wanted, ...parameters.filter((id) => !wanted.includes(id))];
}

/** What an output shows, from the parts of its own control, or of its strip. */
function sourcesOf(
  part: OutputPart,
  control: Control,
  strip: { readonly fader?: string; readonly encoder?: string } | undefined,
  at: (controlId: string | undefined, input: InputPart) => number | undefined,
): Source[] {
  const source = (index: number | undefined, pick: Source['pick']): Source[] =>
    index === undefined ? [] : [{ part: index, pick }];
  if (part === 'motor' || part === 'ring') return source(at(control.id, 'value'), 'own');
  if (part === 'light') return source(at(control.id, 'push'), 'own');
  if (!strip) return [];
  const fader = at(strip.fader, 'value');
  const encoder = at(strip.encoder, 'value');
  if (part === 'lower') {
    const turned = source(encoder, 'own');
    const moved = source(fader, 'own');
    return turned.length > 0 ? [...turned, ...moved] : [...moved, ...moved];
  }
  return source(fader ?? encoder, part === 'upper' ? 'name' : 'meter');
}

/**
 * Makes a profile ready to run. What refers to what is not there is kept in the profile, listed in `broken` and does
 * nothing.
 */
export function compile(profile: Profile, library: Library): Plan {
  return new Compiler(profile, library).compile();
}
