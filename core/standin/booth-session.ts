/** What the parts of the Booth need of it: its values by function and deck, and how they are told. */
export interface BoothSession {
  /** First slot of a function, or its slot for a deck. */
  slot(id: string, deck?: number): number;
  value(id: string, deck?: number): number;
  isOn(id: string, deck?: number): boolean;
  /** Which of so many choices a function has. */
  choice(id: string, total: number, deck?: number): number;
  valueAt(slot: number): number;
  put(slot: number, value: number): void;
  /** Takes a value over where it has changed. */
  change(slot: number, value: number): void;
  putText(slot: number, text: string): void;
}
