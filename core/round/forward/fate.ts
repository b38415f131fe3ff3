/** What becomes of a message after its controls have seen it. */
export const enum Fate {
  Unmatched,
  Consumed,
  PassedOn,
}
