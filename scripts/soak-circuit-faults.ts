import { expect, test } from 'vitest'
import { startCluster } from '../packages/circuit/test/real/cluster.ts'
import { Crowd } from '../packages/circuit/test/real/crowd.ts'
import { faults } from '../packages/circuit/test/real/faults.ts'
import { playThrough } from '../packages/circuit/test/real/round.ts'
import { dice } from '../packages/circuit/test/simulation/world.ts'

const TIMES = Number(process.env['SOAK_FAULTS'] ?? 15)
const SEED = Number(process.env['SOAK_SEED'] ?? Date.now() % 1_000_000)
const MATCHES = Number(process.env['SOAK_MATCHES'] ?? 300)
/** Only faults with this in their name. */
const ONLY = process.env['SOAK_ONLY'] ?? ''
/** In MB. */
const DISK = 500
const PACE = { beatEvery: 1000, lease: 12, snapshotEvery: 100 }
/** In ms. */
const LIMITS = { goOn: 180_000, round: 600_000 }
/** How many matches are looked at after each fault; at the end it is all. */
const LOOKED_AT = 30

const kinds = Object.keys(faults).filter((what) => what.includes(ONLY))
if (kinds.length === 0)
  throw new Error(`no fault has '${ONLY}' in its name: ${Object.keys(faults).join(', ')}`)

test(`${MATCHES} matches, each fault ${TIMES} times, seed ${SEED}`, async () => {
  const cluster = await startCluster(PACE, DISK)
  try {
    const crowd = new Crowd(MATCHES, SEED)
    const all = { cluster, crowd, chance: dice(SEED) }
    await crowd.enter(cluster.venues.map(({ port }) => port))
    const how = { lease: PACE.beatEvery * PACE.lease, everyMs: 20, lookAt: Math.min(LOOKED_AT, MATCHES) }
    for (let time = 1; time <= TIMES; time++)
      for (const what of kinds) {
        const { fault, goesOn } = await playThrough(what, all, how, LIMITS)
        console.log(
          `${time} ${what}   lasted ${Math.round(fault)} ms   all go on ${Math.round(goesOn)} ms later   ${crowd.done} actions`,
        )
      }
    crowd.readAnew()
    expect(await crowd.lawBroken(cluster.storage.stream)).toBeUndefined()
    console.log(
      `done   ${MATCHES} matches   ${TIMES} times each fault   ${crowd.done} actions, all recorded once`,
    )
  } finally {
    await cluster.stop()
  }
}, 14_400_000)
