import { NOTE_ON, inStream, writeOscTemplate, type Template } from '@rondo/core/wire';
import { MAX_VALUE_BYTES, readTextRule, type RulePiece } from '@rondo/core/surface';
import { Register, type ActionContext } from '../context.js';
import type { Plan } from '../plan/plan.js';
import type { Outbox } from '../return/outbox.js';
import type { RoundContext } from '../round-context.js';
import type { TextFields } from '../return/text-fields.js';
import type { Notes } from './notes.js';
import type { PassOn } from './pass-on.js';
import { Stop } from '../trace.js';
import { endOf, pushShort } from './short-messages.js';

/** What it needs of the round. */
interface Needs extends RoundContext {
  readonly fields: TextFields;
  readonly notes: Notes;
  readonly passOn: PassOn;
}

/**
 * Actions that send messages as such: any message, what came in, notes and chords. Reads `Register.Heard` and the message
 * in the {@link ActionContext}.
 */
export class MessagesOut {
  private readonly plan: Plan;
  private readonly outboxes: readonly Outbox[];
  private readonly context: ActionContext;
  private readonly scratch = new Uint8Array(MAX_VALUE_BYTES);
  private readonly textRules = new Map<number, readonly RulePiece[]>();

  constructor(private readonly round: Needs) {
    this.plan = round.plan;
    this.outboxes = round.outboxes;
    this.context = round.services.context;
  }

  /** Whether a link can be sent to now; where it cannot, that is why the part's message stops. */
  private canSend(part: number, link: number): boolean {
    if (this.round.services.silent) this.round.stop(part, Stop.HeldOff);
    else if (!this.outboxes[link].open) this.round.stop(part, Stop.HostClosed);
    else return true;
    return false;
  }

  /** Sends the message of an action, with its value; or the message that came in, as it came. */
  send(part: number, action: number): void {
    const { message, osc, link } = this.plan.actions[action];
    if (!this.canSend(part, link)) return;
    const box = this.outboxes[link];
    const { context } = this;
    if (osc) {
      const share = Math.max(0, Math.min(1, context.register[Register.Heard]));
      const packet = inStream(writeOscTemplate(osc, share));
      if (!box.pushEvent(packet, 0, packet.length)) this.round.stop(part, Stop.Busy);
    } else if (message) {
      if (!this.sendTemplate(part, action, message, box)) this.round.stop(part, Stop.Busy);
    } else if (context.sysex)
      this.round.passOn.sysex(link, context.sysex, context.sysexFrom, context.sysexTo);
    else if (part >= 0 && !this.plan.links[link].isOsc) {
      if (context.firstHalf !== 0) pushShort(box, context.firstHalf);
      pushShort(box, context.packed);
    }
  }

  /** Sends what ends a message that was sent as it came in: the one that has let go of it, else what its own press means. */
  sendEnd(part: number, action: number): void {
    const { link } = this.plan.actions[action];
    if (this.context.releasing === part) {
      this.send(part, action);
      return;
    }
    if (this.plan.links[link].isOsc) return;
    const box = this.outboxes[link];
    // What began is ended also while nothing is to reach a host.
    if (box.open) pushShort(box, endOf(this.round.state.pressPacked[part]));
  }

  private sendTemplate(part: number, action: number, template: Template, box: Outbox): boolean {
    if (template.text >= 0) return this.sendText(part, action, template, box);
    const { bytes, value, high, low } = template;
    const share = Math.max(0, Math.min(1, this.context.register[Register.Heard]));
    this.scratch.set(bytes);
    if (value >= 0) this.scratch[value] = Math.round(share * 127);
    const fine = Math.round(share * 16_383);
    if (high >= 0) this.scratch[high] = fine >> 7;
    if (low >= 0) this.scratch[low] = fine & 0x7f;
    return box.pushEvent(this.scratch, 0, bytes.length);
  }

  /** Sends a message with a text in the place of one of its bytes, cut to what a message may hold. */
  private sendText(part: number, action: number, { bytes, text }: Template, box: Outbox): boolean {
    const { action: said } = this.plan.actions[action];
    if (said.do !== 'send') return true;
    let rule = this.textRules.get(action);
    if (!rule) this.textRules.set(action, (rule = readTextRule(said.text ?? '')));
    const room = this.scratch.length - bytes.length + 1;
    const shown = this.round.fields.textBy(rule, part).slice(0, room);
    this.scratch.set(bytes.subarray(0, text));
    for (let i = 0; i < shown.length; i++) this.scratch[text + i] = shown.charCodeAt(i) & 0x7f;
    this.scratch.set(bytes.subarray(text + 1), text + shown.length);
    return box.pushEvent(this.scratch, 0, bytes.length - 1 + shown.length);
  }

  /** Begins the notes of an action; false where they cannot sound. */
  play(part: number, action: number): boolean {
    const { action: said, link } = this.plan.actions[action];
    if (said.do !== 'notes' || !this.canSend(part, link)) return false;
    const strength = Math.round(this.context.register[Register.Heard] * 127);
    const velocity = said.velocity ?? Math.max(1, Math.min(127, strength));
    const status = NOTE_ON | (said.channel - 1);
    for (const note of said.notes) {
      this.round.notes.press(link, said.channel - 1, note);
      pushShort(this.outboxes[link], status | (note << 8) | (velocity << 16));
    }
    return true;
  }

  /** Ends the notes of an action, but those that another one still holds. */
  silence(action: number): void {
    const { action: said, link } = this.plan.actions[action];
    if (said.do !== 'notes') return;
    for (const note of said.notes)
      if (this.round.notes.release(link, said.channel - 1, note))
        pushShort(this.outboxes[link], NOTE_ON | (said.channel - 1) | (note << 8));
  }
}
