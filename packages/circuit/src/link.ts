import { randomUUID } from 'node:crypto'
import type { NatsConnection } from '@nats-io/transport-node'
import type { CircuitLink, Log } from '@zinc-referee/venue'
import { type Matches, type MatchSummary, processClock, venueError } from '@zinc-referee/venue/keeping'
import { answers, type Listed } from './answers.ts'
import { archiveIn } from './archive.ts'
import type { CircuitOptions, CircuitState, VenueInCircuit } from './circuit-options.ts'
import { circuitError } from './errors.ts'
import { FeedSource } from './feed-source.ts'
import { Finding } from './finding.ts'
import { Followed } from './followed.ts'
import type { FollowedMatch } from './followed-match.ts'
import { circuitMeters } from './meters.ts'
import type { Asking } from './nats/asking.ts'
import type { openStorage } from './nats/storage.ts'
import { takeOrders } from './orders.ts'
import { circuitPage } from './page.ts'
import { Circuit } from './protocol/circuit.ts'
import type { Member } from './protocol/members.ts'
import { usualPace } from './protocol/options.ts'
import { Lately, type VenueReport } from './reports.ts'
import { StreamRoom } from './stream-room.ts'

/** How many matches a venue takes where nothing is said. */
const MAX = 10_000

type Storage = Awaited<ReturnType<typeof openStorage>>

/** What there is of it once its venue is open. */
interface Parts {
  readonly circuit: Circuit
  readonly finding: Finding
  readonly matches: Matches
  readonly followed: Followed
}

/** What a venue calls when it is one of many. */
export class Link implements VenueInCircuit {
  readonly passesOn: boolean
  private readonly options: CircuitOptions
  private readonly connection: NatsConnection
  private readonly storage: Storage
  private readonly asking: Asking
  private readonly room: StreamRoom
  private readonly start: string = randomUUID().slice(0, 8)
  private readonly lately: Lately = new Lately()
  private url = ''
  private isLeaving = false
  private parts: Parts | undefined

  constructor(options: CircuitOptions, connection: NatsConnection, storage: Storage, asking: Asking) {
    this.options = options
    this.passesOn = options.passesOn ?? false
    this.connection = connection
    this.room = new StreamRoom(storage.used, options.fullAt, options.log ?? silent)
    this.storage = this.room.guarded(storage)
    this.asking = asking
  }

  opened(matches: Matches, url: string, metrics: Parameters<CircuitLink['opened']>[2]): void {
    const { venue, records, pace, onReplaced, log = silent } = this.options
    this.url = this.options.address ?? url
    const meters = circuitMeters(log, {
      matches: () => circuit.ids.length,
      venues: () => circuit.members.live.length,
    })
    meters.showIn(metrics)
    const self = (): Member => this.self(matches)
    const paced = { ...usualPace, ...pace }
    const circuit = new Circuit({
      storage: {
        ...this.storage,
        stream: meters.timed(this.storage.stream, (took) => this.lately.committed(took)),
      },
      clock: processClock,
      pace: paced,
      self,
      isSilent: (other) => this.asking.isSilent(other),
      giveTo: async (to, match) => (await this.asking.one(to.name, 'take', match, paced.handOver)) === true,
      archive: archiveIn(records),
      happened: (event) => {
        meters.happened(event)
        this.lately.happened(event)
        if (event.what === 'replaced') onReplaced?.(circuitError('ZR_CIRCUIT_NAME_TAKEN', { name: venue }))
      },
    })
    const finding = new Finding(circuit, matches, this.asking, this.storage.searches, self)
    const feeds = new FeedSource(this.connection, this.name, matches)
    const followed = new Followed(this.connection, this.name, (match, question, given) => {
      const owner = circuit.whereIs(match)?.name
      return owner === undefined ? Promise.resolve(undefined) : this.asking.one(owner, question, given)
    })
    this.parts = { circuit, finding, matches, followed }
    circuit.join(matches)
    const { lately, room } = this
    const answer = answers({ circuit, finding, matches, feeds, lately, room, self })
    this.asking.answer(venue, answer)
    takeOrders(this.connection, this.name, matches)
  }

  begin(id: string, mode: string): ReturnType<CircuitLink['begin']> {
    if (this.room.room !== 'enough') throw venueError('ZR_VENUE_FULL', { max: this.open.circuit.ids.length })
    return this.open.circuit.begin(id, mode)
  }

  route(wanted: Parameters<CircuitLink['route']>[0]): ReturnType<CircuitLink['route']> {
    return this.open.finding.route(wanted)
  }

  watch(match: string): Promise<FollowedMatch | undefined> {
    return this.open.followed.watch(match)
  }

  joined(match: string): void {
    this.open.finding.came(match)
  }

  async elsewhere(): Promise<readonly MatchSummary[]> {
    const { members } = this.open.circuit
    const all = await this.asking.all<Listed>('matches', members.live.length)
    return all.filter(({ venue }) => venue !== this.options.venue).flatMap(({ matches }) => matches)
  }

  readonly page: string = circuitPage

  /** Of all venues that answer, in the order of their names. */
  async report(): Promise<{ readonly venues: readonly VenueReport[] }> {
    const venues = await this.asking.all<VenueReport>('report', this.open.circuit.members.live.length)
    return { venues: venues.toSorted((a, b) => (a.venue < b.venue ? -1 : 1)) }
  }

  addresses(): readonly string[] {
    return this.open.circuit.members.live.map(({ url }) => url).filter((url) => url !== this.url)
  }

  origins(): readonly string[] {
    return [...this.open.circuit.members.urls].map((url) => new URL(url.replace(/^ws/, 'http')).origin)
  }

  get state(): CircuitState {
    const { circuit } = this.open
    return { venue: this.options.venue, venues: circuit.members.live, matches: circuit.ids }
  }

  async known(): Promise<readonly string[]> {
    const { places, members } = this.open.circuit
    await Promise.all([places.loaded, members.loaded])
    return [...places.all].map(({ match }) => match)
  }

  async drain(): Promise<number> {
    this.isLeaving = true
    const { circuit, finding, matches } = this.open
    let gone = 0
    for (const id of circuit.ids) {
      const mode = matches.get(id)?.match.rulebook
      const to = mode === undefined ? undefined : heir(() => finding.leastLoaded(mode, this.options.venue))
      if (to !== undefined && (await circuit.handOver(id, to))) gone++
    }
    return gone
  }

  async closing(how: 'end' | 'suspend'): Promise<void> {
    this.isLeaving = true
    if (how === 'suspend') await this.drain()
  }

  async closed(): Promise<void> {
    this.room.close()
    await this.open.circuit.leave()
    await this.connection.close()
  }

  private get name(): string {
    return this.options.circuit ?? 'zinc'
  }

  private get open(): Parts {
    if (this.parts === undefined) throw circuitError('ZR_CIRCUIT_NOT_OPEN', {})
    return this.parts
  }

  private self(matches: Matches): Member {
    const { venue, modes, max = MAX } = this.options
    const running = matches.running.length
    return {
      name: venue,
      start: this.start,
      url: this.url,
      modes,
      matches: running,
      max: this.room.room === 'enough' ? max : running,
      isLeaving: this.isLeaving,
    }
  }
}

function heir(find: () => Member): Member | undefined {
  try {
    return find()
  } catch {
    return undefined // nobody else has the mode
  }
}

const silent: Log = { info() {}, warn() {}, error() {} }
