import type { HostedMatch } from './hosted-match.ts'

/** What somebody looks for. */
export interface Wanted {
  readonly match?: string | undefined
  readonly mode?: string | undefined
  /** True for those who want no seat. */
  readonly watch?: boolean
}

/** In this order: where most of the match is still to come. */
const PHASES = ['lobby', 'countdown', 'over', 'live', 'break']

/**
 * Returns a listed match with a free seat: one that is still in the lobby before one that is played, and the fullest
 * first, so that two who look at the same time meet.
 */
export function matchWithRoom(matches: Iterable<HostedMatch>, mode?: string): HostedMatch | undefined {
  const found = [...matches]
    .filter(({ hosting, isPaused }) => hosting.listed && !isPaused)
    .map((hosted) => ({ hosted, summary: hosted.summary }))
    .filter(({ hosted, summary }) => {
      const isPlayed = summary.phase === 'live' || summary.phase === 'break'
      const lateJoin = hosted.match.settings['roster'] as { readonly lateJoin?: string } | undefined
      return (
        (mode === undefined || summary.mode === mode) &&
        summary.seats.free > 0 &&
        !(isPlayed && lateJoin?.lateJoin === 'refuse')
      )
    })
  const rank = ({ phase, seats }: (typeof found)[number]['summary']): number =>
    PHASES.indexOf(phase) * 1000 - seats.taken
  return found.sort((a, b) => rank(a.summary) - rank(b.summary))[0]?.hosted
}

/** Returns the listed match that most people sit in. */
export function matchToWatch(matches: readonly HostedMatch[], mode?: string): HostedMatch | undefined {
  const found = matches.filter(
    ({ hosting, match }) => hosting.listed && (mode ?? match.rulebook) === match.rulebook,
  )
  return found.toSorted((a, b) => b.people.length - a.people.length)[0]
}

/** Letters and digits that nobody takes for one another when they are read aloud. */
const LETTERS = 'abcdefghjkmnpqrstuvwxyz23456789'

/** Returns a short code for a match that no other has: for links, and to be read aloud. */
export function newCode(taken: (id: string) => boolean): string {
  for (;;) {
    const bytes = crypto.getRandomValues(new Uint8Array(6))
    const code = Array.from(bytes, (byte) => LETTERS[byte % LETTERS.length]).join('')
    if (!taken(code)) return code
  }
}
