import { z } from 'zod';
import { netChoiceSchema } from '@rondo/core/wire';
import { findPort, type Named } from './port-names';

const portSchema = z.object({ id: z.string(), name: z.string(), twin: z.boolean().optional() });

/** Which real ports stand in place of a link's simulation. Names tell a port again when its id has changed. */
export const choiceSchema = z.object({
  real: z.boolean(),
  input: portSchema.nullable(),
  output: portSchema.nullable(),
  /** Who the device says it is: by that it is found again under another port name. */
  identity: z
    .object({ manufacturer: z.string(), family: z.number(), member: z.number() })
    .optional(),
  /** Where it listens and sends to, where it speaks OSC. */
  net: netChoiceSchema.optional(),
  /** It was chosen for this profile: what is known of the device elsewhere counts no more. */
  said: z.boolean().optional(),
});
export type PortChoice = z.infer<typeof choiceSchema>;

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
