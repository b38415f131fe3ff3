import { CLOCK, NOTE_OFF, NOTE_ON, OSC_MESSAGE, POLY_PRESSURE, inStream } from '@rondo/core/wire';
import { KEYS } from '../live/state.js';
import { KIND_BITS, type RoutePlan } from '../plan/link-plan.js';
import type { Plan } from '../plan/plan.js';
import type { Outbox } from '../return/outbox.js';
import { LONGEST_SYSEX } from './link-input.js';
import type { RoundContext } from '../round-context.js';
import type { Notes } from './notes.js';
import { Disposition } from './disposition.js';
import { PAUSE, Pace, keepPace } from './pace.js';
import { pushShort } from './short-messages.js';

/** What has gone along a route. */
export interface RouteTraffic {
  readonly id: string;
  /** Messages so far. */
  readonly passed: number;
  /** Jitter of a clock as it came and as its cable let it go, µs; 0 where none has come. */
  readonly cameJitter: number;
  readonly wentJitter: number;
  /** How far apart its ticks come, µs, smoothed; 0 where the clock stands. */
  readonly tickGap: number;
}

/** A SysEx above this many bytes is worth a word about the time that it takes on the wire. */
const LONG_SYSEX = 512;

/** Active sensing and reset concern one cable alone (MIDI 1.0). */
const ACTIVE_SENSING = 0xfe;

/** Bit of the kind that a status byte belongs to; 0 for what never goes on. */
function kindBit(status: number): number {
  if (status >= ACTIVE_SENSING) return 0;
  if (status >= 0xf0) return KIND_BITS.clock;
  switch (status & 0xf0) {
    case 0xb0:
      return KIND_BITS.controller;
    case 0xc0:
      return KIND_BITS.program;
    case 0xa0:
    case 0xd0:
      return KIND_BITS.pressure;
    case 0xe0:
      return KIND_BITS.bend;
    default:
      return KIND_BITS.note;
  }
}

/** A note on at velocity 0 is a note off (MIDI 1.0). */
const endsNote = (packed: number): boolean =>
  (packed & 0xf0) === NOTE_OFF || ((packed & 0xf0) === NOTE_ON && packed >> 16 === 0);

/** The note that a message is about, channel × 128 + note. */
const keyOf = (packed: number): number => ((packed & 0x0f) << 7) | ((packed >> 8) & 0x7f);

/** What it needs of the round. */
interface Needs extends RoundContext {
  readonly notes: Notes;
}

/**
 * Passes on what comes in on links along the routes of the plan: what bindings let through, and what nothing is bound to,
 * by kind, channel and note. A note that went on is ended where it sounds, whatever became of its route meanwhile.
 */
export class PassOn {
  private readonly plan: Plan;
  private readonly outboxes: readonly Outbox[];
  /** Routes of each link, by place in the plan: those that take what they say first, then those that take the rest. */
  private readonly routes: readonly Int32Array[];
  /** By route and the key of a note as it came: 1 + the key at which it sounds; 0 where it does not. */
  private readonly sounding: Int32Array;
  private readonly passed: Float64Array;
  private readonly pace: Float64Array;

  constructor(private readonly round: Needs) {
    this.plan = round.plan;
    this.outboxes = round.outboxes;
    this.sounding = round.state.routeNotes;
    this.passed = round.state.routePassed;
    this.pace = round.state.routePace;
    const { routes } = this.plan;
    const places = routes.map((_, route) => route);
    const inOrder = [
      ...places.filter((route) => !routes[route].rest),
      ...places.filter((route) => routes[route].rest),
    ];
    this.routes = this.plan.links.map((_, link) =>
      Int32Array.from(inOrder.filter((route) => routes[route].from === link)),
    );
  }

  /**
   * Passes on a short message, if it is to go on.
   * @param firstHalf the message before it that is the other half of its value; 0 for none
   */
  short(link: number, packed: number, firstHalf: number, disposition: Disposition): void {
    const routes = this.routes[link];
    if (routes.length === 0) return;
    if (endsNote(packed) && this.endNote(routes, packed)) return;
    if (disposition === Disposition.Consumed) return;
    let isTaken = false;
    for (const place of routes) {
      const route = this.plan.routes[place];
      if ((route.rest && isTaken) || !takes(route, packed, disposition === Disposition.PassedOn))
        continue;
      isTaken = true;
      if (this.isHeldOff(route.to)) continue;
      if (firstHalf !== 0) this.send(place, route, firstHalf);
      this.send(place, route, packed);
    }
  }

  /** Passes on a half of a value that means nothing alone, as the choice of a parameter. */
  half(link: number, packed: number): void {
    this.short(link, packed, 0, Disposition.Unmatched);
  }

  /** Whether nothing is to reach a link now: it is a host's. */
  private isHeldOff(to: number): boolean {
    return this.round.services.silent && this.plan.links[to].kind === 'host';
  }

  /** Sends a message along a route, as that has it. */
  private send(place: number, route: RoutePlan, packed: number): void {
    const { to, channel, shift } = route;
    const kind = packed & 0xf0;
    let out = packed;
    if (kind < 0xf0 && channel >= 0) out = (out & ~0x0f) | channel;
    if (kind <= POLY_PRESSURE) {
      const note = ((packed >> 8) & 0x7f) + shift;
      if (note < 0 || note > 127) return;
      out = (out & ~0x7f00) | (note << 8);
      if (kind === NOTE_ON && packed >> 16 > 0) this.begin(place, to, keyOf(packed), keyOf(out));
    }
    this.passed[place]++;
    const box = this.outboxes[to];
    if ((packed & 0xff) === CLOCK) {
      const now = this.round.services.clock[0];
      keepPace(this.pace, place * Pace.Width, now, Math.max(now, box.free));
    }
    if (!pushShort(box, out) && box.open) this.crowded(to);
  }

  private begin(place: number, to: number, came: number, goes: number): void {
    const at = place * KEYS + came;
    if (this.sounding[at] !== 0) return;
    this.sounding[at] = goes + 1;
    this.round.notes.press(to, goes >> 7, goes & 0x7f);
    this.round.services.heldVersion++;
  }

  /** Ends a note wherever it has gone on to; false where it sounds nowhere. */
  private endNote(routes: Int32Array, packed: number): boolean {
    let didEnd = false;
    for (const place of routes) if (this.end(place, keyOf(packed), packed)) didEnd = true;
    return didEnd;
  }

  /** Ends a note of a route, with the release velocity of the message that ends it; 0 for none. */
  private end(place: number, came: number, packed: number): boolean {
    const at = place * KEYS + came;
    const goes = this.sounding[at] - 1;
    if (goes < 0) return false;
    const { to } = this.plan.routes[place];
    const [channel, note] = [goes >> 7, goes & 0x7f];
    this.sounding[at] = 0;
    this.passed[place]++;
    this.round.services.heldVersion++;
    const kind = packed === 0 ? NOTE_ON : packed & 0xf0;
    const velocity = packed & 0x7f0000;
    if (this.round.notes.release(to, channel, note))
      pushShort(this.outboxes[to], kind | channel | (note << 8) | velocity);
    return true;
  }

  /** Ends all notes that have gone on along a route. */
  endRoute(place: number): void {
    for (let came = 0; came < KEYS; came++) this.end(place, came, 0);
  }

  /**
   * What has gone along each route.
   * @param now µs
   */
  traffic(now: number): RouteTraffic[] {
    return this.plan.routes.map(({ id }, place) => {
      const row = place * Pace.Width;
      return {
        id,
        passed: this.passed[place],
        cameJitter: this.pace[row + Pace.CameJitter],
        wentJitter: this.pace[row + Pace.WentJitter],
        tickGap: now - this.pace[row + Pace.CameAt] > PAUSE ? 0 : this.pace[row + Pace.Tick],
      };
    });
  }

  /** Ends all notes that have come in on a link. */
  endFrom(link: number): void {
    for (const place of this.routes[link]) this.endRoute(place);
  }

  private crowded(to: number): void {
    const { key, label } = this.plan.links[to];
    this.round.services.notices.say(
      'crowded',
      key,
      `More goes on to ${label} than its cable takes: some of it was left out. Pass on fewer kinds of messages, or slow down what sends them.`,
    );
  }

  /** Passes on a SysEx or an OSC message of a link, if it is to go on. */
  fromSysex(
    link: number,
    disposition: Disposition,
    bytes: Uint8Array,
    from: number,
    to: number,
  ): void {
    if (disposition === Disposition.Consumed) return;
    const kind = bytes[from] === OSC_MESSAGE ? KIND_BITS.osc : KIND_BITS.sysex;
    let isTaken = false;
    for (const place of this.routes[link]) {
      const route = this.plan.routes[place];
      const isMeant = disposition === Disposition.PassedOn || (route.kinds & kind) !== 0;
      if (!isMeant || (route.rest && isTaken)) continue;
      isTaken = true;
      if (this.isHeldOff(route.to)) continue;
      this.passed[place]++;
      this.sysex(route.to, bytes, from, to);
    }
  }

  /**
   * Sends a SysEx, or an OSC message, to a link as it is; a long one waits for everything else, and how long it takes is
   * told. A link that does not speak so gets nothing.
   */
  sysex(link: number, bytes: Uint8Array, from: number, to: number): void {
    const box = this.outboxes[link];
    const { key, label, bytesPerSecond, isOsc } = this.plan.links[link];
    if (!box.open || (bytes[from] === OSC_MESSAGE) !== isOsc) return;
    if (isOsc) {
      const packet = inStream(bytes.subarray(from, to));
      if (!box.pushEvent(packet, 0, packet.length)) this.crowded(link);
      return;
    }
    const length = to - from;
    if (!box.pushEvent(bytes, from, to)) {
      this.crowded(link);
      return;
    }
    if (length <= LONG_SYSEX) return;
    const seconds = length / bytesPerSecond;
    const time = seconds < 1 ? `${Math.ceil(seconds * 1_000)} ms` : `${seconds.toFixed(1)} s`;
    this.round.services.notices.say(
      'longSysex',
      key,
      `A SysEx message of ${length} bytes goes on to ${label}: it takes ${time} on the wire, and nothing else gets through meanwhile. It waits until nothing else is due.`,
      false,
    );
  }

  /** A SysEx was too long to be read. */
  tooLong(link: number): void {
    const { key, label } = this.plan.links[link];
    this.round.services.notices.say(
      'longSysex',
      key,
      `${label} sent a SysEx message of more than ${LONGEST_SYSEX / 1_024} KiB. Rondo refused it; nothing of it went on.`,
    );
  }
}

/** Whether a route takes a short message. What a binding passes on goes along it whatever its kind. */
function takes(route: RoutePlan, packed: number, isPassedOn: boolean): boolean {
  const bit = kindBit(packed & 0xff);
  if (bit === 0 || (!isPassedOn && (route.kinds & bit) === 0)) return false;
  const kind = packed & 0xf0;
  if (kind < 0xf0 && ((route.channels >> (packed & 0x0f)) & 1) === 0) return false;
  const note = (packed >> 8) & 0x7f;
  return kind > POLY_PRESSURE || (note >= route.low && note <= route.high);
}
