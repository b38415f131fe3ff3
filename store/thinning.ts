/** What of a revision decides whether it stays. */
interface Aging {
  readonly revision: number;
  readonly savedAt: string;
  /** The name that it was given; null for none. */
  readonly label: string | null;
}

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;

/** Up to an age, one revision of each stretch of time is kept, ms; all of the last hour. */
const KEPT: readonly (readonly [age: number, stretch: number])[] = [
  [HOUR, 0],
  [DAY, 10 * MINUTE],
  [30 * DAY, HOUR],
  [Infinity, DAY],
];

/**
 * Which revisions are too close to a later one for their age. What has a name, and the newest, are never among them.
 * @param versions of one document, the oldest first
 */
export function thinned(versions: readonly Aging[], newest: number, now: Date): number[] {
  const gone: number[] = [];
  let later = '';
  // From the newest backwards: of each stretch the last one stays.
  for (const { revision, savedAt, label } of [...versions].reverse()) {
    const at = Date.parse(savedAt);
    const age = now.getTime() - at;
    const [, stretch] = KEPT.find(([upTo]) => age <= upTo) ?? KEPT[KEPT.length - 1];
    const place = stretch === 0 ? `${revision}` : `${stretch} ${Math.floor(at / stretch)}`;
    const isKept = revision === newest || label !== null || place !== later;
    if (!isKept) gone.push(revision);
    // A named one does not stand for its stretch: it may be taken back.
    if (label === null || revision === newest) later = place;
  }
  return gone;
}
