// Moments that most rules share, as handlers to spread into `on`.
import type { Seat } from '../cells/index.ts'
import { rounds } from './rounds.ts'

interface MayHaveRounds {
  use(rule: typeof rounds): object | undefined
}

/** Runs `begin` when play begins: with each round or, in a rulebook without rounds, with the bout. */
export const whenPlayBegins = <M extends MayHaveRounds>(begin: (match: M) => void) => ({
  'rounds.began': (match: M) => begin(match),
  'phases.live-began'(match: M) {
    if (match.use(rounds) === undefined) begin(match)
  },
})

/** Runs `end` when play ends: with each round, and with the bout. */
export const whenPlayEnds = <M>(end: (match: M, why: 'round-over' | 'over') => void) => ({
  'rounds.ended': (match: M) => end(match, 'round-over'),
  'phases.changed'(match: M, { to }: { readonly to: string }) {
    if (to === 'over') end(match, 'over')
  },
})

/** Runs `handle` when a seat leaves play: it has left the match, or sits out the rest of the bout. */
export const whenOutOfPlay = <M>(handle: (match: M, seat: Seat, why: 'left' | 'out') => void) => ({
  'roster.left': (match: M, { seat }: { readonly seat: Seat }) => handle(match, seat, 'left'),
  'roster.sidelined': (match: M, { seat }: { readonly seat: Seat }) => handle(match, seat, 'out'),
})
