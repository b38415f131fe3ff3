/** As many notes as an action may have. */
const MOST = 16;

/** Gathers a chord as it is played: what is pressed while another key is held joins it; after all are let go a new one begins. */
export class ChordCatcher {
  private readonly held = new Set<number>();
  /** Notes 0–127, lowest first. */
  notes: readonly number[] = [];

  /** Takes a whole MIDI message; whether it has changed the chord. */
  take([status, note, velocity]: ArrayLike<number> & Iterable<number>): boolean {
    const kind = status & 0xf0;
    // A note on with velocity 0 is a note off (MIDI 1.0).
    if (kind === 0x80 || (kind === 0x90 && velocity === 0)) this.held.delete(note);
    if (kind !== 0x90 || velocity === 0) return false;
    const before = this.held.size === 0 ? [] : this.notes;
    this.held.add(note);
    return this.set([...before, note]);
  }

  /** Takes a key that only tells that it was pressed: it joins what is there. */
  join(note: number): boolean {
    return this.set([...this.notes, note]);
  }

  private set(notes: readonly number[]): boolean {
    const next = [...new Set(notes)].sort((a, b) => a - b).slice(0, MOST);
    const isSame = next.length === this.notes.length && next.every((n, i) => n === this.notes[i]);
    this.notes = next;
    return !isSame;
  }
}
