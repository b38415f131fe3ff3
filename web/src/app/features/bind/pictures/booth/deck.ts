/** A deck of the Booth, by its place from 0. */
export interface Deck {
  readonly name: string;
  readonly index: number;
}
