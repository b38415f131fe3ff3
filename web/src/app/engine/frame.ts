import type { PlainPlan } from '@rondo/core/round';

const HEADER = 16;
const PER_PART = 11;
const PER_OUT = 3;
const PER_SLOT = 2;

/** Places in the head of a frame. */
export const enum Head {
  Version,
  Time,
  Bank,
  MotorsFree,
  InHand,
  InHandAt,
  StrayLink,
  StrayPacked,
  StrayAt,
  /** A bit for each open end: input of link n is bit 2n, its output bit 2n + 1. */
  Open,
  HoldOff,
  /** Values that were held at an end of their range, so far. */
  Clamped,
  /** Chains of causes that were cut so far, and the binding that would have come round last. */
  Cut,
  LastCut,
}

/** What a frame tells of a part. */
export const enum PartField {
  /** Position of an absolute control, 0…1; ticks turned in all of a relative one; 1 or 0 of a key. */
  Position,
  Down,
  Packed,
  At,
  Stop,
  Slot,
  Shaped,
  Raw,
  /** Binding that took its last message; −1 where none did. */
  Binding,
  /** How far its function is from it; see `RoundLog.gap`. */
  Gap,
  /** Where it was stopped; see `RoundLog.stopSlot`. */
  StopSlot,
}
export const enum OutField {
  Value,
  Slot,
  Wire,
}
export const enum SlotField {
  Value,
  Know,
}

/** Numbers a frame of this plan needs. */
export function frameLength(plan: PlainPlan): number {
  return (
    HEADER +
    plan.parts.length * PER_PART +
    plan.outs.length * PER_OUT +
    plan.slots.length * PER_SLOT +
    plan.links.length
  );
}

/**
 * What moves, lights and is known at one moment: flat numbers in one transferable buffer that goes to and fro between
 * page and worker.
 */
export class Frame {
  readonly numbers: Float64Array<ArrayBuffer>;
  private readonly outBase: number;
  private readonly slotBase: number;
  private readonly linkBase: number;

  constructor(
    readonly plan: PlainPlan,
    buffer: ArrayBuffer,
  ) {
    this.numbers = new Float64Array(buffer);
    this.outBase = HEADER + plan.parts.length * PER_PART;
    this.slotBase = this.outBase + plan.outs.length * PER_OUT;
    this.linkBase = this.slotBase + plan.slots.length * PER_SLOT;
  }

  head(field: Head): number {
    return this.numbers[field];
  }
  setHead(field: Head, value: number): void {
    this.numbers[field] = value;
  }
  isOpen(link: number, end: 'input' | 'output'): boolean {
    return (
      Math.floor(this.numbers[Head.Open] / 2 ** (2 * link + (end === 'output' ? 1 : 0))) % 2 === 1
    );
  }
  /** Onboard page that a surface is on, from 0. */
  page(link: number): number {
    return this.numbers[this.linkBase + link];
  }
  setPage(link: number, page: number): void {
    this.numbers[this.linkBase + link] = page;
  }
  part(part: number, field: PartField): number {
    return this.numbers[HEADER + part * PER_PART + field];
  }
  setPart(part: number, field: PartField, value: number): void {
    this.numbers[HEADER + part * PER_PART + field] = value;
  }
  out(out: number, field: OutField): number {
    return this.numbers[this.outBase + out * PER_OUT + field];
  }
  setOut(out: number, field: OutField, value: number): void {
    this.numbers[this.outBase + out * PER_OUT + field] = value;
  }
  slot(slot: number, field: SlotField): number {
    return this.numbers[this.slotBase + slot * PER_SLOT + field];
  }
  setSlot(slot: number, field: SlotField, value: number): void {
    this.numbers[this.slotBase + slot * PER_SLOT + field] = value;
  }
}

/** What a window shows of an engine that runs in another one. */
export interface Still {
  readonly layers: readonly string[];
  readonly bank: number;
}

/** A moment in which nothing was touched, told or sent: what a window shows in which the engine does not run. */
export function stillFrame(plan: PlainPlan, { layers, bank }: Still): Frame {
  const frame = new Frame(
    plan,
    new ArrayBuffer(frameLength(plan) * Float64Array.BYTES_PER_ELEMENT),
  );
  frame.setHead(Head.Bank, bank);
  for (const { id, slot } of plan.layers)
    if (layers.includes(id)) frame.setSlot(slot, SlotField.Value, 1);
  frame.setHead(Head.InHand, -1);
  frame.setHead(Head.StrayAt, -1);
  frame.setHead(Head.LastCut, -1);
  // Ports are for the other window: none is said to be closed.
  frame.setHead(Head.Open, 2 ** (2 * plan.links.length) - 1);
  plan.parts.forEach((_, part) => {
    for (const field of [PartField.At, PartField.Slot, PartField.Binding])
      frame.setPart(part, field, -1);
  });
  plan.outs.forEach((_, out) => {
    for (const field of [OutField.Wire, OutField.Slot]) frame.setOut(out, field, -1);
  });
  return frame;
}
