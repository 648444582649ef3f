import { setTimeout as pause } from 'node:timers/promises'
import { type AnyMatch, type AnyRulebook, beginAnyMatch } from 'zinc-referee'
import { venueError } from '../errors.ts'
import { placeOf } from '../log.ts'
import {
  type Keeping,
  type KeptRecord,
  lockFolder,
  makeFolder,
  removeOld,
  unfinishedIn,
} from '../records/index.ts'
import { VenueError } from '../venue-error.ts'
import { runBots } from './bots.ts'
import { closeWhenEmpty } from './close-when-empty.ts'
import { matchToWatch, matchWithRoom, newCode, type Wanted } from './find-match.ts'
import { HostedMatch } from './hosted-match.ts'
import { type Hosting, usualHosting } from './hosting.ts'
import { newRecord, orNoRecord } from './new-record.ts'
import type { MatchesOptions, MatchOptions } from './options.ts'
import { type Restored, restore, restoreFile, type Unfinished } from './restore.ts'
import { assertUpgrades, type NewerRulebook, notUpgraded, resumeWith } from './upgrade.ts'

/** How a match is hosted that was begun for players who looked for one. */
const FOUND: Partial<Hosting> = { led: true, emptyFor: 60_000, filled: true }
/** Why a match may be closed that goes on: later, or at another venue. */
const GOES_ON = new Set(['suspended', 'moved'])
/** How long a venue that closes waits for its records, in ms. */
const PATIENCE = 4000

/** The matches that a venue hosts, and their records. */
export class Matches {
  readonly byId: Map<string, HostedMatch> = new Map()
  private readonly options: MatchesOptions
  /** Matches that have not sent their last updates, and records that are not safe on the disk yet. */
  private readonly ending = new Set<Promise<void>>()
  /** Its rulebook, and when all of it is safe once it has ended. */
  private readonly ran = new WeakMap<
    HostedMatch,
    { readonly book: AnyRulebook; readonly over: Promise<void> }
  >()
  /** Ids of matches that go on in a moment. */
  private readonly upgrading = new Set<string>()
  /** The modes as they are now. */
  private readonly rulebooks: Map<string, AnyRulebook>
  private readonly unlock: (() => void) | undefined

  /** @throws ZR_VENUE_RECORDS_IN_USE */
  constructor(options: MatchesOptions) {
    this.options = options
    this.rulebooks = new Map(options.rulebooks.map((book) => [book.name, book]))
    const { folder } = options.keeping ?? {}
    if (folder === undefined) return
    makeFolder(folder)
    this.unlock = lockFolder(folder)
    if (this.unlock === undefined) throw venueError('ZR_VENUE_RECORDS_IN_USE', { folder })
  }

  /** Those that run. One that was closed still has its id until its record is safe. */
  get running(): readonly HostedMatch[] {
    return [...this.byId.values()].filter(({ isClosed }) => !isClosed)
  }

  /** Returns the running match of this id. */
  get(id: string): HostedMatch | undefined {
    const hosted = this.byId.get(id)
    return hosted?.isClosed === false ? hosted : undefined
  }

  begin(id: string, book: AnyRulebook, given: MatchOptions): HostedMatch {
    if (this.byId.has(id)) throw venueError('ZR_VENUE_MATCH_TWICE', { match: id })
    const { max } = this.options
    if (this.byId.size >= max) throw venueError('ZR_VENUE_FULL', { max })
    const { seed = crypto.getRandomValues(new Uint8Array(32)), settings, with: optional, ...how } = given
    const kept = newRecord(id, book.name, this.options)
    const begun = (): AnyMatch =>
      beginAnyMatch(book, {
        seed,
        ...(settings && { settings }),
        ...(optional && { with: optional }),
        ...(kept && { record: kept.write }),
        onFault: (fault) => this.options.onFault(fault, id),
      })
    const match = kept === undefined ? begun() : orNoRecord(kept, begun)
    this.options.log.info({ match: id, mode: book.name }, 'match begun')
    return this.host(id, book, match, { ...usualHosting, ...how }, kept)
  }

  /** Begins a match of a mode by its name, under a short code. @throws ZR_VENUE_UNKNOWN_MODE, and what `begin` throws */
  beginMode(
    mode: string,
    given: MatchOptions,
    id: string = newCode((code) => this.byId.has(code)),
  ): HostedMatch {
    const book = this.rulebooks.get(mode)
    if (book === undefined) throw venueError('ZR_VENUE_UNKNOWN_MODE', { mode })
    return this.begin(id, book, given)
  }

  /** Begins a match for players who look for one of this mode. @throws ZR_VENUE_UNKNOWN_MODE, ZR_VENUE_FULL */
  beginFor(mode: string, id?: string): HostedMatch {
    return this.beginMode(mode, FOUND, id)
  }

  /**
   * Returns the match that somebody wants: the one they name; else one with room, which is begun if there is none of the
   * mode they ask for. Without a wish and without room anywhere it is the first, which says why nobody gets in. Who watches
   * gets the one with most players.
   * @throws ZR_VENUE_UNKNOWN_MODE, ZR_VENUE_FULL
   */
  find({ match, mode, watch }: Wanted): HostedMatch | undefined {
    if (match !== undefined && this.upgrading.has(match)) throw venueError('ZR_VENUE_UPGRADING', { match })
    if (match !== undefined) return this.get(match)
    if (watch) return matchToWatch(this.running, mode)
    if (mode !== undefined) return this.findOrBegin(mode)
    return matchWithRoom(this.running) ?? this.running.find(({ hosting }) => hosting.listed)
  }

  /** Returns a match of a mode with room, and begins one if there is none. @throws ZR_VENUE_UNKNOWN_MODE, ZR_VENUE_FULL */
  findOrBegin(mode: string): HostedMatch {
    const found = matchWithRoom(this.running, mode)
    if (found !== undefined) return found
    const isKnown = this.rulebooks.has(mode)
    // One that cannot be begun again says itself why nobody gets in.
    const full = isKnown
      ? undefined
      : this.running.find(({ match, hosting }) => hosting.listed && match.rulebook === mode)
    return full ?? this.beginFor(mode)
  }

  /**
   * Lets a match go on with a newer rulebook, from where it is. Its clients come back by themselves. New matches of the mode
   * begin with the newer one, too. A match that cannot go on with it goes on as it was.
   * @throws ZR_VENUE_UNKNOWN_MATCH, ZR_VENUE_NOT_UPGRADED
   */
  async upgrade(id: string, newer: NewerRulebook): Promise<HostedMatch> {
    const old = this.get(id)
    if (old === undefined) throw venueError('ZR_VENUE_UNKNOWN_MATCH', { match: id })
    if (this.options.keeper !== undefined)
      throw notUpgraded(id, 'a circuit hands it over to a venue with the newer rulebook. Drain this one.')
    assertUpgrades(old, newer)
    const { record, match } = old
    const { book, over } = this.ran.get(old) ?? {}
    const { keeping, onFault, log } = this.options
    const snapshot = match.snapshot()
    this.upgrading.add(id)
    try {
      old.suspend()
      await over
      const isKept = record !== undefined && keeping !== undefined
      const upgraded = isKept
        ? this.goOn(record, keeping, newer)
        : this.adopt(
            old,
            newer.rulebook,
            resumeWith(newer, snapshot, (fault) => onFault(fault, id)),
          )
      this.rulebooks.set(newer.rulebook.name, newer.rulebook)
      log.info({ match: id, mode: match.rulebook }, 'match upgraded')
      return upgraded
    } catch (error) {
      // What was tried a moment ago did not work any more.
      if (record !== undefined && keeping !== undefined && book !== undefined && this.get(id) === undefined)
        this.goOn(record, keeping, { rulebook: book })
      throw notUpgraded(id, error)
    } finally {
      this.upgrading.delete(id)
    }
  }

  /** Removes records that are kept long enough. */
  removeOld(): void {
    const { keeping, log } = this.options
    if (keeping?.keepFor === undefined) return
    const inUse = new Set([...this.byId.values()].map(({ record = '' }) => record))
    for (const record of removeOld(keeping.folder, keeping.keepFor, inUse))
      log.info({ record }, 'record removed')
  }

  /** Goes on with every match that an earlier process left unfinished. */
  restoreAll(): void {
    const { keeping, onBroken } = this.options
    for (const path of keeping === undefined ? [] : unfinishedIn(keeping.folder))
      try {
        this.goOn(path, keeping as Keeping)
      } catch (error) {
        if (!(error instanceof VenueError)) throw error
        this.options.log.error({ record: path, why: error.message }, 'record not restored')
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

  /**
   * Reads a match that was kept, without going on with it yet. Nobody is disturbed by what it is read from.
   * @throws ZR_VENUE_RECORD
   */
  read(unfinished: Unfinished): Restored {
    const { onFault, migrate } = this.options
    return restore(unfinished, { books: [...this.rulebooks.values()], onFault, migrate })
  }

  /** Goes on with a match that was read. */
  goOnWith({ book, match, kept, suspended, seatIds }: Restored): HostedMatch {
    this.options.log.info({ match: suspended.id, mode: match.rulebook, time: match.now }, 'match restored')
    return this.adopt({ ...suspended, seatIds }, book, match, kept)
  }

  /** Goes on from the file of a record, with the rulebook that the venue has or a newer one. */
  private goOn(path: string, keeping: Keeping, newer?: NewerRulebook): HostedMatch {
    const { onFault, migrate } = this.options
    return this.goOnWith(
      restoreFile(path, keeping, {
        books: newer === undefined ? [...this.rulebooks.values()] : [newer.rulebook],
        onFault,
        migrate: newer?.migrate === undefined ? migrate : { [newer.rulebook.name]: newer.migrate },
      }),
    )
  }

  /** Nobody is connected to a match that goes on: its players are absent until they come back. */
  private adopt(
    {
      id,
      hosting,
      key,
      seatIds,
    }: Pick<HostedMatch, 'id' | 'hosting' | 'key'> & { readonly seatIds: Iterable<string> },
    book: AnyRulebook,
    match: AnyMatch,
    kept?: KeptRecord,
  ): HostedMatch {
    const hosted = this.host(id, book, match, hosting, kept, key)
    for (const seat of seatIds) hosted.seatIds.add(seat)
    for (const seat of match.allSeats) {
      const { presence, bot } = match.state.roster.seats.of(seat)
      if (presence === 'here' && !bot) hosted.run(() => match.direct('roster.absent', { seat }))
    }
    return hosted
  }

  private host(
    id: string,
    book: AnyRulebook,
    match: AnyMatch,
    hosting: Hosting,
    kept: KeptRecord | undefined,
    key?: string,
  ): HostedMatch {
    const { clock, bots, log } = this.options
    const hosted = new HostedMatch(
      id,
      match,
      hosting,
      {
        clock,
        spectatorDelay: hosting.spectatorDelay,
        onSlow: (ms) => log.warn({ match: id, ms: Math.round(ms) }, 'slow call'),
        ...(kept && { whenSafe: kept.whenSafe }),
      },
      { record: kept?.path, key, book },
    )
    this.byId.set(id, hosted)
    kept?.keep(hosted)
    if (hosting.filled && bots !== undefined) runBots(hosted, bots)
    if (hosting.emptyFor !== null) closeWhenEmpty(hosted, hosting.emptyFor, clock)
    const over = new Promise<void>((resolve) => {
      // Its id is free again, and nothing of it is kept. It may have come back to this venue meanwhile.
      hosted.ends.add((why) => {
        if (this.byId.get(id) === hosted) this.byId.delete(id)
        log.info({ match: id, mode: match.rulebook, why }, 'match closed')
        resolve(GOES_ON.has(why) ? kept?.suspend() : kept?.end())
      })
    })
      .catch((error: unknown) => log.error({ match: id, ...placeOf(error) }, 'record not closed'))
      .finally(() => this.ending.delete(over))
    this.ending.add(over)
    this.ran.set(hosted, { book, over })
    hosted.overs.add(() => this.options.onOver(hosted))
    hosted.lookForVerdict()
    this.options.onHost?.(hosted)
    return hosted
  }
}
