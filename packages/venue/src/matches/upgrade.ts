import { type AnyMatch, type AnyRulebook, type Fault, resumeAnyMatch, type Snapshot } from 'zinc-referee'
import { venueError } from '../errors.ts'
import type { VenueError } from '../venue-error.ts'
import type { HostedMatch } from './hosted-match.ts'

/** A newer version of a rulebook. */
export interface NewerRulebook {
  /** The rulebook. Its name is that of the match's. */
  readonly rulebook: AnyRulebook
  /** Makes a snapshot of the older version one of this, if its state has changed. */
  readonly migrate?: ((old: Snapshot) => Snapshot) | undefined
}

/** Tries a newer rulebook on a match as it is now, which goes on undisturbed. @throws ZR_VENUE_NOT_UPGRADED */
export function assertUpgrades({ id, match, isPaused }: HostedMatch, newer: NewerRulebook): void {
  if (newer.rulebook.name !== match.rulebook)
    throw notUpgraded(id, `it is of the mode '${match.rulebook}', not '${newer.rulebook.name}'.`)
  if (isPaused) throw notUpgraded(id, 'its record cannot be written now.')
  try {
    resumeWith(newer, match.snapshot())
  } catch (error) {
    throw notUpgraded(id, error)
  }
}

/** Returns a match that goes on from a snapshot with a newer rulebook. */
export const resumeWith = (
  { rulebook, migrate }: NewerRulebook,
  snapshot: Snapshot,
  onFault: (fault: Fault) => void = () => {},
): AnyMatch => resumeAnyMatch(rulebook, snapshot, { onFault, ...(migrate && { migrate }) })

/** Returns the error that says why: in words, or what was thrown. */
export const notUpgraded = (match: string, why: unknown): VenueError =>
  venueError('ZR_VENUE_NOT_UPGRADED', { match, why: why instanceof Error ? why.message : String(why) }, why)
