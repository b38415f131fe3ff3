import { StreamParser, type MessageSink } from '@rondo/core/wire';

/** Longest SysEx that is read and passed on whole, in bytes; longer ones are refused, and that is told. */
export const LONGEST_SYSEX = 65_536;

/** Takes the messages of all links. */
export interface Messages {
  short(link: number, packed: number): void;
  sysex(link: number, bytes: Uint8Array, from: number, to: number): void;
}

/** Bytes of one link on their way to messages. What is half read stays so while the link's place in the plan changes. */
export class LinkInput implements MessageSink {
  readonly parser = new StreamParser(this, LONGEST_SYSEX);

  /**
   * @param messages takes them; another round's from the next plan on
   * @param link place of the link in the plan
   */
  constructor(
    public messages: Messages,
    public link: number,
  ) {}

  short(packed: number): void {
    this.messages.short(this.link, packed);
  }

  sysex(bytes: Uint8Array, from: number, to: number): void {
    this.messages.sysex(this.link, bytes, from, to);
  }
}
