import {
  CLOCK,
  IDENTITY_REQUEST,
  START,
  SYSEX,
  StreamParser,
  encodeDesk,
  type DeskMessage,
  type MessageSink,
} from '@rondo/core/wire';
import { NO_AUX, NO_MATCH, type Receiver, type RulePiece, type Sender } from '@rondo/core/surface';
import { Acts, Register, type Ground } from './forward/acts.js';
import { BankWindow } from './forward/bank.js';
import { Beat } from './return/beat.js';
import { Beliefs, Know } from './return/beliefs.js';
import { Causes } from './cables/causes.js';
import { CableCheck } from './cables/cable-check.js';
import { CableWatch } from './cables/cable-watch.js';
import { Gestures, type GestureSink } from './forward/gestures.js';
import { Greeting } from './cables/greeting.js';
import { Layers } from './forward/layers.js';
import { Matcher, NoMatch } from './forward/matcher.js';
import { Notices } from './cables/notices.js';
import { Outbox } from './return/outbox.js';
import { GestureAt, KIND_BITS, InputMode, type Plan } from './plan/plan.js';
import { OUT_PRIORITIES, Returns, type MotorTest, type Stage } from './return/returns.js';
import { BindingColumn, PartColumn, SlotColumn, Tables, Watch } from './plan/tables.js';
import { Takeovers } from './forward/takeover.js';
import { RoundLog, Stop } from './trace.js';

/** Takes what leaves a link: whole messages, valid only during the call. */
export type LinkOutput = (
  link: number,
  bytes: Uint8Array,
  from: number,
  to: number,
  t: number,
) => void;

const NEVER = -1;
/** How often an idle surface is shown one of its outputs again, µs: all of a desk in some ten seconds. */
export const REFRESH_EVERY = 100_000;

/** What becomes of a message after its controls have seen it. */
const enum Fate {
  Unmatched,
  Consumed,
  PassedOn,
}

class LinkInput implements MessageSink {
  readonly parser: StreamParser;
  constructor(
    private readonly engine: Engine,
    private readonly link: number,
  ) {
    this.parser = new StreamParser(this, 4_096);
  }
  short(packed: number): void {
    this.engine.onShort(this.link, packed);
  }
  sysex(bytes: Uint8Array, from: number, to: number): void {
    this.engine.onSysex(this.link, bytes, from, to);
  }
}

/** What goes on from one plan to the next. */
interface Before extends Pick<
  Engine,
  | 'plan'
  | 'pages'
  | 'beliefs'
  | 'layers'
  | 'matcher'
  | 'returns'
  | 'gestures'
  | 'hand'
  | 'down'
  | 'outboxes'
> {
  readonly acts: Acts;
  readonly inOpen: Uint8Array;
  readonly bankAt: Int32Array;
  readonly movedAt: Float64Array;
  readonly fate: Uint8Array;
  readonly grip: Int32Array;
}

/** Layers and flags as they were when Rondo was closed. */
export interface SessionState {
  readonly layers: readonly string[];
  readonly flags: Readonly<Record<string, boolean>>;
}

/**
 * The round: what comes from surfaces goes, shaped, to hosts; what hosts tell comes back as motor, light, ring, text
 * and meter. Time is whole microseconds and always passed in. Nothing is allocated per message.
 */
export class Engine implements GestureSink, Ground, Stage {
  readonly bank = new BankWindow();
  readonly beat = new Beat();
  /** What hosts are believed to have, by slot; and what Rondo's own layers and flags are. */
  beliefs: Beliefs;
  /** Where the hand last put an absolute control, 0…1; −1 where a motor has moved it since. By part. */
  hand = new Float64Array(0);
  /** Touched or pressed now. By part. */
  down = new Uint8Array(0);
  /** Touches select and show, but nothing reaches a host. */
  holdOff = false;
  /** What has happened on links, for their owner to know. */
  readonly notices: Notices;
  private readonly greeting: Greeting;
  private readonly watch: CableWatch;
  /** Checks of cables and of programs that hear a device twice. */
  readonly cables: CableCheck;
  /** Nothing that is touched acts at all, as while a control is being chosen. */
  choosing = false;
  /** After a panic no motor is driven until everything is repainted. */
  motorsFree = false;
  /** Counts changes of any host text. */
  textVersion = 0;
  /** Counts changes of what a host would have to let go of if Rondo vanished. */
  willVersion = 0;
  /** Counts changes of layers and flags. */
  sessionVersion = 0;
  /** Counts values that would have left their range and were held at its end. */
  clamped = 0;
  /** Recorder of the last way through the round, where one is plugged in. */
  log: RoundLog | null = null;
  plan: Plan;
  tables: Tables;
  matcher!: Matcher;
  layers!: Layers;
  returns!: Returns;
  causes!: Causes;
  takeovers!: Takeovers;
  gestures!: Gestures;
  private acts!: Acts;
  /** The time now, µs, in its first place: as an argument it would be put on the heap. */
  readonly clock = new Float64Array(1);
  /** By link, side by side, so that the hot path reaches them in one step. */
  senders: Sender[] = [];
  outboxes: Outbox[] = [];
  /** Onboard page that each link is on, from 0. */
  pages: number[] = [];

  private inputs: LinkInput[] = [];
  private receivers: Receiver[] = [];
  private isSurface: boolean[] = [];
  private paged: boolean[] = [];
  private played: (Uint8Array | null)[] = [];
  private onward = new Int32Array(0);
  private onwardKinds = new Uint8Array(0);
  private inOpen = new Uint8Array(0);
  private bankAt = new Int32Array(0);
  /** When each part was moved or pressed last, µs. */
  movedAt = new Float64Array(0);
  /** Outputs of each surface that are still to be sent once more after a change of layer or bank. */
  private unpainted = new Int32Array(0);
  private outCount = new Int32Array(0);
  /** When each surface's slow refresh goes on, µs. */
  private refreshAt = new Float64Array(0);
  /** Binding that a touched control keeps until it is let go; {@link NoMatch} values, or −9 where none is taken yet. */
  private grip = new Int32Array(0);
  /** What became of a part's press, so that its release goes the same way. */
  private fate = new Uint8Array(0);
  private conditionsStale = false;
  private targetsStale = false;
  /** Values on their way; see {@link Register}. */
  readonly register = new Float64Array(Register.Width);
  /** The message that has come in: a short one, or SysEx in a stretch of bytes. */
  packed = 0;
  incoming: Uint8Array | null = null;
  incomingFrom = 0;
  incomingTo = 0;
  private readonly renders: ((item: number, buffer: Uint8Array, at: number) => number)[] = [];
  private readonly writes: ((bytes: Uint8Array, from: number, to: number) => void)[] = [];
  private readonly runCause = (cause: number): void => this.caused(cause);

  /** @param output receives the bytes of every link */
  constructor(
    plan: Plan,
    private readonly output: LinkOutput,
  ) {
    this.plan = plan;
    this.tables = new Tables(plan);
    this.beliefs = new Beliefs(0, this.clock);
    this.notices = new Notices(this.clock);
    this.watch = new CableWatch(this.notices, this.clock);
    this.greeting = new Greeting(
      this.notices,
      (link, bytes) => this.outboxes[link].pushEvent(bytes, 0, bytes.length),
      this,
    );
    this.cables = new CableCheck(this.notices, (link) =>
      this.outboxes[link].pushEvent(IDENTITY_QUESTION, 0, IDENTITY_QUESTION.length),
    );
    this.load(plan);
  }

  /** Nothing that is touched reaches a host. */
  get silent(): boolean {
    return this.holdOff || this.cables.isWatching;
  }

  get now(): number {
    return this.clock[0];
  }

  private set now(t: number) {
    this.clock[0] = t;
  }

  /** Index of a link by its key, −1 where the plan has none such. */
  linkOf(key: string): number {
    return this.plan.links.findIndex((link) => link.key === key);
  }

  /** Last whole number sent to an output; below 0 where none was. */
  get shown(): Int32Array {
    return this.returns.shown;
  }

  /** The slot each output shows now; −1 where it shows none. */
  get showing(): Int32Array {
    return this.returns.showing;
  }

  /**
   * Swaps the plan between two messages. Live state is carried over by key: what hosts told, what surfaces show,
   * what is touched, which layers and flags are on. What a binding that is gone, or changed, held down is let go of
   * first.
   */
  load(plan: Plan): void {
    const old = this.plan;
    const first = this.inputs.length === 0;
    const index = <I extends { readonly key: string }>(list: readonly I[]) =>
      new Map(first ? [] : list.map((item, i) => [item.key, i]));
    const was = {
      links: index(old.links),
      parts: index(old.parts),
      slots: index(old.slots),
      outs: index(old.outs),
    };
    const newBinding = new Map(first ? [] : plan.bindings.map(({ id }, i) => [id, i]));
    /** The same binding in the new plan, if it stays as it is. */
    const bindingOf = (from: number): number => {
      const to = newBinding.get(old.bindings[from].id);
      return to !== undefined && isSame(old, from, plan, to) ? to : NEVER;
    };
    if (!first) this.releaseChanged(bindingOf);
    const before: Before = {
      plan: this.plan,
      pages: this.pages,
      beliefs: this.beliefs,
      layers: this.layers,
      matcher: this.matcher,
      returns: this.returns,
      gestures: this.gestures,
      hand: this.hand,
      down: this.down,
      outboxes: this.outboxes,
      acts: this.acts,
      inOpen: this.inOpen,
      bankAt: this.bankAt,
      movedAt: this.movedAt,
      fate: this.fate,
      grip: this.grip,
    };
    this.plan = plan;
    this.receivers = plan.links.map((link) => link.receiver);
    this.senders = plan.links.map((link) => link.sender);
    this.isSurface = plan.links.map((link) => link.kind === 'surface');
    this.paged = plan.links.map((link) => link.senders.length > 1);
    this.played = plan.links.map((link) => link.played);
    this.onward = Int32Array.from(plan.links, ({ onward }) => onward?.link ?? -1);
    this.onwardKinds = Uint8Array.from(plan.links, ({ onward }) => onward?.kinds ?? 0);
    this.pages = plan.links.map((link) => {
      const from = was.links.get(link.key);
      return from === undefined ? 0 : Math.min(before.pages[from], link.senders.length - 1);
    });
    this.pages.forEach((page, link) => {
      this.receivers[link].setPage(page);
      this.senders[link] = plan.links[link].senders[page];
    });
    this.tables = new Tables(plan);

    const partCount = plan.parts.length;
    this.beliefs = new Beliefs(plan.slots.length, this.clock);
    this.matcher = new Matcher(plan, this.tables, this.beliefs, this.bank);
    this.layers = new Layers(plan.layers);
    this.causes = new Causes(plan, plan.slots.length);
    this.takeovers = new Takeovers(this.tables.takeovers);
    this.gestures = new Gestures(partCount, this, this.clock);
    this.acts = new Acts(this);
    this.hand = new Float64Array(partCount).fill(NEVER);
    this.down = new Uint8Array(partCount);
    this.bankAt = new Int32Array(partCount);
    this.movedAt = new Float64Array(partCount);
    this.grip = new Int32Array(partCount).fill(NO_GRIP);
    this.fate = new Uint8Array(partCount);
    const log = this.log ? new RoundLog(partCount) : null;
    const slotOf = new Map(was.slots.size === 0 ? [] : plan.slots.map((slot, i) => [slot.key, i]));

    plan.slots.forEach((slot, i) => {
      const from = was.slots.get(slot.key);
      if (from !== undefined) this.beliefs.carry(i, before.beliefs, from);
      else if (slot.link < 0) this.beliefs.set(i, false);
    });
    for (const { slot, initially } of plan.flags)
      if (!was.slots.has(plan.slots[slot].key)) this.beliefs.set(slot, initially);
    plan.layers.forEach((layer, i) => {
      const from = first ? -1 : old.layers.findIndex(({ id }) => id === layer.id);
      if (from < 0) return;
      this.layers.latched[i] = before.layers.latched[from];
    });
    this.pages.forEach((page, link) => this.layers.turned(link, page));
    plan.focuses.forEach((focus, i) => {
      const from = old.focuses.findIndex(
        ({ link }) => !first && old.links[link].key === plan.links[focus.link].key,
      );
      if (from >= 0)
        this.matcher.focusPages[i].set(
          before.matcher.focusPages[from].subarray(0, focus.tables.length),
        );
    });
    // Actions of a binding that stays as it is go on with what they hold and have met.
    if (!first)
      old.bindings.forEach((run, from) => {
        const to = before.acts.lives(run) ? bindingOf(from) : NEVER;
        if (to >= 0) this.acts.carry(plan.bindings[to], before.acts, run, slotOf);
      });
    plan.links.forEach((link, i) => {
      const from = was.links.get(link.key);
      if (from !== undefined) this.acts.carryNotes(i, before.acts, from);
    });
    if (!first) {
      const partNow = new Map(plan.parts.map(({ key }, i) => [key, i]));
      this.acts.carryFingers(
        before.acts,
        (slot) => slotOf.get(old.slots[slot].key) ?? NEVER,
        (part) => partNow.get(old.parts[part].key) ?? NEVER,
      );
    }
    plan.parts.forEach((part, i) => {
      const from = was.parts.get(part.key);
      if (from === undefined) return;
      this.hand[i] = before.hand[from];
      this.down[i] = before.down[from];
      this.bankAt[i] = before.bankAt[from];
      this.movedAt[i] = before.movedAt[from];
      this.fate[i] = before.fate[from];
      const grip = before.grip[from];
      this.grip[i] = grip < 0 ? grip : bindingOf(grip);
      this.gestures.carry(i, before.gestures, from, bindingOf);
      if (!log || !this.log) return;
      log.packed[i] = this.log.packed[from];
      log.at[i] = this.log.at[from];
      log.value[i] = this.log.value[from];
      if (from !== this.log.inHand) return;
      log.inHand = i;
      log.inHandAt = this.log.inHandAt;
    });
    this.log = log;
    this.returns = new Returns(this);
    if (!first)
      plan.outs.forEach((out, i) => {
        const from = was.outs.get(out.key);
        if (from !== undefined) this.returns.carry(i, before.returns, from);
      });
    if (!first)
      plan.slots.forEach((slot, i) => {
        const from = was.slots.get(slot.key);
        if (from !== undefined) this.returns.carrySlot(i, before.returns, from);
      });
    if (!first)
      plan.links.forEach((link, i) => {
        const from = was.links.get(link.key);
        if (from === undefined) return;
        this.returns.carryLink(i, before.returns, from, (part) =>
          plan.parts.findIndex(({ key }) => key === old.parts[part].key),
        );
      });
    this.acts.showLayers();
    const repaint = this.joinLinks(plan, old, was.links, before);
    this.refreshAt = Float64Array.from(plan.links, ({ kind }) =>
      kind === 'surface' ? this.now + REFRESH_EVERY : Infinity,
    );
    this.unpainted = new Int32Array(plan.links.length);
    this.outCount = new Int32Array(plan.links.length);
    for (const { link } of plan.outs) this.outCount[link]++;
    this.bank.fit(plan.strips, plan.window);
    this.retarget();
    // What an edited surface shows is not known any more.
    for (const link of repaint) this.returns.repaint(link);
    this.pump();
  }

  /** Gives every link its input and outbox. @returns links whose surface was edited */
  private joinLinks(
    plan: Plan,
    old: Plan,
    was: ReadonlyMap<string, number>,
    { inOpen, outboxes }: Before,
  ): number[] {
    const repaint: number[] = [];
    this.watch.load(plan, was);
    this.cables.load(plan.links, was);
    this.inOpen = new Uint8Array(plan.links.length);
    this.inputs = plan.links.map((link, i) => {
      const from = was.get(link.key);
      if (from !== undefined) this.inOpen[i] = inOpen[from];
      return new LinkInput(this, i);
    });
    this.outboxes = plan.links.map((link, i) => {
      const from = was.get(link.key);
      // What is due on a link that stays the same goes out all the same.
      const same = from !== undefined && old.links[from].model === link.model;
      const edited = same && old.links[from].surface !== link.surface;
      const box =
        same && !edited
          ? outboxes[from]
          : new Outbox(
              link.count,
              link.kind === 'host' ? 1 : OUT_PRIORITIES,
              1_000_000 / link.bytesPerSecond,
            );
      box.sysexPause = (link.surface?.device.sysexPause ?? 0) * 1_000;
      if (edited) {
        box.open = outboxes[from].open;
        box.unacknowledgedLimit = outboxes[from].unacknowledgedLimit;
        repaint.push(i);
      }
      const firstItem = link.first;
      this.renders[i] =
        link.kind === 'host'
          ? (item, buffer, at) => this.acts.renderSlot(firstItem + item, buffer, at)
          : (item, buffer, at) => this.returns.render(firstItem + item, buffer, at);
      this.writes[i] = (bytes, start, end) => {
        this.watch.sent(i, bytes, start, end);
        this.output(i, bytes, start, end, this.now);
      };
      return box;
    });
    return repaint;
  }

  /** Lets go of what bindings hold down that the new plan no longer has as they were. */
  private releaseChanged(bindingOf: (binding: number) => number): void {
    this.plan.bindings.forEach((run, binding) => {
      if (this.acts.holds(run) && bindingOf(binding) < 0) this.acts.letGoOfRun(run);
    });
    this.acts.applyLayers();
    this.pump();
  }

  /** Layers and flags as they are now, to be put back by {@link restore}. */
  session(): SessionState {
    const { layers, flags } = this.plan;
    return {
      layers: layers.flatMap(({ id }, i) => (this.layers.latched[i] === 1 ? [id] : [])),
      flags: Object.fromEntries(flags.map(({ id, slot }) => [id, this.beliefs.value[slot] >= 0.5])),
    };
  }

  /** Puts layers and flags back as they were in an earlier session, without doing what entering them does. */
  restore({ layers, flags }: SessionState, t: number): void {
    this.now = t;
    this.sessionVersion++;
    this.plan.layers.forEach(({ id }, i) => {
      this.layers.latched[i] = layers.includes(id) ? 1 : 0;
    });
    for (const { id, slot } of this.plan.flags)
      if (flags[id] !== undefined) this.beliefs.set(slot, flags[id]);
    this.acts.showLayers();
    this.retarget();
    this.pump();
  }

  /** Opens or closes the input of a link. A closed host is unknown; a closed surface holds nothing. */
  setInputOpen(link: number, open: boolean, t: number): void {
    this.now = t;
    if (this.inOpen[link] === (open ? 1 : 0)) return;
    this.inOpen[link] = open ? 1 : 0;
    this.inputs[link].parser.reset();
    this.watch.hearAgain(link);
    if (open) this.meet(link);
    else {
      this.greeting.end(this.plan.links[link]);
      if (this.isSurface[link]) this.letGoOfSurface(link);
      else this.forgetHost(link);
    }
    this.pump();
  }

  /** Opens or closes the output of a link; what a surface shows is unknown then, and all of it is sent again. */
  setOutputOpen(link: number, open: boolean, t: number, unacknowledgedLimit = Infinity): void {
    this.now = t;
    const box = this.outboxes[link];
    box.unacknowledgedLimit = unacknowledgedLimit;
    if (box.open === open) return;
    box.clear();
    box.open = open;
    this.watch.hearAgain(link);
    if (open) this.meet(link);
    else this.greeting.end(this.plan.links[link]);
    if (open) this.returns.repaint(link);
    this.pump();
  }

  /** Both ways of a link are open: a host is asked what it knows, a desk who it is. */
  private meet(link: number): void {
    if (!this.inOpen[link] || !this.outboxes[link].open) return;
    const { kind } = this.plan.links[link];
    if (kind === 'host') {
      this.askHost(link);
      this.greeting.listen(this.plan.links[link], this.now);
    } else this.greeting.begin(link, this.plan.links[link], this.now);
  }

  /** Lets an output leave out repeated status bytes: only where nothing but a wire is behind it. */
  setRunningStatus(link: number, on: boolean): void {
    this.outboxes[link].runningStatus = on;
  }

  isInputOpen(link: number): boolean {
    return this.inOpen[link] === 1;
  }

  isOutputOpen(link: number): boolean {
    return this.outboxes[link].open;
  }

  /** The other side of an output has taken some bytes. */
  acknowledge(link: number, bytes: number, t: number): void {
    this.now = t;
    this.outboxes[link].acknowledge(bytes);
    this.pump();
  }

  /** Asks a host to report everything, where it has a way and both ends are open. */
  private askHost(link: number): void {
    const { ask, kind } = this.plan.links[link];
    if (kind !== 'host' || !ask || !this.inOpen[link] || !this.outboxes[link].open) return;
    this.outboxes[link].pushEvent(ask, 0, ask.length);
  }

  private forgetHost(link: number): void {
    this.textVersion++;
    this.plan.slots.forEach((slot, i) => {
      if (slot.link !== link) return;
      this.beliefs.forget(i);
      this.causes.forget(i);
      this.changed(i);
    });
  }

  /** Lets go of everything that a surface touches or holds. */
  private letGoOfSurface(link: number): void {
    this.plan.parts.forEach((part, p) => {
      if (part.link !== link) return;
      this.gestures.stop(p);
      if (this.down[p] !== 0) this.release(p);
    });
    this.acts.applyLayers();
  }

  private release(part: number): void {
    this.down[part] = 0;
    const { parts } = this.tables;
    const at = part * PartColumn.Width;
    if (parts[at + PartColumn.Mode] === InputMode.Touch && parts[at + PartColumn.Partner] >= 0) {
      this.grip[parts[at + PartColumn.Partner]] = NO_GRIP;
      this.acts.finger(parts[at + PartColumn.Partner], NEVER, false);
    }
    if (parts[at + PartColumn.Motor] >= 0) this.returns.markOut(parts[at + PartColumn.Motor]);
  }

  /** Bytes from a link, in order. `t` in µs, never less than before. */
  receive(link: number, bytes: Uint8Array, from: number, to: number, t: number): void {
    this.now = t;
    if (this.inOpen[link] === 0) return;
    if (this.gestures.deadline <= t) this.gestures.advance(t);
    const { parser } = this.inputs[link];
    const broken = parser.skipped.brokenSysex;
    parser.feed(bytes, from, to);
    if (parser.skipped.brokenSysex !== broken) this.watch.brokenOff(link);
    this.pump();
  }

  /** Does what is due by `t`, µs. */
  advance(t: number): void {
    this.now = t;
    if (t >= this.beliefs.deadline) this.beliefs.resolve(t, (slot) => this.reported(slot));
    if (t >= this.gestures.deadline) this.gestures.advance(t);
    if (t >= this.returns.deadline) this.returns.advance();
    if (t >= this.acts.fingers.deadline) this.acts.fingers.advance(t);
    if (t >= this.greeting.deadline) this.greeting.advance(t, this.plan.links);
    if (t >= this.cables.deadline) this.cables.advance(t, this.plan.links);
    this.refresh(t);
    this.pump();
  }

  /** Where a surface's output has nothing to do, one more of what it shows is sent again. */
  private refresh(t: number): void {
    for (let link = 0; link < this.refreshAt.length; link++) {
      if (t < this.refreshAt[link]) continue;
      const box = this.outboxes[link];
      const idle = box.open && !box.isDue(OUT_PRIORITIES - 1);
      if (idle) this.returns.refresh(link);
      // After a change of layer or bank all follows at once what has been sent as the difference.
      const hurried = this.unpainted[link] > 0;
      if (hurried && idle) this.unpainted[link]--;
      this.refreshAt[link] = t + (hurried ? 0 : REFRESH_EVERY);
    }
  }

  /** When {@link advance} is needed next, µs; Infinity where it is not. */
  nextDeadline(): number {
    let next = Math.min(this.beliefs.deadline, this.returns.deadline, this.gestures.deadline);
    next = Math.min(next, this.acts.fingers.deadline, this.greeting.deadline, this.cables.deadline);
    for (const box of this.outboxes) next = Math.min(next, box.deadline);
    return next;
  }

  private pump(): void {
    if (this.conditionsStale) {
      this.conditionsStale = false;
      if (this.matcher.refresh()) this.targetsStale = true;
    }
    if (this.targetsStale) this.retarget();
    for (let link = 0; link < this.outboxes.length; link++)
      this.outboxes[link].drain(this.clock, this.renders[link], this.writes[link]);
  }

  private retarget(): void {
    this.targetsStale = false;
    this.matcher.refresh();
    this.returns.retarget();
    if (this.causes.isEmpty) return;
    this.causes.hang(
      (cause) => {
        const { base, offset, strips } = this.plan.causes[cause].aim;
        return this.matcher.slotAt(base, offset, strips, this.bank.start);
      },
      (slot) => (this.beliefs.know[slot] === Know.Known ? this.beliefs.value[slot] : NEVER),
    );
  }

  /** Clock and start go on to the beat; all else of the same kind is let be. */
  private onClock(link: number, status: number): void {
    if (status === CLOCK) this.beat.tick(link, this.clock, this.plan.links[link].clock);
    else if (status === START) this.beat.start(link);
    else return;
    this.returns.beaten();
  }

  /** @internal called by the link's parser */
  onShort(link: number, packed: number): void {
    if (this.watch.deaf[link] !== 0) return;
    if (packed >= CLOCK && packed <= 0xff) this.onClock(link, packed);
    const receiver = this.receivers[link];
    const target = receiver.accept(packed);
    if (this.paged[link] && receiver.page !== this.pages[link]) this.turnPage(link, receiver.page);
    if (!this.isSurface[link]) {
      // A program may well send back what it was told; what it never sends by itself is an echo.
      if (target >= 0) this.fromHost(target, receiver);
      else if (target === NO_MATCH && this.watch.cameRound(link, packed)) this.forgetHost(link);
      return;
    }
    if (target >= 0) {
      if (this.tables.parts[target * PartColumn.Width + PartColumn.Motor] >= 0) {
        // A motor that tells where it has gone is no hand.
        if (!this.returns.isInHand(target) && this.watch.wasSent(link, packed)) return;
      } else if (this.watch.cameRound(link, packed)) {
        this.letGoOfSurface(link);
        return;
      }
    }
    this.packed = packed;
    this.incoming = null;
    let fate = Fate.Unmatched;
    if (target >= 0) {
      this.register[Register.Value] = receiver.value;
      if (this.isPlayed(link, packed)) {
        this.log?.hand(target, packed, this.register, this.clock, false);
        this.acts.stop(target, Stop.Played);
      } else fate = this.onControl(target, packed);
    } else if (target === NO_MATCH) {
      if ((packed & 0xff) < CLOCK) this.log?.stray(link, packed, this.now);
    } else fate = Fate.Consumed;
    if (this.onward[link] >= 0 && fate !== Fate.Consumed) this.passOn(link, packed, fate);
  }

  /** A host has told a value, a character of its time, or a meter's overload. */
  private fromHost(slot: number, receiver: Receiver): void {
    if (receiver.cell >= 0) {
      this.onText(slot, receiver.textAt(slot));
      return;
    }
    const { aux } = receiver;
    if (aux !== NO_AUX || this.beliefs.aux[slot] !== NO_AUX) {
      const isMeter = this.plan.slots[slot].fn.kind === 'meter';
      if (!isMeter || aux !== NO_AUX) this.beliefs.aux[slot] = aux;
      if (isMeter && aux !== NO_AUX) {
        this.returns.markSlot(slot);
        return;
      }
    }
    this.register[Register.Value] = receiver.value;
    if (this.cables.isWatching) this.cables.changed(slot, this.beliefs, this.register, this.clock);
    if (this.tables.slots[slot * SlotColumn.Width + SlotColumn.Taps] === 1)
      this.onLamp(slot, receiver.value > 0);
    else this.onReport(slot);
  }

  /** A host has told the lamp of a key; its value stands in the register. */
  private onLamp(slot: number, lit: boolean): void {
    const turns = this.beliefs.value[slot] > 0 !== lit;
    this.onReport(slot);
    if (turns && this.acts.turnedBack.turned(slot, this.clock)) this.watch.heardTwice(slot);
    if (lit && !this.returns.isShown(slot)) this.watch.unshown(slot);
  }

  /** @internal the program that takes Rondo for its desk sends all faders down */
  fadersDown(link: number): void {
    this.told(link, (fn) => fn.kind === 'continuous');
  }

  /** @internal it puts all lights out */
  lightsOff(link: number): void {
    this.told(link, (fn) => fn.kind === 'toggle');
  }

  /** @internal it clears all displays */
  textsOff(link: number): void {
    this.plan.slots.forEach((slot, i) => {
      if (slot.link === link && slot.fn.kind === 'text') this.onText(i, '');
    });
  }

  /** @internal whether a host has told anything since it was connected */
  hasSpoken(link: number): boolean {
    return this.plan.slots.some(
      (slot, i) => slot.link === link && this.beliefs.know[i] === Know.Known,
    );
  }

  /** @internal it says something that only a desk knows what to do with */
  toDesks(link: number, message: DeskMessage): void {
    this.plan.links.forEach(({ standsBefore, desk }, to) => {
      if (standsBefore !== link || !desk || !this.outboxes[to].open) return;
      const bytes = encodeDesk({ ...message, ...('unit' in message ? { unit: desk } : {}) });
      this.outboxes[to].pushEvent(bytes, 0, bytes.length);
    });
  }

  /** A host has told 0 of all functions of a kind that it reports. */
  private told(link: number, is: (fn: Plan['slots'][number]['fn']) => boolean): void {
    this.plan.slots.forEach((slot, i) => {
      if (slot.link !== link || !slot.reports || !is(slot.fn)) return;
      this.register[Register.Value] = 0;
      this.beliefs.believe(i, this.register, Register.Value);
      this.reported(i);
    });
  }

  /** @internal called by the link's parser */
  onSysex(link: number, bytes: Uint8Array, from: number, to: number): void {
    if (this.watch.deaf[link] !== 0) return;
    const { links } = this.plan;
    if (this.cables.isAsking(link) && this.cables.heard(link, links, bytes, from, to)) {
      this.watch.deafen(link);
      if (this.isSurface[link]) this.letGoOfSurface(link);
      else this.forgetHost(link);
      return;
    }
    if (links[link].desk && this.greeting.hear(link, links[link], links, bytes, from, to)) return;
    const receiver = this.receivers[link];
    const slot = receiver.acceptSysex(bytes, from, to);
    if (this.isSurface[link]) {
      if (this.paged[link] && receiver.page !== this.pages[link])
        this.turnPage(link, receiver.page);
      this.incoming = bytes;
      this.incomingFrom = from;
      this.incomingTo = to;
      let fate = Fate.Unmatched;
      if (slot >= 0) {
        this.register[Register.Value] = receiver.value;
        fate = this.onControl(slot, SYSEX);
      } else this.log?.stray(link, SYSEX, this.now);
      const passes = fate === Fate.PassedOn || (this.onwardKinds[link] & KIND_BITS.sysex) !== 0;
      if (this.onward[link] >= 0 && fate !== Fate.Consumed && passes)
        this.outboxes[this.onward[link]].pushEvent(bytes, from, to);
      this.incoming = null;
      return;
    }
    if (slot >= 0 && receiver.textCount === 0) this.fromHost(slot, receiver);
    if (receiver.textSpills) this.watch.spilt(link);
    for (let i = 0; i < receiver.textCount; i++) {
      const field = receiver.textTargets[i];
      this.onText(field, receiver.textAt(field).trimEnd());
    }
  }

  private onText(slot: number, text: string): void {
    if (this.beliefs.tell(slot, text)) this.textVersion++;
    this.returns.markSlot(slot);
  }

  /** Sends a short message on to where its surface's messages go. */
  private passOn(link: number, packed: number, fate: Fate): void {
    if (fate === Fate.Unmatched && (this.onwardKinds[link] & kindBit(packed & 0xff)) === 0) return;
    this.acts.pushPacked(this.onward[link], packed);
  }

  /** The device has changed its onboard page: it takes other messages now and shows nothing of ours yet. */
  private turnPage(link: number, page: number): void {
    this.pages[link] = page;
    this.senders[link] = this.plan.links[link].senders[page];
    this.layers.turned(link, page);
    this.acts.applyLayers();
    this.returns.repaint(link);
  }

  private isPlayed(link: number, packed: number): boolean {
    const played = this.played[link];
    const isNote = (packed & 0xf0) <= 0xa0;
    return (
      isNote && played !== null && played[((packed & 0x0f) << 7) | ((packed >> 8) & 0x7f)] === 1
    );
  }

  /** What the hand has done to a part; its value stands in the register. */
  private onControl(part: number, packed: number): Fate {
    const { oneShot, latching } = this.tables;
    if (latching[part] !== 0) return this.onLatching(part, packed);
    const fate = this.onPart(part, packed);
    if (oneShot[part] !== 0 && this.register[Register.Value] > 0) {
      this.register[Register.Value] = 0;
      this.onPart(part, packed);
    }
    return fate;
  }

  /**
   * A key that latches in hardware says 'on' and 'off' by turns, and each is one press. Only what is to be held goes
   * by what it says.
   */
  private onLatching(part: number, packed: number): Fate {
    const on = this.register[Register.Value] > 0;
    const binding = this.matcher.resolve(part, GestureAt.Press, this.bank.start);
    const holds =
      binding >= 0 &&
      this.tables.bindings[binding * BindingColumn.Width + BindingColumn.Holds] === 1;
    if (holds || this.down[part] !== 0) {
      const fate = on || this.down[part] !== 0 ? this.onPart(part, packed) : Fate.Consumed;
      return fate;
    }
    this.register[Register.Value] = 1;
    const fate = this.onPart(part, packed);
    this.register[Register.Value] = 0;
    this.onPart(part, packed);
    if (this.log) this.log.value[part] = on ? 1 : 0;
    return fate;
  }

  private onPart(part: number, packed: number): Fate {
    const { parts } = this.tables;
    const log = this.log;
    const at = part * PartColumn.Width;
    const moves = parts[at + PartColumn.Mode] as InputMode;
    const isButton = moves === InputMode.Press || moves === InputMode.Touch;
    const value = this.register[Register.Value];
    const pressed = value > 0;
    if (log) log.hand(part, packed, this.register, this.clock, isButton && !pressed);
    if (moves === InputMode.Absolute) {
      this.register[Register.Before] = this.hand[part];
      this.hand[part] = value;
      if (parts[at + PartColumn.Motor] >= 0) this.returns.markOut(parts[at + PartColumn.Motor]);
    }
    if (parts[at + PartColumn.Text] >= 0 && moves !== InputMode.Touch) {
      this.returns.pickText(parts[at + PartColumn.Text], parts[at + PartColumn.TextSource]);
    }
    if (moves !== InputMode.Touch) this.returns.touched(part, parts[at + PartColumn.Link]);
    if (this.cables.isWatching) this.cables.moved(this.clock);
    if (!isButton) {
      this.register[Register.MovedBefore] = this.movedAt[part];
      this.movedAt[part] = this.now;
      const binding = this.gripOf(part);
      if (this.choosing) return Fate.Consumed;
      if (binding < 0) {
        this.stopUnmatched(part, binding);
        return Fate.Unmatched;
      }
      if (log) log.binding[part] = binding;
      this.acts.runBinding(part, binding, moves, pressed);
      return this.fateOf(binding);
    }
    if (pressed) return this.press(part, moves);
    const double = this.feelOf(part, GestureAt.Double);
    this.release(part);
    this.gestures.release(part, double);
    if (this.fate[part] !== Fate.Unmatched && !this.choosing) {
      const after = this.gestures.settled[part * GestureAt.Count + GestureAt.Release];
      if (after >= 0) {
        this.acts.runBinding(part, after, moves, true);
        this.acts.letGoOfRun(this.plan.bindings[after]);
      }
    }
    this.acts.applyLayers();
    return this.fate[part] as Fate;
  }

  private press(part: number, moves: InputMode): Fate {
    this.down[part] = 1;
    this.movedAt[part] = this.now;
    this.bankAt[part] = this.bank.start;
    let told = false;
    if (moves === InputMode.Touch) {
      const guarded = this.tables.parts[part * PartColumn.Width + PartColumn.Partner];
      if (guarded >= 0) {
        this.grip[guarded] = NO_GRIP;
        // What has told a host of a finger has done its part, and does not go on anywhere else.
        told = !this.choosing && this.acts.finger(guarded, this.gripOf(guarded), true);
      }
    } else if (this.watch.goesRound(part)) {
      for (let gesture = 0; gesture < GestureAt.Count; gesture++)
        this.gestures.settled[part * GestureAt.Count + gesture] = NEVER;
      this.fate[part] = Fate.Consumed;
      return Fate.Consumed;
    }
    if (this.choosing) {
      this.fate[part] = Fate.Consumed;
      return Fate.Consumed;
    }
    const { settled } = this.gestures;
    let best: number = NoMatch.Nothing;
    if (!this.gestures.isBetween(part))
      for (let gesture = 0; gesture < GestureAt.Count; gesture++) {
        const binding = this.matcher.resolve(part, gesture, this.bank.start);
        settled[part * GestureAt.Count + gesture] = binding < 0 ? NEVER : binding;
        if (binding >= 0 ? best < 0 : best < 0 && binding < best) best = binding;
      }
    else
      for (let gesture = 0; gesture < GestureAt.Count && best < 0; gesture++)
        best = Math.max(best, settled[part * GestureAt.Count + gesture]);
    if (best < 0) {
      if (moves !== InputMode.Touch) this.stopUnmatched(part, best);
      this.fate[part] = told ? Fate.Consumed : Fate.Unmatched;
      return this.fate[part] as Fate;
    }
    this.fate[part] = this.fateOf(best);
    if (this.log) this.log.binding[part] = best;
    this.gestures.press(
      part,
      this.feelOf(part, GestureAt.Long),
      this.feelOf(part, GestureAt.Double),
    );
    this.acts.applyLayers();
    return this.fate[part] as Fate;
  }

  private fateOf(binding: number): Fate {
    return this.tables.bindings[binding * BindingColumn.Width + BindingColumn.PassOn] === 1
      ? Fate.PassedOn
      : Fate.Consumed;
  }

  /** How long a part's long press is, or its double tap may take, µs. */
  private feelOf(part: number, gesture: GestureAt): number {
    const binding = this.gestures.settled[part * GestureAt.Count + gesture];
    if (binding < 0) return 0;
    const { feel } = this.plan.actions[this.plan.bindings[binding].first];
    return (gesture === GestureAt.Long ? feel.longPress : feel.doubleTap) * 1_000;
  }

  /** @internal a press of a binding begins */
  begin(part: number, binding: number): void {
    const { parts } = this.tables;
    if (this.log) this.log.binding[part] = binding;
    // A press that comes late, after its release, is as hard as any.
    if (!(this.register[Register.Value] > 0)) this.register[Register.Value] = 1;
    this.acts.runBinding(
      part,
      binding,
      parts[part * PartColumn.Width + PartColumn.Mode] as InputMode,
      true,
    );
  }

  /** @internal a press of a binding ends */
  end(part: number, binding: number): void {
    this.acts.endPress(part, this.plan.bindings[binding]);
  }

  private stopUnmatched(part: number, why: number): void {
    this.acts.stop(
      part,
      why === NoMatch.OtherLayer
        ? Stop.OtherLayer
        : why === NoMatch.Condition
          ? Stop.ConditionFalse
          : Stop.NothingBound,
    );
  }

  /** The binding that a move means: the one from the beginning of a touch, as long as that lasts. */
  private gripOf(part: number): number {
    const partner = this.tables.parts[part * PartColumn.Width + PartColumn.Partner];
    const touched = partner >= 0 && this.down[partner] !== 0;
    if (touched && this.grip[part] !== NO_GRIP) return this.grip[part];
    const binding = this.matcher.resolve(part, GestureAt.Press, this.bankOf(part));
    if (touched) this.grip[part] = binding;
    return binding;
  }

  /** The bank window that a part's messages mean: the one at its touch or press, as long as that lasts. */
  bankOf(part: number): number {
    if (part < 0) return this.bank.start;
    if (this.down[part] !== 0) return this.bankAt[part];
    const partner = this.tables.parts[part * PartColumn.Width + PartColumn.Partner];
    return partner >= 0 && this.down[partner] !== 0 ? this.bankAt[partner] : this.bank.start;
  }

  /** Runs what a host's change is the cause of. */
  private caused(cause: number): void {
    const { binding, when } = this.plan.causes[cause];
    const row = binding * BindingColumn.Width;
    const { bindings } = this.tables;
    if (this.matcher.active[bindings[row + BindingColumn.Layer]] === 0) return;
    if (
      !this.matcher.passes(
        bindings[row + BindingColumn.WhenFirst],
        bindings[row + BindingColumn.WhenCount],
        this.bank.start,
      )
    )
      return;
    this.register[Register.Value] = when === 'change' ? this.causes.was[cause] : 1;
    this.acts.runBinding(
      NEVER,
      binding,
      when === 'change' ? InputMode.Absolute : InputMode.Press,
      true,
    );
    if (when !== 'change') this.acts.letGoOfRun(this.plan.bindings[binding]);
    this.acts.applyLayers();
  }

  /** A host has reported the value in the register. */
  private onReport(slot: number): void {
    const { beliefs } = this;
    const { slots } = this.tables;
    const at = slot * SlotColumn.Width;
    const value = this.register[Register.Value];
    if (
      slots[at + SlotColumn.Settable] !== 0 &&
      slots[at + SlotColumn.ToggleOnly] === 0 &&
      beliefs.isFresh(slot)
    ) {
      const wire = this.senders[slots[at + SlotColumn.Link]].wireAt(
        slots[at + SlotColumn.Local],
        this.register,
        Register.Value,
      );
      if (wire !== beliefs.sentWire[slot]) {
        beliefs.doubt(slot, value);
        return;
      }
    }
    beliefs.believe(slot, this.register, Register.Value);
    this.reported(slot);
  }

  /** What a host has told is believed. */
  private reported(slot: number): void {
    this.changed(slot);
    if (this.causes.hangsOn(slot))
      this.causes.reported(slot, this.beliefs.value[slot], this.now, this.runCause);
  }

  /** What is believed of a slot has changed: what shows it and what hangs on it are due. */
  changed(slot: number): void {
    this.returns.markSlot(slot);
    const watch = this.tables.watch[slot];
    if (watch === 0) return;
    if ((watch & Watch.Condition) !== 0) this.conditionsStale = true;
    if ((watch & Watch.Focus) !== 0) this.targetsStale = true;
  }

  /** Sends everything that surfaces show once more, and takes hold of the motors again after a panic. */
  repaint(t: number): void {
    this.now = t;
    this.motorsFree = false;
    this.plan.links.forEach((link, i) => {
      if (link.kind === 'surface') this.returns.repaint(i);
      else this.askHost(i);
    });
    this.pump();
  }

  /** Plays at a value of a host's function, as lights, motors and texts show it; null ends that. Nothing is told to the host. */
  playAt(slot: number, value: number | null, t: number): void {
    this.now = t;
    if (slot >= 0 && slot < this.plan.slots.length) this.returns.play(slot, value);
    this.pump();
  }

  /** Makes an output show a number, as to find a colour by looking; below 0 it shows its own again. */
  tryOutput(out: number, wire: number, t: number): void {
    this.now = t;
    if (out >= 0 && out < this.plan.outs.length) this.returns.tryOut(out, wire);
    this.pump();
  }

  /** Tries the motors of a surface; null ends that. */
  tryMotors(link: number, test: MotorTest | null, t: number): void {
    this.now = t;
    this.returns.tryMotors(link, test);
    this.pump();
  }

  /** InputMode the bank window from the page. */
  moveBank(by: number, t: number): void {
    this.now = t;
    if (this.bank.move(by)) this.aimAnew();
    this.pump();
  }

  /** Puts the bank window back where it was in an earlier session. */
  goToBank(start: number, t: number): void {
    this.now = t;
    this.bank.goTo(start);
    this.retarget();
    this.pump();
  }

  /** Turns a layer on or off from the page; the others of its group follow. */
  setLayer(id: string, on: boolean, t: number): void {
    this.now = t;
    const layer = this.plan.layers.findIndex((plan) => plan.id === id);
    if (layer < 0) return;
    if (on) this.layers.on(layer);
    else this.layers.off(layer);
    this.acts.applyLayers();
    this.pump();
  }

  /** Sets a flag from the page. */
  setFlag(id: string, on: boolean, t: number): void {
    this.now = t;
    const flag = this.plan.flags.find((plan) => plan.id === id);
    if (flag) this.acts.setOwn(flag.slot, on);
    this.pump();
  }

  /** Releases everything that is held and lets the motors go until the next repaint. */
  panic(t: number): void {
    this.now = t;
    this.motorsFree = true;
    for (let part = 0; part < this.down.length; part++) {
      this.gestures.stop(part);
      if (this.down[part] !== 0) this.release(part);
    }
    this.acts.letGoOfAll();
    this.acts.applyLayers();
    this.pump();
  }

  /** What outputs show is worked out anew before anything is sent. */
  aimAnew(): void {
    this.targetsStale = true;
    this.plan.links.forEach(({ kind }, link) => {
      if (kind !== 'surface') return;
      this.unpainted[link] = this.outCount[link];
      this.refreshAt[link] = this.now;
    });
  }

  /** The text that a rule gives now, 7-bit safe. */
  textBy(rule: readonly RulePiece[], part: number): string {
    return this.returns.textBy(rule, part);
  }

  /** Asks a host to send everything again; false where it has no way. A program that expects a desk is told that one is there. */
  askAgain(link: number, t: number): boolean {
    this.now = t;
    const can = this.plan.links[link].ask !== null;
    if (can) this.askHost(link);
    else if (this.plan.links[link].kind === 'host')
      this.greeting.introduce(link, this.plan.links[link]);
    this.pump();
    return can;
  }

  /** Finds out whether a cable hears itself: whether a question comes back as it went. */
  checkCable(link: number, t: number): void {
    this.now = t;
    this.watch.deaf[link] = 0;
    this.notices.forget(this.plan.links[link].key, ['hearsItself', 'cable']);
    this.cables.ask(link, this.plan.links, this.inOpen[link] === 1, this.outboxes[link].open, t);
    this.pump();
  }

  /** Finds out whether a program follows a device by itself: for a while moves are kept from it, and it should stand still. */
  checkTwice(link: number, t: number): void {
    this.now = t;
    this.cables.watch(link, this.plan.links, t);
  }

  /** The bytes that would release what is held on a host link, should Rondo vanish. */
  will(link: number): Uint8Array {
    return this.acts.will(link);
  }
}

/** Identity request (MIDI 1.0): every device may answer it, and none sends it back. */
const IDENTITY_QUESTION = Uint8Array.from(IDENTITY_REQUEST);

/** No binding has been taken hold of. */
const NO_GRIP = -9;

/** Whether a binding does in one plan what it does in another, and hangs on the same. */
function isSame(old: Plan, from: number, plan: Plan, to: number): boolean {
  const [a, b] = [old.bindings[from], plan.bindings[to]];
  if (a.count !== b.count || a.gesture !== b.gesture || a.part < 0 !== b.part < 0) return false;
  if (a.part >= 0 && old.parts[a.part].key !== plan.parts[b.part].key) return false;
  for (let n = 0; n < a.count; n++) {
    const [was, is] = [old.actions[a.first + n].action, plan.actions[b.first + n].action];
    if (was !== is && JSON.stringify(was) !== JSON.stringify(is)) return false;
  }
  return true;
}

/** Bit of the kind that a status byte belongs to. */
function kindBit(status: number): number {
  if (status >= 0xf0) return KIND_BITS.clock;
  switch (status & 0xf0) {
    case 0xb0:
      return KIND_BITS.controller;
    case 0xc0:
      return KIND_BITS.program;
    case 0xd0:
      return KIND_BITS.pressure;
    case 0xe0:
      return KIND_BITS.bend;
    default:
      return KIND_BITS.note;
  }
}
