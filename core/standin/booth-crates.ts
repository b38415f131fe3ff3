import { CRATES, RECORDS, valueOfChoice } from '@rondo/core/host';
import type { BoothSession } from './booth-session.js';

/** Crates and the records in them: what is chosen, and how one goes up and down. */
export class BoothCrates {
  constructor(private readonly of: BoothSession) {}

  /** Up and down the records of the crate that is open, or the crates where none is, by whole ticks. */
  browse(by: number): void {
    const isOpen = this.of.isOn('crateOpen');
    const crate = this.of.choice('crate', CRATES.length);
    const records = isOpen ? CRATES[crate].records : CRATES.map((_, at) => at);
    const now = isOpen ? records.indexOf(this.of.choice('chosen', RECORDS.length)) : crate;
    const next = records[Math.max(0, Math.min(records.length - 1, now + Math.trunc(by)))];
    this.chooseOne(isOpen ? 'chosen' : 'crate', next);
  }

  /** What is chosen is another one now: its name is told, and an open crate has one of its own records chosen. */
  chose(id: 'chosen' | 'crate'): void {
    if (id === 'crate') this.openCrate();
    else
      this.of.putText(
        this.of.slot('chosenText'),
        RECORDS[this.of.choice('chosen', RECORDS.length)].title,
      );
  }

  private chooseOne(id: 'chosen' | 'crate', index: number): void {
    const total = id === 'chosen' ? RECORDS.length : CRATES.length;
    this.of.put(this.of.slot(id), valueOfChoice(total, index));
    this.chose(id);
  }

  /** In a crate that is open one of its own records is chosen. */
  openCrate(): void {
    const { records } = CRATES[this.of.choice('crate', CRATES.length)];
    if (this.of.isOn('crateOpen') && !records.includes(this.of.choice('chosen', RECORDS.length)))
      this.chooseOne('chosen', records[0]);
  }
}
