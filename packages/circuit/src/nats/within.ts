/**
 * Resolves as a promise does, or rejects after this many ms. Some calls of the clients wait for as long as a server is silent:
 * whoever waits for them would wait for ever.
 */
export async function within<R>(ms: number, promise: Promise<R>): Promise<R> {
  let timer: NodeJS.Timeout | undefined
  const silence = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new NoAnswer()), ms)
  })
  try {
    return await Promise.race([promise, silence])
  } finally {
    clearTimeout(timer)
  }
}

/** No server has answered in time. */
export class NoAnswer extends Error {}
