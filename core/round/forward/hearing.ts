import { NO_EXTRA, NO_MATCH, type LinkDecoder } from '@rondo/core/surface';
import {
  CLOCK,
  CONTINUE,
  NOTE_OFF,
  OSC_MESSAGE,
  SONG_POSITION,
  START,
  STOP,
} from '@rondo/core/wire';
import { Register, type ActionContext } from '../context.js';
import type { EngineServices } from '../engine-services.js';
import { PartColumn } from '../plan/columns.js';
import type { Link } from '../plan/link-plan.js';
import type { Plan } from '../plan/plan.js';
import type { Tables } from '../plan/tables.js';
import type { RoundContext } from '../round-context.js';
import type { Lights } from '../return/lights.js';
import type { Motors } from '../return/motors.js';
import type { PassOn } from './pass-on.js';
import type { Reports } from '../return/reports.js';
import type { Subscriptions } from '../return/subscriptions.js';
import { Stop } from '../trace.js';
import { Disposition } from './disposition.js';
import type { Hands } from './hands.js';
import type { Messages } from './link-input.js';

/** Note on or off. */
const isNote = (packed: number): boolean => (packed & 0xe0) === NOTE_OFF;

/** What it needs of the round. */
interface Needs extends RoundContext {
  readonly hands: Hands;
  readonly lights: Lights;
  readonly motors: Motors;
  readonly passOn: PassOn;
  readonly reports: Reports;
  readonly subscriptions: Subscriptions;
  turnPage(link: number, page: number): void;
  letGoOfSurface(link: number): void;
  forgetLink(link: number): void;
}

/**
 * What comes in on links: what it means, and whose it is. Fills the {@link ActionContext}; writes `Register.Heard`.
 */
export class Hearing implements Messages {
  private readonly plan: Plan;
  private readonly tables: Tables;
  private readonly services: EngineServices;
  private readonly context: ActionContext;
  private readonly register: Float64Array;
  private readonly decoders: readonly LinkDecoder[];
  private readonly hands: Hands;
  private readonly deaf: Uint8Array;
  private readonly heardOn: Int32Array;
  /** Onboard page that each link is on. */
  private readonly pages: readonly number[];
  // By link, side by side, so that the hot path reaches them in one step.
  private readonly isSurface: Uint8Array;
  private readonly paged: Uint8Array;
  private readonly extra: Int8Array;
  private readonly musicalNotes: readonly (Uint8Array | null)[];
  private readonly first: Int32Array;

  constructor(private readonly round: Needs) {
    const { links } = round.plan;
    this.plan = round.plan;
    this.tables = round.tables;
    this.services = round.services;
    this.context = round.services.context;
    this.register = this.context.register;
    this.decoders = round.decoders;
    this.hands = round.hands;
    this.deaf = round.state.deaf;
    this.heardOn = round.state.heardOn;
    this.pages = round.pages;
    this.isSurface = Uint8Array.from(links, ({ kind }) => (kind === 'surface' ? 1 : 0));
    this.paged = Uint8Array.from(links, ({ senders }) => (senders.length > 1 ? 1 : 0));
    this.extra = round.beliefs.extra;
    this.musicalNotes = links.map(({ musicalNotes }) => musicalNotes);
    this.first = Int32Array.from(links, ({ firstTarget }) => firstTarget);
  }

  private link(link: number): Link {
    return this.plan.links[link];
  }

  /** A short message has come in on a link, packed. */
  short(link: number, packed: number): void {
    if (this.deaf[link] !== 0) return;
    if ((packed & 0xff) >= SONG_POSITION) this.onTime(link, packed);
    const decoder = this.decoders[link];
    const target = decoder.accept(packed);
    if (this.paged[link] === 1 && decoder.page !== this.pages[link])
      this.round.turnPage(link, decoder.page);
    if (this.isSurface[link] === 1) {
      if (decoder.heard.wasChosenAway) this.chosenAway(link, target, packed, decoder);
      else this.fromSurface(link, target, packed, decoder);
    }
    // A program may well send back what it was told; what it never sends by itself is an echo.
    else if (target >= 0) this.fromHost(this.first[link] + target, decoder);
    else if (target === NO_MATCH) {
      if (this.services.watch.cameRound(link, packed)) this.round.reports.forgetHost(link);
      else this.round.passOn.short(link, packed, 0, Disposition.Unmatched);
    }
    this.context.clear();
  }

  /** A half that has waited long enough for the other is taken as it is. */
  overdue(link: number): void {
    const decoder = this.decoders[link];
    for (let target = decoder.takeOverdue(); target !== NO_MATCH; target = decoder.takeOverdue()) {
      const packed = decoder.heard.firstHalf;
      decoder.heard.firstHalf = 0;
      if (target < 0) this.round.passOn.half(link, packed);
      else if (this.isSurface[link] === 1) this.fromSurface(link, target, packed, decoder);
      else this.fromHost(this.first[link] + target, decoder);
      this.context.clear();
    }
  }

  /** Clock, start, continue, stop and song position go on to the beat; all else of the same kind is let be. */
  private onTime(link: number, packed: number): void {
    const { beat } = this.services;
    switch (packed & 0xff) {
      case CLOCK:
        beat.tick(link, this.link(link).clock);
        break;
      case START:
        beat.start(link);
        break;
      case CONTINUE:
        beat.goOn(link);
        break;
      case STOP:
        beat.stop(link);
        break;
      case SONG_POSITION:
        beat.goTo(link, ((packed >> 8) & 0x7f) | ((packed >> 9) & 0x3f80));
        break;
      default:
        return;
    }
    this.round.lights.beaten();
  }

  private fromSurface(link: number, target: number, packed: number, decoder: LinkDecoder): void {
    const { watch, log } = this.services;
    const part = target < 0 ? target : this.first[link] + target;
    if (part >= 0) {
      if (this.tables.parts[part * PartColumn.Width + PartColumn.Motor] >= 0) {
        // A motor that tells where it has gone is no hand.
        // Of what comes in two halves both were sent: of one alone many places have the same.
        const isWhole =
          decoder.heard.firstHalf === 0 || watch.wasSent(link, decoder.heard.firstHalf);
        if (!this.round.motors.isInHand(part) && isWhole && watch.wasSent(link, packed)) return;
      } else if (watch.cameRound(link, packed)) {
        this.round.letGoOfSurface(link);
        return;
      }
    }
    this.context.short(packed, decoder.heard.firstHalf);
    let disposition = Disposition.Unmatched;
    if (part >= 0) {
      this.register[Register.Heard] = decoder.heard.value;
      if (this.isMusic(link, packed)) {
        log?.hand(part, this.context, this.services.clock, false);
        this.round.stop(part, Stop.Music);
      } else disposition = this.hands.touched(part);
    } else if (target === NO_MATCH) {
      if (this.heardOn[link] >= 0 && this.isOfAnother(link, packed)) return;
      if ((packed & 0xff) < CLOCK) log?.stray(link, packed, this.services.clock[0]);
    } else {
      // The release of a note that is a tick ends what its press has begun elsewhere, and is nothing else.
      if (isNote(packed)) this.round.passOn.short(link, packed, 0, Disposition.Consumed);
      else if (!decoder.heard.keepsHalf) this.round.passOn.half(link, packed);
      return;
    }
    this.round.passOn.short(link, packed, this.context.firstHalf, disposition);
  }

  /** Whether a message is that of another surface on the same input, and so none of this one's. */
  private isOfAnother(link: number, packed: number): boolean {
    return this.plan.links.some(
      ({ map }, other) =>
        other !== link && this.heardOn[other] === this.heardOn[link] && map.knows(packed),
    );
  }

  /** What was said of one parameter acts when another is chosen; the choice is passed on by itself. */
  private chosenAway(link: number, target: number, packed: number, decoder: LinkDecoder): void {
    const waited = decoder.heard.firstHalf;
    decoder.heard.firstHalf = 0;
    this.fromSurface(link, target, waited, decoder);
    this.round.passOn.half(link, packed);
  }

  private isMusic(link: number, packed: number): boolean {
    const notes = this.musicalNotes[link];
    const isNote = (packed & 0xf0) <= 0xa0;
    return isNote && notes !== null && notes[((packed & 0x0f) << 7) | ((packed >> 8) & 0x7f)] === 1;
  }

  /** A host has told a value, a character of its time, or a meter's overload. */
  private fromHost(slot: number, decoder: LinkDecoder): void {
    const { reports } = this.round;
    if (decoder.heard.cell >= 0) {
      const { link } = this.plan.slots[slot];
      reports.text(slot, decoder.textAt(slot - this.first[link]));
      return;
    }
    const { extra } = decoder.heard;
    const known = this.extra;
    if (extra !== NO_EXTRA || known[slot] !== NO_EXTRA) {
      const isMeter = this.plan.slots[slot].fn.kind === 'meter';
      if (!isMeter || extra !== NO_EXTRA) known[slot] = extra;
      if (isMeter && extra !== NO_EXTRA) {
        this.round.subscriptions.changed(slot);
        return;
      }
    }
    this.register[Register.Heard] = decoder.heard.value;
    reports.value(slot);
  }

  /** A whole SysEx has come in on a link. */
  sysex(link: number, bytes: Uint8Array, from: number, to: number): void {
    if (this.deaf[link] !== 0) return;
    const { links } = this.plan;
    const { cables, greeting, watch } = this.services;
    if (cables.isAsking(link) && cables.heard(link, links, bytes, from, to)) {
      watch.deafen(link);
      this.round.forgetLink(link);
      return;
    }
    this.services.agenda[0] = -Infinity;
    if (links[link].desk && greeting.hear(link, links[link], links, bytes, from, to)) return;
    const decoder = this.decoders[link];
    const target = decoder.acceptSysex(bytes, from, to);
    if (this.isSurface[link] === 1) this.surfaceSysex(link, target, decoder, bytes, from, to);
    else {
      this.hostSysex(link, target, decoder);
      if (target === NO_MATCH)
        this.round.passOn.fromSysex(link, Disposition.Unmatched, bytes, from, to);
    }
    this.context.clear();
  }

  private surfaceSysex(
    link: number,
    target: number,
    decoder: LinkDecoder,
    bytes: Uint8Array,
    from: number,
    to: number,
  ): void {
    if (this.paged[link] === 1 && decoder.page !== this.pages[link])
      this.round.turnPage(link, decoder.page);
    this.context.long(bytes, from, to);
    let disposition = Disposition.Unmatched;
    if (target >= 0) {
      this.register[Register.Heard] = decoder.heard.value;
      disposition = this.hands.touched(this.first[link] + target);
    } else this.services.log?.stray(link, bytes[from], this.services.clock[0]);
    this.round.passOn.fromSysex(link, disposition, bytes, from, to);
  }

  /** An OSC message has come in on a link: each of its arguments may be one of a control, or of a function. */
  osc(link: number, bytes: Uint8Array, from: number, to: number): void {
    if (this.deaf[link] !== 0) return;
    this.services.agenda[0] = -Infinity;
    const { message, page, told, isCut } = this.decoders[link].acceptOsc(bytes, from, to);
    if (!message || isCut) this.services.watch.strangeOsc(link, isCut);
    if (this.paged[link] === 1 && page !== this.pages[link]) this.round.turnPage(link, page);
    const first = this.first[link];
    let disposition = Disposition.Unmatched;
    for (const { target, value, text } of told) {
      this.context.long(bytes, from, to);
      this.register[Register.Heard] = value;
      if (this.isSurface[link] === 1) {
        const one = this.hands.touched(first + target);
        if (disposition !== Disposition.Consumed) disposition = one;
      } else if (text === null) this.round.reports.value(first + target);
      else this.round.reports.text(first + target, text);
      this.context.clear();
    }
    if (!message || (this.isSurface[link] === 0 && told.length > 0)) return;
    if (told.length === 0 && this.isSurface[link] === 1)
      this.services.log?.stray(link, OSC_MESSAGE, this.services.clock[0]);
    this.round.passOn.fromSysex(link, disposition, bytes, from, to);
  }

  private hostSysex(link: number, target: number, decoder: LinkDecoder): void {
    const first = this.first[link];
    if (target >= 0 && decoder.written.count === 0) this.fromHost(first + target, decoder);
    if (decoder.written.spills) this.services.watch.spilt(link);
    for (let i = 0; i < decoder.written.count; i++) {
      const field = decoder.written.targets[i];
      this.round.reports.text(first + field, decoder.textAt(field).trimEnd());
    }
  }
}
