import type { Matches, RecordKeeper } from '@zinc-referee/venue/keeping'
import { BrokenMatch } from './chain.ts'
import type { CircuitRecord } from './circuit-record.ts'
import { idOf, type Member, Members, memberFor, nameIn } from './members.ts'
import type { CircuitOptions } from './options.ts'
import { type Owned, ownMatch, type Start } from './own-match.ts'
import { type Place, Places } from './places.ts'
import { nothing } from './ports.ts'
import { pause } from './publish.ts'
import { readMatch, wholeMatch } from './read-match.ts'
import { subjectOf } from './subjects.ts'

/** How long to wait before what had no answer is tried again, in ms. */
const TRY_AGAIN = 200

/**
 * One venue's part in a circuit: it writes its matches into the stream, and takes those whose venue is gone. Whoever has
 * written last owns a match; all else (beats, places) are hints, which may be late or wrong without harm.
 */
export class Circuit implements RecordKeeper {
  readonly members: Members
  readonly places: Places
  private readonly options: CircuitOptions
  private readonly owned: Map<string, Owned> = new Map()
  /** Matches that it reads, to go on with them or to put them away. */
  private readonly busy: Set<string> = new Set()
  /** Matches that it could not go on with, and how often it has passed them over since. */
  private readonly broken: Map<string, number> = new Map()
  private turns = 0
  /** Records of matches that have ended, on their way into files. */
  private readonly ending: Set<Promise<unknown>> = new Set()
  /** How often matches were not found of which it is known where they are. */
  private readonly missed: Map<string, number> = new Map()
  private matches: Pick<Matches, 'get' | 'goOnWith' | 'read'> | undefined

  constructor(options: CircuitOptions) {
    const { storage, clock, pace, self, isSilent, happened } = options
    this.options = options
    this.places = new Places(storage.places, (place) => this.placed(place))
    this.members = new Members({
      bucket: storage.members,
      clock,
      ...pace,
      self,
      isSilent,
      beaten: () => this.lookAround(),
      replaced: (by) => {
        happened({ what: 'replaced', by: idOf(by) })
        for (const [id, { epoch }] of [...this.owned]) this.lose(id, epoch, idOf(by))
      },
    })
  }

  /** Its matches may be taken to this venue from now on. */
  join(matches: Pick<Matches, 'get' | 'goOnWith' | 'read'>): void {
    this.matches = matches
  }

  /** The matches that it owns. */
  get ids(): readonly string[] {
    return [...this.owned.keys()]
  }

  /** The matches that it owns, and how often each has changed hands. */
  get owners(): readonly Pick<Place, 'match' | 'mode' | 'epoch'>[] {
    return [...this.owned].map(([match, { mode, epoch }]) => ({ match, mode, epoch }))
  }

  begin(id: string, mode: string): CircuitRecord {
    return this.own(id, mode, { after: nothing, expected: 0, lines: 0, epoch: 0 })
  }

  /** Returns where a match is: a venue that is there. */
  whereIs(match: string): Member | undefined {
    const by = this.places.get(match)?.by
    return by !== undefined && this.members.isThere(by) ? this.members.get(nameIn(by)) : undefined
  }

  /**
   * Goes on with a match, if its venue has let go of it or is gone. Returns false if it does not, because somebody else does,
   * there is no such match, or it cannot be read.
   */
  async take(id: string): Promise<boolean> {
    if (this.busy.has(id) || this.owned.has(id) || this.matches === undefined || this.passesOver(id))
      return false
    this.busy.add(id)
    try {
      return await this.taken(id, this.matches)
    } catch (error) {
      if (error instanceof BrokenMatch || isRecordError(error)) this.break(id, error)
      return false // what has no answer now is tried again
    } finally {
      this.busy.delete(id)
    }
  }

  /** Gives a match to another venue. Its clients are sent there once it goes on. Returns false if it has not come there. */
  async handOver(id: string, to: Member): Promise<boolean> {
    const { clock, pace, giveTo, happened } = this.options
    const owned = this.owned.get(id)
    const hosted = this.matches?.get(id)
    if (owned === undefined || hosted === undefined) return false
    const began = clock.now()
    if (!(await owned.record.handOver())) return false
    this.owned.delete(id)
    const tooLong = pause(clock, pace.handOver).then(() => false)
    const hasCome = await Promise.race([giveTo(to, id), tooLong])
    hosted.movedTo = hasCome ? to.url : undefined
    owned.record.release()
    if (hasCome) happened({ what: 'handed', match: id, to: idOf(to), took: clock.now() - began })
    else await this.take(id)
    return hasCome
  }

  /** Ends its part: others take what it owns when they miss its beats, or at once if it says so. */
  async leave(): Promise<void> {
    await Promise.all(this.ending)
    this.places.close()
    await this.members.leave()
  }

  private async taken(id: string, matches: Pick<Matches, 'goOnWith' | 'read'>): Promise<boolean> {
    const { storage, self } = this.options
    const found = await readMatch(subjectOf(id), storage)
    if (found === undefined) return this.notFound(id)
    this.missed.delete(id)
    const { last } = found
    const mode = found.suspended.snapshot.rulebook
    if (last.kind === 'end') {
      await this.putAway(id, mode)
      return false
    }
    if (last.kind !== 'hand' && last.by !== idOf(self()) && this.members.isThere(last.by)) {
      await this.places.put({ match: id, mode, by: last.by, epoch: last.epoch })
      return false
    }
    const record = this.own(id, mode, found)
    const { committer } = record
    const restored = this.orLetGo(id, () =>
      matches.read({
        place: `match ${id} of the circuit`,
        suspended: found.suspended,
        tail: found.tail,
        kept: record,
      }),
    )
    // What the owner has on its way when the match is announced gets in before it is taken, and then counts.
    const isTaken = await (last.kind === 'hand'
      ? committer.claim('take')
      : committer.claim('announce', 'take'))
    if (!isTaken) return false
    this.broken.delete(id)
    matches.goOnWith(restored)
    this.options.happened({ what: 'taken', match: id, epoch: found.epoch + 1 })
    await this.places.put({ match: id, mode, by: idOf(self()), epoch: found.epoch + 1 })
    return true
  }

  /** Perhaps the answer is old. What is not found again and again is not there. */
  private async notFound(id: string): Promise<false> {
    if (this.places.get(id) === undefined) return false
    const count = (this.missed.get(id) ?? 0) + 1
    this.missed.set(id, count)
    if (count < this.options.pace.lease) return false
    this.missed.delete(id)
    await this.places.remove(id)
    return false
  }

  private orLetGo<R>(id: string, read: () => R): R {
    try {
      return read()
    } catch (error) {
      this.owned.get(id)?.committer.stop()
      this.owned.delete(id)
      throw error
    }
  }

  private own(id: string, mode: string, found: Start): CircuitRecord {
    const { self, happened } = this.options
    const by = idOf(self())
    const epoch = found.epoch + 1
    const isNew = found.after === nothing
    const owned = ownMatch(this.options, found, {
      id,
      mode,
      by,
      turn: ++this.turns,
      mayBegin: isNew ? this.placedFirst({ match: id, mode, by, epoch }) : undefined,
      lost: (to) => this.lose(id, epoch, to),
      ended: () => this.end(id, mode, epoch),
      happened,
    })
    this.owned.set(id, owned)
    return owned.record
  }

  /** First where it is, then the match: else nobody would know of it, if this venue were lost in between. */
  private async placedFirst(place: Place): Promise<void> {
    while (!(await this.places.put(place)) && this.owned.has(place.match))
      await pause(this.options.clock, TRY_AGAIN)
  }

  /** Somebody else owns a match. What of it is not in the stream is thrown away. */
  private lose(id: string, epoch: number, by: string): void {
    const owned = this.owned.get(id)
    if (owned?.epoch !== epoch) return
    this.owned.delete(id)
    owned.committer.stop()
    const { hosted } = owned.record
    this.options.happened({ what: 'lost', match: id, epoch, to: by })
    if (hosted === undefined) return
    hosted.movedTo = this.members.get(nameIn(by))?.url
    hosted.abandon()
  }

  private end(id: string, mode: string, epoch: number): void {
    this.owned.delete(id)
    this.options.happened({ what: 'ended', match: id, epoch })
    this.busy.add(id)
    const ending = this.putAway(id, mode)
      .catch(() => undefined) // who looks around does it later
      .finally(() => {
        this.busy.delete(id)
        this.ending.delete(ending)
      })
    this.ending.add(ending)
  }

  /** The record of a match that has ended becomes a file, and nothing of it stays in the stream. */
  private async putAway(id: string, mode: string): Promise<void> {
    const { storage, archive } = this.options
    const subject = subjectOf(id)
    const { lines, until } = await wholeMatch(subject, storage)
    await archive(id, mode, lines)
    // No further: another match may have begun under its id.
    await storage.stream.remove(subject, until)
    await storage.shelf.remove(subject)
    await this.places.remove(id)
  }

  /** What could not be read is tried again now and then: it may be a server that was not ready. */
  private passesOver(id: string): boolean {
    const count = this.broken.get(id)
    if (count !== undefined) this.broken.set(id, count + 1)
    return count !== undefined && (count + 1) % this.options.pace.lease !== 0
  }

  private break(id: string, error: unknown): void {
    const isKnown = this.broken.has(id)
    this.broken.set(id, 0)
    if (isKnown) return
    const why = error instanceof Error ? error.message : String(error)
    this.options.happened({ what: 'broken', match: id, why })
  }

  /** Somebody has written where a match is. */
  private placed({ match, mode, by, epoch }: Place): void {
    const owned = this.owned.get(match)
    const self = idOf(this.options.self())
    this.broken.delete(match)
    if (owned === undefined) {
      if (by === self) void this.take(match)
    } else if (epoch < owned.epoch) void this.places.put({ match, mode, by: self, epoch: owned.epoch })
    // It may be true: the stream says so to whoever writes.
    else if (by !== self)
      void owned.committer.say('lines').then((isOurs) => {
        if (isOurs) void this.places.put({ match, mode, by: self, epoch: owned.epoch })
      })
  }

  /** Takes what belongs to nobody who is there. */
  private lookAround(): void {
    const self = this.options.self()
    for (const [match, { mode, epoch, record }] of this.owned) {
      const place = this.places.get(match)
      // What was written of it was lost, or never was.
      const isKnown =
        place !== undefined && (place.epoch > epoch || (place.epoch === epoch && place.by === idOf(self)))
      if (record.hosted !== undefined && !isKnown)
        void this.places.put({ match, mode, by: idOf(self), epoch })
    }
    if (self.isLeaving) return
    const { live } = this.members
    for (const { match, mode, by } of this.places.all) {
      const isMine = by === idOf(self)
      if (this.owned.has(match) || (!isMine && this.members.isThere(by))) continue
      const heirs = live.filter(({ modes }) => modes.includes(mode))
      if (isMine || memberFor(match, heirs)?.name === self.name) void this.take(match)
    }
  }
}

const isRecordError = (error: unknown): boolean => Object(error).code === 'ZR_VENUE_RECORD'
