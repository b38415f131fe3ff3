import type { Finding } from './infer.js';
import type { Heard } from './settle.js';

/** A movement of fewer messages was a finger that brushed something. */
const BRUSH = 4;
const BRUSH_SHARE = 0.1;

/** The messages of a movement that a finding is about. */
function ownLines({ sends }: Finding, lines: readonly Heard[]): readonly Heard[] {
  const hasNumber = sends.number !== undefined && sends.type !== 'nrpn' && sends.type !== 'rpn';
  return lines.filter(
    ({ bytes }) =>
      (bytes[0] & 0x0f) + 1 === sends.channel && (!hasNumber || bytes[1] === sends.number),
  );
}

/** How far it went, in steps of seven bits. */
function reachOf(own: readonly Heard[]): number {
  const values = own.map(({ bytes }) => bytes[2] ?? bytes[1]);
  return Math.max(0, ...values) - Math.min(127, ...values);
}

/** How far something moved, as a share of what its message can carry, and how often. */
export function movement(finding: Finding, lines: readonly Heard[]): number {
  const relative = finding.sends.encoding !== undefined && finding.sends.encoding !== 'absolute';
  const own = ownLines(finding, lines);
  const reach = reachOf(own);
  return (relative ? 64 : Math.max(reach, finding.kind === 'unknown' ? 0 : 1)) + own.length / 1_000;
}

/** Whether a hand did something whole: a press and its release, a way, some ticks. */
export function isDone(main: Finding, lines: readonly Heard[]): boolean {
  const own = ownLines(main, lines);
  if (own.length >= 2 && ['button', 'pad', 'key', 'touch'].includes(main.kind)) return true;
  if (main.sends.type === 'programChange') return true;
  const isTicks = main.sends.encoding !== undefined && main.sends.encoding !== 'absolute';
  if (own.length < BRUSH) return false;
  return isTicks || reachOf(own) >= BRUSH_SHARE * 127;
}
