/** A seat's id: who sits there may change, the id does not. */
export type Seat = string

/**
 * A set of viewers, computed once per row and not once per viewer: the named seats, or, where `all` is set, everyone
 * but them (spectators are of `all` sets only).
 */
export interface Audience {
  /** True for everyone but those named. */
  readonly all: boolean
  /** Those who are named. */
  readonly seats: ReadonlySet<Seat>
}

/** The viewer that sees whatever anybody can see: the game's own server, or a referee. No seat has this id. */
export const SERVER = 'server'

const none: ReadonlySet<Seat> = new Set()
export const allViewers: Audience = { all: true, seats: none }
export const noViewers: Audience = { all: false, seats: none }

/** These seats; what is undefined is left out, so that a cell which may be empty can be passed. */
export function only(...seats: readonly (Seat | undefined)[]): Audience {
  const named = seats.filter((seat) => seat !== undefined)
  return named.length === 0 ? noViewers : { all: false, seats: new Set(named) }
}

/** Whoever is in one of them. */
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

/** The same without these seats. */
export function except(audience: Audience, ...seats: readonly Seat[]): Audience {
  const kept = audience.all
    ? [...audience.seats, ...seats]
    : [...audience.seats].filter((seat) => !seats.includes(seat))
  return { all: audience.all, seats: new Set(kept) }
}

export function reaches({ all, seats }: Audience, viewer: string): boolean {
  return seats.has(viewer) !== all
}

/** Whether somebody of the first is not in the second. */
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
