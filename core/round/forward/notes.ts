import { NOTE_ON } from '@rondo/core/wire';
import { KEYS, type State } from '../live/state.js';

/** Notes that sound on each link, and how many actions hold each: a note ends when the last of them lets go. */
export class Notes {
  private readonly holds: Uint8Array;

  constructor(state: State) {
    this.holds = state.noteHolds;
  }

  /** One more holds a note; channels from 0. */
  press(link: number, channel: number, note: number): void {
    const at = link * KEYS + channel * 128 + note;
    if (this.holds[at] < 255) this.holds[at]++;
  }

  /** One lets go; true where it was the last. */
  release(link: number, channel: number, note: number): boolean {
    const at = link * KEYS + channel * 128 + note;
    const count = this.holds[at];
    if (count > 0) this.holds[at]--;
    return count === 1;
  }

  /** The bytes that end all notes of a link. */
  silence(link: number): number[] {
    const bytes: number[] = [];
    this.holds.subarray(link * KEYS, (link + 1) * KEYS).forEach((count, at) => {
      if (count > 0) bytes.push(NOTE_ON | (at >> 7), at & 0x7f, 0);
    });
    return bytes;
  }
}
