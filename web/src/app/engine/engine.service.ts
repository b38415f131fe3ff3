import { Injectable, inject, signal, untracked } from '@angular/core';
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
import { PicturePace } from './picture-pace';
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
    describe: () => this.describe(),
    hasLink: (link) => this.links().some((one) => one.link === link),
    notThere: () => this.notThere(),
  });
  /** Tempo of the clock that is followed, beats a minute; null while none comes. */
  readonly tempo = signal<number | null>(null);
  /** What has happened on links and their owner should know, the newest first. */
  readonly notices = signal<readonly Notice[]>([]);
  /** A control has asked for a set-up. */
  setUpWished: (id: string) => void = () => undefined;
  /** What was asked in this window is nothing that the window has which plays. */
  notThere: () => void = () => undefined;
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
  private profile: Profile | null = null;
  private own: Own = NOTHING_OWN;
  private middleC: MiddleC = 4;
  private holdOff = false;
  private choosing = false;

  constructor() {
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
    if (this.holdOff) this.post({ kind: 'holdOff', on: true });
    if (this.choosing) this.post({ kind: 'choosing', on: true });
    this.net.tellAgain();
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
    this.profile = profile;
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
    if (this.workers.home() === 'elsewhere' && this.plan) this.frames.showStill(this.plan);
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
    this.holdOff = on;
    this.post({ kind: 'holdOff', on });
  }

  /** Nothing that is touched acts, as while a control is being chosen. */
  setChoosing(on: boolean): void {
    this.choosing = on;
    this.post({ kind: 'choosing', on });
  }

  /** Turns a layer on or off. */
  setLayer(id: string, on: boolean): void {
    this.post({ kind: 'layer', id, on });
  }

  setFlag(id: string, on: boolean): void {
    this.post({ kind: 'flag', id, on });
  }

  panic(): void {
    this.post({ kind: 'panic' });
  }

  repaint(): void {
    this.post({ kind: 'repaint' });
  }

  /** Plays at a state of a host, named by the key of its slot, as lights and motors show it; null ends that. */
  playAt(key: string, value: number | null): void {
    this.post({ kind: 'play', key, value });
  }

  /** Sends a number to a control's light, whatever it is bound to; below 0 it shows its own again. */
  tryOutput(link: string, control: string, wire: number): void {
    this.post({ kind: 'tryLight', link, control, wire });
  }

  /** Tries the motors of a surface; null gives them back. */
  tryMotors(link: string, test: MotorTest | null): void {
    this.post({ kind: 'tryMotors', link, test });
  }

  /** Asks a host to send everything again. */
  askAgain(link: string): void {
    this.post({ kind: 'askAgain', link });
  }

  /** Finds out whether a cable hears itself. */
  checkCable(link: string): void {
    this.post({ kind: 'checkCable', link });
  }

  /** Finds out whether a program follows a device of its own accord. */
  checkTwice(link: string): void {
    this.post({ kind: 'checkTwice', link });
  }

  moveBank(by: number): void {
    this.post({ kind: 'bank', by });
  }

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

  /** How the profile is played now: ports, layers, flags and bank. */
  get playedNow(): Pick<SetUp, 'ports' | 'layers' | 'flags' | 'bank'> {
    const { layers, flags } = this.session.state();
    return {
      // All are said: what is known of a device elsewhere does not count on this occasion.
      ports: Object.fromEntries(
        this.links().map(({ link }) => [link, { ...this.session.choiceOf(link), said: true }]),
      ),
      layers: [...layers],
      flags: { ...flags },
      bank: this.session.bank,
    };
  }

  /**
   * Plays a profile as a set-up has it, at once where it is the one that plays, else when it is opened. What is held is let
   * go of first.
   */
  play({ profile, ports, layers, flags, bank }: SetUp): void {
    const session: Session = { ports, layers, flags, bank };
    writeSession(profile, session);
    this.post({ kind: 'panic' });
    if (this.profile?.id === profile) {
      this.ports.leave();
      this.session.put(session);
      this.tellSession();
    }
    // A panic lets the motors go as well; they are taken hold of again, also for a profile that comes next.
    this.repaint();
  }
}

/** The entries of some keys. */
const only = <T>(all: Readonly<Record<string, T>>, keys: readonly string[]): Record<string, T> =>
  Object.fromEntries(keys.flatMap((key) => (Object.hasOwn(all, key) ? [[key, all[key]]] : [])));

const isSame = <T>(a: Readonly<Record<string, T>>, b: Readonly<Record<string, T>>): boolean =>
  Object.keys(a).length === Object.keys(b).length &&
  Object.entries(a).every(([key, value]) => b[key] === value);
