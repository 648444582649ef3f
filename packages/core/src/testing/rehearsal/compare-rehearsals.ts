import type { Rehearsal } from './rehearsal.ts'
import { type Counted, share, wilson } from './wilson.ts'

/** A share of two rehearsals, side by side. */
export interface ComparedShare {
  /** `win` of a seat, side or starter; `ending`: how matches ended. */
  readonly what: 'win' | 'ending'
  /** The seat, side or ending. */
  readonly name: string
  /** The share before, from 0 to 1. */
  readonly before: number
  /** The share now, from 0 to 1. */
  readonly now: number
  /**
   * The 95 % confidence interval of the difference. Source: R. G. Newcombe, Interval estimation for the difference between
   * independent proportions, Statistics in Medicine 17 (1998), method 10.
   */
  readonly interval: readonly [low: number, high: number]
  /** True if the interval leaves out zero: chance alone hardly makes such a difference. */
  readonly isApart: boolean
}
/** What changed from one rehearsal to another. */
export interface RehearsalsCompared {
  /** Wins and endings, each with both shares. */
  readonly shares: readonly ComparedShare[]
  /** By action, how often it was done in a match. */
  readonly actions: readonly { readonly name: string; readonly before: number; readonly now: number }[]
  /** Match times in ms that half of the matches were shorter than. */
  readonly length: { readonly before: number; readonly now: number }
}

/** Sets two rehearsals side by side: what a change of the rules did to who wins, how it ends and what is done. */
export function compareRehearsals(before: Rehearsal, now: Rehearsal): RehearsalsCompared {
  const wins = ({ seats, sides, starter }: Rehearsal): Map<string, Counted> =>
    new Map([...sides, ...(starter ? [starter] : []), ...seats].map((share) => [share.name, share]))
  const endings = ({ endings: all, matches }: Rehearsal): Map<string, Counted> =>
    new Map(all.map(({ name, times }) => [name, { times, of: matches }]))
  const perMatch = ({ actions, matches }: Rehearsal): Map<string, number> =>
    new Map(actions.map(({ name, times }) => [name, times / matches]))
  const [done, doing] = [perMatch(before), perMatch(now)]
  return {
    shares: [
      ...compared('win', wins(before), wins(now), { times: 0, of: 0 }),
      ...compared('ending', endings(before), endings(now), undefined, before.matches, now.matches),
    ],
    actions: [...new Set([...done.keys(), ...doing.keys()])].map((name) => ({
      name,
      before: done.get(name) ?? 0,
      now: doing.get(name) ?? 0,
    })),
    length: { before: before.lengths[1], now: now.lengths[1] },
  }
}

/** An ending that never came is none of all matches; a seat that never played has no share. */
function compared(
  what: ComparedShare['what'],
  before: ReadonlyMap<string, Counted>,
  now: ReadonlyMap<string, Counted>,
  missing: Counted | undefined,
  matchesBefore = 0,
  matchesNow = 0,
): ComparedShare[] {
  return [...new Set([...before.keys(), ...now.keys()])].map((name) => {
    const a = before.get(name) ?? missing ?? { times: 0, of: matchesBefore }
    const b = now.get(name) ?? missing ?? { times: 0, of: matchesNow }
    const interval = difference(a, b)
    return {
      what,
      name,
      before: share(a),
      now: share(b),
      interval,
      isApart: interval[0] > 0 || interval[1] < 0,
    }
  })
}

function difference(a: Counted, b: Counted): readonly [low: number, high: number] {
  const [lowA, highA] = wilson(a)
  const [lowB, highB] = wilson(b)
  const [of, than] = [share(b), share(a)]
  const by = of - than
  return [by - Math.hypot(of - lowB, highA - than), by + Math.hypot(highB - of, than - lowA)]
}
