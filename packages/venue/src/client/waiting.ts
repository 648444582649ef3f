const [FIRST_WAIT, LONGEST_WAIT] = [400, 10_000]
/** After how many ms without an answer a venue is taken for gone, whatever its connection says. */
const GONE_AFTER = 20_000

/** Returns how long to wait before a try, in ms: longer each time, and never the same for many at once. */
export const waitBefore = (attempt: number): number =>
  Math.min(LONGEST_WAIT, FIRST_WAIT * 2 ** attempt) * (0.5 + Math.random() / 2)

export const timer = (ms: number): Promise<unknown> => new Promise((done) => setTimeout(done, ms))
/** The same, but a process may end meanwhile. */
export const idle = (ms: number): Promise<unknown> =>
  new Promise((done) => Object(setTimeout(done, ms)).unref?.())

/** Calls `gone` if a promise has not settled when its venue is taken for gone. A process may end meanwhile. */
export async function inTime<T>(promise: Promise<T>, gone: () => void): Promise<T> {
  const limit = setTimeout(gone, GONE_AFTER)
  Object(limit).unref?.()
  try {
    return await promise
  } finally {
    clearTimeout(limit)
  }
}
