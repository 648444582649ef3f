import { JetStreamApiError } from '@nats-io/jetstream'
import type { KV } from '@nats-io/kv'
import { type Bucket, OutOfSequence } from '../protocol/ports.ts'
import { within } from './within.ts'

const WRONG_LAST = [10071, 10164]
const PUT = 'PUT'
/** How long an answer may take, in ms. */
const PATIENCE = 5000
/** How long to wait before a watch that has ended is begun again, in ms. */
const AGAIN = 500
/** How often a watch is compared with its bucket, in ms. */
const LOOK_EVERY = 3000

/** Returns a bucket of a circuit. */
export function natsBucket(kv: KV): Bucket {
  return {
    async get(key) {
      const entry = await within(PATIENCE, kv.get(key))
      if (entry === null || entry.operation !== PUT) return undefined
      return { text: entry.string(), revision: entry.revision }
    },
    async put(key, text) {
      await within(PATIENCE, kv.put(key, text))
    },
    async replace(key, text, revision) {
      try {
        return await within(PATIENCE, revision === 0 ? kv.create(key, text) : kv.update(key, text, revision))
      } catch (error) {
        if (error instanceof JetStreamApiError && WRONG_LAST.includes(error.code)) throw new OutOfSequence()
        throw error
      }
    },
    async remove(key) {
      await within(PATIENCE, kv.purge(key))
    },
    watch(seen, caughtUp = () => {}) {
      let stop = (): void => {}
      let isOver = false
      const follow = async (): Promise<void> => {
        const watch = await within(PATIENCE, kv.watch())
        stop = () => watch.stop()
        let revision = 0
        const stopLooking = whenBehind(kv, () => revision, stop)
        try {
          const last = await lastOf(kv)
          if (last === 0) caughtUp()
          for await (const entry of watch) {
            if (isOver) return
            revision = entry.revision
            seen(entry.key, entry.operation === PUT ? entry.string() : undefined)
            // Not by how many a server says are pending: it counts wrongly while entries are replaced.
            if (revision >= last) caughtUp()
          }
        } finally {
          stopLooking()
          watch.stop()
        }
      }
      const begin = async (): Promise<void> => {
        while (!isOver) {
          await follow().catch(() => undefined) // there is no leader now
          if (!isOver) await new Promise((soon) => setTimeout(soon, AGAIN).unref())
        }
      }
      void begin()
      return () => {
        isOver = true
        stop()
      }
    },
  }
}

/** Returns the revision of the last change; 0 if the bucket is empty. */
async function lastOf(kv: KV): Promise<number> {
  const { values, streamInfo } = await within(PATIENCE, kv.status())
  return values === 0 ? 0 : streamInfo.state.last_seq
}

/** Calls `act` when a watch has stayed behind its bucket for a while: it has lost its server, and does not know. */
function whenBehind(kv: KV, revision: () => number, act: () => void): () => void {
  let before: number | undefined
  const timer = setInterval(async () => {
    const seen = revision()
    const isBehind = (await lastOf(kv).catch(() => 0)) > seen
    if (isBehind && before === seen) act()
    before = isBehind ? seen : undefined
  }, LOOK_EVERY).unref()
  return () => clearInterval(timer)
}
