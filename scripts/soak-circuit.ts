import { expect, test } from 'vitest'
import { historyOf } from '../packages/circuit/test/simulation/history.ts'

const MINUTE = 60_000
const minutes = Number(process.env['SOAK_MINUTES'] ?? 5)
const first = Number(process.env['SOAK_SEED'] ?? Date.now() % 1_000_000)

test(
  `histories of a circuit for ${minutes} minutes`,
  async () => {
    const until = Date.now() + minutes * MINUTE
    let seed = first
    for (let shown = Date.now(); Date.now() < until; seed++) {
      // Seen again with its troubles by a test that prints what `historyOf` logs.
      expect([seed, await historyOf(seed).catch(String)]).toEqual([seed, undefined])
      if (Date.now() - shown < MINUTE / 4) continue
      shown = Date.now()
      console.log(`${seed + 1 - first} histories, from seed ${first}`)
    }
    console.log(`done   ${seed - first} histories, from seed ${first}, and no law was broken`)
  },
  (minutes + 10) * MINUTE,
)
