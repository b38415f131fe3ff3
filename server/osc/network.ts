import { networkInterfaces } from 'node:os';
import type { Knex } from 'knex';
import { z } from 'zod';
import { readSetting, writeSetting } from '@rondo/store';
import type { Openness } from './places.js';

const NAME = 'network';
const settingSchema = z.object({ on: z.boolean() });

/** Whether Rondo may be reached from other machines, for OSC alone: off until its owner switches it on. */
export class Network implements Openness {
  isOpen = false;

  /** @param changed is called when it was switched */
  constructor(private readonly changed: () => void) {}

  async load(db: Knex): Promise<void> {
    const known = settingSchema.safeParse(await readSetting(db, NAME));
    this.isOpen = known.success && known.data.on;
  }

  async set(db: Knex, on: boolean): Promise<void> {
    if (on === this.isOpen) return;
    await writeSetting(db, NAME, { on });
    this.isOpen = on;
    this.changed();
  }

  /** How other machines call this one. */
  get addresses(): string[] {
    return Object.values(networkInterfaces()).flatMap((all) =>
      (all ?? []).flatMap(({ address, family, internal }) =>
        family === 'IPv4' && !internal ? [address] : [],
      ),
    );
  }
}
