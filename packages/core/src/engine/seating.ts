import type { Seat } from '../cells/index.ts'
import type { Store } from '../rows/index.ts'

interface SeatNow {
  readonly number: number
  readonly gone: boolean
  /** Counts players, not seats: if somebody else takes a seat over, the seat has a new player number. */
  readonly player: number
}

/** Seats as a snapshot has them. */
export interface SavedSeats {
  /** The next seat's number, and the next player's. */
  readonly next: number
  readonly players: number
  readonly places: readonly (readonly [seat: Seat, number: number, gone: boolean, player: number])[]
}

const FORMER = 'former-'
/** True if this id is a placeholder for a removed seat. No seat can have such an id. */
export const isFormer = (id: string): boolean => id.startsWith(FORMER)
/** Returns the placeholder that the state keeps for a removed seat. A later seat with the same id is somebody else. */
export const formerly = (number: number): string => `${FORMER}${number}`

/** The seats of a match: their numbers, and who has left this bout. Every change can be taken back. */
export class Seating {
  private places: ReadonlyMap<Seat, SeatNow> = new Map()
  private next = 1
  private players = 1
  private present: readonly Seat[] = []
  /** Grows whenever anything here changes, or is taken back. */
  version = 0
  private readonly store: Store

  constructor(store: Store) {
    this.store = store
  }

  /** All seats, by number. */
  all(): readonly Seat[] {
    return [...this.places.keys()]
  }

  /** Returns the seats that have not left. */
  here(): readonly Seat[] {
    return this.present
  }

  has(seat: Seat): boolean {
    return this.places.has(seat)
  }

  isGone(seat: Seat): boolean {
    return this.places.get(seat)?.gone ?? false
  }

  number(seat: Seat): number {
    return this.places.get(seat)?.number ?? 0
  }

  /** The next player's number. Whoever has this number or a higher one has joined since. */
  get issued(): number {
    return this.players
  }

  /** Tells apart those who had a seat one after another; 0 without a seat. */
  player(seat: Seat): number {
    return this.places.get(seat)?.player ?? 0
  }

  add(seat: Seat): number {
    const { next: number, players: player } = this
    this.change(new Map(this.places).set(seat, { number, gone: false, player }), number + 1, player + 1)
    return number
  }

  /** The seat stays, and somebody else has it. */
  handOver(seat: Seat): void {
    const place = this.places.get(seat)
    if (place === undefined) return
    const places = new Map(this.places).set(seat, { ...place, player: this.players })
    this.change(places, this.next, this.players + 1)
  }

  remove(seat: Seat): void {
    const places = new Map(this.places)
    places.delete(seat)
    this.change(places)
  }

  setGone(seat: Seat, gone: boolean): void {
    const place = this.places.get(seat)
    if (place !== undefined) this.change(new Map(this.places).set(seat, { ...place, gone }))
  }

  text(): string {
    return `seats ${this.next} ${this.players} ${JSON.stringify([...this.places])}`
  }

  save(): SavedSeats {
    const { next, players } = this
    return {
      next,
      players,
      places: [...this.places].map(([seat, { number, gone, player }]) => [seat, number, gone, player]),
    }
  }

  load({ next, players, places }: SavedSeats): void {
    const each = places.map(([seat, number, gone, player]) => [seat, { number, gone, player }] as const)
    this.keep(new Map(each), next, players)
  }

  restore({ places, next, players }: Kept): void {
    this.keep(places, next, players)
  }

  private change(places: Kept['places'], next = this.next, players = this.players): void {
    if (!this.store.open) this.store.refuse('seating')
    this.store.undo.noteOf(this, { places: this.places, next: this.next, players: this.players })
    this.keep(places, next, players)
  }

  private keep(places: Kept['places'], next: number, players: number): void {
    this.places = places
    this.next = next
    this.players = players
    this.version++
    this.present = [...places].filter(([, { gone }]) => !gone).map(([seat]) => seat)
  }
}

interface Kept {
  readonly places: ReadonlyMap<Seat, SeatNow>
  readonly next: number
  readonly players: number
}
