import type { Profile } from '@rondo/core/profile';
import { compile, plainOf, type Plan } from '@rondo/core/round';
import { World } from '@rondo/core/standin';
import { CLOCK, writeMiddleC, type MiddleC } from '@rondo/core/wire';
import { Compiling, type Given } from './compiling';
import { Head } from './frame';
import { writeFrame } from './frame-writer';
import { libraryWith } from './library';
import type { FromEngine } from '../../midi/protocol';
import type { GlassNet, GlassOwner } from './glass-net';
import type { NetOwner, OscNet } from './osc-net';
import { OscPlaces } from './osc-places';
import type { FromWorker, ToWorker } from './protocol';
import { RealPorts } from './real-ports';
import { Tellings } from './tellings';
import { Tempo } from './tempo';

/** Bytes that may be under way to a real port before it has taken them: some ms at USB pace. */
const UNDER_WAY = 256;

/** What is said of links, controls and layers of one profile. */
const OF_A_PROFILE: ReadonlySet<ToWorker['kind']> = new Set([
  'ports',
  'net',
  'session',
  'bankAt',
  'bank',
  'layer',
  'flag',
  'hand',
  'host',
  'play',
  'tryLight',
  'tryMotors',
  'askAgain',
  'checkCable',
  'checkTwice',
]);

/** The engine and its stand-ins behind messages. Knows nothing of workers or timers, so that tests can drive it. */
export class Runner {
  private world: World | null = null;
  private version = -1;
  private readonly tellings = new Tellings((message) => this.post(message));
  private lastT = 0;
  private readonly compiling: Compiling;
  /** Surfaces whose clock is followed. */
  private clocks = new Set<string>();
  /** The profile that was asked for last; while another one plays, what is meant for it waits. */
  private wanted = { id: '', version: -1 };
  private isSwitching = false;
  private readonly early: ToWorker[] = [];
  private readonly ports = new RealPorts({
    takes: (link) => this.places.has(link),
    say: (link, bytes) => this.places.say(link, bytes),
    will: (link, bytes) => this.places.will(link, bytes),
  });
  private readonly places: OscPlaces = new OscPlaces({
    world: () => this.world,
    link: (key) => this.link(key),
    time: () => this.time(),
    epochMicros: () => this.epochMicros,
    post: (message) => this.post(message),
    tell: () => this.tell(),
  });
  private glass: GlassNet | null = null;
  private readonly tempo = new Tempo();
  private toldTempo: number | null = null;

  /**
   * @param post sends to the page
   * @param clock whole µs, never going back
   * @param epochMicros the clock's zero, µs since the Unix epoch
   * @param soon does some work once what has come already has been read
   */
  constructor(
    private readonly post: (message: FromWorker, transfer?: ArrayBuffer[]) => void,
    private readonly clock: () => number,
    private readonly epochMicros: number,
    soon: (work: () => void) => void = (work) => work(),
  ) {
    this.compiling = new Compiling(
      clock,
      soon,
      () => !this.world,
      (plan, { profile, version }) => {
        this.clocks = clocksOf(profile);
        this.swap(plan, version);
      },
    );
  }

  /** Real ports have a holder, or another one: it is told what is held and which ports are whose. */
  joinPorts(toPorts: (message: FromEngine) => void): void {
    this.ports.join(toPorts);
    this.tell();
  }

  /** Time goes on. */
  tick(): void {
    this.world?.advance(this.time());
    this.tellTempo();
    this.tell();
  }

  /** Tells the page what has changed and is told as it changes. */
  private tell(): void {
    this.ports.send(this.world?.engine ?? null);
    if (this.world) this.tellings.tell(this.world);
    this.glass?.tell();
  }

  private time(): number {
    this.lastT = Math.max(this.lastT, this.clock());
    return this.lastT;
  }

  private link(key: string): number {
    return this.world?.engine.linkOf(key) ?? -1;
  }

  receive(message: ToWorker): void {
    if (message.kind === 'profile') this.load(message);
    else if (message.kind === 'describe') this.describe(message);
    else if (this.isEarly(message)) this.early.push(message);
    else if (message.kind === 'middleC') this.nameNotes(message.octave);
    else if (message.kind === 'ping') this.ports.pong();
    else if (message.kind === 'frame') this.fill(message.buffer);
    else if (message.kind === 'watch net') this.places.watch(message.on, message.choice);
    else if (message.kind === 'glass') this.glass?.set(message.on);
    else if (message.kind === 'ask routes')
      this.post({ kind: 'routes', list: this.world?.engine.routes(this.time()) ?? [] });
    else if (this.world) {
      this.obey(this.world, message);
      this.world.settle();
      this.tell();
    }
  }

  /** Whether a message is about a profile that does not play yet. */
  private isEarly({ kind }: ToWorker): boolean {
    return this.world !== null && this.isSwitching && OF_A_PROFILE.has(kind);
  }

  /** Notes are called otherwise: displays that name one are written anew. */
  private nameNotes(octave: MiddleC): void {
    writeMiddleC(octave);
    this.world?.engine.renameTexts(this.time());
  }

  private describe({ profile, version, own }: Extract<ToWorker, { kind: 'describe' }>): void {
    this.post({ kind: 'plan', version, plan: plainOf(compile(profile, libraryWith(own))) });
  }

  private load(given: Given): void {
    const { profile, version } = given;
    if (profile.id !== this.wanted.id) {
      this.isSwitching = true;
      // Whatever was meant for one that is passed over is meant for nobody.
      this.early.length = 0;
    }
    this.wanted = { id: profile.id, version };
    this.compiling.take(given);
  }

  private swap(plan: Plan, version: number): void {
    if (this.world) {
      this.world.advance(this.time());
      this.world.load(plan);
    } else {
      this.world = new World(plan, (link, bytes, from, to) => {
        const key = this.world?.engine.plan.links[link].key;
        if (key) this.ports.gather(key, bytes.subarray(from, to));
      });
    }
    this.version = version;
    this.post({ kind: 'plan', version, plan: plainOf(plan) });
    this.tellings.anew();
    // What was let go of with the old one leaves by the ports that it had.
    this.ports.begin();
    this.places.tellStrokes();
    const links = new Set(plan.links.map(({ key }) => key));
    this.ports.keepOnly(links);
    this.places.keepOnly(links);
    this.tick();
    if (version !== this.wanted.version) return;
    this.isSwitching = false;
    for (const message of this.early.splice(0)) this.receive(message);
  }

  /** Which real ports a link has. What it held on an output that comes back is released there first. */
  private setPorts(
    { engine }: World,
    { link: key, real, input, output }: Extract<ToWorker, { kind: 'ports' }>,
    t: number,
  ): void {
    const link = this.link(key);
    if (link < 0) return;
    this.ports.set(engine, key, { input, output });
    this.world?.setReal(link, real);
    if (!real) return;
    engine.setInputOpen(link, input !== null, t);
    engine.setOutputOpen(link, output !== null, t, UNDER_WAY);
  }

  /** OSC goes by a way of its own, which the server holds. */
  joinNet(make: (owner: NetOwner) => OscNet): void {
    this.places.join(make);
  }

  /** Surfaces on glass have a way of their own, too. */
  joinGlass(make: (owner: GlassOwner) => GlassNet): void {
    this.glass = make({
      world: () => this.world,
      hand: (hand) => this.receive({ kind: 'hand', ...hand }),
      now: () => this.time(),
    });
  }

  /** When a port heard something, µs of this clock: the page's has another zero, and nothing is heard before it comes. */
  private heardAt(at: number): number {
    return Math.min(this.time(), Math.max(0, Math.round(at * 1_000 - this.epochMicros)));
  }

  private obey(world: World, message: ToWorker): void {
    const { engine } = world;
    const t = message.kind === 'bytes' ? this.heardAt(message.at) : this.time();
    // What has waited while the machine stood still is done in its own time, as far as that is not gone already.
    world.advance(Math.max(t, world.time));
    switch (message.kind) {
      case 'hand': {
        const desk = world.desks.get(message.link);
        if (message.does === 'touch') desk?.touch(message.control, message.value > 0);
        else if (message.does === 'move') desk?.moveTo(message.control, message.value);
        else if (message.does === 'press') desk?.press(message.control, message.value > 0);
        else if (message.does === 'turn') desk?.turn(message.control, message.value);
        else if (message.does === 'squeeze') desk?.squeeze(message.control, message.value);
        else desk?.turnPage(message.value);
        return;
      }
      case 'host': {
        if (world.isReal(this.link(message.link))) return;
        const host = world.hosts.get(message.link);
        host?.set(host.slotOf(message.address), message.value);
        return;
      }
      case 'holdOff':
        engine.holdOff = message.on;
        return;
      case 'choosing':
        engine.choosing = message.on;
        return;
      case 'layer':
        engine.setLayer(message.id, message.on, t);
        return;
      case 'flag':
        engine.setFlag(message.id, message.on, t);
        return;
      case 'session':
        engine.restore(message.state, t);
        return;
      case 'play':
        engine.playAt(
          engine.plan.slots.findIndex(({ key }) => key === message.key),
          message.value,
          t,
        );
        return;
      case 'tryLight': {
        const link = this.link(message.link);
        const out = engine.plan.outs.findIndex(
          (one) => one.link === link && one.control.id === message.control && one.part === 'light',
        );
        engine.tryOutput(out, message.wire, t);
        return;
      }
      case 'tryMotors': {
        const link = this.link(message.link);
        if (link >= 0) engine.tryMotors(link, message.test, t);
        return;
      }
      case 'askAgain':
      case 'checkCable':
      case 'checkTwice': {
        const link = this.link(message.link);
        if (link >= 0) engine[message.kind](link, t);
        return;
      }
      case 'panic':
        engine.panic(t);
        return;
      case 'repaint':
        engine.repaint(t);
        return;
      case 'bank':
        engine.moveBank(message.by, t);
        return;
      case 'bankAt':
        engine.goToBank(message.start, t);
        return;
      case 'ports':
        this.setPorts(world, message, t);
        return;
      case 'net':
        this.places.set(world, message.link, message.choice);
        return;
      case 'bytes': {
        const link = this.link(message.link);
        if (message.bytes[0] === CLOCK && this.clocks.has(message.link))
          this.tempo.tick(message.at);
        if (link >= 0) engine.at(t).receive(link, message.bytes, 0, message.bytes.length);
        return;
      }
      case 'taken': {
        const link = this.link(message.link);
        if (link >= 0) engine.acknowledge(link, message.bytes, t);
        return;
      }
    }
  }

  private tellTempo(): void {
    const tempo = this.tempo.at((this.time() + this.epochMicros) / 1_000);
    if (tempo === this.toldTempo) return;
    this.toldTempo = tempo;
    this.post({ kind: 'tempo', tempo });
  }

  private fill(buffer: ArrayBuffer): void {
    const { world } = this;
    if (world) {
      writeFrame(world, this.version, this.time(), buffer);
      this.tellings.tellTexts(world);
    } else new Float64Array(buffer)[Head.Version] = -1;
    this.post({ kind: 'frame', buffer }, [buffer]);
  }
}

/** Links of the surfaces whose role the clock is. */
const clocksOf = ({ surfaces, surfaceOrder }: Profile): Set<string> =>
  new Set(surfaceOrder.filter((id) => surfaces[id].roles?.clock).map((id) => `surface:${id}`));
