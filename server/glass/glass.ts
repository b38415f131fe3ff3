import type { Knex } from 'knex';
import type { Network } from '../osc/network.js';
import { GlassDevices } from './devices.js';
import { GlassListener } from './listener.js';
import { GlassRelay } from './relay.js';

/** How things stand, as the page is told. */
export interface GlassStanding {
  readonly isOpen: boolean;
  /** Why it is not open although the network is on, in a sentence; '' for nothing. */
  readonly fault: string;
  readonly port: number;
  /** Ids of codes that still let somebody in. */
  readonly codes: readonly string[];
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
  private turn = Promise.resolve();
  /** Why there is no way in although the network is on; '' for nothing. */
  private fault = '';

  /**
   * @param folder of the glass page's files
   * @param database where devices are remembered
   * @param report hears of faults of ours
   */
  constructor(
    folder: string,
    private readonly network: Network,
    private readonly database: () => Promise<Knex>,
    report: (error: unknown) => void,
    now?: () => number,
  ) {
    this.devices = new GlassDevices(now);
    this.relay = new GlassRelay({
      pair: (address, code, name) => this.devices.pair(database, address, code, name),
      find: (id, secret) => this.devices.find(id, secret),
      report,
    });
    this.listener = new GlassListener(this.relay, folder, () => network.addresses);
  }

  /**
   * Opens or closes the way in, as the network is switched by then. One after the other, so that none that opens is passed by
   * one that closes.
   */
  follow(port: number): Promise<void> {
    this.turn = this.turn.then(async () => {
      this.listener.close();
      this.fault = '';
      if (!this.network.isOpen) return;
      const { address } = this.network;
      this.fault = await this.listener.open(port, address).then(
        () => '',
        () =>
          address === null
            ? 'No port is free for glass. Close other programs, then switch the network off and on.'
            : `This computer is not at ${address} just now. Choose another address for glass, or any.`,
      );
    });
    return this.turn;
  }

  standing(): GlassStanding {
    const here = this.relay.connected;
    return {
      isOpen: this.listener.isOpen,
      fault: this.fault,
      port: this.listener.port,
      codes: this.devices.goodCodes,
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
  async sendAway(id: string): Promise<boolean> {
    if (!(await this.devices.revoke(this.database, id))) return false;
    this.relay.sendAway(id);
    return true;
  }

  /** Closes the way in for good. */
  async close(): Promise<void> {
    await this.turn;
    this.listener.close();
  }
}
