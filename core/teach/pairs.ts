/** One step of something that moves: of a control, or of a function. */
export interface Movement {
  /** When, ms. */
  readonly t: number;
  /** What moves, by any name. */
  readonly what: string;
  /** It switches rather than slides. */
  readonly switches: boolean;
}

/** A control and a function that were moved for each other. */
export interface ProposedPair {
  readonly control: string;
  readonly function: string;
  /** 0…1. */
  readonly confidence: number;
}

/** Movements of one thing without a longer rest, ms. */
interface Burst {
  readonly what: string;
  readonly switches: boolean;
  readonly from: number;
  to: number;
}

/** A rest as long ends a movement, ms. */
const REST = 900;
/** What lies further apart was hardly meant for each other, ms. */
const REACH = 6_000;
/** How much a slide and a switch speak against each other, ms. */
const UNLIKE = 1_500;

function burstsOf(movements: readonly Movement[]): Burst[] {
  const open = new Map<string, Burst>();
  const bursts: Burst[] = [];
  for (const { t, what, switches } of [...movements].sort((a, b) => a.t - b.t)) {
    const now = open.get(what);
    if (now && t - now.to <= REST) now.to = t;
    else {
      const burst: Burst = { what, switches, from: t, to: t };
      open.set(what, burst);
      bursts.push(burst);
    }
  }
  return bursts;
}

const apart = (a: Burst, b: Burst): number =>
  Math.max(0, a.from - b.to, b.from - a.to) + (a.switches === b.switches ? 0 : UNLIKE);

/**
 * Which control was moved for which function, from when they moved: one after the other by turns, in either order, or
 * first all of the one kind and then as many of the other. Nothing is paired twice; the last pair of a control counts.
 */
export function proposePairs(
  controls: readonly Movement[],
  functions: readonly Movement[],
): ProposedPair[] {
  const left = burstsOf(controls);
  const right = burstsOf(functions);
  if (left.length === 0 || right.length === 0) return [];
  const blocks =
    left.length === right.length &&
    left.length > 1 &&
    (left.at(-1)!.to < right[0].from || right.at(-1)!.to < left[0].from);
  const pairs = blocks
    ? left.map((burst, n) => pair(burst, right[n], 0.7))
    : aligned(left, right).map(([a, b]) => pair(a, b, 1 / (1 + apart(a, b) / REACH)));
  // Whoever corrects a pair moves it again.
  const last = new Map<string, ProposedPair>();
  for (const proposed of pairs) {
    last.delete(proposed.control);
    for (const [key, other] of last) if (other.function === proposed.function) last.delete(key);
    last.set(proposed.control, proposed);
  }
  return [...last.values()];
}

const pair = (a: Burst, b: Burst, confidence: number): ProposedPair => ({
  control: a.what,
  function: b.what,
  confidence: a.switches === b.switches ? confidence : confidence * 0.8,
});

/** The cheapest pairing that keeps both orders; what is left alone costs half of the reach. */
function aligned(left: readonly Burst[], right: readonly Burst[]): [Burst, Burst][] {
  const alone = REACH / 2;
  const width = right.length + 1;
  const cost = new Float64Array((left.length + 1) * width);
  for (let i = left.length; i >= 0; i--)
    for (let j = right.length; j >= 0; j--) {
      const at = i * width + j;
      if (i === left.length || j === right.length) {
        cost[at] = (left.length - i + right.length - j) * alone;
        continue;
      }
      const gap = apart(left[i], right[j]);
      cost[at] = Math.min(
        cost[at + width] + alone,
        cost[at + 1] + alone,
        gap <= REACH ? cost[at + width + 1] + gap : Infinity,
      );
    }
  const pairs: [Burst, Burst][] = [];
  let i = 0;
  let j = 0;
  while (i < left.length && j < right.length) {
    const at = i * width + j;
    if (cost[at] === cost[at + width + 1] + apart(left[i], right[j]))
      pairs.push([left[i++], right[j++]]);
    else if (cost[at] === cost[at + width] + alone) i++;
    else j++;
  }
  return pairs;
}
