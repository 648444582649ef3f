import { expect, test } from 'vitest'
import { startCluster } from './real/cluster.ts'
import { Crowd } from './real/crowd.ts'
import { faults } from './real/faults.ts'
import { playThrough } from './real/round.ts'
import { dice } from './simulation/world.ts'

const MATCHES = 9
/** In MB. */
const DISK = 60
const PACE = { beatEvery: 250, lease: 12, snapshotEvery: 40 }
/** In ms. No test depends on the speed of the machine: they are long, and say what stood still. */
const LIMITS = { goOn: 120_000, round: 240_000 }

test('venues and servers are killed, stopped and cut off: nothing that was answered is lost or done twice', async () => {
  const cluster = await startCluster(PACE, DISK)
  try {
    const crowd = new Crowd(MATCHES, 1)
    const all = { cluster, crowd, chance: dice(1) }
    await crowd.enter(cluster.venues.map(({ port }) => port))
    for (const what of Object.keys(faults))
      await playThrough(what, all, { lease: PACE.beatEvery * PACE.lease, everyMs: 10 }, LIMITS)
    expect(crowd.done).toBeGreaterThan(Object.keys(faults).length * MATCHES)
  } finally {
    await cluster.stop()
  }
}, 1_200_000)
