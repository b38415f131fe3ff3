import { RateLimiterMemory } from 'rate-limiter-flexible';

/** Messages that a glass may send in a second; ten fingers at the pace of a screen send fewer. */
export const GLASS_PER_SECOND = 1_200;
/** Wrong codes in a minute with which an address has to wait for one, and with which everybody has to. */
export const WRONG_BY_ADDRESS = 5;
export const WRONG_IN_ALL = 20;
const PAUSE_SECONDS = 60;

/** Whether a limit lets something pass, which counts it. */
export const passes = (limiter: RateLimiterMemory, key: string): Promise<boolean> =>
  limiter.consume(key).then(
    () => true,
    () => false,
  );

/** How fast each glass may speak. */
export const paceLimit = (): RateLimiterMemory =>
  new RateLimiterMemory({ points: GLASS_PER_SECOND, duration: 1 });

/** The last of so many wrong codes begins the pause. */
const wrongLimit = (wrong: number): RateLimiterMemory =>
  new RateLimiterMemory({
    points: wrong - 1,
    duration: PAUSE_SECONDS,
    blockDuration: PAUSE_SECONDS,
  });

const ALL = 'all';

/** Counts wrong codes, by address and in all. */
export class WrongCodes {
  private readonly byAddress = wrongLimit(WRONG_BY_ADDRESS);
  private readonly inAll = wrongLimit(WRONG_IN_ALL);

  /** Whether no code is looked at just now that comes from an address. */
  async isPaused(address: string): Promise<boolean> {
    const [own, all] = await Promise.all([this.byAddress.get(address), this.inAll.get(ALL)]);
    return (
      (own?.consumedPoints ?? 0) >= WRONG_BY_ADDRESS || (all?.consumedPoints ?? 0) >= WRONG_IN_ALL
    );
  }

  /** A wrong one has come: whether that was the last but a pause from there, and in all. */
  async count(address: string): Promise<{ readonly here: boolean; readonly inAll: boolean }> {
    const [own, all] = await Promise.all([
      passes(this.byAddress, address),
      passes(this.inAll, ALL),
    ]);
    return { here: !own, inAll: !all };
  }
}
