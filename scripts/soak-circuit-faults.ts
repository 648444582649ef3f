import { expect, test } from 'vitest'
import { startCluster } from '../packages/circuit/test/real/cluster.ts'
import { Crowd } from '../packages/circuit/test/real/crowd.ts'
import { faults } from '../packages/circuit/test/real/faults.ts'
import { dice } from '../packages/circuit/test/simulation/world.ts'

const TIMES = Number(process.env['SOAK_FAULTS'] ?? 15)
const SEED = Number(process.env['SOAK_SEED'] ?? Date.now() % 1_000_000)
const MATCHES = 300
/** In MB. */
const DISK = 500
const PACE = { beatEvery: 1000, lease: 12, snapshotEvery: 100 }
/** How long all matches may take to go on, in ms, and how many of them are looked at after each fault. */
const [PATIENCE, LOOKED_AT] = [180_000, 30]

test(`${MATCHES} matches, each fault ${TIMES} times, seed ${SEED}`, async () => {
  const cluster = await startCluster(PACE, DISK)
  try {
    const crowd = new Crowd(MATCHES, SEED)
    const chance = dice(SEED)
    await crowd.enter(cluster.venues.map(({ port }) => port))
    for (let time = 1; time <= TIMES; time++)
      for (const [what, cause] of Object.entries(faults)) {
        const playing = crowd.play(20)
        const began = performance.now()
        await cause(cluster, chance, PACE.beatEvery * PACE.lease)
        const lasted = performance.now() - began
        const goesOn = await crowd.allGoOn(PATIENCE).catch(async (error: unknown) => {
          console.log(JSON.stringify([await cluster.standing(), crowd.standing]))
          throw error
        })
        crowd.stop()
        await playing
        const broken = await crowd.lawBroken(cluster.storage.stream, LOOKED_AT)
        expect([what, time, broken]).toEqual([what, time, undefined])
        console.log(
          `${time} ${what}   lasted ${Math.round(lasted)} ms   all go on ${Math.round(goesOn)} ms later   ${crowd.done} actions`,
        )
      }
    expect(await crowd.lawBroken(cluster.storage.stream)).toBeUndefined()
    console.log(
      `done   ${MATCHES} matches   ${TIMES} times each fault   ${crowd.done} actions, all recorded once`,
    )
  } finally {
    await cluster.stop()
  }
}, 7_200_000)
