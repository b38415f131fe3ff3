import { NOTE_ON } from '@rondo/core/wire';

const KEYS = 16 * 128;

/** Notes that sound on each link, and how many actions hold each: a note ends when the last of them lets go. */
export class Notes {
  private readonly holds: Uint8Array[];

  constructor(links: number) {
    this.holds = Array.from({ length: links }, () => new Uint8Array(KEYS));
  }

  /** Takes over what sounds on a link of another plan. */
  carry(link: number, from: Notes, fromLink: number): void {
    this.holds[link].set(from.holds[fromLink]);
  }

  /** One more holds a note; channels from 0. */
  press(link: number, channel: number, note: number): void {
    const at = channel * 128 + note;
    if (this.holds[link][at] < 255) this.holds[link][at]++;
  }

  /** One lets go; true where it was the last. */
  release(link: number, channel: number, note: number): boolean {
    const at = channel * 128 + note;
    const held = this.holds[link][at];
    if (held > 0) this.holds[link][at]--;
    return held === 1;
  }

  /** The bytes that end all notes of a link. */
  silence(link: number): number[] {
    const bytes: number[] = [];
    this.holds[link].forEach((held, at) => {
      if (held > 0) bytes.push(NOTE_ON | (at >> 7), at & 0x7f, 0);
    });
    return bytes;
  }
}
