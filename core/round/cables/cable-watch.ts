import { MOST_TOLD } from '@rondo/core/surface';
import type { State } from '../live/state.js';
import type { Echoes } from './echoes.js';
import type { Notices } from './notices.js';
import type { Plan } from '../plan/plan.js';

/** Presses of one key within this time, µs, that no hand can make: common practice, no source. */
const ROUND_WITHIN = 250_000;
const MOST_PRESSES = 12;
/** Lamps that are named in one notice. */
const NAMED = 3;

/**
 * What links do that is in the way, found in passing: cables that hear themselves, keys that go round, lamps that
 * nothing shows, messages that break off. Each is told in a sentence; what would go round for ever is cut.
 */
export class CableWatch {
  private plan: Plan | null = null;
  /** By link: 1 where its cable hears itself, so that nothing that comes from there is taken. */
  private deaf: Uint8Array = new Uint8Array(0);
  private echoes: readonly (Echoes | null)[] = [];
  /** Presses of each part since a while ago. */
  private pressCount: Uint8Array = new Uint8Array(0);
  private pressFrom: Float64Array = new Float64Array(0);
  /** Lamps that a host has lit and nothing shows, by key of the link. */
  private readonly unseen = new Map<string, Set<string>>();

  /**
   * @param clock the time now, µs, in its first place
   * @param heardAt the time that what is received now bears, µs: no later than now
   */
  constructor(
    private readonly notices: Notices,
    private readonly clock: Float64Array,
    private readonly heardAt: Float64Array,
  ) {}

  /** Goes on under another plan, with its state. */
  use(plan: Plan, state: State): void {
    this.plan = plan;
    this.deaf = state.deaf;
    this.echoes = state.echoes;
    this.pressCount = state.pressCount;
    this.pressFrom = state.pressFrom;
  }

  private linkOf(link: number) {
    return (this.plan as Plan).links[link];
  }

  /** A cable may be another one now: what it was found to do is forgotten. */
  hearAgain(link: number): void {
    const { key } = this.linkOf(link);
    this.deaf[link] = 0;
    this.echoes[link]?.forget();
    this.notices.forget(key);
    this.unseen.delete(key);
  }

  /** Bytes go out on a link. */
  sent(link: number, bytes: Uint8Array, from: number, to: number): void {
    this.echoes[link]?.sent(bytes, from, to, this.clock);
  }

  /** Whether a short message went out on the same link a moment ago. */
  wasSent(link: number, packed: number): boolean {
    return this.echoes[link]?.has(packed, this.clock) ?? false;
  }

  /** Whether what comes in is, in its order, what has just gone out: then nothing more is taken from there. */
  cameRound(link: number, packed: number): boolean {
    const round = (packed & 0xff) < 0xf0 && this.echoes[link]?.cameRound(packed, this.clock);
    if (!round) return false;
    this.deafen(link);
    return true;
  }

  /** What comes in is what goes out: nothing that comes is taken any more. */
  deafen(link: number): void {
    const { key, label, kind } = this.linkOf(link);
    this.deaf[link] = 1;
    this.notices.say(
      'hearsItself',
      key,
      `What Rondo sends to ${label} comes straight back: the cable hears itself${kind === 'host' ? ', or the program passes on what it hears' : ''}. Rondo takes nothing more from there until you choose another cable for one of the two directions.`,
    );
  }

  /** Whether a key is pressed more often than any hand can: as long as that goes on it is cut, and it is said once. */
  goesRound(part: number): boolean {
    const { heardAt, pressFrom, pressCount } = this;
    if (heardAt[0] - pressFrom[part] > ROUND_WITHIN) {
      pressFrom[part] = heardAt[0];
      pressCount[part] = 0;
    }
    if (pressCount[part] < MOST_PRESSES) {
      pressCount[part]++;
      return false;
    }
    pressFrom[part] = heardAt[0];
    if (pressCount[part] > MOST_PRESSES) return true;
    pressCount[part]++;
    const { control, link } = (this.plan as Plan).parts[part];
    const { key, label } = this.linkOf(link);
    this.notices.say(
      'cycle',
      key,
      `${control.label} of ${label} came more than ${MOST_PRESSES} times in a quarter of a second: something sends it round. Rondo lets it be until that ends. Look for a cable or a program that sends on what it hears.`,
    );
    return true;
  }

  /** A text or another SysEx was broken off in the middle. */
  brokenOff(link: number): void {
    const { key, label } = this.linkOf(link);
    this.notices.say(
      'brokenText',
      key,
      `${label} broke off a SysEx message in the middle. It was left out; what stood there before stays.`,
      false,
    );
  }

  /** An OSC message that nobody can read, or a pattern that means more than can be meant. */
  strangeOsc(link: number, isCut: boolean): void {
    const { key, label } = this.linkOf(link);
    const says = isCut
      ? `${label} sent an address pattern that means more than ${MOST_TOLD} controls. The first ${MOST_TOLD} were taken.`
      : `${label} sent an OSC message that is not well formed. It was left out.`;
    this.notices.say('strangeOsc', key, says, false);
  }

  /** A text was longer than its display. */
  spilt(link: number): void {
    const { key, label } = this.linkOf(link);
    const says = `${label} wrote beyond the end of its display. What fits is shown.`;
    this.notices.say('textSpills', key, says, false);
  }

  /** A host has lit the lamp of a key that no control shows now. */
  unshown(slot: number): void {
    const { fn, link } = (this.plan as Plan).slots[slot];
    const { key, label } = this.linkOf(link);
    const known = this.unseen.get(key) ?? new Set();
    if (known.has(fn.label)) return;
    this.unseen.set(key, known.add(fn.label));
    const names = [...known];
    const some = names.slice(0, NAMED).join(', ');
    const more = names.length > NAMED ? ` and ${names.length - NAMED} more` : '';
    this.notices.say(
      'noLamp',
      key,
      `${label} lights ${some}${more}, which no control of yours shows now. Bind a control to what you want to see.`,
      false,
    );
  }

  /** A program's key acts twice at each press, and that is nothing that Rondo does. */
  heardTwice(slot: number): void {
    const { fn, link } = (this.plan as Plan).slots[slot];
    const { key, label } = this.linkOf(link);
    this.notices.say(
      'twice',
      key,
      `At each of the last presses ${label} turned the lamp of ${fn.label} over and back: it seems to hear the device itself too, so that every press acts twice. Switch the device off in the program, input and output.`,
    );
  }
}
