import type { Chance } from '../../chance/index.ts'
import type { Snapshot } from '../../record/index.ts'
import type { OpenMatch } from '../../rulebook/index.ts'
import type { Change, Twins } from './twins.ts'

/** A match at a moment, with the eyes of one viewer. */
export interface Asker {
  readonly snapshot: Snapshot
  readonly match: OpenMatch
  readonly viewer: string
  readonly chance: Chance
  readonly twins: Twins
}

/** Changes whose twins are compared as they are, and those whose twins go on. */
export interface WaysFor {
  readonly still: readonly Change[]
  readonly onward: readonly Change[]
  /** Why there are none. */
  readonly lack?: Lack
}

/** Reasons why nothing could be varied. The later in the list, the less is missing. */
export const lacks = ['no-row', 'nothing-hidden', 'no-other-value'] as const
export type Lack = (typeof lacks)[number]
