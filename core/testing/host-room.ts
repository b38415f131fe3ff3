import { STUDIO } from '@rondo/core/host';
import { Booth, Studio, type SimulatedHost } from '../standin/index';

const TICK = 50_000;

export class HostRoom<T extends SimulatedHost> {
  t = 0;
  constructor(readonly host: T) {}
  at(address: string): number {
    const slot = this.host.slotOf(address);
    if (slot < 0) throw new Error(`no ${address}`);
    return slot;
  }
  set(address: string, value: number): this {
    this.host.set(this.at(address), value);
    return this;
  }
  value(address: string): number {
    return this.host.values[this.at(address)];
  }
  text(address: string): string {
    return this.host.textOf(this.at(address));
  }
  private earlier: { values: Float64Array; texts: string[]; more: unknown } | null = null;
  /** Keeps what is seen now, to be asked for later. */
  remember(): this {
    this.earlier = {
      values: this.host.values.slice(),
      texts: [...this.host.texts],
      more: structuredClone(beside(this.host)),
    };
    return this;
  }
  soon(without: string): string {
    const { values, texts, more } = this.earlier!;
    return seen(this.host, without, values, texts, more);
  }
  watched(without: string): string {
    return seen(this.host, without);
  }
  run(micros: number): this {
    const end = this.t + micros;
    while (this.t < end) {
      const step = Math.min(TICK, end - this.t);
      this.t += step;
      this.host.advance(step, this.t);
    }
    return this;
  }
}
export const studio = () => new HostRoom(new Studio(() => undefined));

/** What can be seen of a host beside its values and texts. */
function beside(host: SimulatedHost): unknown {
  if (host instanceof Studio)
    return [
      host.transport.position,
      host.transport.clicks,
      [...host.transport.recorded],
      host.markers,
      host.clips,
      STUDIO.strips.map((_, strip) => host.written(strip)),
    ];
  return host instanceof Booth
    ? [host.decks.map(({ beat, hotCues }) => [beat, hotCues]), host.recorded]
    : [];
}

/** Everything that can be seen of a host but one function's own values. */
function seen(
  host: SimulatedHost,
  without: string,
  values = host.values,
  texts = host.texts,
  more = beside(host),
): string {
  const others = host.slots.flatMap(({ fn }, i) => (fn.id === without ? [] : [values[i]]));
  return JSON.stringify([others, texts, more]);
}
