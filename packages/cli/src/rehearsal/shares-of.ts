import type { Rehearsal, Share } from 'zinc-referee/testing'

/** A share with what it is a share of: wins of a seat, say. */
export interface NamedShare extends Share {
  readonly what: 'win' | 'comeback'
}

/** What a rehearsal says of who wins: sides first, then who starts, then seats. */
export function sharesOf({ sides, starter, seats, comebacks }: Rehearsal): readonly NamedShare[] {
  const wins = [...sides, ...(starter === undefined ? [] : [starter]), ...seats]
  return [
    ...wins.map((share) => ({ ...share, what: 'win' as const })),
    ...(comebacks === undefined ? [] : [{ ...comebacks, what: 'comeback' as const }]),
  ]
}
