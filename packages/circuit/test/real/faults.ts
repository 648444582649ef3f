import { JetStreamApiError, jetstream, jetstreamManager } from '@nats-io/jetstream'
import { within } from '../../src/nats/within.ts'
import type { Dice } from '../simulation/world.ts'
import type { Cluster } from './cluster.ts'

/** Resolves after this many ms. */
export const soon = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms))
const STREAM = 'zinc-matches'
const FILLER = 'filler'
/** A code of JetStream: there is no such stream. */
const NO_STREAM = 10059

/** The place in the cluster of the server that leads the stream of matches. */
async function leaderOf({ connection, nats }: Cluster): Promise<number> {
  const manager = await jetstreamManager(connection, { checkAPI: false })
  const { cluster } = await answered(() => manager.streams.info(STREAM))
  return nats.names.indexOf(cluster?.leader)
}

/** How long servers may take until they answer, and how long each answer may, in ms: some calls wait for a silent server for ever. */
const [PATIENCE, SILENCE] = [180_000, 60_000]

/** Asks until there is an answer. @throws What was said last, when there is none for a long time */
export async function answered<R>(ask: () => Promise<R>): Promise<R> {
  const until = performance.now() + PATIENCE
  for (;;)
    try {
      return await within(SILENCE, ask())
    } catch (error) {
      if (performance.now() > until) throw error
      await soon(200)
    }
}

/** It may have been deleted without an answer. */
function nothingIfGone(error: unknown): void {
  if (!(error instanceof JetStreamApiError) || error.code !== NO_STREAM) throw error
}

/** What goes wrong, and is right again when it resolves. */
export const faults: {
  readonly [what: string]: (cluster: Cluster, chance: Dice, lease: number) => Promise<void>
} = {
  async 'kill a venue'(cluster, chance) {
    const venue = chance.pick(cluster.venues)
    await cluster.kill(venue)
    await soon(chance.between(100, 4000))
    await cluster.restart(venue)
  },
  async 'kill a follower'(cluster) {
    const at = ((await leaderOf(cluster)) + 1) % 3
    await cluster.nats.kill(at)
    await soon(1000)
    cluster.nats.start(at)
  },
  async 'kill the leader'(cluster) {
    const at = await leaderOf(cluster)
    await cluster.nats.kill(at)
    await soon(1000)
    cluster.nats.start(at)
  },
  async 'kill two servers'(cluster) {
    const leader = await leaderOf(cluster)
    const all = [leader, (leader + 1) % 3]
    await Promise.all(all.map((at) => cluster.nats.kill(at)))
    await soon(2000)
    for (const at of all) cluster.nats.start(at)
  },
  async 'stop a venue longer than its lease'(cluster, chance, lease) {
    const { child } = chance.pick(cluster.venues)
    child.kill('SIGSTOP')
    await soon(lease + 2000)
    child.kill('SIGCONT')
  },
  async 'cut a venue off'(cluster, chance, lease) {
    const { lines } = chance.pick(cluster.venues)
    for (const line of lines) line.cut()
    await soon(chance.between(500, lease + 3000))
    for (const line of lines) line.heal()
  },
  /**
   * Somebody else fills the servers' disks. Before they are full the venues stand still; then the servers do nothing more, until
   * there is space and they are started again.
   */
  async 'fill the disks'({ connection, nats, disk, standsStill }) {
    const manager = await jetstreamManager(connection, { checkAPI: false })
    await answered(() => manager.streams.add({ name: FILLER, subjects: [FILLER], num_replicas: 3 }))
    const filling = jetstream(connection)
    const fill = (): Promise<boolean> =>
      within(3000, filling.publish(FILLER, new Uint8Array(500_000), { timeout: 1000, retries: 0 })).then(
        () => true,
        () => false,
      )
    // Half of a disk is where the venues begin nothing new, and a quarter more is where they stand still.
    while ((await answered(() => manager.streams.info(FILLER))).state.bytes < (disk * 2 ** 20 * 5) / 8)
      await fill()
    await answered(async () => {
      if (!(await standsStill())) throw new Error('venues write although the disks are nearly full')
    })
    for (let refused = 0; refused < 5; ) refused = (await fill()) ? 0 : refused + 1
    nats.configure(disk * 2)
    for (let at = 0; at < 3; at++) {
      await nats.kill(at, 'SIGTERM')
      nats.start(at)
    }
    await answered(() => manager.streams.delete(FILLER).catch(nothingIfGone))
    nats.configure(disk)
  },
  async 'drain a venue'(cluster, chance) {
    const venue = chance.pick(cluster.venues)
    await cluster.kill(venue, 'SIGTERM')
    await cluster.restart(venue)
  },
}
