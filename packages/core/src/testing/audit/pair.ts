import type { Chance } from '../../chance/index.ts'
import type { Snapshot } from '../../record/index.ts'
import { type AnyMatch, type AnyRulebook, resumeAnyMatch } from '../../rulebook/index.ts'
import { leavesOf, sameCells } from './leaves.ts'
import { type CellPath, type Secret, varied } from './secrets.ts'

/** Two matches that a viewer must not be able to tell from one another. */
export interface Pair {
  readonly viewer: string
  readonly secret: Secret
  readonly paths: readonly CellPath[]
  as(): { readonly one: AnyMatch; readonly other: AnyMatch }
}

/** What each viewer sees of a match as it stands. */
export type Eyes = ReadonlyMap<string, ReadonlyMap<string, string>>
export function eyesOf(book: AnyRulebook, snapshot: Snapshot, viewers: readonly string[]): Eyes {
  const match = copy(book, snapshot)
  return new Map(viewers.map((viewer) => [viewer, leavesOf(match.view(viewer))]))
}

export function pairOf(
  book: AnyRulebook,
  snapshot: Snapshot,
  eyes: Eyes,
  viewer: string,
  secret: Secret,
  chance: Chance,
): Pair | undefined {
  const ways = varied(snapshot, secret, eyes.get(viewer) ?? new Map(), chance)
  const [change] = ways
  if (change === undefined) return undefined
  // Values that decide who sees a row are no secrets to be varied one by one: they would show or hide other rows.
  const asked = secret.kind === 'table' ? [...eyes] : [...eyes].filter(([eye]) => eye === viewer)
  const isFit = ways.every((way) => {
    const other = copy(book, way.snapshot)
    return asked.every(([eye, leaves]) => sameCells(leaves, leavesOf(other.view(eye))))
  })
  if (!isFit) return undefined
  return {
    viewer,
    secret,
    paths: change.paths,
    as: () => ({ one: copy(book, snapshot), other: copy(book, change.snapshot) }),
  }
}

/** Its hash is that of the match before it was varied: it is taken as one that somebody has changed. */
const copy = (book: AnyRulebook, snapshot: Snapshot): AnyMatch =>
  resumeAnyMatch(book, { ...snapshot, plan: 'varied' }, { migrate: (same) => same })
