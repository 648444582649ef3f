import { RefereeError } from '../kit/index.ts'
import { Store } from '../rows/index.ts'
import { type Chance, type Seed, Stream, seedKey } from './streams.ts'

/**
 * Random draws outside of any match, for bots and for a game's own simulation: the same seed and purpose give the
 * same draws. @throws ZR_CHANCE_BAD_SEED, ZR_CHANCE_NO_PURPOSE
 */
export function chanceFrom(seed: Seed, purpose: string): Chance {
  if (typeof purpose !== 'string' || purpose === '')
    throw new RefereeError('ZR_CHANCE_NO_PURPOSE', { got: purpose })
  const store = new Store()
  store.open = true
  const stream = new Stream(store, seedKey(seed), purpose)
  const kept = <V>(draw: () => V): V => {
    const drawn = draw()
    store.undo.size = 0
    return drawn
  }
  function pick<V>(items: readonly [V, ...V[]]): V
  function pick<V>(items: readonly V[]): V | undefined
  function pick<V>(items: readonly V[]): V | undefined {
    return kept(() => stream.pick(items))
  }
  return {
    int: (from, to) => kept(() => stream.int(from, to)),
    pick,
    shuffle: (items) => kept(() => stream.shuffle(items)),
    weighted: (choices) => kept(() => stream.weighted(choices)),
    dice: (count, sides) => kept(() => stream.dice(count, sides)),
  }
}
