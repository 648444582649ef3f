/** One of the causes, in the order in which they came. */
export interface Cause {
  /** Match time, in ms. */
  readonly at: number
  /** The line of the record, for an input. */
  readonly line?: number
  /** How far it is inside of what came before: 0 for inputs and timers. */
  readonly depth: number
  /** A sentence. */
  readonly says: string
  /** True for what a short answer leaves out. */
  readonly isDetail: boolean
}
/** Why something is as it is, or did not happen. */
export interface Explanation {
  /** The question as it was understood. */
  readonly question: string
  /** The answer in a sentence. */
  readonly answer: string
  /** What led to it, in order. */
  readonly causes: readonly Cause[]
}

/** Lines of a short answer, with the answer itself. */
const SHORT = 6

/** The causes of a short answer: those that are no details, the first two and the last ones where they are too many. */
export function shortCauses({ causes }: Explanation): readonly Cause[] {
  const brief = causes.filter(({ isDetail }) => !isDetail)
  const most = SHORT - 1
  return brief.length <= most ? brief : [...brief.slice(0, 2), ...brief.slice(2 - most)]
}
