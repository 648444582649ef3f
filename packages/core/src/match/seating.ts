import type { Seat, Store } from '../state/index.ts'

interface Place {
  readonly number: number
  readonly gone: boolean
}

/** Seats as a snapshot has them: id, number, whether it has left. */
export interface SavedSeats {
  readonly next: number
  readonly places: readonly (readonly [seat: Seat, number: number, gone: boolean])[]
}

/** The seats of a match: their numbers, and who has left this bout. Every change can be taken back. */
export class Seating {
  private places: ReadonlyMap<Seat, Place> = new Map()
  private next = 1
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

  /** Those that have not left. */
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

  /** The number that the next seat will get: whoever has it or a higher one was not there yet. */
  get issued(): number {
    return this.next
  }

  add(seat: Seat): number {
    const number = this.next
    this.change(new Map(this.places).set(seat, { number, gone: false }), number + 1)
    return number
  }

  remove(seat: Seat): void {
    const places = new Map(this.places)
    places.delete(seat)
    this.change(places, this.next)
  }

  setGone(seat: Seat, gone: boolean): void {
    this.change(new Map(this.places).set(seat, { number: this.number(seat), gone }), this.next)
  }

  text(): string {
    return `seats ${this.next} ${JSON.stringify([...this.places])}`
  }

  save(): SavedSeats {
    return {
      next: this.next,
      places: [...this.places].map(([seat, { number, gone }]) => [seat, number, gone]),
    }
  }

  load({ next, places }: SavedSeats): void {
    this.keep(new Map(places.map(([seat, number, gone]) => [seat, { number, gone }])), next)
  }

  $restore(_code: number, old: unknown): void {
    const { places, next } = old as { places: ReadonlyMap<Seat, Place>; next: number }
    this.keep(places, next)
  }

  private change(places: ReadonlyMap<Seat, Place>, next: number): void {
    if (!this.store.open) this.store.refuse('seating')
    this.store.undo.note(this, 0, { places: this.places, next: this.next })
    this.keep(places, next)
  }

  private keep(places: ReadonlyMap<Seat, Place>, next: number): void {
    this.places = places
    this.next = next
    this.version++
    this.present = [...places].filter(([, { gone }]) => !gone).map(([seat]) => seat)
  }
}
