import { Injectable, computed, effect, inject, signal, untracked } from '@angular/core';
import { idsOf, type Profile, type SetUp } from '@rondo/core/profile';
import type { MotorTest, Notice, PlainPlan } from '@rondo/core/round';
import type { MiddleC } from '@rondo/core/wire';
import { EngineNet } from './engine-net';
import { EngineWorkers } from './engine-workers';
import { Head } from './frame';
import { Frames } from './frames';
import { NOTHING_OWN, libraryWith, type Own } from './library';
import { LinkPorts } from './link-ports';
import { Midi } from './midi';
import { OpenSession } from './open-session';
import { OrderChannel } from './order-channel';
import type { Order, Outcome, Standing } from './orders';
import { PicturePace } from './picture-pace';
import type { PortChoice } from './port-choice';
import { linksOf, type ProfileLink } from './profile-links';
import type { FromWorker, Hand, ToWorker } from './protocol';
import { Recogniser } from './recogniser';
import { writeSession, type Session } from './stored-session';

/**
 * The page's end of the engine: it owns the worker, draws once a frame from what the worker tells, and joins real
 * ports to it. Live values never pass through the store.
 */
@Injectable({ providedIn: 'root' })
export class EngineService {
  readonly midi = inject(Midi);
  readonly workers = new EngineWorkers({
    hear: (message) => this.hear(message),
    here: () => this.begin(),
    begun: () => this.tellAll(),
    died: () => this.midi.release(),
    describe: () => {
      this.describe();
      this.orders.ask();
    },
  });
  /** What changes how it is played goes to the engine that plays, whichever window it is said in. */
  readonly orders = new OrderChannel({
    plays: () => this.workers.isPlaying,
    isPlayedAnywhere: () => this.workers.isPlayedAnywhere(),
    profile: () => this.profile?.id ?? null,
    obey: (order, from) => this.obey(order, from),
    standing: () => this.standing(),
    follow: (standing) => this.follow(standing),
    gone: (window) => {
      this.keepAway('choosing', window, false);
      this.keepAway('teaching', window, false);
    },
    refused: (order, outcome) => this.refused(order, outcome),
  });
  /** Tempo of the clock that is followed, beats a minute; null while none comes. */
  readonly tempo = signal<number | null>(null);
  /** What has happened on links and their owner should know, the newest first. */
  readonly notices = signal<readonly Notice[]>([]);
  /** A control has asked for a set-up. */
  setUpWished: (id: string) => void = () => undefined;
  /** A set-up has been gone over to, said in this window or in another one. */
  setUpPlayed: (setUp: SetUp) => void = () => undefined;
  /** An order that was given in this window was not done. */
  refused: (order: Order, outcome: Outcome) => void = () => undefined;
  /** Touches select and show, but nothing reaches a host. */
  readonly holdOff = signal(false);
  /** The set-up that was gone over to last. */
  readonly setUp = signal(lastSetUp());
  /** Windows in which something is chosen or taught just now, so that touches act on nothing. */
  private readonly away = { choosing: new Set<string>(), teaching: new Set<string>() };
  private readonly keptAway = signal(false);
  /** How the engine stands that plays in another window, as it was told last. */
  private readonly elsewhere = signal<Standing | null>(null);
  /** Its ways beside MIDI. */
  readonly net = new EngineNet((message) => this.post(message));
  /** How the profile that is open is played. */
  private readonly session = new OpenSession();
  readonly ports = new LinkPorts(this.midi, inject(Recogniser), this.session, {
    post: (message) => this.post(message),
    links: () => this.links(),
    modelOf: (link) => this.modelOf(link),
  });
  readonly frames = new Frames(
    (buffer) => this.post({ kind: 'frame', buffer }, [buffer]),
    () => this.showStill(),
  );
  /** Layers and flags that are on. */
  readonly states = this.session.state.asReadonly();
  /** What a worker has told of the profile as it compiled it last, and which version of it that is. */
  private readonly compiled = signal<PlainPlan | null>(null);
  private compiledVersion = -1;

  /** The profile as it was compiled last; what is broken in it, among other things. */
  get plan(): PlainPlan | null {
    return this.compiled();
  }

  /** The plan of a profile as it stands; null while that is still being compiled. What mends by a plan's places needs it. */
  planOf(profile: Profile): PlainPlan | null {
    const isOfNow = this.profile === profile && this.compiledVersion === this.version;
    return isOfNow ? this.compiled() : null;
  }

  private version = 0;
  private readonly taken = signal<Profile | null>(null);
  private get profile(): Profile | null {
    return this.taken();
  }
  private own: Own = NOTHING_OWN;
  private middleC: MiddleC = 4;

  constructor() {
    // Whatever changes here is told to the other windows.
    effect(() => {
      this.standing();
      untracked(() => this.orders.tell());
    });
    this.midi.engineLost = () => this.workers.replace();
    this.midi.rejoined = () => this.joinPorts();
  }

  /** Takes the engine's place in this browser, now or as soon as the other window closes. */
  start(): void {
    this.workers.start();
  }

  private begin(): void {
    void this.midi.resume().then(() => this.ports.findAgain());
    const pace = new PicturePace();
    // Comes back once the browser has laid out and painted what was drawn in between.
    const after = new MessageChannel();
    after.port1.onmessage = ({ data }: MessageEvent<number>) => pace.took(data, performance.now());
    const loop = () => {
      requestAnimationFrame(loop);
      const now = performance.now();
      if (!pace.isDue(now)) return;
      this.draw();
      after.port2.postMessage(now);
    };
    requestAnimationFrame(loop);
  }

  /** Has the profile compiled by a worker that plays nothing. */
  private describe(): void {
    const { profile, own, version } = this;
    if (profile) this.workers.postToDescriber({ kind: 'describe', version, profile, own });
  }

  /** Tells a worker that has just begun all that the one before it knew. */
  private tellAll(): void {
    this.frames.anew();
    this.joinPorts();
    this.post({ kind: 'middleC', octave: this.middleC });
    this.version++;
    if (this.profile) this.sendProfile(this.profile);
    if (this.holdOff()) this.post({ kind: 'holdOff', on: true });
    this.away.choosing.clear();
    this.away.teaching.clear();
    this.net.tellAgain();
    this.orders.begin();
  }

  private post(message: ToWorker, transfer: Transferable[] = []): void {
    this.workers.post(message, transfer);
  }

  /** Joins the worker to whoever holds the real ports. */
  private joinPorts(): void {
    if (!this.workers.isPlaying) return;
    const { port1, port2 } = new MessageChannel();
    this.post({ kind: 'join ports' }, [port1]);
    this.midi.joinEngine(port2);
  }

  private hear(message: FromWorker): void {
    if (this.net.hear(message)) return;
    switch (message.kind) {
      case 'plan':
        this.learn(message.plan, message.version);
        return;
      case 'frame':
        this.frames.take(message.buffer);
        return;
      case 'texts':
        this.frames.displays = message.displays;
        this.frames.slotTexts = message.slots;
        return;
      case 'tempo':
        this.tempo.set(message.tempo);
        return;
      case 'session':
        this.session.keepState(message.state);
        return;
      case 'held off':
        this.holdOff.set(message.on);
        return;
      case 'notices':
        this.notices.set(message.list);
        return;
      case 'set up':
        this.setUpWished(message.id);
        return;
    }
  }

  /** A worker has compiled what was given last; what came before that is passed over. */
  private learn(plan: PlainPlan, version: number): void {
    if (version !== this.version) return;
    this.compiledVersion = version;
    this.compiled.set(plan);
    this.showStill();
  }

  /** Gives the engine a profile and what it uses of the user's own; everything live is kept. */
  setProfile(profile: Profile, own: Own): void {
    // Whoever gives a profile does not wait for what is made of it.
    untracked(() => this.take(profile, own));
  }

  private take(profile: Profile, all: Own): void {
    const changedProfile = this.profile?.id !== profile.id;
    const ids = idsOf(profile);
    const own: Own = {
      surfaces: only(all.surfaces, ids.surfaces),
      hosts: only(all.hosts, ids.hosts),
    };
    const same = isSame(own.surfaces, this.own.surfaces) && isSame(own.hosts, this.own.hosts);
    if (this.profile === profile && same) return;
    this.taken.set(profile);
    this.own = own;
    this.version++;
    this.frames.now = null;
    if (changedProfile) {
      // Nothing of the one before is taken for this one's.
      this.compiled.set(null);
      this.ports.leave();
      this.session.open(profile.id);
    }
    // What it died of may be gone with this edit.
    if (this.workers.failed()) this.workers.startAgain();
    else if (this.workers.isPlaying) this.sendProfile(profile, changedProfile);
    else this.describe();
  }

  /** The engine plays as the session says: bank, layers, flags and ports. */
  private tellSession(): void {
    this.post({ kind: 'session', state: this.session.state() });
    this.post({ kind: 'bankAt', start: this.session.bank });
    this.ports.apply();
  }

  private sendProfile(profile: Profile, fresh = true): void {
    this.post({ kind: 'profile', version: this.version, profile, own: this.own });
    if (fresh) this.tellSession();
  }

  private draw(): void {
    const isOfNow = this.compiledVersion === this.version;
    const painted = this.frames.draw(
      isOfNow && this.workers.isPlaying ? this.plan : null,
      this.version,
    );
    if (painted) this.session.keepBank(painted.head(Head.Bank));
  }

  /** Where another window plays, what can be edited is shown as if nothing moved. */
  private showStill(): void {
    if (this.workers.home() === 'elsewhere' && this.plan)
      this.frames.showStill(this.plan, this.session.now());
  }

  hand(hand: Hand): void {
    this.post({ kind: 'hand', ...hand });
  }

  /** A hand on the simulated host's own picture. */
  touchHost(link: string, address: string, value: number): void {
    this.post({ kind: 'host', link, address, value });
  }

  /** How notes are called on displays. */
  setMiddleC(octave: MiddleC): void {
    this.middleC = octave;
    this.post({ kind: 'middleC', octave });
  }

  setHoldOff(on: boolean): void {
    this.orders.give({ kind: 'holdOff', on });
  }

  /** Nothing that is touched acts, as while a control is being chosen. */
  setChoosing(on: boolean): void {
    this.orders.give({ kind: 'choosing', on });
  }

  /** All that comes in is kept away from the engine, as while a surface is taught. */
  setTeaching(on: boolean): void {
    this.orders.give({ kind: 'teaching', on });
  }

  /** Turns a layer on or off. */
  setLayer(id: string, on: boolean): void {
    this.orders.give({ kind: 'layer', id, on });
  }

  setFlag(id: string, on: boolean): void {
    this.orders.give({ kind: 'flag', id, on });
  }

  panic(): void {
    this.orders.give({ kind: 'panic' });
  }

  repaint(): void {
    this.orders.give({ kind: 'repaint' });
  }

  /** Plays at a state of a host, named by the key of its slot, as lights and motors show it; null ends that. */
  playAt(key: string, value: number | null): void {
    this.orders.give({ kind: 'play', key, value });
  }

  /** Sends a number to a control's light, whatever it is bound to; below 0 it shows its own again. */
  tryOutput(link: string, control: string, wire: number): void {
    this.orders.give({ kind: 'tryLight', link, control, wire });
  }

  /** Tries the motors of a surface; null gives them back. */
  tryMotors(link: string, test: MotorTest | null): void {
    this.orders.give({ kind: 'tryMotors', link, test });
  }

  /** Asks a host to send everything again. */
  askAgain(link: string): void {
    this.orders.give({ kind: 'askAgain', link });
  }

  /** Finds out whether a cable hears itself. */
  checkCable(link: string): void {
    this.orders.give({ kind: 'checkCable', link });
  }

  /** Finds out whether a program follows a device of its own accord. */
  checkTwice(link: string): void {
    this.orders.give({ kind: 'checkTwice', link });
  }

  moveBank(by: number): void {
    this.orders.give({ kind: 'bank', by });
  }

  /** Chooses ports for a link; null for both is a real link with nothing plugged in. */
  choosePorts(link: string, choice: PortChoice): void {
    this.orders.give({ kind: 'ports', link, choice });
  }

  /** Plays a profile as a set-up has it. */
  async goOver(setUp: SetUp): Promise<void> {
    if (await this.workers.isPlayedAnywhere()) this.orders.give({ kind: 'setUp', setUp });
    // Nothing plays yet: its profile begins so when it is opened.
    else this.play(setUp);
  }

  /** Does what is ordered, in the window that plays. */
  private obey(order: Order, from: string): Outcome {
    switch (order.kind) {
      case 'choosing':
      case 'teaching':
        this.keepAway(order.kind, from, order.on);
        return 'done';
      case 'setUp':
        this.play(order.setUp);
        return 'done';
      case 'ports':
        if (!this.hasLink(order.link)) return 'notThere';
        this.ports.choose(order.link, order.choice);
        return 'done';
      case 'holdOff':
        this.holdOff.set(order.on);
        this.post(order);
        return 'done';
      default:
        if ('link' in order && !this.hasLink(order.link)) return 'notThere';
        this.post(order);
        return 'done';
    }
  }

  private hasLink(link: string): boolean {
    return this.links().some((one) => one.link === link);
  }

  /** Touches are kept away as long as any window wants it. */
  private keepAway(what: 'choosing' | 'teaching', window: string, on: boolean): void {
    const { [what]: windows, choosing, teaching } = this.away;
    const before = windows.size > 0;
    if (on) windows.add(window);
    else windows.delete(window);
    if (windows.size > 0 !== before) {
      if (what === 'choosing') this.post({ kind: 'choosing', on });
      else this.ports.divert(on);
    }
    this.keptAway.set(choosing.size + teaching.size > 0);
  }

  /** How the engine stands, as all windows say it. */
  private standing(): Standing {
    const profile = this.taken();
    return {
      profile: profile && { id: profile.id, name: profile.name },
      holdOff: this.holdOff(),
      isKeptAway: this.keptAway(),
      ...this.session.now(),
      setUp: this.setUp(),
    };
  }

  /** Shows how the engine stands that plays in another window. */
  private follow(standing: Standing): void {
    this.elsewhere.set(standing);
    this.holdOff.set(standing.holdOff);
    this.setUp.set(standing.setUp);
    if (standing.profile?.id !== this.profile?.id) return;
    this.session.show(standing);
    this.showStill();
  }

  /** What is open in the window that plays, where that is another profile than here; null where it is the same. */
  readonly otherProfile = computed(() => {
    const there = this.elsewhere()?.profile ?? null;
    const isElsewhere = this.workers.home() === 'elsewhere';
    return isElsewhere && there && there.id !== this.taken()?.id ? there : null;
  });

  /** What of the profile has a cable, also before it is compiled. */
  private links(): ProfileLink[] {
    const { profile, own } = this;
    if (!profile) return [];
    const library = libraryWith(own);
    return linksOf(
      profile,
      (host) => library.host(profile.hosts[host].model),
      (surface) => library.surface(surface),
    );
  }

  /** The surface behind a link, by its model; null for a host. */
  private modelOf(link: string): string | null {
    const id = link.startsWith('surface:') ? link.slice('surface:'.length) : '';
    const { profile } = this;
    return profile && Object.hasOwn(profile.surfaces, id) ? profile.surfaces[id].model : null;
  }

  /** The network was switched: all that waits for it is tried again. */
  retryNet(): void {
    this.net.news.set({});
    this.ports.apply();
  }

  /** Id of the profile that plays; null where none does. */
  get playing(): string | null {
    return this.profile?.id ?? null;
  }

  /**
   * How the profile is played now: ports, layers, flags and bank; null where another window plays another profile, so that
   * nobody knows.
   */
  get playedNow(): Session | null {
    if (!this.workers.isPlaying && (this.elsewhere() === null || this.otherProfile())) return null;
    return {
      ...this.session.now(),
      // All are said: what is known of a device elsewhere does not count on this occasion.
      ports: Object.fromEntries(
        this.links().map(({ link }) => [link, { ...this.session.choiceOf(link), said: true }]),
      ),
    };
  }

  /**
   * Plays a profile as a set-up has it, at once where it is the one that plays, else when it is opened. What is held is let
   * go of first.
   */
  private play(setUp: SetUp): void {
    const { profile, ports, layers, flags, bank } = setUp;
    const session: Session = { ports, layers, flags, bank };
    writeSession(profile, session);
    this.setUp.set(setUp.id);
    rememberSetUp(setUp.id);
    this.post({ kind: 'panic' });
    if (this.profile?.id === profile) {
      this.ports.leave();
      this.session.put(session);
      this.tellSession();
    }
    // A panic lets the motors go as well; they are taken hold of again, also for a profile that comes next.
    this.post({ kind: 'repaint' });
    this.setUpPlayed(setUp);
  }
}

const LAST_SET_UP = 'rondo.setup.last';

function lastSetUp(): string | null {
  try {
    return localStorage.getItem(LAST_SET_UP);
  } catch {
    return null;
  }
}

function rememberSetUp(id: string): void {
  try {
    localStorage.setItem(LAST_SET_UP, id);
  } catch {
    // A full or forbidden store only means that it is not marked next time.
  }
}

/** The entries of some keys. */
const only = <T>(all: Readonly<Record<string, T>>, keys: readonly string[]): Record<string, T> =>
  Object.fromEntries(keys.flatMap((key) => (Object.hasOwn(all, key) ? [[key, all[key]]] : [])));

const isSame = <T>(a: Readonly<Record<string, T>>, b: Readonly<Record<string, T>>): boolean =>
  Object.keys(a).length === Object.keys(b).length &&
  Object.entries(a).every(([key, value]) => b[key] === value);
