import {
  addressOf,
  hostSpeaksOsc,
  slotsOf,
  valueOfChoice,
  type HostModel,
  type Slot,
} from '@rondo/core/host';
import { MessageMap, Sender, type Pattern } from '@rondo/core/surface';
import type { PlanDraft } from './draft.js';
import { hostLinkKey } from './link-plan.js';

/** What one unit of a host hears and says. */
interface UnitWires {
  readonly map: MessageMap;
  readonly sender: Sender;
}
const wiresOf = new WeakMap<HostModel, readonly UnitWires[]>();

/** The messages of a host, unit by unit; worked out once for each description. */
function wiresOfHost(model: HostModel, slots: readonly Slot[]): readonly UnitWires[] {
  const known = wiresOf.get(model);
  if (known) return known;
  const units = Array.from({ length: model.units?.length ?? 1 }, (_, unit): UnitWires => {
    const its = (slot: Slot, pattern: Pattern | undefined) =>
      slot.unit === unit ? pattern : undefined;
    return {
      map: new MessageMap(slots.map((slot) => its(slot, slot.report))),
      sender: new Sender(slots.map((slot) => its(slot, slot.set))),
    };
  });
  wiresOf.set(model, units);
  return units;
}

/** Adds a link for each unit of each host, and a slot for each instance of its functions. */
export function addHosts(draft: PlanDraft): void {
  for (const id of draft.profile.hostOrder) {
    const { model: modelId, label } = draft.profile.hosts[id];
    const model = draft.library.host(modelId);
    if (!model) continue;
    const link = draft.links.length;
    const first = draft.slots.length;
    const units = model.units?.length ?? 1;
    draft.linkIndex.set(`host:${id}`, link);
    draft.hostStrips.set(id, model.strips.length);
    const slots = slotsOf(model);
    const at = new Map(slots.map((slot, local) => [slot.address, first + local]));
    slots.forEach((slot, local) => {
      const base = `${id}/${slot.fn.id}`;
      if (!draft.slotBase.has(base)) draft.slotBase.set(base, first + local);
      const { needs, waits, choices } = slot.fn;
      const armed =
        model.arms === undefined || slot.strip === -1 || slot.fn.id === model.arms
          ? undefined
          : at.get(addressOf(model.arms, slot.strip));
      draft.slots.push({
        key: `${id}/${slot.address}`,
        address: slot.address,
        link: link + slot.unit,
        local,
        fn: slot.fn,
        law: slot.fn.law,
        strip: slot.strip,
        exists: slot.exists,
        set: slot.set,
        report: slot.report,
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
    const wires = wiresOfHost(model, slots);
    const isOsc = hostSpeaksOsc(model);
    for (let unit = 0; unit < units; unit++) {
      const { map, sender } = wires[unit];
      draft.links.push({
        key: hostLinkKey(id, unit),
        kind: 'host',
        id,
        label: unit === 0 ? label : `${label}, unit ${unit + 1}`,
        model: modelId,
        surface: null,
        host: model,
        bytesPerSecond: model.bytesPerSecond,
        map,
        senders: [sender],
        musicalNotes: null,
        ask: model.ask && unit === 0 ? Uint8Array.from(model.ask) : null,
        unit,
        isOsc,
        desk: model.desk ? (unit === 0 ? 'main' : 'extender') : null,
        firstTarget: first,
        first,
        count: slots.length,
        clock: false,
        standsBefore: -1,
      });
    }
  }
}
