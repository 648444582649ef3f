import type { Seat } from '../cells/index.ts'
import { RefereeError } from '../kit/index.ts'

/** How prizes for the most are given. */
export interface MajorityRules {
  /**
   * What tied seats get: the prizes of all their places together, shared; that of their own place, shared; the same
   * with the next place's prize for those who come after them; each the whole prize; or nothing.
   */
  readonly tiedPrize?: 'pool' | 'own-place' | 'next-place' | 'full-each' | 'nobody'
  /** What a seat gets if it alone has any: the first prize, or all of them. */
  readonly alone?: 'first' | 'all'
  /** Shares are rounded down to a multiple of this. */
  readonly roundTo?: number
  /** What happens to what is rounded off. */
  readonly rest?: 'lost' | 'lowest-seat'
  /** True if a seat without any takes part. */
  readonly zeroTakesPart?: boolean
}

/**
 * Returns prizes for the most, the second most and so on, by seat number. Seats that get nothing are left out.
 *
 * @throws ZR_MATCH_MISUSED for a count below 0
 */
export function majority(
  counts: ReadonlyMap<Seat, number>,
  prizes: readonly number[],
  {
    tiedPrize = 'pool',
    alone = 'first',
    roundTo = 1,
    rest = 'lost',
    zeroTakesPart = false,
  }: MajorityRules = {},
): ReadonlyMap<Seat, number> {
  const below = [...counts].find(([, count]) => count < 0)
  if (below !== undefined)
    throw new RefereeError('ZR_MATCH_MISUSED', {
      what: `A majority counts ${below[1]} for '${below[0]}'`,
      fix: 'Count from 0 on',
    })
  const eligible = [...counts].filter(([, count]) => count > 0 || zeroTakesPart)
  const given = new Map<Seat, number>()
  if (eligible.length === 1 && alone === 'all')
    return new Map(eligible.map(([seat]) => [seat, sum(prizes)] as const))
  const levels = [...new Set(eligible.map(([, count]) => count))].sort((a, b) => b - a)
  let place = 0
  for (const level of levels) {
    const seats = eligible.filter(([, count]) => count === level).map(([seat]) => seat)
    const whole = tiedPrize === 'pool' ? sum(prizes.slice(place, place + seats.length)) : (prizes[place] ?? 0)
    for (const [at, share] of shares(seats.length, whole).entries()) give(seats[at], share)
    place += tiedPrize === 'next-place' ? 1 : seats.length
  }
  return given

  function give(seat: Seat | undefined, points: number) {
    if (seat !== undefined && points !== 0) given.set(seat, points)
  }

  function shares(heads: number, whole: number): number[] {
    if (heads === 1 || tiedPrize === 'full-each') return Array.from({ length: heads }, () => whole)
    if (tiedPrize === 'nobody') return []
    // Rounds towards 0, for negative prizes too.
    const each = Math.trunc(whole / heads / roundTo) * roundTo
    const left = rest === 'lowest-seat' ? whole - each * heads : 0
    return Array.from({ length: heads }, (_, at) => each + (at === 0 ? left : 0))
  }
}

const sum = (numbers: readonly number[]): number => numbers.reduce((all, each) => all + each, 0)
