import { randomUUID } from 'node:crypto'
import type { Update } from 'zinc-referee'
import type { Admission } from '../admissions.ts'
import type { HostedMatch, Wanted } from '../matches/index.ts'
import {
  act,
  describe,
  direct,
  type Joined,
  options,
  Refused,
  report,
  rulingText,
  said,
  submitted,
} from './calls.ts'
import type { Doors } from './doors.ts'
import type { Entering } from './entering.ts'
import { sayFarewell } from './farewell.ts'
import { type FeedWatcher, watchFeed } from './feed-watcher.ts'
import { orRefused, refusedBy, watchesBy } from './find-or-refuse.ts'
import { joinAnswer } from './join-answer.ts'
import { pingAnswer } from './ping-answer.ts'
import type { Call, ParamsOf } from './protocol.ts'
import { keyOf, seatOf } from './seat-of.ts'
import { type Pace, type Receiver, Trail } from './trail.ts'

/** The way back to a visitor, whatever its transport is. */
export interface Line {
  send(text: string): void
  close(code: number, reason: string): void
  /** How well the client keeps up with what is sent. */
  readonly pace: Pace
}

const CLOSE_REPLACED = 4000
const CLOSE_KICKED = 4001
/** A reason for closing has at most 123 bytes (RFC 6455, 5.5). This number of characters of any script fits. */
const MAX_REASON = 40
const WATCHER = { role: 'watcher' } as const
const KICKED = 'roster.kicked'

/** A client of the venue: what it may see and do. A call that is refused changes nothing. */
export class Visitor implements Receiver {
  private readonly line: Line
  private readonly doors: Doors
  private joined: Joined | undefined
  private feed: FeedWatcher | undefined
  private hasLeft = false

  constructor(line: Line, doors: Doors) {
    this.line = line
    this.doors = doors
  }

  send(text: string): void {
    this.line.send(text)
  }

  get pace(): Pace {
    return this.line.pace
  }

  /** The match that it has joined. */
  get hosted(): HostedMatch | undefined {
    return this.joined?.hosted
  }

  /** Carries a call out and returns the result as JSON text. @throws Refused */
  call(call: Call): string | Promise<string> {
    if (this.feed !== undefined) return this.feed.call(call)
    switch (call.method) {
      case 'join':
        return this.join(call.params)
      case 'act':
        return act(this.here(), call.params)
      case 'options':
        return options(this.here(), call.params)
      case 'report':
        return report(this.here(), call.params)
      case 'direct':
        return direct(this.here(), call.params)
      case 'describe':
        return describe(this.here())
      case 'ping':
        return this.joined === undefined ? '{}' : pingAnswer(this.joined.hosted, this.doors)
      case 'leave':
        return this.giveUpSeat()
    }
  }

  private join(params: ParamsOf<'join'>): string | Promise<string> {
    if (this.joined !== undefined) throw new Refused('already-joined')
    const { admit, circuit } = this.doors
    if (admit === undefined && circuit === undefined) return this.enter(params, undefined)
    return this.enterLater(params)
  }

  /** Enters once it is known who wants to, and where. */
  private async enterLater(params: ParamsOf<'join'>): Promise<string> {
    const { admit, circuit } = this.doors
    const admission = await admit?.(params.admission ?? '')
    if (admit !== undefined && admission === undefined) throw new Refused('not-admitted')
    const match = params.match ?? admission?.match
    const watches = watchesBy(params, admission)
    const route = await orRefused(params.mode, async () =>
      circuit?.route({ match, mode: params.mode, watch: watches }),
    )
    const { doors, line } = this
    const feed =
      route?.url === undefined
        ? undefined
        : await watchFeed(route, params, admission?.role, { doors, receiver: this, line })
    // Its connection may have ended meanwhile: nobody would sit in its seat.
    if (this.hasLeft) throw new Refused('not-joined')
    if (feed !== undefined) {
      const answer = feed.join()
      this.feed = feed
      return answer
    }
    return this.enter(route === undefined ? params : { ...params, match: route.match }, admission)
  }

  /** Enters a match by its admission, or without one where the venue is open. */
  private enter(
    { match: id, mode, name = 'Guest', player, watch, from, latest }: ParamsOf<'join'>,
    admission: Admission | undefined,
  ): string {
    const watches = watchesBy({ watch }, admission)
    const hosted = this.find({ match: id ?? admission?.match, mode, watch: watches })
    // What a token is not for looks like what is not there to whoever has no token for it.
    if (admission?.match !== undefined && hosted?.id !== admission.match) throw new Refused('not-admitted')
    if (hosted === undefined) throw new Refused('unknown-match', { match: id })
    if (hosted.isPaused) throw new Refused('not-now')
    if (admission === undefined)
      return watch === undefined
        ? this.takeSeat(hosted, name, { player: player ?? randomUUID(), role: 'player', from, latest })
        : this.watch(hosted, watch, {
            ...(this.doors.allowDriving ? { role: 'referee', by: name } : WATCHER),
            latest,
          })
    const { role, organiser: leads } = admission
    if (watches)
      return this.watch(hosted, watch ?? 'spectator', { role, by: admission.player, leads, latest })
    const { player: known, seat } = admission
    return this.takeSeat(hosted, admission.name ?? name, {
      player: known,
      role,
      seat,
      by: known,
      leads,
      from,
      latest,
    })
  }

  private find(wanted: Wanted): HostedMatch | undefined {
    try {
      return this.doors.find(wanted)
    } catch (error) {
      throw refusedBy(error, wanted.mode)
    }
  }

  private takeSeat(
    hosted: HostedMatch,
    name: string,
    entering: Entering & { readonly player: string },
  ): string {
    const { player, seat: asked, from } = entering
    // An id that another player had in this match may still be named in its state.
    if (asked !== undefined && hosted.seatIds.has(asked) && seatOf(hosted, player) !== asked)
      throw new Refused('join-refused', said(hosted, { ok: false, code: 'seat-taken' }))
    const seatId = asked ?? this.doors.seatFor(hosted, name)
    const ruling = hosted.run((match) => match.direct('roster.join', { seat: seatId, name, player }))
    if (!ruling.ok) throw new Refused('join-refused', said(hosted, ruling))
    const seat = seatOf(hosted, player)
    // With `whenFull: 'watch'` a player who finds no seat watches.
    if (seat === undefined)
      return this.open(hosted, this.doors.spectatorId(), { ...entering, seat: undefined })
    hosted.seatIds.add(seat)
    // A seat has one connection. A new one replaces it.
    const key = keyOf(hosted, seat)
    const older = this.doors.seated.get(key)
    this.doors.seated.set(key, this)
    older?.replaced()
    this.doors.joined(hosted, seat)
    const trail = this.doors.trails.get(key)
    const missed = from && trail?.resume(from, this)
    if (trail === undefined || missed === undefined) {
      trail?.close()
      return this.open(hosted, seat, { ...entering, seat })
    }
    this.begin(hosted, seat, trail, { ...entering, seat })
    const rest = { seat, role: entering.role, player, at: hosted.now() }
    return joinAnswer(hosted, trail, this.doors, rest, ['missed', `[${missed.join(',')}]`])
  }

  private watch(hosted: HostedMatch, watch: string, entering: Entering): string {
    const eyes = this.doors.allowViewAsAnySeat && hosted.match.allSeats.includes(watch)
    if (watch !== 'spectator' && !eyes) throw new Refused('no-such-view', { watch })
    return this.open(hosted, eyes ? watch : this.doors.spectatorId(), entering)
  }

  private open(hosted: HostedMatch, viewer: string, entering: Entering): string {
    const { seat, role, player } = entering
    if (seat === undefined && !this.doors.watches(hosted, 1)) throw new Refused('too-many-watchers')
    const trail = new Trail(hosted, viewer, this.doors.wait, entering.latest === false)
    if (seat !== undefined) this.doors.trails.set(keyOf(hosted, seat), trail)
    const { at, view, notices } = trail.open(this)
    this.begin(hosted, viewer, trail, entering)
    const rest = { seat: seat ?? null, role, player, at, notices }
    return joinAnswer(hosted, trail, this.doors, rest, ['view', view])
  }

  private begin(
    hosted: HostedMatch,
    viewer: string,
    trail: Trail,
    { seat, role, by, leads = false }: Entering,
  ): void {
    this.joined = { hosted, viewer, seat, role, by, leads, trail }
    hosted.ends.add(this.ended)
  }

  /** Gives the seat up, as the rulebook has it, and ends this client's part in the match. */
  private giveUpSeat(): string {
    const joined = this.here()
    const ruling = submitted(joined, 'roster.leave', {}, {})
    if (ruling.ok) this.shut('for good')
    return rulingText(joined.hosted, ruling)
  }

  private here(): Joined {
    if (this.joined === undefined) throw new Refused('not-joined')
    return this.joined
  }

  heard(update: Update): void {
    const kicked = update.notices.find(
      ({ name, cells }) => name === KICKED && cells['seat'] === this.joined?.seat,
    )
    if (kicked !== undefined) this.sentOff(String(kicked.cells['why'] ?? ''))
  }

  /** Closes the connection of a client that has been kicked. Nothing more that it sends is handled. */
  private sentOff(why: string): void {
    this.shut('for good')
    this.line.close(CLOSE_KICKED, `sent off: ${why}`.slice(0, MAX_REASON))
  }

  /** Called when the match has ended at its host. */
  private readonly ended = (why: string): void => {
    const { movedTo, id } = this.joined?.hosted ?? {}
    this.shut('for good')
    sayFarewell(this.line, why, id, this.doors.circuit?.passesOn === true ? undefined : movedTo)
  }

  private replaced(): void {
    const { joined } = this
    this.joined = undefined
    joined?.hosted.ends.delete(this.ended)
    this.line.close(CLOSE_REPLACED, 'this seat was taken up in another window')
  }

  /** Its connection is gone. What comes for its seat is kept for a while. */
  leave(): void {
    this.hasLeft = true
    this.feed?.leave()
    const before = this.joined
    if (before === undefined) return
    const { hosted, seat } = before
    this.shut('for now')
    if (seat !== undefined && hosted.match.allSeats.includes(seat) && !hosted.isClosed)
      hosted.run((match) => match.direct('roster.absent', { seat }))
  }

  private shut(how: 'for now' | 'for good'): void {
    const { joined, doors } = this
    this.joined = undefined
    if (joined === undefined) return
    const { hosted, seat, trail } = joined
    hosted.ends.delete(this.ended)
    if (seat === undefined) {
      doors.watches(hosted, -1)
      trail.close()
      return
    }
    const key = keyOf(hosted, seat)
    if (doors.seated.get(key) === this) doors.seated.delete(key)
    const end = (): void => {
      trail.close()
      if (doors.trails.get(key) === trail) doors.trails.delete(key)
    }
    if (how === 'for good') end()
    else trail.leave(end)
  }
}
