import { setTimeout as pause } from 'node:timers/promises'
import { type AnyMatch, type AnyRulebook, beginAnyMatch, type Fault } from 'zinc-referee'
import type { HostClock } from 'zinc-referee/host'
import { processClock } from './clock.ts'
import { VenueError } from './errors.ts'
import { HostedMatch } from './hosted-match.ts'
import { freePath, type Keeping, KeptMatch, lockFolder, makeFolder, unfinishedIn } from './records/index.ts'
import { restore } from './restore.ts'
import type { MatchOptions } from './venue.ts'

/** Options of the matches of a venue. */
export interface MatchesOptions {
  readonly keeping: Keeping | undefined
  readonly rulebooks: readonly AnyRulebook[]
  readonly clock: HostClock | undefined
  readonly onFault: (fault: Fault, match: string) => void
  /** How many there may be. */
  readonly max: number
  readonly onBroken: (error: VenueError) => void
}
const NEW = { lines: 0, bytes: 0 }
/** How long a venue that closes waits for its records, in ms. */
const PATIENCE = 4000

/** The matches that a venue hosts, and their records. */
export class Matches {
  readonly byId: Map<string, HostedMatch> = new Map()
  private readonly options: MatchesOptions
  /** Matches that have not sent their last updates, and records that are not safe on the disk yet. */
  private readonly ending = new Set<Promise<void>>()

  private readonly unlock: (() => void) | undefined

  /** @throws ZR_VENUE_RECORDS_IN_USE */
  constructor(options: MatchesOptions) {
    this.options = options
    const { folder } = options.keeping ?? {}
    if (folder === undefined) return
    makeFolder(folder)
    this.unlock = lockFolder(folder)
    if (this.unlock === undefined) throw new VenueError('ZR_VENUE_RECORDS_IN_USE', { folder })
  }

  begin(id: string, book: AnyRulebook, given: MatchOptions): HostedMatch {
    if (this.byId.has(id)) throw new VenueError('ZR_VENUE_MATCH_TWICE', { match: id })
    const { keeping, max } = this.options
    if (this.byId.size >= max) throw new VenueError('ZR_VENUE_FULL', { max })
    const kept = keeping && new KeptMatch(freePath(keeping.folder, `${book.name}-${id}`), keeping, NEW)
    const match = beginAnyMatch(book, {
      seed: given.seed ?? crypto.getRandomValues(new Uint8Array(32)),
      ...(given.settings && { settings: given.settings }),
      ...(given.with && { with: given.with }),
      ...(kept && { record: kept.write }),
      onFault: (fault) => this.options.onFault(fault, id),
    })
    return this.host(id, match, given.spectatorDelay ?? 0, kept)
  }

  /** Goes on with every match that an earlier process left unfinished. */
  restoreAll(): void {
    const { keeping, onBroken } = this.options
    for (const path of keeping === undefined ? [] : unfinishedIn(keeping.folder))
      try {
        this.goOn(path, keeping as Keeping)
      } catch (error) {
        if (!(error instanceof VenueError)) throw error
        onBroken(error)
      }
  }

  /** Ends all matches, or leaves them to be gone on with. Resolves when their records are safe, or after a few seconds. */
  async stop(how: 'end' | 'suspend'): Promise<void> {
    for (const each of [...this.byId.values()])
      if (how === 'end') each.close('venue-closed')
      else each.suspend()
    const all = async (): Promise<void> => {
      while (this.ending.size > 0) await Promise.all(this.ending)
    }
    await Promise.race([all(), pause(PATIENCE, undefined, { ref: false })])
    this.unlock?.()
  }

  /** Nobody is connected to a match that goes on: its players are absent until they come back. */
  private goOn(path: string, keeping: Keeping): void {
    const { rulebooks, onFault } = this.options
    const { match, kept, suspended, seatIds } = restore(path, rulebooks, keeping, onFault)
    const resumed = this.host(suspended.id, match, suspended.spectatorDelay, kept)
    for (const seat of seatIds) resumed.seatIds.add(seat)
    for (const seat of match.allSeats) {
      const { presence, bot } = match.state.roster.seats.of(seat)
      if (presence === 'here' && !bot) resumed.run(() => match.direct('roster.absent', { seat }))
    }
  }

  private host(
    id: string,
    match: AnyMatch,
    spectatorDelay: number,
    kept: KeptMatch | undefined,
  ): HostedMatch {
    const { clock = processClock } = this.options
    const options = { clock, spectatorDelay, ...(kept && { whenSafe: kept.whenSafe }) }
    const hosted = new HostedMatch(id, match, options, kept?.file.path)
    this.byId.set(id, hosted)
    kept?.keep(hosted)
    const over = new Promise<void>((resolve) => {
      // Its id is free again, and nothing of it is kept.
      hosted.ends.add((why) => {
        this.byId.delete(id)
        resolve(why === 'suspended' ? kept?.suspend() : kept?.end())
      })
    }).finally(() => this.ending.delete(over))
    this.ending.add(over)
    return hosted
  }
}
