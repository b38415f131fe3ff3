import type { MiddleC } from '@rondo/core/wire';
import { Injectable, effect, inject, signal, untracked } from '@angular/core';
import type { Profile, SetUp } from '@rondo/core/profile';
import { type MotorTest, type Notice, type PlainPlan, type SessionState } from '@rondo/core/round';
import { EngineNet } from './engine-net';
import { Frame, Head, frameLength, stillFrame } from './frame';
import { idsOf } from '@rondo/core/profile';
import { NOTHING_OWN, libraryWith, type Own } from './library';
import { Midi } from './midi';
import { PicturePace } from './picture-pace';
import { linksOf, type ProfileLink } from './profile-links';
import { SIMULATED, deviceHere, netOfDevice, rememberDevice, type PortChoice } from './port-choice';
import { chosenOf, findPort } from './port-names';
import { Recogniser, sameIdentity } from './recogniser';
import type { FromWorker, Hand, ToWorker } from './protocol';
import { readSession, writeSession, type Session } from './stored-session';

export type EngineHome = 'starting' | 'here' | 'elsewhere';

const ENGINE_LOCK = 'rondo-engine';
/** Deaths of the worker within so many ms count as a row; after so many it is not started again by itself. */
const SOON_MS = 20_000;
const MOST_DEATHS = 3;

type Painter = (frame: Frame) => void;

/** When something is painted: once in `every` frames, `turn` frames after the others that share this rhythm. */
export interface Rhythm {
  readonly every: number;
  readonly turn: number;
}
const EACH_FRAME: Rhythm = { every: 1, turn: 0 };

/**
 * The page's end of the engine: it owns the worker, draws once a frame from what the worker tells, and joins real
 * ports to it. Live values never pass through the store.
 */
@Injectable({ providedIn: 'root' })
export class EngineService {
  readonly midi = inject(Midi);
  private readonly recogniser = inject(Recogniser);
  /** One engine an origin: here, or in another window. */
  readonly home = signal<EngineHome>('starting');
  readonly choices = signal<Readonly<Record<string, PortChoice>>>({});
  /** Counts restarts after the worker died. */
  readonly restarts = signal(0);
  /** It died so often in a row that it is left alone until something is changed. */
  readonly failed = signal(false);
  private deaths: number[] = [];
  /** Tempo of the clock that is followed, beats a minute; null while none comes. */
  readonly tempo = signal<number | null>(null);
  /** Layers and flags that are on, as the engine tells whenever they change. */
  readonly session = signal<SessionState>({ layers: [], flags: {} });
  /** What has happened on links and their owner should know, the newest first. */
  readonly notices = signal<readonly Notice[]>([]);
  /** A control has asked for a set-up. */
  setUpWished: (id: string) => void = () => undefined;
  /** Its ways beside MIDI. */
  readonly net = new EngineNet((message) => this.post(message));
  displays: readonly string[] = [];
  slotTexts: readonly string[] = [];
  /** Newest frame, kept until the next one. */
  frame: Frame | null = null;
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

  private worker: Worker | null = null;
  /** Where another window plays: what compiles here, so that the profile can be shown and edited. */
  private describer: Worker | null = null;
  private version = 0;
  private profile: Profile | null = null;
  private own: Own = NOTHING_OWN;
  /** All that comes in goes to watchers only, as while a surface is taught. */
  private diverted = false;
  /** Screens that show every input. */
  private readonly screensWatch = signal(0);
  private readonly painters = new Map<Painter, Rhythm>();
  private painted = 0;
  private waitingBuffer: ArrayBuffer | null = null;
  private asked = false;
  private middleC: MiddleC = 4;
  private holdOff = false;
  private choosing = false;
  private savedBank = 0;

  constructor() {
    this.midi.engineLost = () => {
      if (!this.failed()) this.restart();
    };
    this.midi.rejoined = () => this.joinPorts();
    this.midi.changed = () => {
      this.applyPorts();
      void this.findAgain();
    };
    effect(() => {
      if (this.screensWatch() > 0) for (const { id } of this.midi.inputs()) this.midi.listen(id);
    });
  }

  /** Takes the engine's place in this browser, now or as soon as the other window closes. */
  start(): void {
    if (this.worker) return;
    if (!navigator.locks) {
      this.run();
      return;
    }
    const hold = () => new Promise<void>(() => this.run());
    void navigator.locks.request(ENGINE_LOCK, { ifAvailable: true }, (lock) => {
      if (lock) return hold();
      this.home.set('elsewhere');
      this.describe();
      void navigator.locks.request(ENGINE_LOCK, hold);
      return undefined;
    });
  }

  private run(): void {
    this.describer?.terminate();
    this.describer = null;
    this.spawn();
    this.frame = null;
    this.home.set('here');
    void this.midi.resume().then(() => this.findAgain());
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

  private makeWorker(): Worker {
    const worker = new Worker(new URL('./engine.worker', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<FromWorker>) => this.hear(data);
    return worker;
  }

  /** Has the profile compiled by a worker that plays nothing. */
  private describe(): void {
    const { profile, own, version } = this;
    if (this.home() !== 'elsewhere' || !profile) return;
    this.describer ??= this.makeWorker();
    const message: ToWorker = { kind: 'describe', version, profile, own };
    this.describer.postMessage(message);
  }

  private spawn(): void {
    this.worker = this.makeWorker();
    this.worker.onerror = (event) => {
      event.preventDefault();
      this.restart();
    };
    this.asked = false;
    this.waitingBuffer = null;
    this.joinPorts();
    this.post({ kind: 'middleC', octave: this.middleC });
    this.version++;
    this.frame = null;
    if (this.profile) this.sendProfile(this.profile);
    if (this.holdOff) this.post({ kind: 'holdOff', on: true });
    if (this.choosing) this.post({ kind: 'choosing', on: true });
    this.net.tellAgain();
  }

  private post(message: ToWorker, transfer: Transferable[] = []): void {
    this.worker?.postMessage(message, transfer);
  }

  /** Joins the worker to whoever holds the real ports. */
  private joinPorts(): void {
    if (!this.worker) return;
    const { port1, port2 } = new MessageChannel();
    this.post({ kind: 'join ports' }, [port1]);
    this.midi.joinEngine(port2);
  }

  /** After the worker died: release what it held, start another, and let it repaint everything. */
  private restart(): void {
    this.midi.release();
    this.worker?.terminate();
    this.worker = null;
    const now = Date.now();
    this.deaths = [...this.deaths.filter((at) => now - at < SOON_MS), now];
    if (this.deaths.length > MOST_DEATHS) {
      this.failed.set(true);
      return;
    }
    this.restarts.update((count) => count + 1);
    this.spawn();
  }

  /** Starts the engine again after it was left alone. */
  startAgain(): void {
    if (!this.failed()) return;
    this.failed.set(false);
    this.deaths = [];
    this.spawn();
  }

  private hear(message: FromWorker): void {
    if (this.net.hear(message)) return;
    switch (message.kind) {
      case 'plan':
        this.learn(message.plan, message.version);
        return;
      case 'frame':
        this.waitingBuffer = message.buffer;
        this.asked = false;
        return;
      case 'texts':
        this.displays = message.displays;
        this.slotTexts = message.slots;
        return;
      case 'tempo':
        this.tempo.set(message.tempo);
        return;
      case 'session':
        this.session.set(message.state);
        this.writeSession();
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
    this.frame = null;
    if (changedProfile) {
      // Nothing of the one before is taken for this one's.
      this.compiled.set(null);
      for (const { input } of Object.values(this.choices())) if (input) this.midi.ignore(input.id);
      const session = readSession(this.profile?.id ?? '');
      this.choices.set(session.ports);
      this.savedBank = session.bank;
      this.session.set({ layers: session.layers, flags: session.flags });
    }
    this.describe();
    if (this.worker) this.sendProfile(profile, changedProfile);
    // What it died of may be gone with this edit.
    else if (this.failed()) this.startAgain();
  }

  private sendProfile(profile: Profile, fresh = true): void {
    this.post({ kind: 'profile', version: this.version, profile, own: this.own });
    if (!fresh) return;
    this.post({ kind: 'bankAt', start: this.savedBank });
    this.post({ kind: 'session', state: this.session() });
    this.applyPorts();
  }

  /** Two buffers take turns: one is on the page, the other under way. */
  private draw(): void {
    const buffer = this.waitingBuffer;
    let spare = buffer;
    this.waitingBuffer = null;
    const isOfNow = this.compiledVersion === this.version;
    if (this.plan && isOfNow && buffer?.byteLength === this.bytes) {
      const frame = new Frame(this.plan, buffer);
      if (frame.head(Head.Version) === this.version) {
        spare = this.frame?.numbers.buffer ?? null;
        this.frame = frame;
        this.rememberBank(frame.head(Head.Bank));
        this.painted++;
        for (const [paint, { every, turn }] of this.painters)
          if (this.painted % every === turn) paint(frame);
      }
    }
    if (this.asked || !this.plan || !this.worker) return;
    const next = spare?.byteLength === this.bytes ? spare : new ArrayBuffer(this.bytes);
    this.asked = true;
    this.post({ kind: 'frame', buffer: next }, [next]);
  }

  /** Where another window plays, what can be edited is shown as if nothing moved. */
  private showStill(): void {
    if (this.home() !== 'elsewhere' || !this.plan) return;
    const frame = stillFrame(this.plan);
    this.frame = frame;
    // When what paints is there, as in every frame that the engine tells.
    requestAnimationFrame(() => {
      if (this.frame === frame) for (const paint of this.painters.keys()) paint(frame);
    });
  }

  private get bytes(): number {
    return this.plan ? frameLength(this.plan) * Float64Array.BYTES_PER_ELEMENT : 0;
  }

  /** Calls `painter` once a frame, or in a slower rhythm, until the returned function is called. */
  paint(painter: Painter, rhythm = EACH_FRAME): () => void {
    this.painters.set(painter, rhythm);
    if (this.home() === 'elsewhere') this.showStill();
    return () => this.painters.delete(painter);
  }

  hand(hand: Hand): void {
    this.post({ kind: 'hand', ...hand });
  }

  /** A hand on the simulated host's own picture. */
  touchHost(link: string, address: string, value: number): void {
    this.post({ kind: 'host', link, address, value });
  }

  /** Keeps everything that comes in away from the engine: nothing that is touched acts. */
  divert(on: boolean): void {
    this.diverted = on;
    this.applyPorts();
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

  choiceOf(link: string): PortChoice {
    return this.choices()[link] ?? SIMULATED;
  }

  /** The network was switched: all that waits for it is tried again. */
  retryNet(): void {
    this.net.news.set({});
    this.applyPorts();
  }

  /** Whether an input is one of those chosen. */
  uses(inputId: string): boolean {
    return Object.values(this.choices()).some(({ real, input }) => real && input?.id === inputId);
  }

  /** Keeps the ports of a profile that has never been open, for when it is. */
  presetPorts(profileId: string, ports: Readonly<Record<string, PortChoice>>): void {
    if (Object.keys(ports).length === 0) return;
    const session: Session = { bank: 0, ports, layers: [], flags: {} };
    writeSession(profileId, session);
  }

  /** Chooses ports for a link; null for both is a real link with nothing plugged in. */
  choose(link: string, { identity, ...wanted }: PortChoice): void {
    const before = this.choiceOf(link);
    if (before.input && before.input.id !== wanted.input?.id) this.midi.ignore(before.input.id);
    const isSame = before.output?.id === wanted.output?.id;
    const choice: PortChoice = {
      ...wanted,
      input: wanted.input && chosenOf(wanted.input, this.midi.inputs()),
      output: wanted.output && chosenOf(wanted.output, this.midi.outputs()),
      // Behind another port is another device.
      ...(identity && isSame ? { identity } : {}),
      said: true,
    };
    this.keep(link, choice);
    this.applyPorts();
    if (link.startsWith('surface:') && choice.real && choice.output) void this.remember(link);
  }

  /** Keeps a choice for this profile, and where the device is for every one. */
  private keep(link: string, choice: PortChoice): void {
    this.choices.update((all) => ({ ...all, [link]: choice }));
    const model = this.modelOf(link);
    if (model !== null && choice.real) rememberDevice(model, choice);
    this.writeSession();
  }

  /** Asks the device behind a chosen output who it is, to know it again. */
  private async remember(link: string): Promise<void> {
    const { output } = this.choiceOf(link);
    if (!output || !this.midi.hasOutput(output.id)) return;
    const answer = await this.recogniser.ask(output.id, (id) => this.isKept(id));
    if (!answer || this.choiceOf(link).output?.id !== output.id) return;
    const { manufacturer, family, member } = answer.identity;
    const identity = { manufacturer, family, member };
    this.keep(link, { ...this.choiceOf(link), identity });
  }

  /** Looks for devices whose ports are gone among those that are there now, by who they say they are. */
  private async findAgain(): Promise<void> {
    for (const [link, choice] of Object.entries(this.choices())) {
      const { output, identity } = choice;
      if (!choice.real || !identity || !output || this.midi.hasOutput(output.id)) continue;
      const taken = new Set(Object.values(this.choices()).map((other) => other.output?.id));
      for (const candidate of this.midi.outputs()) {
        if (taken.has(candidate.id)) continue;
        const answer = await this.recogniser.ask(candidate.id, (id) => this.isKept(id));
        if (!answer || !sameIdentity(answer.identity, identity)) continue;
        const input = this.midi.inputs().find(({ id }) => id === answer.inputId) ?? null;
        this.keep(link, { ...choice, input: input ?? choice.input, output: candidate });
        this.applyPorts();
        break;
      }
    }
  }

  /** Whether an input is to stay open: chosen for a link, or watched by a screen. */
  private isKept(inputId: string): boolean {
    return this.uses(inputId) || this.screensWatch() > 0;
  }

  /** Keeps all inputs open while a screen shows them; call the returned function at its end. */
  watchAll(): () => void {
    this.screensWatch.update((count) => count + 1);
    return () => {
      this.screensWatch.update((count) => count - 1);
      // Others may need a port that nobody here listens to any more.
      for (const { id } of this.midi.inputs()) if (!this.isKept(id)) this.midi.ignore(id);
    };
  }

  /** The surface behind a link, by its model; null for a host. */
  private modelOf(link: string): string | null {
    const id = link.startsWith('surface:') ? link.slice('surface:'.length) : '';
    const { profile } = this;
    return profile && Object.hasOwn(profile.surfaces, id) ? profile.surfaces[id].model : null;
  }

  /** What was chosen for a link; where nothing was, the ports on which its device is known to be, if nobody has them. */
  private choiceNow(link: string, all: Readonly<Record<string, PortChoice>>): PortChoice {
    const chosen = all[link] ?? SIMULATED;
    const model = this.modelOf(link);
    if (chosen.said || chosen.real || model === null) return chosen;
    const known = deviceHere(model, this.midi.inputs(), this.midi.outputs());
    const isTaken = Object.entries(all).some(
      ([other, { real, input }]) =>
        other !== link && real && input !== null && input.id === known?.input?.id,
    );
    return known && !isTaken ? known : chosen;
  }

  /** What was chosen for an OSC link; where nothing was, the port on which its device is known, if no other link has it. */
  private netChoiceNow(link: string, all: Readonly<Record<string, PortChoice>>): PortChoice {
    const chosen = all[link] ?? SIMULATED;
    const model = this.modelOf(link);
    if (chosen.said || chosen.real || model === null) return chosen;
    const known = netOfDevice(model);
    const isTaken = Object.entries(all).some(
      ([other, { real, net }]) => other !== link && real && net?.listen === known?.net?.listen,
    );
    return known && !isTaken ? known : chosen;
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

  /** Opens the chosen ports that are there, by id, else by name, and tells the engine. */
  private applyPorts(): void {
    const found = { ...this.choices() };
    // All links, so that one without a choice goes back to its simulation when another profile is opened.
    const links = this.links();
    const keys = links.map(({ link }) => link);
    for (const link of hostsFirst(new Set([...keys, ...Object.keys(found)]))) {
      if (links.some((one) => one.link === link && one.isOsc)) {
        found[link] = this.netChoiceNow(link, found);
        const { real, net } = found[link];
        // What is diverted is closed to the engine, which lets go of what was held there.
        const choice = real && net ? { ...net, listen: this.diverted ? null : net.listen } : null;
        this.post({ kind: 'net', link, choice });
        continue;
      }
      const choice = this.choiceNow(link, found);
      found[link] = choice;
      if (choice.real) {
        const input = findPort(choice.input, this.midi.inputs());
        const output = findPort(choice.output, this.midi.outputs());
        found[link] = { ...choice, input, output };
      }
      const { real, input, output } = found[link] ?? SIMULATED;
      this.post({
        kind: 'ports',
        link,
        real,
        // What is diverted is closed to the engine, which lets go of what was held there.
        input: real && input && this.midi.listen(input.id) && !this.diverted ? input.id : null,
        output: real && output && this.midi.hasOutput(output.id) ? output.id : null,
      });
    }
    this.choices.set(found);
  }

  /** Id of the profile that plays; null where none does. */
  get playing(): string | null {
    return this.profile?.id ?? null;
  }

  /** How the profile is played now: ports, layers, flags and bank. */
  get playedNow(): Pick<SetUp, 'ports' | 'layers' | 'flags' | 'bank'> {
    const { layers, flags } = this.session();
    const links = this.links().map(({ link }) => link);
    return {
      // All are said: what is known of a device elsewhere does not count on this occasion.
      ports: Object.fromEntries(
        links.map((link) => [link, { ...this.choiceOf(link), said: true }]),
      ),
      layers: [...layers],
      flags: { ...flags },
      bank: this.savedBank,
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
    // A panic lets the motors go as well; they are taken hold of again, also for a profile that comes next.
    if (this.profile?.id !== profile) return this.repaint();
    for (const { input } of Object.values(this.choices())) if (input) this.midi.ignore(input.id);
    this.choices.set(ports);
    this.savedBank = bank;
    this.session.set({ layers, flags });
    this.post({ kind: 'session', state: { layers, flags } });
    this.post({ kind: 'bankAt', start: bank });
    this.applyPorts();
    this.repaint();
  }

  private rememberBank(bank: number): void {
    if (bank === this.savedBank) return;
    this.savedBank = bank;
    this.writeSession();
  }

  private writeSession(): void {
    const { layers, flags } = this.session();
    const session: Session = {
      bank: this.savedBank,
      ports: { ...this.choices() },
      layers: [...layers],
      flags: { ...flags },
    };
    writeSession(this.profile?.id ?? '', session);
  }
}

/** A host's output is closed before what is held is let go of: then that is owed to it, and sent when it comes back. */
const hostsFirst = (links: Iterable<string>): string[] =>
  [...links].sort((a, b) => Number(b.startsWith('host:')) - Number(a.startsWith('host:')));

/** The entries of some keys. */
const only = <T>(all: Readonly<Record<string, T>>, keys: readonly string[]): Record<string, T> =>
  Object.fromEntries(keys.flatMap((key) => (Object.hasOwn(all, key) ? [[key, all[key]]] : [])));

const isSame = <T>(a: Readonly<Record<string, T>>, b: Readonly<Record<string, T>>): boolean =>
  Object.keys(a).length === Object.keys(b).length &&
  Object.entries(a).every(([key, value]) => b[key] === value);
