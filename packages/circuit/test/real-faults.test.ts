import { expect, test } from 'vitest'
import { startCluster } from './real/cluster.ts'
import { Crowd } from './real/crowd.ts'
import { faults } from './real/faults.ts'
import { dice } from './simulation/world.ts'

const MATCHES = 9
/** In MB. */
const DISK = 60
const PACE = { beatEvery: 250, lease: 12, snapshotEvery: 40 }
/** How long matches may take to go on after a fault, in ms. No test depends on the speed of the machine: it is long. */
const PATIENCE = 120_000

test('venues and servers are killed, stopped and cut off: nothing that was answered is lost or done twice', async () => {
  const cluster = await startCluster(PACE, DISK)
  try {
    const crowd = new Crowd(MATCHES, 1)
    const chance = dice(1)
    await crowd.enter(cluster.venues.map(({ port }) => port))
    for (const [what, cause] of Object.entries(faults)) {
      const playing = crowd.play(10)
      await cause(cluster, chance, PACE.beatEvery * PACE.lease)
      await crowd.allGoOn(PATIENCE)
      crowd.stop()
      await playing
      expect([what, await crowd.lawBroken(cluster.storage.stream)]).toEqual([what, undefined])
    }
    expect(crowd.done).toBeGreaterThan(Object.keys(faults).length * MATCHES)
  } finally {
    await cluster.stop()
  }
})
