import { randomUUID } from 'node:crypto'
import type { Ruling, Seat, Update } from 'zinc-referee'
import type { Admission, Role } from './admissions.ts'
import type { HostedMatch } from './hosted-match.ts'
import { type Call, notificationText, type ParamsOf, type RpcProblem } from './protocol.ts'

/** The part of a venue that its visitors use. */
export interface Doors {
  match(id: string | undefined): HostedMatch | undefined
  /** If true, anyone may see through the eyes of a seat. For showing a game, never for serious play. */
  readonly allowViewAsAnySeat: boolean
  /** Returns a seat id for a player of this name. */
  seatFor(hosted: HostedMatch, name: string): Seat
  joined(hosted: HostedMatch): void
  /** Returns a viewer id for a client without a seat. */
  spectatorId(): string
  /** Checks a token, where the venue asks for one: who has none that is valid stays outside. */
  readonly admit?: (token: string) => Promise<Admission | undefined>
  /** By match and seat, who has it now. */
  readonly seated: Map<string, Visitor>
}
/** The way back to a visitor, whatever its transport is. */
export interface Line {
  send(text: string): void
  close(code: number, reason: string): void
}

/** A call that is not carried out. */
export class Refused extends Error {
  readonly problem: RpcProblem
  readonly details: object
  constructor(problem: RpcProblem, details: object = {}) {
    super(problem)
    this.problem = problem
    this.details = details
  }
}

interface Joined {
  readonly hosted: HostedMatch
  readonly viewer: string
  readonly seat: Seat | undefined
  readonly role: Role
  /** Who it is, by its admission. */
  readonly by: string | undefined
  readonly listener: (update: Update) => void
}

const CLOSE_REPLACED = 4000
const CLOSE_KICKED = 4001
const CLOSE_ENDED = 1000
const CLOSE_GOING = 1001
/** A reason for closing has at most 123 bytes (RFC 6455, 5.5). This number of characters of any script fits. */
const MAX_REASON = 40
const KICKED = 'roster.kicked'

/** A client of the venue: what it may see and do. A call that is refused changes nothing. */
export class Visitor {
  private readonly line: Line
  private readonly doors: Doors
  private joined: Joined | undefined
  private hasLeft = false

  constructor(line: Line, doors: Doors) {
    this.line = line
    this.doors = doors
  }

  /** The match that it has joined. */
  get hosted(): HostedMatch | undefined {
    return this.joined?.hosted
  }

  /** Carries a call out and returns the result as JSON text. @throws Refused */
  call(call: Call): string | Promise<string> {
    switch (call.method) {
      case 'join':
        return this.join(call.params)
      case 'act':
        return this.act(call.params)
      case 'options':
        return this.options(call.params)
      case 'report':
        return this.report(call.params)
      case 'direct':
        return this.direct(call.params)
    }
  }

  private join(params: ParamsOf<'join'>): string | Promise<string> {
    if (this.joined !== undefined) throw new Refused('already-joined')
    const { admit } = this.doors
    if (admit === undefined) return this.enter(params, undefined)
    return admit(params.admission ?? '').then((admission) => {
      if (admission === undefined) throw new Refused('not-admitted')
      // Its connection may have ended meanwhile: nobody would sit in its seat.
      if (this.hasLeft) throw new Refused('not-joined')
      return this.enter(params, admission)
    })
  }

  /** Enters a match by its admission, or without one where the venue is open. */
  private enter(
    { match: id, name = 'Guest', player, watch }: ParamsOf<'join'>,
    admission: Admission | undefined,
  ): string {
    const hosted = this.doors.match(id ?? admission?.match)
    // What a token is not for looks like what is not there to whoever has no token for it.
    if (admission?.match !== undefined && hosted?.id !== admission.match) throw new Refused('not-admitted')
    if (hosted === undefined) throw new Refused('unknown-match', { match: id })
    if (hosted.isPaused) throw new Refused('not-now')
    if (admission === undefined)
      return watch === undefined
        ? this.takeSeat(hosted, { name, player: player ?? randomUUID(), role: 'player' })
        : this.watch(hosted, watch, 'watcher')
    const { role } = admission
    if (role !== 'player' || watch !== undefined)
      return this.watch(hosted, watch ?? 'spectator', role, admission.player)
    return this.takeSeat(hosted, { ...admission, name: admission.name ?? name })
  }

  private takeSeat(
    hosted: HostedMatch,
    {
      name,
      player,
      role,
      seat: asked,
    }: Pick<Admission, 'player' | 'role'> & { name: string; seat?: string | undefined },
  ): string {
    // An id that another player had in this match may still be named in its state.
    if (asked !== undefined && hosted.seatIds.has(asked) && seatOf(hosted, player) !== asked)
      throw new Refused('join-refused', said(hosted, { ok: false, code: 'seat-taken' }))
    const seatId = asked ?? this.doors.seatFor(hosted, name)
    const ruling = hosted.run((match) => match.direct('roster.join', { seat: seatId, name, player }))
    if (!ruling.ok) throw new Refused('join-refused', said(hosted, ruling))
    const seat = seatOf(hosted, player)
    // With `whenFull: 'watch'` a player who finds no seat watches.
    if (seat === undefined) return this.open(hosted, this.doors.spectatorId(), undefined, player, role)
    hosted.seatIds.add(seat)
    // A seat has one connection. A new one replaces it.
    const key = `${hosted.id} ${seat}`
    const older = this.doors.seated.get(key)
    this.doors.seated.set(key, this)
    older?.replaced()
    this.doors.joined(hosted)
    return this.open(hosted, seat, seat, player, role)
  }

  private watch(hosted: HostedMatch, watch: string, role: Role, by?: string): string {
    const eyes = this.doors.allowViewAsAnySeat && hosted.match.allSeats.includes(watch)
    if (watch !== 'spectator' && !eyes) throw new Refused('no-such-view', { watch })
    return this.open(hosted, eyes ? watch : this.doors.spectatorId(), undefined, undefined, role, by)
  }

  private open(
    hosted: HostedMatch,
    viewer: string,
    seat: Seat | undefined,
    player: string | undefined,
    role: Role,
    by?: string,
  ): string {
    const listener = (update: Update): void => this.tell(update)
    const { at, view, notices } = hosted.match.allSeats.includes(viewer)
      ? hosted.open(viewer, listener)
      : hosted.watch(viewer, listener)
    this.joined = { hosted, viewer, seat, role, by, listener }
    hosted.ends.add(this.ended)
    const rest = {
      match: hosted.id,
      rulebook: hosted.match.describe(),
      seat: seat ?? null,
      player,
      at,
      notices,
    }
    return `${JSON.stringify(rest).slice(0, -1)},"view":${view}}`
  }

  private act({ action, input = {}, id, life, turn }: ParamsOf<'act'>): string {
    const { hosted, seat } = this.seatedAt()
    const ruling = hosted.submit(seat, action, input, {
      ...(id === undefined ? {} : { id }),
      ...(life === undefined ? {} : { life }),
      ...(turn === undefined ? {} : { turn }),
    })
    return JSON.stringify(ruling.ok ? { ok: true } : { ok: false, ...said(hosted, ruling) })
  }

  private options({ action, part }: ParamsOf<'options'>): string {
    const { hosted, seat } = this.seatedAt()
    return JSON.stringify(hosted.run((match) => match.options(seat, action, part)))
  }

  private report({ fact, input = {}, inputs }: ParamsOf<'report'>): string {
    const hosted = this.inRole('reporter', 'referee')
    const all = hosted.run((match) => match.reportAll(fact, inputs ?? [input]))
    const rulings = all.map((ruling) => (ruling.ok ? { ok: true } : { ok: false, ...said(hosted, ruling) }))
    return JSON.stringify(inputs === undefined ? rulings[0] : rulings)
  }

  private direct({ directive, input = {} }: ParamsOf<'direct'>): string {
    const hosted = this.inRole('referee')
    const { by } = this.joined ?? {}
    const ruling = hosted.run((match) =>
      match.direct(directive, input, by === undefined ? {} : { referee: by }),
    )
    return JSON.stringify(ruling.ok ? { ok: true } : { ok: false, ...said(hosted, ruling) })
  }

  private inRole(...roles: readonly Role[]): HostedMatch {
    if (this.joined === undefined) throw new Refused('not-joined')
    const { hosted, role } = this.joined
    if (!roles.includes(role)) throw new Refused('not-your-role')
    if (hosted.isPaused) throw new Refused('not-now')
    return hosted
  }

  private seatedAt(): { readonly hosted: HostedMatch; readonly seat: Seat } {
    if (this.joined === undefined) throw new Refused('not-joined')
    const { hosted, seat } = this.joined
    if (hosted.isPaused) throw new Refused('not-now')
    if (seat === undefined) throw new Refused('only-watching')
    return { hosted, seat }
  }

  /** Sends the patch first, then its notices in order. */
  private tell({ at, patch, notices, done }: Update): void {
    if (patch !== '[]')
      this.line.send(
        notificationText(
          'view',
          `{"at":${at}${done === undefined ? '' : `,"done":${JSON.stringify(done)}`},"patch":${patch}}`,
        ),
      )
    for (const notice of notices) this.line.send(notificationText('notice', JSON.stringify(notice)))
    const kicked = notices.find(({ name, cells }) => name === KICKED && cells['seat'] === this.joined?.seat)
    if (kicked !== undefined) this.sentOff(String(kicked.cells['why'] ?? ''))
  }

  /** Closes the connection of a client that has been kicked. Nothing more that it sends is handled. */
  private sentOff(why: string): void {
    const { joined } = this
    if (joined?.seat !== undefined) this.doors.seated.delete(`${joined.hosted.id} ${joined.seat}`)
    this.shut()
    this.line.close(CLOSE_KICKED, `sent off: ${why}`.slice(0, MAX_REASON))
  }

  /** Called when the match has ended at its host. */
  private readonly ended = (why: string): void => {
    this.shut()
    this.line.send(notificationText('closed', JSON.stringify({ why })))
    if (why === 'match-ended') this.line.close(CLOSE_ENDED, 'the match has ended')
    else this.line.close(CLOSE_GOING, 'the venue closes')
  }

  private replaced(): void {
    this.shut()
    this.line.close(CLOSE_REPLACED, 'this seat was taken up in another window')
  }

  /** Its connection is gone. */
  leave(): void {
    this.hasLeft = true
    const before = this.joined
    this.shut()
    if (before?.seat === undefined) return
    const key = `${before.hosted.id} ${before.seat}`
    if (this.doors.seated.get(key) !== this) return
    this.doors.seated.delete(key)
    before.hosted.run((match) => match.direct('roster.absent', { seat: before.seat }))
  }

  private shut(): void {
    const { joined } = this
    this.joined = undefined
    joined?.hosted.ends.delete(this.ended)
    joined?.hosted.shut(joined.viewer, joined.listener)
  }
}

/** Returns a refusal as it is sent: its code, its text, and its data. */
function said({ match }: HostedMatch, ruling: Ruling & { readonly ok: false }): object {
  const { code, details } = ruling
  return { code, says: match.explain(ruling), ...(details !== undefined && { details }) }
}

function seatOf({ match }: HostedMatch, player: string): Seat | undefined {
  const { seats } = match.state.roster
  return match.allSeats.find((seat) => seats.of(seat).player === player)
}
