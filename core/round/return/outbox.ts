/** Writes the message of a state item at `buffer[at…]`; returns its bytes, 0 where nothing needs to be sent. */
export type Render = (item: number, buffer: Uint8Array, at: number) => number;

/** How far the model of the wire may run behind the clock, µs: timers do not fire more often. */
export const WIRE_SLACK = 5_000;

const EVENT_BYTES = 1 << 16;
const OUT_BYTES = 1 << 15;
/** Longest single message that a drain may have to hold; longer ones go out by themselves. */
const LONGEST = 512;
/** Long messages that may wait at once, in bytes. */
const MOST_LONG = 1 << 18;

/**
 * What is due on one output, at the pace of its wire. Two classes: events (ordered, none lost) and state (an item is
 * due or not; what is sent is rendered at that moment, so that a burst never queues stale values).
 */
export class Outbox {
  open = false;
  /** Output or slot that its first item stands for: where its link stands in the plan. */
  first = 0;
  /** Bytes handed over and not yet acknowledged; beyond the limit nothing more goes out. */
  unacknowledged = 0;
  unacknowledgedLimit = Infinity;
  /** Leaves out a status byte that is the same as the last: only where Rondo frames the wire itself (MIDI 1.0). */
  runningStatus = false;
  /** How long the wire rests after a SysEx, µs: some devices need that to take it in. */
  sysexPause = 0;
  private lastStatus = 0;
  /** Events that found the ring full. The sender is told by `pushEvent`. */
  refused = 0;

  private readonly events = new Uint8Array(EVENT_BYTES);
  private eventHead = 0;
  private eventTail = 0;
  private queues: Int32Array[] = [];
  private heads = new Int32Array(0);
  private counts = new Int32Array(0);
  /** A bit for each priority of which something is due. */
  private filled = 0;
  private due = new Uint8Array(0);
  private pending = 0;
  /** How much is due, in items and messages: what costs nothing to ask. */
  work = 0;
  /** Long messages, in their order: they wait until nothing else is due. */
  private readonly long: Uint8Array[] = [];
  private longBytes = 0;
  private freeAt = 0;
  private readonly out = new Uint8Array(OUT_BYTES);

  /** @param slack how far the model of the wire may run behind the clock, µs */
  constructor(
    items: number,
    priorities: number,
    private microsPerByte: number,
    private readonly slack = WIRE_SLACK,
  ) {
    this.makeQueues(items, priorities);
  }

  private makeQueues(items: number, priorities: number): void {
    this.queues = Array.from({ length: priorities }, () => new Int32Array(Math.max(1, items)));
    this.heads = new Int32Array(priorities);
    this.counts = new Int32Array(priorities);
    this.due = new Uint8Array(items);
    this.work -= this.pending;
    this.pending = this.filled = 0;
  }

  /**
   * Goes on under another plan: events wait as they did, and what is due of an item that is still there stays due.
   * @param itemOf where an item stands now; below 0 where it is gone
   */
  refit(items: number, microsPerByte: number, itemOf: (item: number) => number): void {
    this.microsPerByte = microsPerByte;
    const { queues, heads, counts } = this;
    this.makeQueues(items, queues.length);
    queues.forEach((queue, priority) => {
      for (let n = 0; n < counts[priority]; n++) {
        const item = itemOf(queue[(heads[priority] + n) % queue.length]);
        if (item >= 0) this.mark(item, priority);
      }
    });
  }

  /** Marks a state item as due, once. */
  mark(item: number, priority: number): void {
    if (this.due[item] !== 0) return;
    this.due[item] = 1;
    const queue = this.queues[priority];
    const tail = this.heads[priority] + this.counts[priority];
    queue[tail < queue.length ? tail : tail - queue.length] = item;
    this.counts[priority]++;
    this.filled |= 1 << priority;
    this.pending++;
    this.work++;
  }

  /**
   * Adds an event; false where there is no room, and then nothing was added. A message of more than 512 bytes waits until
   * nothing else is due.
   */
  pushEvent(bytes: Uint8Array, from: number, to: number): boolean {
    const length = to - from;
    if (length > LONGEST) return this.pushLong(bytes, from, to);
    const used = (this.eventTail - this.eventHead + EVENT_BYTES) % EVENT_BYTES;
    if (length === 0 || used + length + 3 > EVENT_BYTES) {
      this.refused++;
      return false;
    }
    this.put(length >> 8);
    this.put(length & 0xff);
    for (let i = from; i < to; i++) this.put(bytes[i]);
    this.work++;
    return true;
  }

  private pushLong(bytes: Uint8Array, from: number, to: number): boolean {
    if (this.longBytes + to - from > MOST_LONG) {
      this.refused++;
      return false;
    }
    this.long.push(bytes.slice(from, to));
    this.work++;
    this.longBytes += to - from;
    return true;
  }

  private put(byte: number): void {
    this.events[this.eventTail] = byte;
    this.eventTail = (this.eventTail + 1) % EVENT_BYTES;
  }

  private take(): number {
    const byte = this.events[this.eventHead];
    this.eventHead = (this.eventHead + 1) % EVENT_BYTES;
    return byte;
  }

  /** Forgets everything that is due, as when the port goes. */
  clear(): void {
    this.eventHead = this.eventTail = 0;
    this.due.fill(0);
    this.counts.fill(0);
    this.long.length = this.longBytes = 0;
    this.pending = this.work = this.filled = 0;
    this.unacknowledged = 0;
    this.lastStatus = 0;
  }

  /** Puts the {@link deadline} into the first place of a list where that is later. */
  note(agenda: Float64Array): void {
    if (this.work === 0) return;
    const due = this.deadline;
    if (due < agenda[0]) agenda[0] = due;
  }

  /** When the wire is free again, µs; it may lie in the past. */
  get free(): number {
    return this.freeAt;
  }

  /** It is open and nothing is due. */
  get isIdle(): boolean {
    return this.open && this.work === 0;
  }

  /** Whether something of a priority, or of a higher one, is due. */
  isDue(priority: number): boolean {
    return (this.filled & ((2 << priority) - 1)) !== 0;
  }

  /** Leaves out what running status allows; returns the bytes that are left. */
  private compress(from: number, wrote: number): number {
    const { out } = this;
    let to = from;
    for (let at = from; at < from + wrote; at++) {
      const byte = out[at];
      const isChannel = byte >= 0x80 && byte < 0xf0;
      const again = isChannel && byte === this.lastStatus;
      // Real time leaves it alone, all other system messages end it.
      if (isChannel) this.lastStatus = byte;
      else if (byte >= 0xf0 && byte < 0xf8) this.lastStatus = 0;
      if (!again) out[to++] = byte;
    }
    return to - from;
  }

  private get hasEvents(): boolean {
    return this.eventHead !== this.eventTail;
  }

  /** When something may be sent next, µs; Infinity where nothing is due. */
  get deadline(): number {
    if (!this.open || this.work === 0 || this.unacknowledged > this.unacknowledgedLimit)
      return Infinity;
    // What is long waits for the other side too.
    const onlyLong = this.pending === 0 && !this.hasEvents;
    return onlyLong && this.unacknowledged > 0 ? Infinity : this.freeAt;
  }

  /**
   * Sends what the wire has room for by now.
   * @param clock the time now, µs, in its first place: as an argument it would be put on the heap
   * @param write receives whole messages, all of this call's in one stretch
   */
  drain(
    clock: Float64Array,
    render: Render,
    write: (bytes: Uint8Array, from: number, to: number) => void,
  ): void {
    if (!this.open || this.work === 0) return;
    const t = clock[0];
    if (this.freeAt < t - this.slack) this.freeAt = t - this.slack;
    const out = this.out;
    let length = 0;
    while (this.freeAt <= t && this.unacknowledged + length <= this.unacknowledgedLimit) {
      if (length > OUT_BYTES - LONGEST) {
        this.hand(out, length, write);
        length = 0;
      }
      let wrote = 0;
      if (this.eventHead !== this.eventTail) {
        const bytes = (this.take() << 8) | this.take();
        for (; wrote < bytes; wrote++) out[length + wrote] = this.take();
        this.work--;
      } else {
        const item = this.next();
        if (item < 0) break;
        wrote = render(item, out, length);
        if (wrote === 0) continue;
      }
      const isSysex = out[length] === 0xf0;
      if (this.runningStatus) wrote = this.compress(length, wrote);
      length += wrote;
      this.freeAt += wrote * this.microsPerByte;
      if (isSysex) this.freeAt += this.sysexPause;
    }
    if (length > 0) this.hand(out, length, write);
    if (this.long.length > 0 && length === 0) this.drainLong(t, write);
  }

  private hand(
    bytes: Uint8Array,
    length: number,
    write: (bytes: Uint8Array, from: number, to: number) => void,
  ): void {
    write(bytes, 0, length);
    if (this.unacknowledgedLimit < Infinity) this.unacknowledged += length;
  }

  /** Sends one long message, whole, where the wire is free and nothing else is due: it may exceed what may be under way. */
  private drainLong(t: number, write: (bytes: Uint8Array, from: number, to: number) => void): void {
    if (this.freeAt > t || this.unacknowledged > 0 || this.pending > 0 || this.hasEvents) return;
    const message = this.long.shift();
    if (!message) return;
    this.longBytes -= message.length;
    this.work--;
    this.lastStatus = 0;
    this.freeAt += message.length * this.microsPerByte + this.sysexPause;
    this.hand(message, message.length, write);
  }

  private next(): number {
    const { filled } = this;
    if (filled === 0) return -1;
    // The lowest bit.
    const priority = 31 - Math.clz32(filled & -filled);
    const queue = this.queues[priority];
    const head = this.heads[priority];
    this.heads[priority] = head + 1 < queue.length ? head + 1 : 0;
    if (--this.counts[priority] === 0) this.filled &= ~(1 << priority);
    this.pending--;
    this.work--;
    const item = queue[head];
    this.due[item] = 0;
    return item;
  }

  /** The other side has taken some bytes. */
  acknowledge(bytes: number): void {
    this.unacknowledged = Math.max(0, this.unacknowledged - bytes);
  }
}
