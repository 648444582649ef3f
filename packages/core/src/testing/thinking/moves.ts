import type { Seat } from '../../cells/index.ts'
import type { Chance } from '../../chance/index.ts'
import { candidatesNow } from '../../engine/index.ts'
import type { ActionPlan } from '../../plan/index.ts'
import type { OpenMatch } from '../../rulebook/index.ts'

/** An action that a seat can do now, with its input. */
export interface Move {
  readonly action: string
  readonly input: object
}

/** Actions that are no moves of a game: taking part, and giving up. */
const NO_MOVE = /^(roster|phases)\.|^rounds\.rematch$|^verdict\.surrender$|\.take-back$/

/** The actions of a match that have options, by which a seat makes its moves. */
const plansOf = ({ engine }: OpenMatch): readonly ActionPlan[] =>
  [...engine.plan.inputs.values()].filter(
    (plan): plan is ActionPlan =>
      plan.kind === 'action' && (plan.isListable || plan.options !== undefined) && !NO_MOVE.test(plan.name),
  )

/** Returns the moves of a seat: the options of every action that has some. */
export const movesOf = (open: OpenMatch, seat: Seat): readonly Move[] =>
  plansOf(open).flatMap(({ name }) =>
    open.match.options(seat, name).map((option: unknown) => ({ action: name, input: Object(option) })),
  )

/** So many candidates are tried for a move at random: who can do nothing may have many. */
const TRIES = 12

/** Makes a move for a seat at random, if it finds one soon. Returns whether it has. */
export function moveAtRandom(open: OpenMatch, seat: Seat, chance: Chance): boolean {
  const { engine, match } = open
  const candidates = plansOf(open).flatMap((plan) =>
    candidatesNow(engine, plan, seat, {}).map((candidate) => ({ plan, candidate })),
  )
  for (let tries = Math.min(TRIES, candidates.length); tries > 0; tries--) {
    const at = chance.int(0, candidates.length - 1)
    const [{ plan, candidate } = {}] = candidates.splice(at, 1)
    if (plan === undefined) return false
    const input = plan.show(Object(candidate), (table, inner) => engine.idShown(table, inner, seat))
    if (match.submit(seat, plan.name, Object(input)).ok) return true
  }
  return false
}
