import type { Knex } from 'knex';
import type { Network } from '../osc/network.js';
import { GlassDevices } from './devices.js';
import { GlassListener } from './listener.js';
import { GlassRelay } from './relay.js';

/** How things stand, as the page is told. */
export interface GlassStanding {
  readonly isOpen: boolean;
  readonly port: number;
  readonly devices: readonly {
    readonly id: string;
    readonly name: string;
    readonly surface: string;
    readonly pairedAt: string;
    readonly isHere: boolean;
  }[];
}

/** Surfaces on glass: the devices that may show one, their way in, and the engine behind. */
export class Glass {
  readonly devices: GlassDevices;
  readonly relay: GlassRelay;
  private readonly listener: GlassListener;

  /**
   * @param folder of the glass page's files
   * @param database where devices are remembered
   */
  constructor(
    folder: string,
    private readonly network: Network,
    database: () => Promise<Knex>,
    now?: () => number,
  ) {
    this.devices = new GlassDevices(now);
    this.relay = new GlassRelay({
      pair: async (code, name) => this.devices.pair(await database(), code, name),
      find: (id, secret) => this.devices.find(id, secret),
    });
    this.listener = new GlassListener(this.relay, folder, () => network.addresses);
  }

  /** Opens or closes the way in, as the network is switched now. */
  async follow(port: number): Promise<void> {
    this.listener.close();
    if (this.network.isOpen) await this.listener.open(port, this.network.address);
  }

  standing(): GlassStanding {
    const here = this.relay.connected;
    return {
      isOpen: this.listener.isOpen,
      port: this.listener.port,
      devices: this.devices.list().map(({ id, name, surface, pairedAt }) => ({
        id,
        name,
        surface,
        pairedAt,
        isHere: here.has(id),
      })),
    };
  }

  /** Sends a device away for good; false where it is not there. */
  async sendAway(db: Knex, id: string): Promise<boolean> {
    if (!(await this.devices.revoke(db, id))) return false;
    this.relay.sendAway(id);
    return true;
  }

  close(): void {
    this.listener.close();
  }
}
