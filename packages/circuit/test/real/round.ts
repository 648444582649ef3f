import { NoAnswer, within } from '../../src/nats/within.ts'
import type { Dice } from '../simulation/world.ts'
import type { Cluster } from './cluster.ts'
import type { Crowd } from './crowd.ts'
import { faults } from './faults.ts'

/** In ms. */
export interface Limits {
  /** How long all matches may take to go on after a fault. */
  readonly goOn: number
  /** How long the round may take. */
  readonly round: number
}
export interface Round {
  readonly fault: number
  readonly goesOn: number
}

/**
 * Causes a fault while the crowd plays, waits until every match goes on, and looks at the laws. Returns how long both took, in ms.
 * @throws Which law is broken, or what does not go on and how all stands
 */
export async function playThrough(
  what: string,
  { cluster, crowd, chance }: { readonly cluster: Cluster; readonly crowd: Crowd; readonly chance: Dice },
  { lease, everyMs, lookAt }: { readonly lease: number; readonly everyMs: number; readonly lookAt?: number },
  limits: Limits,
): Promise<Round> {
  let doing = 'the fault is caused'
  const round = async (): Promise<Round> => {
    const playing = crowd.play(everyMs)
    const began = performance.now()
    await faults[what]?.(cluster, chance, lease)
    const fault = performance.now() - began
    doing = 'all matches go on'
    const goesOn = await crowd.allGoOn(limits.goOn)
    crowd.stop()
    await playing
    doing = 'the laws are looked at'
    const broken = await crowd.lawBroken(cluster.storage.stream, lookAt)
    if (broken !== undefined) throw new Error(broken)
    return { fault, goesOn }
  }
  try {
    return await within(limits.round, round())
  } catch (error) {
    crowd.stop()
    const standing = JSON.stringify([await cluster.standing(), crowd.standing])
    const why = error instanceof NoAnswer ? `not done after ${limits.round / 1000} s` : error
    throw new Error(`${what}, while ${doing}: ${why}\n${standing}\n${cluster.nats.lastWords()}`)
  }
}
