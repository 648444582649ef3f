import { expect, test } from 'vitest'
import { historyOf } from './simulation/history.ts'
import { safeguards, simulations } from './simulation/safeguards.ts'

/** How many histories are played here. `npm run soak` plays many more. */
const COUNT = 80
/** After so many histories each missing safeguard has been found. */
const ENOUGH = 200

test('whatever goes wrong, what was answered is in the stream once, is shown as it was, and all goes on', async () => {
  for (let seed = 1; seed <= COUNT; seed++) expect([seed, await historyOf(seed)]).toEqual([seed, undefined])
})

test('without any one of its safeguards, a history goes wrong', async () => {
  const { without, close } = await simulations()
  for (const safeguard of safeguards) {
    const historyOf = await without(safeguard)
    let found: string | undefined
    const { from } = safeguard
    for (let seed = from; found === undefined && seed < from + ENOUGH; seed++) found = await historyOf(seed)
    expect(found, safeguard.name).toBeDefined()
  }
  await close()
})
