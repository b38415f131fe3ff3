/** The part of a process that tells of what nobody caught. */
export interface Faulty {
  on(
    event: 'uncaughtException' | 'unhandledRejection',
    listener: (error: unknown) => void,
  ): unknown;
}

/** How long what was let go of may take to leave, ms. */
export const LEAVING_MS = 500;

/**
 * Ends on a fault that nobody caught, never silently: it is told, what is held is let go of, and then it is over. A second
 * fault meanwhile changes nothing.
 */
export function endOnFault(
  process: Faulty,
  ways: {
    readonly tell: (error: unknown) => void;
    /** Lets go of all that is held for others: notes, keys, the data folder. */
    readonly letGo: () => void;
    readonly end: () => void;
  },
): void {
  let isEnding = false;
  const end = (error: unknown): void => {
    ways.tell(error);
    if (isEnding) return;
    isEnding = true;
    // Armed first: whatever letting go runs into, it ends.
    setTimeout(ways.end, LEAVING_MS);
    try {
      ways.letGo();
    } catch (another) {
      ways.tell(another);
    }
  };
  process.on('uncaughtException', end);
  process.on('unhandledRejection', end);
}
