import type { RulePiece, Sender } from '@rondo/core/surface';
import type { EngineServices } from '../engine-services.js';
import { NOTHING_SHOWN, type State } from '../live/state.js';
import { OutputColumn, Pick } from '../plan/columns.js';
import type { Plan } from '../plan/plan.js';
import type { Tables } from '../plan/tables.js';
import type { RoundContext } from '../round-context.js';
import type { Sight } from './sight.js';
import type { OutputTargets } from './output-targets.js';
import type { DueOuts } from './due-outs.js';
import type { Outbox } from './outbox.js';
import { Texts } from './texts.js';

/** While a motor was told something this lately it is live, µs: nothing long goes out between its messages. */
const MOTOR_LIVE = 40_000;
/** Longest SysEx that goes out while a motor is live, in bytes. */
const SHORT_SYSEX = 15;
/** Most characters that neighbouring text fields are joined to. */
const LONGEST_JOINED = 56;
const SYSEX_START = 0xf0;
const NONE = -1;

/** What it needs of the round. */
interface Needs extends RoundContext {
  readonly targets: OutputTargets;
  readonly dueOuts: DueOuts;
  readonly sight: Sight;
}

/** Texts on displays: what each field is to say, and in how few messages. */
export class TextFields {
  private readonly plan: Plan;
  private readonly tables: Tables;
  private readonly state: State;
  private readonly services: EngineServices;
  private readonly senders: readonly Sender[];
  private readonly outboxes: readonly Outbox[];
  private readonly targets: OutputTargets;
  private readonly dueOuts: DueOuts;
  private readonly texts: Texts;
  /** The text field that begins where this one ends, and the one that ends where it begins; −1 for none. */
  private readonly after: Int32Array;
  private readonly before: Int32Array;

  constructor(round: Needs) {
    this.plan = round.plan;
    this.tables = round.tables;
    this.state = round.state;
    this.services = round.services;
    this.senders = round.senders;
    this.outboxes = round.outboxes;
    this.targets = round.targets;
    this.dueOuts = round.dueOuts;
    this.texts = new Texts(round.plan, round.sight, round.services.bank);
    this.after = new Int32Array(this.plan.outs.length).fill(NONE);
    this.before = new Int32Array(this.plan.outs.length).fill(NONE);
    this.join();
  }

  /** Finds text fields that lie side by side in one display: what is due in both goes in one message. */
  private join(): void {
    const { outs, links } = this.plan;
    const fields = outs.flatMap(({ control, part, link }, out) => {
      const pattern = control.takes[part];
      const plain = links[link].senders.length === 1;
      if (!plain || pattern?.type !== 'text' || pattern.offset === undefined || !pattern.width)
        return [];
      const display = `${link} ${pattern.header.join(' ')}`;
      return [{ out, display, offset: pattern.offset, width: pattern.width }];
    });
    const starts = new Map(fields.map(({ out, display, offset }) => [`${display} ${offset}`, out]));
    for (const { out, display, offset, width } of fields) {
      const next = starts.get(`${display} ${offset + width}`);
      if (next === undefined) continue;
      this.after[out] = next;
      this.before[next] = out;
    }
  }

  /** Whether a field says something else than it shows. */
  isDue(out: number): boolean {
    return this.dueText(out) !== null;
  }

  /** The text that a field is due; null where it shows it. */
  private dueText(out: number): string | null {
    const at = out * OutputColumn.Width;
    const sender = this.senders[this.tables.outs[at + OutputColumn.Link]];
    const local = this.tables.outs[at + OutputColumn.Local];
    const text = sender.fit(local, this.wanted(out, sender.roomOf(local)));
    const { shown, shownText } = this.state;
    return shown[out] > NOTHING_SHOWN && text === shownText[out] ? null : text;
  }

  private wanted(out: number, width: number): string {
    const { binding, slot, rule } = this.targets.fresh(out);
    const times = this.targets.timesOf(binding);
    return this.texts.textOf(
      rule,
      {
        own: slot,
        name: this.targets.slotOf(binding, Pick.Name),
        time: times?.time ?? NONE,
        tempo: times?.tempo ?? NONE,
        part: this.targets.partOf(out),
        layer: this.targets.topLayer(),
      },
      width,
    );
  }

  /** The text that a rule gives now, of what a part is bound to, 7-bit safe; part −1 for none. */
  textBy(rule: readonly RulePiece[], part: number): string {
    const { targets } = this;
    const binding = targets.bindingOf(part);
    const times = targets.timesOf(binding);
    return this.texts.textOf(
      { text: rule, feedback: true },
      {
        own: targets.slotOf(binding, Pick.Own),
        name: targets.slotOf(binding, Pick.Name),
        time: times?.time ?? NONE,
        tempo: times?.tempo ?? NONE,
        part,
        layer: targets.topLayer(),
      },
      0,
    );
  }

  /** The next field beside one that is due too and may be written now; −1 where there is none. */
  private dueBeside(field: number, beside: Int32Array, length: number): number {
    const next = beside[field];
    if (next < 0 || this.dueOuts.waits(next)) return NONE;
    const text = this.dueText(next);
    return text === null || text.length + length > LONGEST_JOINED ? NONE : next;
  }

  /**
   * Writes a text field, and those beside it that are due too, in one message: fewer bytes than one for each. While a
   * motor is live nothing long goes out.
   */
  render(out: number, buffer: Uint8Array, bufferAt: number): number {
    const { shown, shownText, shownAt, motorAt } = this.state;
    const now = this.services.clock[0];
    const link = this.tables.outs[out * OutputColumn.Width + OutputColumn.Link];
    const sender = this.senders[link];
    let text = this.dueText(out);
    if (text === null) {
      // It is not worked out more often than it may be written.
      shownAt[out] = now;
      return 0;
    }
    const live = now - motorAt[link] < MOTOR_LIVE || this.outboxes[link].isDue(0);
    let first = out;
    const fields = [out];
    if (!live) {
      for (let at = out; ;) {
        at = this.dueBeside(at, this.before, text.length);
        if (at < 0) break;
        text = (this.dueText(at) ?? '') + text;
        first = at;
        fields.push(at);
      }
      for (let at = out; ;) {
        at = this.dueBeside(at, this.after, text.length);
        if (at < 0) break;
        text += this.dueText(at) ?? '';
        fields.push(at);
      }
    }
    const local = this.tables.outs[first * OutputColumn.Width + OutputColumn.Local];
    const before = shown[first] > NOTHING_SHOWN ? shownText[first] : '';
    const length = sender.writeText(local, text, buffer, bufferAt, before);
    if (live && length > SHORT_SYSEX && buffer[bufferAt] === SYSEX_START) {
      this.dueOuts.waitUntil(out, now + MOTOR_LIVE);
      return 0;
    }
    for (const field of fields) {
      shownText[field] = this.dueText(field) ?? '';
      shown[field] = 0;
      shownAt[field] = now;
    }
    return length;
  }
}
