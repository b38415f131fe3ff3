/** What becomes of a message after its controls have seen it. */
export const enum Disposition {
  Unmatched,
  Consumed,
  PassedOn,
}
