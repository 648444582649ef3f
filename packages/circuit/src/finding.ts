import {
  type Matches,
  matchWithRoom,
  newCode,
  type Route,
  venueError,
  type Wanted,
} from '@zinc-referee/venue/keeping'
import type { Asking } from './nats/asking.ts'
import type { Circuit } from './protocol/circuit.ts'
import type { Member } from './protocol/members.ts'
import { tokenOf } from './protocol/places.ts'
import { type Bucket, OutOfSequence } from './protocol/ports.ts'

/** How long a seat is kept for somebody who was sent to a match, in ms. */
const KEPT_FOR = 5000
/** How long a match may take to be known everywhere, in ms. */
const KNOWN_SOON = 400
/** How long a match may take to begin, or to go on, in ms. */
const BEGINS_SOON = 1500
const TRIES = 20
const LOOK_AGAIN = 25

/** What a venue says of a match to whoever asks for a seat. */
type Room = 'kept' | 'full' | 'unknown'

/** Finds and begins matches, whichever venue has them. */
export class Finding {
  private readonly circuit: Circuit
  private readonly matches: Matches
  private readonly asking: Asking
  /** By mode, the match that players are sent to now. Only one venue at a time can change it. */
  private readonly searches: Bucket
  private readonly self: () => Member
  /** When seats were kept, by match. */
  private readonly kept: Map<string, number[]> = new Map()

  constructor(circuit: Circuit, matches: Matches, asking: Asking, searches: Bucket, self: () => Member) {
    this.circuit = circuit
    this.matches = matches
    this.asking = asking
    this.searches = searches
    this.self = self
  }

  /** Returns where somebody is to join. @throws ZR_VENUE_NOT_NOW, ZR_VENUE_UNKNOWN_MODE, ZR_VENUE_FULL */
  async route({ match, mode, watch }: Wanted): Promise<Route | undefined> {
    if (match !== undefined) return this.routeTo(match)
    if (watch === true) return this.matches.running.length > 0 ? undefined : this.anyOf(mode)
    if (mode === undefined) return undefined
    return this.search(mode)
  }

  /** Says whether a match of this venue has a seat, and keeps it for a while. */
  room(match: string): Room {
    const hosted = this.matches.get(match)
    if (hosted === undefined) return 'unknown'
    if (!this.kept.has(match)) hosted.ends.add(() => this.kept.delete(match))
    const now = performance.now()
    const kept = (this.kept.get(match) ?? []).filter((at) => now - at < KEPT_FOR)
    const isOpen = matchWithRoom([hosted]) !== undefined && hosted.summary.seats.free > kept.length
    if (isOpen) kept.push(now)
    this.kept.set(match, kept)
    return isOpen ? 'kept' : 'full'
  }

  /** Somebody has come: the seat that was kept is theirs. */
  came(match: string): void {
    this.kept.get(match)?.shift()
  }

  private async routeTo(match: string): Promise<Route | undefined> {
    if (this.matches.get(match) !== undefined) return undefined
    const { places } = this.circuit
    await places.loaded
    const isKnown = await places.until(match, (place) => place !== undefined, after(KNOWN_SOON))
    // Nobody knows where it is: perhaps it is in the stream all the same, as after a restore.
    if (!isKnown && !(await this.circuit.take(match))) return undefined
    const isThere = await this.untilThere(match)
    if (this.matches.get(match) !== undefined) return undefined
    const url = this.circuit.whereIs(match)?.url
    // It goes on in a moment, here or elsewhere.
    if (!isThere || url === undefined || url === this.self().url)
      throw venueError('ZR_VENUE_NOT_NOW', { what: `The match '${match}'` })
    return { match, url }
  }

  private async untilThere(match: string): Promise<boolean> {
    const until = performance.now() + BEGINS_SOON
    while (performance.now() < until) {
      const at = this.circuit.whereIs(match)
      if (this.matches.get(match) !== undefined || (at !== undefined && at.name !== this.self().name))
        return true
      await after(LOOK_AGAIN)
    }
    return false
  }

  private anyOf(mode: string | undefined): Route | undefined {
    for (const place of this.circuit.places.all) {
      const url = this.circuit.whereIs(place.match)?.url
      if (url !== undefined && (mode ?? place.mode) === place.mode) return { match: place.match, url }
    }
    return undefined
  }

  /** The match that players are sent to now, or a new one. Two who search in the same instant end in the same one. */
  private async search(mode: string): Promise<Route> {
    for (let tries = 0; tries < TRIES; tries++) {
      const key = tokenOf(mode)
      const entry = await this.answered(mode, this.searches.get(key))
      const known: { readonly match: string; readonly venue: string } | undefined =
        entry && JSON.parse(entry.text)
      if (known !== undefined && (await this.keepSeat(known)) === 'kept') return this.routeAt(known)
      const venue = this.leastLoaded(mode)
      const found = {
        match: newCode((code) => this.circuit.places.get(code) !== undefined),
        venue: venue.name,
      }
      const isFirst = this.isFirst(key, JSON.stringify(found), entry?.revision ?? 0)
      if (!(await this.answered(mode, isFirst))) continue
      await this.beginAt(venue, mode, found.match)
      if ((await this.keepSeat(found)) === 'kept') return this.routeAt(found)
    }
    throw venueError('ZR_VENUE_FULL', { max: this.self().max })
  }

  /** @throws ZR_VENUE_NOT_NOW if no server answers */
  private async answered<R>(mode: string, asked: Promise<R>): Promise<R> {
    try {
      return await asked
    } catch (error) {
      throw venueError('ZR_VENUE_NOT_NOW', { what: `A match of '${mode}'` }, error)
    }
  }

  /** Puts an entry in place of the one of this revision. Returns false if somebody else's is there then. */
  private async isFirst(key: string, text: string, revision: number): Promise<boolean> {
    try {
      await this.searches.replace(key, text, revision)
    } catch (error) {
      if (error instanceof OutOfSequence) return false
      throw error
    }
    // Of two that are on their way at the same time both may get in: the later one stands.
    await after(LOOK_AGAIN)
    return (await this.searches.get(key))?.text === text
  }

  private routeAt({ match, venue }: { readonly match: string; readonly venue: string }): Route {
    return { match, url: venue === this.self().name ? undefined : this.circuit.members.get(venue)?.url }
  }

  /** Asks a match for a seat. One that is to begin may not have begun yet. */
  private async keepSeat({
    match,
    venue,
  }: {
    readonly match: string
    readonly venue: string
  }): Promise<Room> {
    const until = performance.now() + BEGINS_SOON
    for (;;) {
      // It may have moved since.
      const at = this.circuit.whereIs(match)?.name ?? venue
      const isOwn = at === this.self().name
      if (!isOwn && !this.circuit.members.live.some(({ name }) => name === at)) return 'unknown'
      const room = isOwn ? this.room(match) : await this.asking.one<Room>(at, 'room', match)
      if ((room ?? 'unknown') !== 'unknown' || performance.now() > until) return room ?? 'unknown'
      await after(LOOK_AGAIN)
    }
  }

  /** Of two that are drawn, the one with fewer matches for its size. @throws ZR_VENUE_UNKNOWN_MODE, ZR_VENUE_FULL */
  leastLoaded(mode: string, but?: string): Member {
    const able = this.circuit.members.live.filter(({ modes, name }) => modes.includes(mode) && name !== but)
    if (able.length === 0) throw venueError('ZR_VENUE_UNKNOWN_MODE', { mode })
    const free = able.filter(({ matches, max }) => matches < max)
    const [first, second] = [draw(free), draw(free)]
    if (first === undefined || second === undefined)
      throw venueError('ZR_VENUE_FULL', { max: able[0]?.max ?? 0 })
    return load(second) < load(first) ? second : first
  }

  private async beginAt({ name }: Member, mode: string, match: string): Promise<void> {
    if (name === this.self().name) this.matches.beginFor(mode, match)
    else await this.asking.one(name, 'begin', { mode, match })
  }
}

const load = ({ matches, max }: Member): number => matches / max
const draw = <T>(all: readonly T[]): T | undefined => all[Math.floor(Math.random() * all.length)]
const after = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms))
