import { HOST_MODELS } from '@rondo/core/host';
import { nineFerriesMix, type Action, type Profile } from '@rondo/core/profile';
import { Stop, compile } from '@rondo/core/round';
import { STOCK_SURFACES } from '@rondo/core/surface';
import type { Desk, Studio } from '../standin/index.js';
import { World } from '../standin/world.js';

export const library = {
  surface: (id: string) => STOCK_SURFACES.get(id),
  host: (id: string) => HOST_MODELS.get(id),
};
export const DESK = 0;
export const HOST = 2;
export const TICK = 5_000;

export class MixRoom {
  readonly world: World;
  readonly desk: Desk;
  readonly studio: Studio;
  /** What reached the desk and the host, as hex messages by the thousand microseconds. */
  readonly toDesk: number[][] = [];
  readonly toHost: number[][] = [];

  constructor(profile: Profile = nineFerriesMix()) {
    this.world = new World(compile(profile, library));
    this.desk = this.world.desks.get('surface:desk')!;
    this.studio = this.world.hosts.get('host:studio') as Studio;
    this.listen(this.desk, this.toDesk);
    this.listen(this.studio, this.toHost);
    this.run(1_000_000);
  }
  private listen(to: Desk | Studio, list: number[][]): void {
    const receive = to.receive.bind(to);
    to.receive = (bytes, from, end) => {
      for (let at = from; at < end;) {
        let next = at + 1;
        while (next < end && bytes[next] < 0x80) next++;
        if (bytes[next] === 0xf7) next++;
        list.push([...bytes.slice(at, next)]);
        at = next;
      }
      receive(bytes, from, end);
    };
  }
  run(micros: number): this {
    const end = this.world.time + micros;
    while (this.world.time < end) this.world.advance(Math.min(end, this.world.time + TICK));
    return this;
  }
  do(hand: () => void): this {
    hand();
    this.world.settle();
    return this;
  }
  press(control: string): this {
    return this.do(() => this.desk.press(control, true)).do(() => this.desk.press(control, false));
  }
  host(address: string, value: number): this {
    return this.do(() => this.studio.set(this.studio.slotOf(address), value));
  }
  value(address: string): number {
    return this.studio.values[this.studio.slotOf(address)];
  }
  out(control: string, part: string): number {
    return this.desk.outputs[
      this.desk.outs.findIndex((o) => o.control.id === control && o.part === part)
    ];
  }
  textOf(control: string, part: string): string {
    return this.desk.texts[
      this.desk.outs.findIndex((o) => o.control.id === control && o.part === part)
    ];
  }
  stop(key: string): Stop {
    const { engine } = this.world;
    return engine.log!.stop[engine.plan.parts.findIndex((part) => part.key === `desk/${key}`)];
  }
  motors(from = 0): number[][] {
    return this.toDesk.slice(from).filter(([status]) => (status & 0xf0) === 0xe0);
  }
}
export const step10 = (value: number): number => Math.round(value * 1023);
export const action = (
  functionId: string,
  strip: number,
  behaviour: 'follow' | 'toggle' | 'momentary' = 'follow',
): Action => ({
  do: 'function',
  host: 'studio',
  function: functionId,
  scope: { kind: 'fixed', strip },
  behaviour,
});
