/** The clock that a host runs on: a process's, a page's, or one that a test moves by hand. */
export interface HostClock {
  /** Returns the time in ms from any origin. It never goes back. */
  now(): number
  /**
   * Calls `wake` once after this many ms; for 0, after what runs now. Returns a function that cancels it.
   */
  wakeAfter(ms: number, wake: () => void): () => void
}
