import { OscStream, StreamParser, type MessageSink } from '@rondo/core/wire';

/** Longest SysEx that is read and passed on whole, in bytes; longer ones are refused, and that is told. */
export const LONGEST_SYSEX = 65_536;

/** Takes the messages of all links. */
export interface Messages {
  short(link: number, packed: number): void;
  sysex(link: number, bytes: Uint8Array, from: number, to: number): void;
  osc(link: number, bytes: Uint8Array, from: number, to: number): void;
}

/** Bytes of one link on their way to messages. What is half read stays so while the link's place in the plan changes. */
export class LinkInput implements MessageSink {
  readonly parser = new StreamParser(this, LONGEST_SYSEX);
  /** Null where it is MIDI. */
  private osc: OscStream | null = null;

  /**
   * @param messages takes them; another round's from the next plan on
   * @param link place of the link in the plan
   */
  constructor(
    private messages: Messages,
    private link: number,
  ) {}

  /** From now on the link is at this place, and its messages mean what the plan says. */
  use(messages: Messages, link: number, isOsc: boolean): void {
    this.messages = messages;
    this.link = link;
    if (isOsc === (this.osc !== null)) return;
    this.osc = isOsc
      ? new OscStream((bytes, from, to) => this.messages.osc(this.link, bytes, from, to))
      : null;
  }

  /** Bytes have come. */
  feed(bytes: Uint8Array, from: number, to: number): void {
    if (this.osc) this.osc.feed(bytes, from, to);
    else this.parser.feed(bytes, from, to);
  }

  /** The cable is another one now: nothing is half read any more. */
  reset(): void {
    this.parser.reset();
    this.osc?.reset();
  }

  short(packed: number): void {
    this.messages.short(this.link, packed);
  }

  sysex(bytes: Uint8Array, from: number, to: number): void {
    this.messages.sysex(this.link, bytes, from, to);
  }
}
