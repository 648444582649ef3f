/** Returns this many seconds in milliseconds. */
export const seconds = (n: number): number => n * 1000
/** Returns this many minutes in milliseconds. */
export const minutes = (n: number): number => n * 60_000
