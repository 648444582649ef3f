/** A seat's id. The player in a seat may change; the id does not. */
export type Seat = string

/**
 * A set of viewers: the named seats, or, if `all` is set, everyone except them (spectators are only in `all` sets).
 * It is computed once per row, not once per viewer.
 */
export interface Audience {
  /** True for everyone except those who are named. */
  readonly all: boolean
  /** The seats that are named. */
  readonly seats: ReadonlySet<Seat>
}

/** The viewer that sees everything that anybody may see: the game's own server, or a referee. No seat has this id. */
export const SERVER = 'server'
/** A viewer without a seat. The ids of others like it begin so. No seat has such an id. */
export const SPECTATOR = 'spectator'

const none: ReadonlySet<Seat> = new Set()
export const allViewers: Audience = { all: true, seats: none }
export const noViewers: Audience = { all: false, seats: none }

/** Returns an audience of these seats. Undefined ones are left out, so you can pass a cell that may be empty. */
export function only(...seats: readonly (Seat | undefined)[]): Audience {
  const named = seats.filter((seat) => seat !== undefined)
  return named.length === 0 ? noViewers : { all: false, seats: new Set(named) }
}

/** Returns the audience of everyone in at least one of these. */
export function anyOf(...audiences: readonly Audience[]): Audience {
  return audiences.reduce((a, b) => {
    if (a.all && b.all)
      return {
        all: true,
        seats: a.seats.size === 0 ? none : new Set([...a.seats].filter((seat) => b.seats.has(seat))),
      }
    if (a.all || b.all) {
      const [most, few] = a.all ? [a, b] : [b, a]
      return { all: true, seats: new Set([...most.seats].filter((seat) => !few.seats.has(seat))) }
    }
    return b.seats.size === 0 ? a : { all: false, seats: new Set([...a.seats, ...b.seats]) }
  }, noViewers)
}

/** Returns the same audience without these seats. */
export function except(audience: Audience, ...seats: readonly Seat[]): Audience {
  const kept = audience.all
    ? [...audience.seats, ...seats]
    : [...audience.seats].filter((seat) => !seats.includes(seat))
  return { all: audience.all, seats: new Set(kept) }
}

export function reaches({ all, seats }: Audience, viewer: string): boolean {
  return seats.has(viewer) !== all
}

/** True if somebody in the first is not in the second. */
export function someoneLost(before: Audience, after: Audience): boolean {
  if (before.all && !after.all) return true
  if (before.all) return [...after.seats].some((seat) => !before.seats.has(seat))
  return [...before.seats].some((seat) => !reaches(after, seat))
}

export function sameAudience(a: Audience, b: Audience): boolean {
  return (
    a === b ||
    (a.all === b.all && a.seats.size === b.seats.size && [...a.seats].every((seat) => b.seats.has(seat)))
  )
}
