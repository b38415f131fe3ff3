import type { PlainLink, PlainPlan } from './plain.js';
import { type Aim, FOCUS } from './aim.js';

/** The slot that an aim means where the bank window begins at a strip; −1 where there is none. */
export function slotOfAim({ base, offset, strips }: Aim, bank: number): number {
  if (strips === FOCUS) return -1;
  if (offset < 0) return base;
  return offset + bank < strips ? base + offset + bank : -1;
}

/**
 * Why a function cannot be had where an aim means it, with what it needs, in a sentence; '' where it can.
 * @param isOff whether a host has told that a slot is off
 */
export function notAvailable(
  plan: PlainPlan,
  aim: Aim,
  bank: number,
  isOff: (slot: number) => boolean,
): string {
  if (aim.strips === FOCUS) return '';
  const slot = slotOfAim(aim, bank);
  const { fn, link } = plan.slots[Math.max(0, slot < 0 ? aim.base : slot)];
  const host = plan.links[link] as PlainLink | undefined;
  if (!host) return '';
  if (slot < 0)
    return `The bank ends before strip ${aim.offset + bank + 1}: ${host.label} has ${aim.strips}. Move the bank back.`;
  const { exists, settable, needs, strip } = plan.slots[slot];
  const whose = host.host?.strips[strip]?.name;
  if (!exists) return `${whose ?? 'What is meant here'} has no ${fn.label} in ${host.label}.`;
  if (!settable) return `${fn.label} is only told by ${host.label}: it cannot be set.`;
  if (needs >= 0 && isOff(needs))
    return `${fn.label} needs “${plan.slots[needs].fn.label}”, which is off in ${host.label} now.`;
  return '';
}
