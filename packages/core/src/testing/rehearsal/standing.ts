import type { Seat } from '../../cells/index.ts'
import type { AnyMatch } from '../../rulebook/index.ts'

/** What the rules of the library keep of a seat's side and score. */
interface Kept {
  readonly teams?: { readonly side: { of(seat: Seat): { readonly team: number | null } } }
  readonly roles?: { readonly seats: { of(seat: Seat): { readonly role: string | null } } }
  readonly scores?: { readonly sums: { of(seat: Seat): { readonly score: number } } }
}

/** The seats by team, or by role in a mode without teams. */
export function sidesOf(match: AnyMatch): ReadonlyMap<string, readonly Seat[]> {
  const { teams, roles } = match.state as Kept
  const sideOf = (seat: Seat): string | null => {
    if (teams === undefined) return roles?.seats.of(seat).role ?? null
    const { team } = teams.side.of(seat)
    return team === null ? null : `team ${team}`
  }
  const sides = new Map<string, Seat[]>()
  for (const seat of match.allSeats) {
    const side = sideOf(seat)
    if (side !== null) sides.set(side, [...(sides.get(side) ?? []), seat])
  }
  return sides
}

/** What each seat has scored; nothing in a mode without scores. */
export function scoresOf(match: AnyMatch): readonly number[] {
  const { scores } = match.state as Kept
  return scores === undefined ? [] : match.allSeats.map((seat) => scores.sums.of(seat).score)
}

/** Time between two looks at who leads, in ms. */
const BETWEEN = 1000

/** Who led a match, from its begin to its end. */
export class Leads {
  private readonly looks: { readonly at: number; readonly leaders: ReadonlySet<Seat> }[] = []
  private next = 0

  /** Looks at who leads, if that is due: a team by the scores of its seats together. Where all are level, nobody leads. */
  look(match: AnyMatch): void {
    const { scores, teams } = match.state as Kept
    if (scores === undefined || match.now < this.next) return
    this.next = match.now + BETWEEN
    const sides = teams === undefined ? match.allSeats.map((seat) => [seat]) : [...sidesOf(match).values()]
    const sums = sides.map((seats) => seats.reduce((sum, seat) => sum + scores.sums.of(seat).score, 0))
    const best = Math.max(...sums)
    const isLevel = sums.every((sum) => sum === best)
    const leaders = isLevel ? [] : sides.flatMap((seats, at) => (sums[at] === best ? seats : []))
    this.looks.push({ at: match.now, leaders: new Set(leaders) })
  }

  /** Those who led at half of the time until now; nothing if nobody did. */
  atHalf(now: number): ReadonlySet<Seat> | undefined {
    const begin = this.looks[0]?.at ?? 0
    const { leaders } = this.looks.findLast(({ at }) => at <= (begin + now) / 2) ?? {}
    return leaders === undefined || leaders.size === 0 ? undefined : leaders
  }
}
