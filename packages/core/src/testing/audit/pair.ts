import type { Chance } from '../../chance/index.ts'
import type { Snapshot } from '../../record/index.ts'
import { type AnyMatch, type AnyRulebook, resumeAnyMatch } from '../../rulebook/index.ts'
import { leavesOf, sameCells } from './leaves.ts'
import type { Varied } from './secrets.ts'
import type { Eyes, Variation } from './variations.ts'

/** Two matches that a viewer must not be able to tell from one another. */
export interface Pair {
  readonly viewer: string
  /** The name of what differs. */
  readonly secret: string
  where: Varied['where']
  /** Whether they go on as different matches, so that they can only be compared as they stand. */
  readonly isOtherMatch: boolean
  as(): { readonly one: AnyMatch; readonly other: AnyMatch }
}

export function eyesOf(book: AnyRulebook, snapshot: Snapshot): Eyes {
  const match = copy(book, snapshot)
  return new Map([...match.seats, 'spectator'].map((viewer) => [viewer, leavesOf(match.view(viewer))]))
}

export function pairOf(
  book: AnyRulebook,
  snapshot: Snapshot,
  eyes: Eyes,
  viewer: string,
  variation: Variation,
  chance: Chance,
): Pair | undefined {
  const ways = variation.ways(snapshot, eyes.get(viewer) ?? new Map(), chance)
  const [change] = ways
  if (change === undefined) return undefined
  const asked = variation.asks === 'everyone' ? [...eyes] : [...eyes].filter(([eye]) => eye === viewer)
  const isFit = (copied: AnyMatch): boolean =>
    asked.every(([eye, leaves]) => sameCells(leaves, leavesOf(copied.view(eye))))
  if (variation.asks !== 'nobody' && !ways.every((way) => isFit(copy(book, way.snapshot)))) return undefined
  return {
    viewer,
    secret: variation.name,
    where: change.where,
    isOtherMatch: variation.asks === 'nobody',
    as: () => ({ one: copy(book, snapshot), other: copy(book, change.snapshot) }),
  }
}

/** Its hash is that of the match before it was varied: it is taken as one that somebody has changed. */
const copy = (book: AnyRulebook, snapshot: Snapshot): AnyMatch =>
  resumeAnyMatch(book, { ...snapshot, plan: 'varied' }, { migrate: (same) => same })
