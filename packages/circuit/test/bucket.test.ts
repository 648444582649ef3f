import { expect, test } from 'vitest'
import { natsBucket } from '../src/nats/bucket.ts'

/** A bucket of NATS with these revisions, each a key of its own, of which the server always says that one more is pending. */
function miscounting(revisions: readonly number[]): any {
  const entries = revisions.map((revision) => ({
    key: `m${revision}`,
    revision,
    delta: 1,
    operation: 'PUT',
    string: () => 'here',
  }))
  return {
    async watch() {
      let end = (): void => {}
      const stopped = new Promise<void>((done) => {
        end = done
      })
      async function* seen() {
        yield* entries
        await stopped
      }
      return Object.assign(seen(), { stop: end })
    },
    status: async () => ({
      values: entries.length,
      streamInfo: { state: { last_seq: revisions.at(-1) ?? 0 } },
    }),
  }
}

test.each([[[]], [[3]], [[3, 8, 9]]])(
  'a watch of %j has caught up with its last change, however many a server takes for pending',
  async (revisions: readonly number[]) => {
    const seen: string[] = []
    let stop = (): void => {}
    await new Promise<void>((caughtUp) => {
      stop = natsBucket(miscounting(revisions)).watch((key) => seen.push(key), caughtUp)
    })
    stop()
    expect(seen).toEqual(revisions.map((revision) => `m${revision}`))
  },
)
