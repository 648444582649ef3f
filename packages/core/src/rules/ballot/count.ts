/** What decides who has won. */
export interface CountSettings {
  /** How many thousandths of the voters must have voted. Abstaining counts as voting. */
  readonly quorum: number
  /** How many votes a candidate needs. */
  readonly threshold:
    | 'most'
    | 'over-half-cast'
    | 'over-half-all'
    | { readonly num: number; readonly den: number }
  /** How many are elected. */
  readonly pick: number
}
/** What one voter chose, and how much it counts. */
export interface Vote {
  /** Nobody if they abstained. */
  readonly for: readonly string[]
  /** How much the vote counts. */
  readonly weight: number
}
/** Who is certainly elected, and who is tied for the remaining places. */
export interface Count {
  /** Votes by candidate. */
  readonly totals: ReadonlyMap<string, number>
  /** Who is elected. */
  readonly elected: readonly string[]
  /** Who is tied for the remaining places. */
  readonly tied: readonly string[]
  /** How many of the tied can be elected. */
  readonly places: number
  /** Why nobody is elected; nothing if the votes decide. */
  readonly why: 'no-candidates' | 'no-quorum' | 'no-votes' | 'below-threshold' | undefined
}

/** Counts votes. The result depends only on the votes, not on who cast them or in which order. */
export function countVotes(
  votes: readonly Vote[],
  candidates: readonly string[],
  base: { readonly voters: number; readonly weight: number },
  settings: CountSettings,
  /** Votes from outside, such as those of an audience. */
  others: ReadonlyMap<string, number> = new Map(),
): Count {
  const totals = new Map(candidates.map((candidate) => [candidate, others.get(candidate) ?? 0]))
  for (const { for: chosen, weight } of votes)
    for (const candidate of chosen) totals.set(candidate, (totals.get(candidate) ?? 0) + weight)
  const none = (why: Count['why']): Count => ({ totals, elected: [], tied: [], places: 0, why })
  if (candidates.length === 0) return none('no-candidates')
  if (votes.length * 1000 < settings.quorum * base.voters) return none('no-quorum')
  const all = [...totals.values()].reduce((sum, total) => sum + total, 0)
  if (all === 0) return none('no-votes')
  // Votes from outside for a candidate that stands no more are not cast.
  const outside = candidates.reduce((sum, candidate) => sum + (others.get(candidate) ?? 0), 0)
  const cast = outside + votes.reduce((sum, vote) => sum + (vote.for.length === 0 ? 0 : vote.weight), 0)
  const enough = candidates.filter((candidate) =>
    isEnough(totals.get(candidate) ?? 0, cast, base.weight + outside, settings.threshold),
  )
  if (enough.length === 0) return none('below-threshold')
  return { totals, ...fill(enough, totals, settings.pick), why: undefined }
}

function isEnough(total: number, cast: number, all: number, threshold: CountSettings['threshold']): boolean {
  if (total === 0) return false
  if (threshold === 'most') return true
  if (threshold === 'over-half-cast') return total * 2 > cast
  if (threshold === 'over-half-all') return total * 2 > all
  return total * threshold.den >= cast * threshold.num
}

/** The places go to the highest totals. Several may be tied for the last place. */
function fill(
  candidates: readonly string[],
  totals: ReadonlyMap<string, number>,
  places: number,
): Pick<Count, 'elected' | 'tied' | 'places'> {
  const of = (candidate: string): number => totals.get(candidate) ?? 0
  if (candidates.length <= places) return { elected: candidates, tied: [], places: 0 }
  const last = candidates.map(of).sort((a, b) => b - a)[places - 1] ?? 0
  const above = candidates.filter((each) => of(each) > last)
  const level = candidates.filter((each) => of(each) === last)
  const left = places - above.length
  return level.length === left
    ? { elected: candidates.filter((each) => of(each) >= last), tied: [], places: 0 }
    : { elected: above, tied: level, places: left }
}
