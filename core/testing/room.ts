import { HOST_MODELS, hostNamed, modelOfHost, type MessageHost } from '@rondo/core/host';
import { addHost, addSurface, emptyProfile, type Profile } from '@rondo/core/profile';
import { compile, type Know, type Library, type NoticeKind } from '@rondo/core/round';
import { STOCK_SURFACES, type Surface } from '@rondo/core/surface';
import { fromHex } from '@rondo/core/wire';
import { DeskProgram, World, type Desk } from '@rondo/core/standin';

export const TICK = 5_000;

/** What a room is made of. */
export interface Made {
  readonly surfaces?: readonly string[];
  readonly hosts?: readonly string[];
  /** What stands in place of a profile of these surfaces and hosts. */
  readonly profile?: Profile;
  readonly own?: Readonly<Record<string, Surface>>;
  readonly charts?: Readonly<Record<string, MessageHost>>;
  readonly more?: (profile: Profile) => Profile;
}

/** Simulated surfaces and programs around the engine, joined by bytes alone. */
export class Room {
  readonly world: World;
  /** What left the engine, message by message, by link. */
  readonly sent = new Map<string, number[][]>();
  profile: Profile;
  readonly library: Library;

  constructor({
    surfaces = [],
    hosts = [],
    profile: given,
    own = {},
    charts = {},
    more = (same) => same,
  }: Made) {
    const surface = (id: string) => own[id] ?? STOCK_SURFACES.get(id);
    const known = (id: string) =>
      Object.hasOwn(charts, id) ? modelOfHost(charts[id]) : HOST_MODELS.get(id);
    this.library = { surface, host: (id) => hostNamed(id, known, surface) };
    let profile: Profile = {
      ...emptyProfile('room', 'Room'),
      surfaces: {},
      surfaceOrder: [],
      hosts: {},
      hostOrder: [],
    };
    for (const id of surfaces) profile = addSurface(profile, id, id).document;
    hosts.forEach((model, i) => {
      profile = addHost(profile, model, `Program ${i + 1}`).document;
    });
    this.profile = more(given ?? profile);
    this.world = new World(compile(this.profile, this.library));
    this.world.tap = (link, bytes, from, to) => {
      const { key } = this.world.engine.plan.links[link];
      const list = this.sent.get(key) ?? [];
      this.sent.set(key, list);
      for (let at = from; at < to;) {
        let next = at + 1;
        while (next < to && bytes[next] < 0x80) next++;
        if (next < to && bytes[next] === 0xf7) next++;
        list.push([...bytes.subarray(at, next)]);
        at = next;
      }
    };
    this.run(2_000_000);
  }
  run(micros: number): this {
    const end = this.world.time + micros;
    while (this.world.time < end) this.world.advance(Math.min(end, this.world.time + TICK));
    return this;
  }
  desk(n = 1): Desk {
    return this.world.desks.get(`surface:surface-${n}`)!;
  }
  get program(): DeskProgram {
    return [...this.world.hosts.values()].find((h) => h instanceof DeskProgram) as DeskProgram;
  }
  /** A hand does something, and what it sets off comes to rest. */
  do(hand: () => void, micros = 600_000): this {
    hand();
    this.world.settle();
    return this.run(micros);
  }
  press(control: string, n = 1): this {
    return this.do(() => this.desk(n).press(control, true), 50_000).do(() =>
      this.desk(n).press(control, false),
    );
  }
  /** A hand takes a fader, moves it and lets go. */
  slide(control: string, to: number, n = 1): this {
    return this.do(() => this.desk(n).touch(control, true), 20_000)
      .do(() => this.desk(n).moveTo(control, to), 100_000)
      .do(() => this.desk(n).touch(control, false));
  }
  light(control: string, n = 1, part = 'light'): number {
    const desk = this.desk(n);
    const out = desk.outs.findIndex((o) => o.control.id === control && o.part === part);
    return desk.outputs[out];
  }
  text(control: string, part: string, n = 1): string {
    const desk = this.desk(n);
    return desk.texts[desk.outs.findIndex((o) => o.control.id === control && o.part === part)];
  }
  /** Bytes from behind a link. */
  say(key: string, ...hex: string[]): this {
    const { engine } = this.world;
    for (const text of hex) {
      const bytes = fromHex(text)!;
      engine.at(this.world.time).receive(engine.linkOf(key), bytes, 0, bytes.length);
    }
    return this.do(() => undefined, 100_000);
  }
  notices(kind?: NoticeKind): string[] {
    return this.world.engine.notices
      .list()
      .filter((notice) => kind === undefined || notice.kind === kind)
      .map(({ says }) => says);
  }
  belief(address: string, host = 'host'): { value: number; know: Know; text: string } {
    const { engine } = this.world;
    const slot = engine.plan.slots.findIndex(
      (one) => one.address === address && one.key.startsWith(host === 'host' ? '' : host),
    );
    const { value, know, text } = engine.beliefs;
    return { value: value[slot], know: know[slot], text: text[slot] };
  }
}
