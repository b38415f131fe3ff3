import { LinkDecoder, type Sender } from '@rondo/core/surface';
import { Causes } from './cables/causes.js';
import { Echoes } from './cables/echoes.js';
import { TurnedBack } from './cables/turned-back.js';
import { Actions } from './forward/actions.js';
import { Driving } from './forward/driving.js';
import { Hands } from './forward/hands.js';
import { Hearing } from './forward/hearing.js';
import { Holds } from './forward/holds.js';
import { LayerChanges } from './forward/layer-changes.js';
import { Layers } from './forward/layers.js';
import { LinkInput } from './forward/link-input.js';
import { Matcher } from './forward/matcher.js';
import { MessagesOut } from './forward/messages-out.js';
import { Notes } from './forward/notes.js';
import { PassOn } from './forward/pass-on.js';
import { Takeovers } from './forward/takeover.js';
import { Telling } from './forward/telling.js';
import { Touches } from './forward/touches.js';
import { Wants } from './forward/wants.js';
import type { RoundContext } from './round-context.js';
import type { EngineServices } from './engine-services.js';
import type { Moves } from './live/columns.js';
import type { State } from './live/state.js';
import { Watch } from './plan/columns.js';
import type { Plan } from './plan/plan.js';
import type { Tables } from './plan/tables.js';
import { OutputTargets } from './return/output-targets.js';
import { Beliefs } from './return/beliefs.js';
import { DueOuts, OUT_PRIORITIES } from './return/due-outs.js';
import { Lights } from './return/lights.js';
import { Meters } from './return/meters.js';
import { Motors } from './return/motors.js';
import { Outbox } from './return/outbox.js';
import { Refresh } from './return/refresh.js';
import { Rendering } from './return/rendering.js';
import { Reports } from './return/reports.js';
import { Sight } from './return/sight.js';
import { Subscriptions } from './return/subscriptions.js';
import { TextFields } from './return/text-fields.js';
import type { Stop } from './trace.js';

/**
 * The round under one plan. Both ways are read here from top to bottom: what comes in goes forward, stage by stage, to
 * what a host is told; what a host tells comes back, stage by stage, to what a surface shows. A round has no memory of
 * its own: all that is remembered is in its {@link State}, and the next plan gets a round of its own.
 */
export class Round implements RoundContext {
  readonly tables: Tables;

  // The wires. What is on them outlives the plan.
  readonly inOpen: Uint8Array;
  readonly inputs: readonly LinkInput[];
  readonly decoders: LinkDecoder[];
  readonly outboxes: Outbox[];
  /** Onboard page that each link is on, from 0; and the sender for it. */
  readonly pages: number[];
  readonly senders: Sender[];

  // What is known and what counts, for both ways.
  readonly beliefs: Beliefs;
  readonly layers: Layers;
  readonly matcher: Matcher;
  readonly causes: Causes;
  readonly turnedBack: TurnedBack;

  // Forward, from the last stage to the first: each knows only those after it.
  readonly telling: Telling;
  readonly notes: Notes;
  readonly messages: MessagesOut;
  readonly holds: Holds;
  readonly touches: Touches;
  readonly takeovers: Takeovers;
  readonly wants: Wants;
  readonly driving: Driving;
  readonly layerChanges: LayerChanges;
  readonly actions: Actions;
  readonly hands: Hands;
  readonly passOn: PassOn;
  readonly hearing: Hearing;

  // Back, from the first stage to the last.
  readonly reports: Reports;
  readonly sight: Sight;
  readonly dueOuts: DueOuts;
  readonly subscriptions: Subscriptions;
  readonly targets: OutputTargets;
  readonly lights: Lights;
  readonly motors: Motors;
  readonly meters: Meters;
  readonly fields: TextFields;
  readonly rendering: Rendering;
  readonly refresh: Refresh;

  /** What conditions hang on has changed; what outputs show is to be worked out anew. */
  private conditionsStale = false;
  private targetsStale = false;
  private readonly renders: ((item: number, buffer: Uint8Array, at: number) => number)[];
  private readonly writes: ((bytes: Uint8Array, from: number, to: number) => void)[];

  constructor(
    readonly services: EngineServices,
    readonly plan: Plan,
    readonly state: State,
    moves: Moves | null,
  ) {
    const { clock, bank } = services;
    const { links } = plan;
    this.tables = plan.tables;

    this.decoders = links.map(({ map }, link) => this.decoderFor(link, map));
    this.pages = this.decoders.map(({ page }) => page);
    this.senders = links.map(({ senders }, link) => senders[this.pages[link]]);
    this.outboxes = links.map((_, link) => this.outboxFor(link, moves));
    links.forEach(({ kind }, link) => {
      state.echoes[link] ??= new Echoes(kind === 'surface');
    });

    this.beliefs = new Beliefs(state, clock, services.agenda);
    this.layers = new Layers(plan.layers, state);
    this.matcher = new Matcher(plan, state, this.beliefs, bank);
    this.causes = new Causes(plan, state, clock);
    this.turnedBack = new TurnedBack(state, clock);

    this.telling = new Telling(this);
    this.notes = new Notes(state);
    this.messages = new MessagesOut(this);
    this.holds = new Holds(this);
    this.touches = new Touches(this);
    this.takeovers = new Takeovers(this.tables.takeovers, state);
    this.wants = new Wants(this);
    this.driving = new Driving(this);
    this.layerChanges = new LayerChanges(this);
    this.actions = new Actions(this);
    this.hands = new Hands(this);
    this.passOn = new PassOn(this);
    this.hearing = new Hearing(this);

    this.inOpen = state.inOpen;
    this.inputs = links.map((_, link) => {
      const input = (state.inputs[link] ??= new LinkInput(this.hearing, link));
      input.use(this.hearing, link, links[link].isOsc);
      return input;
    });

    this.reports = new Reports(this);
    this.sight = new Sight(this.beliefs, state);
    this.dueOuts = new DueOuts(this);
    this.subscriptions = new Subscriptions(plan.slots.length, plan.outs.length, (out) =>
      this.dueOuts.addChanged(out),
    );
    this.targets = new OutputTargets(this);
    this.lights = new Lights(this, this.sight);
    this.motors = new Motors(this);
    this.meters = new Meters(this);
    this.fields = new TextFields(this);
    this.rendering = new Rendering(this);
    this.refresh = new Refresh(this);

    this.renders = links.map(({ kind, first }) =>
      kind === 'host'
        ? (item, buffer, at) => this.telling.render(first + item, buffer, at)
        : (item, buffer, at) => this.rendering.render(first + item, buffer, at),
    );
    this.writes = links.map((_, link) => (bytes, from, to) => {
      if (!links[link].isOsc) services.watch.sent(link, bytes, from, to);
      services.output(link, bytes, from, to);
    });
  }

  private decoderFor(link: number, map: Plan['links'][number]['map']): LinkDecoder {
    const decoder = (this.state.decoders[link] ??= new LinkDecoder(
      this.services.clock,
      undefined,
      this.services.agenda,
    ));
    decoder.use(map);
    return decoder;
  }

  private outboxFor(link: number, moves: Moves | null): Outbox {
    const { kind, count, first, bytesPerSecond, surface } = this.plan.links[link];
    const micros = 1_000_000 / bytesPerSecond;
    let box = this.state.outboxes[link];
    if (!box || !moves) {
      box = new Outbox(count, kind === 'host' ? 1 : OUT_PRIORITIES, micros);
      this.state.outboxes[link] = box;
    } else {
      const { now } = kind === 'host' ? moves.slot : moves.out;
      // Items count from the link's first output, or slot: where that stood before is where the link stood.
      const firstBefore = box.first;
      box.refit(count, micros, (item) => {
        const place = now[firstBefore + item];
        return place < 0 ? -1 : place - first;
      });
    }
    box.first = first;
    box.sysexPause = (surface?.device.sysexPause ?? 0) * 1_000;
    return box;
  }

  /** Records why a part's message went no further. */
  stop(part: number, why: Stop): void {
    if (part >= 0) this.services.log?.stopped(part, why);
  }

  /** What is believed of a slot has changed: what shows it and what hangs on it are due. */
  changed(slot: number): void {
    this.subscriptions.changed(slot);
    const watch = this.tables.watch[slot];
    if (watch === 0) return;
    if ((watch & Watch.Condition) !== 0) this.conditionsStale = true;
    if ((watch & Watch.Focus) !== 0) this.targetsStale = true;
  }

  /** What outputs show is worked out anew before anything is sent: the bank, a layer or a focus is another one. */
  resolveAnew(): void {
    this.targetsStale = true;
    this.refresh.hurry();
    this.services.agenda[0] = -Infinity;
  }

  /** The device has changed its onboard page: it takes other messages now and shows nothing of ours yet. */
  turnPage(link: number, page: number): void {
    this.pages[link] = page;
    this.senders[link] = this.plan.links[link].senders[page];
    this.layers.turned(link, page);
    this.layerChanges.apply();
    this.rendering.repaint(link);
  }

  /** Lets go of everything that a surface touches or holds. */
  letGoOfSurface(link: number): void {
    this.plan.parts.forEach((part, p) => {
      if (part.link === link) this.hands.letGo(p);
    });
    this.layerChanges.apply();
  }

  /** Nothing that comes from a link counts any more. */
  forgetLink(link: number): void {
    this.passOn.endFrom(link);
    if (this.plan.links[link].kind === 'surface') this.letGoOfSurface(link);
    else this.reports.forgetHost(link);
  }

  /** Asks a host to report everything, where it has a way and both ends are open. */
  askHost(link: number): void {
    const { ask, kind } = this.plan.links[link];
    if (kind !== 'host' || !ask || this.state.inOpen[link] === 0 || !this.outboxes[link].open)
      return;
    this.outboxes[link].pushEvent(ask, 0, ask.length);
  }

  /** Works out when something is due by itself next, into the agenda. {@link advance} is needed by then. */
  findNext(): void {
    const { services } = this;
    let next = Math.min(this.beliefs.deadline, this.hands.gestures.deadline);
    next = Math.min(next, this.dueOuts.deadline, this.lights.deadline, this.motors.deadline);
    next = Math.min(next, this.touches.fingers.deadline, this.refresh.deadline);
    next = Math.min(next, services.greeting.deadline, services.cables.deadline);
    for (const decoder of this.decoders) if (decoder.deadline < next) next = decoder.deadline;
    for (const box of this.outboxes) if (box.deadline < next) next = box.deadline;
    services.agenda[0] = next;
  }

  /** Does what is due now, in the order in which messages are worked on. */
  advance(): void {
    const now = this.services.clock[0];
    const { links } = this.plan;
    for (let link = 0; link < this.decoders.length; link++)
      if (now >= this.decoders[link].deadline) this.hearing.overdue(link);
    if (now >= this.beliefs.deadline) this.reports.resolve();
    if (now >= this.hands.gestures.deadline) {
      this.hands.gestures.advance();
      this.layerChanges.apply();
    }
    if (now >= this.touches.fingers.deadline) this.touches.fingers.advance();
    if (now >= this.services.greeting.deadline) this.services.greeting.advance(links);
    if (now >= this.services.cables.deadline) this.services.cables.advance(links);
    this.dueOuts.advance();
    this.lights.advance((out, canWait) => {
      if (canWait) this.dueOuts.addLast(out);
      else this.dueOuts.add(out);
    });
    if (now >= this.motors.deadline) this.motors.advance();
    this.refresh.advance();
    this.pump();
  }

  /** Sends what is due, as far as the wires have room by now. */
  pump(): void {
    if (this.conditionsStale) {
      this.conditionsStale = false;
      if (this.matcher.refresh()) this.targetsStale = true;
    }
    if (this.targetsStale) this.resolve();
    const { agenda, clock } = this.services;
    for (let link = 0; link < this.outboxes.length; link++) {
      const box = this.outboxes[link];
      if (box.work === 0) continue;
      box.drain(clock, this.renders[link], this.writes[link]);
      box.note(agenda);
    }
  }

  /** Works out anew what outputs show and what causes hang on. */
  private resolve(): void {
    this.targetsStale = false;
    this.matcher.refresh();
    this.targets.resolveAll();
    this.reports.hangCauses();
  }

  /** Begins where the round under the plan before left off; null where this is the first. */
  begin(before: Round | null, moves: Moves | null): void {
    this.pages.forEach((page, link) => this.layers.turned(link, page));
    this.layers.fitGroups();
    this.layerChanges.show();
    this.services.bank.fit(this.plan.strips, this.plan.window);
    this.matcher.refresh();
    if (before && moves) this.targets.resolveAsBefore(before.targets, moves);
    else this.targets.resolveAll();
    this.reports.hangCauses();
    this.pump();
  }
}
