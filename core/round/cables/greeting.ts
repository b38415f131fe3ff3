import {
  decodeDesk,
  encodeDesk,
  isDeskSysex,
  toHex,
  type DeskMessage,
  type DeskUnit,
} from '@rondo/core/wire';
import type { Notices } from './notices.js';

/** After this time a surface that has not answered the greeting is taken to give none, µs. */
const GREETING_WAITS = 2_000_000;
/** What Rondo answers when a program asks its version. */
const VERSION = 'R1.0';
/** Four bytes to be answered; how the answer is made is not known, so that any will do. */
const CHALLENGE = [0x10, 0x21, 0x32, 0x43];

/** What the greeting needs to know of a link. */
export interface Greeted {
  readonly key: string;
  readonly label: string;
  readonly kind: 'surface' | 'host';
  readonly desk: DeskUnit | null;
}

/** What a program asks of the desk that Rondo stands in for. */
export interface Obeys {
  /** All of its faders go down. */
  fadersDown(link: number): void;
  lightsOff(link: number): void;
  textsOff(link: number): void;
  /** Whether it has told anything since it was connected. */
  hasSpoken(link: number): boolean;
  /** Something for desks alone, as how their meters are shown: it goes on to those that stand in before this program. */
  toDesks(link: number, message: DeskMessage): void;
}

/** A serial number of seven characters that stays the same for the same name. */
function serialOf(name: string): number[] {
  let hash = 7;
  for (const character of name) hash = (hash * 31 + character.charCodeAt(0)) % 2_147_483_647;
  return [...hash.toString(36).padStart(7, '0').slice(-7).toUpperCase()].map((c) =>
    c.charCodeAt(0),
  );
}

/**
 * The greeting of the Mackie-style protocol, on both sides. Nothing waits for it: whatever is answered, or not, the
 * rest goes on.
 */
export class Greeting {
  /** When a surface that was asked is taken to give no answer, µs; Infinity where none is waited for. */
  deadline = Infinity;
  /** Until when an answer is waited for, by key of the link: its place may change with the plan. */
  private readonly waits = new Map<string, number>();
  private readonly serials = new Map<string, string>();

  constructor(
    private readonly notices: Notices,
    private readonly clock: Float64Array,
    private readonly send: (link: number, bytes: Uint8Array) => void,
    private readonly obeys: Obeys,
  ) {}

  /** A surface that speaks the protocol has been connected: it is asked who it is. */
  begin(link: number, { key, desk }: Greeted): void {
    if (!desk) return;
    this.notices.forget(key, ['greeting', 'twins', 'wrongUnit']);
    this.serials.delete(key);
    this.send(link, encodeDesk({ kind: 'ask', unit: desk }));
    this.wait(key);
  }

  /** A program that expects a desk has been connected: it is left to speak first, and told of where it does not. */
  listen({ key, desk }: Greeted): void {
    if (desk) this.wait(key);
  }

  private wait(key: string): void {
    this.waits.set(key, this.clock[0] + GREETING_WAITS);
    this.settle();
  }

  /** A link is gone, or its plan is another one. */
  end({ key }: Greeted): void {
    this.serials.delete(key);
    if (this.waits.delete(key)) this.settle();
  }

  private settle(): void {
    this.deadline = Math.min(Infinity, ...this.waits.values());
  }

  /** Tells of surfaces that have not answered by now. */
  advance(links: readonly Greeted[]): void {
    for (const [key, until] of [...this.waits]) {
      if (this.clock[0] < until) continue;
      this.waits.delete(key);
      const link = links.findIndex((one) => one.key === key);
      if (link < 0) continue;
      const { label, kind } = links[link];
      if (kind === 'host') {
        this.hearHost(key, label, link);
        continue;
      }
      this.notices.say(
        'greeting',
        key,
        `${label} gave no answer to the greeting. Many desks give none; everything works without it.`,
        false,
      );
    }
    this.settle();
  }

  /** Says of a program that has not spoken yet that it has not, until it has. */
  private hearHost(key: string, label: string, link: number): void {
    if (this.obeys.hasSpoken(link)) {
      this.notices.forget(key, ['silent']);
      return;
    }
    this.waits.set(key, this.clock[0] + GREETING_WAITS);
    const says = `${label} has not spoken yet, so nothing is sent to it unless you move something. “Ask for full state” tells it that a desk is here.`;
    if (!this.notices.has('silent', key)) this.notices.say('silent', key, says, false);
  }

  /**
   * Hears a SysEx of a link that speaks the protocol.
   * @returns true where it was one of the protocol's own and nothing else is to be made of it
   */
  hear(
    link: number,
    greeted: Greeted,
    links: readonly Greeted[],
    bytes: Uint8Array,
    from: number,
    to: number,
  ): boolean {
    if (!isDeskSysex(bytes, from, to)) return false;
    const message = decodeDesk(
      bytes.subarray(from, to),
      greeted.kind === 'surface' ? 'desk' : 'host',
    );
    if (greeted.kind === 'surface') this.fromDesk(link, greeted, links, message, bytes, from, to);
    else if (message === null) this.odd(greeted, bytes, from, to);
    else {
      if ('unit' in message && message.unit !== greeted.desk) this.otherUnit(greeted);
      if (message.kind === 'display') return false;
      this.fromHost(link, greeted, message);
    }
    return true;
  }

  private odd({ key, label }: Greeted, bytes: Uint8Array, from: number, to: number): void {
    const hex = toHex(bytes, from + 5, Math.min(to - 1, from + 13));
    this.notices.say(
      'greeting',
      key,
      `${label} said something of the protocol that Rondo does not know (${hex}). It is left alone; the rest works.`,
      false,
    );
  }

  private otherUnit({ key, label, desk }: Greeted): void {
    const other = desk === 'main' ? 'an extender' : 'the main unit';
    const own = desk === 'main' ? 'the main unit' : 'an extender';
    this.notices.say(
      'wrongUnit',
      key,
      `${label} speaks to ${other} on the cable of ${own}: its texts do not arrive. Exchange the two cables, or the units in the program.`,
    );
  }

  private fromDesk(
    link: number,
    greeted: Greeted,
    links: readonly Greeted[],
    message: DeskMessage | null,
    bytes: Uint8Array,
    from: number,
    to: number,
  ): void {
    const { key, label, desk } = greeted;
    const says = (text: string, bad = false) => this.notices.say('greeting', key, text, bad);
    const answered = () => {
      if (this.waits.delete(key)) this.settle();
    };
    switch (message?.kind) {
      case 'introduce': {
        answered();
        const serial = String(message.serial);
        this.serials.set(key, serial);
        const twin = links.find(
          (other) => other.key !== key && this.serials.get(other.key) === serial,
        );
        if (twin)
          this.notices.say(
            'twins',
            key,
            `${label} and ${twin.label} say they are the same desk. Rondo tells them apart by their ports; if they are one desk, take one of the two out.`,
          );
        if (message.unit !== desk) this.otherUnit(greeted);
        this.send(
          link,
          encodeDesk({
            kind: 'answer',
            unit: message.unit,
            serial: message.serial,
            code: message.code,
          }),
        );
        says(`${label} answered the greeting.`);
        return;
      }
      case 'accept':
        answered();
        says(`${label} took the greeting.`);
        this.send(link, encodeDesk({ kind: 'askVersion', unit: message.unit }));
        return;
      case 'reject':
        answered();
        says(
          `${label} refused the greeting. Rondo goes on without it; if nothing lights, choose another mode in the desk.`,
          true,
        );
        return;
      case 'version':
        says(`${label} took the greeting; its version is ${message.text.trim()}.`);
        return;
      case undefined:
        answered();
        this.odd(greeted, bytes, from, to);
        return;
      default:
    }
  }

  /** Tells a program that its desk is there, as a desk does that is switched on: many then show it everything. */
  introduce(link: number, { key, desk }: Greeted): void {
    if (desk)
      this.send(
        link,
        encodeDesk({ kind: 'introduce', unit: desk, serial: serialOf(key), code: CHALLENGE }),
      );
  }

  /** A program speaks to the desk that it takes Rondo for. */
  private fromHost(link: number, { key, label, desk }: Greeted, message: DeskMessage): void {
    const unit = desk ?? 'main';
    const serial = serialOf(key);
    switch (message.kind) {
      case 'ask':
        this.send(link, encodeDesk({ kind: 'introduce', unit, serial, code: CHALLENGE }));
        this.notices.say(
          'greeting',
          key,
          `${label} asked for a desk; Rondo answered as one.`,
          false,
        );
        return;
      case 'answer':
        // How the answer is made is not known: any is good.
        this.send(link, encodeDesk({ kind: 'accept', unit }));
        this.notices.say('greeting', key, `${label} greeted Rondo as its desk.`, false);
        return;
      case 'askVersion':
        this.send(link, encodeDesk({ kind: 'version', unit, text: VERSION }));
        return;
      case 'fadersDown':
        this.obeys.fadersDown(link);
        return;
      case 'lightsOff':
        this.obeys.lightsOff(link);
        return;
      case 'reset':
        this.obeys.fadersDown(link);
        this.obeys.lightsOff(link);
        this.obeys.textsOff(link);
        return;
      case 'meterMode':
      case 'metersMode':
        this.obeys.toDesks(link, message);
        return;
      default:
    }
  }
}
