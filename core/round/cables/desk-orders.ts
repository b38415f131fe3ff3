import { encodeDesk, type DeskMessage } from '@rondo/core/wire';
import type { Round } from '../round.js';
import type { Obeys } from './greeting.js';

/** Does what a program orders that takes Rondo for its desk. */
export class DeskOrders implements Obeys {
  /**
   * @param round the round under the plan that is loaded
   * @param push sends bytes on a link
   */
  constructor(
    private readonly round: () => Round,
    private readonly push: (link: number, bytes: Uint8Array) => void,
  ) {}

  fadersDown(link: number): void {
    this.round().reports.clearValues(link, 'continuous');
  }

  lightsOff(link: number): void {
    this.round().reports.clearValues(link, 'toggle');
  }

  textsOff(link: number): void {
    this.round().reports.clearTexts(link);
  }

  hasSpoken(link: number): boolean {
    return this.round().reports.hasSpoken(link);
  }

  toDesks(link: number, message: DeskMessage): void {
    const { outboxes, plan } = this.round();
    plan.links.forEach(({ standsBefore, desk }, to) => {
      if (standsBefore !== link || !desk || !outboxes[to].open) return;
      this.push(to, encodeDesk({ ...message, ...('unit' in message ? { unit: desk } : {}) }));
    });
  }
}
