/** No pattern matches the message. */
export const NO_MATCH = -1;
/** The message is a part of a value that is not whole yet: nothing to do. */
export const HALF = -2;
