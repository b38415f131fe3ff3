import { InputMode } from '@rondo/core/round';
import type { World } from '@rondo/core/standin';
import { Frame, Head, OutField, PartField, SlotField, frameLength } from './frame';

/**
 * Writes how everything stands now into a buffer that the page has sent. One that was made for another plan gets its head
 * only, by whose version the page knows it.
 * @param t the time now, µs
 */
export function writeFrame(world: World, version: number, t: number, buffer: ArrayBuffer): void {
  const { plan } = world.engine;
  const frame = new Frame(plan, buffer);
  fillHead(frame, world, version, t);
  if (frame.numbers.length !== frameLength(plan)) return;
  fillParts(frame, world);
  fillOuts(frame, world);
  fillSlots(frame, world);
}

function fillHead(frame: Frame, { engine }: World, version: number, t: number): void {
  const { log } = engine;
  frame.setHead(Head.Version, version);
  frame.setHead(Head.Time, t);
  frame.setHead(Head.Bank, engine.bank.start);
  frame.setHead(Head.MotorsFree, engine.motorsFree ? 1 : 0);
  frame.setHead(Head.InHand, log?.inHand ?? -1);
  frame.setHead(Head.InHandAt, log?.inHandAt ?? -1);
  frame.setHead(Head.StrayLink, log?.strayLink ?? -1);
  frame.setHead(Head.StrayPacked, log?.strayPacked ?? 0);
  frame.setHead(Head.StrayAt, log?.strayAt ?? -1);
  let open = 0;
  engine.plan.links.forEach((_, link) => {
    if (engine.isInputOpen(link)) open += 2 ** (2 * link);
    if (engine.isOutputOpen(link)) open += 2 ** (2 * link + 1);
  });
  frame.setHead(Head.Open, open);
  frame.setHead(Head.HoldOff, engine.holdOff ? 1 : 0);
  frame.setHead(Head.Clamped, engine.clamped);
  frame.setHead(Head.Cut, engine.causes.cut);
  frame.setHead(Head.LastCut, engine.causes.lastCut);
  engine.pages.forEach((page, link) => frame.setPage(link, page));
}

function fillParts(frame: Frame, world: World): void {
  const { engine } = world;
  const { log, plan } = engine;
  plan.parts.forEach((part, p) => {
    const desk = world.desks.get(plan.links[part.link].key);
    const { id } = part.control;
    let position: number = engine.down[p];
    if (part.moves === InputMode.Relative) position = log?.turned[p] ?? 0;
    else if (part.moves === InputMode.Absolute) {
      const byHand = world.isReal(part.link) && engine.hand[p] >= 0;
      position = byHand ? engine.hand[p] : (desk?.position(id) ?? 0);
    }
    frame.setPart(p, PartField.Position, position);
    frame.setPart(p, PartField.Down, engine.down[p]);
    if (!log) return;
    frame.setPart(p, PartField.Packed, log.packed[p]);
    frame.setPart(p, PartField.At, log.at[p]);
    frame.setPart(p, PartField.Stop, log.stop[p]);
    frame.setPart(p, PartField.Slot, log.slot[p]);
    frame.setPart(p, PartField.Shaped, log.shaped[p]);
    frame.setPart(p, PartField.Raw, log.value[p]);
    frame.setPart(p, PartField.Binding, log.binding[p]);
    frame.setPart(p, PartField.Gap, log.gap[p]);
    frame.setPart(p, PartField.StopSlot, log.stopSlot[p]);
  });
}

function fillOuts(frame: Frame, world: World): void {
  const { engine } = world;
  const first = new Map<number, number>();
  engine.plan.outs.forEach((out, i) => {
    if (!first.has(out.link)) first.set(out.link, i);
    const desk = world.desks.get(engine.plan.links[out.link].key);
    frame.setOut(i, OutField.Value, desk?.outputs[i - (first.get(out.link) ?? 0)] ?? 0);
    frame.setOut(i, OutField.Slot, engine.showing[i]);
    frame.setOut(i, OutField.Wire, engine.shown[i]);
  });
}

function fillSlots(frame: Frame, world: World): void {
  const { engine } = world;
  engine.plan.slots.forEach((slot, i) => {
    // Layers and flags are Rondo's own, and belong to no link.
    const host =
      slot.link < 0 || world.isReal(slot.link)
        ? undefined
        : world.hosts.get(engine.plan.links[slot.link].key);
    // A simulated host's picture is its own state; of a real one there is only what is known.
    frame.setSlot(
      i,
      SlotField.Value,
      host?.values ? host.values[slot.local] : engine.beliefs.value[i],
    );
    frame.setSlot(i, SlotField.Know, engine.beliefs.know[i]);
  });
}
