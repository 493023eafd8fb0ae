/** Work that whoever asked for it has stopped, or no longer waits for. */
export class StoppedError extends Error {}
