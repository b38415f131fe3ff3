const FIRST_SIZE = 4_096;
/** Stretches from this length on are copied as a whole, in bytes. */
const LONG = 24;

/** A simulated cable: bytes go in at one end and come out at the other, in order and in the chunks they went in. */
export class Cable {
  plugged = true;
  private bytes = new Uint8Array(FIRST_SIZE);
  private length = 0;
  private spare = new Uint8Array(FIRST_SIZE);
  /** The stretch that was copied last: whoever writes here does so from one buffer, and a view of it is made once. */
  private view: Uint8Array = new Uint8Array();
  private viewed: Uint8Array | null = null;
  private viewedFrom = 0;

  /** Puts bytes in. An unplugged cable loses them. */
  push(bytes: Uint8Array, from: number, to: number): void {
    if (!this.plugged) return;
    const needed = this.length + to - from;
    if (needed > this.bytes.length) {
      const larger = new Uint8Array(Math.max(needed, this.bytes.length * 2));
      larger.set(this.bytes.subarray(0, this.length));
      this.bytes = larger;
    }
    const { bytes: into } = this;
    if (to - from >= LONG) into.set(this.viewOf(bytes, from, to), this.length);
    else for (let i = from, at = this.length; i < to; i++) into[at++] = bytes[i];
    this.length = needed;
  }

  private viewOf(bytes: Uint8Array, from: number, to: number): Uint8Array {
    const isSame =
      this.viewed === bytes && this.viewedFrom === from && this.view.length === to - from;
    if (!isSame) {
      this.view = bytes.subarray(from, to);
      this.viewed = bytes;
      this.viewedFrom = from;
    }
    return this.view;
  }

  get isEmpty(): boolean {
    return this.length === 0;
  }

  /** Hands over what is in it. What is put in meanwhile waits for the next call. */
  flow(receive: (bytes: Uint8Array, from: number, to: number) => void): void {
    if (this.length === 0) return;
    const { bytes, length } = this;
    this.bytes = this.spare;
    this.spare = bytes;
    this.length = 0;
    receive(bytes, 0, length);
  }
}
