import * as z from 'zod';
import { choiceSchema, type PortChoice } from './port-choice';

const sessionSchema = z.object({
  bank: z.number(),
  ports: z.record(z.string(), choiceSchema),
  layers: z.array(z.string()).max(64).default([]),
  flags: z.record(z.string(), z.boolean()).default({}),
});
/** What the browser keeps of a profile that is played: its ports, layers, flags and bank. */
export type Session = z.infer<typeof sessionSchema>;

const keyOf = (profile: string): string => `rondo.session.${profile}`;

/** What was kept of a profile; nothing of what cannot be read. */
export function readSession(profile: string): Session {
  try {
    return sessionSchema.parse(JSON.parse(localStorage.getItem(keyOf(profile)) ?? ''));
  } catch {
    return { bank: 0, ports: {}, layers: [], flags: {} };
  }
}

/** Keeps it. A full or forbidden store only means that ports are chosen again next time. */
export function writeSession(profile: string, session: Session): void {
  try {
    localStorage.setItem(keyOf(profile), JSON.stringify(session));
  } catch {
    // As said.
  }
}

/** Keeps the ports of a profile that has never been open, for when it is. */
export function presetPorts(profile: string, ports: Readonly<Record<string, PortChoice>>): void {
  if (Object.keys(ports).length === 0) return;
  writeSession(profile, { bank: 0, ports, layers: [], flags: {} });
}
