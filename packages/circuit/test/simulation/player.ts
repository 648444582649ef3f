import type { HostedMatch } from '@zinc-referee/venue/keeping'
import type { Update } from 'zinc-referee'
import { operationsOf, Replica } from 'zinc-referee/replica'
import type { Venue } from './venue.ts'
import type { Dice, World } from './world.ts'

/** How long a player waits for an answer before it connects again, in ms. */
const PATIENCE = 2500

/** What somebody was shown, in the order in which it was. */
export interface Shown {
  readonly view: string
  readonly where: string
}

interface PlayerOptions {
  readonly seat: string
  readonly match: string
  /** How many actions it wants to do. */
  readonly most: number
  readonly world: World
  readonly dice: Dice
  /** Returns the venue that is said to have the match. */
  readonly find: () => Venue | undefined
}

/** A player of the simulation: it acts again and again, comes back by itself, and sends again what was not answered. */
export class Player {
  /** Ids of actions that it was told were done. */
  readonly done: Set<number> = new Set()
  readonly shown: Shown[] = []
  /** The number of its last action. */
  sent = 0
  private pending: number | undefined
  private connection = 0
  private replica: Replica | undefined
  private hosted: HostedMatch | undefined
  private venue: Venue | undefined
  private callOff = (): void => {}

  readonly seat: string
  private readonly match: string
  private readonly most: number
  private readonly world: World
  private readonly dice: Dice
  private readonly find: () => Venue | undefined

  constructor({ seat, match, most, world, dice, find }: PlayerOptions) {
    this.seat = seat
    this.match = match
    this.most = most
    this.world = world
    this.dice = dice
    this.find = find
    world.after(dice.between(0, 500), () => this.connect())
  }

  /** True once all that it wanted to do is done. */
  get isContent(): boolean {
    return this.done.size === this.most
  }

  /** Its line is cut, and it comes back. */
  connect(): void {
    const connection = ++this.connection
    this.callOff()
    const again = (): void =>
      void this.world.after(
        this.dice.between(100, 800),
        () => this.connection === connection && this.connect(),
      )
    const venue = this.find()
    if (venue === undefined) {
      again()
      return
    }
    this.callOff = this.world.after(PATIENCE, () => this.connection === connection && this.connect())
    this.toVenue(venue, () => {
      if (this.connection !== connection) return
      const hosted = venue.matches.get(this.match)
      if (hosted === undefined || hosted.isPaused) return this.toPlayer(venue, connection, again)
      const ruling = hosted.run((match) =>
        match.direct('roster.join', { seat: this.seat, name: this.seat, player: `player-${this.seat}` }),
      )
      if (!ruling.ok) return this.toPlayer(venue, connection, again)
      if (hosted.match.state.phases.now.phase === 'lobby')
        hosted.run((match) => match.direct('phases.start', {}))
      hosted.run((match) => match.report('tally.ring', {}))
      const { view, at } = hosted.open(this.seat, (update) =>
        this.toPlayer(venue, connection, () => this.hear(update, venue)),
      )
      hosted.ends.add(() => this.toPlayer(venue, connection, again))
      hosted.whenSafe(() =>
        this.toPlayer(venue, connection, () => {
          this.callOff()
          this.hosted = hosted
          this.venue = venue
          this.replica = new Replica({ view: JSON.parse(view), at }, this.world.now)
          this.note(venue)
          this.act()
        }),
      )
    })
  }

  private act(): void {
    if (this.pending === undefined) {
      if (this.sent === this.most) return
      this.pending = ++this.sent
    }
    const { connection, hosted, venue, pending: id } = this
    if (hosted === undefined || venue === undefined) return
    this.callOff = this.world.after(PATIENCE, () => this.connection === connection && this.connect())
    this.toVenue(venue, () => {
      if (hosted.isClosed || hosted.isPaused) return
      const ruling = hosted.submit(this.seat, 'tally.add', {}, { id })
      hosted.whenSafe(() =>
        this.toPlayer(venue, connection, () => {
          if (this.pending !== id) return
          this.callOff()
          if (ruling.ok) {
            this.done.add(id)
            this.pending = undefined
          }
          this.world.after(this.dice.between(20, 900), () => this.connection === connection && this.act())
        }),
      )
    })
  }

  private hear(update: Update, venue: Venue): void {
    this.replica?.update({ at: update.at, patch: operationsOf(update) }, this.world.now)
    this.note(venue)
  }

  private note({ name }: Venue): void {
    const view = JSON.stringify(this.replica?.view)
    if (this.shown.at(-1)?.view !== view) this.shown.push({ view, where: name })
  }

  private toVenue(venue: Venue, act: () => void): void {
    this.world.after(this.dice.between(0.5, 20), () => venue.machine.do(act))
  }

  private toPlayer(venue: Venue, connection: number, act: () => void): void {
    if (venue.machine.isGone) return
    this.lastArrival = Math.max(this.lastArrival, this.world.now + this.dice.between(0.5, 20))
    this.world.after(this.lastArrival - this.world.now, () => this.connection === connection && act())
  }
  private lastArrival = 0
}
