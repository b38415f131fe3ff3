import * as z from 'zod';
import { portChoiceSchema, type PortChoice } from '@rondo/core/profile';
import { findPort, type Named } from './port-names';

/** As set-ups keep it. */
export const choiceSchema = portChoiceSchema;
export type { PortChoice };

export const SIMULATED: PortChoice = { real: false, input: null, output: null };

const KEY = 'rondo.devices';
const devicesSchema = z.record(z.string(), choiceSchema);

function devices(): Record<string, PortChoice> {
  try {
    return devicesSchema.parse(JSON.parse(localStorage.getItem(KEY) ?? '{}'));
  } catch {
    return {};
  }
}

/** Remembers on which ports a device is, by the surface that describes it: for every profile with that surface. */
export function rememberDevice(model: string, { said: _said, ...choice }: PortChoice): void {
  try {
    localStorage.setItem(KEY, JSON.stringify({ ...devices(), [model]: choice }));
  } catch {
    // A full or forbidden store only means that ports are chosen again.
  }
}

/** A device that is described by a copy of a surface stays on its ports. */
export function rememberCopy(model: string, copy: string): void {
  const all = devices();
  if (Object.hasOwn(all, model)) rememberDevice(copy, all[model]);
}

/** Where an OSC device listens and is listened to, for every profile with its surface; null where that was never chosen. */
export function netOfDevice(model: string): PortChoice | null {
  const known = devices()[model];
  return known?.real && known.net ? known : null;
}

/** Where a device was last, if it is there now; null where it is not, or was never chosen. */
export function deviceHere(
  model: string,
  inputs: readonly Named[],
  outputs: readonly Named[],
): PortChoice | null {
  const known = devices()[model];
  if (!known?.real) return null;
  const input = findPort(known.input, inputs);
  const output = findPort(known.output, outputs);
  const isHere =
    inputs.some(({ id }) => id === input?.id) || outputs.some(({ id }) => id === output?.id);
  return isHere ? { ...known, input, output } : null;
}
