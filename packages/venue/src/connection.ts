import { randomUUID } from 'node:crypto'
import type { WebSocket } from 'ws'
import type { Ruling, Seat, Update } from 'zinc-referee'
import type { HostedMatch } from './hosted-match.ts'
import {
  type Call,
  errorText,
  notificationText,
  type ParamsOf,
  type RpcId,
  type RpcProblem,
  readRequest,
  resultText,
} from './protocol.ts'

/** The part of a venue that a connection uses. */
export interface ConnectionHost {
  match(id: string | undefined): HostedMatch | undefined
  /** If true, anyone may see through the eyes of a seat. For showing a game, never for serious play. */
  readonly allowViewAsAnySeat: boolean
  /** Returns a seat id for a player of this name. */
  seatFor(hosted: HostedMatch, name: string): Seat
  joined(hosted: HostedMatch): void
  /** Returns a viewer id for a client without a seat. */
  spectatorId(): string
}

class Refused extends Error {
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
  readonly listener: (update: Update) => void
}

const CLOSE_UNSUPPORTED = 1003
const CLOSE_REPLACED = 4000
const CLOSE_KICKED = 4001
const CLOSE_ENDED = 1000
const CLOSE_GOING = 1001
/** A reason for closing has at most 123 bytes (RFC 6455, 5.5). This number of characters of any script fits. */
const MAX_REASON = 40
const KICKED = 'roster.kicked'

/** One client's connection. A message that breaks the protocol is answered with an error and changes nothing. */
export class Connection {
  private readonly socket: WebSocket
  private readonly host: ConnectionHost
  private readonly seated: Map<string, Connection>
  private joined: Joined | undefined

  constructor(socket: WebSocket, host: ConnectionHost, seated: Map<string, Connection>) {
    this.socket = socket
    this.host = host
    this.seated = seated
    socket.on('message', (data, isBinary) =>
      isBinary ? socket.close(CLOSE_UNSUPPORTED, 'text frames only') : this.receive(String(data)),
    )
    socket.on('close', () => this.leave())
    socket.on('error', () => socket.terminate())
  }

  private receive(text: string): void {
    const incoming = readRequest(text)
    if (!incoming.ok) {
      this.send(errorText(incoming.id, incoming.problem, incoming.issues && { issues: incoming.issues }))
      return
    }
    const answer = this.answer(incoming.call, incoming.id ?? null)
    if (incoming.id === undefined) return
    const { hosted } = this.joined ?? {}
    if (hosted === undefined) this.send(answer)
    else hosted.whenSafe(() => this.send(answer))
  }

  private answer(call: Call, id: RpcId): string {
    try {
      return resultText(id, this.result(call))
    } catch (error) {
      return error instanceof Refused
        ? errorText(id, error.problem, error.details)
        : errorText(id, 'internal-error')
    }
  }

  private result(call: Call): string {
    switch (call.method) {
      case 'join':
        return this.join(call.params)
      case 'act':
        return this.act(call.params)
      case 'options':
        return this.options(call.params)
    }
  }

  private join({ match: id, name = 'Guest', player, watch }: ParamsOf<'join'>): string {
    if (this.joined !== undefined) throw new Refused('already-joined')
    const hosted = this.host.match(id)
    if (hosted === undefined) throw new Refused('unknown-match', { match: id })
    if (hosted.isPaused) throw new Refused('not-now')
    return watch === undefined
      ? this.takeSeat(hosted, name, player ?? randomUUID())
      : this.watch(hosted, watch)
  }

  private takeSeat(hosted: HostedMatch, name: string, player: string): string {
    const ruling = hosted.run((match) =>
      match.direct('roster.join', { seat: this.host.seatFor(hosted, name), name, player }),
    )
    if (!ruling.ok) throw new Refused('join-refused', said(hosted, ruling))
    const seat = seatOf(hosted, player)
    // With `whenFull: 'watch'` a player who finds no seat watches.
    if (seat === undefined) return this.open(hosted, this.host.spectatorId(), undefined, player)
    hosted.seatIds.add(seat)
    // A seat has one connection. A new one replaces it.
    const key = `${hosted.id} ${seat}`
    const older = this.seated.get(key)
    this.seated.set(key, this)
    older?.replaced()
    this.host.joined(hosted)
    return this.open(hosted, seat, seat, player)
  }

  private watch(hosted: HostedMatch, watch: string): string {
    const eyes = this.host.allowViewAsAnySeat && hosted.match.allSeats.includes(watch)
    if (watch !== 'spectator' && !eyes) throw new Refused('no-such-view', { watch })
    return this.open(hosted, eyes ? watch : this.host.spectatorId(), undefined, undefined)
  }

  private open(
    hosted: HostedMatch,
    viewer: string,
    seat: Seat | undefined,
    player: string | undefined,
  ): string {
    const listener = (update: Update): void => this.tell(update)
    const { at, view, notices } = hosted.match.allSeats.includes(viewer)
      ? hosted.open(viewer, listener)
      : hosted.watch(viewer, listener)
    this.joined = { hosted, viewer, seat, listener }
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
      this.send(
        notificationText(
          'view',
          `{"at":${at}${done === undefined ? '' : `,"done":${JSON.stringify(done)}`},"patch":${patch}}`,
        ),
      )
    for (const notice of notices) this.send(notificationText('notice', JSON.stringify(notice)))
    const kicked = notices.find(({ name, cells }) => name === KICKED && cells['seat'] === this.joined?.seat)
    if (kicked !== undefined) this.sentOff(String(kicked.cells['why'] ?? ''))
  }

  /** Closes the connection of a client that has been kicked. Nothing more that it sends is handled. */
  private sentOff(why: string): void {
    const { joined } = this
    if (joined?.seat !== undefined) this.seated.delete(`${joined.hosted.id} ${joined.seat}`)
    this.shut()
    this.socket.close(CLOSE_KICKED, `sent off: ${why}`.slice(0, MAX_REASON))
  }

  /** Called when the match has ended at its host. */
  private readonly ended = (why: string): void => {
    this.shut()
    this.send(notificationText('closed', JSON.stringify({ why })))
    if (why === 'match-ended') this.socket.close(CLOSE_ENDED, 'the match has ended')
    else this.socket.close(CLOSE_GOING, 'the venue closes')
  }

  private replaced(): void {
    this.shut()
    this.socket.close(CLOSE_REPLACED, 'this seat was taken up in another window')
  }

  private leave(): void {
    const before = this.joined
    this.shut()
    if (before?.seat === undefined) return
    const key = `${before.hosted.id} ${before.seat}`
    if (this.seated.get(key) !== this) return
    this.seated.delete(key)
    before.hosted.run((match) => match.direct('roster.absent', { seat: before.seat }))
  }

  private shut(): void {
    const { joined } = this
    this.joined = undefined
    joined?.hosted.ends.delete(this.ended)
    joined?.hosted.shut(joined.viewer, joined.listener)
  }

  private send(text: string): void {
    if (this.socket.readyState === this.socket.OPEN) this.socket.send(text)
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
