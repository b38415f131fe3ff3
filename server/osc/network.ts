import { networkInterfaces } from 'node:os';
import type { Knex } from 'knex';
import * as z from 'zod';
import { readSetting, writeSetting } from '@rondo/store';
import type { Openness } from './places.js';

const NAME = 'network';
const settingSchema = z.object({ on: z.boolean(), address: z.string().nullable().default(null) });

/** Whether Rondo may be reached from other machines, by OSC and as glass: off until its owner switches it on. */
export class Network implements Openness {
  isOpen = false;
  /** Address of this machine at which glasses come in; null for all. */
  address: string | null = null;

  /** @param changed is called when it was switched */
  constructor(private readonly changed: () => void) {}

  /** As it was left, on this machine or in the backup that has been put back. */
  async load(db: Knex): Promise<void> {
    const known = settingSchema.safeParse(await readSetting(db, NAME));
    this.isOpen = known.success && known.data.on;
    this.address = known.success ? known.data.address : null;
  }

  async set(db: Knex, on: boolean, address: string | null = null): Promise<void> {
    if (on === this.isOpen && address === this.address) return;
    await writeSetting(db, NAME, { on, address });
    this.isOpen = on;
    this.address = address;
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
