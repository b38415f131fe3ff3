import { setImmediate } from 'node:timers/promises';

/** Lets everything else that waits go first. */
export const breathe = (): Promise<void> => setImmediate();
